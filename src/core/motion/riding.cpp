#include "riding.h"

#include "tick.h"

namespace bushbaby::detail {
namespace {

// The surface that a body keeps to: it stands on it, or a wall holds it.
SurfaceId kept_to(const Character& character) noexcept {
  if (character.grounded()) return character.ground.surface;
  return character.on_wall ? character.wall_surface : kNoSurface;
}

// Of more than there is room for, the last ones count.
void hold_against(Ride& ride, const Hold& hold) noexcept {
  for (std::size_t i = 0; i < ride.hold_count; ++i) {
    if (ride.holds[i].normal == hold.normal && ride.holds[i].speed == hold.speed) return;
  }
  if (ride.hold_count == Ride::kMostHolds) {
    for (std::size_t i = 1; i < Ride::kMostHolds; ++i) ride.holds[i - 1] = ride.holds[i];
    --ride.hold_count;
  }
  ride.holds[ride.hold_count++] = hold;
}

// The least speed along its normal that a hold leaves: less by what the body itself goes away with.
// What it goes in with it is stopped in when it meets the surface again.
double least_of(const Hold& hold, Vec own) noexcept {
  return dot(hold.speed, hold.normal) - larger(dot(own, hold.normal), 0);
}

// Whether a body that is given a speed goes into none of the surfaces that hold it.
bool is_allowed(const Ride& ride, Vec given, Vec own) noexcept {
  constexpr double kNoticeable = 1e-10;  // u/s
  for (std::size_t i = 0; i < ride.hold_count; ++i) {
    const Hold& hold = ride.holds[i];
    if (dot(given, hold.normal) < least_of(hold, own) - kNoticeable) return false;
  }
  return true;
}

// Gives the speed nearest to the intended one that every hold allows: that itself, along one face,
// or into the corner between two. False if there is none.
bool find_speed(Ride& ride, Vec own) noexcept {
  bool found = false;
  double nearest = 0;
  const auto consider = [&](Vec speed) {
    const Vec off = subtract(speed, ride.intended);
    if (!is_allowed(ride, speed, own) || (found && dot(off, off) >= nearest)) return;
    found = true;
    nearest = dot(off, off);
    ride.speed = speed;
  };
  consider(ride.intended);
  if (found) return true;
  for (std::size_t i = 0; i < ride.hold_count; ++i) {
    const Hold& hold = ride.holds[i];
    const double lacks = least_of(hold, own) - dot(ride.intended, hold.normal);
    consider(add(ride.intended, scale(hold.normal, lacks)));
  }
  if (found) return true;
  for (std::size_t i = 0; i < ride.hold_count; ++i) {
    for (std::size_t k = 0; k < i; ++k) {
      const Hold& a = ride.holds[k];
      const Hold& b = ride.holds[i];
      const double turn = a.normal.x * b.normal.y - a.normal.y * b.normal.x;
      constexpr double kAlongEachOther = 1e-9;
      if (!(magnitude(turn) > kAlongEachOther)) continue;
      const double of_a = least_of(a, own);
      const double of_b = least_of(b, own);
      consider({(of_a * b.normal.y - of_b * a.normal.y) / turn,
                (of_b * a.normal.x - of_a * b.normal.x) / turn});
    }
  }
  return found;
}

// There is no way out: what travels goes on into the body, and what stays holds it.
void be_squeezed(Tick& tick, Vec own) noexcept {
  Ride& ride = tick.ride;
  ride.squeezed = true;
  std::size_t kept = 0;
  for (std::size_t i = 0; i < ride.hold_count; ++i) {
    if (ride.holds[i].speed == Vec{0, 0}) {
      ride.holds[kept++] = ride.holds[i];
    } else {
      tick.nearby.let_be(ride.holds[i].surface);
    }
  }
  ride.hold_count = kept;
  if (!find_speed(ride, own)) ride.speed = {0, 0};
}

}  // namespace

void find_crushed(Tick& tick) noexcept {
  Character& character = tick.mover;
  constexpr double kNoticeable = 1e-9;
  const NearestLie near = nearest_lie(character.feet, tick.rules.body, 0, 0, tick.nearby);
  const bool crushed = near.gap < -kNoticeable;
  if (crushed && !character.crushed) tick.note(EventKind::crushed, 1, 0, 0, near.surface);
  character.crushed = crushed;
}

Vec inherited_from(const Tick& tick, SurfaceId surface) noexcept {
  const Vec speed = tick.nearby.speed_of(surface);
  if (speed == Vec{0, 0}) return speed;
  const SurfaceTraits& traits = tick.world.surface(surface);
  return {speed.x * traits.inherit_horizontal, larger(speed.y * traits.inherit_vertical, 0)};
}

void begin_ride(Tick& tick) noexcept {
  if (!tick.nearby.is_in_time()) return;
  Ride& ride = tick.ride;
  ride.surface = kept_to(tick.mover);
  ride.begun_with = ride.intended = ride.speed = tick.nearby.speed_of(ride.surface);
}

void board(Tick& tick, SurfaceId surface, Vec speed) noexcept {
  Ride& ride = tick.ride;
  if (!tick.nearby.is_in_time() || surface == ride.surface) return;
  if (speed != Vec{0, 0} || ride.intended != Vec{0, 0}) {
    const double given = inherited_from(tick, ride.surface).x - inherited_from(tick, surface).x;
    tick.run = tick.run + given * tick.run_axis.x;
  }
  ride.surface = surface;
  ride.intended = ride.speed = speed;
}

void be_held(Tick& tick, const FirstMeeting& meeting, Vec own) noexcept {
  if (!tick.nearby.is_in_time()) return;
  Ride& ride = tick.ride;
  constexpr double kAMoment = 1e-12;  // s
  if (tick.nearby.passed() - ride.held_at > kAMoment) ride.hold_count = 0;
  ride.held_at = tick.nearby.passed();
  hold_against(ride, {meeting.normal, meeting.speed, meeting.surface});
  if (!find_speed(ride, own)) be_squeezed(tick, own);
}

void be_released(Tick& tick) noexcept {
  tick.ride.hold_count = 0;
  tick.ride.speed = tick.ride.intended;
}

void settle_ride(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (character.drop_left > 0) {
    const Vec way = tick.world.travel(character.drop_surface, character.tick);
    character.drop_from = add(character.drop_from, tick.frame.into(way));
  }
  const bool remembers = character.coyote_left > 0 || character.cut_armed;
  if (!remembers || character.grounded()) character.platform_rise = 0;
  const SurfaceId left = tick.ride.surface;
  const SurfaceId now = kept_to(character);
  if (now == left) return;
  const Vec given = inherited_from(tick, left);
  const Vec taken = inherited_from(tick, now);
  if (given == Vec{0, 0} && taken == Vec{0, 0}) return;
  // Off a wall, only what helps away from it.
  const bool off_wall = tick.launched && character.jump_kind == JumpKind::wall;
  const int side = character.wall != 0 ? character.wall : character.wall_lost;
  const bool leads_away = given.x * side < 0;
  const bool helps = !off_wall || now != kNoSurface || leads_away;
  tick.run = tick.run + ((helps ? given.x : 0) - taken.x) * tick.run_axis.x;
  if (now != kNoSurface) return;
  if (tick.launched) tick.rise = tick.rise + given.y;
  if (tick.launched || character.coyote_left > 0) character.platform_rise = given.y;
  if (character.wall_coyote_left > 0) character.wall_gave = {leads_away ? given.x : 0, given.y};
}

}  // namespace bushbaby::detail
