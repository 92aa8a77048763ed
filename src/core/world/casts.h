// Casting a box against boxes, as a ray against Minkowski differences.
#pragma once

#include "bushbaby/core/world/world.h"

#include "core/shape/arithmetic.h"

namespace bushbaby::detail {

// A move shorter than this along an axis counts as none, so that its inverse stays finite.
inline constexpr double kLeastMove = 1e-150;

struct Ray {
  Vec from;
  Vec move;
  Vec inverse;  // of the moves, 0 where there is none
};

inline Ray ray_of(const Sweep& sweep) noexcept {
  const auto inverse = [](double move) { return magnitude(move) < kLeastMove ? 0 : 1 / move; };
  return {sweep.from, sweep.move, {inverse(sweep.move.x), inverse(sweep.move.y)}};
}

// How far along each axis a sweep comes from its start, with a few roundings to spare.
inline Box reach_of(const Sweep& sweep) noexcept {
  constexpr double kSpare = 1 + 1e-15;
  const Vec end = scale(sweep.move, kSpare);
  return {{smaller(end.x, 0), smaller(end.y, 0)}, {larger(end.x, 0), larger(end.y, 0)}};
}

// Whether a sweep from there stays on one side of a box, which its ray then cannot enter. It takes
// the same differences as `ray_between`, and no division.
inline bool passes_by(const Box& reach, Vec from, const Box& box) noexcept {
  return box.lo.x - from.x > reach.hi.x || box.hi.x - from.x < reach.lo.x ||
         box.lo.y - from.y > reach.hi.y || box.hi.y - from.y < reach.lo.y;
}

// The places of the feet at which `shape` reaches into `solid`.
inline Box places_inside(const Box& solid, const Box& shape) noexcept {
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

struct Slab {
  double enter;
  double exit;
};

// The part of a ray between two bounds along one axis.
inline Slab ray_between(double from, double inverse, double lo, double hi) noexcept {
  constexpr double kFar = 1e300;
  if (inverse == 0) return from > lo && from < hi ? Slab{-kFar, kFar} : Slab{kFar, -kFar};
  const double a = (lo - from) * inverse;
  const double b = (hi - from) * inverse;
  return {smaller(a, b), larger(a, b)};
}

inline Within ray_within(const Ray& ray, const Box& box) noexcept {
  const Slab x = ray_between(ray.from.x, ray.inverse.x, box.lo.x, box.hi.x);
  const Slab y = ray_between(ray.from.y, ray.inverse.y, box.lo.y, box.hi.y);
  return {larger(x.enter, y.enter), smaller(x.exit, y.exit), y.enter > x.enter, y.enter == x.enter};
}

inline bool holds(const Box& box, Vec point) noexcept {
  return point.x > box.lo.x && point.x < box.hi.x && point.y > box.lo.y && point.y < box.hi.y;
}

// The shortest way out of `places` for a point within it.
inline Overlap way_out(const Box& places, Vec point, SurfaceId surface) noexcept {
  Overlap best{places.hi.y - point.y, {0, 1}, surface};
  const auto consider = [&best, surface](double depth, Vec normal) {
    if (depth < best.depth) best = {depth, normal, surface};
  };
  consider(point.y - places.lo.y, {0, -1});
  consider(point.x - places.lo.x, {-1, 0});
  consider(places.hi.x - point.x, {1, 0});
  return best;
}

// The contact of a sweep with one solid, by the places inside it; the ray is that of the sweep,
// worked out once for many.
inline Contact cast_ray_against(const Sweep& sweep, const Ray& ray, const Box& places,
                                SurfaceId surface) noexcept {
  if (holds(places, sweep.from)) {
    const Overlap overlap = way_out(places, sweep.from, surface);
    if (dot(sweep.move, overlap.normal) < 0) return {0, overlap.normal, overlap.depth, surface};
    return {};
  }
  const Within within = ray_within(ray, places);
  if (!(within.enter < within.exit && within.enter >= 0 && within.enter <= 1)) return {};
  const Vec along_x{ray.move.x > 0 ? -1.0 : 1.0, 0};
  const Vec along_y{0, ray.move.y > 0 ? -1.0 : 1.0};
  bool meets_y = within.enters_along_y;
  if (within.tie) meets_y = dot(along_y, sweep.up) >= dot(along_x, sweep.up);
  return {within.enter, meets_y ? along_y : along_x, 0, surface};
}

}  // namespace bushbaby::detail
