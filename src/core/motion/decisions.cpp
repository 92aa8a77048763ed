#include "decisions.h"

#include <cmath>

#include "core/shape/arithmetic.h"
#include "travel.h"

namespace bushbaby::detail {
namespace {

// The ticks for which a direction has been held, this one included; negative ones the other way.
Ticks held_for(int now, Ticks before) noexcept {
  if (is_held(now, 1)) return before > 0 ? (before < kForEver ? before + 1 : before) : 1;
  if (is_held(now, -1)) return before < 0 ? (before > -kForEver ? before - 1 : before) : -1;
  return 0;
}

Ticks ticks_of(Ticks held) noexcept { return held < 0 ? -held : held; }

Trial verdict(Candidate candidate, Hurdle hurdle, std::string_view knob = {}, std::int64_t have = 0,
              std::int64_t need = 0) noexcept {
  Trial trial;
  trial.candidate = candidate;
  trial.hurdle = hurdle;
  trial.knob = knob;
  trial.have = have;
  trial.need = need;
  return trial;
}

Trial at_surface(Trial trial, SurfaceId surface) noexcept {
  trial.surface = surface;
  return trial;
}

Trial locked_by(Candidate candidate, StatusKind kind, const Status& status) noexcept {
  Trial trial =
      verdict(candidate, Hurdle::locked, {}, status.left, static_cast<std::int64_t>(kind));
  trial.surface = status.surface;
  trial.by_zone = status.by_zone;
  return trial;
}

// The status that forbids jumping or any action, if one does.
const Status* lock_of(const Character& character, bool jump, StatusKind& kind) noexcept {
  for (const StatusKind each : {StatusKind::no_control, StatusKind::stun, StatusKind::no_jump}) {
    if (each == StatusKind::no_jump && !jump) continue;
    if (!character.has(each)) continue;
    kind = each;
    return &character.status[static_cast<std::size_t>(each)];
  }
  return nullptr;
}

bool jump_is_asked(const Moment& moment) noexcept {
  return moment.jump_pressed || moment.character.buffer_left > 0;
}

// A jump that nobody asks for, though the button may still be held.
Trial not_asked(Candidate candidate, const Moment& moment) noexcept {
  return verdict(candidate, moment.held.jump ? Hurdle::still_held : Hurdle::not_asked);
}

// What stands in the way of a jump from the surface underfoot, if it does.
Trial find_ban_on_ground(const Moment& moment) noexcept {
  const Trial ban = find_ban(Candidate::ground_jump, moment, true);
  if (ban.hurdle != Hurdle::none || !moment.supported) return ban;
  const SurfaceId surface = moment.character.ground.surface;
  if (moment.world.surface(surface).jump) return ban;
  return at_surface(verdict(Candidate::ground_jump, Hurdle::surface), surface);
}

// A gauge that fills: held it goes on filling, released it launches.
Trial consider_charge(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::ground_jump;
  if (!moment.supported && !moment.in_grace) return verdict(kThis, Hurdle::not_standing);
  const Trial ban = find_ban_on_ground(moment);
  if (ban.hurdle != Hurdle::none) return ban;
  return verdict(kThis, moment.held.jump ? Hurdle::charging : Hurdle::none, "jump.charge.time",
                 moment.character.charge_held, moment.rules.charge_ticks);
}

Trial consider_ground_jump(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::ground_jump;
  if (moment.character.charge_held > 0) return consider_charge(moment);
  if (!jump_is_asked(moment)) return not_asked(kThis, moment);
  if (!moment.supported) return verdict(kThis, Hurdle::not_standing);
  Trial trial = find_ban_on_ground(moment);
  trial.remembered = !moment.jump_pressed;
  if (trial.hurdle == Hurdle::none && moment.rules.charge_ticks > 0 && moment.held.jump) {
    trial.hurdle = Hurdle::charging;
    trial.knob = "jump.charge.time";
  }
  return trial;
}

Trial consider_coyote_jump(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::coyote_jump;
  const Character& character = moment.character;
  if (!jump_is_asked(moment)) return not_asked(kThis, moment);
  if (moment.supported) return verdict(kThis, Hurdle::standing);
  if (moment.in_grace) {
    Trial trial = find_ban(kThis, moment, true);
    trial.remembered = !moment.jump_pressed;
    return trial;
  }
  if (moment.rules.coyote_ticks == 0) return verdict(kThis, Hurdle::off, "jump.coyote");
  const bool walked_off = character.ground_lost_by == LeaveReason::walked_off;
  if (!walked_off || character.launch_tick >= character.ground_lost_tick) {
    const LeaveReason reason = walked_off ? LeaveReason::jumped : character.ground_lost_by;
    return verdict(kThis, Hurdle::left_by, {}, static_cast<std::int64_t>(reason));
  }
  // The ground was lost at the end of that tick; the window was the decisions after it.
  const std::int64_t ago = character.tick - character.ground_lost_tick - moment.rules.coyote_ticks;
  return verdict(kThis, Hurdle::shut, "jump.coyote", ago, moment.rules.coyote_ticks);
}

// A surface underfoot that goes on to hold a body that drops; kNoSurface if there is none.
SurfaceId holder_of(const Moment& moment) noexcept {
  Nearby nearby(moment.world, moment.character.tick, moment.frame, moment.asker());
  nearby.let_through(dropped_from(moment.character.feet, moment.rules));
  GroundCheck left;
  look_underfoot(moment.character.feet, moment.rules, nearby, left);
  return left.reason == GroundReason::too_steep ? kNoSurface : left.surface;
}

Trial consider_drop(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::drop;
  if (moment.rules.drop_by == DropBy::nothing) return verdict(kThis, Hurdle::off, "drop.by");
  const bool by_down = moment.rules.drop_by == DropBy::down;
  const bool with_down = is_held(moment.held.y, -1);
  if (by_down ? !moment.down_pressed : !(with_down && jump_is_asked(moment))) {
    return verdict(kThis, Hurdle::not_asked);
  }
  if (!moment.supported) return verdict(kThis, Hurdle::not_standing);
  if (moment.locked) return find_ban(kThis, moment, false);
  if (moment.character.dash_left > 0) return verdict(kThis, Hurdle::dashing);
  const SurfaceId holder = holder_of(moment);
  if (holder != kNoSurface) return at_surface(verdict(kThis, Hurdle::surface), holder);
  Trial trial = verdict(kThis, Hurdle::none, "drop.by");
  trial.remembered = !by_down && !moment.jump_pressed;
  return trial;
}

// The first surface that a sweep meets as things are for the body now.
Contact cast_now(const Moment& moment, const Sweep& sweep) noexcept {
  Nearby nearby(moment.world, sweep.tick, moment.frame, moment.asker());
  const Character& character = moment.character;
  if (character.drop_left > 0) {
    nearby.let_through(dropped_from(character.drop_from, moment.rules));
  }
  return cast(nearby, sweep);
}

// Whether the wall at that side ends below the upper half of the body.
bool is_at_top(const Moment& moment, int side) noexcept {
  const Margins margins = margins_of(moment.rules);
  Box upper = moment.rules.body.box;
  upper.lo.y = (upper.lo.y + upper.hi.y) / 2;
  const Sweep sweep{grown(upper, margins.guard),
                    moment.character.feet,
                    {side * (margins.probe - margins.guard), 0},
                    kUp,
                    moment.character.tick};
  return !cast_now(moment, sweep).met();
}

bool row_fits(const WallExitRules& row, const Moment& moment, int side, bool touched) noexcept {
  if (moment.supported && !row.first) return false;
  const bool jump_asked = moment.jump_pressed || moment.character.wall_buffer_left > 0;
  if (row.jump ? !jump_asked : !touched) return false;
  if (row.horizontal != 0 && !is_held(moment.steer.x, -side * row.horizontal)) return false;
  if (row.vertical != 0 && !is_held(moment.steer.y, row.vertical)) return false;
  if (row.horizontal != 0 && ticks_of(moment.held_horizontal) < row.hold) return false;
  if (row.vertical != 0 && ticks_of(moment.held_vertical) < row.hold) return false;
  return !row.at_top || (touched && is_at_top(moment, side));
}

Trial consider_wall_exit(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::wall_exit;
  const Character& character = moment.character;
  if (moment.rules.exit_count == 0) return verdict(kThis, Hurdle::off, "wall.exit");
  const int side = exit_side(moment);
  const bool may_stand = moment.rules.exit_first && side != 0;
  if (moment.supported && !may_stand) return verdict(kThis, Hurdle::standing);
  if (side == 0) {
    const std::int64_t window = moment.rules.wall_coyote_ticks;
    const bool lost = character.wall_lost_tick != kLongAgo && window > 0;
    if (!lost) return verdict(kThis, Hurdle::no_wall);
    const std::int64_t ago = character.tick - character.wall_lost_tick - window;
    return verdict(kThis, Hurdle::shut, "wall.coyote", ago, window);
  }
  if (character.wall_released) return verdict(kThis, Hurdle::wall_released);
  if (character.wall_spent == side) return verdict(kThis, Hurdle::spent, "wall.exit.same_wall");
  if (!moment.world.surface(character.wall_surface).cling) {
    return at_surface(verdict(kThis, Hurdle::surface), character.wall_surface);
  }
  const bool touched = character.wall != 0;
  for (int i = 0; i < moment.rules.exit_count; ++i) {
    const WallExitRules& row = moment.rules.exits[static_cast<std::size_t>(i)];
    if (!row_fits(row, moment, side, touched)) continue;
    // Dropping off is no jump: only what forbids any action forbids it.
    Trial trial = find_ban(kThis, moment, row.jumps());
    trial.row = i;
    trial.remembered = row.jump && !moment.jump_pressed;
    if (trial.hurdle == Hurdle::none) trial.knob = "wall.exit";
    return trial;
  }
  return verdict(kThis, Hurdle::no_row, "wall.exit");
}

// How far a body falls in `time`, with that falling speed at first.
double fall_in(double time, double speed, const Rules& rules) noexcept {
  const double limit = rules.terminal_speed;
  if (speed >= limit || !(rules.fall_gravity > 0)) return speed * time;
  const double gathering = smaller(time, (limit - speed) / rules.fall_gravity);
  const double way = speed * gathering + rules.fall_gravity * gathering * gathering / 2;
  return gathering < time ? way + limit * (time - gathering) : way;
}

// Whether the body comes to stand while a press of now is remembered, if it goes on as it does.
bool lands_in_buffer(const Moment& moment) noexcept {
  const Rules& rules = moment.rules;
  if (rules.buffer_ticks == 0) return false;
  const double time = static_cast<double>(rules.buffer_ticks) * rules.dt;
  double drop = fall_in(time, -moment.rise, rules);
  if (moment.rise > 0) {
    const double rising = moment.rise / rules.rise_gravity;
    if (!(rising < time)) return false;
    drop = fall_in(time - rising, 0, rules) - moment.rise * rising / 2;
    if (!(drop > 0)) return false;
  }
  const Vec move{moment.run * time, -drop};
  const Contact contact =
      cast_now(moment, {grown(rules.body, margins_of(rules).guard), moment.character.feet, move,
                        kUp, moment.character.tick});
  return contact.met() && contact.normal.y >= rules.ground_slope &&
         moment.world.surface(contact.surface).ground;
}

// A jump by the fluid that swimming in, of which the tuning has the knob if it has a speed.
Trial consider_in_fluid(Candidate candidate, const Moment& moment, double speed) noexcept {
  if (!moment.rules.fluid.exists) return verdict(candidate, Hurdle::off, "fluid");
  if (speed == 0) return verdict(candidate, Hurdle::off, "fluid");
  if (!jump_is_asked(moment)) return not_asked(candidate, moment);
  if (!moment.swims) return verdict(candidate, Hurdle::not_swimming);
  Trial trial = find_ban(candidate, moment, true);
  trial.remembered = !moment.jump_pressed;
  return trial;
}

Trial consider_exit_jump(const Moment& moment) noexcept {
  const Trial trial =
      consider_in_fluid(Candidate::exit_jump, moment, moment.rules.fluid.exit_jump_speed);
  if (trial.hurdle != Hurdle::none || moment.character.head_out) return trial;
  return verdict(Candidate::exit_jump, Hurdle::under_water);
}

Trial consider_stroke(const Moment& moment) noexcept {
  const FluidRules& fluid = moment.rules.fluid;
  const Trial trial = consider_in_fluid(Candidate::stroke, moment, fluid.stroke_speed);
  if (trial.hurdle != Hurdle::none || moment.character.stroke_left == 0) return trial;
  return verdict(Candidate::stroke, Hurdle::too_soon, "fluid.stroke.every",
                 fluid.stroke_every - moment.character.stroke_left, fluid.stroke_every);
}

Trial consider_air_jump(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::air_jump;
  const Character& character = moment.character;
  const Rules& rules = moment.rules;
  if (rules.air_jumps == 0) return verdict(kThis, Hurdle::off, "jump.air_jumps.count");
  if (!moment.jump_pressed) return not_asked(kThis, moment);
  if (moment.supported) return verdict(kThis, Hurdle::standing);
  if (moment.swims) return verdict(kThis, Hurdle::swimming);
  if (character.air_jumps_used >= rules.air_jumps) {
    return verdict(kThis, Hurdle::used_up, "jump.air_jumps.count", character.air_jumps_used,
                   rules.air_jumps);
  }
  const Trial ban = find_ban(kThis, moment, true);
  if (ban.hurdle != Hurdle::none) return ban;
  const std::int64_t since = character.tick - character.launch_tick;
  if (since < rules.air_interval) {
    return verdict(kThis, Hurdle::too_soon, "jump.air_jumps.interval", since, rules.air_interval);
  }
  if (rules.near_ground == NearGround::buffer && lands_in_buffer(moment)) {
    return verdict(kThis, Hurdle::near_ground, "jump.near_ground");
  }
  return verdict(kThis, Hurdle::none, "jump.air_jumps.count", character.air_jumps_used,
                 rules.air_jumps);
}

Trial consider_cut(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::cut;
  const Character& character = moment.character;
  if (moment.rules.cut_style == CutStyle::none) {
    return verdict(kThis, Hurdle::off, "jump.cut.style");
  }
  if (!character.cut_armed || moment.launched) return verdict(kThis, Hurdle::not_armed);
  if (!(moment.rise > 0)) return verdict(kThis, Hurdle::not_rising);
  if (moment.locked) return find_ban(kThis, moment, false);
  if (moment.held.jump) return verdict(kThis, Hurdle::held);
  const std::int64_t since = character.tick - character.launch_tick;
  if (since < moment.rules.cut_from_tick) {
    return verdict(kThis, Hurdle::too_soon, "jump.cut.min_hold", since, moment.rules.cut_from_tick);
  }
  return verdict(kThis, Hurdle::none, "jump.cut.style");
}

Trial consider_fast_fall(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::fast_fall;
  const Rules& rules = moment.rules;
  if (rules.fast_speed == 0 && rules.fast_factor == 1) {
    return verdict(kThis, Hurdle::off, "fall.fast.speed");
  }
  if (!moment.down_pressed) return verdict(kThis, Hurdle::not_asked);
  if (moment.supported) return verdict(kThis, Hurdle::standing);
  if (moment.locked) return find_ban(kThis, moment, false);
  if (moment.launched) return verdict(kThis, Hurdle::launching);
  if (moment.dropped) return verdict(kThis, Hurdle::beaten);  // the press is used
  if (moment.swims) return verdict(kThis, Hurdle::swimming);
  if (moment.character.dash_left > 0) return verdict(kThis, Hurdle::dashing);
  if (moment.character.fast_falling) return verdict(kThis, Hurdle::under_way);
  if (held_on_wall(moment) && (moment.rise <= 0 || climbs(moment))) {
    return verdict(kThis, Hurdle::on_wall);
  }
  if (rules.fast_only_falling && moment.rise > 0) {
    return verdict(kThis, Hurdle::rising, "fall.fast.only_falling");
  }
  return verdict(kThis, Hurdle::none,
                 rules.fast_speed > 0 ? "fall.fast.speed" : "fall.fast.factor");
}

// Whether the body pushes against the wall that it touches, or need not to be held there.
bool pushes(const Moment& moment) noexcept {
  return moment.rules.wall_grab == WallGrab::touch ||
         is_held(moment.steer.x, moment.character.wall);
}

// What stands in the way of being held at the wall that is touched.
Trial find_slip(Candidate candidate, const Moment& moment) noexcept {
  const Character& character = moment.character;
  if (character.wall_released) return verdict(candidate, Hurdle::wall_released);
  if (character.has(StatusKind::no_cling)) {
    constexpr StatusKind kKind = StatusKind::no_cling;
    const Status& status = character.status[static_cast<std::size_t>(kKind)];
    return locked_by(candidate, kKind, status);
  }
  if (!pushes(moment)) return verdict(candidate, Hurdle::not_pushed, "wall.grab");
  if (!moment.world.surface(character.wall_surface).cling) {
    return at_surface(verdict(candidate, Hurdle::surface), character.wall_surface);
  }
  return verdict(candidate, Hurdle::none);
}

Trial consider_climb(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::climb;
  const Character& character = moment.character;
  const Rules& rules = moment.rules;
  if (rules.climb_ticks == 0) return verdict(kThis, Hurdle::off, "wall.climb.up_speed");
  const bool along = is_held(moment.held.y, 1) || is_held(moment.held.y, -1);
  if (!along && !rules.climb_stays) return verdict(kThis, Hurdle::not_asked);
  if (character.wall == 0) return verdict(kThis, Hurdle::no_wall);
  if (moment.locked) return find_ban(kThis, moment, false);
  if (character.dash_left > 0) return verdict(kThis, Hurdle::dashing);
  if (moment.launched) return verdict(kThis, Hurdle::launching);
  const double goal = climb_goal(moment);
  if (moment.supported && !(goal > 0)) return verdict(kThis, Hurdle::standing);
  const Trial slip = find_slip(kThis, moment);
  if (slip.hurdle != Hurdle::none) return slip;
  if (character.climb_used >= rules.climb_ticks) {
    return verdict(kThis, Hurdle::used_up, "wall.climb.reserve", character.climb_used,
                   rules.climb_ticks);
  }
  // A body that rises faster is no climber yet.
  if (!moment.supported && !character.climbing && moment.rise > larger(goal, 0)) {
    return verdict(kThis, Hurdle::rising, climb_knob(goal));
  }
  return verdict(kThis, Hurdle::none, climb_knob(goal));
}

Trial consider_dash(const Moment& moment) noexcept {
  constexpr Candidate kThis = Candidate::dash;
  const Character& character = moment.character;
  const Rules& rules = moment.rules;
  if (rules.dash_charges == 0) return verdict(kThis, Hurdle::off, "dash.charges");
  if (!moment.dash_pressed && character.dash_buffer_left == 0) {
    return verdict(kThis, Hurdle::not_asked);
  }
  if (moment.locked) return find_ban(kThis, moment, false);
  if (character.dash_left > 0) return verdict(kThis, Hurdle::under_way);
  if (moment.launched) return verdict(kThis, Hurdle::launching);
  if (character.dashes_used >= rules.dash_charges) {
    return verdict(kThis, Hurdle::used_up, "dash.charges", character.dashes_used,
                   rules.dash_charges);
  }
  if (character.dash_cooldown_left > 0) {
    return verdict(kThis, Hurdle::too_soon, "dash.cooldown",
                   rules.dash_cooldown - character.dash_cooldown_left, rules.dash_cooldown);
  }
  Trial trial =
      verdict(kThis, Hurdle::none, "dash.charges", character.dashes_used, rules.dash_charges);
  trial.remembered = !moment.dash_pressed;
  return trial;
}

}  // namespace

Moment::Moment(const Character& c, const Controls& controls, const Rules& r, const World& w,
               const Frame& f) noexcept
    : character(c),
      held(controls),
      rules(r),
      world(w),
      frame(f),
      came_from(c.feet),
      came_standing(c.grounded()),
      came_dashing(c.dash_left > 0) {
  const Controls& before = c.controls;
  run = c.velocity.x;
  rise = c.velocity.y;
  if (c.grounded()) {
    run_axis = along_ground(c.ground.normal);
    run = dot(c.velocity, run_axis);
    // What is not along the ground: a game may have given a standing body a vertical speed.
    rise = c.velocity.y - run * run_axis.y;
  }
  constexpr double kNoticeable = 1e-9;
  supported = c.grounded() && !(rise > kNoticeable * magnitude(run));
  if (supported) {
    rise = 0;
  } else {
    run_axis = kRightward;
    run = c.velocity.x;
    rise = c.velocity.y;
  }
  swims = r.fluid.exists && !supported && !is_exit_jumping(c, rise);
  in_grace = c.coyote_left > 0;
  locked = c.has(StatusKind::no_control) || c.has(StatusKind::stun);
  jump_pressed = controls.jump && !before.jump;
  dash_pressed = controls.dash && !before.dash;
  down_pressed = is_held(controls.y, -1) && !is_held(before.y, -1);
  // Under a lock nothing is steered, but what is held goes on being held.
  held_vertical = held_for(controls.y, c.held_vertical);
  held_horizontal = held_for(controls.x, c.held_horizontal);
  if (locked) return;
  steer = controls;
  if (steer.x != 0) return;
  constexpr std::int8_t kFull = 127;
  switch (r.auto_run) {
    case AutoRun::none: return;
    case AutoRun::left: steer.x = -kFull; break;
    case AutoRun::right: steer.x = kFull; break;
    case AutoRun::facing: steer.x = c.facing > 0 ? kFull : -kFull; break;
  }
  held_horizontal = held_for(steer.x, c.held_horizontal);
}

BodyState Moment::state_of(const void* moment) noexcept {
  const Moment& now = *static_cast<const Moment*>(moment);
  const auto sign = [](int direction) {
    return is_held(direction, 1) ? 1 : is_held(direction, -1) ? -1 : 0;
  };
  BodyState state;
  state.feet = now.came_from;
  state.velocity = now.character.velocity;
  state.held_horizontal = sign(now.held.x);
  state.held_vertical = sign(now.held.y);
  state.stance = static_cast<int>(stance_of(now.character, now.came_dashing, now.came_standing));
  state.zones = now.character.zones;
  return state;
}

void take_hold_anew(const Moment& moment, Character& character) noexcept {
  const bool towards = is_held(moment.steer.x, character.wall);
  if (towards && ticks_of(moment.held_horizontal) == 1) character.wall_released = false;
}

Trial find_ban(Candidate candidate, const Moment& moment, bool jump) noexcept {
  StatusKind kind = StatusKind::stun;
  if (const Status* lock = lock_of(moment.character, jump, kind)) {
    return locked_by(candidate, kind, *lock);
  }
  if (jump && !moment.rules.may_jump) {
    return verdict(candidate, Hurdle::not_allowed, "jump.allowed");
  }
  if (jump && moment.character.dash_left > 0 && !moment.rules.dash_jump_out) {
    return verdict(candidate, Hurdle::dashing, "dash.jump_out");
  }
  return verdict(candidate, Hurdle::none);
}

Trial consider(Candidate candidate, const Moment& moment) noexcept {
  switch (candidate) {
    case Candidate::drop: return consider_drop(moment);
    case Candidate::ground_jump: return consider_ground_jump(moment);
    case Candidate::coyote_jump: return consider_coyote_jump(moment);
    case Candidate::wall_exit: return consider_wall_exit(moment);
    case Candidate::exit_jump: return consider_exit_jump(moment);
    case Candidate::stroke: return consider_stroke(moment);
    case Candidate::air_jump: return consider_air_jump(moment);
    case Candidate::cut: return consider_cut(moment);
    case Candidate::fast_fall: return consider_fast_fall(moment);
    case Candidate::dash: return consider_dash(moment);
    case Candidate::climb: break;
  }
  return consider_climb(moment);
}

int exit_side(const Moment& moment) noexcept {
  const Character& character = moment.character;
  if (character.wall != 0) return character.wall;
  return character.wall_coyote_left > 0 ? character.wall_lost : 0;
}

bool touched_wall_holds(const Moment& moment) noexcept {
  const Rules& rules = moment.rules;
  if (moment.supported || moment.swims) return false;
  if (rules.slide_speed == kNoSpeed && rules.cling_ticks == 0 && rules.climb_ticks == 0) {
    return false;
  }
  return find_slip(Candidate::climb, moment).hurdle == Hurdle::none;
}

bool touched_wall_is_climbed(const Moment& moment) noexcept {
  return consider_climb(moment).hurdle == Hurdle::none;
}

std::string_view climb_knob(double goal) noexcept {
  if (goal == 0) return "wall.climb.reserve";
  return goal > 0 ? "wall.climb.up_speed" : "wall.climb.down_speed";
}

double climb_goal(const Moment& moment) noexcept {
  if (is_held(moment.steer.y, 1)) return moment.rules.climb_up;
  return is_held(moment.steer.y, -1) ? -moment.rules.climb_down : 0;
}

bool armed_glide_counts(const Moment& moment) noexcept {
  return moment.rules.glide_speed != kNoSpeed && moment.held.jump && !moment.supported &&
         !moment.locked && !moment.swims && !moment.character.fast_falling && !held_on_wall(moment);
}

double gauge_of(Ticks held, const Rules& rules) noexcept {
  if (held <= rules.charge_tap || rules.charge_ticks == 0) return 0;
  const auto filled = static_cast<double>(held - rules.charge_tap);
  return smaller(1, filled / static_cast<double>(rules.charge_ticks - rules.charge_tap));
}

double charged_launch(Ticks held, const Rules& rules) noexcept {
  const double gauge = gauge_of(held, rules);
  if (gauge == 0) return rules.launch_speed;
  const double share = gauge + rules.charge_bend * gauge * (1 - gauge);
  if (rules.charge_even_in == ChargeCurve::speed) {
    return rules.launch_speed + (rules.charge_launch - rules.launch_speed) * share;
  }
  // Heights grow with the square of the launch speed.
  const double low = rules.launch_speed * rules.launch_speed;
  const double high = rules.charge_launch * rules.charge_launch;
  return std::sqrt(low + (high - low) * share);
}

}  // namespace bushbaby::detail
