// Counts of ticks, and what stands for those that never end.
#pragma once

#include <cstdint>
#include <limits>

namespace bushbaby {

/// A number of ticks that something lasts. What lasts longer than it can hold, which at 60 Hz is
/// more than a year, lasts a year.
using Ticks = std::int32_t;

/// A number of ticks that never runs out: what lasts so long lasts until it is taken back.
inline constexpr Ticks kForEver = std::numeric_limits<Ticks>::max();

/// A tick so long ago that nothing remembers it.
inline constexpr std::int64_t kLongAgo = std::numeric_limits<std::int64_t>::min() / 4;

/// Whole ticks nearest to `ticks`, half up, after adding 1e-9 ticks; not negative.
[[nodiscard]] Ticks whole_ticks(double ticks) noexcept;

}  // namespace bushbaby
