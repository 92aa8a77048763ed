// Drills: standard manoeuvres, run on a subject to measure facts.
//
//     CharacterSubject pip(compiled.rules, "Pip");
//     for (const DrillReport& report : run_drills(pip)) print(report);
//
// A fact is measured from what the subject does, never read from its tuning. Each is documented in
// the table of drills, from which docs/facts.md is made.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/core/tuning/knobs.h>
#include <bushbaby/lab/subject.h>

namespace bushbaby {

/// A kind of fact that a drill measures.
struct FactInfo {
  std::string_view name;  ///< "stand_jump.height"
  Dimension dimension;
  std::string_view measured;  ///< how, in one sentence
};

/// One measured number; absent when the drill ran but the subject never did the thing.
struct Fact {
  const FactInfo* info = nullptr;
  std::optional<double> value;
  std::string why_not;   ///< why there is no value
  bool or_more = false;  ///< the value is where looking for more of it was given up
};

/// A row of measurements of the same kind: the heights of a hold ladder.
struct Series {
  std::string_view name;  ///< "hold_heights.height"
  std::string_view over;  ///< what the places of the row stand for: "ticks held"
  int step = 1;           ///< how many of them a place stands for: step, 2 step, …
  Dimension dimension;
  std::vector<double> values;
};

/// What a drill measured: a fact for each in its table, in that order, and perhaps more.
struct Measured {
  std::vector<Fact> facts;
  std::vector<Series> series;
};

/// A jump from take-off to landing, with the trace around it.
struct RecordedJump {
  Trace trace;
  Arc arc;
};

struct Drill {
  std::string_view name;
  std::string_view help;  ///< what the subject is made to do, in one sentence
  Terrain needs;
  std::vector<FactInfo> facts;
  Measured (*run)(Subject& subject, const Drill& drill);
  /// The jump that the drill is, for those that are one; null for the others.
  std::optional<RecordedJump> (*record)(Subject& subject) = nullptr;
};

struct DrillReport {
  const Drill* drill = nullptr;
  std::vector<Fact> facts;  ///< one for each of the drill's, in its order
  std::vector<Series> series;
  std::string skipped;  ///< why the drill could not be run; empty if it was
};

/// Every drill, in the order in which they are reported.
[[nodiscard]] const std::vector<Drill>& drills();

/// The drill of that name, or null.
[[nodiscard]] const Drill* find_drill(std::string_view name);

[[nodiscard]] DrillReport run_drill(const Drill& drill, Subject& subject);

/// Runs the named drills, or all if none is named. Unknown names are a broken precondition.
[[nodiscard]] std::vector<DrillReport> run_drills(Subject& subject,
                                                  const std::vector<std::string>& only = {});

/// The value of a fact among reports, if it was measured.
[[nodiscard]] std::optional<double> value_of(const std::vector<DrillReport>& reports,
                                             std::string_view fact);

/// The drill that measures a fact, or null if there is no such fact.
[[nodiscard]] const Drill* drill_of_fact(std::string_view fact);

/// A standing jump, the button held for that many ticks; nothing if the subject does not jump, or
/// does not land.
inline constexpr int kHeldThroughout = -1;
[[nodiscard]] std::optional<RecordedJump> record_standing_jump(Subject& subject, int held_ticks);

/// A jump from full run to the right, the direction held until landing.
[[nodiscard]] std::optional<RecordedJump> record_running_jump(Subject& subject, int held_ticks);

}  // namespace bushbaby
