// What surrounds the body at the end of a tick: ground and walls.
#include "tick.h"

namespace bushbaby::detail {

void bring_to_rest(Character& character, GroundCheck& ground, const Rules& rules,
                   Nearby& nearby) noexcept {
  const Margins margins = margins_of(rules);
  const double shift = margins.rest - ground.gap;
  // Straight up or down: a wall beside it stays as near as it is.
  const Vec feet = add(character.feet, scale(kUp, shift / ground.normal.y));
  const double room = nearest_lie(feet, rules.body, margins.guard, margins.rest, nearby).gap;
  if (room < 0) return;
  character.feet = feet;
  ground.gap = margins.rest;
}

void pay_for_walking_off(Tick& tick) noexcept {
  Character& character = tick.mover;
  const bool finite = tick.rules.air_jumps != kUnlimited;
  if (tick.rules.walk_off_costs && finite && character.air_jumps_used < tick.rules.air_jumps) {
    ++character.air_jumps_used;
  }
}

namespace {

// What ground underfoot restores, and what it ends, be it left again in the same tick.
void touch_down(Tick& tick) noexcept {
  Character& character = tick.mover;
  tick.rise = 0;
  end(character, kLandingEnds);
  character.air_jumps_used = 0;
  if (character.dash_left <= 1) character.dashes_used = 0;
  character.wall_released = false;
  character.wall_spent = 0;
  character.climb_used = 0;
  character.cling_side = character.wall;
  character.cling_left = character.wall != 0 ? tick.rules.cling_ticks : 0;
}

// Ground that is walked on to, from a neighbour of the same height, has been met by no cast.
void step_on(Tick& tick, const GroundCheck& ground) noexcept {
  if (tick.touched != kNoSurface || !tick.world.surface(ground.surface).has_touch) return;
  tick.touched = ground.surface;
  tick.touched_normal = ground.normal;
}

// The body stands on the ground that it has come to, or has touched it and left it again.
BUSHBABY_APART void come_to_ground(Tick& tick, SurfaceId stood_on) noexcept {
  Character& character = tick.mover;
  touch_down(tick);
  if (!character.grounded()) return;
  if (character.ground.surface != stood_on) step_on(tick, character.ground);
  settle(character, character.ground, tick.rules, tick.nearby);
}

// Ground that was walked off opens the time of grace; ground that may not be jumped from does not,
// nor does a push.
BUSHBABY_RARE void lose_ground(Tick& tick, SurfaceId stood_on) noexcept {
  Character& character = tick.mover;
  const bool graceful = !character.has(StatusKind::no_control) && tick.world.surface(stood_on).jump;
  leave_ground(tick, LeaveReason::walked_off, 1, stood_on);
  const double rise = tick.run * tick.run_axis.y;
  if (tick.rules.ramp_launch && rise > 0) {
    tick.rise = rise;
    tick.run = tick.run * tick.run_axis.x;
  }
  character.coyote_left = graceful ? tick.rules.coyote_ticks : 0;
  if (character.coyote_left == 0) pay_for_walking_off(tick);
}

// The tangent of the steepest ground.
double tangent_of_ground(const Rules& rules) noexcept {
  return std::sqrt(1 / (rules.ground_slope * rules.ground_slope) - 1);
}

// Whether the body has come to the end of the ramp that it runs up: what it touches is flatter, and
// a body's width ahead there is no ground, be it as steep as any, that would go on from there.
BUSHBABY_RARE bool leaves_ramp(Tick& tick, const GroundCheck& ground) noexcept {
  const Rules& rules = tick.rules;
  const Vec axis = tick.run_axis;
  constexpr double kNoticeable = 1e-9;
  const bool climbs = tick.on_ground && tick.run * axis.y > 0;
  if (!climbs || ground.reason != GroundReason::ground) return false;
  if (!(ground.normal.y > axis.x + kNoticeable)) return false;
  const double width = rules.body.box.hi.x - rules.body.box.lo.x;
  const double slope = magnitude(axis.y / axis.x);
  const Vec ahead = add(tick.mover.feet, {tick.run > 0 ? width : -width, slope * width});
  const double reach = width * (slope + tangent_of_ground(rules));
  GroundCheck beyond;
  look_underfoot(ahead, rules, tick.nearby, beyond, reach);
  return beyond.reason != GroundReason::ground;
}

// The ground that goes on below a body that walked over a crest, or down a slope that got steeper:
// as far down as the tuning says; or else as it climbed and, to ground that slopes, as the
// steepest one falls. What lies lower is beyond a ledge, and so is level ground below level ground.
BUSHBABY_APART GroundCheck stick_to_ground(Tick& tick) noexcept {
  const Character& character = tick.mover;
  if (tick.rules.stick_depth >= 0) {
    GroundCheck ground;
    look_underfoot(character.feet, tick.rules, tick.nearby, ground, tick.rules.stick_depth);
    return ground.reason == GroundReason::ground ? ground : GroundCheck{};
  }
  // A moving platform's way is no way over it.
  const double start = tick.came_from.x + tick.ride.begun_with.x * tick.rules.dt;
  const double across = magnitude(character.feet.x - start);
  const bool right = character.feet.x > start;
  const double tangent = tangent_of_ground(tick.rules);
  const Vec axis = tick.run_axis;
  const double climbed = larger(axis.y / axis.x * (right ? 1 : -1), 0);
  if (across == 0) return {};
  GroundCheck ground;
  look_underfoot(character.feet, tick.rules, tick.nearby, ground, across * (climbed + tangent));
  if (ground.reason != GroundReason::ground) return {};
  const Margins margins = margins_of(tick.rules);
  const double drop = (ground.gap - margins.rest) / ground.normal.y;
  const double falls = ground.normal.x != 0 ? tangent : 0;
  const double explained = across * (climbed + falls);
  return drop <= explained + margins.probe ? ground : GroundCheck{};
}

// Looks for what is underfoot of a body that may stand.
BUSHBABY_APART void look_for_ground(Tick& tick, bool was_on_ground) noexcept {
  Character& character = tick.mover;
  GroundCheck& ground = character.ground;
  look_underfoot(character.feet, tick.rules, tick.nearby, ground);
  if (rarely(ground.reason == GroundReason::none && tick.on_ground)) ground = stick_to_ground(tick);
  // A wall may lean into the body from below without giving ground; level ground that was not
  // met in this tick is still to be reached.
  const bool counts = ground.reason != GroundReason::ground || was_on_ground;
  if (!counts || (rarely(tick.rules.ramp_launch) && leaves_ramp(tick, ground))) ground = {};
  if (ground.reason == GroundReason::refused) tick.rise = 0;  // no downward speed builds up there
}

// Whether surfaces too steep to stand on hold a body from both sides, so that it cannot fall: some
// sum of their normals is up. Then it stands on the less steep of them.
BUSHBABY_RARE void look_for_wedge(Tick& tick, bool was_wedged) noexcept {
  const bool rests = was_wedged ? tick.rise <= 0 : tick.rise == 0 && tick.run == 0;
  if (!rests || tick.mover.ground.reason == GroundReason::ground) return;
  const Rules& rules = tick.rules;
  const Vec feet = tick.mover.feet;
  const Margins margins = margins_of(rules);
  const Box region = grown(Box{add(feet, rules.body.box.lo), add(feet, rules.body.box.hi)},
                           margins.rest + margins.slack);
  struct Side {
    bool any = false;
    double rise = 0;  // of its normal, for one across
    SurfaceId surface = kNoSurface;
  };
  Side sides[2];
  tick.nearby.visit(region, [&](const Nearby::Part& part) {
    if (!touch(region, part.shape.bounds)) return;
    const Lie lie = lie_of(feet, part.shape, rules.body, margins.rest);
    if (lie.gap > margins.slack || lie.normal.x == 0) return;
    Side& side = sides[lie.normal.x < 0 ? 0 : 1];
    const double rise = lie.normal.y / magnitude(lie.normal.x);
    if (side.any && !(rise > side.rise)) return;
    side = {true, rise, part.surface};
  });
  constexpr double kNoticeable = 1e-6;
  if (!sides[0].any || !sides[1].any || !(sides[0].rise + sides[1].rise > kNoticeable)) return;
  const Side& under = sides[0].rise > sides[1].rise ? sides[0] : sides[1];
  if (!tick.world.surface(under.surface).ground) return;
  tick.mover.ground = {GroundReason::ground, under.surface, kUp, margins.rest, true};
}

// Finds what is underfoot at the end of the tick.
void find_ground(Tick& tick, bool was_on_ground) noexcept {
  GroundCheck& ground = tick.mover.ground;
  const bool was_wedged = ground.wedged;
  const bool was_refused = tick.met_refused || ground.reason == GroundReason::refused;
  ground = {};
  if (tick.rise > 0) {
    ground.reason = GroundReason::rising;
  } else if (was_on_ground || was_refused || tick.wall != 0) {
    look_for_ground(tick, was_on_ground);
  }
  if (rarely(was_wedged || tick.bars.count > 1)) look_for_wedge(tick, was_wedged);
}

}  // namespace

void check_ground(Tick& tick) noexcept {
  Character& character = tick.mover;
  const bool was_on_ground = tick.supported || tick.met_underfoot;
  if (tick.supported) tick.rise = 0;
  const SurfaceId stood_on = character.ground.surface;
  find_ground(tick, was_on_ground);
  GroundCheck& ground = character.ground;
  const bool stands = ground.reason == GroundReason::ground;
  const bool lands = tick.met_underfoot && !tick.supported;
  if (rarely(ground.wedged && !tick.supported && !tick.met_underfoot)) {
    tick.note(EventKind::landed, 1, 0, 0, ground.surface);
  }
  if (stands || lands) come_to_ground(tick, stood_on);
  if (!stands && was_on_ground) {
    lose_ground(tick, stood_on);
  } else if (!stands && tick.in_grace && character.coyote_left == 0) {
    pay_for_walking_off(tick);
  }
  if (ground.reason == GroundReason::none && character.coyote_left > 0)
    ground.reason = GroundReason::grace;
  // On a slope the run is put together from two parts in every tick: what came to 0 may be some
  // roundings away from it, and would count as a run against the held direction.
  constexpr double kRounding = 1e-11;
  const bool sloped =
      (tick.ground_normal.y > 0 && tick.ground_normal.x != 0) || ground.normal.x != 0;
  if (sloped && magnitude(tick.run) <= kRounding * tick.rules.top_speed) tick.run = 0;
  // It leaves level, and stands along its ground.
  tick.run_axis = stands ? along_ground(ground.normal) : kRightward;
}

namespace {

// A wall that was not touched before, or the other one.
BUSHBABY_RARE void come_to_wall(Tick& tick) noexcept {
  Character& character = tick.mover;
  const auto side = static_cast<std::int8_t>(tick.wall);
  character.wall_released = false;
  if (character.cling_side != side) {
    character.cling_side = side;
    character.cling_left = tick.rules.cling_ticks;
  }
  if (!tick.world.surface(tick.wall_surface).cling) return;
  if (tick.rules.air_restore_on_wall) character.air_jumps_used = 0;
  if (tick.rules.dash_restore_on_wall) character.dashes_used = 0;
}

// A wall that ends while it is climbed upward.
BUSHBABY_RARE void climb_over(Tick& tick) noexcept {
  const int side = tick.mover.wall;
  if (tick.rules.climb_over > 0) tick.run = side * larger(side * tick.run, tick.rules.climb_over);
  tick.note(EventKind::climbed_over, 1, side_detail(side), magnitude(tick.run));
}

BUSHBABY_RARE void lose_wall(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (tick.climbed && tick.rise > 0) climb_over(tick);
  tick.note(EventKind::wall_lost, 1, side_detail(character.wall));
  const bool graceful = !character.wall_released && !character.grounded() &&
                        tick.world.surface(character.wall_surface).cling;
  character.wall_lost = character.wall;
  character.wall_lost_tick = graceful ? character.tick : kLongAgo;
  character.wall_coyote_left = graceful ? tick.rules.wall_coyote_ticks : 0;
  character.wall_gave = {0, 0};  // what a moving platform gives is not known yet
  character.wall_released = false;
  character.wall = 0;
}

// A loop that moves by the speed of before would have a speed into the wall in every other tick.
// What is not flush with it yet still has a way to go.
void hold_back(Tick& tick, double gap) noexcept {
  const Margins margins = margins_of(tick.rules);
  if (tick.rules.integrator != Integrator::explicit_step) return;
  if (gap > margins.rest + margins.slack) return;
  if (tick.run * tick.mover.wall > 0) tick.run = 0;
}

}  // namespace

void see_to_wall(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (character.wall_coyote_left > 0) --character.wall_coyote_left;
  if (tick.wall != 0) {
    if (character.wall != tick.wall) come_to_wall(tick);
    character.wall = static_cast<std::int8_t>(tick.wall);
    character.wall_surface = tick.wall_surface;
    return;
  }
  if (character.wall == 0) return;
  const Vec towards = scale(kRightward, character.wall);
  FirstMeeting beside;
  probe(character.feet, towards, tick.rules, tick.nearby, beside);
  if (beside.met() && beside.normal.y < tick.rules.ground_slope) {
    character.wall_surface = beside.surface;
    hold_back(tick, beside.gap);
    return;
  }
  lose_wall(tick);
}

}  // namespace bushbaby::detail
