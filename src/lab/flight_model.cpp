#include "flight_model.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/world/level.h"

namespace bushbaby::detail {
namespace {

// Steps of a curve that is not in ticks are no longer than this, s.
constexpr double kTrialStep = 1.0 / 120;
constexpr int kMostSteps = 200000;

const LevelWorld& ground() {
  static const LevelWorld world({Box{{-100, -10}, {100, 0}}});
  return world;
}
const LevelWorld& nothing() {
  static const LevelWorld world(std::vector<Box>{});
  return world;
}

// Where a flight begins: on ground that is there for its first tick alone if it jumps, or else in
// the air.
bool begin(Character& character, const Rules& rules, bool jumps) {
  return place(character, {0, 0}, rules, jumps ? ground() : nothing());
}

void fly_tick(Character& character, const Rules& rules, bool holds, bool leaves_ground) {
  Controls controls;
  controls.jump = holds || leaves_ground;  // the first is the press itself
  advance(character, controls, rules, leaves_ground ? ground() : nothing());
}

}  // namespace

Tuning with_flight(Tuning tuning, const FlightConstants& constants) {
  Tuning::Jump& jump = tuning.jump;
  jump.height.reset();
  jump.apex_time.reset();
  jump.launch_speed = constants.launch_speed;
  jump.gravity = constants.gravity;
  jump.hang = {constants.band, constants.band_gravity};
  jump.sustain = {constants.sustain};
  jump.cut.style = constants.cut;
  if (constants.cut == CutStyle::scale) jump.cut.keep = constants.cut_amount;
  if (constants.cut == CutStyle::weight) jump.cut.weight = constants.cut_amount;
  tuning.fall.factor = constants.fall_factor;
  tuning.fall.terminal_speed.reset();
  if (constants.terminal_speed > 0) tuning.fall.terminal_speed = constants.terminal_speed;
  return tuning;
}

double later_share(Integrator integrator) {
  FlightConstants constants;
  constants.launch_speed = 10;
  constexpr double kRate = 60;
  FlightPlayer player(constants, {integrator, kRate, true, true});
  const auto flight = player.fly({true, 1, 2 / kRate});
  if (!flight || flight->speeds().size() < 3) return 0.5;
  const std::vector<double>& speeds = flight->speeds();
  const double moves = (flight->heights()[2] - flight->heights()[1]) * kRate;
  // In halves: what is beside them is rounding.
  return std::round(2 * (moves - speeds[1]) / (speeds[2] - speeds[1])) / 2;
}

void FlightCurve::add(double time, double height, double speed) {
  times_.push_back(time);
  heights_.push_back(height);
  speeds_.push_back(speed);
}

FlightCurve FlightCurve::first(std::size_t count, std::size_t room) const {
  FlightCurve begun(straight_);
  const auto part = [&](const std::vector<double>& from, std::vector<double>& to) {
    to.reserve(std::max(room, count));
    to.assign(from.begin(), from.begin() + static_cast<std::ptrdiff_t>(count));
  };
  part(times_, begun.times_);
  part(heights_, begun.heights_);
  part(speeds_, begun.speeds_);
  return begun;
}

double FlightCurve::height_at(double time) const noexcept {
  std::size_t from = 0;
  if (time > 0 && times_.size() > 2) {
    const auto after = std::upper_bound(times_.begin() + 1, times_.end() - 1, time);
    from = static_cast<std::size_t>(after - times_.begin());
  }
  return height_at(time, from);
}

double FlightCurve::height_at(double time, std::size_t& from) const noexcept {
  if (!(time > 0) || times_.size() < 2) return 0;
  std::size_t i = std::max<std::size_t>(from, 1);
  while (i + 1 < times_.size() && times_[i] <= time) ++i;
  from = i;
  const double length = times_[i] - times_[i - 1];
  const double s = (time - times_[i - 1]) / length;
  if (std::abs(s) < 1e-7) return heights_[i - 1];
  if (std::abs(s - 1) < 1e-7) return heights_[i];
  if (straight_) return heights_[i - 1] + s * (heights_[i] - heights_[i - 1]);
  // Hermite's cubic: heights and speeds at both ends. In the first step the speed at its start is
  // the one that height and speed at its end imply, since the launch comes at once.
  const double rise = heights_[i] - heights_[i - 1];
  const double before = i == 1 ? 2 * rise / length - speeds_[1] : speeds_[i - 1];
  const double a = before * length - rise;
  const double b = rise - speeds_[i] * length;
  return heights_[i - 1] + s * rise + s * (1 - s) * ((1 - s) * a + s * b);
}

FlightPlayer::FlightPlayer(const FlightConstants& constants, const FlightClock& clock)
    : clock_(clock), tuning_(with_flight({}, constants)) {
  tuning_.loop.integrator = clock.in_ticks ? clock.integrator : Integrator::exact;
}

FlightPlayer::FlightPlayer(const FlightPlayer& held, const FlightConstants& constants)
    : FlightPlayer(constants, held.clock_) {
  jumps_ = held.jumps_;
}

std::optional<FlightCurve> FlightPlayer::fly(const FlightRun& run) {
  return clock_.in_ticks ? in_ticks(run) : in_phases(run);
}

const Rules* FlightPlayer::rules_at(double tick_rate, double sustain) {
  const auto [at, is_new] = rules_.try_emplace(std::pair(tick_rate, sustain));
  if (is_new) {
    Tuning tuning = tuning_;
    tuning.loop.tick_rate = tick_rate;
    tuning.jump.sustain = {sustain};
    if (Compiled compiled = compile(tuning); compiled.ok()) at->second = compiled.rules;
  }
  return at->second ? &*at->second : nullptr;
}

std::optional<FlightCurve> FlightPlayer::in_ticks(const FlightRun& run) {
  const double rate = clock_.tick_rate;
  const Rules* rules = rules_at(rate, tuning_.jump.sustain.amount);
  const double ticks = std::ceil(run.until * rate - 1e-6);
  if (rules == nullptr || !(ticks <= kMostSteps)) return std::nullopt;
  const auto last = static_cast<std::size_t>(std::max(0.0, ticks));
  const double hold = run.jumps ? std::clamp(std::round(run.hold * rate), 0.0, ticks) : 0;
  const auto held = static_cast<std::size_t>(hold);
  Begun& begun = run.jumps ? jumps_ : falls_;
  if (begun.after.empty()) {
    Character character;
    if (!begin(character, *rules, run.jumps)) return std::nullopt;
    begun.after.push_back(character);
    begun.curve.add(0, 0, 0);
  }
  const double feet = begun.after.front().feet.y;
  const auto go_on = [&](Character& character, std::size_t tick, bool holds, FlightCurve& curve) {
    fly_tick(character, *rules, holds, run.jumps && tick == 0);
    curve.add(static_cast<double>(tick + 1) / rate, character.feet.y - feet, character.velocity.y);
  };
  while (begun.after.size() <= held) {
    Character character = begun.after.back();
    go_on(character, begun.after.size() - 1, true, begun.curve);
    begun.after.push_back(character);
  }
  Character character = begun.after[held];
  FlightCurve curve = begun.curve.first(held + 1, last + 1);
  for (std::size_t tick = held; tick < last; ++tick) go_on(character, tick, false, curve);
  return curve;
}

// In phases that end where the button is released or the sustained part does, each in whole steps.
std::optional<FlightCurve> FlightPlayer::in_phases(const FlightRun& run) {
  const double sustained = run.jumps ? tuning_.jump.sustain.amount : 0;
  std::vector<double> ends;
  for (const double end : {std::min(run.hold, sustained), sustained, run.hold, run.until}) {
    // Closer than that there is no tick rate to run at.
    constexpr double kLeast = 1.5e-3;
    const double last = ends.empty() ? 0 : ends.back();
    if (end > last + kLeast && end <= run.until) ends.push_back(end);
  }
  Character character;
  FlightCurve curve;
  double feet = 0;
  double now = 0;
  for (const double end : ends) {
    const double steps = std::max(1.0, std::ceil((end - now) / kTrialStep));
    if (!(steps <= kMostSteps)) return std::nullopt;
    const double rate = steps / (end - now);
    const Rules* rules = rules_at(rate, std::clamp(sustained - now, 0.0, end - now));
    if (rules == nullptr || (now == 0 && !begin(character, *rules, run.jumps))) return std::nullopt;
    if (now == 0) {
      feet = character.feet.y;
      curve.add(0, 0, 0);
    }
    const bool holds = run.jumps && now < run.hold - 1e-9;
    for (int i = 0; i < static_cast<int>(steps); ++i) {
      fly_tick(character, *rules, holds, run.jumps && now == 0 && i == 0);
      curve.add(now + (i + 1) / rate, character.feet.y - feet, character.velocity.y);
    }
    now = end;
  }
  return curve;
}

}  // namespace bushbaby::detail
