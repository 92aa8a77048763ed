#include "stretch.h"

#include <limits>

#include "arithmetic.h"

namespace bushbaby::detail {
namespace {

constexpr double kForever = std::numeric_limits<double>::infinity();

Stretch towards(double speed, double goal, double rate) noexcept {
  if (rate == 0) return {0, kForever, speed};
  return {goal > speed ? rate : -rate, magnitude(goal - speed) / rate, goal};
}

// Gravity at a speed along up, in the hang band or not, before terminal speed has its say.
double gravity_at(double rise, bool in_band, GravityPhase phase, const Rules& rules) noexcept {
  double gravity = rise > 0 ? rules.rise_gravity : rules.fall_gravity;
  if (rise > 0 && phase.heavy) gravity = gravity * rules.cut_weight;
  if (in_band) gravity = gravity * rules.hang.gravity;
  return gravity * phase.share;
}

}  // namespace

Stretch drive_stretch(double speed, double target, const RunRates& rates) noexcept {
  if (speed == target) return {0, kForever, speed};
  const bool against = (speed > 0 && target < 0) || (speed < 0 && target > 0);
  if (against) return towards(speed, 0, rates.turn);
  const bool faster = magnitude(target) > magnitude(speed);
  return towards(speed, target, faster ? rates.speed_up : rates.brake);
}

double drive_tick(double speed, double target, const RunRates& rates, double dt) noexcept {
  const Stretch stretch = drive_stretch(speed, target, rates);
  const double next = speed + stretch.rate * dt;
  // A turn carries on through zero within its tick; only the target itself ends it.
  const bool past = stretch.rate > 0 ? next >= target : next <= target;
  return stretch.rate != 0 && past ? target : next;
}

Stretch gravity_stretch(double rise, GravityPhase phase, const Rules& rules) noexcept {
  if (rise <= -rules.terminal_speed) return {0, kForever, rise};
  // A stretch that ends at the band's upper edge is followed by one that begins in the band.
  const double band = phase.hangs ? rules.hang.below_speed : 0;
  const bool in_band = rise <= band && rise > -band;
  double ends_at = -rules.terminal_speed;
  if (rise > 0) {
    ends_at = in_band ? 0 : band;
  } else if (in_band) {
    ends_at = larger(-band, -rules.terminal_speed);
  }
  const double gravity = gravity_at(rise, in_band, phase, rules);
  if (gravity == 0) return {0, kForever, rise};
  return {-gravity, (rise - ends_at) / gravity, ends_at};
}

double gravity_tick(double rise, GravityPhase phase, const Rules& rules) noexcept {
  if (rise <= -rules.terminal_speed) return rise;
  const bool in_band = phase.hangs && magnitude(rise) < rules.hang.below_speed;
  const double next = rise - gravity_at(rise, in_band, phase, rules) * rules.dt;
  return larger(next, -rules.terminal_speed);
}

double moving_speed(Integrator integrator, double before, double after) noexcept {
  switch (integrator) {
    case Integrator::averaged: return (before + after) / 2;
    case Integrator::explicit_step: return before;
    case Integrator::semi_implicit:
    case Integrator::exact: break;
  }
  return after;
}

}  // namespace bushbaby::detail
