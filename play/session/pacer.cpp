#include "pacer.h"

#include <algorithm>
#include <cmath>

namespace bushbaby::live {

int Pacer::due(double seconds) {
  constexpr double kMost = 0.25;  // s
  share_ += std::clamp(seconds, 0.0, kMost) * tick_rate_ * speed_;
  const double whole = std::floor(share_);
  share_ -= whole;
  return static_cast<int>(whole);
}

}  // namespace bushbaby::live
