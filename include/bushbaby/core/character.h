// The moving state of one character: plain data that a game may copy, save and compare freely.
#pragma once

#include <cstdint>
#include <string_view>
#include <type_traits>

#include <bushbaby/core/controls.h>
#include <bushbaby/core/shapes.h>
#include <bushbaby/core/world.h>

namespace bushbaby {

/// What the body is really doing, from its velocity and contacts.
enum class Stance : std::uint8_t { ground, rise, fall };

[[nodiscard]] std::string_view name_of(Stance stance) noexcept;

/// Why the ground check says what it says.
enum class Footing : std::uint8_t {
  none,       ///< nothing underfoot within reach
  footing,    ///< standing
  grace,      ///< nothing underfoot, but a coyote jump is still allowed
  too_steep,  ///< a surface underfoot, steeper than `run.steepest_footing`
  rising,     ///< not checked: the body moves along up
};

[[nodiscard]] std::string_view name_of(Footing footing) noexcept;

/// The answer of the ground check at the end of a tick.
struct GroundCheck {
  Footing reason = Footing::none;
  SurfaceId surface = kNoSurface;  ///< of the surface underfoot, when there is one
  Vec normal{0, 0};                ///< its normal
  double gap = 0;                  ///< u between feet and surface, along the normal
};

/// Everything that one tick hands to the next. Set `feet` and `velocity` freely between ticks; to
/// put a body somewhere anew, use `place` (bushbaby/core/advance.h).
struct Character {
  std::int64_t tick = 0;  ///< ticks done
  Vec feet{0, 0};         ///< centre of the body's base, u
  Vec velocity{0, 0};     ///< u/s
  Controls controls;      ///< of the last tick: presses and releases are seen against them
  GroundCheck ground;
  std::int8_t facing = 1;        ///< -1 left, 1 right: the side last held
  std::int8_t wall = 0;          ///< the side on which a wall is touched: -1, 0, 1
  bool rising = false;           ///< moved along up at the end of the last tick
  bool cut_armed = false;        ///< a jump is rising and has not been cut
  bool cut_heavy = false;        ///< a `weight` cut is in force until the apex
  bool hang_armed = false;       ///< airborne by a jump: the hang band applies
  std::int64_t launch_tick = 0;  ///< of the last jump
  std::int64_t coyote_left = 0;  ///< decisions that may still take a ground jump without ground
  std::int64_t buffer_left = 0;  ///< decisions for which a press is still remembered

  [[nodiscard]] bool grounded() const noexcept { return ground.reason == Footing::footing; }
  [[nodiscard]] Stance stance() const noexcept;
};

static_assert(std::is_trivially_copyable_v<Character>);

/// Field by field; positions and velocities must be the same numbers.
[[nodiscard]] bool operator==(const GroundCheck& a, const GroundCheck& b) noexcept;
[[nodiscard]] bool operator==(const Character& a, const Character& b) noexcept;
[[nodiscard]] inline bool operator!=(const Character& a, const Character& b) noexcept {
  return !(a == b);
}

}  // namespace bushbaby
