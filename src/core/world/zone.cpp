#include "bushbaby/core/world/zone.h"

#include <cmath>

#include "core/shape/angles.h"

namespace bushbaby {

Vec way_from_down(double degrees) noexcept {
  constexpr double kQuarter = 90;
  constexpr int kQuarters = 4;
  const double quarters = std::floor(degrees / kQuarter);
  const double rest = degrees - quarters * kQuarter;
  const double sine = rest == 0 ? 0 : detail::sine_of_degrees(rest);
  Vec way{sine, rest == 0 ? -1 : -detail::cosine_of_degrees(rest)};
  const int turns = static_cast<int>(std::fmod(quarters, kQuarters)) + kQuarters;
  for (int i = 0; i < turns % kQuarters; ++i) way = {-way.y, way.x};
  return way;
}

}  // namespace bushbaby
