// What one mechanism ends of the others: the table "Who wins" of docs/model.md, said once.
#pragma once

#include "bushbaby/core/motion/character.h"

namespace bushbaby::detail {

// What may be under way, armed or open.
enum Part : unsigned {
  kOfJump = 1U << 0U,      // what a jump has armed: cut, hang, sustain
  kFastFall = 1U << 1U,    // a fast fall
  kGlide = 1U << 2U,       // a glide, armed by a held button
  kClimb = 1U << 3U,       // a climb
  kSteering = 1U << 4U,    // locks and fades of the steering
  kGrace = 1U << 5U,       // the times of grace of ground and wall
  kRemembered = 1U << 6U,  // presses that wait for ground or wall
  kDrop = 1U << 7U,        // what was stood on lets the body through
};

inline constexpr unsigned kJumpEnds = kOfJump | kFastFall | kGlide | kGrace | kRemembered | kDrop;
inline constexpr unsigned kFastFallEnds = kOfJump;
inline constexpr unsigned kDashEnds = kOfJump | kFastFall | kGlide | kSteering;
inline constexpr unsigned kHoldEnds = kFastFall | kGlide;
inline constexpr unsigned kClimbEnds = kOfJump | kHoldEnds;
inline constexpr unsigned kBounceEnds = kOfJump | kFastFall | kClimb | kDrop;
inline constexpr unsigned kLandingEnds = kOfJump | kFastFall | kGlide | kSteering | kGrace | kDrop;
inline constexpr unsigned kPushEnds = kLandingEnds | kClimb;

inline void end(Character& c, unsigned parts) noexcept {
  if ((parts & kOfJump) != 0) {
    c.cut_armed = c.cut_heavy = c.hang_armed = false;
    c.sustain_left = 0;
  }
  if ((parts & kFastFall) != 0) c.fast_falling = false;
  if ((parts & kGlide) != 0) c.glide_armed = false;
  if ((parts & kClimb) != 0) c.climbing = false;
  if ((parts & kSteering) != 0) c.steer_lock_left = c.steer_fade_left = 0;
  if ((parts & kGrace) != 0) c.coyote_left = c.wall_coyote_left = 0;
  if ((parts & kRemembered) != 0) c.buffer_left = c.wall_buffer_left = 0;
  if ((parts & kDrop) != 0) c.drop_left = 0;
}

}  // namespace bushbaby::detail
