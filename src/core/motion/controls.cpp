#include "bushbaby/core/motion/controls.h"

#include <cmath>

namespace bushbaby {

namespace {
constexpr double kSteps = 127;
}

std::int8_t direction_from(double share) noexcept {
  if (!(share >= -1)) return share < -1 ? -127 : 0;
  if (share > 1) return 127;
  return static_cast<std::int8_t>(std::floor(share * kSteps + 0.5));
}

double direction_share(std::int8_t step) noexcept {
  if (step == 0) return 0;  // with the full ones by far the most frequent: no division
  if (step == 127) return 1;
  return step <= -127 ? -1 : static_cast<double>(step) / kSteps;
}

}  // namespace bushbaby
