// A length of time as it is written down.
#pragma once

namespace bushbaby {

/// A length of time, kept as it was written: seconds, or ticks of the tuning's own tick rate.
struct Duration {
  enum class Unit { seconds, ticks };
  double amount = 0;
  Unit unit = Unit::seconds;
};

[[nodiscard]] constexpr bool operator==(const Duration& a, const Duration& b) noexcept {
  return a.amount == b.amount && a.unit == b.unit;
}
[[nodiscard]] constexpr bool operator!=(const Duration& a, const Duration& b) noexcept {
  return !(a == b);
}

/// The duration in seconds at `tick_rate` Hz.
[[nodiscard]] constexpr double seconds(const Duration& duration, double tick_rate) noexcept {
  return duration.unit == Duration::Unit::ticks ? duration.amount / tick_rate : duration.amount;
}

}  // namespace bushbaby
