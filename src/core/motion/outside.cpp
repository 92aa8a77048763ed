#include "bushbaby/core/motion/outside.h"

#include <cassert>
#include <cmath>

#include "core/shape/frame.h"
#include "ends.h"

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

namespace {

// Whether a push's x is to the right (1) or to the left (-1), as the body stands.
double ahead_of(const Character& character, PushFrame frame, Vec source) noexcept {
  const double facing = character.facing;
  switch (frame) {
    case PushFrame::world: break;
    case PushFrame::facing: return facing;
    case PushFrame::source: {
      const double away = Frame::of(character.up, source).into(subtract(character.feet, source)).x;
      if (away == 0) return -facing;
      return away > 0 ? 1 : -1;
    }
  }
  return 1;
}

// The longest that any row of the wall exits takes the steering away. Which row a lock came from is
// not known: these bound it.
struct SteerTimes {
  Ticks lock = 0;  // ticks
  Ticks fade = 0;
};

SteerTimes longest_steering(const Rules& rules) noexcept {
  SteerTimes longest;
  for (int i = 0; i < rules.exit_count; ++i) {
    const WallExitRules& row = rules.exits[static_cast<std::size_t>(i)];
    if (row.steer_lock > longest.lock) longest.lock = row.steer_lock;
    if (row.steer_fade > longest.fade) longest.fade = row.steer_fade;
  }
  return longest;
}

// The longest that a jump of that kind is sustained.
Ticks longest_sustain(JumpKind kind, const Rules& rules) noexcept {
  switch (kind) {
    case JumpKind::ground: return rules.sustain_ticks;
    case JumpKind::air: return rules.air_sustain;
    case JumpKind::charged:
    case JumpKind::stroke:
    case JumpKind::exit_jump: return 0;
    case JumpKind::wall: break;
  }
  Ticks longest = 0;
  for (int i = 0; i < rules.exit_count; ++i) {
    const WallExitRules& row = rules.exits[static_cast<std::size_t>(i)];
    if (row.sustain > longest) longest = row.sustain;
  }
  return longest;
}

}  // namespace

void push(Character& character, const Push& push, Vec source, const Rules& rules) noexcept {
  assert(std::isfinite(push.velocity.x) && std::isfinite(push.velocity.y));
  assert(std::isfinite(source.x) && std::isfinite(source.y));
  const double ahead = ahead_of(character, push.frame, source) * rules.push_share;
  const Vec given = Frame::of(character.up, source)
                        .out_of({push.velocity.x * ahead, push.velocity.y * rules.push_share});
  character.velocity = push.adds ? add(character.velocity, given) : given;
  character.pushed = true;
  character.dash_broken = character.dash_broken || character.dash_left > 0;
  character.charge_broken = character.charge_broken || character.charge_held > 0;
  if (character.dash_left > 0) character.dash_cooldown_left = rules.dash_cooldown;
  character.dash_left = 0;
  character.charge_held = 0;
  end(character, kPushEnds);
  Ticks lock = rules.push_lock;
  if (push.lock >= 0) lock = whole_ticks(push.lock * rules.tick_rate);
  if (push.lock > 0 && lock == 0) lock = 1;
  if (lock > 0) set_status(character, StatusKind::no_control, {lock});
}

void set_status(Character& character, StatusKind kind, const Status& status) noexcept {
  assert(status.left >= 0);
  character.status[static_cast<std::size_t>(kind)] = status;
}

namespace {

// Takes times over from one tick rate to another.
struct Converter {
  double ratio;

  // A time that is still open is open for a tick at least.
  [[nodiscard]] Ticks of(Ticks left) const noexcept {
    if (ratio == 1 || left <= 0) return left;
    const Ticks whole = whole_ticks(static_cast<double>(left) * ratio);
    return whole > 0 ? whole : 1;
  }

  // Of a time that may last so long, what is left: no more than is left now, nor than the new rules
  // leave of it.
  void keep(Ticks& left, Ticks lasted, Ticks lasts) const noexcept {
    if (left == 0 || (ratio == 1 && lasted == lasts)) return;
    const Ticks passed = left > 0 && left < lasted ? lasted - left : 0;
    const Ticks used = ratio == 1 ? passed : whole_ticks(static_cast<double>(passed) * ratio);
    const Ticks ticks = of(left);
    const Ticks most = lasts > used ? lasts - used : 0;
    left = ticks < most ? ticks : most;
  }
};

Ticks at_most(Ticks ticks, Ticks most) noexcept { return ticks < most ? ticks : most; }

void adopt_windows(Character& c, const Rules& before, const Rules& after,
                   const Converter& ticks) noexcept {
  ticks.keep(c.coyote_left, before.coyote_ticks, after.coyote_ticks);
  ticks.keep(c.buffer_left, before.buffer_ticks, after.buffer_ticks);
  if (c.sustain_left > 0) {
    ticks.keep(c.sustain_left, longest_sustain(c.jump_kind, before),
               longest_sustain(c.jump_kind, after));
  }
  ticks.keep(c.cling_left, before.cling_ticks, after.cling_ticks);
  ticks.keep(c.wall_coyote_left, before.wall_coyote_ticks, after.wall_coyote_ticks);
  ticks.keep(c.wall_buffer_left, before.wall_buffer_ticks, after.wall_buffer_ticks);
  ticks.keep(c.dash_cooldown_left, before.dash_cooldown, after.dash_cooldown);
  ticks.keep(c.stroke_left, before.fluid.stroke_every, after.fluid.stroke_every);
  // A press that waits for the tick after a jump waits without a buffer too.
  ticks.keep(c.dash_buffer_left, before.dash_buffer, after.dash_buffer > 0 ? after.dash_buffer : 1);
}

void adopt_steering(Character& c, const Rules& after, const Converter& ticks) noexcept {
  if (c.steer_lock_left > 0 || c.steer_fade_left > 0) {
    const SteerTimes longest = longest_steering(after);
    c.steer_lock_left = at_most(ticks.of(c.steer_lock_left), longest.lock);
    c.steer_fade_left = at_most(ticks.of(c.steer_fade_left), longest.fade);
  }
  c.steer_fade_ticks = ticks.of(c.steer_fade_ticks);
  if (c.steer_fade_ticks < c.steer_fade_left) c.steer_fade_ticks = c.steer_fade_left;
}

// Moments of the past stay as long ago as they were.
void adopt_past(Character& c, double ratio) noexcept {
  if (ratio == 1) return;
  for (std::int64_t* then : {&c.launch_tick, &c.ground_lost_tick, &c.wall_lost_tick}) {
    if (*then == kLongAgo) continue;
    *then = c.tick - whole_ticks(static_cast<double>(c.tick - *then) * ratio);
  }
}

}  // namespace

void adopt(Character& character, const Rules& before, const Rules& after) noexcept {
  Character& c = character;
  const Converter ticks{after.tick_rate / before.tick_rate};
  adopt_windows(c, before, after, ticks);
  // A dash goes on for a tick at least, which reports its end; a gauge that is not kept is lost.
  c.dash_left = at_most(ticks.of(c.dash_left), after.dash_ticks);
  const bool charged = c.charge_held > 0;
  c.charge_held = at_most(ticks.of(c.charge_held), after.charge_ticks);
  if (charged && c.charge_held == 0) c.charge_broken = true;
  adopt_steering(c, after, ticks);
  c.climb_used = at_most(ticks.of(c.climb_used), after.climb_ticks);
  if (c.air_jumps_used > after.air_jumps) c.air_jumps_used = after.air_jumps;
  if (c.dashes_used > after.dash_charges) c.dashes_used = after.dash_charges;
  if (after.cut_style == CutStyle::none) c.cut_armed = c.cut_heavy = false;
  for (Status& status : c.status) {
    if (status.left != kForEver) status.left = ticks.of(status.left);
  }
  adopt_past(c, ticks.ratio);
}

}  // namespace bushbaby
