// The motion of a tick, with its contacts.
#include "tick.h"

namespace bushbaby::detail {
namespace {

// Changes of phase within one tick: a turn, top speed, the edges of the hang band, the apex and
// terminal speed. A tick never has that many.
constexpr int kMostStretches = 24;
// Surfaces that a tick comes to, or leaves. Only a floor of dust has that many.
constexpr int kMostContacts = 4096;
// Steeper than this, downward, a surface is a ceiling; above it and short of footing, a wall.
constexpr double kCeilingSlope = -0.5;

// A vector without what of it goes into the surfaces that bar the way: along one of them, or
// nothing in the corner between two.
Vec unbarred(const Bars& bars, Vec vector) noexcept {
  bool barred = false;
  for (std::size_t i = 0; i < bars.count; ++i) {
    if (!(dot(vector, bars.normals[i]) < 0)) continue;
    barred = true;
    const Vec slid = slide_along(vector, bars.normals[i]);
    bool free = true;
    for (std::size_t k = 0; k < bars.count; ++k) {
      free = free && (k == i || !(dot(slid, bars.normals[k]) < 0));
    }
    if (free) return slid;
  }
  return barred ? Vec{0, 0} : vector;
}

bool is_same_way(Vec a, Vec b) noexcept {
  constexpr double kNoticeable = 1e-9;
  return dot(a, b) > 1 - kNoticeable;
}

void bar(Tick& tick, Vec normal) noexcept {
  tick.was_barred = true;
  Bars& bars = tick.bars;
  for (std::size_t i = 0; i < bars.count; ++i) {
    if (is_same_way(bars.normals[i], normal)) return;
  }
  // More than four at once hold a body from all sides.
  if (bars.count < Bars::kMost) bars.normals[bars.count++] = normal;
}

// Until when a body on its path goes on touching a surface with that normal; 0 if it does not.
double touches_until(Tick& tick, const Path& path, Vec normal) noexcept {
  const Margins margins = margins_of(tick.rules);
  double until = 0;
  const Box here{add(path.from, tick.rules.body.lo), add(path.from, tick.rules.body.hi)};
  const Box region = grown(here, margins.rest + margins.slack);
  tick.nearby.visit(region, [&](const Nearby::Part& part) {
    if (!touch(region, part.shape.bounds)) return;
    const Box& body = tick.rules.body;
    const Lie lie = lie_of(path.from, part.shape, body, margins.rest);
    if (lie.gap > margins.slack) return;
    const bool along =
        is_same_way(lie.normal, normal) ||
        gap_along(normal, path.from, part.shape, body, margins.rest) >= -margins.slack;
    if (!along) return;
    until = larger(until, leaves_at(path, part.shape, body, margins.rest + 2 * margins.slack));
  });
  return until;
}

// Gives up the bars that the body has left.
void lift_bars(Tick& tick) noexcept {
  Bars& bars = tick.bars;
  const Path still{tick.mover.feet};
  std::size_t kept = 0;
  for (std::size_t i = 0; i < bars.count; ++i) {
    if (touches_until(tick, still, bars.normals[i]) > 0) bars.normals[kept++] = bars.normals[i];
  }
  bars.count = kept;
}

// How long a path lasts before a bar is left.
double barred_until(Tick& tick, const Path& path) noexcept {
  double until = path.duration;
  for (std::size_t i = 0; i < tick.bars.count; ++i) {
    const double end = touches_until(tick, path, tick.bars.normals[i]);
    if (end > 0) until = smaller(until, end);
  }
  return until;
}

// Puts the body beside a face that is no farther away than what counts as flush, if there is room.
bool set_aside(Tick& tick, const Meeting& meeting) noexcept {
  const Margins margins = margins_of(tick.rules);
  // It stays flush with the face that it met.
  const double off = meeting.aside_by * dot(meeting.aside, meeting.normal);
  if (meeting.aside_by > margins.step || off > margins.rest) return false;
  const Vec feet = add(tick.mover.feet, scale(meeting.aside, larger(meeting.aside_by, 0)));
  if (nearest_lie(feet, tick.rules.body, margins.guard, margins.rest, tick.nearby).gap < 0) {
    return false;
  }
  tick.mover.feet = feet;
  return true;
}

// Whether the body goes on as if it had met nothing, since it met a step no higher than what counts
// as flush. Of a corner that is met against both of its faces, the one more along up counts.
bool passes_step(Tick& tick, FirstMeeting& meeting, Vec velocity, Vec acceleration) noexcept {
  const bool presses = closes(dot(velocity, meeting.aside), dot(acceleration, meeting.aside));
  if (presses && dot(meeting.aside, kUp) <= dot(meeting.normal, kUp)) return false;
  if (!set_aside(tick, meeting)) return false;
  if (presses) meeting.normal = meeting.aside;
  return !presses;
}

// The speed along up that a landing gives back; 0 if the body stays down.
double rebound_of(const Tick& tick, const SurfaceTraits& surface, double speed) noexcept {
  if (tick.supported || tick.bounced || !surface.bounces()) return 0;
  const double rebound = larger(surface.bounce * speed, surface.bounce_speed);
  // What gravity takes back within a tick is no bounce.
  return rebound > tick.rules.fall_gravity * tick.rules.dt ? rebound : 0;
}

void bounce(Tick& tick, double rebound, double fraction, SurfaceId surface) noexcept {
  Character& character = tick.mover;
  tick.bounced = true;
  tick.rise = rebound;
  end_dash(tick, DashEnd::blocked, fraction);
  end(character, kBounceEnds);
  tick.climbed = false;
  if (tick.rules.air_restore_on_bounce) character.air_jumps_used = 0;
  if (tick.rules.dash_restore_on_bounce) character.dashes_used = 0;
  tick.phase = {};
  find_phase(tick, false, tick.phase);
  tick.note(EventKind::bounced, fraction, 0, rebound, surface);
}

// Books a contact; `velocity` is that of the body as it arrives, not yet stopped, and `ahead` what
// of it along down belongs to the rest of the tick. Returns the speed with which it bounces, 0 if
// it does not.
double take_contact(Tick& tick, const FirstMeeting& contact, Vec velocity, double fraction,
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
    if (tick.mover.wall != side && tick.wall != side) {
      tick.note(EventKind::wall_touched, fraction, side_detail(side), speed, contact.surface);
    }
    tick.wall = side;
    tick.wall_surface = contact.surface;
  } else if (!tick.phase.climbs) {
    tick.note(EventKind::bumped_head, fraction, 0, speed, contact.surface);
  }
  bar(tick, contact.normal);
  return 0;
}

// The run speed's way in what is left of the tick.
Stretch run_stretch(const Tick& tick, double remaining) noexcept {
  const Drive& drive = tick.drive;
  if (!drive.fixed) return drive_stretch(tick.run, drive);
  // What a contact has taken away is not made up for.
  const double end = tick.was_barred ? tick.run + drive.fixed_rate * remaining : drive.fixed_end;
  return {drive.fixed_rate, remaining, end};
}

// The speed at the end of a path; one that a surface holds back changes by what `slides` leaves it.
double end_speed(const Stretch& stretch, double speed, double time, bool barred,
                 double slides) noexcept {
  if (barred) return speed + slides * time;
  return time == stretch.lasts ? stretch.ends_at : speed + stretch.rate * time;
}

}  // namespace

// The exact loop: closed form from change to change of either speed, and from contact to contact.
void move_exact(Tick& tick) noexcept {
  Character& character = tick.mover;
  const double dt = tick.rules.dt;
  double remaining = dt;
  int stretches = 0;
  int contacts = 0;
  while (remaining > 0 && stretches < kMostStretches && contacts < kMostContacts) {
    const bool rose = tick.rise > 0;
    const Stretch across = run_stretch(tick, remaining);
    Stretch along{0, remaining, tick.rise};
    if (!tick.supported) along = gravity_stretch(tick.rise, tick.phase, tick.rules);
    Vec acceleration = in_world(across.rate, along.rate);
    // A speed that a surface holds back does not change, whatever drives it.
    bool run_barred = false;
    bool rise_barred = false;
    if (tick.bars.count > 0) lift_bars(tick);
    if (tick.bars.count > 0) {
      acceleration = unbarred(tick.bars, acceleration);
      run_barred = dot(acceleration, kAcross) != across.rate;
      rise_barred = dot(acceleration, kUp) != along.rate;
    }
    double time = remaining;
    if (!run_barred) time = smaller(time, across.lasts);
    if (!rise_barred) time = smaller(time, along.lasts);
    Path path{character.feet, in_world(tick.run, tick.rise), acceleration, time};
    if (tick.bars.count > 0) time = path.duration = barred_until(tick, path);

    FirstMeeting meeting = first_meeting(path, tick.rules, tick.nearby);
    if (meeting.met()) {
      ++contacts;
      const Vec arriving = velocity_at(path, meeting.time);
      character.feet = place_at(path, meeting.time);
      remaining = remaining - meeting.time;
      if (passes_step(tick, meeting, arriving, acceleration)) {
        tick.run = dot(arriving, kAcross);
        tick.rise = dot(arriving, kUp);
        continue;
      }
      const double fraction = (dt - remaining) / dt;
      const double rebound = take_contact(tick, meeting, arriving, fraction);
      const Vec kept = unbarred(tick.bars, arriving);
      tick.run = dot(kept, kAcross);
      tick.rise = dot(kept, kUp);
      if (rebound > 0) bounce(tick, rebound, fraction, meeting.surface);
    } else {
      character.feet = place_at(path, time);
      remaining = time == remaining ? 0 : remaining - time;
      tick.run = end_speed(across, tick.run, time, run_barred, dot(acceleration, kAcross));
      tick.rise = end_speed(along, tick.rise, time, rise_barred, dot(acceleration, kUp));
      if (rose && tick.rise <= 0) note_apex(tick, (dt - remaining) / dt);
      const bool changes = time == across.lasts || time == along.lasts;
      ++(changes ? stretches : contacts);
    }
    if (tick.rise <= 0 && character.cut_heavy) character.cut_heavy = tick.phase.heavy = false;
  }
}

// The stepped loops: one change of speed, one straight move. What happens on the way is known to
// have happened by the end of the tick, and no sooner.
void move_stepped(Tick& tick) noexcept {
  Character& character = tick.mover;
  const Rules& rules = tick.rules;
  const double run =
      tick.drive.fixed ? tick.drive.fixed_end : drive_tick(tick.run, tick.drive, rules.dt);
  const bool falls = !tick.supported && !skips_gravity(tick);
  const double rise = falls ? gravity_tick(tick.rise, tick.phase, rules) : tick.rise;
  Vec moving = in_world(moving_speed(rules.integrator, tick.run, run),
                        moving_speed(rules.integrator, tick.rise, rise));
  Vec after = in_world(run, rise);
  const bool tops_out = tick.rise > 0 && rise <= 0;
  const bool tops_out_at_end = dot(moving, kUp) > 0;
  if (tops_out && !tops_out_at_end) note_apex(tick, 0);

  double remaining = rules.dt;
  for (int contacts = 0; remaining > 0 && contacts < kMostContacts; ++contacts) {
    const Path path{character.feet, moving, {0, 0}, remaining};
    FirstMeeting meeting = first_meeting(path, rules, tick.nearby);
    character.feet = place_at(path, meeting.met() ? meeting.time : remaining);
    if (!meeting.met()) break;
    remaining = remaining - meeting.time;
    if (passes_step(tick, meeting, moving, {0, 0})) continue;
    // Else what a tick moves too fast at its start would be gained at every bounce.
    const double ahead = magnitude(rise - tick.rise) * (remaining / rules.dt);
    const double rebound = take_contact(tick, meeting, moving, 1, ahead);
    lift_bars(tick);
    moving = unbarred(tick.bars, moving);
    after = unbarred(tick.bars, after);
    if (rebound > 0) {
      bounce(tick, rebound, 1, meeting.surface);
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

}  // namespace bushbaby::detail
