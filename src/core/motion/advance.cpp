#include "bushbaby/core/motion/advance.h"

#include <cassert>
#include <cmath>

#include "bushbaby/core/motion/outside.h"

#include "tick.h"

namespace bushbaby {
namespace {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

// ---- the start of a tick ------------------------------------------------------------------------

bool has_statuses(const Character& character) noexcept {
  Ticks any = character.status_seen;
  for (const Status& status : character.status) any |= status.left;
  return any != 0;
}

// Reports of statuses that came or went since the last tick.
BUSHBABY_APART void note_statuses(Tick& tick) noexcept {
  Character& character = tick.mover;
  for (std::size_t i = 0; i < kStatusKinds; ++i) {
    const auto bit = static_cast<std::uint8_t>(1U << i);
    const bool on = character.status[i].left > 0;
    const bool seen = (character.status_seen & bit) != 0;
    if (on == seen) continue;
    tick.note(on ? EventKind::locked : EventKind::unlocked, 0, static_cast<std::uint8_t>(i),
              on ? static_cast<double>(character.status[i].reason) : 0,
              on && !character.status[i].by_zone ? character.status[i].surface : kNoSurface);
    character.status_seen = static_cast<std::uint8_t>(character.status_seen ^ bit);
  }
}

BUSHBABY_RARE void note_push(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (character.dash_broken) {
    tick.note(EventKind::dash_ended, 0, static_cast<std::uint8_t>(DashEnd::pushed));
  }
  if (character.charge_broken) tick.note(EventKind::charge_lost, 0);
  if (character.pushed) tick.note(EventKind::pushed, 0, 0, length(character.velocity));
  character.dash_broken = character.charge_broken = false;
}

// The side that it faces: the one held, before anything is decided; or the one it moves to, once it
// has moved.
void face(Tick& tick, FacingRule rule, double towards) noexcept {
  Character& character = tick.mover;
  if (tick.rules.facing != rule || towards == 0) return;
  if (character.dash_left > 0 || character.steer_lock_left > 0) return;
  character.facing = towards > 0 ? 1 : -1;
}

// Whether it sprints from now on. Under a lock, whose buttons do not count, it stays.
void take_sprint(Tick& tick) noexcept {
  Character& character = tick.mover;
  const SprintRules& sprint = tick.rules.sprint;
  const bool stays = tick.locked || (sprint.kept_in_air && !tick.supported);
  if (!stays) character.sprinting = tick.held.sprint == sprint.when_held;
  if (!sprint.exists) character.sprinting = false;
}

// ---- the end of a tick --------------------------------------------------------------------------

bool has_modes(const Character& c) noexcept {
  const int any = int{c.on_wall} | int{c.gliding} | int{c.fast_falling} | int{c.climbing} |
                  int{c.sprinting} | int{c.modes_seen};
  return any != 0;
}

// Reports of modes that the body has come into, or out of, by the end of the tick, whatever ended
// them: once each.
BUSHBABY_APART void note_modes(Tick& tick) noexcept {
  Character& character = tick.mover;
  const auto bits = [](std::uint8_t bit, bool on) { return on ? bit : std::uint8_t{0}; };
  const auto now = static_cast<std::uint8_t>(
      bits(kGrabSeen, character.on_wall) | bits(kGlideSeen, character.gliding) |
      bits(kFastFallSeen, character.fast_falling) | bits(kClimbSeen, character.climbing) |
      bits(kSprintSeen, character.sprinting));
  const auto changed = static_cast<std::uint8_t>(now ^ character.modes_seen);
  if (changed == 0) return;
  character.modes_seen = now;
  const std::uint8_t side = side_detail(character.wall != 0 ? character.wall : character.wall_lost);
  const auto report = [&](std::uint8_t bit, EventKind started, EventKind ended,
                          std::uint8_t detail) {
    if ((changed & bit) != 0) tick.note((now & bit) != 0 ? started : ended, 1, detail);
  };
  report(kGrabSeen, EventKind::wall_grabbed, EventKind::wall_grab_ended, side);
  report(kClimbSeen, EventKind::climb_started, EventKind::climb_ended, side);
  report(kGlideSeen, EventKind::glide_started, EventKind::glide_ended, 0);
  // The press has reported its start.
  report(kFastFallSeen, EventKind::fast_fell, EventKind::fast_fall_ended, 0);
  report(kSprintSeen, EventKind::sprint_started, EventKind::sprint_ended, 0);
}

void count_down(Ticks& ticks) noexcept {
  if (ticks > 0) --ticks;
}

BUSHBABY_APART void finish_dash(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (character.dash_left == 0) return;  // it ended on the way
  if (tick.run == 0 && tick.rise == 0) {
    end_dash(tick, DashEnd::blocked, 1);
    if (character.grounded()) character.dashes_used = 0;  // it stands, and dashes no more
  } else if (character.dash_left == 1) {
    tick.run = tick.run * tick.rules.dash_keep;
    tick.rise = tick.rise * tick.rules.dash_keep;
    end_dash(tick, DashEnd::done, 1);
  } else {
    --character.dash_left;
  }
}

BUSHBABY_APART void count_timers(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (character.status_seen != 0) {
    for (Status& status : character.status) {
      if (status.left != kForEver) count_down(status.left);
    }
  }
  if (character.steer_lock_left > 0) {
    --character.steer_lock_left;
  } else {
    count_down(character.steer_fade_left);
  }
  if (tick.clung) count_down(character.cling_left);
  if (tick.climbed && !character.grounded()) ++character.climb_used;
  count_down(character.sustain_left);
  count_down(character.stroke_left);
  count_down(character.drop_left);
}

// Most ticks have none to count.
void finish_timers(Tick& tick) noexcept {
  const Character& c = tick.mover;
  const int any = c.status_seen | c.steer_lock_left | c.steer_fade_left | c.sustain_left |
                  c.stroke_left | c.drop_left | int{tick.clung} | int{tick.climbed};
  if (any != 0) count_timers(tick);
}

// The touch of a surface works once, until the body has been away from it.
BUSHBABY_RARE void take_touch(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (tick.touched == kNoSurface) {
    const bool still_there = character.touching == character.ground.surface ||
                             (character.wall != 0 && character.touching == character.wall_surface);
    if (!still_there) character.touching = kNoSurface;
    return;
  }
  if (character.touching == tick.touched) return;
  character.touching = tick.touched;
  be_touched(character, tick.world.surface(tick.touched).touch,
             subtract(character.feet, tick.touched_normal), {tick.touched, false}, tick.rules);
}

// Whether it swims, and what the fluid restores.
BUSHBABY_RARE void end_in_fluid(Tick& tick) noexcept {
  Character& character = tick.mover;
  note_swimming(character, tick.swims || !is_exit_jumping(character, tick.rise));
  if (character.swims && tick.rules.fluid.restores) {
    character.air_jumps_used = character.dashes_used = 0;
  }
}

void finish(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (tick.dashes) {
    finish_dash(tick);
  } else {
    count_down(character.dash_cooldown_left);
  }
  // What a tick ends with is seen where it ends; only the exact loop knows places in between.
  for (Event& event : tick.events) {
    if (event.fraction == 1) event.place = character.feet;
  }
  if (tick.ride.squeezed || character.crushed) find_crushed(tick);
  if (tick.rise <= 0) {
    character.cut_armed = false;
    character.sustain_left = 0;
  }
  if (!tick.held.jump) character.glide_armed = false;
  const bool in_air = !character.grounded();
  character.on_wall = in_air && (tick.rise <= 0 || tick.climbed) && held_on_wall(tick);
  character.climbing = tick.climbed && character.on_wall;
  character.clinging = tick.clung && character.on_wall;
  end_ride(tick);
  character.gliding = !character.grounded() && tick.rise < 0 && glides(tick);
  character.swims = false;
  if (rarely(tick.rules.fluid.exists && in_air)) end_in_fluid(tick);
  if (has_modes(character)) note_modes(tick);
  face(tick, FacingRule::speed, tick.run);
  finish_timers(tick);
  character.velocity = in_world(tick, tick.run, tick.rise);
  character.rising = tick.rise > 0;
  character.held_horizontal = tick.held_horizontal;
  character.held_vertical = tick.held_vertical;
  character.controls = tick.held;
  if (tick.touched != kNoSurface || character.touching != kNoSurface) take_touch(tick);
  ++character.tick;
}

[[maybe_unused]] bool is_finite(Vec v) noexcept { return std::isfinite(v.x) && std::isfinite(v.y); }

}  // namespace

void detail::be_touched(Character& character, const Touch& touch, Vec source, const Toucher& by,
                        const Rules& rules) noexcept {
  const auto status = [&](double seconds, double share = 1) -> Status {
    const Ticks whole = whole_ticks(seconds * rules.tick_rate);
    return {seconds > 0 && whole == 0 ? 1 : whole, 0, share, by.surface, by.zone};
  };
  if (touch.stun > 0) set_status(character, StatusKind::stun, status(touch.stun));
  if (touch.no_jump > 0) set_status(character, StatusKind::no_jump, status(touch.no_jump));
  if (touch.slow > 0) set_status(character, StatusKind::slow, status(touch.slow, touch.slow_share));
  if (touch.no_cling > 0) set_status(character, StatusKind::no_cling, status(touch.no_cling));
  if (touch.slow_fall > 0) {
    set_status(character, StatusKind::slow_fall, status(touch.slow_fall, touch.slow_fall_share));
  }
  if (!touch.pushes) return;
  push(character, touch.push, source, rules);
  const bool locks = touch.push.lock > 0 || (touch.push.lock < 0 && rules.push_lock > 0);
  if (!locks) return;
  Status& lock = character.status[static_cast<std::size_t>(StatusKind::no_control)];
  lock.surface = by.surface;
  lock.by_zone = by.zone;
}

void detail::begin(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (character.pushed || character.dash_broken || character.charge_broken) note_push(tick);
  if (has_statuses(character)) note_statuses(tick);
  if (character.grounded() && !tick.supported) {
    leave_ground(tick, character.pushed ? LeaveReason::pushed : LeaveReason::lifted);
  }
  character.pushed = false;
  if (tick.in_grace) --character.coyote_left;
  take_hold_anew(tick, character);
  if (tick.rules.sprint.exists || character.sprinting) take_sprint(tick);
  face(tick, FacingRule::held, static_cast<double>(tick.steer.x));
}

void detail::see_in(const Frame& frame, Character& character) noexcept {
  character.feet = frame.place_into(character.feet);
  character.velocity = frame.tidy_into(character.velocity);
  character.ground.normal = frame.direction_into(character.ground.normal);
  character.drop_from = frame.place_into(character.drop_from);
  character.up = {0, 1};
}

void detail::see_out_of(const Frame& frame, Character& character) noexcept {
  character.feet = frame.place_out_of(character.feet);
  character.velocity = frame.out_of(character.velocity);
  character.ground.normal = frame.out_of(character.ground.normal);
  character.drop_from = frame.place_out_of(character.drop_from);
  character.up = frame.up;
}

namespace {

Events advance_in(const Frame& frame, Character& character, const Controls& controls,
                  const Rules& rules, const World& world, Explanation* book) noexcept {
  Events events;
  Tick tick(character, controls, rules, world, frame, events);
  tick.book = book;
  begin_ride(tick);
  begin(tick);
  decide(tick);
  move(tick);
  check_ground(tick);
  check_wall(tick);
  finish(tick);
  if (rarely(book != nullptr)) book->looks = tick.nearby.looks();
  return events;
}

// Lifts a body clear of what it touches, and makes it stand if it can.
bool place_in(const Frame& frame, Character& character, const Rules& rules,
              const World& world) noexcept {
  const Vec feet = character.feet;
  const Margins margins = margins_of(rules);
  const Controls nothing;
  const Moment moment(character, nothing, rules, world, frame);
  Nearby nearby(world, character.tick, frame, moment.asker(), rate_of_travel(world, rules));
  constexpr int kMostSurfaces = 4;  // a floor, a ceiling and two walls
  for (int i = 0; i < kMostSurfaces; ++i) {
    const NearestLie near =
        nearest_lie(character.feet, rules.body, margins.rest, margins.rest, nearby);
    if (near.surface == kNoSurface || !(near.gap < 0)) break;
    if (near.gap < -(margins.rest + rules.flush_gap)) {
      character.feet = feet;
      return false;
    }
    character.feet = add(character.feet, scale(near.normal, -near.gap));
  }
  // Between two surfaces with no room for both distances it is pushed back and forth.
  if (nearest_lie(character.feet, rules.body, 0, margins.rest, nearby).gap < 0) {
    character.feet = feet;
    return false;
  }
  look_underfoot(character.feet, rules, nearby, character.ground);
  if (character.grounded()) settle(character, character.ground, rules, nearby);
  return true;
}

}  // namespace

Events advance(Character& character, const Controls& controls, const Rules& rules,
               const World& world, Explanation* book) noexcept {
  assert(is_finite(character.feet) && is_finite(character.velocity));
  if (is_upright(character.up)) {
    return advance_in(kUpright, character, controls, rules, world, book);
  }
  const Frame frame = Frame::of(character.up, character.feet);
  see_in(frame, character);
  Events events = advance_in(frame, character, controls, rules, world, book);
  see_out_of(frame, character);
  for (Event& event : events) event.place = frame.place_out_of(event.place);
  return events;
}

bool place(Character& character, Vec feet, const Rules& rules, const World& world) noexcept {
  assert(is_finite(feet));
  Character fresh;
  fresh.tick = character.tick;
  fresh.facing = character.facing;
  fresh.up = character.up;
  fresh.feet = feet;
  character = fresh;
  const Frame frame = Frame::of(character.up, feet);
  if (!frame.turned) return place_in(frame, character, rules, world);
  see_in(frame, character);
  const bool fits = place_in(frame, character, rules, world);
  see_out_of(frame, character);
  return fits;
}

}  // namespace bushbaby
