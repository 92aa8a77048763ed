// What the command reports, as tables for people and as JSON for machines.
//
// Every table has its units in the heading. Every JSON text is one object.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/changes.h>
#include <bushbaby/lab/derive.h>
#include <bushbaby/lab/drills.h>
#include <bushbaby/lab/remedies.h>
#include <bushbaby/lab/targets.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// The tuning's loop as its knob names it.
[[nodiscard]] std::string name_of_integrator(const Tuning& tuning);

/// "60 Hz, exact" with what else of the loop matters.
[[nodiscard]] std::string describe_loop(const Tuning& tuning);

[[nodiscard]] std::string derivation_table(const Derivation& derivation, const Units& units);
[[nodiscard]] std::string derivation_json(const Derivation& derivation, const Units& units);

[[nodiscard]] std::string drill_table(const Tuning& tuning, const Units& units,
                                      const std::vector<Rounding>& roundings,
                                      const std::vector<DrillReport>& reports);
[[nodiscard]] std::string drill_json(const Tuning& tuning, const Units& units,
                                     const std::vector<Rounding>& roundings,
                                     const std::vector<DrillReport>& reports);

/// A knob's value with its unit: "2.2", "7 ticks", "60 px".
[[nodiscard]] std::string knob_text(const KnobPlace& place, const KnobValue& value,
                                    const Units& units);

/// What may be done about a target that is missed.
struct MissAdvice {
  const Verdict* verdict = nullptr;
  std::vector<Remedy> remedies;
  std::vector<Change> pairs{};  ///< of two knobs, that break nothing
};

/// What is likely to be a mix-up of units: curves of quite another size than the arc that is to
/// follow them.
[[nodiscard]] std::vector<std::string> curve_remarks(const std::vector<Target>& targets,
                                                     Subject& subject);

/// Rounds to N significant digits of the units: what remedies are offered in.
[[nodiscard]] Rounder rounder_in(const Units& units);

/// The bound of a target in words, without its unit: "3.25 ± 0.01", "6 … 8", "≥ 2", "≤ 1.4".
[[nodiscard]] std::string bound_text(const Target& target, const Units& units);
/// What a target is about: its fact, or "running_jump follows arcs/leap.csv".
[[nodiscard]] std::string subject_of(const Target& target);

[[nodiscard]] std::string judgement_table(const Tuning& tuning, const Units& units,
                                          const Judgement& judgement,
                                          const std::vector<MissAdvice>& advice);
[[nodiscard]] std::string judgement_json(const Tuning& tuning, const Units& units,
                                         const Judgement& judgement,
                                         const std::vector<MissAdvice>& advice);

}  // namespace bushbaby
