// Free knobs as the variables of a search: each on a scale on which even steps feel even.
#pragma once

#include <vector>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/lab/fit.h"

namespace bushbaby::detail {

class Variable {
 public:
  Variable(const Tuning& tuning, const FreeKnob& free);

  [[nodiscard]] const KnobPlace& place() const noexcept { return free_.place; }
  [[nodiscard]] bool by_ratio() const noexcept { return by_ratio_; }
  [[nodiscard]] bool whole() const noexcept { return whole_; }
  [[nodiscard]] Dimension dimension() const noexcept { return dimension_; }

  /// The place of an amount on the scale, and back: a logarithm, of what may be 0 or less a line
  /// near 0. Whole amounts are rounded.
  [[nodiscard]] double at(double amount) const;
  [[nodiscard]] double amount(double at) const;
  /// The same without rounding and bounds.
  [[nodiscard]] double amount_at(double at) const;
  [[nodiscard]] bool is_at_bound(double amount) const {
    return is_at_lo(amount) || is_at_hi(amount);
  }
  [[nodiscard]] bool is_at_lo(double amount) const { return at(amount) - lo() < kNear; }
  [[nodiscard]] bool is_at_hi(double amount) const { return hi() - at(amount) < kNear; }
  [[nodiscard]] bool contains(double amount) const { return clamped(amount) == amount; }
  [[nodiscard]] double clamped(double amount) const;
  [[nodiscard]] double lo() const { return at(free_.lo); }
  [[nodiscard]] double hi() const { return at(free_.hi); }
  /// As far off as a slope is looked for: some hundredths of ratio, or the next whole amount.
  [[nodiscard]] double beside(double at) const;
  [[nodiscard]] KnobValue value(double amount) const { return with_amount(like_, amount); }

 private:
  static constexpr double kNear = 1e-4;  // on the scale

  FreeKnob free_;
  KnobValue like_;
  Dimension dimension_;
  bool by_ratio_;
  bool whole_;
  double soft_;  // around 0 the scale is even in amounts of this size
};

/// Amounts of variables, one each.
using Amounts = std::vector<double>;

/// A tuning with those amounts; nothing if a knob does not take its own.
[[nodiscard]] std::optional<Tuning> turned(const Tuning& tuning,
                                           const std::vector<Variable>& variables,
                                           const Amounts& amounts);

}  // namespace bushbaby::detail
