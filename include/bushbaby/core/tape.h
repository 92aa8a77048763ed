// A tape: what is held, and for how long.
#pragma once

#include <vector>

#include <bushbaby/core/controls.h>
#include <bushbaby/core/tuning.h>

namespace bushbaby {

struct TapeSpan {
  Controls held;
  Duration lasts;
};

[[nodiscard]] constexpr bool operator==(const TapeSpan& a, const TapeSpan& b) noexcept {
  return a.held == b.held && a.lasts == b.lasts;
}

struct Tape {
  std::vector<TapeSpan> spans;
};

/// The controls of every tick at `tick_rate` Hz. Each span ends on the tick nearest to the sum of
/// the durations so far, so that rounding does not add up and the same tape presses at common
/// times at every rate.
[[nodiscard]] std::vector<Controls> controls_of(const Tape& tape, double tick_rate);

/// The tape that holds those controls, in spans of whole ticks.
[[nodiscard]] Tape tape_of(const std::vector<Controls>& controls);

}  // namespace bushbaby
