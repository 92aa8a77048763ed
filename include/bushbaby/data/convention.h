// Conventions: how the numbers of a file are meant, when not in world units, seconds and y up.
//
//     [convention]
//     one_unit = "16 px"    # lengths are in px, 16 to a world unit
//     vertical = "down"     # points, vectors and traces: positive y is down
//     time = "tick"         # speeds per tick, accelerations per tick², bare durations in ticks
#pragma once

#include <string>
#include <string_view>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/tuning/knobs.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/data/problem.h>

namespace bushbaby {

struct Convention {
  double lengths_per_unit = 1;    ///< how many of the file's lengths make one world unit
  std::string length_name = "u";  ///< what the file calls its length
  bool vertical_down = false;     ///< positive y is down; magnitudes stay positive
  bool per_tick = false;          ///< time is counted in ticks

  [[nodiscard]] bool is_default() const noexcept {
    return lengths_per_unit == 1 && length_name == "u" && !vertical_down && !per_tick;
  }
};

/// The number that turns a value of that dimension, as written in the convention, into world units
/// and seconds, by multiplication. `tick_rate` in Hz.
[[nodiscard]] double factor_of(const Convention& convention, Dimension dimension,
                               double tick_rate) noexcept;

/// A knob's value as meant, from its value as written; and back.
[[nodiscard]] KnobValue from_convention(const Convention& convention, const Knob& knob,
                                        const KnobValue& written, double tick_rate);
[[nodiscard]] KnobValue to_convention(const Convention& convention, const Knob& knob,
                                      const KnobValue& meant, double tick_rate);

/// A point or vector of that dimension in the convention, y turned if need be.
[[nodiscard]] Vec to_convention(const Convention& convention, Vec meant, Dimension dimension,
                                double tick_rate) noexcept;
[[nodiscard]] Vec from_convention(const Convention& convention, Vec written, Dimension dimension,
                                  double tick_rate) noexcept;

/// Whether a length may be called so: up to 12 letters (of any script) that are no unit of time, so
/// that the name can stand in a heading of CSV, beside a number and before a slash.
[[nodiscard]] bool is_length_name(std::string_view name) noexcept;

/// Sets one key of a convention; the reason if it cannot be: what was expected.
[[nodiscard]] std::string set_convention(Convention& convention, std::string_view key,
                                         std::string_view value);

/// Reads a convention written on one line: "one_unit=16 px, vertical=down, time=tick".
[[nodiscard]] Result<Convention> parse_convention(std::string_view text, const std::string& where);

/// The units of the convention, for headings: "px", "ticks", "px/tick", "px/tick²".
[[nodiscard]] std::string unit_in(const Convention& convention, Dimension dimension);

}  // namespace bushbaby
