// What a tick decides: jumps, the cut, a fast fall, a dash; and what follows for the motion.
#include "tick.h"

namespace bushbaby::detail {

// Notes that the body stands no more, and by what.
void leave_ground(Tick& tick, LeaveReason reason, double fraction, SurfaceId stood_on) noexcept {
  Character& character = tick.mover;
  tick.note(EventKind::left_ground, fraction, static_cast<std::uint8_t>(reason), 0, stood_on);
  character.ground_lost_by = reason;
  character.ground_lost_tick = character.tick;
}

void end_dash(Tick& tick, DashEnd how, double fraction) noexcept {
  Character& character = tick.mover;
  if (character.dash_left == 0) return;
  character.dash_left = 0;
  character.dash_cooldown_left = tick.rules.dash_cooldown;
  tick.note(EventKind::dash_ended, fraction, static_cast<std::uint8_t>(how),
            length(in_world(tick, tick.run, tick.rise)));
}

namespace {

BUSHBABY_RARE void lose_charge(Tick& tick) noexcept {
  if (tick.mover.charge_held == 0) return;
  tick.mover.charge_held = 0;
  tick.note(EventKind::charge_lost, 0);
}

// What any jump does: it closes every window, and nothing of an earlier one goes on.
BUSHBABY_RARE void take_off(Tick& tick, JumpKind kind, bool arms_cut, Ticks sustain) noexcept {
  Character& character = tick.mover;
  tick.launched = true;
  tick.supported = false;
  tick.in_grace = false;
  character.jump_kind = kind;
  character.launch_tick = character.tick;
  end(character, kJumpEnds);
  character.charge_held = 0;
  character.cut_armed = arms_cut && tick.rules.cut_style != CutStyle::none;
  character.hang_armed = true;
  character.sustain_left = tick.held.jump ? sustain : 0;
  tick.note(EventKind::jumped, 0, static_cast<std::uint8_t>(kind), tick.rise,
            kind == JumpKind::wall ? character.wall_surface : character.ground.surface);
}

// A jump from the ground, or from where it was a moment ago.
BUSHBABY_RARE void jump_from_ground(Tick& tick, const Trial& trial, JumpKind kind,
                                    double launch_speed) noexcept {
  end_dash(tick, DashEnd::jumped, 0);
  if (trial.remembered) tick.note(EventKind::buffer_used, 0);
  if (tick.supported) {
    leave_ground(tick, LeaveReason::jumped);
  } else {
    tick.note(EventKind::coyote_used, 0);
  }
  // What the platform that was left a moment ago handed over helps still.
  if (!tick.launched && !tick.supported) launch_speed = launch_speed + tick.mover.platform_rise;
  tick.rise = larger(launch_speed, tick.rise);
  // A charged jump is launched on release: that is no cut.
  take_off(tick, kind, kind != JumpKind::charged, tick.rules.sustain_ticks);
}

BUSHBABY_RARE void jump_in_air(Tick& tick) noexcept {
  end_dash(tick, DashEnd::jumped, 0);
  tick.rise = larger(tick.rules.air_launch, tick.rise);
  // An unlimited number is never used up.
  if (tick.rules.air_jumps != kUnlimited) ++tick.mover.air_jumps_used;
  take_off(tick, JumpKind::air, true, tick.rules.air_sustain);
}

BUSHBABY_RARE void leave_wall(Tick& tick, const Trial& trial) noexcept {
  Character& character = tick.mover;
  const WallExitRules& row = tick.rules.exits[static_cast<std::size_t>(trial.row)];
  const int side = exit_side(tick);
  // What the platform whose wall was lost handed over a moment ago helps still.
  const bool late = character.wall == 0;
  const Vec gave = late ? character.wall_gave : Vec{0, 0};
  if (row.jumps()) end_dash(tick, DashEnd::jumped, 0);
  if (trial.remembered) tick.note(EventKind::buffer_used, 0);
  if (row.jump && late) tick.note(EventKind::coyote_used, 0);
  if (tick.supported) leave_ground(tick, LeaveReason::jumped);
  if (row.away != 0) tick.run = -side * row.away + gave.x;
  if (row.away > 0) character.facing = static_cast<std::int8_t>(-side);
  character.steer_lock_left = row.steer_lock;
  character.steer_fade_left = character.steer_fade_ticks = row.steer_fade;
  if (row.restore) character.air_jumps_used = character.dashes_used = 0;
  // Leaving the one wall gives the other back.
  if (character.wall_spent != side) character.wall_spent = 0;
  if (!row.same_wall) character.wall_spent = static_cast<std::int8_t>(side);
  character.wall_released = !row.climbs();
  if (row.away > 0) character.cling_side = 0;  // whoever comes back may cling again
  if (row.jumps()) {
    if (row.up > 0) tick.rise = larger(row.up + gave.y, tick.rise);
    if (late) character.platform_rise = gave.y;
    take_off(tick, JumpKind::wall, row.jump, row.sustain);
  } else {
    character.wall_coyote_left = 0;
    if (row.jump) character.buffer_left = character.wall_buffer_left = 0;
    tick.note(EventKind::wall_released, 0, side_detail(side));
  }
}

// The button is held to fill the gauge, or has been released to launch.
BUSHBABY_RARE void go_on_charging(Tick& tick) noexcept {
  Character& character = tick.mover;
  const Trial trial = look(tick, Candidate::ground_jump);
  if (trial.hurdle == Hurdle::charging) {
    if (character.charge_held < tick.rules.charge_ticks) ++character.charge_held;
  } else if (trial.hurdle == Hurdle::none) {
    const double launch_speed = charged_launch(character.charge_held, tick.rules);
    jump_from_ground(tick, trial, JumpKind::charged, launch_speed);
  } else {
    lose_charge(tick);
  }
}

// Leaves the wall if a row fits; only by a row that comes before a jump from the ground, if
// `first`. True if nothing else may be decided by the press.
bool leave_wall_if_possible(Tick& tick, bool first) noexcept {
  if (exit_side(tick) == 0) return false;
  const auto row_of = [&tick](const Trial& trial) -> const WallExitRules& {
    return tick.rules.exits[static_cast<std::size_t>(trial.row)];
  };
  if (first) {
    const Trial ahead = consider(Candidate::wall_exit, tick);
    if (ahead.hurdle != Hurdle::none || !row_of(ahead).first) return false;
  }
  const Trial trial = look(tick, Candidate::wall_exit);
  if (trial.hurdle != Hurdle::none) return false;
  const WallExitRules& row = row_of(trial);
  leave_wall(tick, trial);
  // A press is used once, be it to release.
  return tick.launched || row.jump;
}

// Whether there is anything to decide about a drop, and so on: most ticks have nothing.
bool may_drop(const Tick& tick) noexcept {
  return tick.rules.drop_by != DropBy::nothing && tick.supported && tick.held.y < 0;
}

// Falls through the platform that it stands on.
BUSHBABY_APART void decide_drop(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (look(tick, Candidate::drop).hurdle != Hurdle::none) return;
  lose_charge(tick);
  leave_ground(tick, LeaveReason::dropped);
  tick.supported = false;
  tick.dropped = true;
  pay_for_walking_off(tick);
  character.drop_left = tick.rules.drop_window;
  character.drop_from = character.feet;
  character.drop_surface = character.ground.surface;
  tick.nearby.let_through(dropped_from(character.feet, tick.rules));
}

// A leap out of the fluid that swimming in, or a stroke within it; false if it does neither.
BUSHBABY_RARE bool jump_in_fluid(Tick& tick) noexcept {
  const FluidRules& fluid = tick.rules.fluid;
  Character& character = tick.mover;
  Trial trial = look(tick, Candidate::exit_jump);
  if (trial.hurdle == Hurdle::none) {
    if (trial.remembered) tick.note(EventKind::buffer_used, 0);
    end_dash(tick, DashEnd::jumped, 0);
    tick.rise = larger(fluid.exit_jump_speed, tick.rise);
    take_off(tick, JumpKind::exit_jump, true, 0);
    tick.swims = false;  // what is left of the fluid above it does not hold it back
    return true;
  }
  trial = look(tick, Candidate::stroke);
  if (trial.hurdle != Hurdle::none) return false;
  if (trial.remembered) tick.note(EventKind::buffer_used, 0);
  end_dash(tick, DashEnd::jumped, 0);
  const Vec held{direction_share(tick.steer.x), direction_share(tick.steer.y)};
  const double size = length(held);
  const Vec way = size > 0 ? scale(held, 1 / size) : Vec{0, 1};
  const Vec speed = scale(way, fluid.stroke_speed);
  const auto at_least = [](double now, double given) {
    if (given == 0) return now;
    return given > 0 ? larger(now, given) : smaller(now, given);
  };
  tick.run = at_least(tick.run, speed.x);
  tick.rise = at_least(tick.rise, speed.y);
  take_off(tick, JumpKind::stroke, false, 0);
  character.hang_armed = false;
  character.stroke_left = fluid.stroke_every;
  return true;
}

// Whether there is anything to decide about a jump: it is pressed, a press is remembered, the gauge
// fills, or a wall may be left.
bool may_jump_or_remember(const Tick& tick) noexcept {
  const Character& c = tick.mover;
  if (tick.jump_pressed || (c.buffer_left | c.wall_buffer_left | c.charge_held) != 0) return true;
  return tick.rules.exit_count > 0 && (c.wall != 0 || c.wall_coyote_left > 0);
}

// The first jump that is possible, by a press or by one remembered; or the press is remembered.
BUSHBABY_APART void decide_jump(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (tick.book != nullptr) look_ahead(tick);
  if (tick.dropped && tick.rules.drop_by == DropBy::down_jump) {
    character.buffer_left = character.wall_buffer_left = 0;  // the press is used
    return;
  }
  if (character.charge_held > 0) {
    go_on_charging(tick);
    return;
  }
  if (may_leave_wall_first(tick) && leave_wall_if_possible(tick, true)) return;
  const bool asked = tick.jump_pressed || character.buffer_left > 0;
  if (asked) {
    Trial trial = look(tick, Candidate::ground_jump);
    if (trial.hurdle == Hurdle::charging) {
      if (trial.remembered) tick.note(EventKind::buffer_used, 0);
      character.charge_held = 1;
      character.buffer_left = character.wall_buffer_left = 0;
      tick.note(EventKind::charge_started, 0);
      return;
    }
    if (trial.hurdle != Hurdle::none) trial = look(tick, Candidate::coyote_jump);
    if (trial.hurdle == Hurdle::none) {
      jump_from_ground(tick, trial, JumpKind::ground, tick.rules.launch_speed);
      return;
    }
  }
  if (tick.rules.exit_count > 0 && !tick.supported && leave_wall_if_possible(tick, false)) return;
  if (asked && tick.swims && jump_in_fluid(tick)) return;
  if (tick.jump_pressed) {
    if (look(tick, Candidate::air_jump).hurdle == Hurdle::none) {
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

BUSHBABY_APART void decide_cut(Tick& tick) noexcept {
  Character& character = tick.mover;
  if (look(tick, Candidate::cut).hurdle != Hurdle::none) return;
  character.cut_armed = false;
  character.sustain_left = 0;
  tick.note(EventKind::cut, 0, 0, tick.rise);
  switch (tick.rules.cut_style) {
    case CutStyle::none: break;
    case CutStyle::stop: tick.rise = smaller(tick.rise, character.platform_rise); break;
    case CutStyle::scale: {
      const double own = larger(tick.rise - character.platform_rise, 0);
      tick.rise = (tick.rise - own) + own * tick.rules.cut_keep;
      break;
    }
    case CutStyle::weight: character.cut_heavy = true; break;
  }
  if (tick.rise <= 0) note_apex(tick, 0);
}

BUSHBABY_APART void decide_fast_fall(Tick& tick) noexcept {
  if (look(tick, Candidate::fast_fall).hurdle != Hurdle::none) return;
  end(tick.mover, kFastFallEnds);
  tick.mover.fast_falling = true;
  if (tick.rules.fast_speed > 0) {
    const bool rose = tick.rise > 0;
    tick.rise = smaller(tick.rise, -tick.rules.fast_speed);
    if (rose) note_apex(tick, 0);
  }
  tick.mover.modes_seen |= kFastFallSeen;
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
  const Vec ahead{static_cast<double>(tick.mover.facing), 0};
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

BUSHBABY_RARE void start_dash(Tick& tick) noexcept {
  Character& character = tick.mover;
  character.dash_way = dash_way(tick);
  character.dash_left = tick.rules.dash_ticks;
  character.dash_buffer_left = 0;
  ++character.dashes_used;
  lose_charge(tick);
  end(character, kDashEnds);
  if (character.dash_way.x != 0) character.facing = character.dash_way.x > 0 ? 1 : -1;
  tick.note(EventKind::dash_started, 0, 0, tick.rules.dash_speed);
  if (tick.supported && character.dash_way.y > 0) {
    leave_ground(tick, LeaveReason::dashed);
    tick.supported = false;
  }
}

bool may_dash(const Tick& tick) noexcept {
  return tick.rules.dash_charges != 0 && (tick.dash_pressed || tick.mover.dash_buffer_left > 0);
}

BUSHBABY_APART void decide_dash(Tick& tick) noexcept {
  Character& character = tick.mover;
  const Trial trial = look(tick, Candidate::dash);
  if (trial.hurdle == Hurdle::off) return;
  if (trial.hurdle == Hurdle::none) {
    start_dash(tick);
  } else if (tick.dash_pressed) {
    // A jump of the same tick goes first; the dash follows it.
    const Ticks least = trial.hurdle == Hurdle::launching ? 1 : 0;
    character.dash_buffer_left = tick.rules.dash_buffer > least ? tick.rules.dash_buffer : least;
  } else if (character.dash_buffer_left > 0) {
    --character.dash_buffer_left;
  }
}

// A climber has nothing of a jump or of a fall left; from the ground it climbs off it.
BUSHBABY_APART void decide_climb(Tick& tick) noexcept {
  if (look(tick, Candidate::climb).hurdle != Hurdle::none) return;
  tick.climbed = true;
  end(tick.mover, kClimbEnds);
  if (!tick.supported) return;
  leave_ground(tick, LeaveReason::climbed);
  tick.supported = false;
}

}  // namespace

void decide(Tick& tick) noexcept {
  // Whoever writes a book wants to know of each why it is not possible.
  const bool all = tick.book != nullptr;
  if (all || may_drop(tick)) decide_drop(tick);
  if (all || may_jump_or_remember(tick)) decide_jump(tick);
  if (all || tick.mover.cut_armed) decide_cut(tick);
  if (all || tick.down_pressed) decide_fast_fall(tick);
  if (all || may_dash(tick)) decide_dash(tick);
  if (all || may_climb(tick)) decide_climb(tick);
  set_forces(tick);
}

}  // namespace bushbaby::detail
