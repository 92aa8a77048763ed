#include "bushbaby/core/motion/character.h"

#include <tuple>

#include "decisions.h"

namespace bushbaby {

std::string_view name_of(Stance stance) noexcept {
  switch (stance) {
    case Stance::standing: return "standing";
    case Stance::rising: return "rising";
    case Stance::at_wall: return "at_wall";
    case Stance::gliding: return "gliding";
    case Stance::dashing: return "dashing";
    case Stance::swimming: return "swimming";
    case Stance::falling: break;
  }
  return "falling";
}

std::string_view name_of(Footing footing) noexcept {
  switch (footing) {
    case Footing::footing: return "footing";
    case Footing::grace: return "grace";
    case Footing::too_steep: return "too steep";
    case Footing::rising: return "rising";
    case Footing::refused: return "refused";
    case Footing::none: break;
  }
  return "none";
}

Stance detail::stance_of(const Character& c, bool dashes, bool stands) noexcept {
  if (dashes) return Stance::dashing;
  if (stands) return Stance::standing;
  if (c.swims) return Stance::swimming;
  if (c.at_wall) return Stance::at_wall;
  if (c.rising) return Stance::rising;
  return c.gliding ? Stance::gliding : Stance::falling;
}

Stance Character::stance() const noexcept {
  return detail::stance_of(*this, dash_left > 0, grounded());
}

bool operator==(const GroundCheck& a, const GroundCheck& b) noexcept {
  return a.reason == b.reason && a.surface == b.surface && a.normal == b.normal && a.gap == b.gap &&
         a.wedged == b.wedged;
}

bool operator==(const Status& a, const Status& b) noexcept {
  return a.left == b.left && a.reason == b.reason && a.share == b.share && a.surface == b.surface &&
         a.by_zone == b.by_zone;
}

bool operator==(const Character& a, const Character& b) noexcept {
  const auto fields = [](const Character& c) {
    return std::tie(c.tick, c.feet, c.velocity, c.up, c.controls, c.across_held, c.along_held,
                    c.ground, c.facing, c.rising, c.gliding, c.at_wall, c.climbing, c.second_pace,
                    c.cut_armed, c.cut_heavy, c.hang_armed, c.fast_falling, c.glide_armed,
                    c.jump_kind, c.launch_tick, c.coyote_left, c.buffer_left, c.sustain_left,
                    c.charge_held, c.air_jumps_used, c.ground_lost_tick, c.ground_lost_by, c.wall,
                    c.wall_surface, c.wall_lost, c.wall_let_go, c.wall_spent, c.cling_side,
                    c.cling_left, c.climb_used, c.wall_coyote_left, c.wall_buffer_left,
                    c.wall_lost_tick, c.steer_lock_left, c.steer_fade_left, c.steer_fade_ticks,
                    c.dash_left, c.dash_way, c.dashes_used, c.dash_cooldown_left,
                    c.dash_buffer_left, c.drop_left, c.drop_from, c.drop_surface, c.ferry_rise,
                    c.wall_gave, c.crushed, c.zones, c.rules, c.turned_by, c.held_turn, c.swims,
                    c.head_out, c.paddle_left, c.status, c.status_seen, c.modes_seen, c.pushed,
                    c.dash_broken, c.charge_broken, c.touching);
  };
  return fields(a) == fields(b);
}

}  // namespace bushbaby
