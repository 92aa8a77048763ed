// Maps of a run on a level.
#pragma once

#include <optional>
#include <string>

#include <bushbaby/core/world/level.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/trace.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

/// A run to be drawn: the terrain around it, its trail with a dot for every tick, its events.
struct RunMap {
  std::string character;
  const Level& level;
  const Trace& trace;
  double body_width = 0;        ///< u
  double body_height = 0;       ///< u
  Units units{};                ///< in which numbers are reported
  double body_radius = 0;       ///< u, of its corners
  std::optional<Vec> missed{};  ///< u: where it did what it should not
  std::string missed_text{};    ///< what that is
};

/// The map at equal scale, the body drawn where it took off, turned, landed or bumped into
/// something. A run that stays in its place gets its height over time beside it.
[[nodiscard]] Picture draw(const RunMap& map);

}  // namespace bushbaby
