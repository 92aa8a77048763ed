// The moving state of one character: plain data that a game may copy, save and compare freely.
#pragma once

#include <array>
#include <cstdint>
#include <string_view>
#include <type_traits>

#include <bushbaby/core/motion/controls.h>
#include <bushbaby/core/motion/events.h>
#include <bushbaby/core/motion/rulebook.h>
#include <bushbaby/core/motion/ticks.h>
#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/world.h>

namespace bushbaby {

/// What the body is really doing, from its velocity and contacts.
enum class Stance : std::uint8_t {
  standing,
  rising,
  falling,
  wall_sliding,  ///< down a wall that holds it
  clinging,      ///< to a wall, without sliding
  climbing,      ///< along a wall, or holding on to it in between
  gliding,       ///< falls no faster than a glide does
  dashing,
  swimming,  ///< in a fluid, without ground
};

[[nodiscard]] std::string_view name_of(Stance stance) noexcept;

/// Why the ground check says what it says.
enum class GroundReason : std::uint8_t {
  none,       ///< nothing underfoot within reach
  ground,     ///< standing
  grace,      ///< nothing underfoot, but a coyote jump is still allowed
  too_steep,  ///< a surface underfoot, steeper than `run.steepest_ground`
  rising,     ///< not checked: the body moves up
  refused,    ///< a surface underfoot that may not be stood on
};

[[nodiscard]] std::string_view name_of(GroundReason reason) noexcept;

/// The answer of the ground check at the end of a tick.
struct GroundCheck {
  GroundReason reason = GroundReason::none;
  SurfaceId surface = kNoSurface;  ///< of the surface underfoot, when there is one
  Vec normal{0, 0};                ///< its normal
  double gap = 0;                  ///< u between feet and surface, along the normal
  bool wedged = false;             ///< two surfaces too steep to stand on hold it from both sides
};

/// Something that is not possible for a time.
struct Status {
  Ticks left = 0;                  ///< ticks, or kForEver; 0: possible
  std::uint32_t reason = 0;        ///< the game's own number for why
  double share = 1;                ///< for StatusKind::slow and slow_fall
  SurfaceId surface = kNoSurface;  ///< the one whose touch set it, if one did
  bool by_zone = false;            ///< it is a zone's: then it is the zone's id
};

/// Everything that one tick hands to the next. Set `feet` and `velocity` freely between ticks; to
/// put a body somewhere again, use `place` (bushbaby/core/motion/advance.h); to push it or take
/// something away from it, use bushbaby/core/motion/outside.h.
struct Character {
  std::int64_t tick = 0;      ///< ticks done
  Vec feet{0, 0};             ///< centre of the body's base, u
  Vec velocity{0, 0};         ///< u/s
  Vec up{0, 1};               ///< unit vector: the way up of its body, against which gravity pulls
  Controls controls;          ///< of the last tick: presses and releases are seen against them
  Ticks held_horizontal = 0;  ///< ticks for which a side has been held; negative: the left
  Ticks held_vertical = 0;    ///< ticks for which up has been held; negative: down
  GroundCheck ground;
  std::int8_t facing = 1;  ///< -1 left, 1 right
  bool rising = false;     ///< moved up at the end of the last tick
  bool gliding = false;    ///< fell in a glide at the end of the last tick
  bool on_wall = false;    ///< a wall held it at the end of the last tick
  bool climbing = false;   ///< and it climbed along it, or held on to it in between
  bool clinging = false;   ///< and it clung to it
  bool sprinting = false;  ///< the sprint is in force

  // Jump.
  bool cut_armed = false;                    ///< a jump is rising and has not been cut
  bool cut_heavy = false;                    ///< a `weight` cut is in force until the apex
  bool hang_armed = false;                   ///< airborne by a jump: the hang band applies
  bool fast_falling = false;                 ///< until landing
  bool glide_armed = false;                  ///< a held button that gave no jump glides
  JumpKind jump_kind = JumpKind::ground;     ///< of the last jump
  std::int64_t launch_tick = kLongAgo;       ///< of the last jump
  Ticks coyote_left = 0;                     ///< decisions that may still jump without ground
  Ticks buffer_left = 0;                     ///< decisions for which a press is still remembered
  Ticks sustain_left = 0;                    ///< ticks for which a held button holds the speed
  Ticks charge_held = 0;                     ///< ticks of charging; 0: it does not charge
  std::int32_t air_jumps_used = 0;           ///< since they were last given back
  std::int64_t ground_lost_tick = kLongAgo;  ///< when it last stopped standing
  LeaveReason ground_lost_by = LeaveReason::lifted;

  // Walls.
  std::int8_t wall = 0;                    ///< the side on which a wall is touched: -1, 0, 1
  SurfaceId wall_surface = kNoSurface;     ///< the one that is touched, or was last
  std::int8_t wall_lost = 0;               ///< the side of the wall that was last lost
  bool wall_released = false;              ///< left, but still touched: nothing holds it there
  std::int8_t wall_spent = 0;              ///< a side that may not be left again for now
  std::int8_t cling_side = 0;              ///< the side for which `cling_left` counts
  Ticks cling_left = 0;                    ///< ticks for which it may still stay where it is
  Ticks climb_used = 0;                    ///< ticks of climbing since it last stood
  Ticks wall_coyote_left = 0;              ///< decisions that may still leave a wall that was lost
  Ticks wall_buffer_left = 0;              ///< decisions for which a press waits for a wall
  std::int64_t wall_lost_tick = kLongAgo;  ///< when one was last lost that was not released

  // Steering after a wall was left.
  Ticks steer_lock_left = 0;
  Ticks steer_fade_left = 0;
  Ticks steer_fade_ticks = 0;  ///< its whole length

  // Dash.
  Ticks dash_left = 0;  ///< ticks; 0: it does not dash
  Vec dash_way{0, 0};   ///< unit vector: to the right as the body stands, and along its up
  std::int32_t dashes_used = 0;
  Ticks dash_cooldown_left = 0;
  Ticks dash_buffer_left = 0;

  // Dropping through a platform.
  Ticks drop_left = 0;  ///< ticks for which what it stood on lets it through
  Vec drop_from{0, 0};  ///< u, the feet when it dropped; they go along with a moving platform
  SurfaceId drop_surface = kNoSurface;  ///< what it stood on

  // MovingPlatforms. While one carries the body, `velocity` is that over the platform.
  double platform_rise =
      0;                 ///< u/s vertically of the one that was left: for a coyote jump, or a cut
  Vec wall_gave{0, 0};   ///< u/s, to the right and up: given by the wall last lost
  bool crushed = false;  ///< a moving platform reaches into it, since there is no way out

  // Zones.
  ZoneSet zones = no_zones();  ///< it is in
  RulesId rules = 0;           ///< in force, of a rulebook
  RulesId turned_by = 0;       ///< the rules under which it was last turned
  std::int8_t held_turn = 0;   ///< quarters by which what is held is turned for the body
  bool swims = false;          ///< in a fluid without ground at the end of the last tick
  bool head_out = false;       ///< of the fluid
  Ticks stroke_left = 0;       ///< ticks for which it may not stroke again

  // What comes from outside.
  std::array<Status, kStatusKinds> status{};  ///< by StatusKind
  std::uint8_t status_seen = 0;               ///< a bit for each that an event has reported
  std::uint8_t modes_seen = 0;                ///< a bit for each mode: the same
  bool pushed = false;                        ///< since the last tick
  bool dash_broken = false;                   ///< by that push
  bool charge_broken = false;                 ///< by that push
  SurfaceId touching = kNoSurface;            ///< whose touch has had its effect

  [[nodiscard]] bool grounded() const noexcept { return ground.reason == GroundReason::ground; }
  [[nodiscard]] Stance stance() const noexcept;
  [[nodiscard]] bool has(StatusKind kind) const noexcept {
    return status[static_cast<std::size_t>(kind)].left > 0;
  }
};

static_assert(std::is_trivially_copyable_v<Character>);

/// Field by field; positions and velocities must be the same numbers.
[[nodiscard]] bool operator==(const GroundCheck& a, const GroundCheck& b) noexcept;
[[nodiscard]] bool operator==(const Status& a, const Status& b) noexcept;
[[nodiscard]] bool operator==(const Character& a, const Character& b) noexcept;
[[nodiscard]] inline bool operator!=(const Character& a, const Character& b) noexcept {
  return !(a == b);
}

}  // namespace bushbaby
