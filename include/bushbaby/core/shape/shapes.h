// Points, vectors and boxes of the plane in which a character moves.
//
// Lengths are in world units (u). x grows to the right, y grows upward.
#pragma once

#include <glm/vec2.hpp>

namespace bushbaby {

/// A point or a vector of the plane, in u (or u/s, u/s²). Write `Vec{0, 0}`: the default
/// constructor leaves the components without a value.
using Vec = glm::dvec2;

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

}  // namespace bushbaby
