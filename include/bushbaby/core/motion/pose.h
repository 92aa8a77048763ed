// Between two ticks: what a renderer draws when its frames are not the game's ticks.
//
//     const Character before = pip;
//     advance(pip, controls, rules, world);
//     draw(pose_between(before, pip, share_of_the_tick_that_has_passed));
#pragma once

#include <bushbaby/core/motion/character.h>

namespace bushbaby {

/// Where to draw the feet (u): on what a standing body rests on, not above it by the flush gap. A
/// game that snaps to pixels rounds this; it does not floor it.
[[nodiscard]] Vec visible_feet(const Character& character) noexcept;

/// How a character looks at a moment.
struct Pose {
  Vec feet{0, 0};      ///< u, as `visible_feet` gives them
  Vec velocity{0, 0};  ///< u/s
  Vec up{0, 1};        ///< unit vector along which the body stands
  Stance stance = Stance::falling;
  int facing = 1;  ///< -1 left, 1 right
};

/// The pose at `share` (clamped to 0 … 1) of the way from one tick to the next: place and velocity
/// in a straight line, up by the shorter way, stance and facing those of the later tick as soon as
/// it has begun. A body that was put somewhere else in between (`place`) should be drawn with a
/// share of 1.
[[nodiscard]] Pose pose_between(const Character& before, const Character& after,
                                double share) noexcept;

}  // namespace bushbaby
