// Putting what was recovered, or why it was not, into the summary.
#pragma once

#include <string>

#include "bushbaby/lab/recover.h"

#include "flights.h"

namespace bushbaby::detail {

// The interval that holds the true value 95 times of 100, from a standard error and its degrees of
// freedom.
Estimate around(double value, double error, double freedom);

// An interval as wide as that reports nothing.
bool too_wide(const Estimate& estimate);

// "3 jumps", "1 jump".
std::string counted(std::size_t count, const char* one, const char* many);

class Reporter {
 public:
  explicit Reporter(Recovered& found) : found_(found) {}

  [[nodiscard]] Recovered& found() noexcept { return found_; }

  RecoveredKnob& add(const std::string& key, RecoverEnd end, std::string why,
                     std::string to_record = {});
  // A number with its interval: true; or a refusal, if the interval is too wide to report anything.
  bool add_measured(const std::string& key, const Estimate& estimate, std::string why,
                    std::string to_record);

 private:
  Recovered& found_;
};

// What a recording is, as it was surveyed.
struct Surveyed {
  Recording recording;  // if its points are ticks, at the times of ticks
  Flights flights;
};

// Gravity, launch speed and what else shapes flights, and the loop.
void recover_jump(const Surveyed& surveyed, const RecoverOptions& options, Reporter& reporter);
// Top speed and rates.
void recover_run(const Surveyed& surveyed, Reporter& reporter);
// Coyote time and buffer.
void recover_windows(const Surveyed& surveyed, Reporter& reporter);

}  // namespace bushbaby::detail
