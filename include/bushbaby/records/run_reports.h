// What a run did, as a table for people and as JSON for machines.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/playing.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// A run: its arcs and its events.
struct RunReport {
  std::string character;
  std::string level;
  const Trace& trace;
  Units units{};
  std::vector<std::string> zones{};  ///< what the level's zones are called
  std::optional<Stall> stall = std::nullopt;
};

[[nodiscard]] std::string run_table(const RunReport& report);
[[nodiscard]] std::string run_json(const RunReport& report);

/// Why a run ended before its inputs: "line 7, right until landed: it did not come within 10 s (600
/// ticks), and the run ends there, …".
[[nodiscard]] std::string describe(const Stall& stall, const Units& units);

}  // namespace bushbaby
