// Why a run went as it did: what each tick decided, and where two runs part.
//
//     for (const ExplainedTick& tick : explain_ticks(pip, stage, controls, presses_of(controls)))
//       print(tick);
#pragma once

#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

#include <bushbaby/core/why.h>
#include <bushbaby/lab/subject.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// A tick of a run with what it decided.
struct ExplainedTick {
  Sample before;  ///< the state at its start; its tick is that of the explanation
  Controls held;
  Explanation why;
  std::vector<Event> events;  ///< what happened in it
};

/// Runs inputs on a stage and explains the ticks asked for, in order of time; ticks outside the
/// inputs are left out. Nothing if the subject cannot be placed there.
[[nodiscard]] std::optional<std::vector<ExplainedTick>> explain_ticks(
    CharacterSubject& subject, const Stage& stage, const std::vector<Controls>& controls,
    const std::vector<std::int64_t>& ticks);

/// The ticks in which jump, dash or down is newly pressed.
[[nodiscard]] std::vector<std::int64_t> presses_of(const std::vector<Controls>& controls);

/// The first tick in which two traces differ.
struct Parting {
  bool at_start = false;               ///< they differ before the first tick
  std::int64_t tick = 0;               ///< the tick that ends in different samples
  std::vector<std::string_view> over;  ///< columns of a trace: "held", "x", "events", …
};

/// How many ticks two traces have samples of in common.
[[nodiscard]] std::size_t shared_samples(const Trace& a, const Trace& b);

/// Where two traces part, among the ticks that both have: the first tick in which what is held, a
/// number by more than `within` (in its own unit), the stance, the footing or the events differ.
/// Nothing if they do not as far as both go. Events count by kind and detail, and not at all if one
/// trace has none. The traces must have the same tick rate.
[[nodiscard]] std::optional<Parting> find_parting(const Trace& a, const Trace& b,
                                                  double within = 0);

}  // namespace bushbaby
