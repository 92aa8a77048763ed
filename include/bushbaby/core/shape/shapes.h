// Points, vectors and boxes of the plane in which a character moves.
//
// Lengths are in world units (u). x grows to the right, y grows upward.
#pragma once

#include <cstdint>

namespace bushbaby {

/// A point or a vector of the plane, in u (or u/s, u/s²).
struct Vec {
  constexpr Vec() = default;
  constexpr Vec(double to_right, double upward) noexcept : x(to_right), y(upward) {}

  double x = 0;
  double y = 0;
};

[[nodiscard]] constexpr bool operator==(Vec a, Vec b) noexcept { return a.x == b.x && a.y == b.y; }
[[nodiscard]] constexpr bool operator!=(Vec a, Vec b) noexcept { return !(a == b); }

/// For whoever works with what comes out of a step. The step itself uses none of them: what a
/// program makes of inline code decides no bit of it.
[[nodiscard]] constexpr Vec operator+(Vec a, Vec b) noexcept { return {a.x + b.x, a.y + b.y}; }
[[nodiscard]] constexpr Vec operator-(Vec a, Vec b) noexcept { return {a.x - b.x, a.y - b.y}; }
[[nodiscard]] constexpr Vec operator-(Vec a) noexcept { return {-a.x, -a.y}; }
[[nodiscard]] constexpr Vec operator*(Vec a, double k) noexcept { return {a.x * k, a.y * k}; }
[[nodiscard]] constexpr Vec operator*(double k, Vec a) noexcept { return a * k; }
[[nodiscard]] constexpr Vec operator/(Vec a, double k) noexcept { return {a.x / k, a.y / k}; }
constexpr Vec& operator+=(Vec& a, Vec b) noexcept { return a = a + b; }
constexpr Vec& operator-=(Vec& a, Vec b) noexcept { return a = a - b; }
constexpr Vec& operator*=(Vec& a, double k) noexcept { return a = a * k; }
constexpr Vec& operator/=(Vec& a, double k) noexcept { return a = a / k; }

/// An axis-aligned box: every point strictly between `lo` and `hi`. Valid when finite and
/// `lo < hi` in both components.
struct Box {
  Vec lo{0, 0};  ///< left, bottom
  Vec hi{0, 0};  ///< right, top
};

[[nodiscard]] constexpr bool operator==(const Box& a, const Box& b) noexcept {
  return a.lo.x == b.lo.x && a.lo.y == b.lo.y && a.hi.x == b.hi.x && a.hi.y == b.hi.y;
}
[[nodiscard]] constexpr bool operator!=(const Box& a, const Box& b) noexcept { return !(a == b); }

/// A body: a box, the corners of which may be round. One whose radius is half its width is a
/// capsule, or a circle if it is no higher than wide.
struct Shape {
  constexpr Shape() = default;
  // A box is a shape.  NOLINTNEXTLINE(google-explicit-constructor)
  constexpr Shape(const Box& bounds, double corner_radius = 0)
      : box(bounds), radius(corner_radius) {}

  Box box;            ///< u, relative to the feet
  double radius = 0;  ///< u, of its corners; at most half its width and half its height
};

/// What a solid stops. One that stops what comes from one side lets everything else through, and
/// whatever is in it.
enum class Blocks : std::uint8_t {
  everything,  ///< whatever comes to it
  from_above,  ///< what comes to it from above, and so on: one-way platforms and doors
  from_below,
  from_left,
  from_right,
};

/// The way in which faces look that stop what comes; {0, 0} if all of them do.
[[nodiscard]] inline Vec side_of(Blocks blocks) noexcept {
  switch (blocks) {
    case Blocks::everything: break;
    case Blocks::from_above: return {0, 1};
    case Blocks::from_below: return {0, -1};
    case Blocks::from_left: return {-1, 0};
    case Blocks::from_right: return {1, 0};
  }
  return {0, 0};
}

/// A convex part of a solid: a box, or a polygon of 2 (a thin segment) to `kMostCorners` corners.
/// It looks at corners that somebody else keeps.
struct Convex {
  Box bounds;                    ///< u, of the corners; of a box, the box itself
  const Vec* corners = nullptr;  ///< u, counter-clockwise; none: a box
  std::uint32_t count = 0;       ///< of corners; 0: a box
  bool conditional = false;      ///< whether it is solid at times only: the world says when
  /// Unit vector: the way in which faces look that stop what comes; {0, 0}: all of them do.
  Vec side{0, 0};
  /// Of a solid in several parts that stops what comes from one side: what of this part is inside
  /// it, and stops nothing. Bit i: the edge from corner i; bit 8 + i: corner i.
  std::uint16_t inner = 0;

  [[nodiscard]] constexpr bool is_box() const noexcept { return count == 0; }
  /// Whether it stops what comes from one side only.
  [[nodiscard]] constexpr bool is_one_sided() const noexcept { return side.x != 0 || side.y != 0; }
};

/// A convex part has at most this many corners; a solid with more is given in several parts.
inline constexpr std::uint32_t kMostCorners = 8;

}  // namespace bushbaby
