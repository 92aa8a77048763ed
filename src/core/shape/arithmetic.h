// Vector arithmetic of the core. The bits of a step must not depend on how a user's file compiled
// an inline function, so it does not stand in a public header: the core alone compiles it.
#pragma once

#include <cmath>
#include <cstddef>

#include "bushbaby/core/shape/shapes.h"

#include "same_bits.h"

namespace bushbaby::detail {

inline Vec add(Vec a, Vec b) noexcept { return {a.x + b.x, a.y + b.y}; }
inline Vec subtract(Vec a, Vec b) noexcept { return {a.x - b.x, a.y - b.y}; }
inline Vec scale(Vec a, double k) noexcept { return {a.x * k, a.y * k}; }
inline double dot(Vec a, Vec b) noexcept { return a.x * b.x + a.y * b.y; }

// The vector that is `v.x` along `right` and `v.y` along `up`, the axes of a turned frame; and, the
// other way round, a vector by what it is along them. Both are written as sums: of a difference and
// a sum side by side some compilers make a fused product, though they are reported not to.
inline Vec along_axes(Vec v, Vec up) noexcept {
  return {dot(v, {up.y, up.x}), dot(v, {-up.x, up.y})};
}
inline Vec by_axes(Vec v, Vec up) noexcept { return {dot(v, {up.y, -up.x}), dot(v, up)}; }

inline double smaller(double a, double b) noexcept { return b < a ? b : a; }
inline double larger(double a, double b) noexcept { return a < b ? b : a; }
inline double magnitude(double a) noexcept { return std::fabs(a); }

// A box grown by `margin` on every side.
inline Box grown(const Box& box, double margin) noexcept {
  return {{box.lo.x - margin, box.lo.y - margin}, {box.hi.x + margin, box.hi.y + margin}};
}

// A body grown by `margin`: its sides move out, its round corners get a larger radius.
inline Shape grown(const Shape& shape, double margin) noexcept {
  return {grown(shape.box, margin), shape.radius > 0 ? shape.radius + margin : 0};
}

// The bounds of one corner or more.
inline Box bounds_of(const Vec* corners, std::size_t count) noexcept {
  Box bounds{corners[0], corners[0]};
  for (std::size_t i = 1; i < count; ++i) {
    bounds.lo = {smaller(bounds.lo.x, corners[i].x), smaller(bounds.lo.y, corners[i].y)};
    bounds.hi = {larger(bounds.hi.x, corners[i].x), larger(bounds.hi.y, corners[i].y)};
  }
  return bounds;
}

// Whether two boxes have a point in common, be it of their edges.
inline bool touch(const Box& a, const Box& b) noexcept {
  return a.lo.x <= b.hi.x && a.hi.x >= b.lo.x && a.lo.y <= b.hi.y && a.hi.y >= b.lo.y;
}

}  // namespace bushbaby::detail
