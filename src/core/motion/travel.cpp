#include "travel.h"

namespace bushbaby::detail {

FirstMeeting first_meeting(const Path& path, const Rules& rules, Nearby& nearby) noexcept {
  const Margins margins = margins_of(rules);
  return first_meeting(path, rules.body, {margins.rest, margins.slack, margins.step}, kUp, nearby);
}

Probe probe(Vec feet, Vec direction, const Rules& rules, Nearby& nearby, double farther,
            double least_up) noexcept {
  const Margins margins = margins_of(rules);
  const Path path{feet, direction, {0, 0}, margins.probe - margins.guard + farther};
  const FirstMeeting first =
      first_on_short(path, rules.body, {margins.guard, 0, 0}, kUp, nearby, least_up);
  if (!first.met()) return {};
  return {first.normal, margins.guard + first.gap, first.time, first.surface};
}

GroundCheck look_underfoot(const Character& character, const Rules& rules, Nearby& nearby,
                           double farther) noexcept {
  const Vec down = scale(kUp, -1);
  Probe below = probe(character.feet, down, rules, nearby, farther);
  if (!below.met()) return {};
  if (dot(below.normal, kUp) < rules.footing_slope) {
    const Margins margins = margins_of(rules);
    const double reach = below.way + margins.step;
    const Probe flatter = probe(character.feet, down, rules, nearby,
                                reach - (margins.probe - margins.guard), rules.footing_slope);
    if (flatter.met()) below = flatter;
  }
  Footing reason = Footing::too_steep;
  if (dot(below.normal, kUp) >= rules.footing_slope) {
    reason = nearby.world().surface(below.surface).footing ? Footing::footing : Footing::refused;
  }
  return {reason, below.surface, below.normal, below.gap};
}

}  // namespace bushbaby::detail
