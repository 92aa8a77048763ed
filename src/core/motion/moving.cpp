// The motion of a tick, with its contacts.
#include "tick.h"

namespace bushbaby::detail {
namespace {

// Changes of phase within one tick: a turn, top speed, the edges of the hang band, the apex and
// terminal speed, with room for the contacts between them. A tick never has that many.
constexpr int kMostStretches = 24;
// Steeper than this, downward, a surface is a ceiling; above it and short of footing, a wall.
constexpr double kCeilingSlope = -0.5;

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
    if (tick.mover.wall != side && tick.wall != side) {
      tick.note(EventKind::wall_touched, fraction, side_detail(side), speed, contact.surface);
    }
    tick.wall = side;
    tick.wall_surface = contact.surface;
  } else if (!tick.phase.climbs) {
    tick.note(EventKind::bumped_head, fraction, 0, speed, contact.surface);
  }
  tick.normals[tick.contacts++] = contact.normal;
  return 0;
}

// The run speed's way in what is left of the tick.
Stretch run_stretch(const Tick& tick, double left) noexcept {
  const Drive& drive = tick.drive;
  if (!drive.fixed) return drive_stretch(tick.run, drive);
  // What a contact has taken away is not made up for.
  const double end = tick.contacts == 0 ? drive.fixed_end : tick.run + drive.fixed_rate * left;
  return {drive.fixed_rate, left, end};
}

double end_speed(const Stretch& stretch, double speed, double time, bool blocked) noexcept {
  if (blocked) return speed;
  return time == stretch.lasts ? stretch.ends_at : speed + stretch.rate * time;
}

}  // namespace

// The exact loop: closed form from change to change of either speed, and from contact to contact.
void move_exact(Tick& tick) noexcept {
  Character& character = tick.mover;
  const double dt = tick.rules.dt;
  double left = dt;
  for (int i = 0; i < kMostStretches && left > 0 && tick.contacts < kMostContacts; ++i) {
    const bool rose = tick.rise > 0;
    const Stretch across = run_stretch(tick, left);
    Stretch along{0, left, tick.rise};
    if (!tick.supported) along = gravity_stretch(tick.rise, tick.phase, tick.rules);
    Vec acceleration = in_world(across.rate, along.rate);
    // A speed that a contact holds back changes no more in this tick, whatever drives it.
    bool run_blocked = false;
    bool rise_blocked = false;
    if (tick.contacts > 0) {
      acceleration = unblocked(tick, acceleration);
      run_blocked = dot(acceleration, kAcross) != across.rate;
      rise_blocked = dot(acceleration, kUp) != along.rate;
    }
    double time = left;
    if (!run_blocked) time = smaller(time, across.lasts);
    if (!rise_blocked) time = smaller(time, along.lasts);
    const Path path{character.feet, in_world(tick.run, tick.rise), acceleration, time};

    const Meeting meeting = first_meeting(path, tick.rules, tick.world, character.tick);
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
      tick.run = end_speed(across, tick.run, time, run_blocked);
      tick.rise = end_speed(along, tick.rise, time, rise_blocked);
      if (rose && tick.rise <= 0) note_apex(tick, (dt - left) / dt);
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

  double left = rules.dt;
  while (left > 0 && tick.contacts < kMostContacts) {
    const Path path{character.feet, moving, {0, 0}, left};
    const Meeting meeting = first_meeting(path, rules, tick.world, character.tick);
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

}  // namespace bushbaby::detail
