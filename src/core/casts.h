// Casting a box against boxes, as a ray against Minkowski differences.
#pragma once

#include "bushbaby/core/world.h"

#include "arithmetic.h"

namespace bushbaby {
namespace {

// A move shorter than this along an axis counts as none, so that its inverse stays finite.
constexpr double kLeastMove = 1e-150;

struct Ray {
  Vec from;
  Vec move;
  Vec inverse;  // of the moves, 0 where there is none
};

[[maybe_unused]] inline Ray ray_of(const Sweep& sweep) noexcept {
  const auto inverse = [](double move) { return magnitude(move) < kLeastMove ? 0 : 1 / move; };
  return {sweep.from, sweep.move, {inverse(sweep.move.x), inverse(sweep.move.y)}};
}

// The places of the feet at which `shape` reaches into `solid`.
[[maybe_unused]] inline Box places_inside(const Box& solid, const Box& shape) noexcept {
  return {subtract(solid.lo, shape.hi), subtract(solid.hi, shape.lo)};
}

// The part of a ray, in shares of its move, that lies within a box; empty if enter > exit. Rounding
// keeps the order of bounds, so a part of a box is never entered before the box.
struct Within {
  double enter;
  double exit;
  bool enters_along_y;  // the bound that was met last is one along y
  bool tie;             // both bounds were met at once: a corner
};

[[maybe_unused]] inline Within ray_within(const Ray& ray, const Box& box) noexcept {
  constexpr double kFar = 1e300;
  double enter_x = -kFar;
  double exit_x = kFar;
  if (ray.inverse.x != 0) {
    const double a = (box.lo.x - ray.from.x) * ray.inverse.x;
    const double b = (box.hi.x - ray.from.x) * ray.inverse.x;
    enter_x = smaller(a, b);
    exit_x = larger(a, b);
  } else if (!(ray.from.x > box.lo.x && ray.from.x < box.hi.x)) {
    return {kFar, -kFar, false, false};
  }
  double enter_y = -kFar;
  double exit_y = kFar;
  if (ray.inverse.y != 0) {
    const double a = (box.lo.y - ray.from.y) * ray.inverse.y;
    const double b = (box.hi.y - ray.from.y) * ray.inverse.y;
    enter_y = smaller(a, b);
    exit_y = larger(a, b);
  } else if (!(ray.from.y > box.lo.y && ray.from.y < box.hi.y)) {
    return {kFar, -kFar, false, false};
  }
  return {larger(enter_x, enter_y), smaller(exit_x, exit_y), enter_y > enter_x, enter_y == enter_x};
}

}  // namespace
}  // namespace bushbaby
