#include "travel.h"

namespace bushbaby::detail {

void find_first(const Passage& path, const Rules& rules, Nearby& nearby,
                FirstMeeting& first) noexcept {
  const Margins margins = margins_of(rules);
  find_first(path, rules.body, {margins.rest, margins.slack, margins.step, &nearby}, nearby, first);
}

namespace {

BUSHBABY_WITHIN void touch_along(Vec feet, Vec direction, const Rules& rules, Nearby& nearby,
                                 FirstMeeting& touched, double farther, double least_up) noexcept {
  const Margins margins = margins_of(rules);
  const Passage way(feet, direction, {0, 0}, margins.probe - margins.pass + farther);
  find_first_in_sight(way, rules.body, margins.pass, nearby, touched, least_up);
  if (touched.met()) touched.gap = margins.pass + touched.gap;
}

constexpr Vec kDown{0, -1};

// Of a surface too steep to stand on that was touched below, and what else would be touched not
// much lower, what gives ground, if it does.
BUSHBABY_APART void look_beside(Vec feet, const Rules& rules, Nearby& nearby,
                                FirstMeeting& below) noexcept {
  const Margins margins = margins_of(rules);
  const double reach = below.time + margins.step;
  FirstMeeting flatter;
  touch_along(feet, kDown, rules, nearby, flatter, reach - (margins.probe - margins.pass),
              rules.ground_slope);
  if (flatter.met()) below = flatter;
}

}  // namespace

void probe(Vec feet, Vec direction, const Rules& rules, Nearby& nearby,
           FirstMeeting& touched) noexcept {
  touch_along(feet, direction, rules, nearby, touched, 0, kFacingAnyWay);
}

void look_underfoot(Vec feet, const Rules& rules, Nearby& nearby, GroundCheck& ground,
                    double farther) noexcept {
  FirstMeeting below;
  touch_along(feet, kDown, rules, nearby, below, farther, kFacingAnyWay);
  if (!below.met()) {
    ground = {};
    return;
  }
  if (rarely(below.normal.y < rules.ground_slope)) look_beside(feet, rules, nearby, below);
  ground.reason = GroundReason::too_steep;
  if (below.normal.y >= rules.ground_slope) {
    const bool stands = nearby.world().surface(below.surface).ground;
    ground.reason = stands ? GroundReason::ground : GroundReason::refused;
  }
  ground.surface = below.surface;
  ground.normal = below.normal;
  ground.gap = below.gap;
}

}  // namespace bushbaby::detail
