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

// Gravity at a speed along up, before terminal speed has its say.
double gravity_at(double rise, GravityPhase phase, const Rules& rules) noexcept {
  if (rise > 0) return phase.heavy ? rules.rise_gravity * rules.cut_weight : rules.rise_gravity;
  return rules.fall_gravity;
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
  const double gravity = gravity_at(rise, phase, rules);
  if (rise > 0) return {-gravity, rise / gravity, 0};
  if (rise <= -rules.terminal_speed) return {0, kForever, rise};
  return {-gravity, (rise + rules.terminal_speed) / gravity, -rules.terminal_speed};
}

double gravity_tick(double rise, GravityPhase phase, const Rules& rules) noexcept {
  if (rise <= -rules.terminal_speed) return rise;
  const double next = rise - gravity_at(rise, phase, rules) * rules.dt;
  return larger(next, -rules.terminal_speed);
}

}  // namespace bushbaby::detail
