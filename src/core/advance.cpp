#include "bushbaby/core/advance.h"

#include <array>
#include <cassert>
#include <cmath>

#include "bushbaby/core/outside.h"

#include "arithmetic.h"
#include "decisions.h"
#include "stretch.h"
#include "travel.h"

namespace bushbaby {
namespace {

using detail::Drive;
using detail::GravityPhase;
using detail::kUp;
using detail::Margins;
using detail::Meeting;
using detail::Path;
using detail::Probe;
using detail::Stretch;

constexpr Vec kAcross{1, 0};

// A body wedged between surfaces gives up the rest of its tick after this many contacts.
constexpr std::size_t kMostContacts = 4;
// Changes of phase within one tick: a turn, top speed, the apex and terminal speed, with room for
// the contacts between them.
constexpr int kMostStretches = 24;
// Steeper than this, downward, a surface is a ceiling; above it and short of footing, a wall.
constexpr double kCeilingSlope = -0.5;

// The working values of one tick; what outlives it is written back to the character.
struct Tick : detail::Moment {
  Tick(Character& c, const Controls& controls, const Rules& r, const World& w,
       Events& happened) noexcept
      : Moment(c, controls, r, w), character(c), events(happened) {}

  Character& character;  // the one that is looked at, to be written to
  Events& events;
  Drive drive;
  GravityPhase phase;
  bool dashes = false;
  bool clung = false;

  // The surfaces met in this tick; motion into them is over for its remainder.
  std::array<Vec, kMostContacts> normals{};
  std::size_t contacts = 0;
  bool met_underfoot = false;
  bool met_refused = false;  // a surface underfoot that may not be stood on
  bool bounced = false;
  int wall = 0;  // the side of a wall that was met: -1, 0, 1
  SurfaceId wall_surface = kNoSurface;
  SurfaceId touched = kNoSurface;  // a surface with a touch of its own
  Vec touched_normal{0, 0};

  void note(EventKind kind, double fraction, std::uint8_t detail = 0, double value = 0,
            SurfaceId surface = kNoSurface) noexcept {
    events.add({kind, detail, surface, character.tick, fraction, character.feet, value});
  }
};

Vec in_world(double run, double rise) noexcept {
  return add(scale(kAcross, run), scale(kUp, rise));
}

double length(Vec v) noexcept { return std::sqrt(dot(v, v)); }

std::uint8_t side_detail(int side) noexcept { return side > 0 ? 1 : 0; }

void note_apex(Tick& tick, double fraction) noexcept { tick.note(EventKind::apex, fraction); }

// ---- the start of a tick ------------------------------------------------------------------------

// Tells of statuses that came or went since the last tick.
void note_statuses(Tick& tick) noexcept {
  Character& character = tick.character;
  std::int64_t any = character.status_seen;
  for (const Status& status : character.status) any |= status.left;
  if (any == 0) return;
  for (std::size_t i = 0; i < kStatusKinds; ++i) {
    const auto bit = static_cast<std::uint8_t>(1U << i);
    const bool on = character.status[i].left > 0;
    const bool seen = (character.status_seen & bit) != 0;
    if (on == seen) continue;
    tick.note(on ? EventKind::locked : EventKind::unlocked, 0, static_cast<std::uint8_t>(i),
              on ? static_cast<double>(character.status[i].reason) : 0);
    character.status_seen = static_cast<std::uint8_t>(character.status_seen ^ bit);
  }
}

void note_push(Tick& tick) noexcept {
  Character& character = tick.character;
  if (character.dash_broken) {
    tick.note(EventKind::dash_ended, 0, static_cast<std::uint8_t>(DashEnd::pushed));
  }
  if (character.charge_broken) tick.note(EventKind::charge_lost, 0);
  if (character.pushed) tick.note(EventKind::pushed, 0, 0, length(character.velocity));
  character.dash_broken = character.charge_broken = false;
}

// Notes that the body stands no more, and by what.
void leave_ground(Tick& tick, LeaveReason reason, double fraction) noexcept {
  Character& character = tick.character;
  tick.note(EventKind::left_ground, fraction, static_cast<std::uint8_t>(reason), 0,
            character.ground.surface);
  character.ground_lost_by = reason;
  character.ground_lost_tick = character.tick;
}

void decide_facing(Tick& tick) noexcept {
  Character& character = tick.character;
  if (character.dash_left > 0 || character.steer_lock_left > 0) return;
  double towards = static_cast<double>(tick.steer.x);
  if (tick.rules.facing == FacingRule::speed) towards = tick.run;
  if (towards != 0) character.facing = towards > 0 ? 1 : -1;
}

void begin(Tick& tick) noexcept {
  Character& character = tick.character;
  note_push(tick);
  note_statuses(tick);
  if (character.grounded() && !tick.supported) {
    leave_ground(tick, character.pushed ? LeaveReason::pushed : LeaveReason::lifted, 0);
  }
  character.pushed = false;
  if (tick.in_grace) --character.coyote_left;
  // Whoever pushes into a wall anew means it.
  const bool towards = tick.steer.x * character.wall >= detail::kHeldDirection;
  if (towards && tick.across_held == 1) character.wall_let_go = false;
  decide_facing(tick);
}

// ---- decisions ------------------------------------------------------------------------------

void lose_charge(Tick& tick) noexcept {
  if (tick.character.charge_held == 0) return;
  tick.character.charge_held = 0;
  tick.note(EventKind::charge_lost, 0);
}

void end_dash(Tick& tick, DashEnd how, double fraction) noexcept {
  Character& character = tick.character;
  if (character.dash_left == 0) return;
  character.dash_left = 0;
  character.dash_cooldown_left = tick.rules.dash_cooldown;
  tick.note(EventKind::dash_ended, fraction, static_cast<std::uint8_t>(how),
            length(in_world(tick.run, tick.rise)));
}

// What any jump does: it closes every window, and nothing of an earlier one goes on.
void take_off(Tick& tick, JumpKind kind, bool arms_cut) noexcept {
  Character& character = tick.character;
  tick.launched = true;
  tick.supported = false;
  tick.in_grace = false;
  character.launch_tick = character.tick;
  character.cut_armed = arms_cut && tick.rules.cut_style != CutStyle::none;
  character.cut_heavy = false;
  character.hang_armed = true;
  character.sustain_left = 0;
  character.charge_held = 0;
  character.fast_falling = false;
  character.glide_armed = false;
  character.coyote_left = character.buffer_left = 0;
  character.wall_coyote_left = character.wall_buffer_left = 0;
  tick.note(EventKind::jumped, 0, static_cast<std::uint8_t>(kind), tick.rise,
            kind == JumpKind::wall ? character.wall_surface : character.ground.surface);
}

// A jump from the ground, or from where it was a moment ago.
void jump_from_ground(Tick& tick, const Trial& trial, JumpKind kind, double launch_speed) noexcept {
  Character& character = tick.character;
  end_dash(tick, DashEnd::jumped, 0);
  if (trial.remembered) tick.note(EventKind::buffer_used, 0);
  if (tick.supported) {
    leave_ground(tick, LeaveReason::jumped, 0);
  } else {
    tick.note(EventKind::coyote_used, 0);
  }
  tick.rise = larger(launch_speed, tick.rise);
  // A charged jump is launched by letting go: that is no cut.
  take_off(tick, kind, kind != JumpKind::charged);
  if (kind == JumpKind::ground && tick.held.jump) {
    character.sustain_left = tick.rules.sustain_ticks;
  }
}

void jump_in_air(Tick& tick) noexcept {
  end_dash(tick, DashEnd::jumped, 0);
  tick.rise = larger(tick.rules.air_launch, tick.rise);
  // An unlimited number is never used up.
  if (tick.rules.air_jumps != kUnlimited) ++tick.character.air_jumps_used;
  take_off(tick, JumpKind::air, true);
}

void leave_wall(Tick& tick, const Trial& trial) noexcept {
  Character& character = tick.character;
  const WallExitRules& row = tick.rules.exits[static_cast<std::size_t>(trial.row)];
  const int side = detail::exit_side(tick);
  end_dash(tick, DashEnd::jumped, 0);
  if (trial.remembered) tick.note(EventKind::buffer_used, 0);
  if (row.jump && character.wall == 0) tick.note(EventKind::coyote_used, 0);
  if (row.away != 0) tick.run = -side * row.away;
  if (row.away > 0) character.facing = static_cast<std::int8_t>(-side);
  character.steer_lock_left = row.steer_lock;
  character.steer_fade_left = character.steer_fade_ticks = row.steer_fade;
  if (row.refill) character.air_jumps_used = character.dashes_used = 0;
  if (!row.same_wall) character.wall_spent = static_cast<std::int8_t>(side);
  character.wall_let_go = true;
  if (row.away > 0) character.cling_side = 0;  // whoever comes back may cling anew
  if (row.up > 0 || row.jump) {
    if (row.up > 0) tick.rise = larger(row.up, tick.rise);
    take_off(tick, JumpKind::wall, row.jump);
  } else {
    character.wall_coyote_left = 0;
    tick.note(EventKind::let_go, 0, side_detail(side));
  }
}

// The button is held to fill the gauge, or has been let go to launch.
void go_on_charging(Tick& tick) noexcept {
  Character& character = tick.character;
  const bool may_jump =
      !tick.locked && !character.has(StatusKind::no_jump) && tick.rules.may_jump &&
      (tick.in_grace || (tick.supported && tick.world.surface(character.ground.surface).jump));
  if (!may_jump) {
    lose_charge(tick);
  } else if (tick.held.jump) {
    if (character.charge_held <= tick.rules.charge_ticks) ++character.charge_held;
  } else {
    const double launch_speed = detail::charged_launch(character.charge_held, tick.rules);
    jump_from_ground(tick, {}, JumpKind::charged, launch_speed);
  }
}

// The first jump that is possible, by a press or by one remembered; or the press is remembered.
void decide_jump(Tick& tick) noexcept {
  Character& character = tick.character;
  if (character.charge_held > 0) {
    go_on_charging(tick);
    return;
  }
  const bool asked = tick.jump_pressed || character.buffer_left > 0;
  if (asked) {
    Trial trial = detail::consider(Candidate::ground_jump, tick);
    if (trial.hurdle == Hurdle::charging) {
      if (trial.remembered) tick.note(EventKind::buffer_used, 0);
      character.charge_held = 1;
      character.buffer_left = character.wall_buffer_left = 0;
      tick.note(EventKind::charge_started, 0);
      return;
    }
    if (trial.hurdle != Hurdle::none) trial = detail::consider(Candidate::coyote_jump, tick);
    if (trial.hurdle == Hurdle::none) {
      jump_from_ground(tick, trial, JumpKind::ground, tick.rules.launch_speed);
      return;
    }
  }
  if (tick.rules.exit_count > 0 && !tick.supported && detail::exit_side(tick) != 0) {
    const Trial trial = detail::consider(Candidate::wall_exit, tick);
    if (trial.hurdle == Hurdle::none) {
      leave_wall(tick, trial);
      if (tick.launched) return;
    }
  }
  if (tick.jump_pressed) {
    if (detail::consider(Candidate::air_jump, tick).hurdle == Hurdle::none) {
      jump_in_air(tick);
      return;
    }
    character.buffer_left = tick.rules.buffer_ticks;
    character.wall_buffer_left = tick.rules.wall_buffer_ticks;
    character.glide_armed = !tick.supported;
    return;
  }
  if (character.buffer_left > 0) --character.buffer_left;
  if (character.wall_buffer_left > 0) --character.wall_buffer_left;
}

// Anything else than gravity that sets the speed along up ends what a jump has armed.
void disarm(Character& character) noexcept {
  character.cut_armed = character.cut_heavy = character.hang_armed = false;
  character.sustain_left = 0;
}

void decide_cut(Tick& tick) noexcept {
  Character& character = tick.character;
  if (!character.cut_armed) return;
  if (detail::consider(Candidate::cut, tick).hurdle != Hurdle::none) return;
  character.cut_armed = false;
  character.sustain_left = 0;
  tick.note(EventKind::cut, 0, 0, tick.rise);
  switch (tick.rules.cut_style) {
    case CutStyle::none: break;
    case CutStyle::stop: tick.rise = 0; break;
    case CutStyle::scale: tick.rise = tick.rise * tick.rules.cut_keep; break;
    case CutStyle::weight: character.cut_heavy = true; break;
  }
  if (tick.rise <= 0) note_apex(tick, 0);
}

void decide_fast_fall(Tick& tick) noexcept {
  if (!tick.down_pressed) return;
  if (detail::consider(Candidate::fast_fall, tick).hurdle != Hurdle::none) return;
  disarm(tick.character);
  tick.character.fast_falling = true;
  if (tick.rules.fast_speed > 0) {
    const bool rose = tick.rise > 0;
    tick.rise = smaller(tick.rise, -tick.rules.fast_speed);
    if (rose) note_apex(tick, 0);
  }
  tick.note(EventKind::fast_fell, 0, 0, -tick.rise);
}

// The nearest of eight directions to a held one.
Vec nearest_of_eight(Vec held) noexcept {
  constexpr double kTangent = 0.41421356237309503;  // of 22.5 degrees
  const Vec size{magnitude(held.x), magnitude(held.y)};
  const double x = held.x > 0 ? 1 : -1;
  const double y = held.y > 0 ? 1 : -1;
  if (size.y <= size.x * kTangent) return {x, 0};
  if (size.x <= size.y * kTangent) return {0, y};
  const double half = 1 / std::sqrt(2.0);
  return {x * half, y * half};
}

Vec dash_way(const Tick& tick) noexcept {
  const Vec ahead{static_cast<double>(tick.character.facing), 0};
  const Vec held{direction_share(tick.steer.x), direction_share(tick.steer.y)};
  const double size = length(held);
  switch (tick.rules.dash_direction) {
    case DashDirection::facing: break;
    case DashDirection::sideways:
      if (tick.steer.x != 0) return {tick.steer.x > 0 ? 1.0 : -1.0, 0};
      break;
    case DashDirection::eight:
      if (size > 0) return nearest_of_eight(held);
      break;
    case DashDirection::free:
      if (size > 0) return scale(held, 1 / size);
      break;
  }
  return ahead;
}

void start_dash(Tick& tick) noexcept {
  Character& character = tick.character;
  character.dash_way = dash_way(tick);
  character.dash_left = tick.rules.dash_ticks;
  character.dash_buffer_left = 0;
  ++character.dashes_used;
  lose_charge(tick);
  disarm(character);
  character.fast_falling = character.glide_armed = false;
  character.steer_lock_left = character.steer_fade_left = 0;
  if (character.dash_way.x != 0) character.facing = character.dash_way.x > 0 ? 1 : -1;
  tick.note(EventKind::dash_started, 0, 0, tick.rules.dash_speed);
  if (tick.supported && character.dash_way.y > 0) {
    leave_ground(tick, LeaveReason::dashed, 0);
    tick.supported = false;
  }
}

void decide_dash(Tick& tick) noexcept {
  Character& character = tick.character;
  if (tick.rules.dash_charges == 0) return;
  const Trial trial = detail::consider(Candidate::dash, tick);
  if (trial.hurdle == Hurdle::none) {
    start_dash(tick);
  } else if (tick.dash_pressed) {
    // A jump of the same tick goes first; the dash follows it.
    const std::int64_t least = trial.hurdle == Hurdle::launching ? 1 : 0;
    character.dash_buffer_left = tick.rules.dash_buffer > least ? tick.rules.dash_buffer : least;
  } else if (character.dash_buffer_left > 0) {
    --character.dash_buffer_left;
  }
}

// Gathers what moves the body in this tick, now that everything is decided.
void set_forces(Tick& tick) noexcept {
  Character& character = tick.character;
  tick.dashes = character.dash_left > 0;
  if (tick.dashes) {
    const Vec velocity = scale(character.dash_way, tick.rules.dash_speed);
    tick.run = velocity.x;
    tick.rise = tick.supported ? 0 : velocity.y;
  } else if (character.wall != 0 && detail::held_at_wall(tick) && tick.rise <= 0) {
    character.fast_falling = character.glide_armed = false;
    tick.clung = detail::clings(tick);
    if (tick.clung) tick.rise = 0;
  }
  if (!tick.held.jump) character.sustain_left = 0;
  detail::find_drive(tick, tick.dashes, tick.drive);
  detail::find_phase(tick, tick.dashes, tick.phase);
  if (tick.drive.at_once) {
    tick.run = tick.drive.fixed_end;
    tick.drive.how = nullptr;
  }
}

// ---- motion ---------------------------------------------------------------------------------

// Takes out of a vector its parts into the surfaces met in this tick.
Vec unblocked(const Tick& tick, Vec vector) noexcept {
  for (std::size_t i = 0; i < tick.contacts; ++i) {
    const double into = dot(vector, tick.normals[i]);
    if (into < 0) vector = subtract(vector, scale(tick.normals[i], into));
  }
  return vector;
}

// The speed along up that a landing gives back; 0 if the body stays down.
double rebound_of(const Tick& tick, const SurfaceTraits& surface, double speed) noexcept {
  if (tick.supported || tick.bounced || !surface.bounces()) return 0;
  const double rebound = larger(surface.bounce * speed, surface.bounce_speed);
  // What gravity takes back within a tick is no bounce.
  return rebound > tick.rules.fall_gravity * tick.rules.dt ? rebound : 0;
}

void bounce(Tick& tick, double rebound, double fraction, SurfaceId surface) noexcept {
  Character& character = tick.character;
  tick.bounced = true;
  tick.rise = rebound;
  end_dash(tick, DashEnd::blocked, fraction);
  disarm(character);
  character.fast_falling = false;
  if (tick.rules.air_refill_on_bounce) character.air_jumps_used = 0;
  if (tick.rules.dash_refill_on_bounce) character.dashes_used = 0;
  tick.phase = {};
  detail::find_phase(tick, false, tick.phase);
  tick.note(EventKind::bounced, fraction, 0, rebound, surface);
}

// Books a contact; `velocity` is that of the body as it arrives, not yet stopped, and `ahead` what
// of it along down belongs to the rest of the tick. Returns the speed with which it bounces, 0 if
// it does not.
double meet(Tick& tick, const Contact& contact, Vec velocity, double fraction,
            double ahead = 0) noexcept {
  const double steepness = dot(contact.normal, kUp);
  const double speed = -dot(velocity, contact.normal);
  const SurfaceTraits& surface = tick.world.surface(contact.surface);
  if (surface.has_touch && tick.touched == kNoSurface) {
    tick.touched = contact.surface;
    tick.touched_normal = contact.normal;
  }
  if (steepness >= tick.rules.footing_slope) {
    const double rebound = rebound_of(tick, surface, larger(speed - ahead, 0));
    if (rebound > 0) return rebound;
    if (surface.footing && !tick.supported && !tick.met_underfoot) {
      tick.note(EventKind::landed, fraction, 0, speed, contact.surface);
    }
    (surface.footing ? tick.met_underfoot : tick.met_refused) = true;
  } else if (steepness > kCeilingSlope) {
    const int side = dot(contact.normal, kAcross) < 0 ? 1 : -1;
    if (tick.character.wall != side && tick.wall != side) {
      tick.note(EventKind::wall_touched, fraction, side_detail(side), speed, contact.surface);
    }
    tick.wall = side;
    tick.wall_surface = contact.surface;
  } else {
    tick.note(EventKind::bumped_head, fraction, 0, speed, contact.surface);
  }
  tick.normals[tick.contacts++] = contact.normal;
  return 0;
}

// The run speed's way in what is left of the tick.
Stretch run_stretch(const Tick& tick, double left) noexcept {
  const Drive& drive = tick.drive;
  if (!drive.fixed) return detail::drive_stretch(tick.run, drive);
  // What a contact has taken away is not made up for.
  const double end = tick.contacts == 0 ? drive.fixed_end : tick.run + drive.fixed_rate * left;
  return {drive.fixed_rate, left, end};
}

double end_speed(const Stretch& stretch, double speed, double time, bool blocked) noexcept {
  if (blocked) return speed;
  return time == stretch.lasts ? stretch.ends_at : speed + stretch.rate * time;
}

// The exact loop: closed form from change to change of either speed, and from contact to contact.
void move_exact(Tick& tick) noexcept {
  Character& character = tick.character;
  const double dt = tick.rules.dt;
  double left = dt;
  for (int i = 0; i < kMostStretches && left > 0 && tick.contacts < kMostContacts; ++i) {
    const bool rose = tick.rise > 0;
    const Stretch across = run_stretch(tick, left);
    Stretch along{0, left, tick.rise};
    if (!tick.supported) along = detail::gravity_stretch(tick.rise, tick.phase, tick.rules);
    const Vec free = in_world(across.rate, along.rate);
    const Vec acceleration = unblocked(tick, free);
    const double time = smaller(left, smaller(across.lasts, along.lasts));
    const Path path{character.feet, in_world(tick.run, tick.rise), acceleration, time};

    const Meeting meeting = detail::first_meeting(path, tick.rules, tick.world, character.tick);
    if (meeting.met()) {
      const Vec arriving = velocity_at(path, meeting.time);
      character.feet = place_at(path, meeting.time);
      left = left - meeting.time;
      const double fraction = (dt - left) / dt;
      const double rebound = meet(tick, meeting.contact, arriving, fraction);
      const Vec kept = unblocked(tick, arriving);
      tick.run = dot(kept, kAcross);
      tick.rise = dot(kept, kUp);
      if (rebound > 0) bounce(tick, rebound, fraction, meeting.contact.surface);
    } else {
      character.feet = place_at(path, time);
      left = time == left ? 0 : left - time;
      tick.run = end_speed(across, tick.run, time, dot(acceleration, kAcross) != across.rate);
      tick.rise = end_speed(along, tick.rise, time, dot(acceleration, kUp) != along.rate);
      if (rose && tick.rise <= 0) note_apex(tick, (dt - left) / dt);
    }
    if (tick.rise <= 0 && character.cut_heavy) character.cut_heavy = tick.phase.heavy = false;
  }
}

// The stepped loops: one change of speed, one straight move. What happens on the way is known to
// have happened by the end of the tick, and no sooner.
void move_stepped(Tick& tick) noexcept {
  Character& character = tick.character;
  const Rules& rules = tick.rules;
  const double run =
      tick.drive.fixed ? tick.drive.fixed_end : detail::drive_tick(tick.run, tick.drive, rules.dt);
  const bool falls = !tick.supported && (!tick.launched || rules.gravity_on_launch_tick);
  const double rise = falls ? detail::gravity_tick(tick.rise, tick.phase, rules) : tick.rise;
  Vec moving = in_world(detail::moving_speed(rules.integrator, tick.run, run),
                        detail::moving_speed(rules.integrator, tick.rise, rise));
  Vec after = in_world(run, rise);
  const bool tops_out = tick.rise > 0 && rise <= 0;
  const bool tops_out_at_end = dot(moving, kUp) > 0;
  if (tops_out && !tops_out_at_end) note_apex(tick, 0);

  double left = rules.dt;
  while (left > 0 && tick.contacts < kMostContacts) {
    const Path path{character.feet, moving, {0, 0}, left};
    const Meeting meeting = detail::first_meeting(path, rules, tick.world, character.tick);
    character.feet = place_at(path, meeting.met() ? meeting.time : left);
    if (!meeting.met()) break;
    left = left - meeting.time;
    // Else what a tick moves too fast at its start would be gained at every bounce.
    const double ahead = magnitude(rise - tick.rise) * (left / rules.dt);
    const double rebound = meet(tick, meeting.contact, moving, 1, ahead);
    moving = unblocked(tick, moving);
    after = unblocked(tick, after);
    if (rebound > 0) {
      bounce(tick, rebound, 1, meeting.contact.surface);
      moving = in_world(dot(moving, kAcross), 0);
      after = in_world(dot(after, kAcross), rebound);
    }
  }
  const bool stopped_by_ceiling = tops_out_at_end && dot(moving, kUp) <= 0;
  if (tops_out && tops_out_at_end && !stopped_by_ceiling) note_apex(tick, 1);
  tick.run = dot(after, kAcross);
  tick.rise = dot(after, kUp);
  if (tick.rise <= 0) character.cut_heavy = false;
}

// ---- what surrounds the body at the end ------------------------------------------------------

// Brings a standing body to rest distance from its footing, if it stands noticeably nearer or
// farther; never through a ceiling.
void settle(Character& character, GroundCheck& ground, const Rules& rules,
            const World& world) noexcept {
  constexpr double kNoticeable = 0.01;
  const double rest = detail::margins_of(rules).rest;
  const double shift = rest - ground.gap;
  if (magnitude(shift) <= kNoticeable * rules.flush_gap) return;
  if (shift > 0 &&
      detail::probe(character.feet, ground.normal, rules, world, character.tick).contact.met()) {
    return;
  }
  character.feet = add(character.feet, scale(ground.normal, shift));
  ground.gap = rest;
}

GroundCheck look_underfoot(const Character& character, const Rules& rules,
                           const World& world) noexcept {
  const Probe below = detail::probe(character.feet, scale(kUp, -1), rules, world, character.tick);
  if (!below.contact.met()) return {};
  Footing reason = Footing::too_steep;
  if (dot(below.contact.normal, kUp) >= rules.footing_slope) {
    reason = world.surface(below.contact.surface).footing ? Footing::footing : Footing::refused;
  }
  return {reason, below.contact.surface, below.contact.normal, below.gap};
}

// Walking off past the time of grace uses an air jump up, if the tuning says so.
void pay_for_walking_off(Tick& tick) noexcept {
  Character& character = tick.character;
  const bool finite = tick.rules.air_jumps != kUnlimited;
  if (tick.rules.walk_off_costs && finite && character.air_jumps_used < tick.rules.air_jumps) {
    ++character.air_jumps_used;
  }
}

// What standing gives back, and what it ends.
void stand(Tick& tick, GroundCheck& ground) noexcept {
  Character& character = tick.character;
  tick.rise = 0;
  character.cut_armed = false;
  character.hang_armed = false;
  character.coyote_left = 0;
  character.air_jumps_used = 0;
  if (character.dash_left <= 1) character.dashes_used = 0;
  character.fast_falling = character.glide_armed = character.wall_let_go = false;
  character.wall_spent = character.cling_side = 0;
  character.steer_lock_left = character.steer_fade_left = 0;
  character.wall_coyote_left = 0;
  settle(character, ground, tick.rules, tick.world);
}

// Ground that was walked off opens the time of grace; ground that may not be jumped from does not,
// nor does a push.
void lose_footing(Tick& tick) noexcept {
  Character& character = tick.character;
  const bool graceful =
      !character.has(StatusKind::no_control) && tick.world.surface(character.ground.surface).jump;
  leave_ground(tick, LeaveReason::walked_off, 1);
  character.coyote_left = graceful ? tick.rules.coyote_ticks : 0;
  if (character.coyote_left == 0) pay_for_walking_off(tick);
}

void check_ground(Tick& tick) noexcept {
  Character& character = tick.character;
  GroundCheck ground;
  const bool was_on_footing = tick.supported || tick.met_underfoot;
  const bool was_refused = tick.met_refused || character.ground.reason == Footing::refused;
  if (tick.supported) tick.rise = 0;  // sliding up gentle footing is running, not rising
  if (tick.rise > 0) {
    ground.reason = Footing::rising;
  } else if (was_on_footing || was_refused || tick.wall != 0) {
    ground = look_underfoot(character, tick.rules, tick.world);
    // A wall may lean into the body from below without giving footing; level ground that was not
    // met in this tick is still to be reached.
    if (ground.reason == Footing::footing && !was_on_footing) ground = {};
    if (ground.reason == Footing::refused) tick.rise = 0;  // no downward speed builds up there
  }
  if (ground.reason == Footing::footing) {
    stand(tick, ground);
  } else if (was_on_footing) {
    lose_footing(tick);
  } else if (tick.in_grace && character.coyote_left == 0) {
    pay_for_walking_off(tick);
  }
  if (ground.reason == Footing::none && character.coyote_left > 0) ground.reason = Footing::grace;
  character.ground = ground;
}

// A wall that was not touched before, or the other one.
void come_to_wall(Tick& tick) noexcept {
  Character& character = tick.character;
  const auto side = static_cast<std::int8_t>(tick.wall);
  character.wall_let_go = false;
  if (character.wall_spent != side) character.wall_spent = 0;
  if (character.cling_side != side) {
    character.cling_side = side;
    character.cling_left = tick.rules.cling_ticks;
  }
  if (!tick.world.surface(tick.wall_surface).cling) return;
  if (tick.rules.air_refill_on_wall) character.air_jumps_used = 0;
  if (tick.rules.dash_refill_on_wall) character.dashes_used = 0;
}

void lose_wall(Tick& tick) noexcept {
  Character& character = tick.character;
  tick.note(EventKind::wall_left, 1, side_detail(character.wall));
  const bool graceful = !character.wall_let_go && !character.grounded() &&
                        tick.world.surface(character.wall_surface).cling;
  character.wall_lost = character.wall;
  character.wall_lost_tick = graceful ? character.tick : kLongAgo;
  character.wall_coyote_left = graceful ? tick.rules.wall_coyote_ticks : 0;
  character.wall_let_go = false;
  character.wall = 0;
}

void check_wall(Tick& tick) noexcept {
  Character& character = tick.character;
  if (character.wall_coyote_left > 0) --character.wall_coyote_left;
  if (tick.wall != 0) {
    if (character.wall != tick.wall) come_to_wall(tick);
    character.wall = static_cast<std::int8_t>(tick.wall);
    character.wall_surface = tick.wall_surface;
    return;
  }
  if (character.wall == 0) return;
  const Vec towards = scale(kAcross, character.wall);
  const Probe beside =
      detail::probe(character.feet, towards, tick.rules, tick.world, character.tick);
  if (beside.contact.met() && dot(beside.contact.normal, kUp) < tick.rules.footing_slope) {
    character.wall_surface = beside.contact.surface;
    return;
  }
  lose_wall(tick);
}

// ---- the end of a tick --------------------------------------------------------------------------

void count_down(std::int64_t& ticks) noexcept {
  if (ticks > 0) --ticks;
}

void finish_dash(Tick& tick) noexcept {
  Character& character = tick.character;
  if (!tick.dashes) {
    count_down(character.dash_cooldown_left);
    return;
  }
  if (character.dash_left == 0) return;  // it ended on the way
  if (tick.run == 0 && tick.rise == 0) {
    end_dash(tick, DashEnd::blocked, 1);
  } else if (character.dash_left == 1) {
    tick.run = tick.run * tick.rules.dash_keep;
    tick.rise = tick.rise * tick.rules.dash_keep;
    end_dash(tick, DashEnd::done, 1);
  } else {
    --character.dash_left;
  }
}

void finish_timers(Tick& tick) noexcept {
  Character& character = tick.character;
  if (character.status_seen != 0) {
    for (Status& status : character.status) count_down(status.left);
  }
  if (character.steer_lock_left > 0) {
    --character.steer_lock_left;
  } else {
    count_down(character.steer_fade_left);
  }
  if (tick.clung) count_down(character.cling_left);
  count_down(character.sustain_left);
}

// The touch of a surface works once, until the body has been away from it.
void take_touch(Tick& tick) noexcept {
  Character& character = tick.character;
  if (tick.touched == kNoSurface) {
    const bool still_there = character.touching == character.ground.surface ||
                             (character.wall != 0 && character.touching == character.wall_surface);
    if (!still_there) character.touching = kNoSurface;
    return;
  }
  if (character.touching == tick.touched) return;
  character.touching = tick.touched;
  const Touch& touch = tick.world.surface(tick.touched).touch;
  const auto ticks = [&tick](double seconds) -> std::int64_t {
    const std::int64_t whole = whole_ticks(seconds * tick.rules.tick_rate);
    return seconds > 0 && whole == 0 ? 1 : whole;
  };
  if (touch.stun > 0) set_status(character, StatusKind::stun, {ticks(touch.stun)});
  if (touch.no_jump > 0) set_status(character, StatusKind::no_jump, {ticks(touch.no_jump)});
  if (touch.slow > 0) {
    set_status(character, StatusKind::slow, {ticks(touch.slow), 0, touch.slow_share});
  }
  if (touch.pushes) {
    push(character, touch.push, subtract(character.feet, tick.touched_normal), tick.rules);
  }
}

void finish(Tick& tick) noexcept {
  Character& character = tick.character;
  finish_dash(tick);
  // What a tick ends with is seen where it ends; only the exact loop knows places in between.
  for (Event& event : tick.events) {
    if (event.fraction == 1) event.place = character.feet;
  }
  if (tick.rise <= 0) {
    character.cut_armed = false;
    character.sustain_left = 0;
  }
  if (!tick.held.jump) character.glide_armed = false;
  character.at_wall = !character.grounded() && tick.rise <= 0 && detail::held_at_wall(tick);
  character.gliding = !character.grounded() && tick.rise < 0 && detail::glides(tick);
  finish_timers(tick);
  character.velocity = in_world(tick.run, tick.rise);
  character.rising = tick.rise > 0;
  character.across_held = tick.across_held;
  character.along_held = tick.along_held;
  character.controls = tick.held;
  take_touch(tick);
  ++character.tick;
}

[[maybe_unused]] bool is_finite(Vec v) noexcept { return std::isfinite(v.x) && std::isfinite(v.y); }

}  // namespace

Events advance(Character& character, const Controls& controls, const Rules& rules,
               const World& world) noexcept {
  assert(is_finite(character.feet) && is_finite(character.velocity));
  Events events;
  Tick tick(character, controls, rules, world, events);
  begin(tick);
  decide_jump(tick);
  decide_cut(tick);
  decide_fast_fall(tick);
  decide_dash(tick);
  set_forces(tick);
  if (rules.integrator == Integrator::exact) {
    move_exact(tick);
  } else {
    move_stepped(tick);
  }
  check_ground(tick);
  check_wall(tick);
  finish(tick);
  return events;
}

bool place(Character& character, Vec feet, const Rules& rules, const World& world) noexcept {
  assert(is_finite(feet));
  const std::int64_t tick = character.tick;
  const std::int8_t facing = character.facing;
  character = Character{};
  character.tick = tick;
  character.facing = facing;
  character.feet = feet;

  const Margins margins = detail::margins_of(rules);
  constexpr int kMostSurfaces = 4;  // a floor, a ceiling and two walls
  for (int i = 0; i < kMostSurfaces; ++i) {
    const Overlap near = world.overlap(grown(rules.body, margins.rest), character.feet, tick);
    if (near.surface == kNoSurface) break;
    if (near.depth > margins.rest + rules.flush_gap) {
      character.feet = feet;
      return false;
    }
    character.feet = add(character.feet, scale(near.normal, near.depth));
  }
  character.ground = look_underfoot(character, rules, world);
  if (character.grounded()) settle(character, character.ground, rules, world);
  return true;
}

}  // namespace bushbaby
