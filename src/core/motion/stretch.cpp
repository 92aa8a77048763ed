#include "stretch.h"

#include "core/shape/arithmetic.h"

namespace bushbaby::detail {
namespace {

constexpr double kForever = std::numeric_limits<double>::infinity();

Stretch towards(double speed, double goal, double rate) noexcept {
  if (rate == 0) return {0, kForever, speed};
  return {goal > speed ? rate : -rate, magnitude(goal - speed) / rate, goal};
}

bool is_against(double speed, double target) noexcept {
  return (speed > 0 && target < 0) || (speed < 0 && target > 0);
}

// Where a speed over the surface goes first, and how fast.
struct Goal {
  double speed;
  double rate;
  bool turns;
};

Goal goal_of(double speed, const Drive& drive) noexcept {
  const RunRates& rates = drive.how->rates;
  const double over_surface = speed - drive.conveyor;
  if (is_against(over_surface, drive.target)) return {0, rates.turn * drive.share, true};
  if (is_over_top_speed(speed, drive)) {
    return {over_surface > 0 ? drive.top : -drive.top, drive.how->overspeed_brake * drive.share,
            false};
  }
  const bool faster = magnitude(drive.target) > magnitude(over_surface);
  return {drive.target, (faster ? rates.accelerate : rates.brake) * drive.share, false};
}

// Gravity at a vertical speed, in the hang band or not, before terminal speed has its say.
double gravity_at(double rise, bool in_band, const GravityPhase& phase,
                  const Rules& rules) noexcept {
  double gravity = rise > 0 ? rules.rise_gravity : rules.fall_gravity * phase.fall_share;
  if (rise > 0 && phase.heavy) gravity = gravity * rules.cut_weight;
  if (in_band) gravity = gravity * rules.hang.gravity;
  return gravity * phase.share * phase.weight;
}

// The way of a climber's speed along the wall.
Stretch climb_stretch(double rise, const GravityPhase& phase, const Rules& rules) noexcept {
  if (rise == phase.climb_goal) return {0, kForever, rise};
  Stretch stretch = towards(rise, phase.climb_goal, rules.climb_rate);
  if (stretch.rate == 0) stretch.ends_at = rise;
  return stretch;
}

}  // namespace

bool is_there(double speed, const Drive& drive) noexcept {
  return speed == drive.target + drive.conveyor;
}

bool is_over_top_speed(double speed, const Drive& drive) noexcept {
  if (!(drive.how->overspeed_brake >= 0) || is_against(speed - drive.conveyor, drive.target))
    return false;
  // On a slope, and in a turned world, top speed is known up to a rounding.
  constexpr double kNoticeable = 1e-12;
  const double most = drive.top + kNoticeable * (drive.top + magnitude(drive.conveyor));
  return magnitude(speed - drive.conveyor) > most;
}

Stretch drive_stretch(double speed, const Drive& drive) noexcept {
  if (drive.how == nullptr || is_there(speed, drive)) return {0, kForever, speed};
  const Goal goal = goal_of(speed, drive);
  const double over_surface = speed - drive.conveyor;
  Stretch stretch = towards(over_surface, goal.speed, goal.rate);
  stretch.ends_at = stretch.rate == 0 ? speed : stretch.ends_at + drive.conveyor;
  return stretch;
}

double drive_tick(double speed, const Drive& drive, double dt) noexcept {
  if (drive.how == nullptr || is_there(speed, drive)) return speed;
  const Goal goal = goal_of(speed, drive);
  const double over_surface = speed - drive.conveyor;
  const double rate = towards(over_surface, goal.speed, goal.rate).rate;
  if (rate == 0) return speed;
  // A turn carries on through zero within its tick; only the target itself ends it.
  const double end = goal.turns ? drive.target : goal.speed;
  const double next = over_surface + rate * dt;
  const bool past = rate > 0 ? next >= end : next <= end;
  return (past ? end : next) + drive.conveyor;
}

double damped_share(double speed, double target, const DriveRules& rules) noexcept {
  if (is_against(speed, target)) return rules.turn_share;
  return magnitude(target) > magnitude(speed) ? rules.accelerate_share : rules.brake_share;
}

Stretch gravity_stretch(double rise, const GravityPhase& phase, const Rules& rules) noexcept {
  if (phase.floats) return {0, kForever, rise};
  if (phase.climbs) return climb_stretch(rise, phase, rules);
  if (phase.swims) return {phase.swim_rate, kForever, rise};
  const double slowest = 0 - phase.terminal;
  if (rise < slowest && phase.decay > 0) return towards(rise, slowest, phase.decay);
  if (rise <= slowest) return {0, kForever, rise};
  // A stretch that ends at the band's upper edge is followed by one that begins in the band.
  const double band = phase.hangs ? rules.hang.below_speed : 0;
  const bool in_band = rise <= band && rise > -band;
  double ends_at = slowest;
  if (rise > 0) {
    ends_at = in_band ? 0 : band;
  } else if (in_band) {
    ends_at = larger(-band, slowest);
  }
  const double gravity = gravity_at(rise, in_band, phase, rules);
  if (gravity == 0) return {0, kForever, rise};
  return {-gravity, (rise - ends_at) / gravity, ends_at};
}

double gravity_tick(double rise, const GravityPhase& phase, const Rules& rules) noexcept {
  if (phase.floats) return rise;
  if (phase.climbs) {
    const Stretch stretch = climb_stretch(rise, phase, rules);
    return stretch.lasts <= rules.dt ? stretch.ends_at : rise + stretch.rate * rules.dt;
  }
  if (phase.swims) return rise + phase.swim_rate * rules.dt;
  const double slowest = 0 - phase.terminal;
  if (rise <= slowest)
    return rise < slowest ? smaller(rise + phase.decay * rules.dt, slowest) : rise;
  const bool in_band = phase.hangs && magnitude(rise) < rules.hang.below_speed;
  const double next = rise - gravity_at(rise, in_band, phase, rules) * rules.dt;
  return larger(next, slowest);
}

double moving_speed(Integrator integrator, double before, double after) noexcept {
  switch (integrator) {
    case Integrator::trapezoidal: return (before + after) / 2;
    case Integrator::explicit_step: return before;
    case Integrator::semi_implicit:
    case Integrator::exact: break;
  }
  return after;
}

}  // namespace bushbaby::detail
