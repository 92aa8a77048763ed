// Vector arithmetic of the core. Internal linkage throughout: the bits of a step must not depend
// on how a user's file compiled an inline function of the same name, so neither the vector
// library's operators nor any other shared inline function is used for arithmetic.
#pragma once

#include "bushbaby/core/shapes.h"

namespace bushbaby {
namespace {

[[maybe_unused]] inline Vec add(Vec a, Vec b) noexcept { return {a.x + b.x, a.y + b.y}; }
[[maybe_unused]] inline Vec subtract(Vec a, Vec b) noexcept { return {a.x - b.x, a.y - b.y}; }
[[maybe_unused]] inline Vec scale(Vec a, double k) noexcept { return {a.x * k, a.y * k}; }
[[maybe_unused]] inline double dot(Vec a, Vec b) noexcept { return a.x * b.x + a.y * b.y; }

[[maybe_unused]] inline double smaller(double a, double b) noexcept { return b < a ? b : a; }
[[maybe_unused]] inline double larger(double a, double b) noexcept { return a < b ? b : a; }
[[maybe_unused]] inline double magnitude(double a) noexcept { return a < 0 ? -a : a; }

// A box grown by `margin` on every side.
[[maybe_unused]] inline Box grown(const Box& box, double margin) noexcept {
  return {{box.lo.x - margin, box.lo.y - margin}, {box.hi.x + margin, box.hi.y + margin}};
}

}  // namespace
}  // namespace bushbaby
