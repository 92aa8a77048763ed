// What of a tuning moves with its loop, as a table for people and as JSON for machines.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/overlay.h>
#include <bushbaby/lab/rates.h>

namespace bushbaby {

struct RatesReport {
  std::string character;
  Units units{};  ///< in which numbers are reported: those of its own loop
  const std::vector<LoopVariant>& loops;
  std::vector<Compared> facts{};                ///< that differ
  std::vector<std::optional<KeptJump>> kept{};  ///< by loop
  std::vector<Drift> drifts{};  ///< by loop, on the same inputs; empty if none were run
  double within = 0;            ///< u that counts as being apart
};

/// A line for each loop with what is rounded in it, the facts that move by more than a thousandth,
/// and what to change to keep the jump, in the numbers of a tuning of that loop.
[[nodiscard]] std::string rates_table(const RatesReport& report);
[[nodiscard]] std::string rates_json(const RatesReport& report);

}  // namespace bushbaby
