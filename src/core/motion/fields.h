// The fields of a character, in order: what compares, saves and sums characters goes through them.
#pragma once

#include <tuple>

#include "bushbaby/core/motion/character.h"

namespace bushbaby::detail {

// References to all of them; of a character that is const, to const ones.
template <class C>
constexpr auto fields_of(C& c) noexcept {
  return std::tie(
      c.tick, c.feet, c.velocity, c.up, c.controls, c.held_horizontal, c.held_vertical, c.ground,
      c.facing, c.rising, c.gliding, c.on_wall, c.climbing, c.clinging, c.sprinting, c.cut_armed,
      c.cut_heavy, c.hang_armed, c.fast_falling, c.glide_armed, c.jump_kind, c.launch_tick,
      c.coyote_left, c.buffer_left, c.sustain_left, c.charge_held, c.air_jumps_used,
      c.ground_lost_tick, c.ground_lost_by, c.wall, c.wall_surface, c.wall_lost, c.wall_released,
      c.wall_spent, c.cling_side, c.cling_left, c.climb_used, c.wall_coyote_left,
      c.wall_buffer_left, c.wall_lost_tick, c.steer_lock_left, c.steer_fade_left,
      c.steer_fade_ticks, c.dash_left, c.dash_way, c.dashes_used, c.dash_cooldown_left,
      c.dash_buffer_left, c.drop_left, c.drop_from, c.drop_surface, c.platform_rise, c.wall_gave,
      c.crushed, c.zones, c.rules, c.turned_by, c.held_turn, c.swims, c.head_out, c.stroke_left,
      c.status, c.status_seen, c.modes_seen, c.pushed, c.dash_broken, c.charge_broken, c.touching);
}

}  // namespace bushbaby::detail
