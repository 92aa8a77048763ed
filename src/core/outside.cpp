#include "bushbaby/core/outside.h"

#include <cassert>
#include <cmath>

#include "arithmetic.h"

namespace bushbaby {
namespace {

// The direction of a push's x in the world.
double ahead_of(const Character& character, PushFrame frame, Vec source) noexcept {
  const double facing = character.facing;
  switch (frame) {
    case PushFrame::world: break;
    case PushFrame::facing: return facing;
    case PushFrame::source:
      if (character.feet.x > source.x) return 1;
      return character.feet.x < source.x ? -1 : -facing;
  }
  return 1;
}

}  // namespace

void push(Character& character, const Push& push, Vec source, const Rules& rules) noexcept {
  assert(std::isfinite(push.velocity.x) && std::isfinite(push.velocity.y));
  assert(std::isfinite(source.x) && std::isfinite(source.y));
  const double ahead = ahead_of(character, push.frame, source) * rules.push_share;
  const Vec given{push.velocity.x * ahead, push.velocity.y * rules.push_share};
  character.velocity = push.adds ? add(character.velocity, given) : given;
  character.pushed = true;
  character.dash_broken = character.dash_broken || character.dash_left > 0;
  character.charge_broken = character.charge_broken || character.charge_held > 0;
  if (character.dash_left > 0) character.dash_cooldown_left = rules.dash_cooldown;
  character.dash_left = 0;
  character.charge_held = 0;
  character.cut_armed = character.cut_heavy = character.hang_armed = false;
  character.sustain_left = 0;
  character.fast_falling = character.glide_armed = false;
  character.coyote_left = character.wall_coyote_left = 0;
  character.steer_lock_left = character.steer_fade_left = 0;
  std::int64_t lock = rules.push_lock;
  if (push.lock >= 0) lock = whole_ticks(push.lock * rules.tick_rate);
  if (push.lock > 0 && lock == 0) lock = 1;
  if (lock > 0) set_status(character, StatusKind::no_control, {lock});
}

void set_status(Character& character, StatusKind kind, const Status& status) noexcept {
  assert(status.left >= 0);
  character.status[static_cast<std::size_t>(kind)] = status;
}

}  // namespace bushbaby
