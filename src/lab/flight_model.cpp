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
constexpr double kStep = 1.0 / 120;
constexpr int kMostSteps = 200000;

const LevelWorld& ground() {
  static const LevelWorld world({Box{{-100, -10}, {100, 0}}});
  return world;
}
const LevelWorld& nothing() {
  static const LevelWorld world(std::vector<Box>{});
  return world;
}

// One flight as it is run: a jump off ground that is there for its first tick alone, or a fall from
// where it was.
class Flying {
 public:
  Flying(bool jumps, bool straight) : jumps_(jumps), on_ground_(jumps), curve_(straight) {}

  bool start(const Rules& rules) {
    if (!place(character_, {0, 0}, rules, ground())) return false;
    feet_ = character_.feet.y;
    curve_.add(0, 0, 0);
    return true;
  }

  // A tick that ends at that time.
  void step(const Rules& rules, bool holds, double time) {
    Controls controls;
    controls.jump = jumps_ && (holds || on_ground_);  // the first is the press itself
    advance(character_, controls, rules, on_ground_ ? ground() : nothing());
    on_ground_ = false;
    curve_.add(time, character_.feet.y - feet_, character_.velocity.y);
  }

  [[nodiscard]] FlightCurve curve() { return std::move(curve_); }

 private:
  bool jumps_;
  bool on_ground_;
  Character character_;
  double feet_ = 0;
  FlightCurve curve_;
};

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

void FlightCurve::add(double time, double height, double speed) {
  times_.push_back(time);
  heights_.push_back(height);
  speeds_.push_back(speed);
}

double FlightCurve::height_at(double time) const noexcept {
  if (!(time > 0) || times_.size() < 2) return 0;
  // Steps are even but for a few places: the guess is at most a few off.
  const auto after = std::upper_bound(times_.begin() + 1, times_.end() - 1, time);
  const auto i = static_cast<std::size_t>(after - times_.begin());
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
  const double hold = std::round(run.hold * rate);
  const double ticks = std::ceil(run.until * rate - 1e-6);
  Flying flying(run.jumps, true);
  if (rules == nullptr || !(ticks <= kMostSteps) || !flying.start(*rules)) return std::nullopt;
  for (int tick = 0; tick < static_cast<int>(ticks); ++tick) {
    flying.step(*rules, tick < hold, (tick + 1) / rate);
  }
  return flying.curve();
}

// In phases that end where the button is let go or the sustained part does, each in whole steps.
std::optional<FlightCurve> FlightPlayer::in_phases(const FlightRun& run) {
  const double sustained = run.jumps ? tuning_.jump.sustain.amount : 0;
  std::vector<double> ends;
  for (const double end : {std::min(run.hold, sustained), sustained, run.hold, run.until}) {
    // Closer than that there is no tick rate to run at.
    constexpr double kLeast = 1.5e-3;
    const double last = ends.empty() ? 0 : ends.back();
    if (end > last + kLeast && end <= run.until) ends.push_back(end);
  }
  Flying flying(run.jumps, false);
  double now = 0;
  for (const double end : ends) {
    const double steps = std::max(1.0, std::ceil((end - now) / kStep));
    if (!(steps <= kMostSteps)) return std::nullopt;
    const double rate = steps / (end - now);
    const Rules* rules = rules_at(rate, std::clamp(sustained - now, 0.0, end - now));
    if (rules == nullptr || (now == 0 && !flying.start(*rules))) return std::nullopt;
    const bool holds = now < run.hold - 1e-9;
    for (int i = 0; i < static_cast<int>(steps); ++i) {
      flying.step(*rules, holds, now + (i + 1) / rate);
    }
    now = end;
  }
  return flying.curve();
}

}  // namespace bushbaby::detail
