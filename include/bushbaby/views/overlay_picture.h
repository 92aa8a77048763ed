// Variants laid over one another.
#pragma once

#include <string>
#include <vector>

#include <bushbaby/core/world/level.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/overlay.h>
#include <bushbaby/lab/targets.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

/// Up to eight variants; the first is what the others are compared with.
struct OverlayPicture {
  std::string on;  ///< the level, or the drill
  const std::vector<Variant>& variants;
  const Level* level = nullptr;      ///< of a run; null: a drill
  const Curve* reference = nullptr;  ///< that the jump of a drill is compared with
  Units units{};                     ///< in which numbers are reported
};

/// All trails on one map, or height over time where they stay in their place, with the body at
/// take-offs, apexes and landings; below, over time, the vertical speed, what is held, and what a
/// press of the jump button would do.
[[nodiscard]] Picture draw(const OverlayPicture& overlay);

}  // namespace bushbaby
