// Whether the step gives the bits here that it gives everywhere: for a game to ask at its start, on
// machines and with compilers that nobody has tried.
//
//     if (!bushbaby::self_check()) report("replays from other machines will not play here");
#pragma once

#include <cstdint>

namespace bushbaby {

/// Runs and jumps through a small level of boxes, slopes and a zone, in every loop (about 1,000
/// ticks, some milliseconds), and compares a sum over all of it with the one that is known. False
/// if any bit came out otherwise: the core was compiled with fused or reordered arithmetic, say.
[[nodiscard]] bool self_check();

/// The sum that it compares, for whoever wants to see it.
[[nodiscard]] std::uint64_t self_check_sum();

}  // namespace bushbaby
