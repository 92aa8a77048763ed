// Targets and verdicts, against facts worked out by hand.
#include "bushbaby/lab/targets.h"

#include <cmath>

#include "support.h"

namespace bushbaby {
namespace {

using Form = Bound::Form;

struct BoundCase {
  Bound bound;
  double value;
  bool met;
  double off_by;
};

TEST(Bounds, MetAndOffBy) {
  const BoundCase cases[] = {{{Form::aim, 3, 0.5}, 3.25, true, 0.25},
                             {{Form::aim, 3, 0.5}, 3.5, true, 0.5},
                             {{Form::aim, 3, 0.5}, 2.25, false, -0.75},
                             {{Form::between, 6, 8}, 7, true, 0},
                             {{Form::between, 6, 8}, 9, false, 1},
                             {{Form::between, 6, 8}, 4, false, -2},
                             {{Form::at_least, 2, 0}, 2, true, 0},
                             {{Form::at_least, 2, 0}, 1.5, false, -0.5},
                             {{Form::at_most, 0, 1.5}, 1.5, true, 0},
                             {{Form::at_most, 0, 1.5}, 2, false, 0.5},
                             {{Form::aim, 3, 0.5}, std::nan(""), false, std::nan("")}};
  for (const BoundCase& c : cases) {
    EXPECT_EQ(is_met(c.bound, c.value), c.met) << c.value;
    if (!std::isnan(c.value)) {
      EXPECT_DOUBLE_EQ(off_by(c.bound, c.value), c.off_by) << c.value;
    }
  }
}

// A straight "arc" from (0, 0) over (1, 1) to (2, 0), one second long.
RecordedJump tent() {
  RecordedJump jump;
  jump.trace.tick_rate = 2;
  jump.trace.samples = {{0, {5, 0}, {0, 0}, Stance::standing, true, {}},
                        {1, {6, 1}, {0, 0}, Stance::falling, false, {}},
                        {2, {7, 0}, {0, 0}, Stance::standing, true, {}}};
  jump.arc = {true, 0, {5, 0}, 2, 0.5, {6, 1}, true, 1, {7, 0}, 2};
  return jump;
}

TEST(Curves, MissIsMeasuredAcrossThePathOrInHeightAtTheSameTime) {
  // (1, 1.5) is half a unit above the tip, (2, 1) lies √½ off the right slope; the landing at (2,
  // 0) is a whole unit from the curve.
  const CurveMiss path = measure_miss({false, {{0, 0}, {1, 1.5}, {2, 1}}}, tent());
  EXPECT_DOUBLE_EQ(path.distance, 1);
  EXPECT_EQ(path.worst.across, 2);
  EXPECT_EQ(path.worst.height, 0);
  // A curve that ends before the arc says nothing about what comes after it.
  const CurveMiss part = measure_miss({false, {{0, 0}, {1, 1.5}}}, tent());
  EXPECT_DOUBLE_EQ(part.distance, 0.5);
  EXPECT_EQ(part.worst.across, 1);
  // A flat line from take-off to landing touches the arc at both ends and is far off in between.
  const CurveMiss flat = measure_miss({false, {{0, 0}, {2, 0}}}, tent());
  EXPECT_DOUBLE_EQ(flat.distance, 1);
  EXPECT_EQ(flat.worst.across, 1);
  // Off between its points: at (1, 0) the curve is √½ from either slope.
  EXPECT_NEAR(measure_miss({false, {{0.9, 0.9}, {1, 0}, {1.1, 0.9}}}, tent()).distance,
              std::sqrt(0.5), 1e-12);
  // The tent is 0.5 u high at 0.25 s and at 0.75 s, 1 at 0.5 s; behind the landing it stays at 0.
  const CurveMiss time = measure_miss({true, {{0.25, 0.6}, {0.75, 0.2}, {1.5, 0.1}}}, tent());
  EXPECT_NEAR(time.distance, 0.6, 1e-15);
  EXPECT_EQ(time.worst.across, 0.5);
  EXPECT_EQ(measure_miss({false, {{0, 0}, {1, 1}, {2, 0}}}, tent()).distance, 0);
  EXPECT_DOUBLE_EQ(distance_from({false, {{0, 0}, {1, 1}, {2, 0}}}, {1, 2}), 1);
}

Target fact_target(const char* fact, Bound bound, Priority priority = Priority::must) {
  Target target;
  target.fact = fact;
  target.bound = bound;
  target.priority = priority;
  return target;
}

TEST(Judge, MustsDecideAndShouldsAreReported) {
  CharacterSubject subject(test::rules_of(test::pip()));
  std::vector<Target> targets{
      fact_target("stand_jump.height", {Form::aim, 3.25, 1e-9}),
      fact_target("stop.distance", {Form::at_most, 0, 0.1}, Priority::should)};
  Judgement judgement = judge(targets, subject);
  EXPECT_TRUE(judgement.verdicts[0].met);
  EXPECT_FALSE(judgement.verdicts[1].met);
  EXPECT_NEAR(judgement.verdicts[1].off_by, 49.0 / 160 - 0.1, 1e-9);
  EXPECT_TRUE(judgement.met());
  targets[1].priority = Priority::must;
  EXPECT_FALSE(judge(targets, subject).met());
}

TEST(Judge, AFactThatIsNotThereIsMissedWithTheReason) {
  Tuning tuning = test::pip();
  tuning.run.top_speed = 0;
  CharacterSubject subject(test::rules_of(tuning));
  const std::vector<Target> targets{fact_target("stop.distance", {Form::at_most, 0, 1})};
  const Judgement judgement = judge(targets, subject);
  EXPECT_FALSE(judgement.verdicts[0].measured);
  EXPECT_EQ(judgement.verdicts[0].why_not, "it does not run");
  EXPECT_FALSE(judgement.met());
}

TEST(Effects, NameTheKnobsThatMoveAFactAndNoOthers) {
  const Tuning tuning = test::pip();
  const auto effects = find_effects(tuning, fact_target("stop.distance", {}));
  // v²/2a: 1 % more of v is 2.01 % more, 1 % more of a is 0.99 % less.
  ASSERT_EQ(effects.size(), 3U);
  EXPECT_EQ(effects[0].key, "run.ground.style") << "a choice is no small change";
  EXPECT_EQ(effects[1].key, "run.top_speed");
  EXPECT_NEAR(effects[1].by, 49.0 / 160 * 0.0201, 1e-9);
  EXPECT_EQ(effects[2].key, "run.ground.brake");
  EXPECT_NEAR(effects[2].by, 49.0 / 160 * (1 / 1.01 - 1), 1e-9);

  const auto window = find_effects(tuning, fact_target("late_press.window_ticks", {}));
  ASSERT_EQ(window.size(), 1U);
  EXPECT_EQ(window[0].key, "jump.coyote");
  EXPECT_EQ(window[0].change, "+1 tick");
  EXPECT_EQ(window[0].by, 1);
}

}  // namespace
}  // namespace bushbaby
