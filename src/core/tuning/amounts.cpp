#include "bushbaby/core/tuning/amounts.h"

#include <algorithm>
#include <cmath>

namespace bushbaby {
namespace {

bool is_count(const Knob& knob) noexcept {
  return std::holds_alternative<KnobAccess<int>>(knob.binding);
}

bool is_time(const Knob& knob) noexcept {
  return std::holds_alternative<KnobAccess<Duration>>(knob.binding) ||
         std::holds_alternative<KnobAccess<std::optional<Duration>>>(knob.binding);
}

}  // namespace

bool has_amount(const Knob& knob) noexcept {
  return is_count(knob) || is_time(knob) ||
         std::holds_alternative<KnobAccess<double>>(knob.binding) ||
         std::holds_alternative<KnobAccess<std::optional<double>>>(knob.binding);
}

std::optional<double> amount_of(const KnobValue& value) noexcept {
  if (const auto* duration = std::get_if<Duration>(&value)) return duration->amount;
  if (const auto* number = std::get_if<double>(&value)) return *number;
  return std::nullopt;
}

bool is_in_ticks(const KnobValue& value) noexcept {
  const auto* duration = std::get_if<Duration>(&value);
  return duration != nullptr && duration->unit == Duration::Unit::ticks;
}

KnobValue with_amount(const KnobValue& like, double amount) {
  if (const auto* duration = std::get_if<Duration>(&like)) return Duration{amount, duration->unit};
  return amount;
}

double typical_amount(Dimension dimension) noexcept {
  switch (dimension) {
    case Dimension::length: return 2;
    case Dimension::speed: return 15;
    case Dimension::acceleration: return 100;
    case Dimension::time: return 0.3;
    case Dimension::ticks: return 20;
    default: return 2;
  }
}

UsualRange usual_range(const Knob& knob, const KnobValue& around, const KnobValue& like) {
  constexpr double kWide = 8;        // times as large, or as small
  constexpr double kBounded = 1000;  // a range that itself says what is usual
  constexpr double kFew = 5;
  constexpr double kMore = 4;  // times, where it begins at 0
  const Range& range = knob.range;
  UsualRange usual;
  usual.dimension = is_time(knob) ? Dimension::time : knob.dimension;
  if (is_in_ticks(like)) usual.dimension = Dimension::ticks;
  usual.whole = is_count(knob) || usual.dimension == Dimension::ticks;
  double middle = std::abs(amount_of(around).value_or(0));
  if (is_in_ticks(like) != is_in_ticks(around)) middle = 0;
  const double typical = typical_amount(usual.dimension);
  if (is_count(knob)) {
    usual.lo = range.lo;
    usual.hi = std::min(std::max(kMore * middle, kFew), range.hi);
  } else if (range.hi <= kBounded && range.lo >= -kBounded) {
    usual.lo = range.lo;
    usual.hi = range.hi;
  } else if (usual.whole || usual.dimension == Dimension::time) {
    usual.lo = std::max(range.lo, 0.0);
    usual.hi = std::max(kMore * middle, typical);
  } else if (middle > 0 && range.lo >= 0) {
    usual.lo = std::max(middle / kWide, range.lo);
    usual.hi = std::min(middle * kWide, range.hi);
    usual.by_ratio = true;
  } else {
    usual.lo = range.lo < 0 ? -typical : std::max(range.lo, 0.0);
    usual.hi = std::max(kMore * middle, typical);
  }
  return usual;
}

}  // namespace bushbaby
