// Counts of ticks, and what stands for those that never end.
#pragma once

#include <cstdint>
#include <limits>

namespace bushbaby {

/// A number of ticks that never runs out: what lasts so long lasts until it is taken back.
inline constexpr std::int64_t kForEver = std::numeric_limits<std::int64_t>::max();

/// A tick so long ago that nothing remembers it.
inline constexpr std::int64_t kLongAgo = std::numeric_limits<std::int64_t>::min() / 4;

}  // namespace bushbaby
