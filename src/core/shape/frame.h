// The frame of a body: places and vectors of the world as the body sees them, with its up along y.
// All that moves a body is said once, in this frame; a body that stands upright in the world sees
// the world as it is.
#pragma once

#include <cmath>

#include "arithmetic.h"

namespace bushbaby::detail {

inline bool is_upright(Vec up) noexcept { return up.x == 0 && up.y == 1; }

struct Frame {
  Vec origin{0, 0};     // u
  Vec up{0, 1};         // unit vector of the world
  bool turned = false;  // otherwise nothing differs
  bool quarter = true;  // turned by whole quarters: nothing rounds

  // The frame of a body with that up. Quarter turns go about the origin of the world, so that they
  // round nothing; all others about the body, so that what does not move stays where it is.
  static Frame of(Vec up, Vec feet) noexcept {
    Frame frame;
    frame.turned = !is_upright(up);
    if (!frame.turned) return frame;
    frame.up = up;
    frame.quarter = up.x == 0 || up.y == 0;
    if (!frame.quarter) frame.origin = feet;
    return frame;
  }

  [[nodiscard]] Vec into(Vec v) const noexcept { return by_axes(v, up); }
  [[nodiscard]] Vec out_of(Vec v) const noexcept { return along_axes(v, up); }
  [[nodiscard]] Vec place_into(Vec place) const noexcept { return into(subtract(place, origin)); }
  [[nodiscard]] Vec place_out_of(Vec place) const noexcept { return add(origin, out_of(place)); }

  // A vector without what rounding put beside an axis along which it lay.
  [[nodiscard]] Vec tidy_into(Vec v) const noexcept {
    Vec seen = into(v);
    if (quarter) return seen;
    constexpr double kRounding = 1e-12;
    if (magnitude(seen.x) <= kRounding * magnitude(seen.y)) seen.x = 0;
    if (magnitude(seen.y) <= kRounding * magnitude(seen.x)) seen.y = 0;
    return seen;
  }
  // The same for a unit vector.
  [[nodiscard]] Vec direction_into(Vec v) const noexcept {
    const Vec seen = tidy_into(v);
    if (quarter || (seen.x != 0 && seen.y != 0)) return seen;
    return {seen.x == 0 ? 0 : seen.x > 0 ? 1.0 : -1.0, seen.y == 0 ? 0 : seen.y > 0 ? 1.0 : -1.0};
  }

  // The bounds of what a box of this frame covers in the world.
  [[nodiscard]] Box bounds_out_of(const Box& box) const noexcept {
    const Vec corners[] = {place_out_of(box.lo), place_out_of({box.hi.x, box.lo.y}),
                           place_out_of(box.hi), place_out_of({box.lo.x, box.hi.y})};
    return bounds_of(corners, 4);
  }
};

inline constexpr Frame kUpright{};

// A part of a solid as it is seen in a frame.
class PartInFrame {
 public:
  PartInFrame(const Convex& part, const Frame& frame) noexcept {
    shape_.conditional = part.conditional;
    shape_.inner = part.inner;
    shape_.side = part.is_one_sided() ? frame.direction_into(part.side) : Vec{0, 0};
    const Box& box = part.bounds;
    const Vec of_box[] = {box.lo, {box.hi.x, box.lo.y}, box.hi, {box.lo.x, box.hi.y}};
    const Vec* corners = part.is_box() ? of_box : part.corners;
    const std::uint32_t count = part.is_box() ? 4 : part.count;
    for (std::uint32_t i = 0; i < count; ++i) corners_[i] = frame.place_into(corners[i]);
    shape_.bounds = bounds_of(corners_, count);
    if (part.is_box() && frame.quarter) return;  // a box is one still
    shape_.corners = corners_;
    shape_.count = count;
  }
  PartInFrame(const PartInFrame&) = delete;
  PartInFrame& operator=(const PartInFrame&) = delete;
  ~PartInFrame() = default;

  [[nodiscard]] const Convex& shape() const noexcept { return shape_; }

 private:
  Vec corners_[kMostCorners]{};
  Convex shape_;
};

}  // namespace bushbaby::detail
