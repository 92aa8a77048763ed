#include "bushbaby/core/character.h"

#include <array>
#include <tuple>

#include "bushbaby/core/events.h"

namespace bushbaby {

std::string_view name_of(Stance stance) noexcept {
  switch (stance) {
    case Stance::standing: return "standing";
    case Stance::rising: return "rising";
    case Stance::at_wall: return "at_wall";
    case Stance::gliding: return "gliding";
    case Stance::dashing: return "dashing";
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

std::string_view name_of(EventKind kind) noexcept {
  switch (kind) {
    case EventKind::jumped: return "jumped";
    case EventKind::cut: return "cut";
    case EventKind::apex: return "apex";
    case EventKind::landed: return "landed";
    case EventKind::left_ground: return "left_ground";
    case EventKind::wall_touched: return "wall_touched";
    case EventKind::wall_left: return "wall_left";
    case EventKind::bumped_head: return "bumped_head";
    case EventKind::coyote_used: return "coyote_used";
    case EventKind::buffer_used: return "buffer_used";
    case EventKind::bounced: return "bounced";
    case EventKind::pushed: return "pushed";
    case EventKind::dash_started: return "dash_started";
    case EventKind::dash_ended: return "dash_ended";
    case EventKind::locked: return "locked";
    case EventKind::unlocked: return "unlocked";
    case EventKind::fast_fell: return "fast_fell";
    case EventKind::charge_started: return "charge_started";
    case EventKind::charge_lost: return "charge_lost";
    case EventKind::let_go: return "let_go";
    case EventKind::hold_started: return "hold_started";
    case EventKind::hold_ended: return "hold_ended";
    case EventKind::glide_started: return "glide_started";
    case EventKind::glide_ended: return "glide_ended";
    case EventKind::fast_fall_ended: return "fast_fall_ended";
    case EventKind::climb_started: return "climb_started";
    case EventKind::climb_ended: return "climb_ended";
    case EventKind::climbed_over: return "climbed_over";
    case EventKind::pace_started: return "pace_started";
    case EventKind::pace_ended: break;
  }
  return "pace_ended";
}

std::string_view name_of(LeaveReason reason) noexcept {
  switch (reason) {
    case LeaveReason::jumped: return "jumped";
    case LeaveReason::walked_off: return "walked_off";
    case LeaveReason::lifted: return "lifted";
    case LeaveReason::pushed: return "pushed";
    case LeaveReason::dashed: return "dashed";
    case LeaveReason::climbed: break;
  }
  return "climbed";
}

std::string_view name_of(StatusKind kind) noexcept {
  switch (kind) {
    case StatusKind::no_control: return "no_control";
    case StatusKind::stun: return "stun";
    case StatusKind::no_jump: return "no_jump";
    case StatusKind::slow: return "slow";
    case StatusKind::no_cling: return "no_cling";
    case StatusKind::slow_fall: break;
  }
  return "slow_fall";
}

std::string_view detail_of(const Event& event) noexcept {
  static constexpr std::array<std::string_view, kEventDetails> kJumps{"ground", "air", "wall",
                                                                      "charged"};
  static constexpr std::array<std::string_view, kEventDetails> kDashEnds{"done", "blocked",
                                                                         "jumped", "pushed"};
  if (event.detail >= kEventDetails) return {};
  switch (event.kind) {
    case EventKind::jumped: return kJumps[event.detail];
    case EventKind::left_ground: return name_of(static_cast<LeaveReason>(event.detail));
    case EventKind::dash_ended: return kDashEnds[event.detail];
    case EventKind::locked:
    case EventKind::unlocked: return name_of(static_cast<StatusKind>(event.detail));
    case EventKind::wall_touched:
    case EventKind::wall_left:
    case EventKind::let_go:
    case EventKind::hold_started:
    case EventKind::hold_ended:
    case EventKind::climb_started:
    case EventKind::climb_ended:
    case EventKind::climbed_over: return event.detail == 0 ? "left" : "right";
    default: return {};
  }
}

Stance Character::stance() const noexcept {
  if (dash_left > 0) return Stance::dashing;
  if (grounded()) return Stance::standing;
  if (at_wall) return Stance::at_wall;
  if (rising) return Stance::rising;
  return gliding ? Stance::gliding : Stance::falling;
}

bool operator==(const GroundCheck& a, const GroundCheck& b) noexcept {
  return a.reason == b.reason && a.surface == b.surface && a.normal == b.normal && a.gap == b.gap;
}

bool operator==(const Status& a, const Status& b) noexcept {
  return a.left == b.left && a.reason == b.reason && a.share == b.share && a.surface == b.surface;
}

bool operator==(const Character& a, const Character& b) noexcept {
  const auto fields = [](const Character& c) {
    return std::tie(
        c.tick, c.feet, c.velocity, c.controls, c.across_held, c.along_held, c.ground, c.facing,
        c.rising, c.gliding, c.at_wall, c.climbing, c.second_pace, c.cut_armed, c.cut_heavy,
        c.hang_armed, c.fast_falling, c.glide_armed, c.jump_kind, c.launch_tick, c.coyote_left,
        c.buffer_left, c.sustain_left, c.charge_held, c.air_jumps_used, c.ground_lost_tick,
        c.ground_lost_by, c.wall, c.wall_surface, c.wall_lost, c.wall_let_go, c.wall_spent,
        c.cling_side, c.cling_left, c.climb_used, c.wall_coyote_left, c.wall_buffer_left,
        c.wall_lost_tick, c.steer_lock_left, c.steer_fade_left, c.steer_fade_ticks, c.dash_left,
        c.dash_way, c.dashes_used, c.dash_cooldown_left, c.dash_buffer_left, c.status,
        c.status_seen, c.modes_seen, c.pushed, c.dash_broken, c.charge_broken, c.touching);
  };
  return fields(a) == fields(b);
}

}  // namespace bushbaby
