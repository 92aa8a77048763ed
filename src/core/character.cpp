#include "bushbaby/core/character.h"

#include "bushbaby/core/events.h"

namespace bushbaby {

std::string_view name_of(Stance stance) noexcept {
  switch (stance) {
    case Stance::ground: return "ground";
    case Stance::rise: return "rise";
    case Stance::fall: break;
  }
  return "fall";
}

std::string_view name_of(Footing footing) noexcept {
  switch (footing) {
    case Footing::footing: return "footing";
    case Footing::grace: return "grace";
    case Footing::too_steep: return "too steep";
    case Footing::rising: return "rising";
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
    case EventKind::buffer_used: break;
  }
  return "buffer_used";
}

std::string_view detail_of(const Event& event) noexcept {
  switch (event.kind) {
    case EventKind::jumped: return "ground";
    case EventKind::left_ground:
      switch (static_cast<LeaveReason>(event.detail)) {
        case LeaveReason::jumped: return "jumped";
        case LeaveReason::walked_off: return "walked_off";
        case LeaveReason::lifted: return "lifted";
      }
      return {};
    case EventKind::wall_touched:
    case EventKind::wall_left: return event.detail == 0 ? "left" : "right";
    default: return {};
  }
}

Stance Character::stance() const noexcept {
  if (grounded()) return Stance::ground;
  return rising ? Stance::rise : Stance::fall;
}

bool operator==(const GroundCheck& a, const GroundCheck& b) noexcept {
  return a.reason == b.reason && a.surface == b.surface && a.normal == b.normal && a.gap == b.gap;
}

bool operator==(const Character& a, const Character& b) noexcept {
  return a.tick == b.tick && a.feet == b.feet && a.velocity == b.velocity &&
         a.controls == b.controls && a.ground == b.ground && a.facing == b.facing &&
         a.wall == b.wall && a.rising == b.rising && a.cut_armed == b.cut_armed &&
         a.cut_heavy == b.cut_heavy && a.hang_armed == b.hang_armed &&
         a.launch_tick == b.launch_tick && a.coyote_left == b.coyote_left &&
         a.buffer_left == b.buffer_left;
}

}  // namespace bushbaby
