// Kinds of quantity, which headings, conventions and messages go by.
#pragma once

#include <string_view>

namespace bushbaby {

/// What kind of quantity a number is.
enum class Dimension {
  number,
  ratio,
  angle,
  frequency,
  ticks,
  milliseconds,
  length,
  time,
  speed,
  acceleration
};

/// The unit of a dimension as it is printed: "u", "u/s", …; empty for a bare number.
[[nodiscard]] std::string_view unit_of(Dimension dimension) noexcept;

}  // namespace bushbaby
