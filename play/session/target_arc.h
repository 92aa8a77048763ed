// What targets want of a jump, and how far one that was made is off.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "bushbaby/lab/targets.h"
#include "bushbaby/lab/trace.h"

namespace bushbaby::live {

/// What is target_jumps of jumps of one kind, as far as targets say it.
struct TargetJump {
  std::optional<Bound> height;    ///< u
  std::optional<Bound> air_time;  ///< s
  std::optional<Bound> distance;  ///< u
  std::vector<const Target*> curves{};

  [[nodiscard]] bool is_empty() const noexcept {
    return !height && !air_time && !distance && curves.empty();
  }
};

/// Of jumps from rest and from full run. Points into the targets.
struct TargetJumps {
  TargetJump standing;
  TargetJump running;
};
[[nodiscard]] TargetJumps target_jumps_of(const std::vector<Target>& targets);

/// The speed along the ground with which an arc of a trace begins, to the right as the body stands,
/// u/s.
[[nodiscard]] double take_off_speed(const Trace& trace, const Arc& arc);

/// What is target_jumps of a jump that begins so fast: from half of top speed on it is one from a
/// run.
[[nodiscard]] bool is_from_run(double take_off_speed, double top_speed) noexcept;

/// A jump that was made, from take-off to landing.
struct Landing {
  std::int64_t tick = 0;  ///< of the landing
  Arc arc;
  bool running = false;  ///< from a run
  double height = 0;     ///< u
  double air_time = 0;   ///< s
  double distance = 0;   ///< u, along the way it went
  std::optional<double> height_off{}, air_time_off{}, distance_off{};
};

/// The last jump of a trace, if it ended with its last tick.
[[nodiscard]] std::optional<Landing> landing_of(const Trace& trace, const TargetJumps& target_jumps,
                                                double top_speed);

}  // namespace bushbaby::live
