#include "bushbaby/core/motion/character.h"

#include "decisions.h"
#include "fields.h"

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
  return detail::fields_of(a) == detail::fields_of(b);
}

}  // namespace bushbaby
