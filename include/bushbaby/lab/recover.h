// From a recording to constants: gravity, launch speed, run rates and windows that would have made
// it, each with an interval and with what it rests on.
//
//     const Recovered found = recover_motion(recording, {});
//     if (found.refusal.empty()) save(found.tuning);
//
// Flights are run by the code that moves, again and again, until they lie as near as can be to what
// was recorded (docs/model.md, "Recover"). What a recording cannot determine is refused, with what
// to record to report it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/core/tuning/dimension.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/lab/recording.h>

namespace bushbaby {

struct RecoverOptions {
  /// Hz, of the game's loop, if it is known; otherwise that of the points if they look like ticks.
  std::optional<double> tick_rate{};
  std::optional<Integrator> integrator{};  ///< of the game's loop, if it is known
  Tuning base{};  ///< what the recovered constants are put into: the body, what nothing reports
};

/// A number and the interval that holds the true one 95 times of 100.
struct Estimate {
  double value = 0;
  double lo = 0;
  double hi = 0;
};

enum class RecoverEnd {
  measured,
  none_seen,  ///< whatever there is of it changes less than the noise does
  undetermined,
};

/// What became of one knob.
struct RecoveredKnob {
  std::string key;  ///< of the table of knobs
  Dimension dimension = Dimension::number;
  RecoverEnd end = RecoverEnd::undetermined;
  Estimate estimate;        ///< if it was measured
  bool in_ticks = false;    ///< the number is one of whole ticks; it is in s all the same
  std::string choice{};     ///< instead of a number: the style of a cut, or of a drive
  std::string why;          ///< what it rests on, or why it cannot be recovered
  std::string to_record{};  ///< what would report it
};

/// The constants of a jump for one loop, and how well it goes with what was recorded.
struct RecoveredLoop {
  Integrator integrator = Integrator::exact;
  double launch_speed = 0;  ///< u/s
  double gravity = 0;       ///< u/s²
  double fall_factor = 1;
  std::optional<double> miss;  ///< u, root of the mean square of what is left; if it was fitted
  bool goes = false;           ///< whether the recording goes with it as well as with the best
};

/// A flight of the recording beside the recovered one: s since take-off, u over the take-off.
struct RecoveredFlight {
  double take_off = 0;  ///< s of the recording
  bool jumps = false;
  std::vector<Vec> recorded{};
  std::vector<Vec> curve{};
  double miss = 0;  ///< u, root of the mean square
};

struct Recovered {
  std::string refusal;    ///< why nothing can be reported jumps; empty if something can
  std::string to_record;  ///< then: what would report it
  std::size_t points = 0;
  double seconds = 0;
  double rate = 0;          ///< points a second, the middling
  double noise = 0;         ///< u, standard deviation of heights
  double tick_rate = 60;    ///< Hz, of the tuning
  bool knows_rate = false;  ///< it was said, or is that of the points
  bool on_ticks = false;    ///< the points are the ends of ticks
  /// There is a point for each tick, but between two of them, as a film draws what moves.
  bool between_ticks = false;
  bool loop_reported = false;  ///< whether loops were distinguished by what was recorded
  /// The points look like ticks, but go better with a motion between them: they may be a film's.
  bool better_between = false;
  std::vector<RecoveredKnob> knobs;
  std::optional<Estimate> height, apex_time, air_time;  ///< of a full jump to the same level: u, s
  std::vector<Vec> curve;  ///< of that jump: s since take-off, u over it; empty if it is not known
  std::vector<RecoveredLoop> loops;
  std::vector<RecoveredFlight> flights;
  std::vector<std::string> remarks;
  /// The base with what was recovered, in the loop that goes best; its own if nothing reports them
  /// apart.
  Tuning tuning;
};

/// Recovers what can be: the same answer for the same call, on any number of cores. The points must
/// be finite, and their times grow.
[[nodiscard]] Recovered recover_motion(const Recording& recording, const RecoverOptions& options);

}  // namespace bushbaby
