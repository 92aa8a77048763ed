#include "bushbaby/core/jump.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "bushbaby/core/rules.h"

#include "stretch.h"
#include "text.h"

namespace bushbaby {
namespace {

using detail::short_text_of;
using detail::text_of;

constexpr double kAgreement = 1e-6;  // relative, of quantities that should say the same
constexpr double kSameHeight = 1e-9;

// ---- continuous time ----------------------------------------------------------------------------
//
// With a hang band b and its factor h, a jump launched faster than b spends (V - b)/g above the
// band and b/(gh) in it; one launched slower is all in the band. Without a band b is 0.

Apex continuous_apex(double launch, double gravity, const Hang& hang) {
  const double band = std::min(hang.below_speed, launch);
  const double slow = gravity * hang.gravity;
  return {(launch * launch - band * band) / (2 * gravity) + band * band / (2 * slow),
          (launch - band) / gravity + band / slow};
}

struct Constants {
  double gravity = 0;
  double launch = 0;
};

Constants of_height_and_time(double height, double time, const Hang& hang) {
  const double b = hang.below_speed;
  const double h = hang.gravity;
  // V = gT + c, put into the height: a quadratic in g. See docs/model.md, "Hang".
  const double c = b * (1 - 1 / h);
  const double k = b * b / h * (1 / h - 1);
  const double p = height - time * c;
  const double root = std::sqrt(p * p - time * time * k);
  const double gravity = (p + root) / (time * time);
  const double launch = gravity * time + c;
  if (launch > b) return {gravity, launch};
  return {2 * height / (time * time * h), 2 * height / time};  // all of it in the band
}

Constants of_height_and_launch(double height, double launch, const Hang& hang) {
  // The height is inversely proportional to gravity.
  return {continuous_apex(launch, 1, hang).height / height, launch};
}

Constants of_height_and_gravity(double height, double gravity, const Hang& hang) {
  const double b = hang.below_speed;
  const double squared = 2 * gravity * height + b * b - b * b / hang.gravity;
  if (squared > b * b) return {gravity, std::sqrt(squared)};
  return {gravity, std::sqrt(2 * gravity * hang.gravity * height)};
}

Constants of_time_and_launch(double time, double launch, const Hang& hang) {
  return {continuous_apex(launch, 1, hang).time / time, launch};
}

Constants of_time_and_gravity(double time, double gravity, const Hang& hang) {
  const double launch = gravity * time + hang.below_speed * (1 - 1 / hang.gravity);
  if (launch > hang.below_speed) return {gravity, launch};
  return {gravity, gravity * hang.gravity * time};
}

// The continuous jump of the first two given, in the order height, apex time, launch, gravity.
Constants continuous_constants(const JumpAsk& ask, const Hang& hang) {
  if (ask.height && ask.apex_time) return of_height_and_time(*ask.height, *ask.apex_time, hang);
  if (ask.height && ask.launch_speed) {
    return of_height_and_launch(*ask.height, *ask.launch_speed, hang);
  }
  if (ask.height) return of_height_and_gravity(*ask.height, *ask.gravity, hang);
  if (ask.apex_time && ask.launch_speed) {
    return of_time_and_launch(*ask.apex_time, *ask.launch_speed, hang);
  }
  if (ask.apex_time) return of_time_and_gravity(*ask.apex_time, *ask.gravity, hang);
  return {*ask.gravity, *ask.launch_speed};
}

// ---- stepped loops without a hang band: closed forms --------------------------------------------

// The height after k ticks is k·v·dt - g·dt²·S(k); this is S, which says how often gravity has
// acted, and at what weight. Derived in docs/model.md, "Jump".
double gravity_sum(const JumpLoop& loop, double k) {
  const bool early = loop.gravity_on_launch_tick;
  switch (loop.integrator) {
    case Integrator::semi_implicit: return early ? k * (k + 1) / 2 : k * (k - 1) / 2;
    case Integrator::explicit_step: return early ? k * (k - 1) / 2 : (k - 1) * (k - 2) / 2;
    case Integrator::averaged: return early ? k * k / 2 : (k - 1) * (k - 1) / 2;
    case Integrator::exact: break;
  }
  return 0;
}

// Calls `visit(k)` for the whole ticks around `middle`. The quantities searched for below have one
// hump or one hollow in k, at most two ticks from the continuous answer.
template <class Visit>
void visit_ticks_near(double middle, const Visit& visit) {
  constexpr double kReach = 4;
  const double centre = std::floor(middle);
  for (double k = std::max(1.0, centre - kReach); k <= std::max(1.0, centre) + kReach; k += 1) {
    visit(k);
  }
}

double launch_for_height(double height, double gravity, const JumpLoop& loop) {
  const double dt = 1 / loop.tick_rate;
  double launch = std::numeric_limits<double>::max();
  visit_ticks_near(std::sqrt(2 * height / gravity) / dt, [&](double k) {
    launch = std::min(launch, (height + gravity * dt * dt * gravity_sum(loop, k)) / (k * dt));
  });
  return launch;
}

// Not positive if the loop overshoots the height before gravity acts for the first time.
double gravity_for_height(double height, double launch, const JumpLoop& loop) {
  const double dt = 1 / loop.tick_rate;
  double gravity = 0;
  bool possible = true;
  const auto visit = [&](double k) {
    const double sum = gravity_sum(loop, k);
    const double excess = k * launch * dt - height;
    if (sum > 0) {
      gravity = std::max(gravity, excess / (dt * dt * sum));
    } else if (excess > 0) {
      possible = false;
    }
  };
  visit_ticks_near(1, visit);
  visit_ticks_near(2 * height / (launch * dt), visit);
  return possible ? gravity : 0;
}

Apex stepped_apex(double launch, double gravity, const JumpLoop& loop) {
  const double dt = 1 / loop.tick_rate;
  Apex apex;
  visit_ticks_near(launch / (gravity * dt), [&](double k) {
    const double height = k * launch * dt - gravity * dt * dt * gravity_sum(loop, k);
    if (height > apex.height) apex = {height, k * dt};
  });
  return apex;
}

// ---- stepped loops with a hang band: by stepping ------------------------------------------------

// The highest sample, by the same arithmetic as the motion step's.
Apex simulated_apex(double launch, double gravity, const JumpLoop& loop, const Hang& hang) {
  Rules rules;
  rules.dt = 1 / loop.tick_rate;
  rules.rise_gravity = rules.fall_gravity = gravity;
  rules.hang = hang;
  Apex apex;
  double height = 0;
  double speed = launch;
  constexpr int kMostTicks = 1000000;
  for (int tick = 1; tick <= kMostTicks && speed > 0; ++tick) {
    const bool acts = tick > 1 || loop.gravity_on_launch_tick;
    const double next = acts ? detail::gravity_tick(speed, {false, true, 1}, rules) : speed;
    height = height + detail::moving_speed(loop.integrator, speed, next) * rules.dt;
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

JumpAnswer refuse(std::string reason) {
  JumpAnswer answer;
  answer.refusal = std::move(reason);
  return answer;
}

struct Given {
  const char* name;
  const std::optional<double>& value;
};

bool is_positive(double value) { return value > 0 && std::isfinite(value); }

// What is wrong with the call, before anything is solved; empty if nothing is.
std::string find_fault(const JumpAsk& ask, const JumpLoop& loop, const Hang& hang) {
  if (!is_positive(loop.tick_rate)) return "the tick rate must be a positive number of Hz";
  if (loop.integrator == Integrator::exact && !loop.gravity_on_launch_tick) {
    return "the exact loop always has gravity on the launch tick";
  }
  if (!(hang.below_speed >= 0) || !std::isfinite(hang.below_speed) || !is_positive(hang.gravity)) {
    return "the hang band's speed must be 0 or more and its gravity more than 0";
  }
  const Given all[] = {{"height", ask.height},
                       {"apex time", ask.apex_time},
                       {"launch speed", ask.launch_speed},
                       {"gravity", ask.gravity}};
  std::string named;
  int count = 0;
  for (const Given& given : all) {
    if (!given.value) continue;
    if (!is_positive(*given.value)) {
      return std::string(given.name) + " must be more than 0 and finite, not " +
             text_of(*given.value);
    }
    named += (count++ > 0 ? ", " : "") + std::string(given.name);
  }
  if (count >= 2) return {};
  return "two of height, apex time, launch speed and gravity are needed; given: " +
         (count == 0 ? std::string("none") : named);
}

// Whether everything asked for agrees with a continuous jump of these constants; empty if it does.
std::string find_contradiction(const JumpAsk& ask, const Constants& constants, const Hang& hang) {
  const Apex apex = continuous_apex(constants.launch, constants.gravity, hang);
  const auto differs = [](const std::optional<double>& asked, double has, const char* what,
                          const char* unit) -> std::string {
    if (!asked ||
        std::abs(*asked - has) <= kAgreement * std::max(std::abs(*asked), std::abs(has))) {
      return {};
    }
    return std::string("contradictory: the other two give ") + what + " " + short_text_of(has) +
           " " + unit + ", not " + text_of(*asked) + " " + unit + "; leave one of them out";
  };
  const std::string all[] = {differs(ask.height, apex.height, "height", "u"),
                             differs(ask.apex_time, apex.time, "apex time", "s"),
                             differs(ask.launch_speed, constants.launch, "launch speed", "u/s"),
                             differs(ask.gravity, constants.gravity, "gravity", "u/s²")};
  for (const std::string& text : all) {
    if (!text.empty()) return text;
  }
  return {};
}

// The constants whose highest sample in a stepped loop is the height asked for; a gravity that is
// not positive if there are none.
Constants stepped_constants(const JumpAsk& ask, const Constants& continuous, const JumpLoop& loop,
                            const Hang& hang) {
  const double height = *ask.height;
  const bool keeps_gravity = ask.apex_time || !ask.launch_speed;
  if (hang.below_speed == 0) {
    if (keeps_gravity) {
      return {continuous.gravity, launch_for_height(height, continuous.gravity, loop)};
    }
    return {gravity_for_height(height, continuous.launch, loop), continuous.launch};
  }
  constexpr double kStepShare = 1.0 / 32;
  const auto miss = [&](double launch, double gravity) {
    return simulated_apex(launch, gravity, loop, hang).height - height;
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

JumpAnswer derive_jump(const JumpAsk& ask, const JumpLoop& loop, const Hang& hang) {
  if (std::string fault = find_fault(ask, loop, hang); !fault.empty()) {
    return refuse(std::move(fault));
  }
  Constants constants = continuous_constants(ask, hang);
  if (!is_positive(constants.gravity) || !is_positive(constants.launch)) {
    return refuse("impossible: no gravity and launch speed give that jump with this hang band");
  }
  if (std::string text = find_contradiction(ask, constants, hang); !text.empty()) {
    return refuse(std::move(text));
  }
  if (ask.height && loop.integrator != Integrator::exact) {
    constants = stepped_constants(ask, constants, loop, hang);
    if (!is_positive(constants.gravity) || !is_positive(constants.launch)) {
      return refuse("impossible in this loop: no sample of a jump like that comes to lie at " +
                    text_of(*ask.height) +
                    " u: the body rises past it from one tick to the next. Another "
                    "height, hang band or tick rate may do it");
    }
  }
  JumpAnswer answer;
  answer.gravity = constants.gravity;
  answer.launch_speed = constants.launch;
  return answer;
}

Apex predict_apex(double launch_speed, double gravity, const JumpLoop& loop,
                  const Hang& hang) noexcept {
  if (loop.integrator == Integrator::exact) return continuous_apex(launch_speed, gravity, hang);
  if (hang.below_speed == 0) return stepped_apex(launch_speed, gravity, loop);
  return simulated_apex(launch_speed, gravity, loop, hang);
}

}  // namespace bushbaby
