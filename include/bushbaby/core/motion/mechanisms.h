// The kinds of the mechanisms of motion: what a tuning chooses among, and a tick does.
#pragma once

#include <cstddef>

namespace bushbaby {

/// How a tick turns acceleration into motion. See docs/model.md, "Loops".
enum class Integrator {
  exact,          ///< closed form within the tick; free flight is the same at every tick rate
  trapezoidal,    ///< x += (v + v') / 2 · dt
  semi_implicit,  ///< v += a · dt, then x += v · dt
  explicit_step,  ///< x += v · dt, then v += a · dt; written "explicit"
};

/// What releasing the jump button does to a rising body.
enum class CutStyle {
  none,    ///< nothing: every jump is a full jump
  stop,    ///< the vertical speed becomes 0
  scale,   ///< the vertical speed is multiplied by `keep`
  weight,  ///< gravity is multiplied by `weight` until the apex
};

/// What grows evenly with the gauge of a charge.
enum class ChargeCurve { height, speed };

/// How fast the run speed may change, in u/s².
struct RunRates {
  double accelerate = 0;  ///< towards a faster speed in the direction of motion
  double brake = 0;       ///< towards a slower speed in the direction of motion, or to rest
  double turn = 0;        ///< while moving against the held direction
};

/// How the run speed follows the speed that is asked for.
enum class DriveStyle {
  rate,    ///< at a constant rate
  damped,  ///< by a share of the difference: fast at first, then ever slower
  instant  ///< at once
};

/// The side that a character faces.
enum class FacingRule {
  held,   ///< the side last held
  speed,  ///< the side it last moved to
};

/// Running without being reported to.
enum class AutoRun { none, left, right, facing };

/// What a press just above the ground means while air jumps are left.
enum class NearGround {
  air_jump,  ///< an air jump, like anywhere else
  buffer,    ///< a jump at landing, if that comes within the buffer
};

/// What keeps a body at a wall.
enum class WallGrab {
  push,   ///< it slides and clings while the direction towards the wall is held
  touch,  ///< it does while it touches the wall
};

/// At most this many ways to leave a wall.
inline constexpr std::size_t kMostWallExits = 8;

/// Where a dash goes.
enum class DashDirection {
  facing,    ///< the way the character faces
  sideways,  ///< to the held side, or the way it faces
  eight,     ///< the nearest of eight directions to the held one, or the way it faces
  free,      ///< exactly the held direction, or the way it faces
};

/// What lets a body down through a platform that it stands on.
enum class DropBy {
  nothing,
  down,       ///< a press of down
  down_jump,  ///< a press of jump, or one remembered, with down held
};

/// Another gravity around the apex of a jump: below `below_speed` (u/s, 0 or more) vertically or
/// down, gravity is multiplied by `gravity` (more than 0). No band by default.
struct Hang {
  double below_speed = 0;
  double gravity = 1;
};

}  // namespace bushbaby
