// What a surface is like, and what it does to a character that touches it.
#pragma once

#include <cstdint>

#include <bushbaby/core/shape/shapes.h>

namespace bushbaby {

/// Names a surface of a world; stable for as long as the world lives.
using SurfaceId = std::uint32_t;
inline constexpr SurfaceId kNoSurface = 0xffffffffu;

/// What the x of a push is measured along; its y is always vertically.
enum class PushFrame : std::uint8_t {
  world,   ///< to the right, as the body stands
  facing,  ///< the way the character faces
  source,  ///< away from where the push comes from
};

/// A push from outside: a blow, a blast, a gust.
struct Push {
  Vec velocity{0, 0};  ///< u/s in the push's frame
  PushFrame frame = PushFrame::world;
  bool adds = false;  ///< to the velocity the body has; otherwise it takes its place
  double lock = -1;   ///< s without control after it; negative: the character's own `push.lock`
};

/// What touching a surface does, once each time that a body comes to it. Times of 0 do nothing.
struct Touch {
  bool pushes = false;
  Push push;
  double stun = 0;             ///< s without any action
  double no_jump = 0;          ///< s without a jump
  double slow = 0;             ///< s at a part of top speed
  double slow_share = 1;       ///< that part
  double no_cling = 0;         ///< s in which no wall holds the body
  double slow_fall = 0;        ///< s at a part of gravity while falling, and of terminal speed
  double slow_fall_share = 1;  ///< that part
};

/// The character of a surface. The default is plain ground.
struct SurfaceTraits {
  double grip = 1;          ///< factor on the rates of the run on it: less than 1 is slippery
  double conveyor = 0;      ///< u/s to the right, as the body stands, at which it carries it
  double bounce = 0;        ///< share of the landing speed that bounces back, 0 … 1
  double bounce_speed = 0;  ///< u/s vertically that a landing on it gets at least; 0: none
  /// Shares of its own speed, if it travels, that a body takes along when it leaves it: across its
  /// up, and vertically, which counts for jumps and only where it helps.
  double inherit_horizontal = 1;
  double inherit_vertical = 1;
  bool ground = true;  ///< whether it may be stood on
  bool cling = true;   ///< whether a body may slide along it, cling to it and leave it as a wall
  bool jump = true;    ///< whether it may be jumped from
  bool has_touch = false;  ///< whether `touch` counts
  Touch touch;

  [[nodiscard]] bool bounces() const noexcept { return bounce > 0 || bounce_speed > 0; }
};

}  // namespace bushbaby
