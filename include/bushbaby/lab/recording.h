// A recording: where a body was, from whatever source: a game's log, a film, points that were read
// off a picture.
//
//     Recording recording;
//     recording.points = {{0, {0, 0}}, {0.016, {0, 0.13}}, …};
//     const Recovered constants = recover_motion(recording, {});
//
// Nothing is asked of it but times and places: the points may be uneven in time, with gaps and with
// noise. What else a source knows makes more of it, and says so in the flags.
#pragma once

#include <optional>
#include <vector>

#include <bushbaby/core/shape/shapes.h>

namespace bushbaby {

struct RecordedPoint {
  double time = 0;        ///< s
  Vec feet{0, 0};         ///< u, y up; any fixed point of an upright body will do
  Vec velocity{0, 0};     ///< u/s
  bool grounded = false;  ///< stands on something
  bool jump = false;      ///< the button of the jump is held
  double run = 0;         ///< the direction that is held, -1 … 1
};

/// Points in order of time, each later than the one before.
struct Recording {
  std::vector<RecordedPoint> points;
  bool has_speeds = false;            ///< `velocity` is known
  bool has_ground = false;            ///< `grounded` is known
  bool has_jump = false;              ///< `jump` is known
  bool has_run = false;               ///< `run` is known
  std::optional<double> tick_rate{};  ///< Hz, if it counts ticks
};

}  // namespace bushbaby
