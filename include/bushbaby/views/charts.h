// Charts of arcs.
#pragma once

#include <optional>
#include <string>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/drills.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

/// What a chart of one character's jumps shows; a jump that was not recorded is omitted.
struct JumpChart {
  std::string character;
  std::string loop;                         ///< "60 Hz, exact loop"
  Units units{};                            ///< in which numbers are reported
  double body_width = 0;                    ///< u
  double body_height = 0;                   ///< u
  double body_radius = 0;                   ///< u, of its corners
  std::optional<RecordedJump> full;         ///< standing, held throughout
  std::optional<RecordedJump> hop;          ///< standing, held for one tick
  std::optional<RecordedJump> running;      ///< at full run, held throughout
  std::optional<RecordedJump> running_hop;  ///< at full run, held for one tick
};

/// Records all four jumps of a subject.
[[nodiscard]] JumpChart record_jump_chart(Subject& subject, std::string loop, const Units& units);

/// Height over time of the standing jumps beside height over distance of the running ones, bodies
/// drawn at take-off, apex and landing, a dot for every tick.
[[nodiscard]] Picture draw(const JumpChart& chart);

}  // namespace bushbaby
