#include "bushbaby/core/motion/ticks.h"

#include <algorithm>
#include <cmath>

namespace bushbaby {

Ticks whole_ticks(double ticks) noexcept {
  constexpr double kMost = kForEver - 1;
  const double rounded = std::floor(ticks + 1e-9 + 0.5);
  return rounded > 0 ? static_cast<Ticks>(std::min(rounded, kMost)) : 0;
}

}  // namespace bushbaby
