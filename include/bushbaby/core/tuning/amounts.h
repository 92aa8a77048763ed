// Amounts: the numbers in knobs' values, and how far people turn them. Sliders, searches and
// remedies ask here.
#pragma once

#include <bushbaby/core/tuning/knobs.h>

namespace bushbaby {

/// Whether a knob holds a number, a count or a time.
[[nodiscard]] bool has_amount(const Knob& knob) noexcept;

/// The number in a value, if there is one: of a duration, in its unit.
[[nodiscard]] std::optional<double> amount_of(const KnobValue& value) noexcept;

[[nodiscard]] bool is_in_ticks(const KnobValue& value) noexcept;

/// The same kind of value with another amount: a duration keeps its unit.
[[nodiscard]] KnobValue with_amount(const KnobValue& like, double amount);

/// How far a knob is usually turned.
struct UsualRange {
  Dimension dimension = Dimension::number;  ///< of the amount: of durations in ticks, ticks
  double lo = 0;
  double hi = 1;
  bool by_ratio = false;  ///< even steps are even factors; `lo` is more than 0
  bool whole = false;     ///< counts, and durations in ticks
};

/// The usual range of a knob that has an amount: around a value, for amounts like another.
[[nodiscard]] UsualRange usual_range(const Knob& knob, const KnobValue& around,
                                     const KnobValue& like);

/// A middling amount where there is nothing to go by.
[[nodiscard]] double typical_amount(Dimension dimension) noexcept;

}  // namespace bushbaby
