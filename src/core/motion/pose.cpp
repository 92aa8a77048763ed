#include "bushbaby/core/motion/pose.h"

#include <cmath>

#include "core/shape/arithmetic.h"

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

Pose pose_between(const Character& before, const Character& after, double share) noexcept {
  share = smaller(larger(share, 0), 1);
  const auto blend = [share](Vec a, Vec b) { return add(a, scale(subtract(b, a), share)); };
  // At the end exactly what the tick gave, without rounding.
  if (share == 1) return {after.feet, after.velocity, after.up, after.stance(), after.facing};
  const Character& shown = share > 0 ? after : before;
  Vec up = blend(before.up, after.up);
  const double length = std::sqrt(dot(up, up));
  up = length > 0 ? scale(up, 1 / length) : shown.up;
  return {blend(before.feet, after.feet), blend(before.velocity, after.velocity), up,
          shown.stance(), shown.facing};
}

}  // namespace bushbaby
