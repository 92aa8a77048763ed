// Playing inputs on a stage, those that wait for something included.
//
//     const auto played = play(pip, level_stage(level), inputs);
//     if (played && played->stall) report(*played->stall);
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include <bushbaby/core/tuning/inputs.h>
#include <bushbaby/lab/subject.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// Where a run ended before its inputs did.
struct Stall {
  enum class Why {
    limit,      ///< what was waited for did not come within its limit
    too_early,  ///< it came, but so long before it the span had not begun
    too_long,   ///< a run of more than `kMostRunTicks`
    too_much,   ///< looking ahead took too many runs of a subject that cannot keep its state
  };
  Why why = Why::limit;
  InputSpan span;           ///< that was under way
  std::int64_t waited = 0;  ///< ticks of it
  Sample at;                ///< the state at the end of the run
};

struct Played {
  Trace trace;  ///< whose samples say what was held
  std::optional<Stall> stall;
};

/// Plays inputs on a stage. A span that waits ends with the tick at whose end its moment has come,
/// or so long before or after it; before its first tick it cannot end. For what is to come the
/// subject is run ahead with the same things held, and reset. Nothing if the subject cannot be
/// placed there.
[[nodiscard]] std::optional<Played> play(Subject& subject, const Stage& stage,
                                         const Inputs& inputs);

/// What was held in each tick of a trace.
[[nodiscard]] std::vector<Controls> controls_of(const Trace& trace);

}  // namespace bushbaby
