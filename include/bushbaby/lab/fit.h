// Fit: from targets to the constants that meet them.
//
//     const Fit fit = fit_targets(pip, targets, {});
//     if (fit.end == FitEnd::met) save(fit.tuning);
//
// What is looked for is measured, again and again, in the drills and runs that judge the targets
// as well; nothing is known of the motion here but the closed forms of `derive`, from which the
// search begins. What is minimised is in docs/model.md, "Fit".
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <vector>

#include <bushbaby/lab/remedies.h>
#include <bushbaby/lab/targets.h>

namespace bushbaby {

/// A knob that may be turned, and how far: in world units and seconds, or in ticks if its value is,
/// or is a time that is switched off.
struct FreeKnob {
  KnobPlace place;
  double lo = 0;
  double hi = 0;
};

/// That knob over its usual range; nothing if it has no amount, or none is set.
[[nodiscard]] std::optional<FreeKnob> free_knob(const Tuning& tuning, const KnobPlace& place);
/// The same between two values of it; times are reported in ticks or in seconds as the tuning's
/// are.
[[nodiscard]] std::optional<FreeKnob> free_knob(const Tuning& tuning, const KnobPlace& place,
                                                const KnobValue& lo, const KnobValue& hi);

/// Every knob of a mechanism that is in use, over its usual range; those of the loop and of the
/// body are what they are.
[[nodiscard]] std::vector<FreeKnob> free_knobs(const Tuning& tuning);

struct FitProgress {
  int evaluations = 0;
  std::size_t missed = 0;  ///< targets, of the best so far
};

struct FitOptions {
  /// None: those of `free_knobs` that move a target which is missed, and if that is not enough,
  /// those that move any.
  std::vector<FreeKnob> knobs{};
  int starts = 6;               ///< at most
  int most_evaluations = 6000;  ///< of the search; conflicts may take as many
  std::uint64_t seed = 1;       ///< of the starts behind the second
  bool explains = true;         ///< whether conflicts and slopes are found
  Rounder round{};              ///< for numbers that are short in units
  std::function<void(const FitProgress&)> progress{};  ///< called now and then
};

enum class FitEnd {
  met_before,  ///< there was nothing to do
  met,         ///< every target
  musts_met,   ///< every target that is a must
  missed,      ///< the nearest that was found
  out_of_budget,
};

struct KnobMove {
  KnobPlace place;
  KnobValue from, to;
  bool at_lo = false;  ///< a bound holds it
  bool at_hi = false;
  bool by_ratio = false;  ///< whether its amounts are compared by ratio
  /// By which factor it may be off for every target to stay within its tolerance while the other
  /// knobs make up for it, to first order; nothing if none of the targets reports it. Of knobs
  /// that are not compared by ratio: by how much it may be off.
  std::optional<double> leeway;
};

/// Targets that cannot be met together, but without any one of them can.
struct Conflict {
  std::vector<const Target*> targets;
  /// For each: what is measured of it when the others are met, as near as it was found to go then.
  std::vector<std::optional<double>> nearest;
};

/// How knobs move the targeted facts, at the answer.
struct Slope {
  KnobPlace place;
  double step = 0;  ///< of the knob: a factor above 1, or an amount (ticks)
  bool by_ratio = false;
  std::vector<std::optional<double>> change;  ///< of each target's measure, in its own unit
};

struct Fit {
  FitEnd end = FitEnd::missed;
  Tuning tuning;
  Judgement before, after;      ///< point into the targets that were given
  std::vector<KnobMove> knobs;  ///< those that were free, those that moved first
  std::vector<Slope> slopes;    ///< of the same, in the same order
  std::vector<Conflict> conflicts;
  int evaluations = 0;
  int starts = 0;
};

/// Looks for the values of the free knobs that meet all targets: the same answer for the same
/// call, on any number of cores. Of answers that are equally good it takes one with few and small
/// changes, in short numbers. The tuning must be one that can be, the targets non-empty.
[[nodiscard]] Fit fit_targets(const Tuning& tuning, const std::vector<Target>& targets,
                              const FitOptions& options);

}  // namespace bushbaby
