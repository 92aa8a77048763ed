// Sweep: one or two knobs through ranges of values, and what is measured for each.
//
//     const KnobSweep sweep{tuning, {{*find_place("fall.factor"), values}}, {fact}};
//     run_sweep(sweep, 0, runs_of(sweep), [&](std::size_t first, const auto& runs) { … });
#pragma once

#include <cstddef>
#include <functional>
#include <optional>
#include <vector>

#include <bushbaby/core/tuning/knobs.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/lab/drills.h>

namespace bushbaby {

/// A knob and the values that it goes through, at least one, each of which it may have.
struct SweepAxis {
  KnobPlace knob;
  std::vector<KnobValue> values;
};

struct KnobSweep {
  Tuning base;
  std::vector<SweepAxis> axes;           ///< one or two; the last changes from run to run
  std::vector<const FactInfo*> facts{};  ///< what is measured, at least one
};

/// How many runs a sweep has.
[[nodiscard]] std::size_t runs_of(const KnobSweep& sweep) noexcept;

/// The place of a run on each axis: which value it has.
[[nodiscard]] std::vector<std::size_t> places_of(const KnobSweep& sweep, std::size_t run);

/// What a run measured, in the order of the facts; nothing where the tuning cannot be, or does not
/// do the thing.
using SweepRun = std::vector<std::optional<double>>;

[[nodiscard]] SweepRun measure_facts(const Tuning& tuning,
                                     const std::vector<const FactInfo*>& facts);
[[nodiscard]] SweepRun make_run(const KnobSweep& sweep, std::size_t run);

/// Makes the runs from `first` up to `last` on all cores and hands them over in order, some
/// thousand at a time, until `take` says that it wants no more. What is handed over does not depend
/// on how many cores there are; memory does not grow with the number of runs.
void run_sweep(
    const KnobSweep& sweep, std::size_t first, std::size_t last,
    const std::function<bool(std::size_t first, const std::vector<SweepRun>& runs)>& take);

}  // namespace bushbaby
