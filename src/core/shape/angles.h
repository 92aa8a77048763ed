// Angles and times of decay become numbers here, with the same bits everywhere: the standard
// library's cosine and exponential differ between processors.
#pragma once

#include "same_bits.h"

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

inline double sine_of_degrees(double degrees) { return cosine_of_degrees(90 - degrees); }

// 1 - e^-x for x of 0 or more: the share of a difference that is gone after x time constants. The
// Taylor series at x/2^n, brought back by squaring: 1 - (1 - s)² = s(2 - s).
inline double decayed_share(double x) {
  constexpr double kMost = 64;  // by then nothing is left
  if (x > kMost) return 1;
  int halvings = 0;
  for (; x > 0.5; x /= 2) ++halvings;
  double term = x;
  double sum = x;
  for (int n = 2; n <= 18; ++n) {
    term = -term * x / n;
    sum += term;
  }
  for (; halvings > 0; --halvings) sum = sum * (2 - sum);
  return sum;
}

}  // namespace bushbaby::detail
