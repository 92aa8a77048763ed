// Angles become numbers here, with the same bits everywhere: the standard library's cosine
// differs between processors.
#pragma once

namespace bushbaby::detail {

// Cosine of an angle of 0 to 90 degrees by its Taylor series about 0; the last term is below 1e-18.
inline double cosine_of_degrees(double degrees) {
  constexpr double kPi = 3.14159265358979323846;
  const double angle = degrees * kPi / 180;
  double term = 1;
  double sum = 1;
  for (int n = 1; n <= 13; ++n) {
    term = -term * angle * angle / ((2 * n - 1) * (2 * n));
    sum += term;
  }
  return sum;
}

}  // namespace bushbaby::detail
