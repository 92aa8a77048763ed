#include "reporting.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "bushbaby/core/tuning/knobs.h"

namespace bushbaby::detail {
namespace {

// How many standard errors to each side hold 95 % of Student's t: a series in 1 / degrees of
// freedom (Abramowitz and Stegun, 26.7.5).
double errors_of_95(double freedom) {
  constexpr double kNormal = 1.959963985;
  const double n = std::max(1.0, freedom);
  const double z3 = kNormal * kNormal * kNormal;
  const double z5 = z3 * kNormal * kNormal;
  return kNormal + (z3 + kNormal) / (4 * n) + (5 * z5 + 16 * z3 + 3 * kNormal) / (96 * n * n);
}

// Numbers are reported to N digits: nothing is known better.
constexpr double kLeastShare = 1e-6;

}  // namespace

Estimate around(double value, double error, double freedom) {
  const double off = errors_of_95(freedom) * error + kLeastShare * std::abs(value);
  return {value, value - off, value + off};
}

bool too_wide(const Estimate& estimate) {
  constexpr double kWide = 1;
  return !(estimate.hi - estimate.lo < kWide * std::abs(estimate.value));
}

std::string counted(std::size_t count, const char* one, const char* many) {
  return fmt::format("{} {}", count, count == 1 ? one : many);
}

RecoveredKnob& Reporter::add(const std::string& key, RecoverEnd end, std::string why,
                             std::string to_record) {
  RecoveredKnob knob;
  knob.key = key;
  knob.dimension = find_knob(key)->dimension;
  knob.end = end;
  knob.why = std::move(why);
  knob.to_record = std::move(to_record);
  found_.knobs.push_back(std::move(knob));
  return found_.knobs.back();
}

bool Reporter::add_measured(const std::string& key, const Estimate& estimate, std::string why,
                            std::string to_record) {
  RecoveredKnob& knob = add(key, RecoverEnd::measured, std::move(why));
  knob.estimate = estimate;
  if (!too_wide(estimate)) return true;
  knob.end = RecoverEnd::undetermined;
  knob.to_record = std::move(to_record);
  return false;
}

}  // namespace bushbaby::detail
