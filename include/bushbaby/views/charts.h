// Charts of arcs.
#pragma once

#include <optional>
#include <string>

#include <bushbaby/lab/drills.h>
#include <bushbaby/views/render.h>

namespace bushbaby {

/// What a chart of one character's jumps shows; a jump that was not recorded is left out.
struct JumpChart {
  std::string character;
  std::string loop;                         ///< "60 Hz, exact loop"
  std::optional<RecordedJump> held;         ///< standing, held throughout
  std::optional<RecordedJump> tapped;       ///< standing, held for one tick
  std::optional<RecordedJump> running;      ///< at full run, held throughout
  std::optional<RecordedJump> running_tap;  ///< at full run, held for one tick
};

/// Records all four jumps of a subject.
[[nodiscard]] JumpChart record_jump_chart(Subject& subject, std::string loop);

/// Height over time of the standing jumps beside height over distance of the running ones, apex and
/// landing marked, axes in u and s, a dot for every tick.
[[nodiscard]] Drawing draw(const JumpChart& chart);

}  // namespace bushbaby
