// The motion of a tick, with its contacts.
#include "tick.h"

namespace bushbaby::detail {
namespace {

// Changes of phase within one tick: a turn, top speed, the edges of the hang band, the apex and
// terminal speed. A tick never has that many.
constexpr int kMostStretches = 24;
// Surfaces that a tick comes to, or leaves. Only a floor of dust has that many.
constexpr int kMostContacts = 4096;
// Steeper than this, downward, a surface is a ceiling; above it and short of ground, a wall.
constexpr double kCeilingSlope = -0.5;

bool is_wall(const Tick& tick, Vec normal) noexcept {
  const double steepness = normal.y;
  return steepness < tick.rules.ground_slope && steepness > kCeilingSlope;
}

// A velocity that a surface stops. A wall leaves vertical speed as it is, and takes what is
// across: running into one that leans never becomes a climb, and falling along it is a fall.
Vec stopped_by(const Tick& tick, Vec normal, Vec vector) noexcept {
  if (!is_wall(tick, normal)) return slide_along(vector, normal);
  if (normal.y == 0) return {0, vector.y};
  return slide_along({-vector.y * normal.y / normal.x, vector.y}, normal);
}

// A velocity that a surface stops which gives way at that speed along the normal, 0 or less.
Vec stopped_by(const Tick& tick, Vec normal, double least, Vec velocity) noexcept {
  if (least == 0) return tick.on_ground ? Vec{0, 0} : stopped_by(tick, normal, velocity);
  if (tick.on_ground) {
    const double along = dot(tick.run_axis, normal);
    return along != 0 ? scale(tick.run_axis, least / along) : Vec{0, 0};
  }
  const Vec fleeing = scale(normal, least);
  return add(stopped_by(tick, normal, subtract(velocity, fleeing)), fleeing);
}

enum class Barred { velocity, acceleration };

// A vector without what of it goes into the surfaces that bar the way: along one of them, or
// nothing in the corner between two. A body on its ground goes along that or not at all. A
// velocity may go after a surface that flees, no faster than that.
Vec unbarred(const Tick& tick, Barred what, Vec vector) noexcept {
  const Bars& bars = tick.bars;
  const auto least = [&](std::size_t i) { return what == Barred::velocity ? bars.least[i] : 0; };
  bool barred = false;
  for (std::size_t i = 0; i < bars.count; ++i) {
    if (!(dot(vector, bars.normals[i]) < least(i))) continue;
    barred = true;
    const Vec slid = stopped_by(tick, bars.normals[i], least(i), vector);
    bool free = true;
    for (std::size_t k = 0; k < bars.count; ++k) {
      free = free && (k == i || !(dot(slid, bars.normals[k]) < least(k)));
    }
    if (free) return slid;
  }
  return barred ? Vec{0, 0} : vector;
}

bool is_same_way(Vec a, Vec b) noexcept {
  constexpr double kNoticeable = 1e-9;
  return dot(a, b) > 1 - kNoticeable;
}

void bar(Tick& tick, Vec normal, Vec speed) noexcept {
  tick.was_barred = true;
  Bars& bars = tick.bars;
  // One that goes along with the body does not flee, whatever a rounding says.
  constexpr double kNoticeable = 1e-9;  // u/s
  const double flees = dot(subtract(speed, tick.ride.speed), normal);
  const double least = flees < -kNoticeable ? flees : 0;
  for (std::size_t i = 0; i < bars.count; ++i) {
    if (!is_same_way(bars.normals[i], normal)) continue;
    bars.least[i] = larger(bars.least[i], least);
    bars.newest = i;
    return;
  }
  // More than four at once hold a body from all sides.
  if (bars.count == Bars::kMost) return;
  bars.newest = bars.count++;
  bars.normals[bars.newest] = normal;
  bars.least[bars.newest] = least;
}

// The path of a body that moves by itself with that velocity, together with what moving platforms
// give it.
Path carried(const Tick& tick, Vec own, Vec acceleration, double duration) noexcept {
  return {tick.mover.feet, add(own, tick.ride.speed), acceleration, duration};
}

// A path as it is seen from a surface that travels.
Path seen_from(Vec speed, const Path& path) noexcept {
  if (speed.x == 0 && speed.y == 0) return path;
  Path seen = path;
  seen.velocity = subtract(path.velocity, speed);
  return seen;
}

// Until when a body on its path goes on touching what it touches at a place on it with that normal,
// no farther off than `within` (u, beyond rest); 0 if it touches nothing there.
double touches_from(Tick& tick, const Path& path, Vec place, Vec normal, double within) noexcept {
  const Margins margins = margins_of(tick.rules);
  double until = 0;
  const Box& box = tick.rules.body.box;
  const Box here{add(place, box.lo), add(place, box.hi)};
  const Box region = grown(here, margins.rest + within);
  tick.nearby.visit(region, [&](const Nearby::Part& part) {
    if (!touch(region, part.shape.bounds)) return;
    const Shape& body = tick.rules.body;
    const Lie lie = lie_of(place, part.shape, body, margins.rest, &tick.nearby);
    if (lie.gap > within) return;
    const bool along = is_same_way(lie.normal, normal) ||
                       gap_along(normal, place, part.shape, body, margins.rest) >= -margins.slack;
    if (!along) return;
    const Path seen = seen_from(part.speed, path);
    until = larger(
        until, leaves_at(seen, part.shape, body, margins.rest + 2 * margins.slack, &tick.nearby));
  });
  return until;
}

// Until when a body on its path goes on touching a surface with that normal; 0 if it does not. A
// surface of several pieces is one: what it leaves one of them for is no farther off than that.
double touches_until(Tick& tick, const Path& path, Vec normal) noexcept {
  constexpr int kMostPieces = 64;
  double within = margins_of(tick.rules).slack;
  Vec place = path.from;
  double until = 0;
  for (int pieces = 0; pieces < kMostPieces; ++pieces) {
    const double next = touches_from(tick, path, place, normal, within);
    if (!(next > until)) break;
    until = next;
    if (until >= path.duration) break;
    place = place_at(path, until);
    within = 2 * margins_of(tick.rules).slack;
  }
  return until;
}

// Gives up the bars that the body has left; the newest is looked at when it is known where the body
// goes. Whoever landed in this tick and has left that ground falls again.
void lift_bars(Tick& tick) noexcept {
  Bars& bars = tick.bars;
  const Path still = carried(tick, {0, 0}, {0, 0}, 0);
  std::size_t kept = 0;
  bool has_ground = tick.supported;
  for (std::size_t i = 0; i < bars.count; ++i) {
    const Vec normal = bars.normals[i];
    if (i != bars.newest && !(touches_until(tick, still, normal) > 0)) continue;
    if (i == bars.newest) bars.newest = kept;
    bars.least[kept] = bars.least[i];
    bars.normals[kept++] = normal;
    has_ground = has_ground || normal.y >= tick.rules.ground_slope;
  }
  bars.count = kept;
  if (has_ground || !tick.on_ground) return;
  tick.on_ground = false;
  tick.run_axis = kRightward;
}

// From now on in this tick the body moves along a ground, as fast as it ran.
void come_onto(Tick& tick, Vec normal) noexcept {
  tick.on_ground = true;
  tick.ground_normal = normal;
  tick.run_axis = along_ground(normal);
  tick.bars.count = 0;  // what still bars the way is met at once
  tick.bars.newest = Bars::kNone;
}

// How long a path lasts before a bar is left; kUntouched if it does not even touch the newest.
constexpr double kUntouched = -1;

double barred_until(Tick& tick, const Path& path) noexcept {
  double until = path.duration;
  for (std::size_t i = 0; i < tick.bars.count; ++i) {
    const double end = touches_until(tick, path, tick.bars.normals[i]);
    if (end > 0) {
      until = smaller(until, end);
    } else if (i == tick.bars.newest) {
      return kUntouched;
    }
  }
  return until;
}

// Puts the body beside a face that is no farther away than what counts as flush, if there is room.
bool set_aside(Tick& tick, const Meeting& meeting) noexcept {
  const Margins margins = margins_of(tick.rules);
  const Vec feet = add(tick.mover.feet, scale(meeting.aside, larger(meeting.aside_by, 0)));
  if (nearest_lie(feet, tick.rules.body, margins.pass, margins.rest, tick.nearby).gap < 0) {
    return false;
  }
  tick.mover.feet = feet;
  return true;
}

// Whether a face of what is met is covered, a step away from the corner behind which `other` is its
// neighbour: then it is no outside of what the solids are together. `beyond` is how far the body
// lies within it (u).
bool is_covered(Tick& tick, Vec face, double beyond, Vec other) noexcept {
  const Margins margins = margins_of(tick.rules);
  const Vec off = subtract(other, scale(face, dot(other, face)));
  if (!(length(off) > 0)) return false;  // the face on the other side: no corner is between them
  const Vec along = scale(off, -margins.step / length(off));
  const Vec outside = add(add(tick.mover.feet, along), scale(face, beyond + margins.slack));
  return nearest_lie(outside, tick.rules.body, margins.rest, margins.rest, tick.nearby).gap < 0;
}

// Whether the body goes on as if it had met nothing, since it met a step no higher than what counts
// as flush. Of a corner that is met against both of its faces, the one that faces up more counts;
// but only what is an outside of all solids together does.
bool passes_step(Tick& tick, FirstMeeting& meeting, Vec velocity, Vec acceleration) noexcept {
  if (meeting.aside_by > margins_of(tick.rules).step) return false;
  if (is_covered(tick, meeting.aside, meeting.aside_by, meeting.normal)) return false;
  const bool presses = closes(dot(velocity, meeting.aside), dot(acceleration, meeting.aside));
  // Along the other face it must come over it, or it would only pass it by.
  const auto over = [&meeting](Vec vector) {
    return dot(slide_along(vector, meeting.aside), meeting.normal);
  };
  const bool turns =
      presses &&
      ((meeting.aside.y > meeting.normal.y && closes(over(velocity), over(acceleration))) ||
       is_covered(tick, meeting.normal, 0, meeting.aside));
  if (presses && !turns) return false;
  if (!set_aside(tick, meeting)) return false;
  if (presses) meeting.normal = meeting.aside;
  return !presses;
}

// How far a body must go along `aside` (a unit vector) from a place to be out of all that it is in
// there; 0 if it is in nothing.
double way_out(Tick& tick, Vec place, Vec aside, double most) noexcept {
  const Margins margins = margins_of(tick.rules);
  const Shape& body = tick.rules.body;
  const Passage way(place, aside, {0, 0}, 2 * (most + margins.rest));
  const Box region{add(place, body.box.lo), add(place, body.box.hi)};
  double farthest = 0;
  tick.nearby.visit(region, [&](const Nearby::Part& part) {
    if (!touch(region, part.shape.bounds)) return;
    if (!(lie_of(place, part.shape, body, margins.guard, &tick.nearby).gap < 0)) return;
    farthest = larger(farthest, leaves_at(way, part.shape, body, margins.rest, &tick.nearby));
  });
  return farthest;
}

// A corner that is met on the way `ahead`, and to be passed `aside`, by at most so much (u).
struct Round {
  Vec ahead;
  Vec aside;
  double most;
};

// How far the body must go aside, in `by`, to have nothing ahead any more that would push it
// farther that way: all that is there counts, such as the next block of a ceiling, but not what it
// could stand on. False if that is more than it may.
bool find_way_round(Tick& tick, const Round& round, double& by) noexcept {
  const Margins margins = margins_of(tick.rules);
  const auto ahead_by = [&](double length) {
    const Vec there = add(tick.mover.feet, scale(round.aside, by));
    return add(there, scale(round.ahead, length));
  };
  constexpr int kMostPieces = 64;
  by = 0;
  for (int pieces = 0; by <= round.most && pieces < kMostPieces; ++pieces) {
    double farther = way_out(tick, ahead_by(margins.probe), round.aside, round.most);
    if (farther == 0) {
      FirstMeeting next;
      const Passage on(ahead_by(0), scale(round.ahead, round.most), {0, 0}, 1);
      find_first_in_sight(on, tick.rules.body, margins.guard, tick.nearby, next);
      constexpr double kNoticeable = 1e-9;
      const bool leans = next.met() && dot(next.normal, round.aside) > kNoticeable &&
                         next.normal.y < tick.rules.ground_slope;
      if (!leans) return by > 0;
      farther = larger(
          way_out(tick, ahead_by(round.most), round.aside, round.most),
          way_out(tick, ahead_by(next.time * round.most + margins.probe), round.aside, round.most));
      if (farther == 0) return by > 0;
    }
    by = by + farther;
  }
  return false;
}

// The shorter way of a head to the left or to the right.
bool find_way_beside(Tick& tick, double most, Vec& aside, double& by) noexcept {
  double to_right = 0;
  const bool left = find_way_round(tick, {kUp, {-1, 0}, most}, by);
  const bool right = find_way_round(tick, {kUp, {1, 0}, most}, to_right);
  aside = {-1, 0};
  if (right && (!left || to_right < by)) {
    aside = {1, 0};
    by = to_right;
  }
  return left || right;
}

// Puts the body past a corner that its head, on the way up, or its foot otherwise, only just clips,
// if the way there is free and what was met is no longer in the way. It goes on as it did.
bool comes_round(Tick& tick, const FirstMeeting& meeting, Vec velocity, double fraction) noexcept {
  const Rules& rules = tick.rules;
  const bool rises = !tick.on_ground && velocity.y > 0;
  const bool head = rises && meeting.normal.y <= kCeilingSlope;
  const bool foot = !rises && is_wall(tick, meeting.normal);
  // However many parts a corner has, a tick does not go on and on round it.
  constexpr std::uint8_t kMostTimes = 8;
  const std::uint8_t which = head ? 1 : 0;
  const double most = (head ? rules.corner_nudge : rules.ledge_lift) - tick.put_round[which];
  if (!(head || foot) || !(most > 0) || tick.times_round[which] == kMostTimes) return false;
  Vec aside = kUp;
  double by = 0;
  const Vec ahead{meeting.normal.x < 0 ? 1.0 : -1.0, 0};
  const bool found =
      head ? find_way_beside(tick, most, aside, by) : find_way_round(tick, {ahead, kUp, most}, by);
  if (!found) return false;
  const Margins margins = margins_of(rules);
  const Passage way(tick.mover.feet, scale(aside, by), {0, 0}, 1);
  FirstMeeting in_the_way;
  find_first_in_sight(way, rules.body, margins.guard, tick.nearby, in_the_way);
  if (in_the_way.met()) return false;
  GroundCheck ledge;
  if (foot) {
    const Vec on_it = add(way.to, scale(ahead, margins.probe));
    look_underfoot(on_it, rules, tick.nearby, ledge);
    if (ledge.reason != GroundReason::ground) return false;
  }
  tick.mover.feet = way.to;
  tick.put_round[which] = tick.put_round[which] + by;
  ++tick.times_round[which];
  if (foot && tick.on_ground) come_onto(tick, ledge.normal);
  // A round body may come round a corner in several parts, and past several pieces of it.
  const std::size_t count = tick.events.size();
  const bool goes_on = count > 0 && tick.events[count - 1].kind == EventKind::nudged &&
                       tick.events[count - 1].detail == which;
  if (!goes_on) tick.note(EventKind::nudged, fraction, which, 0, meeting.surface);
  return true;
}

// The vertical speed with which a landing bounces; 0 if the body stays down.
double rebound_of(const Tick& tick, const SurfaceTraits& surface, double speed) noexcept {
  if (tick.supported || tick.bounced || !surface.bounces()) return 0;
  const double rebound = larger(surface.bounce * speed, surface.bounce_speed);
  // What gravity takes back within a tick is no bounce.
  return rebound > tick.rules.fall_gravity * tick.rules.dt ? rebound : 0;
}

BUSHBABY_RARE void bounce(Tick& tick, double rebound, double fraction, SurfaceId surface) noexcept {
  Character& character = tick.mover;
  tick.bounced = true;
  tick.rise = rebound;
  end_dash(tick, DashEnd::blocked, fraction);
  end(character, kBounceEnds);
  tick.climbed = false;
  if (tick.rules.air_restore_on_bounce) character.air_jumps_used = 0;
  if (tick.rules.dash_restore_on_bounce) character.dashes_used = 0;
  pull_anew(tick);
  tick.note(EventKind::bounced, fraction, 0, rebound, surface);
}

// Books a contact; `velocity` is that of the body as it arrives, not yet stopped, and `ahead` what
// of it downwards belongs to the rest of the tick. Returns the speed with which it bounces, 0 if
// it does not.
double take_contact(Tick& tick, const FirstMeeting& contact, Vec velocity, double fraction,
                    double ahead = 0) noexcept {
  const double steepness = contact.normal.y;
  const double speed = -dot(subtract(velocity, contact.speed), contact.normal);
  const SurfaceTraits& surface = tick.world.surface(contact.surface);
  if (surface.has_touch && tick.touched == kNoSurface) {
    tick.touched = contact.surface;
    tick.touched_normal = contact.normal;
  }
  if (steepness >= tick.rules.ground_slope) {
    const double rebound = rebound_of(tick, surface, larger(speed - ahead, 0));
    if (rebound > 0) return rebound + inherited_from(tick, contact.surface).y;
    if (surface.ground && !tick.supported && !tick.met_underfoot) {
      tick.note(EventKind::landed, fraction, 0, speed, contact.surface);
    }
    (surface.ground ? tick.met_underfoot : tick.met_refused) = true;
    if (surface.ground) {
      come_onto(tick, contact.normal);
      board(tick, contact.surface, contact.speed);
    }
  } else if (is_wall(tick, contact.normal)) {
    const int side = contact.normal.x < 0 ? 1 : -1;
    const std::uint8_t bit = side > 0 ? 2 : 1;
    if (tick.mover.wall != side && (tick.walls_reported & bit) == 0) {
      tick.walls_reported |= bit;
      tick.note(EventKind::wall_touched, fraction, side_detail(side), speed, contact.surface);
    }
    tick.wall = side;
    tick.wall_surface = contact.surface;
  } else if (!tick.phase.climbs && !tick.mover.crushed && !tick.bumped) {
    tick.bumped = true;
    tick.note(EventKind::bumped_head, fraction, 0, speed, contact.surface);
  }
  bar(tick, contact.normal, contact.speed);
  return 0;
}

// A velocity, or an acceleration, that on a ground does not point into it, not by a rounding.
Vec moving_at(const Tick& tick, double run, double rise) noexcept {
  const Vec vector = in_world(tick, run, rise);
  return tick.on_ground ? slide_along(vector, tick.ground_normal) : vector;
}

// Takes from a run speed and a vertical speed what goes into the surfaces that bar the way.
void stop(const Tick& tick, double& run, double& rise) noexcept {
  if (tick.on_ground) rise = 0;
  const Vec intended = moving_at(tick, run, rise);
  const Vec kept = unbarred(tick, Barred::velocity, intended);
  if (!tick.on_ground) {
    run = kept.x;
    rise = kept.y;
  } else if (kept == Vec{0, 0}) {
    run = 0;
  } else if (kept != intended) {
    run = dot(kept, tick.run_axis);
  }
}

// The run speed's way in what is left of the tick.
Stretch run_stretch(const Tick& tick, double remaining) noexcept {
  const Drive& drive = tick.drive;
  if (!drive.fixed) return drive_stretch(tick.run, drive);
  // What a contact has taken away is not made up for.
  const double end = tick.was_barred ? tick.run + drive.fixed_rate * remaining : drive.fixed_end;
  return {drive.fixed_rate, remaining, end};
}

// The speed after some time of a stretch.
double end_speed(const Stretch& stretch, double speed, double time) noexcept {
  return time == stretch.lasts ? stretch.ends_at : speed + stretch.rate * time;
}

// The way of the vertical speed in what is left of the tick.
Stretch rise_stretch(const Tick& tick, double remaining) noexcept {
  if (tick.on_ground) return {0, remaining, tick.rise};
  return gravity_stretch(tick.rise, tick.phase, tick.rules);
}

// What lies ahead in the exact loop: a path on which nothing changes but by contact. All of it is
// made where it stays: copies of what has just been written cost more than the arithmetic.
struct Leg {
  Stretch across;
  Stretch along;
  Vec own;  // u/s, the velocity of the body itself
  Passage path;

  // That of a body that nothing holds back.
  Leg(const Tick& tick, double remaining) noexcept
      : across(run_stretch(tick, remaining)),
        along(rise_stretch(tick, remaining)),
        own(moving_at(tick, tick.run, tick.rise)),
        path(tick.mover.feet, add(own, tick.ride.speed), moving_at(tick, across.rate, along.rate),
             smaller(remaining, smaller(across.lasts, along.lasts))) {}
};

// Lets a speed change at no more than the rate that a surface leaves it: until it comes to where
// the stretch was to end, if it ever does.
void hold_to(Stretch& stretch, double speed, double left) noexcept {
  constexpr double kRounding = 1e-12;
  if (!(magnitude(left - stretch.rate) > kRounding * magnitude(stretch.rate))) return;
  const double lasts = (stretch.ends_at - speed) / left;
  stretch.rate = left;
  stretch.lasts = lasts > 0 ? lasts : std::numeric_limits<double>::infinity();
}

// The leg of a body that touches something which bars its way.
BUSHBABY_APART Leg barred_leg(Tick& tick, double remaining) noexcept {
  for (;;) {
    const std::size_t bars_before = tick.bars.count;
    lift_bars(tick);
    if (tick.bars.count < bars_before) be_released(tick);
    Leg leg(tick, remaining);
    Path path = leg.path;
    path.acceleration = unbarred(tick, Barred::acceleration, path.acceleration);
    const Vec left = path.acceleration;
    hold_to(leg.across, tick.run, tick.on_ground ? dot(left, tick.run_axis) : left.x);
    hold_to(leg.along, tick.rise, tick.on_ground ? 0 : left.y);
    path.duration = smaller(remaining, smaller(leg.across.lasts, leg.along.lasts));
    path.duration = barred_until(tick, path);
    tick.bars.newest = Bars::kNone;  // it is looked at like all others from now on
    if (path.duration == kUntouched) continue;
    leg.path = Passage(path);
    return leg;
  }
}

Leg next_leg(Tick& tick, double remaining) noexcept {
  if (rarely(tick.bars.count > 0)) return barred_leg(tick, remaining);
  return Leg(tick, remaining);
}

// Goes to where the leg meets something, with `left` of the tick still to go there.
BUSHBABY_APART void go_to_meeting(Tick& tick, const Leg& leg, FirstMeeting& meeting,
                                  double left) noexcept {
  const Vec arriving = add(leg.own, scale(leg.path.acceleration, meeting.time));
  tick.mover.feet = place_at(leg.path, meeting.time);
  tick.nearby.pass_to(tick.rules.dt - left);
  tick.run = tick.on_ground ? dot(arriving, tick.run_axis) : arriving.x;
  if (!tick.on_ground) tick.rise = arriving.y;
  const Vec all = add(arriving, tick.ride.speed);
  if (passes_step(tick, meeting, subtract(all, meeting.speed), leg.path.acceleration)) return;
  const double fraction = (tick.rules.dt - left) / tick.rules.dt;
  if (comes_round(tick, meeting, arriving, fraction)) return;
  const double rebound = take_contact(tick, meeting, all, fraction);
  stop(tick, tick.run, tick.rise);
  be_held(tick, meeting, moving_at(tick, tick.run, tick.rise));
  if (rebound > 0) bounce(tick, rebound, fraction, meeting.surface);
}

// Goes to the end of the leg, with `left` of the tick still to go there.
void go_to_end(Tick& tick, const Leg& leg, double left) noexcept {
  const bool rose = tick.rise > 0;
  const double time = leg.path.duration;
  tick.mover.feet = leg.path.to;
  tick.nearby.pass_to(tick.rules.dt - left);
  tick.run = end_speed(leg.across, tick.run, time);
  tick.rise = end_speed(leg.along, tick.rise, time);
  if (rarely(rose && tick.rise <= 0)) note_apex(tick, (tick.rules.dt - left) / tick.rules.dt);
}

// The exact loop: closed form from change to change of either speed, and from contact to contact.
void move_exact(Tick& tick) noexcept {
  double remaining = tick.rules.dt;
  int stretches = 0;
  int contacts = 0;
  while (remaining > 0 && stretches < kMostStretches && contacts < kMostContacts) {
    const Leg leg = next_leg(tick, remaining);
    const double time = leg.path.duration;
    FirstMeeting meeting;
    find_first(leg.path, tick.rules, tick.nearby, meeting);
    if (rarely(meeting.met())) {
      remaining = remaining - meeting.time;
      go_to_meeting(tick, leg, meeting, remaining);
    } else {
      remaining = time == remaining ? 0 : remaining - time;
      go_to_end(tick, leg, remaining);
    }
    const bool changes = !meeting.met() && (time == leg.across.lasts || time == leg.along.lasts);
    ++(changes ? stretches : contacts);
    if (tick.rise <= 0 && tick.mover.cut_heavy) tick.mover.cut_heavy = tick.phase.heavy = false;
  }
  // What it is held against does not let it go.
  if (rarely(remaining > 0)) tick.ride.squeezed = true;
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
  double moves = moving_speed(rules.integrator, tick.run, run);
  double climbs = moving_speed(rules.integrator, tick.rise, rise);
  const bool tops_out = tick.rise > 0 && rise <= 0;
  const bool tops_out_at_end = climbs > 0;
  if (tops_out && !tops_out_at_end) note_apex(tick, 0);
  // What a tick moves too fast at its start would else be gained at every bounce.
  const double gained = magnitude(rise - tick.rise) / rules.dt;
  tick.run = run;
  tick.rise = rise;

  double remaining = rules.dt;
  int contacts = 0;
  for (; remaining > 0 && contacts < kMostContacts; ++contacts) {
    const Vec own = moving_at(tick, moves, climbs);
    const Passage path(carried(tick, own, {0, 0}, remaining));
    FirstMeeting meeting;
    find_first(path, rules, tick.nearby, meeting);
    character.feet = meeting.met() ? place_at(path, meeting.time) : path.to;
    if (!meeting.met()) break;
    remaining = remaining - meeting.time;
    tick.nearby.pass_to(rules.dt - remaining);
    if (passes_step(tick, meeting, subtract(path.velocity, meeting.speed), {0, 0})) continue;
    if (comes_round(tick, meeting, own, 1)) continue;
    const double arriving = tick.run;
    const double rebound = take_contact(tick, meeting, path.velocity, 1, gained * remaining);
    moves = moves + (tick.run - arriving);  // what boarding a moving platform takes
    tick.bars.newest = Bars::kNone;
    lift_bars(tick);
    stop(tick, moves, climbs);
    stop(tick, tick.run, tick.rise);
    be_held(tick, meeting, moving_at(tick, moves, climbs));
    if (rebound > 0) {
      bounce(tick, rebound, 1, meeting.surface);
      climbs = 0;
    }
  }
  if (contacts == kMostContacts) tick.ride.squeezed = true;
  const bool stopped_by_ceiling = tops_out_at_end && climbs <= 0;
  if (tops_out && tops_out_at_end && !stopped_by_ceiling) note_apex(tick, 1);
  if (tick.rise <= 0) character.cut_heavy = false;
}

}  // namespace

void move(Tick& tick) noexcept {
  tick.on_ground = tick.supported;
  if (!tick.supported) tick.run_axis = kRightward;
  if (tick.rules.integrator == Integrator::exact) {
    move_exact(tick);
  } else {
    move_stepped(tick);
  }
  tick.nearby.pass_to(tick.rules.dt);
  tick.nearby.show_all();
}

}  // namespace bushbaby::detail
