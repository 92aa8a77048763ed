#include "casts.h"

#include "bushbaby/core/course.h"

namespace bushbaby {
namespace {

bool holds(const Box& box, Vec point) noexcept {
  return point.x > box.lo.x && point.x < box.hi.x && point.y > box.lo.y && point.y < box.hi.y;
}

// The shortest way out of `places` for a point within it.
Overlap way_out(const Box& places, Vec point, SurfaceId surface) noexcept {
  Overlap best{places.hi.y - point.y, {0, 1}, surface};
  const auto consider = [&best, surface](double depth, Vec normal) {
    if (depth < best.depth) best = {depth, normal, surface};
  };
  consider(point.y - places.lo.y, {0, -1});
  consider(point.x - places.lo.x, {-1, 0});
  consider(places.hi.x - point.x, {1, 0});
  return best;
}

}  // namespace

Contact cast_against(const Sweep& sweep, const Box& solid, SurfaceId surface) noexcept {
  const Box places = places_inside(solid, sweep.shape);
  if (holds(places, sweep.from)) {
    const Overlap overlap = way_out(places, sweep.from, surface);
    if (dot(sweep.move, overlap.normal) < 0) return {0, overlap.normal, overlap.depth, surface};
    return {};
  }
  const Ray ray = ray_of(sweep);
  const Within within = ray_within(ray, places);
  if (!(within.enter < within.exit && within.enter >= 0 && within.enter <= 1)) return {};
  const Vec along_x{ray.move.x > 0 ? -1.0 : 1.0, 0};
  const Vec along_y{0, ray.move.y > 0 ? -1.0 : 1.0};
  bool meets_y = within.enters_along_y;
  if (within.tie) meets_y = dot(along_y, sweep.up) >= dot(along_x, sweep.up);
  return {within.enter, meets_y ? along_y : along_x, 0, surface};
}

bool comes_before(const Contact& a, const Contact& b, Vec up) noexcept {
  if (!b.met()) return a.met();
  if (!a.met()) return false;
  if (a.fraction != b.fraction) return a.fraction < b.fraction;
  const double a_up = dot(a.normal, up);
  const double b_up = dot(b.normal, up);
  if (a_up != b_up) return a_up > b_up;
  return a.surface < b.surface;
}

Overlap overlap_with(const Box& shape, Vec feet, const Box& solid, SurfaceId surface) noexcept {
  const Box places = places_inside(solid, shape);
  return holds(places, feet) ? way_out(places, feet, surface) : Overlap{};
}

}  // namespace bushbaby
