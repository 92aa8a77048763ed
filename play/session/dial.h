// Dials: how a knob is turned by hand, over the range that people use.
#pragma once

#include <string>

#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/units.h"

namespace bushbaby::live {

enum class DialKind : std::uint8_t {
  number,  ///< by a slider
  choice,  ///< one of a few names
  flag,
  text,  ///< not to be turned
};

/// The dial of a knob whose value in the file is such and such. Values are what is meant, in world
/// units and seconds; steps are short numbers in the person's units.
struct Dial {
  DialKind kind = DialKind::number;
  Dimension dimension = Dimension::number;  ///< of the amount: of durations in ticks, ticks
  double lo = 0;
  double hi = 1;
  bool by_ratio = false;  ///< even steps are even factors
  bool whole = false;     ///< counts, and durations in ticks
  bool is_set = true;     ///< false: an optional knob that is omitted
  double amount = 0;
};

[[nodiscard]] Dial dial_of(const Tuning& tuning, const KnobPlace& place, const Tuning& file);

/// Where the amount stands, 0 … 1; ends are where it is beyond them.
[[nodiscard]] double share_of(const Dial& dial, double amount) noexcept;
/// The amount at a share, as a short number in the units: three digits of it, or a whole number.
[[nodiscard]] double amount_at(const Dial& dial, double share, const Units& units) noexcept;
/// The next amount in a direction: a hundredth of the way, at least one step.
[[nodiscard]] double nudged(const Dial& dial, int direction, const Units& units) noexcept;

/// What an optional knob that is omitted is set to when it is switched on.
[[nodiscard]] double first_amount(const Knob& knob) noexcept;

/// A value as it is reported: "2.2", "7 ticks", "60 px", "not set".
[[nodiscard]] std::string value_text(const KnobValue& value, const Knob& knob, const Units& units);

/// Mechanisms in the order in which people work: the jump first.
[[nodiscard]] std::vector<std::string_view> mechanisms_in_order();

/// Whether words are found in a knob's key or in what it does; upper and lower case are the same.
[[nodiscard]] bool is_about(const KnobPlace& place, std::string_view words);

}  // namespace bushbaby::live
