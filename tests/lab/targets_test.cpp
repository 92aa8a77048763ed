// Targets and verdicts, against facts worked out by hand.
#include <cmath>

#include "bushbaby/lab/remedies.h"

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

// Where looking ended nobody knows more: only what wants no more than that is met.
TEST(Judge, ALimitThatWasReachedIsNoMeasurement) {
  Tuning tuning = test::pip();
  tuning.jump.coyote = {5000, Duration::Unit::ticks};
  const std::pair<Bound, bool> bounds[] = {{{Form::at_least, 500, 0}, true},
                                           {{Form::at_least, 700, 0}, false},
                                           {{Form::at_most, 0, 700}, false},
                                           {{Form::between, 500, 700}, false},
                                           {{Form::aim, 600, 5}, false}};
  for (const auto& [bound, met] : bounds) {
    const Target target = fact_target("coyote.window_ticks", bound);
    const Verdict verdict = judge(target, tuning);
    EXPECT_EQ(verdict.measured, 600);
    EXPECT_TRUE(verdict.or_more);
    EXPECT_EQ(verdict.met, met);
    EXPECT_EQ(verdict.why_not.empty(), met);
  }
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

// What a tuning measures with one knob at another value.
double measured_with(const Tuning& tuning, const Remedy& remedy, const KnobValue& value,
                     const Target& target) {
  Tuning changed = tuning;
  EXPECT_FALSE(set_knob(changed, *remedy.place.knob, value, remedy.place.row));
  return judge(target, changed).measured.value_or(std::nan(""));
}

std::vector<Remedy> remedies_of(const Tuning& tuning, const std::vector<Target>& targets) {
  CharacterSubject subject(test::rules_of(tuning));
  const Judgement judgement = judge(targets, subject);
  EXPECT_FALSE(judgement.verdicts[0].met);
  return find_remedies(tuning, targets, judgement.verdicts[0]);
}

TEST(Remedies, AreTheNearestValuesThatMeet) {
  const std::vector<Target> targets{fact_target("stop.distance", {Form::at_most, 0, 0.25}),
                                    fact_target("run_up.top_speed", {Form::at_least, 6.9, 0}),
                                    fact_target("stand_jump.height", {Form::aim, 3.25, 0.01})};
  const auto remedies = remedies_of(test::pip(), targets);
  // v²/2a of 7 u/s and 80 u/s²: 98 u/s² stop in 0.25 u, as do sqrt(40) = 6.32 u/s. The style that
  // is there at once stops in nothing.
  ASSERT_EQ(remedies.size(), 3U);
  EXPECT_EQ(remedies[0].place.key(), "run.ground.brake");
  EXPECT_EQ(remedies[0].to, KnobValue(98.0));
  EXPECT_TRUE(remedies[0].breaks.empty());
  EXPECT_EQ(remedies[1].place.key(), "run.ground.style");
  EXPECT_EQ(remedies[2].place.key(), "run.top_speed");
  EXPECT_EQ(remedies[2].to, KnobValue(6.3));
  ASSERT_EQ(remedies[2].breaks.size(), 1U) << "the least harm comes first";
  EXPECT_EQ(remedies[2].breaks[0]->fact, "run_up.top_speed");
}

TEST(Remedies, CrossWholeTicksInEveryLoop) {
  for (const JumpLoop& loop : test::all_loops({30, 60})) {
    const Tuning tuning = test::with_loop(test::pip(), loop);
    const double time = *judge(fact_target("stand_jump.air_time", {}), tuning).measured;
    for (const double more : {-0.1, 0.1}) {
      const std::vector<Target> targets{
          fact_target("stand_jump.air_time", {Form::aim, time + more, 0.6 / loop.tick_rate})};
      const auto remedies = remedies_of(tuning, targets);
      ASSERT_FALSE(remedies.empty()) << test::text_of(loop) << ' ' << more;
      for (const Remedy& remedy : remedies) {
        EXPECT_TRUE(remedy.meets);
        const double measured = measured_with(tuning, remedy, remedy.to, targets[0]);
        EXPECT_EQ(measured, remedy.measured);
        EXPECT_TRUE(is_met(targets[0].bound, measured)) << remedy.place.key();
        // Half of the change does not do it.
        if (const auto* from = std::get_if<double>(&remedy.from)) {
          const double halfway = (*from + std::get<double>(remedy.to)) / 2;
          EXPECT_FALSE(is_met(targets[0].bound, measured_with(tuning, remedy, halfway, targets[0])))
              << remedy.place.key();
        }
      }
    }
  }
}

TEST(Remedies, SwitchOnWhatIsOffOnlyAtLast) {
  Tuning tuning = test::pip();
  tuning.jump.coyote = {};
  const auto window =
      remedies_of(tuning, {fact_target("coyote.window_ticks", {Form::between, 6, 8})});
  ASSERT_EQ(window.size(), 1U);
  EXPECT_EQ(window[0].place.key(), "jump.coyote");
  EXPECT_TRUE(window[0].switches_on);
  EXPECT_EQ(window[0].to, (KnobValue(Duration{6, Duration::Unit::ticks})));
  const auto jumps = remedies_of(tuning, {fact_target("air_jump.count", {Form::at_least, 2, 0})});
  ASSERT_FALSE(jumps.empty());
  EXPECT_EQ(jumps[0].place.key(), "jump.air_jumps.count");
  EXPECT_EQ(jumps[0].to, KnobValue(2.0));
  bool off = false;
  for (const Remedy& remedy : jumps) {
    EXPECT_TRUE(!off || remedy.switches_on);
    off = off || remedy.switches_on;
  }
}

TEST(Remedies, SayWhatComesNearestIfNothingMeets) {
  // No jump is an hour long.
  const auto remedies =
      remedies_of(test::pip(), {fact_target("stand_jump.air_time", {Form::at_least, 3600, 0})});
  ASSERT_FALSE(remedies.empty());
  for (const Remedy& remedy : remedies) {
    EXPECT_FALSE(remedy.meets);
    EXPECT_GT(remedy.measured, 0.67);
  }
  EXPECT_EQ(remedies[0].place.key(), "jump.apex_time");
}

}  // namespace
}  // namespace bushbaby
