// Recordings at random: bodies of which everything is known, recorded in all the ways that people
// record, for what recovers constants from them.
#pragma once

#include <algorithm>
#include <cmath>
#include <random>
#include <vector>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/world/level.h"
#include "bushbaby/lab/recording.h"

namespace bushbaby {

struct MadeRecording {
  Tuning tuning;  // the truth
  Recording recording;
  double noise = 0;       // u
  bool on_ticks = false;  // points are the ends of ticks
  int release_early = 0;  // jumps
};

class RecordingMaker {
 public:
  explicit RecordingMaker(unsigned seed) : random_(seed) {}

  MadeRecording make() {
    choose_tuning();
    choose_recording();
    play();
    record();
    return std::move(made_);
  }

 private:
  struct Moment {
    double time = 0;
    Vec feet{0, 0};
    Vec velocity{0, 0};
    Controls held;
    bool grounded = false;
  };

  // Not those of the standard library, which differ from one to another.
  double between(double lo, double hi) {
    return lo + (hi - lo) * (static_cast<double>(random_()) / 4294967296.0);
  }
  int one_of(int count) { return static_cast<int>(between(0, count)) % count; }
  double bell() {
    double sum = 0;
    for (int i = 0; i < 12; ++i) sum += between(0, 1);
    return sum - 6;
  }

  void choose_tuning() {
    Tuning& tuning = made_.tuning;
    constexpr double kRates[] = {50, 60, 60, 72, 100, 120, 144};
    tuning.loop.tick_rate = kRates[one_of(7)];
    tuning.loop.integrator = static_cast<Integrator>(one_of(4));
    const double apex_time = between(0.25, 0.5);
    const double height = between(1.5, 4.5);
    const double launch = 2 * height / apex_time;
    tuning.jump.gravity = launch / apex_time;
    tuning.jump.launch_speed = launch;
    tuning.fall.factor = one_of(4) == 0 ? 1 : between(1.1, 2.2);
    if (one_of(3) == 0) tuning.fall.terminal_speed = launch * between(0.55, 0.95);
    if (one_of(3) == 0) tuning.jump.hang = {launch * between(0.15, 0.35), between(0.3, 0.7)};
    if (one_of(5) == 0) {
      tuning.jump.sustain = {std::round(between(0.05, 0.15) * tuning.loop.tick_rate),
                             Duration::Unit::ticks};
    }
    tuning.jump.cut.style = static_cast<CutStyle>(one_of(4));
    tuning.jump.cut.keep = between(0.2, 0.7);
    tuning.jump.cut.weight = between(1.8, 4);
  }

  void choose_recording() {
    constexpr double kNoises[] = {0, 0.001, 0.005, 0.01, 0.02};
    constexpr double kRates[] = {24, 30, 60, 60, 90, 144, 240};
    made_.on_ticks = one_of(2) == 0;
    made_.noise = kNoises[one_of(5)];
    rate_ = made_.on_ticks ? made_.tuning.loop.tick_rate : kRates[one_of(7)];
    is_uneven_ = !made_.on_ticks && one_of(2) == 0;
    has_gaps_ = one_of(5) == 0;
    made_.recording.has_jump = one_of(2) == 0;
    made_.recording.has_run = made_.recording.has_jump;
    made_.recording.has_ground = one_of(2) == 0;
  }

  void tick(const Controls& held) {
    advance(body_, held, rules_, world_);
    moments_.push_back({static_cast<double>(body_.tick) / made_.tuning.loop.tick_rate, body_.feet,
                        body_.velocity, held, body_.grounded()});
  }
  void hold(const Controls& held, double seconds) {
    const double ticks = std::max(1.0, std::round(seconds * made_.tuning.loop.tick_rate));
    for (int i = 0; i < ticks; ++i) tick(held);
  }
  void fall_to_ground(const Controls& held) {
    constexpr int kMost = 5000;
    for (int i = 0; i < kMost && !body_.grounded(); ++i) tick(held);
  }

  void play() {
    rules_ = compile(made_.tuning).rules;
    place(body_, {0, 0}, rules_, world_);
    moments_.push_back({0, body_.feet, {0, 0}, {}, true});
    const double rises = *made_.tuning.jump.launch_speed / *made_.tuning.jump.gravity +
                         seconds(made_.tuning.jump.sustain, made_.tuning.loop.tick_rate);
    std::vector<double> holds(static_cast<std::size_t>(2 + one_of(3)), rises * 1.2 + 0.5);
    made_.release_early = one_of(4);
    for (int i = 0; i < made_.release_early; ++i) holds.push_back(between(0.15, 0.7) * rises);
    for (std::size_t i = holds.size(); i > 1; --i) {
      std::swap(holds[i - 1], holds[static_cast<std::size_t>(one_of(static_cast<int>(i)))]);
    }
    hold({}, between(0.2, 0.6));
    for (const double seconds : holds) {
      hold({0, 0, true, false}, seconds);
      fall_to_ground({});
      hold({}, between(0.2, 0.5));
    }
    if (one_of(2) == 0) return;
    // Off the edge.
    const Controls right{127, 0, false, false};
    for (int i = 0; i < 2000 && body_.grounded(); ++i) tick(right);
    fall_to_ground(right);
    hold({}, 0.3);
  }

  void record() {
    const double end = moments_.back().time;
    const double tick_rate = made_.tuning.loop.tick_rate;
    double time = made_.on_ticks ? 0 : between(0, 0.01);
    for (std::size_t i = 0; time < end; ++i) {
      if (!(has_gaps_ && between(0, 1) < 0.06)) record_at(time, tick_rate);
      time = made_.on_ticks ? static_cast<double>(i + 1) / tick_rate
                            : time + (is_uneven_ ? between(0.6, 1.4) : 1) / rate_;
    }
  }

  // Straight between two ticks, as games draw.
  void record_at(double time, double tick_rate) {
    const double ticks = time * tick_rate;
    const std::size_t before =
        std::min(static_cast<std::size_t>(ticks + 1e-9), moments_.size() - 2);
    double share = ticks - static_cast<double>(before);
    if (share < 1e-6) share = 0;
    const Moment& from = moments_[before];
    const Moment& to = moments_[before + 1];
    const Moment& near = share > 0.5 ? to : from;
    RecordedPoint point;
    point.time = time;
    point.feet = from.feet + (to.feet - from.feet) * share;
    point.feet = {point.feet.x + made_.noise * bell(), point.feet.y + made_.noise * bell()};
    point.velocity = near.velocity;
    point.grounded = near.grounded;
    point.jump = near.held.jump;
    point.run = direction_share(near.held.x);
    made_.recording.points.push_back(point);
  }

  std::mt19937 random_;
  MadeRecording made_;
  double rate_ = 60;
  bool is_uneven_ = false;
  bool has_gaps_ = false;
  Rules rules_;
  Character body_;
  LevelWorld world_{std::vector<Box>{{{-1000, -10}, {6, 0}}, {{-1000, -20}, {1000, -6}}}};
  std::vector<Moment> moments_;
};

}  // namespace bushbaby
