#include "bushbaby/core/advance.h"

#include <array>
#include <cassert>
#include <cmath>

#include "arithmetic.h"
#include "stretch.h"
#include "travel.h"

namespace bushbaby {
namespace {

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
struct Tick {
  Tick(Character& c, const Controls& held, const Rules& r, const World& w) noexcept
      : character(c), controls(held), rules(r), world(w), margins(detail::margins_of(r)) {}

  Character& character;
  const Controls& controls;
  const Rules& rules;
  const World& world;
  const Margins margins;
  Events events;

  double run = 0;          // speed along the run axis
  double rise = 0;         // speed along up
  bool supported = false;  // stands, and does not launch: no gravity, no speed along up
  bool launched = false;
  bool in_grace = false;  // ground was lost, and a ground jump may still be taken

  // The surfaces met in this tick; motion into them is over for its remainder.
  std::array<Vec, kMostContacts> normals{};
  std::size_t contacts = 0;
  bool met_underfoot = false;
  int wall = 0;  // the side of a wall that was met: -1, 0, 1

  void note(EventKind kind, double fraction, std::uint8_t detail = 0, double value = 0,
            SurfaceId surface = kNoSurface) noexcept {
    events.add({kind, detail, surface, character.tick, fraction, character.feet, value});
  }
};

Vec in_world(double run, double rise) noexcept {
  return add(scale(kAcross, run), scale(kUp, rise));
}

void note_apex(Tick& tick, double fraction) noexcept { tick.note(EventKind::apex, fraction); }

// ---- decisions ------------------------------------------------------------------------------

void launch(Tick& tick) noexcept {
  Character& character = tick.character;
  tick.rise = larger(tick.rules.launch_speed, tick.rise);
  tick.launched = true;
  tick.supported = false;
  character.launch_tick = character.tick;
  character.cut_armed = tick.rules.cut_style != CutStyle::none;
  character.cut_heavy = false;
  character.hang_armed = true;
  character.coyote_left = 0;
  character.buffer_left = 0;
  tick.in_grace = false;
  tick.note(EventKind::jumped, 0, static_cast<std::uint8_t>(JumpKind::ground), tick.rise,
            character.ground.surface);
}

// A ground jump, from the ground or in its time of grace, by a press or by one remembered.
void decide_jump(Tick& tick) noexcept {
  Character& character = tick.character;
  const bool pressed = tick.controls.jump && !character.controls.jump;
  const bool possible = tick.supported || tick.in_grace;
  if (possible && (pressed || character.buffer_left > 0)) {
    if (!pressed) tick.note(EventKind::buffer_used, 0);
    if (tick.supported) {
      tick.note(EventKind::left_ground, 0, static_cast<std::uint8_t>(LeaveReason::jumped), 0,
                character.ground.surface);
    } else {
      tick.note(EventKind::coyote_used, 0);
    }
    launch(tick);
  } else if (pressed) {
    character.buffer_left = tick.rules.buffer_ticks;
  } else if (character.buffer_left > 0) {
    --character.buffer_left;
  }
}

void cut(Tick& tick) noexcept {
  Character& character = tick.character;
  character.cut_armed = false;
  tick.note(EventKind::cut, 0, 0, tick.rise);
  switch (tick.rules.cut_style) {
    case CutStyle::none: break;
    case CutStyle::stop: tick.rise = 0; break;
    case CutStyle::scale: tick.rise = tick.rise * tick.rules.cut_keep; break;
    case CutStyle::weight: character.cut_heavy = true; break;
  }
  if (tick.rise <= 0) note_apex(tick, 0);
}

void decide_cut(Tick& tick) noexcept {
  const Character& character = tick.character;
  const std::int64_t since_launch = character.tick - character.launch_tick;
  const bool due = character.cut_armed && since_launch >= tick.rules.cut_from_tick;
  if (due && !tick.controls.jump && tick.rise > 0) cut(tick);
}

// ---- motion ---------------------------------------------------------------------------------

struct Drive {
  double target;
  const RunRates& rates;
};

GravityPhase phase_of(const Tick& tick) noexcept {
  return {tick.character.cut_heavy, tick.character.hang_armed,
          tick.in_grace ? tick.rules.coyote_gravity : 1};
}

Drive drive_of(const Tick& tick) noexcept {
  return {direction_share(tick.controls.x) * tick.rules.top_speed,
          tick.supported ? tick.rules.ground : tick.rules.air};
}

// Takes out of a vector its parts into the surfaces met in this tick.
Vec unblocked(const Tick& tick, Vec vector) noexcept {
  for (std::size_t i = 0; i < tick.contacts; ++i) {
    const double into = dot(vector, tick.normals[i]);
    if (into < 0) vector = subtract(vector, scale(tick.normals[i], into));
  }
  return vector;
}

// Books a contact; `velocity` is that of the body as it arrives, not yet stopped.
void meet(Tick& tick, const Contact& contact, Vec velocity, double fraction) noexcept {
  const double steepness = dot(contact.normal, kUp);
  const double speed = -dot(velocity, contact.normal);
  tick.normals[tick.contacts++] = contact.normal;
  if (steepness >= tick.rules.footing_slope) {
    if (!tick.supported && !tick.met_underfoot) {
      tick.note(EventKind::landed, fraction, 0, speed, contact.surface);
    }
    tick.met_underfoot = true;
  } else if (steepness > kCeilingSlope) {
    const int side = dot(contact.normal, kAcross) < 0 ? 1 : -1;
    if (tick.character.wall != side && tick.wall != side) {
      tick.note(EventKind::wall_touched, fraction, side > 0 ? 1 : 0, speed, contact.surface);
    }
    tick.wall = side;
  } else {
    tick.note(EventKind::bumped_head, fraction, 0, speed, contact.surface);
  }
}

double end_speed(const Stretch& stretch, double speed, double time, bool blocked) noexcept {
  if (blocked) return speed;
  return time == stretch.lasts ? stretch.ends_at : speed + stretch.rate * time;
}

// The exact loop: closed form from change to change of either speed, and from contact to contact.
void move_exact(Tick& tick, const Drive& drive) noexcept {
  Character& character = tick.character;
  const double dt = tick.rules.dt;
  double left = dt;
  for (int i = 0; i < kMostStretches && left > 0 && tick.contacts < kMostContacts; ++i) {
    const bool rose = tick.rise > 0;
    const Stretch across = detail::drive_stretch(tick.run, drive.target, drive.rates);
    Stretch along{0, left, tick.rise};
    if (!tick.supported) {
      along = detail::gravity_stretch(tick.rise, phase_of(tick), tick.rules);
    }
    const Vec free = in_world(across.rate, along.rate);
    const Vec acceleration = unblocked(tick, free);
    const double time = smaller(left, smaller(across.lasts, along.lasts));
    const Path path{character.feet, in_world(tick.run, tick.rise), acceleration, time};

    const Meeting meeting = detail::first_meeting(path, tick.rules, tick.world, character.tick);
    if (meeting.met()) {
      const Vec arriving = velocity_at(path, meeting.time);
      character.feet = place_at(path, meeting.time);
      left = left - meeting.time;
      meet(tick, meeting.contact, arriving, (dt - left) / dt);
      const Vec kept = unblocked(tick, arriving);
      tick.run = dot(kept, kAcross);
      tick.rise = dot(kept, kUp);
    } else {
      character.feet = place_at(path, time);
      left = time == left ? 0 : left - time;
      tick.run = end_speed(across, tick.run, time, dot(acceleration, kAcross) != across.rate);
      tick.rise = end_speed(along, tick.rise, time, dot(acceleration, kUp) != along.rate);
      if (rose && tick.rise <= 0) note_apex(tick, (dt - left) / dt);
    }
    if (tick.rise <= 0) character.cut_heavy = false;
  }
}

// The stepped loops: one change of speed, one straight move. What happens on the way is known to
// have happened by the end of the tick, and no sooner.
void move_stepped(Tick& tick, const Drive& drive) noexcept {
  Character& character = tick.character;
  const Rules& rules = tick.rules;
  const double run = detail::drive_tick(tick.run, drive.target, drive.rates, rules.dt);
  const bool falls = !tick.supported && (!tick.launched || rules.gravity_on_launch_tick);
  const double rise = falls ? detail::gravity_tick(tick.rise, phase_of(tick), rules) : tick.rise;
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
    meet(tick, meeting.contact, moving, 1);
    moving = unblocked(tick, moving);
    after = unblocked(tick, after);
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
  const bool stands = dot(below.contact.normal, kUp) >= rules.footing_slope;
  return {stands ? Footing::footing : Footing::too_steep, below.contact.surface,
          below.contact.normal, below.gap};
}

void check_ground(Tick& tick) noexcept {
  Character& character = tick.character;
  GroundCheck ground;
  const bool was_on_footing = tick.supported || tick.met_underfoot;
  if (tick.supported) tick.rise = 0;  // sliding up gentle footing is running, not rising
  if (tick.rise > 0) {
    ground.reason = Footing::rising;
  } else if (was_on_footing || tick.wall != 0) {
    ground = look_underfoot(character, tick.rules, tick.world);
    // A wall may lean into the body from below without giving footing; level ground that was not
    // met in this tick is still to be reached.
    if (ground.reason == Footing::footing && !was_on_footing) ground = {};
  }
  if (ground.reason == Footing::footing) {
    tick.rise = 0;
    character.cut_armed = false;
    character.hang_armed = false;
    character.coyote_left = 0;
    settle(character, ground, tick.rules, tick.world);
  } else if (was_on_footing) {
    tick.note(EventKind::left_ground, 1, static_cast<std::uint8_t>(LeaveReason::walked_off), 0,
              character.ground.surface);
    character.coyote_left = tick.rules.coyote_ticks;
  }
  if (ground.reason == Footing::none && character.coyote_left > 0) ground.reason = Footing::grace;
  character.ground = ground;
}

void check_wall(Tick& tick) noexcept {
  Character& character = tick.character;
  if (tick.wall != 0) {
    character.wall = static_cast<std::int8_t>(tick.wall);
    return;
  }
  if (character.wall == 0) return;
  const Vec towards = scale(kAcross, character.wall);
  const Probe beside =
      detail::probe(character.feet, towards, tick.rules, tick.world, character.tick);
  if (beside.contact.met() && dot(beside.contact.normal, kUp) < tick.rules.footing_slope) return;
  tick.note(EventKind::wall_left, 1, character.wall > 0 ? 1 : 0);
  character.wall = 0;
}

// ---- the tick -------------------------------------------------------------------------------

void begin(Tick& tick) noexcept {
  Character& character = tick.character;
  tick.run = dot(character.velocity, kAcross);
  tick.rise = dot(character.velocity, kUp);
  tick.supported = character.grounded();
  if (tick.supported && tick.rise > 0) {
    // The game gave a standing body a speed along up.
    tick.supported = false;
    tick.note(EventKind::left_ground, 0, static_cast<std::uint8_t>(LeaveReason::lifted), 0,
              character.ground.surface);
  }
  if (tick.supported) tick.rise = 0;
  tick.in_grace = character.coyote_left > 0;
  if (tick.in_grace) --character.coyote_left;
  if (tick.controls.x != 0) character.facing = tick.controls.x > 0 ? 1 : -1;
}

void finish(Tick& tick) noexcept {
  Character& character = tick.character;
  // What a tick ends with is seen where it ends; only the exact loop knows places in between.
  for (Event& event : tick.events) {
    if (event.fraction == 1) event.place = character.feet;
  }
  if (tick.rise <= 0) character.cut_armed = false;
  character.velocity = in_world(tick.run, tick.rise);
  character.rising = tick.rise > 0;
  character.controls = tick.controls;
  ++character.tick;
}

[[maybe_unused]] bool is_finite(Vec v) noexcept { return std::isfinite(v.x) && std::isfinite(v.y); }

}  // namespace

Events advance(Character& character, const Controls& controls, const Rules& rules,
               const World& world) noexcept {
  assert(is_finite(character.feet) && is_finite(character.velocity));
  Tick tick(character, controls, rules, world);
  begin(tick);
  decide_jump(tick);
  decide_cut(tick);
  const Drive drive = drive_of(tick);
  if (rules.integrator == Integrator::exact) {
    move_exact(tick, drive);
  } else {
    move_stepped(tick, drive);
  }
  check_ground(tick);
  check_wall(tick);
  finish(tick);
  return tick.events;
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
