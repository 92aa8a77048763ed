// Why a run went as it did, as text for people and as JSON for machines.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/core/world/level.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/explain.h>

namespace bushbaby {

/// Explained presses or ticks of one run.
struct WhyReport {
  std::string character;
  const Level& level;  ///< whose solids are named
  Units units;         ///< in which numbers are reported
  std::vector<Press> presses{};
  std::vector<ExplainedTick> ticks{};
  Tuning tuning{};  ///< in whose knobs the reasons are reported
};

/// A line for each press: what it did, at once or later, or what stood in its way.
[[nodiscard]] std::string presses_text(const WhyReport& report);
[[nodiscard]] std::string presses_json(const WhyReport& report);

/// A paragraph for each tick: what was decided, on which knob, and what each other candidate failed
/// on.
[[nodiscard]] std::string why_text(const WhyReport& report);
[[nodiscard]] std::string why_json(const WhyReport& report);

/// What came of a press: what it did, at once or later, or what stood in its way.
[[nodiscard]] std::string outcome_text(const Press& press, const Level& level);

/// The paragraph of a tick.
[[nodiscard]] std::string tick_text(const ExplainedTick& tick, const Units& units,
                                    const Tuning& tuning, const Level& level);

/// Two traces and where they part.
struct PartingReport {
  std::string name_a;
  std::string name_b;
  const Trace& a;
  const Trace& b;
  std::optional<Parting> parting;
  Units units{};                       ///< in which numbers are reported
  const Level* level = nullptr;        ///< whose solids are named, if there is one
  std::vector<std::string> knobs{};    ///< in which two tunings differ, in words
  std::vector<ExplainedTick> why_a{};  ///< of the tick in which they part, where it can be reported
  std::vector<ExplainedTick> why_b{};
  Tuning tuning_a{};  ///< in whose knobs the reasons are reported
  Tuning tuning_b{};
};

/// A knob that has another value in each of two tunings, in words.
struct KnobDifference {
  std::string key;
  std::string in_a;
  std::string in_b;
};
[[nodiscard]] std::vector<KnobDifference> knob_differences(const Tuning& a, const Tuning& b,
                                                           const Units& units);

/// The knobs in which two tunings differ: "fall.factor: 1.7, 1.8".
[[nodiscard]] std::vector<std::string> differing_knobs(const Tuning& a, const Tuning& b,
                                                       const Units& units);

[[nodiscard]] std::string parting_text(const PartingReport& report);
[[nodiscard]] std::string parting_json(const PartingReport& report);

}  // namespace bushbaby
