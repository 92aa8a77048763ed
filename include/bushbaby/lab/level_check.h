// What of a level looks like a mistake, for a character that is to move in it.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include <bushbaby/core/motion/rulebook.h>
#include <bushbaby/core/world/level.h>

namespace bushbaby {

enum class LevelSlip {
  start_in_solid,   ///< at the start the body is inside `solid`, by `amount` u
  start_in_air,     ///< nothing lies under the start
  no_ground,        ///< no solid has a surface that may be stood on; `solid` is the first of them
  name_twice,       ///< `solid` and `other` have the same name
  same_place,       ///< `solid` and `other` are the same shape in the same place
  step,             ///< the tops of `solid` and `other` meet with a step of `amount` u at `place`:
                    ///< hardly to be seen, and too high to be walked over
  zone_name_twice,  ///< zones `solid` and `other` have the same name
  zone_shut,        ///< nowhere is there room for the body to be in zone `solid`
  platform_in_solid,  ///< on its way moving platform `solid` goes through `other`, `amount` s after
                      ///< tick 0 at first, when it is at `place` from where it is drawn
};

/// A likely mistake. `solid` and `other` are indices into the level's solids, or its zones.
struct LevelFinding {
  LevelSlip slip;
  std::size_t solid = 0;
  std::size_t other = 0;
  double amount = 0;  ///< u, or s
  Vec place{0, 0};    ///< u
};

struct LevelCheck {
  std::size_t boxes = 0, polygons = 0, lines = 0;
  std::size_t one_sided = 0;  ///< of them
  std::size_t parts = 0;      ///< convex ones that they consist of
  Box bounds;                 ///< u, of all of them; of no size if there are none
  /// What lies under the start, and how far below the feet (u).
  std::optional<std::size_t> under_start;
  double drop = 0;
  /// Edges that face up: those that give ground and slope, and those that are too steep for it.
  std::size_t slopes = 0, too_steep = 0;
  std::size_t moving_platforms = 0;  ///< solids that travel
  std::size_t zones = 0;
  std::size_t combinations = 0;  ///< of zones that a body can be in at once, and of none
  std::vector<LevelFinding> findings;
};

/// Looks through a level for a character with those rules: its body, its steepest ground. The book
/// must be compiled for the level's zones.
[[nodiscard]] LevelCheck check_level(const Level& level, const Rulebook& book);

}  // namespace bushbaby
