#include "bushbaby/core/motion/pose.h"

#include <cmath>

#include "core/shape/arithmetic.h"

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

Vec visible_feet(const Character& character) noexcept {
  if (!character.grounded()) return character.feet;
  const double lean = dot(character.ground.normal, character.up);
  if (!(lean > 0)) return character.feet;  // wedged between two
  return subtract(character.feet, scale(character.up, character.ground.gap / lean));
}

Pose pose_between(const Character& before, const Character& after, double share) noexcept {
  share = smaller(larger(share, 0), 1);
  const auto blend = [share](Vec a, Vec b) { return add(a, scale(subtract(b, a), share)); };
  // At the end exactly what the tick gave, without rounding.
  if (share == 1)
    return {visible_feet(after), after.velocity, after.up, after.stance(), after.facing};
  const Character& shown = share > 0 ? after : before;
  Vec up = blend(before.up, after.up);
  const double length = std::sqrt(dot(up, up));
  up = length > 0 ? scale(up, 1 / length) : shown.up;
  return {blend(visible_feet(before), visible_feet(after)), blend(before.velocity, after.velocity),
          up, shown.stance(), shown.facing};
}

}  // namespace bushbaby
