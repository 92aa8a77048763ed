// Facts beside the knobs: drills run in the background after each change.
#pragma once

#include <condition_variable>
#include <cstdint>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include "bushbaby/lab/targets.h"

namespace bushbaby::live {

/// What was measured of a tuning.
struct Measurement {
  std::uint64_t version = 0;  ///< that it was asked with
  Tuning tuning;
  std::vector<DrillReport> drills;
  Judgement judgement;  ///< points into the measurer's targets
};

/// Measures on a thread of its own. What is asked later takes the place of what is under way.
class Measurer {
 public:
  /// The drills that are run always, and the targets, for those that they need.
  Measurer(std::vector<std::string> drills, std::vector<Target> targets);
  ~Measurer();
  Measurer(const Measurer&) = delete;
  Measurer& operator=(const Measurer&) = delete;

  void ask(std::uint64_t version, const Tuning& tuning);
  /// What is done since the last call.
  [[nodiscard]] std::optional<Measurement> take();
  [[nodiscard]] bool is_busy() const;
  /// Waits until nothing is under way.
  void wait();

  [[nodiscard]] const std::vector<Target>& targets() const noexcept { return targets_; }

 private:
  void work();
  void measure_asked(const Tuning& tuning, std::uint64_t version);
  [[nodiscard]] bool is_outdated(std::uint64_t version) const;
  [[nodiscard]] std::optional<Measurement> measure(std::uint64_t version,
                                                   const Tuning& tuning) const;

  const std::vector<std::string> drills_;
  const std::vector<Target> targets_;
  mutable std::mutex mutex_;
  mutable std::condition_variable changed_;
  std::optional<Tuning> asked_;
  std::uint64_t asked_version_ = 0;
  std::optional<Measurement> done_;
  bool busy_ = false;
  bool ends_ = false;
  std::thread thread_;  // none if there is none to be had: then it measures when it is asked
};

}  // namespace bushbaby::live
