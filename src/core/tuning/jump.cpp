#include "bushbaby/core/tuning/jump.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "bushbaby/core/motion/rules.h"

#include "core/motion/stretch.h"
#include "text.h"

namespace bushbaby {
namespace {

using detail::short_text_of;
using detail::text_of;

// A stepped loop looks at every tick of a jump with a hang band, many times.
constexpr int kMostRiseTicks = 100000;

constexpr double kAgreement = 1e-6;  // relative, of quantities that should say the same
constexpr double kSameHeight = 1e-9;

// ---- continuous time ----------------------------------------------------------------------------
//
// A jump holds its launch speed for the time S that is sustained (0 without), and then rises like
// any body. With a hang band b and its factor h, a jump launched faster than b spends (V - b)/g
// above the band and b/(gh) in it; one launched slower is all in the band. Without a band b is 0.

Apex continuous_apex(double launch, double gravity, const JumpShape& shape) {
  const double band = std::min(shape.hang.below_speed, launch);
  const double slow = gravity * shape.hang.gravity;
  return {(launch * launch - band * band) / (2 * gravity) + band * band / (2 * slow) +
              launch * shape.sustain,
          (launch - band) / gravity + band / slow + shape.sustain};
}

struct Constants {
  double gravity = 0;
  double launch = 0;
};

// Each of these gives something that is not positive if there is no such jump.

Constants of_height_and_time(double height, double time, const JumpShape& shape) {
  const double b = shape.hang.below_speed;
  const double h = shape.hang.gravity;
  const double sustain = shape.sustain;
  const double slowing = time - sustain;
  if (!(slowing > 0)) return {};
  // V = g(T - S) + c, put into the height: a quadratic in g. See docs/model.md, "Hang".
  const double c = b * (1 - 1 / h);
  const double k = b * b / h * (1 / h - 1);
  const double p = height - time * c;
  const double a = slowing * slowing + 2 * sustain * slowing;
  const double root = std::sqrt(p * p - a * k);
  const double gravity = (p + root) / a;
  const double launch = gravity * slowing + c;
  if (launch > b) return {gravity, launch};
  return {2 * height / (a * h), 2 * height / (slowing + 2 * sustain)};  // all of it in the band
}

Constants of_height_and_launch(double height, double launch, const JumpShape& shape) {
  // The height that is slowed through is inversely proportional to gravity.
  const JumpShape slowed{shape.hang, 0};
  return {continuous_apex(launch, 1, slowed).height / (height - launch * shape.sustain), launch};
}

Constants of_height_and_gravity(double height, double gravity, const JumpShape& shape) {
  const double b = shape.hang.below_speed;
  // V²/2g + VS + … = H, a quadratic in V.
  const auto launch_at = [&](double g, double squared) {
    return std::sqrt(g * shape.sustain * g * shape.sustain + squared) - g * shape.sustain;
  };
  const double squared = 2 * gravity * height + b * b - b * b / shape.hang.gravity;
  const double launch = squared > 0 ? launch_at(gravity, squared) : 0;
  if (launch > b) return {gravity, launch};
  const double slow = gravity * shape.hang.gravity;
  return {gravity, launch_at(slow, 2 * slow * height)};
}

Constants of_time_and_launch(double time, double launch, const JumpShape& shape) {
  const JumpShape slowed{shape.hang, 0};
  return {continuous_apex(launch, 1, slowed).time / (time - shape.sustain), launch};
}

Constants of_time_and_gravity(double time, double gravity, const JumpShape& shape) {
  const Hang& hang = shape.hang;
  const double slowing = time - shape.sustain;
  const double launch = gravity * slowing + hang.below_speed * (1 - 1 / hang.gravity);
  if (launch > hang.below_speed) return {gravity, launch};
  return {gravity, gravity * hang.gravity * slowing};
}

// The continuous jump of the first two given, in the order height, apex time, launch, gravity.
Constants continuous_constants(const JumpAsk& ask, const JumpShape& shape) {
  if (ask.height && ask.apex_time) return of_height_and_time(*ask.height, *ask.apex_time, shape);
  if (ask.height && ask.launch_speed) {
    return of_height_and_launch(*ask.height, *ask.launch_speed, shape);
  }
  if (ask.height) return of_height_and_gravity(*ask.height, *ask.gravity, shape);
  if (ask.apex_time && ask.launch_speed) {
    return of_time_and_launch(*ask.apex_time, *ask.launch_speed, shape);
  }
  if (ask.apex_time) return of_time_and_gravity(*ask.apex_time, *ask.gravity, shape);
  return {*ask.gravity, *ask.launch_speed};
}

// ---- stepped loops without a hang band: closed forms --------------------------------------------

// A stepped loop and the whole ticks for which it holds the launch speed.
struct Steps {
  const JumpLoop& loop;
  double dt;
  double sustained;
};

Steps steps_of(const JumpLoop& loop, const JumpShape& shape) {
  return {loop, 1 / loop.tick_rate,
          static_cast<double>(whole_ticks(shape.sustain * loop.tick_rate))};
}

// The height after k ticks is k·v·dt - g·dt²·S(k); this is S, which says how often gravity has
// acted, and at what weight. Derived in docs/model.md, "Jump". Behind ticks that hold the launch
// speed, which gravity leaves alone, it begins with a tick like any other.
double gravity_sum(const Steps& steps, double k) {
  if (steps.sustained > 0) k = std::max(0.0, k - steps.sustained);
  const bool early = steps.loop.gravity_on_launch_tick || steps.sustained > 0;
  switch (steps.loop.integrator) {
    case Integrator::semi_implicit: return early ? k * (k + 1) / 2 : k * (k - 1) / 2;
    case Integrator::explicit_step: return early ? k * (k - 1) / 2 : (k - 1) * (k - 2) / 2;
    case Integrator::trapezoidal: return early ? k * k / 2 : (k - 1) * (k - 1) / 2;
    case Integrator::exact: break;
  }
  return 0;
}

// Calls `visit(k)` for the whole ticks around `middle`. The quantities searched for below have one
// hump or one hollow in k, at most two ticks from the continuous answer.
template <class Visit>
void visit_ticks_near(double middle, const Visit& visit) {
  constexpr double kReach = 4;
  constexpr double kMost = 1e15;  // beyond, ticks can no longer be counted one by one
  const double centre = std::floor(std::min(middle, kMost));
  for (double k = std::max(1.0, centre - kReach); k <= std::max(1.0, centre) + kReach; k += 1) {
    visit(k);
  }
}

double launch_for_height(double height, double gravity, const Steps& steps) {
  const double dt = steps.dt;
  const double held = steps.sustained * dt;
  double launch = std::numeric_limits<double>::max();
  visit_ticks_near(std::sqrt(held * held + 2 * height / gravity) / dt, [&](double k) {
    launch = std::min(launch, (height + gravity * dt * dt * gravity_sum(steps, k)) / (k * dt));
  });
  return launch;
}

// Not positive if the loop overshoots the height before gravity acts for the first time.
double gravity_for_height(double height, double launch, const Steps& steps) {
  const double dt = steps.dt;
  double gravity = 0;
  bool possible = true;
  const auto visit = [&](double k) {
    const double sum = gravity_sum(steps, k);
    const double excess = k * launch * dt - height;
    if (sum > 0) {
      gravity = std::max(gravity, excess / (dt * dt * sum));
    } else if (excess > 0) {
      possible = false;
    }
  };
  visit_ticks_near(steps.sustained + 1, visit);
  visit_ticks_near(2 * height / (launch * dt) - steps.sustained, visit);
  return possible ? gravity : 0;
}

Apex stepped_apex(double launch, double gravity, const Steps& steps) {
  const double dt = steps.dt;
  Apex apex;
  visit_ticks_near(steps.sustained + launch / (gravity * dt), [&](double k) {
    const double height = k * launch * dt - gravity * dt * dt * gravity_sum(steps, k);
    if (height > apex.height) apex = {height, k * dt};
  });
  return apex;
}

// ---- stepped loops with a hang band: by stepping ------------------------------------------------

// The highest sample, by the same arithmetic as the motion step's.
Apex simulated_apex(double launch, double gravity, const Steps& steps, const Hang& hang) {
  Rules rules;
  rules.dt = steps.dt;
  rules.rise_gravity = rules.fall_gravity = gravity;
  rules.hang = hang;
  detail::GravityPhase phase;
  phase.hangs = true;
  Apex apex;
  double height = 0;
  double speed = launch;
  constexpr int kMostTicks = 1000000;
  for (int tick = 1; tick <= kMostTicks && speed > 0; ++tick) {
    const bool held = tick <= steps.sustained;
    const bool first = tick == 1 && !steps.loop.gravity_on_launch_tick;
    const double next = held || first ? speed : detail::gravity_tick(speed, phase, rules);
    height = height + detail::moving_speed(steps.loop.integrator, speed, next) * rules.dt;
    if (height > apex.height) apex = {height, tick * rules.dt};
    speed = next;
  }
  return apex;
}

// The root nearest `start` of a function that may jump and need not be monotone: looks at steps
// outward, halves the first one in which the sign changes, and goes on if that was a jump.
template <class Function>
std::optional<double> nearest_root(double start, double step, const Function& function) {
  constexpr int kMostSteps = 256;
  const auto halve = [&](double lo, double hi) -> std::optional<double> {
    const bool grows = function(hi) > 0;
    for (double middle = (lo + hi) / 2; middle > lo && middle < hi; middle = (lo + hi) / 2) {
      ((function(middle) > 0) == grows ? hi : lo) = middle;
    }
    for (const double end : {lo, hi}) {
      if (std::abs(function(end)) <= kSameHeight) return end;
    }
    return std::nullopt;
  };
  double above = function(start);
  double below = above;
  for (int i = 0; i < kMostSteps; ++i) {
    const double high = start + (i + 1) * step;
    const double low = start - (i + 1) * step;
    const double next_above = function(high);
    if ((above > 0) != (next_above > 0)) {
      if (const auto root = halve(high - step, high)) return root;
    }
    if (low > 0) {
      const double next_below = function(low);
      if ((below > 0) != (next_below > 0)) {
        if (const auto root = halve(low, low + step)) return root;
      }
      below = next_below;
    }
    above = next_above;
  }
  return std::nullopt;
}

// ---- what was asked for -------------------------------------------------------------------------

JumpAnswer refuse(Violation reason) {
  JumpAnswer answer;
  answer.refusal = std::move(reason);
  return answer;
}

struct Given {
  const char* name;
  const std::optional<double>& value;
  Dimension dimension;
};

bool is_positive(double value) { return value > 0 && std::isfinite(value); }

// What is wrong with the call, before anything is solved.
std::optional<Violation> find_fault(const JumpAsk& ask, const JumpLoop& loop,
                                    const JumpShape& shape) {
  const Hang& hang = shape.hang;
  const auto fault = [](Phrase found, Phrase expected) {
    return Violation{"", std::move(found), std::move(expected)};
  };
  if (!is_positive(loop.tick_rate)) {
    return fault("a tick rate of " + text_of(loop.tick_rate) + " Hz", "more than 0 Hz");
  }
  if (loop.integrator == Integrator::exact && !loop.gravity_on_launch_tick) {
    return fault("an exact loop without gravity on the launch tick",
                 "gravity on it: the launch tick of the exact loop is like any other");
  }
  if (!(hang.below_speed >= 0) || !std::isfinite(hang.below_speed) || !is_positive(hang.gravity)) {
    return fault(Phrase("a hang band below ") + Quantity{hang.below_speed, Dimension::speed} +
                     " with gravity times " + text_of(hang.gravity),
                 "a speed of 0 or more and a factor above 0");
  }
  if (!(shape.sustain >= 0) || !std::isfinite(shape.sustain)) {
    return fault(
        Phrase("a launch speed that is held for ") + Quantity{shape.sustain, Dimension::time},
        "a time of 0 or more");
  }
  const Given all[] = {{"height", ask.height, Dimension::length},
                       {"apex time", ask.apex_time, Dimension::time},
                       {"launch speed", ask.launch_speed, Dimension::speed},
                       {"gravity", ask.gravity, Dimension::acceleration}};
  std::string alone = "nothing";
  int count = 0;
  for (const Given& given : all) {
    if (!given.value) continue;
    if (!is_positive(*given.value)) {
      return fault(Phrase(given.name) + " " + Quantity{*given.value, given.dimension},
                   "more than 0, and finite");
    }
    ++count;
    alone = std::string(given.name) + " alone";
  }
  if (count >= 2) return std::nullopt;
  return fault(alone, "two of height, apex time, launch speed and gravity");
}

// What of that which was asked for does not agree with a continuous jump of these constants.
std::optional<Violation> find_contradiction(const JumpAsk& ask, const Constants& constants,
                                            const JumpShape& shape) {
  const Apex apex = continuous_apex(constants.launch, constants.gravity, shape);
  struct Claim {
    const std::optional<double>& asked;
    double has;
    const char* what;
    Dimension dimension;
  };
  const Claim claims[] = {{ask.height, apex.height, "height", Dimension::length},
                          {ask.apex_time, apex.time, "apex time", Dimension::time},
                          {ask.launch_speed, constants.launch, "launch speed", Dimension::speed},
                          {ask.gravity, constants.gravity, "gravity", Dimension::acceleration}};
  for (const Claim& claim : claims) {
    if (!claim.asked) continue;
    const double asked = *claim.asked;
    const double size = std::max(std::abs(asked), std::abs(claim.has));
    if (std::abs(asked - claim.has) <= kAgreement * size) continue;
    return Violation{"",
                     Phrase(claim.what) + " " + Quantity{asked, claim.dimension} +
                         " where the others give " + Quantity{claim.has, claim.dimension, true},
                     "one of them omitted"};
  }
  return std::nullopt;
}

// Why no gravity and launch speed give what was asked for.
Violation no_constants(const JumpShape& shape) {
  const Phrase found = "a jump that no gravity and launch speed give";
  if (shape.sustain > 0) {
    return {"",
            found + " when a held button holds the launch speed for " +
                Quantity{shape.sustain, Dimension::time, true},
            "a shorter sustain, or a higher jump with a later apex"};
  }
  if (shape.hang.below_speed > 0) {
    return {"",
            found + " with a hang band below " +
                Quantity{shape.hang.below_speed, Dimension::speed, true},
            "a narrower hang band, or another jump"};
  }
  return {"", found, "numbers that are not so far apart"};
}

// The constants whose highest sample in a stepped loop is the height asked for; a gravity that is
// not positive if there are none.
Constants stepped_constants(const JumpAsk& ask, const Constants& continuous, const JumpLoop& loop,
                            const JumpShape& shape) {
  const double height = *ask.height;
  const Hang& hang = shape.hang;
  const Steps steps = steps_of(loop, shape);
  const bool keeps_gravity = ask.apex_time || !ask.launch_speed;
  if (hang.below_speed == 0) {
    if (keeps_gravity) {
      return {continuous.gravity, launch_for_height(height, continuous.gravity, steps)};
    }
    return {gravity_for_height(height, continuous.launch, steps), continuous.launch};
  }
  constexpr double kStepShare = 1.0 / 32;
  const auto miss = [&](double launch, double gravity) {
    return simulated_apex(launch, gravity, steps, hang).height - height;
  };
  if (keeps_gravity) {
    const auto launch =
        nearest_root(continuous.launch, continuous.gravity / loop.tick_rate * kStepShare,
                     [&](double v) { return miss(v, continuous.gravity); });
    return launch ? Constants{continuous.gravity, *launch} : Constants{};
  }
  const auto gravity = nearest_root(continuous.gravity, continuous.gravity * kStepShare / 16,
                                    [&](double g) { return miss(continuous.launch, g); });
  return gravity ? Constants{*gravity, continuous.launch} : Constants{};
}

}  // namespace

JumpAnswer derive_jump(const JumpAsk& ask, const JumpLoop& loop, const JumpShape& shape) {
  if (auto fault = find_fault(ask, loop, shape)) return refuse(std::move(*fault));
  Constants constants = continuous_constants(ask, shape);
  if (!is_positive(constants.gravity) || !is_positive(constants.launch)) {
    return refuse(no_constants(shape));
  }
  if (auto contradiction = find_contradiction(ask, constants, shape)) {
    return refuse(std::move(*contradiction));
  }
  if (ask.height && loop.integrator != Integrator::exact) {
    const double ticks =
        continuous_apex(constants.launch, constants.gravity, shape).time * loop.tick_rate;
    if (!(ticks <= kMostRiseTicks)) {
      return refuse({"", "a jump that rises for " + short_text_of(ticks) + " ticks",
                     "at most " + std::to_string(kMostRiseTicks) + " in a loop that steps"});
    }
    constants = stepped_constants(ask, constants, loop, shape);
    if (!is_positive(constants.gravity) || !is_positive(constants.launch)) {
      return refuse({"",
                     Phrase("a height of ") + Quantity{*ask.height, Dimension::length} +
                         ", past which such a jump rises from one tick to the next",
                     shape.hang.below_speed > 0 ? "another height, hang band or tick rate"
                                                : "another height or tick rate"});
    }
  }
  JumpAnswer answer;
  answer.gravity = constants.gravity;
  answer.launch_speed = constants.launch;
  return answer;
}

Apex predict_apex(double launch_speed, double gravity, const JumpLoop& loop,
                  const JumpShape& shape) noexcept {
  if (loop.integrator == Integrator::exact) return continuous_apex(launch_speed, gravity, shape);
  const Steps steps = steps_of(loop, shape);
  if (shape.hang.below_speed == 0) return stepped_apex(launch_speed, gravity, steps);
  return simulated_apex(launch_speed, gravity, steps, shape.hang);
}

}  // namespace bushbaby
