// Rates: what moves with the loop, what does not, and the constants that keep a jump.
#include "bushbaby/lab/rates.h"

#include <algorithm>
#include <random>
#include <set>

#include "bushbaby/lab/drills.h"
#include "bushbaby/lab/subject.h"

#include "home_made.h"
#include "support.h"

namespace bushbaby {
namespace {

// A tuning that says launch speed and gravity: as many loops jump to as many heights, and what is
// reported keeps the one of the first.
TEST(Rates, WhatIsReportedKeepsTheJump) {
  std::mt19937_64 random(11);
  const auto uniform = [&random](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  int reported = 0;
  for (int round = 0; round < 20; ++round) {
    Tuning tuning = test::pip();
    tuning.jump.height.reset();
    tuning.jump.apex_time.reset();
    tuning.jump.launch_speed = uniform(8, 25);
    tuning.jump.gravity = uniform(20, 80);
    if (random() % 2 == 0) tuning.loop.integrator = Integrator::semi_implicit;
    const double height =
        record_standing_jump(*std::make_unique<CharacterSubject>(test::rules_of(tuning)),
                             kHeldThroughout)
            ->arc.height();
    for (const LoopVariant& loop : loop_variants(tuning, {30, 50, 144})) {
      const auto kept = keep_jump(tuning, loop.tuning);
      if (!kept) continue;
      ++reported;
      Tuning changed = loop.tuning;
      changed.jump.launch_speed = kept->launch_speed;
      changed.jump.gravity = kept->gravity;
      CharacterSubject subject(test::rules_of(changed));
      const auto jump = record_standing_jump(subject, kHeldThroughout);
      ASSERT_TRUE(jump);
      EXPECT_NEAR(jump->arc.height(), height, 1e-9) << loop.name;
      EXPECT_NEAR(jump->arc.height(), kept->height, 1e-9) << loop.name;
      EXPECT_NEAR(jump->arc.rise_time(), kept->apex_time, 1e-9) << loop.name;
    }
  }
  EXPECT_GT(reported, 100);
}

// One that says height and time jumps as high in every loop.
TEST(Rates, HeightsThatAreAskedForStay) {
  for (const LoopVariant& loop : loop_variants(test::pip(), {30, 50, 144, 240})) {
    EXPECT_FALSE(keep_jump(test::pip(), loop.tuning)) << loop.name;
  }
}

TEST(Rates, EveryOtherLoopComesOnce) {
  Tuning tuning = test::pip();
  tuning.jump.coyote = {7, Duration::Unit::ticks};
  const auto loops = loop_variants(tuning, {30, 60, 144});
  std::set<std::string> names;
  for (const LoopVariant& loop : loops) names.insert(loop.name);
  EXPECT_EQ(names, (std::set<std::string>{"60 Hz, exact", "30 Hz", "144 Hz", "trapezoidal",
                                          "trapezoidal, no gravity on launch", "semi_implicit",
                                          "semi_implicit, no gravity on launch", "explicit",
                                          "explicit, no gravity on launch"}));
  ASSERT_EQ(loops[1].name, "30 Hz");
  const auto& roundings = loops[1].roundings;
  const auto coyote = std::find_if(roundings.begin(), roundings.end(),
                                   [](const Rounding& one) { return one.key == "jump.coyote"; });
  ASSERT_NE(coyote, roundings.end());
  EXPECT_EQ(coyote->asked_ticks, 3.5);
  EXPECT_EQ(coyote->used_ticks, 4);
}

// Two even motions of other speeds: apart by what their speeds differ.
TEST(Rates, DriftIsMeasuredAtCommonTimes) {
  const auto even = [](double rate, double speed) {
    Trace trace;
    trace.tick_rate = rate;
    for (int i = 0; i <= 3 * static_cast<int>(rate); ++i) {
      trace.samples.push_back({i, {speed * i / rate, 0}, {speed, 0}, Stance::standing, true, {}});
    }
    return trace;
  };
  const Drift drift = find_drift(even(60, 5), even(50, 6), 1.25);
  EXPECT_DOUBLE_EQ(drift.compared, 3);
  EXPECT_NEAR(drift.farthest, 3, 1e-9);
  EXPECT_NEAR(*drift.apart, 1.3, 1e-9);  // both have ends of ticks every tenth of a second
  EXPECT_FALSE(find_drift(even(60, 5), even(144, 5), 1e-9).apart);
}

// One that moves by the mean of its speeds before and after.
class Careful final : public test::HomeMade {
  void fall(double gravity, double seconds) override {
    now_.feet.y += (now_.velocity.y - gravity * seconds / 2) * seconds;
    now_.velocity.y -= gravity * seconds;
  }
};

// Steps that are uneven move the jump of the one, and not that of the other, whose places are those
// of the parabola whatever the steps are: it is only looked at at other times.
TEST(Rates, UnevenStepsMoveWhatDependsOnThem) {
  const auto height = [](Subject& subject) {
    return record_standing_jump(subject, kHeldThroughout)->arc.height();
  };
  const auto farthest_of = [&](auto make) {
    auto even = make();
    EXPECT_TRUE(UnevenSubject::accepts(even));
    const double expected = height(even);
    double farthest = 0;
    for (std::uint32_t seed = 1; seed < 40; ++seed) {
      auto subject = make();
      UnevenSubject uneven(subject, 0.8, seed);
      const double once = height(uneven);
      EXPECT_EQ(height(uneven), once);  // the same steps again
      farthest = std::max(farthest, std::abs(once - expected));
    }
    return farthest;
  };
  EXPECT_GT(farthest_of([] { return test::HomeMade(); }), 0.01);
  EXPECT_LT(farthest_of([] { return Careful(); }), 0.01);
  // Ours takes ticks alone.
  CharacterSubject pip(test::rules_of(test::pip()));
  EXPECT_FALSE(UnevenSubject::accepts(pip));
}

}  // namespace
}  // namespace bushbaby
