#include "bushbaby/core/jump.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "text.h"

namespace bushbaby {
namespace {

using detail::short_text_of;
using detail::text_of;

constexpr double kAgreement = 1e-6;

// In a stepped loop the height after k ticks is k·v·dt - g·dt²·S(k); this is S, which says how
// often gravity has acted, and at what weight. Derived in docs/model.md, "Jump".
double gravity_sum(const JumpLoop& loop, double k) {
  const bool early = loop.gravity_on_launch_tick;
  switch (loop.integrator) {
    case Integrator::semi_implicit:
      return early ? k * (k + 1) / 2 : k * (k - 1) / 2;
    case Integrator::explicit_step:
      return early ? k * (k - 1) / 2 : (k - 1) * (k - 2) / 2;
    case Integrator::averaged:
      return early ? k * k / 2 : (k - 1) * (k - 1) / 2;
    case Integrator::exact:
      break;
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
  if (loop.integrator == Integrator::exact) return std::sqrt(2 * gravity * height);
  const double dt = 1 / loop.tick_rate;
  double launch = std::numeric_limits<double>::max();
  visit_ticks_near(std::sqrt(2 * height / gravity) / dt, [&](double k) {
    launch = std::min(launch, (height + gravity * dt * dt * gravity_sum(loop, k)) / (k * dt));
  });
  return launch;
}

// Gravity for a height and a launch speed; not positive if the loop overshoots the height before
// gravity acts for the first time.
double gravity_for_height(double height, double launch, const JumpLoop& loop) {
  if (loop.integrator == Integrator::exact) return launch * launch / (2 * height);
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

JumpAnswer refuse(std::string reason) {
  JumpAnswer answer;
  answer.refusal = std::move(reason);
  return answer;
}

struct Given {
  const char* name;
  const std::optional<double>& value;
};

bool agree(double a, double b) {
  return std::abs(a - b) <= kAgreement * std::max(std::abs(a), std::abs(b));
}

// Whether what else was asked for agrees, in continuous time, with a jump of this gravity and
// launch speed; empty if it does.
std::string find_contradiction(const JumpAsk& ask, double gravity, double launch) {
  const double height = launch * launch / (2 * gravity);
  const double apex_time = launch / gravity;
  const auto differs = [](const std::optional<double>& asked, double has, const char* what,
                          const char* unit) -> std::string {
    if (!asked || agree(*asked, has)) return {};
    return std::string("contradictory: the other two give ") + what + " " + short_text_of(has) +
           " " + unit + ", not " + text_of(*asked) + " " + unit + "; leave one of them out";
  };
  for (const std::string& text : {differs(ask.height, height, "height", "u"),
                                  differs(ask.apex_time, apex_time, "apex time", "s"),
                                  differs(ask.launch_speed, launch, "launch speed", "u/s"),
                                  differs(ask.gravity, gravity, "gravity", "u/s²")}) {
    if (!text.empty()) return text;
  }
  return {};
}

}  // namespace

JumpAnswer derive_jump(const JumpAsk& ask, const JumpLoop& loop) {
  if (!(loop.tick_rate > 0) || !std::isfinite(loop.tick_rate)) {
    return refuse("the tick rate must be a positive number of Hz");
  }
  if (loop.integrator == Integrator::exact && !loop.gravity_on_launch_tick) {
    return refuse("the exact loop always has gravity on the launch tick");
  }
  const Given all[] = {{"height", ask.height},
                       {"apex time", ask.apex_time},
                       {"launch speed", ask.launch_speed},
                       {"gravity", ask.gravity}};
  std::string named;
  int count = 0;
  for (const Given& given : all) {
    if (!given.value) continue;
    if (!(*given.value > 0) || !std::isfinite(*given.value)) {
      return refuse(std::string(given.name) + " must be more than 0 and finite, not " +
                    text_of(*given.value));
    }
    named += (count++ > 0 ? ", " : "") + std::string(given.name);
  }
  if (count < 2) {
    return refuse("two of height, apex time, launch speed and gravity are needed; given: " +
                  (count == 0 ? std::string("none") : named));
  }

  // The continuous jump of the first two given, in the order of `all`.
  double gravity = 0;
  double launch = 0;
  if (ask.height && ask.apex_time) {
    gravity = 2 * *ask.height / (*ask.apex_time * *ask.apex_time);
    launch = 2 * *ask.height / *ask.apex_time;
  } else if (ask.height && ask.launch_speed) {
    launch = *ask.launch_speed;
    gravity = launch * launch / (2 * *ask.height);
  } else if (ask.height) {
    gravity = *ask.gravity;
    launch = std::sqrt(2 * gravity * *ask.height);
  } else if (ask.apex_time && ask.launch_speed) {
    launch = *ask.launch_speed;
    gravity = launch / *ask.apex_time;
  } else if (ask.apex_time) {
    gravity = *ask.gravity;
    launch = gravity * *ask.apex_time;
  } else {
    gravity = *ask.gravity;
    launch = *ask.launch_speed;
  }
  if (count > 2) {
    if (std::string text = find_contradiction(ask, gravity, launch); !text.empty()) {
      return refuse(std::move(text));
    }
  }

  // What the loop's samples need instead.
  if (ask.height && !ask.apex_time && ask.launch_speed && !ask.gravity) {
    gravity = gravity_for_height(*ask.height, launch, loop);
    if (!(gravity > 0)) {
      return refuse("impossible in this loop: a launch at " + text_of(launch) + " u/s rises past " +
                    text_of(*ask.height) + " u before gravity first acts");
    }
  } else if (ask.height) {
    launch = launch_for_height(*ask.height, gravity, loop);
  }
  if (!std::isfinite(gravity) || !std::isfinite(launch)) {
    return refuse("the jump asked for is out of the range of numbers");
  }
  JumpAnswer answer;
  answer.gravity = gravity;
  answer.launch_speed = launch;
  return answer;
}

Apex predict_apex(double launch_speed, double gravity, const JumpLoop& loop) noexcept {
  if (loop.integrator == Integrator::exact) {
    return {launch_speed * launch_speed / (2 * gravity), launch_speed / gravity};
  }
  const double dt = 1 / loop.tick_rate;
  Apex apex;
  visit_ticks_near(launch_speed / (gravity * dt), [&](double k) {
    const double height = k * launch_speed * dt - gravity * dt * dt * gravity_sum(loop, k);
    if (height > apex.height) apex = {height, k * dt};
  });
  return apex;
}

}  // namespace bushbaby
