#include "casts.h"

#include "bushbaby/core/world/level.h"

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

Contact cast_against(const Sweep& sweep, const Box& solid, SurfaceId surface) noexcept {
  return cast_ray_against(sweep, ray_of(sweep), places_inside(solid, sweep.shape), surface);
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
