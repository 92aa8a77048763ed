// Recovering constants from recordings of bodies of which everything is known.
#include "bushbaby/lab/recover.h"

#include <algorithm>
#include <cmath>
#include <map>

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include "bushbaby/core/tuning/knobs.h"

#include "recordings.h"

namespace bushbaby {
namespace {

constexpr unsigned kRecordings = BUSHBABY_SLOW ? 1 : 16;
constexpr int kLoops = BUSHBABY_SLOW ? 1 : 4;

// Of one that jumps n times with the button held, then k times with it released early.
class Yard {
 public:
  explicit Yard(const Tuning& tuning)
      : rules_(compile(tuning).rules), rate_(tuning.loop.tick_rate) {
    place(body_, {0, 0}, rules_, world_);
    recording_.has_jump = recording_.has_ground = recording_.has_run = recording_.has_speeds = true;
    look({});
  }

  void hold(const Controls& held, int ticks) {
    for (int i = 0; i < ticks; ++i) {
      advance(body_, held, rules_, world_);
      look(held);
    }
  }
  void until_ground(const Controls& held) {
    for (int i = 0; i < 1000 && !body_.grounded(); ++i) hold(held, 1);
  }
  void until_air(const Controls& held) {
    for (int i = 0; i < 1000 && body_.grounded(); ++i) hold(held, 1);
  }
  void jump(int ticks) {
    hold({0, 0, true, false}, ticks);
    until_ground({});
    hold({}, 20);
  }
  [[nodiscard]] const Recording& recording() const { return recording_; }

 private:
  void look(const Controls& held) {
    RecordedPoint point;
    point.time = static_cast<double>(body_.tick) / rate_;
    point.feet = body_.feet;
    point.velocity = body_.velocity;
    point.grounded = body_.grounded();
    point.jump = held.jump;
    point.run = direction_share(held.x);
    recording_.points.push_back(point);
  }

  Rules rules_;
  double rate_;
  Character body_;
  LevelWorld world_{stairs()};
  Recording recording_;

  static std::vector<Box> stairs() {
    std::vector<Box> steps;
    for (int i = 0; i < 12; ++i) {
      const double left = i == 0 ? -100 : 12 + 16.0 * (i - 1);
      steps.push_back({{left, -60 - 2.0 * i}, {12 + 16.0 * i, -2.0 * i}});
    }
    return steps;
  }
};

constexpr Controls kLeft{-127, 0, false, false};
constexpr Controls kRight{127, 0, false, false};
constexpr Controls kRightJump{127, 0, true, false};

Tuning springy(Integrator integrator) {
  Tuning tuning;
  tuning.loop.integrator = integrator;
  tuning.run.top_speed = 7;
  tuning.jump.launch_speed = 17;
  tuning.jump.gravity = 45;
  tuning.fall.factor = 1.6;
  tuning.jump.cut.style = CutStyle::scale;
  tuning.jump.cut.keep = 0.4;
  tuning.jump.coyote = {5, Duration::Unit::ticks};
  tuning.jump.buffer = {6, Duration::Unit::ticks};
  return tuning;
}

Recording everything_of(const Tuning& tuning) {
  Yard yard(tuning);
  yard.hold({}, 20);
  for (const int ticks : {60, 5, 60, 9, 60}) yard.jump(ticks);
  for (const Controls& way : {kRight, kLeft, kRight, kLeft}) {
    yard.hold(way, 40);
    yard.hold({}, 25);
  }
  yard.hold(kRight, 35);
  yard.hold(kLeft, 70);
  yard.hold({}, 25);
  // A press N ticks before the landing: known from a jump without it.
  const int in_air = [&tuning] {
    Yard alone(tuning);
    alone.hold({}, 5);
    const std::size_t before = alone.recording().points.size();
    alone.hold({0, 0, true, false}, 25);
    alone.until_ground({});
    return static_cast<int>(alone.recording().points.size() - before);
  }();
  for (const int early : {4, 5, 6, 7}) {
    yard.hold({0, 0, true, false}, 25);
    yard.hold({}, in_air - 25 - early);
    yard.hold({0, 0, true, false}, 2);
    yard.hold({}, 70);
  }
  for (const int late : {3, 5, 4, 6}) {
    yard.until_air(kRight);
    yard.hold(kRight, late - 1);
    yard.hold(kRightJump, 25);
    yard.until_ground(kRight);
    yard.hold(kRight, 20);
  }
  return yard.recording();
}

std::map<std::string, const RecoveredKnob*> by_key(const Recovered& recovered) {
  std::map<std::string, const RecoveredKnob*> knobs;
  for (const RecoveredKnob& knob : recovered.knobs) knobs[knob.key] = &knob;
  return knobs;
}

double number_of(const Tuning& tuning, const std::string& key) {
  const KnobValue value = get_knob(tuning, *find_knob(key));
  if (const auto* time = std::get_if<Duration>(&value)) {
    return seconds(*time, tuning.loop.tick_rate);
  }
  return std::get<double>(value);
}

TEST(Recover, WithoutNoiseEveryConstantOfEveryLoopComesBack) {
  for (int loop = 0; loop < kLoops; ++loop) {
    const auto integrator = static_cast<Integrator>(loop);
    const Tuning tuning = springy(integrator);
    const Recovered recovered = recover_motion(everything_of(tuning), {});
    SCOPED_TRACE(loop);
    ASSERT_EQ(recovered.refusal, "");
    EXPECT_TRUE(recovered.on_ticks);
    EXPECT_EQ(recovered.tick_rate, 60);
    EXPECT_EQ(recovered.tuning.loop.integrator, integrator);
    const auto knobs = by_key(recovered);
    for (const char* key : {"jump.launch_speed", "jump.gravity", "fall.factor", "jump.cut.keep",
                            "run.top_speed", "run.ground.accelerate", "run.ground.brake"}) {
      const double truth = number_of(tuning, key);
      const bool is_run = std::string(key).rfind("run.ground", 0) == 0;
      // Ramps end within a tick, and a stepped loop says nothing of that.
      const double within = (is_run && integrator != Integrator::exact ? 0.05 : 1e-4) * truth;
      ASSERT_EQ(knobs.at(key)->end, RecoverEnd::measured) << key;
      EXPECT_NEAR(knobs.at(key)->estimate.value, truth, within) << key;
    }
    EXPECT_EQ(knobs.at("jump.cut.style")->choice, "scale");
    EXPECT_EQ(knobs.at("jump.hang.gravity")->end, RecoverEnd::none_seen);
    EXPECT_EQ(knobs.at("jump.sustain")->end, RecoverEnd::none_seen);
    EXPECT_EQ(knobs.at("fall.terminal_speed")->end, RecoverEnd::undetermined);
    EXPECT_EQ(recovered.tuning.jump.coyote, tuning.jump.coyote);
    EXPECT_EQ(recovered.tuning.jump.buffer, tuning.jump.buffer);
  }
}

Tuning with_a_band(Integrator integrator) {
  Tuning tuning = springy(integrator);
  tuning.jump.hang = {4.3, 0.45};
  tuning.fall.terminal_speed = 13;
  tuning.jump.cut.style = CutStyle::weight;
  tuning.jump.cut.weight = 2.7;
  return tuning;
}

// Where heights jump as constants grow: only the ticks of the truth leave nothing.
TEST(Recover, InSteppedLoopsTheTicksOfABandAndOfACutAreFound) {
  for (int loop = 1; loop < kLoops; ++loop) {
    const auto integrator = static_cast<Integrator>(loop);
    SCOPED_TRACE(loop);
    const Tuning tuning = with_a_band(integrator);
    Yard yard(tuning);
    yard.hold({}, 20);
    for (const int ticks : {60, 7, 60, 11, 14}) yard.jump(ticks);
    const Recovered recovered = recover_motion(yard.recording(), {});
    ASSERT_EQ(recovered.refusal, "");
    EXPECT_EQ(recovered.tuning.loop.integrator, integrator);
    const auto knobs = by_key(recovered);
    for (const char* key : {"jump.launch_speed", "jump.gravity", "fall.factor", "jump.hang.gravity",
                            "fall.terminal_speed", "jump.cut.weight"}) {
      ASSERT_EQ(knobs.at(key)->end, RecoverEnd::measured) << key;
      EXPECT_NEAR(knobs.at(key)->estimate.value, number_of(tuning, key),
                  1e-4 * number_of(tuning, key))
          << key;
    }
    // Within a tick's gravity nothing reports where the band ends.
    const Estimate& band = knobs.at("jump.hang.below_speed")->estimate;
    EXPECT_LE(band.lo, 4.3);
    EXPECT_GE(band.hi, 4.3);
  }
}

// What the search counts through, as docs/model.md writes it down ("Ticks"): the order in which a
// jump's accelerations come, and the heights that follow from them.
TEST(Recover, HeightsInTicksAreTheSumsOfTheModel) {
  constexpr double kShares[] = {0.5, 0.5, 1, 0};  // of the later speed, by loop
  for (int loop = 1; loop < 4; ++loop) {
    SCOPED_TRACE(loop);
    Tuning tuning = with_a_band(static_cast<Integrator>(loop));
    tuning.fall.terminal_speed.reset();
    Yard yard(tuning);
    yard.hold({0, 0, true, false}, 40);
    const std::vector<RecordedPoint>& points = yard.recording().points;
    const double g = 45;
    const std::vector<double> order{g, 0.45 * g, 0.45 * 1.6 * g, 1.6 * g};
    std::size_t phase = 0;
    std::vector<double> accelerations;
    double speed = 17;
    for (std::size_t k = 1; k < points.size(); ++k) {
      const double acceleration = (speed - points[k].velocity.y) * 60;
      speed = points[k].velocity.y;
      while (phase + 1 < order.size() && std::abs(acceleration - order[phase]) > 1e-9) ++phase;
      EXPECT_NEAR(acceleration, order[phase], 1e-9) << k;
      accelerations.push_back(acceleration);
      double height = 17 * static_cast<double>(k) / 60;
      for (std::size_t i = 1; i <= k; ++i) {
        height -= (static_cast<double>(k - i) + kShares[loop]) * accelerations[i - 1] / 3600;
      }
      EXPECT_NEAR(points[k].feet.y - points[0].feet.y, height, 1e-9) << k;
    }
    EXPECT_EQ(phase, order.size() - 1);
  }
}

// Whether the truth lies in an interval: for the loop that it is of.
struct Count {
  int in = 0;
  int all = 0;
  void add(bool is_in) {
    in += is_in ? 1 : 0;
    ++all;
  }
  [[nodiscard]] double share() const { return static_cast<double>(in) / all; }
};

TEST(Recover, IntervalsHoldTheTruthInRecordingsByChance) {
  Count intervals;
  Count loops;
  Count wide;
  for (unsigned seed = 1; seed <= kRecordings; ++seed) {
    const MadeRecording made = RecordingMaker(seed).make();
    const Tuning& truth = made.tuning;
    RecoverOptions options;
    options.tick_rate = truth.loop.tick_rate;
    options.integrator = truth.loop.integrator;
    const Recovered recovered = recover_motion(made.recording, options);
    ASSERT_EQ(recovered.refusal, "") << seed;
    if (made.on_ticks) {
      const auto its = std::find_if(
          recovered.loops.begin(), recovered.loops.end(),
          [&](const RecoveredLoop& loop) { return loop.integrator == truth.loop.integrator; });
      loops.add(its->goes);
    }
    for (const RecoveredKnob& knob : recovered.knobs) {
      if (knob.end != RecoverEnd::measured || !knob.choice.empty()) continue;
      const Estimate& estimate = knob.estimate;
      const bool is_band = knob.key.rfind("jump.hang", 0) == 0;
      if (is_band && truth.jump.hang.below_speed == 0) continue;
      if (knob.key == "fall.terminal_speed" && !truth.fall.terminal_speed) continue;
      if (knob.key == "jump.cut.keep" && truth.jump.cut.style != CutStyle::scale) continue;
      if (knob.key == "jump.cut.weight" && truth.jump.cut.style != CutStyle::weight) continue;
      const double is = number_of(truth, knob.key);
      intervals.add(estimate.lo <= is && is <= estimate.hi);
      if (knob.key == "jump.gravity" && made.noise >= 0.02 && recovered.rate >= 59) {
        wide.add(estimate.hi - estimate.lo > 0.1 * estimate.value);
      }
    }
  }
  if (BUSHBABY_SLOW) return;
  EXPECT_GE(intervals.share(), 0.9) << intervals.in << " of " << intervals.all;
  EXPECT_EQ(loops.in, loops.all);
  EXPECT_EQ(wide.in, 0);
}

// A few jumps and a run, for what is asked twice.
Recording some_of(const Tuning& tuning) {
  Yard yard(tuning);
  yard.hold({}, 20);
  for (const int ticks : {60, 6, 60}) yard.jump(ticks);
  yard.hold(kRight, 40);
  yard.hold({}, 25);
  return yard.recording();
}

TEST(Recover, NothingDependsOnWhereAndWhenOrInWhatUnits) {
  const Recording recording = some_of(springy(Integrator::exact));
  const Recovered plain = recover_motion(recording, {});
  Recording moved = recording;
  constexpr double kScale = 16;
  for (RecordedPoint& point : moved.points) {
    point.time += 100;
    point.feet = {-kScale * point.feet.x + 500, kScale * point.feet.y - 300};
    point.velocity = {-kScale * point.velocity.x, kScale * point.velocity.y};
    point.run = -point.run;
  }
  const Recovered other = recover_motion(moved, {});
  const auto knobs = by_key(plain);
  const auto others = by_key(other);
  ASSERT_EQ(knobs.size(), others.size());
  for (const auto& [key, knob] : knobs) {
    ASSERT_EQ(others.count(key), 1U) << key;
    EXPECT_EQ(others.at(key)->end, knob->end) << key;
    EXPECT_EQ(others.at(key)->choice, knob->choice) << key;
    if (knob->end != RecoverEnd::measured) continue;
    const bool has_length =
        knob->dimension == Dimension::speed || knob->dimension == Dimension::acceleration;
    const double factor = has_length ? kScale : 1;
    EXPECT_NEAR(others.at(key)->estimate.value, factor * knob->estimate.value,
                1e-4 * factor * knob->estimate.value)
        << key;
  }
}

// A film with a picture for each tick, drawn on the way from one tick to the next.
TEST(Recover, PointsDrawnBetweenTicksAreTakenForThat) {
  const Tuning tuning = springy(Integrator::semi_implicit);
  const Recording ticks = some_of(tuning);
  Recording film = ticks;
  film.points.pop_back();
  constexpr double kShare = 0.4;
  for (std::size_t i = 0; i < film.points.size(); ++i) {
    RecordedPoint& point = film.points[i];
    const RecordedPoint& next = ticks.points[i + 1];
    point.time += kShare / 60;
    point.feet = point.feet + (next.feet - point.feet) * kShare;
  }
  const Recovered recovered = recover_motion(film, {});
  ASSERT_EQ(recovered.refusal, "");
  EXPECT_TRUE(recovered.between_ticks);
  EXPECT_FALSE(recovered.on_ticks);
  for (const RecoveredLoop& loop : recovered.loops) {
    if (loop.integrator != tuning.loop.integrator) continue;
    EXPECT_TRUE(loop.goes);
    EXPECT_NEAR(loop.launch_speed, 17, 1e-3);
    EXPECT_NEAR(loop.gravity, 45, 1e-2);
  }
  EXPECT_FALSE(recover_motion(ticks, {}).between_ticks);
}

// Hardly lower than the others, and nobody recorded the button.
TEST(Recover, AJumpLetGoNearItsTopIsNotTakenForAFullOne) {
  const Tuning tuning = springy(Integrator::exact);
  Yard yard(tuning);
  yard.hold({}, 20);
  for (const int ticks : {60, 18, 60, 8}) yard.jump(ticks);
  Recording recording = yard.recording();
  recording.has_jump = false;
  const Recovered recovered = recover_motion(recording, {});
  ASSERT_EQ(recovered.refusal, "");
  const auto knobs = by_key(recovered);
  EXPECT_NEAR(knobs.at("jump.launch_speed")->estimate.value, 17, 1e-3);
  EXPECT_NEAR(knobs.at("jump.gravity")->estimate.value, 45, 1e-2);
  EXPECT_EQ(knobs.at("jump.cut.style")->choice, "scale");
  EXPECT_NEAR(knobs.at("jump.cut.keep")->estimate.value, 0.4, 1e-3);
  EXPECT_EQ(recovered.flights.size(), 4U);
}

// Every jump released early, as the button says: there is no full one to begin with, and less is
// known.
TEST(Recover, JumpsThatAreAllLetGoEarlyReportSomething) {
  const Tuning tuning = springy(Integrator::explicit_step);
  Yard yard(tuning);
  yard.hold({}, 20);
  for (const int ticks : {12, 8, 10}) yard.jump(ticks);
  const Recovered recovered = recover_motion(yard.recording(), {});
  ASSERT_EQ(recovered.refusal, "");
  ASSERT_FALSE(recovered.remarks.empty());
  EXPECT_NE(recovered.remarks.front().find("no jump was held past its top"), std::string::npos);
  const auto knobs = by_key(recovered);
  ASSERT_EQ(knobs.at("jump.launch_speed")->end, RecoverEnd::measured);
  EXPECT_NEAR(knobs.at("jump.launch_speed")->estimate.value, 17, 1);
}

TEST(Recover, TheSameOnOneCoreAndOnMany) {
  const Recording recording = some_of(springy(Integrator::semi_implicit));
  const Recovered many = recover_motion(recording, {});
  const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
  const Recovered alone = recover_motion(recording, {});
  EXPECT_EQ(many.tuning.jump.launch_speed, alone.tuning.jump.launch_speed);
  EXPECT_EQ(many.tuning.jump.gravity, alone.tuning.jump.gravity);
  EXPECT_EQ(many.noise, alone.noise);
}

// Only the part of a recording that keeps a moment.
Recording part_of(const Recording& recording, double from, double to, std::size_t every = 1) {
  Recording part = recording;
  part.points.clear();
  for (std::size_t i = 0; i < recording.points.size(); i += every) {
    const RecordedPoint& point = recording.points[i];
    if (point.time >= from && point.time <= to) part.points.push_back(point);
  }
  return part;
}

TEST(Recover, SaysWhatItCannotReport) {
  const Tuning tuning = springy(Integrator::exact);
  Yard yard(tuning);
  yard.hold({}, 20);
  yard.jump(60);
  yard.jump(60);
  const Recording recording = yard.recording();
  const double apex = 20 / 60.0 + 17 / 45.0;
  // The way up alone.
  const Recovered rise = recover_motion(part_of(recording, 0, apex), {});
  ASSERT_EQ(rise.refusal, "");
  const auto knobs = by_key(rise);
  EXPECT_EQ(knobs.at("jump.gravity")->end, RecoverEnd::measured);
  EXPECT_EQ(knobs.at("fall.factor")->end, RecoverEnd::undetermined);
  EXPECT_NE(knobs.at("fall.factor")->to_record, "");
  EXPECT_EQ(knobs.at("jump.cut.style")->end, RecoverEnd::undetermined);
  EXPECT_EQ(knobs.at("run.top_speed")->end, RecoverEnd::undetermined);
  EXPECT_EQ(knobs.at("jump.coyote")->end, RecoverEnd::undetermined);
  // Too few points on the way up; none at all; nothing but a fall.
  EXPECT_NE(recover_motion(part_of(recording, 0, 9, 10), {}).refusal, "");
  EXPECT_NE(recover_motion(part_of(recording, 0, 0.3), {}).refusal, "");
  EXPECT_NE(recover_motion(part_of(recording, apex, apex + 0.5), {}).refusal, "");
  EXPECT_NE(recover_motion(part_of(recording, 0, 0.02), {}).to_record, "");
  // Its flights last too long for any jump, which is said.
  Recording slow = recording;
  for (RecordedPoint& point : slow.points) point.time *= 30;
  const Recovered none = recover_motion(slow, {});
  EXPECT_NE(none.refusal, "");
  ASSERT_FALSE(none.remarks.empty());
  EXPECT_NE(none.remarks.front().find("flies for more than 10 s"), std::string::npos);
  // Nothing that any game does: points a nanosecond apart, or minutes.
  for (const double factor : {6e-8, 6e3}) {
    Recording odd = recording;
    for (RecordedPoint& point : odd.points) point.time *= factor;
    EXPECT_NE(recover_motion(odd, {}).refusal, "") << factor;
  }
}

TEST(Recover, WhatIsNotReportedStaysAsInTheBase) {
  Yard yard(springy(Integrator::exact));
  yard.hold({}, 20);
  yard.jump(60);
  RecoverOptions options;
  options.base.loop.tick_rate = 30;
  options.base.fall.factor = 2.5;
  options.base.fall.terminal_speed = 40;
  options.base.jump.cut.style = CutStyle::weight;
  options.base.jump.cut.weight = 3;
  options.base.jump.coyote = {3, Duration::Unit::ticks};
  const double apex = 20 / 60.0 + 17 / 45.0;
  const Recovered rise = recover_motion(part_of(yard.recording(), 0, apex), options);
  ASSERT_EQ(rise.refusal, "");
  EXPECT_NEAR(*rise.tuning.jump.launch_speed, 17, 1e-3);
  EXPECT_EQ(rise.tuning.fall.factor, 2.5);
  EXPECT_EQ(rise.tuning.fall.terminal_speed, 40);
  EXPECT_EQ(rise.tuning.jump.cut.style, CutStyle::weight);
  EXPECT_EQ(rise.tuning.jump.cut.weight, 3);
  // As long as it was: 3 ticks at 30 Hz.
  EXPECT_EQ(rise.tuning.loop.tick_rate, 60);
  EXPECT_NEAR(seconds(rise.tuning.jump.coyote, 60), 0.1, 1e-12);
  EXPECT_FALSE(rise.air_time);
  EXPECT_TRUE(rise.curve.empty());
  EXPECT_EQ(recover_motion(yard.recording(), options).curve.size(), 40U);
}

}  // namespace
}  // namespace bushbaby
