// The numbers of one person: a convention at a tick rate, in which everything is asked and
// reported.
//
//     const Units units{file->convention, file->tuning.loop.tick_rate};
//     print(units.text(Dimension::length, arc.height()));    // "52 px"
//     const auto height = parse_quantity("60 px", Dimension::length, units);
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/tuning/dimension.h>
#include <bushbaby/core/tuning/violation.h>
#include <bushbaby/data/convention.h>

namespace bushbaby {

struct Units {
  Convention convention{};
  double tick_rate = 60;  ///< Hz

  /// A quantity as it is reported, from world units and seconds; and back.
  [[nodiscard]] double shown(Dimension dimension, double meant) const noexcept;
  [[nodiscard]] double meant(Dimension dimension, double reported) const noexcept;

  /// The same of places and vectors, whose y may be turned.
  [[nodiscard]] Vec shown(Dimension dimension, Vec meant) const noexcept;
  [[nodiscard]] Vec meant(Dimension dimension, Vec reported) const noexcept;

  /// The unit: "px", "px/tick²"; empty for a bare number.
  [[nodiscard]] std::string name(Dimension dimension) const;

  /// A quantity with its unit, to `digits` significant digits: "52 px".
  [[nodiscard]] std::string text(Dimension dimension, double meant, int digits = 6) const;

  /// "px, px/tick, y down": what numbers are in, for headings.
  [[nodiscard]] std::string describe() const;
};

/// Reads a quantity: a number in the units, or one with a unit of its own, of the world or of the
/// convention: "60 px", "3.25 u", "7 ticks", "110 ms", "4 px/tick", "0.2 px/tick²" ("tick2",
/// "tick^2"), "60 Hz", "40 degrees". Nothing if the text is none, or of another dimension.
[[nodiscard]] std::optional<double> parse_quantity(std::string_view text, Dimension dimension,
                                                   const Units& units);

/// What `parse_quantity` reads, in words: "a length: 52 (in px), \"52 px\" or \"3.25 u\"".
[[nodiscard]] std::string describe_quantity(Dimension dimension, const Units& units);

/// A phrase in the units.
[[nodiscard]] std::string describe(const Phrase& phrase, const Units& units);

/// "key: found …, expected …" in the units.
[[nodiscard]] std::string describe(const Violation& violation, const Units& units);

}  // namespace bushbaby
