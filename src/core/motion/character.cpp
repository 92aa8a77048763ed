#include "bushbaby/core/motion/character.h"

#include "decisions.h"
#include "fields.h"

namespace bushbaby {

std::string_view name_of(Stance stance) noexcept {
  switch (stance) {
    case Stance::standing: return "standing";
    case Stance::rising: return "rising";
    case Stance::wall_sliding: return "wall_sliding";
    case Stance::clinging: return "clinging";
    case Stance::climbing: return "climbing";
    case Stance::gliding: return "gliding";
    case Stance::dashing: return "dashing";
    case Stance::swimming: return "swimming";
    case Stance::falling: break;
  }
  return "falling";
}

std::string_view name_of(GroundReason reason) noexcept {
  switch (reason) {
    case GroundReason::ground: return "ground";
    case GroundReason::grace: return "grace";
    case GroundReason::too_steep: return "too steep";
    case GroundReason::rising: return "rising";
    case GroundReason::refused: return "refused";
    case GroundReason::none: break;
  }
  return "none";
}

Stance detail::stance_of(const Character& c, bool dashes, bool stands) noexcept {
  if (dashes) return Stance::dashing;
  if (stands) return Stance::standing;
  if (c.swims) return Stance::swimming;
  if (c.climbing) return Stance::climbing;
  if (c.clinging) return Stance::clinging;
  if (c.on_wall) return Stance::wall_sliding;
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
  return detail::fields_of(a) == detail::fields_of(b);
}

}  // namespace bushbaby
