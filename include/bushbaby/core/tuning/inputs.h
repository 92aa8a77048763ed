// Inputs: what is held, and for how long.
#pragma once

#include <cstdint>
#include <vector>

#include <bushbaby/core/motion/controls.h>
#include <bushbaby/core/tuning/tuning.h>

namespace bushbaby {

struct InputSpan {
  Controls held;
  Duration lasts;
};

[[nodiscard]] constexpr bool operator==(const InputSpan& a, const InputSpan& b) noexcept {
  return a.held == b.held && a.lasts == b.lasts;
}

struct Inputs {
  std::vector<InputSpan> spans;
};

/// How many ticks inputs last at `tick_rate` Hz, however long they are.
[[nodiscard]] std::int64_t ticks_in(const Inputs& inputs, double tick_rate) noexcept;

/// Longer runs than this are not made: a trace keeps every tick, and this many fill some 100 MB.
inline constexpr std::int64_t kMostRunTicks = 1000000;

/// The controls of every tick at `tick_rate` Hz. Each span ends on the tick nearest to the sum of
/// the durations so far, so that rounding does not add up and the same inputs press at common
/// times at every rate. Inputs of more than `kMostRunTicks` are a broken precondition.
[[nodiscard]] std::vector<Controls> controls_of(const Inputs& inputs, double tick_rate);

/// The inputs that hold those controls, in spans of whole ticks.
[[nodiscard]] Inputs inputs_of(const std::vector<Controls>& controls);

}  // namespace bushbaby
