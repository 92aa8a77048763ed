// What the command reports, as tables for people and as JSON for machines.
//
// Every table has its units in the heading. Every JSON text is one object.
#pragma once

#include <string>
#include <vector>

#include <bushbaby/core/rules.h>
#include <bushbaby/core/tuning.h>
#include <bushbaby/lab/derive.h>
#include <bushbaby/lab/drills.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// "60 Hz, exact" with what else of the loop matters.
[[nodiscard]] std::string describe_loop(const Tuning& tuning);

[[nodiscard]] std::string derivation_table(const Derivation& derivation);
[[nodiscard]] std::string derivation_json(const Derivation& derivation);

[[nodiscard]] std::string drill_table(const Tuning& tuning, const std::vector<Rounding>& roundings,
                                      const std::vector<DrillReport>& reports);
[[nodiscard]] std::string drill_json(const Tuning& tuning, const std::vector<DrillReport>& reports);

/// A run: its arcs and its events.
struct RunReport {
  std::string character;
  std::string course;
  Trace trace;
};

[[nodiscard]] std::string run_table(const RunReport& report);
[[nodiscard]] std::string run_json(const RunReport& report);

/// The reference of knobs and of facts that stand in docs/formats.md and docs/facts.md.
[[nodiscard]] std::string knob_reference();
[[nodiscard]] std::string fact_reference();

}  // namespace bushbaby
