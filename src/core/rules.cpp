#include "bushbaby/core/rules.h"

#include <algorithm>
#include <cmath>

#include "angles.h"
#include "text.h"

namespace bushbaby {
namespace {

constexpr double kFlushGapPerWidth = 0.001;

// Turns a duration into whole ticks and notes what the rounding changed.
std::int64_t ticks_of(const Duration& duration, const char* key, double tick_rate,
                      std::vector<Rounding>& roundings) {
  const double asked =
      duration.unit == Duration::Unit::ticks ? duration.amount : duration.amount * tick_rate;
  const std::int64_t used = whole_ticks(asked);
  constexpr double kRoundingNoise = 1e-9;  // a time meant as whole ticks, such as 7/60 s
  if (std::abs(asked - static_cast<double>(used)) > kRoundingNoise) {
    roundings.push_back({key, asked, used, static_cast<double>(used) / tick_rate});
  }
  return used;
}

// The violations that ranges cannot see: knobs that contradict each other.
void check_combinations(const Tuning& tuning, std::vector<Violation>& violations) {
  if (tuning.loop.integrator == Integrator::exact && !tuning.loop.gravity_on_launch_tick) {
    violations.push_back({"loop.gravity_on_launch_tick", "false",
                          "true with integrator \"exact\", whose launch tick is like any other"});
  }
}

// "jump.height, jump.apex_time": the jump constants that were given, or "none".
std::string given_jump_keys(const Tuning& tuning) {
  std::string keys;
  for (const char* key : {"jump.height", "jump.apex_time", "jump.launch_speed", "jump.gravity"}) {
    if (std::holds_alternative<std::monostate>(get_knob(tuning, *find_knob(key)))) continue;
    keys += (keys.empty() ? "" : ", ") + std::string(key);
  }
  return keys.empty() ? "none" : keys;
}

}  // namespace

double seconds(const Duration& duration, double tick_rate) noexcept {
  return duration.unit == Duration::Unit::ticks ? duration.amount / tick_rate : duration.amount;
}

Tuning at_tick_rate(Tuning tuning, double tick_rate) {
  for (const Knob& knob : knobs()) {
    const KnobValue value = get_knob(tuning, knob);
    const auto* duration = std::get_if<Duration>(&value);
    if (duration == nullptr || duration->unit != Duration::Unit::ticks) continue;
    const Duration same_length{seconds(*duration, tuning.loop.tick_rate)};
    // A duration out of range stays as it is, for `compile` to refuse.
    (void)set_knob(tuning, knob, same_length);
  }
  tuning.loop.tick_rate = tick_rate;
  return tuning;
}

std::int64_t whole_ticks(double ticks) noexcept {
  constexpr double kMost = 1e15;
  const double rounded = std::floor(ticks + 1e-9 + 0.5);
  return rounded > 0 ? static_cast<std::int64_t>(std::min(rounded, kMost)) : 0;
}

std::string describe(const Rounding& rounding, double tick_rate) {
  const auto rounded = [](double number, double steps) {
    return detail::text_of(std::floor(number * steps + 0.5) / steps);
  };
  return rounding.key + " is " + rounded(rounding.asked_ticks, 1e4) + " ticks at " +
         detail::text_of(tick_rate) + " Hz: using " + std::to_string(rounding.used_ticks) +
         (rounding.used_ticks == 1 ? " tick = " : " ticks = ") +
         rounded(rounding.used_seconds, 1e4) + " s";
}

JumpAsk jump_ask(const Tuning& tuning) noexcept {
  JumpAsk ask;
  ask.height = tuning.jump.height;
  if (tuning.jump.apex_time) {
    ask.apex_time = seconds(*tuning.jump.apex_time, tuning.loop.tick_rate);
  }
  ask.launch_speed = tuning.jump.launch_speed;
  ask.gravity = tuning.jump.gravity;
  return ask;
}

JumpLoop jump_loop(const Tuning& tuning) noexcept {
  return {tuning.loop.integrator, tuning.loop.tick_rate, tuning.loop.gravity_on_launch_tick};
}

Compiled compile(const Tuning& tuning) {
  Compiled result;
  result.violations = check_ranges(tuning);
  if (!result.ok()) return result;
  check_combinations(tuning, result.violations);
  if (!result.ok()) return result;
  const JumpAnswer jump = derive_jump(jump_ask(tuning), jump_loop(tuning), tuning.jump.hang);
  if (!jump.ok()) {
    result.violations.push_back({"jump", given_jump_keys(tuning), jump.refusal});
    return result;
  }

  Rules& rules = result.rules;
  rules.tick_rate = tuning.loop.tick_rate;
  rules.dt = 1 / tuning.loop.tick_rate;
  rules.integrator = tuning.loop.integrator;
  rules.gravity_on_launch_tick = tuning.loop.gravity_on_launch_tick;
  rules.body = {{-tuning.body.width / 2, 0}, {tuning.body.width / 2, tuning.body.height}};
  rules.flush_gap = kFlushGapPerWidth * tuning.body.width;
  rules.footing_slope = detail::cosine_of_degrees(tuning.run.steepest_footing);
  rules.top_speed = tuning.run.top_speed;
  rules.ground = tuning.run.ground;
  rules.air = tuning.run.air;
  rules.rise_gravity = jump.gravity;
  rules.fall_gravity = jump.gravity * tuning.fall.factor;
  if (tuning.fall.terminal_speed) rules.terminal_speed = *tuning.fall.terminal_speed;
  rules.launch_speed = jump.launch_speed;
  rules.cut_style = tuning.jump.cut.style;
  rules.cut_keep = tuning.jump.cut.keep;
  rules.cut_weight = tuning.jump.cut.weight;
  const auto ticks = [&](const Duration& duration, const char* key) {
    return ticks_of(duration, key, tuning.loop.tick_rate, result.roundings);
  };
  rules.cut_from_tick =
      std::max<std::int64_t>(1, ticks(tuning.jump.cut.min_hold, "jump.cut.min_hold"));
  rules.coyote_ticks = ticks(tuning.jump.coyote, "jump.coyote");
  rules.coyote_gravity = tuning.jump.coyote_gravity;
  rules.buffer_ticks = ticks(tuning.jump.buffer, "jump.buffer");
  rules.hang = tuning.jump.hang;
  return result;
}

}  // namespace bushbaby
