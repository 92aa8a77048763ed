// Deriving a jump: closed forms, every loop, refusals.
#include "bushbaby/core/tuning/jump.h"

#include <cmath>

#include "support.h"

namespace bushbaby {
namespace {

using test::all_loops;
using test::text_of;

constexpr double kSameHeight = 1e-9;  // promised by derive_jump

const std::vector<double> kRates{30, 50, 60, 120, 144};

TEST(DeriveJump, HeightAndApexTimeAreMetInEveryLoop) {
  for (const JumpLoop& loop : all_loops(kRates)) {
    for (const double height : {0.4, 1.0, 3.25, 3.3333333, 11.7}) {
      for (const double time : {0.2, 0.311, 0.38, 0.4, 0.77777}) {
        SCOPED_TRACE(text_of(loop) + " height " + std::to_string(height) + " time " +
                     std::to_string(time));
        const JumpAnswer answer = derive_jump({height, time, {}, {}}, loop);
        ASSERT_TRUE(answer.ok()) << describe(answer.refusal);
        EXPECT_DOUBLE_EQ(answer.gravity, 2 * height / (time * time));
        const Apex apex = predict_apex(answer.launch_speed, answer.gravity, loop);
        EXPECT_NEAR(apex.height, height, kSameHeight);
        const double off_ticks = std::abs(apex.time - time) * loop.tick_rate;
        EXPECT_LE(off_ticks, loop.integrator == Integrator::exact ? 1e-9 : 1 + 1e-9);
      }
    }
  }
}

TEST(DeriveJump, ApexOnAWholeTickHasTheKnownLaunchSpeeds) {
  // g·(T + dt/2) semi-implicit, g·(T - dt/2) explicit, g·T for the two that are even.
  const double rate = 60;
  const double time = 24 / rate;
  const double height = 3;
  const double g = 2 * height / (time * time);
  const auto launch = [&](Integrator integrator) {
    return derive_jump({height, time, {}, {}}, {integrator, rate, true}).launch_speed;
  };
  EXPECT_NEAR(launch(Integrator::exact), g * time, 1e-12);
  EXPECT_NEAR(launch(Integrator::trapezoidal), g * time, 1e-12);
  EXPECT_NEAR(launch(Integrator::semi_implicit), g * (time + 0.5 / rate), 1e-12);
  EXPECT_NEAR(launch(Integrator::explicit_step), g * (time - 0.5 / rate), 1e-12);
}

TEST(DeriveJump, TheSameConstantsGiveThreeHeights) {
  // Launch 14 u/s, gravity 35 u/s² at 60 Hz, worked out by hand: 2.8 u in continuous time; the
  // samples of the stepped loops lie v·dt/2 below and above it.
  const auto height = [](Integrator integrator) {
    return predict_apex(14, 35, {integrator, 60, true}).height;
  };
  EXPECT_NEAR(height(Integrator::exact), 2.8, 1e-12);
  EXPECT_NEAR(height(Integrator::trapezoidal), 2.8, 1e-12);
  EXPECT_NEAR(height(Integrator::semi_implicit), 2.8 - 14.0 / 120, 1e-12);
  EXPECT_NEAR(height(Integrator::explicit_step), 2.8 + 14.0 / 120, 1e-12);
}

TEST(DeriveJump, AnyTwoGiveTheRest) {
  for (const JumpLoop& loop : all_loops(kRates)) {
    SCOPED_TRACE(text_of(loop));
    const double height = 2.9;
    const double launch = 15.5;
    const double gravity = 41;
    for (const JumpAsk& ask : {JumpAsk{height, {}, launch, {}}, JumpAsk{height, {}, {}, gravity}}) {
      const JumpAnswer answer = derive_jump(ask, loop);
      ASSERT_TRUE(answer.ok()) << describe(answer.refusal);
      if (ask.launch_speed) {
        EXPECT_EQ(answer.launch_speed, launch);
      }
      if (ask.gravity) {
        EXPECT_EQ(answer.gravity, gravity);
      }
      EXPECT_NEAR(predict_apex(answer.launch_speed, answer.gravity, loop).height, height,
                  kSameHeight);
    }
    // Without a height the continuous relation v = g·T decides.
    EXPECT_DOUBLE_EQ(derive_jump({{}, 0.4, 15.0, {}}, loop).gravity, 37.5);
    EXPECT_DOUBLE_EQ(derive_jump({{}, 0.4, {}, 37.5}, loop).launch_speed, 15.0);
    EXPECT_DOUBLE_EQ(derive_jump({{}, {}, 15.0, 37.5}, loop).gravity, 37.5);
  }
}

TEST(DeriveJump, HangIsPartOfTheJumpAskedFor) {
  // By hand: 3 u/s of band at half gravity. V = 15, g = 30: (225 - 9)/60 + 9/30 = 3.9 u in
  // 12/30 + 3/15 = 0.6 s.
  const Hang hang{3, 0.5};
  EXPECT_NEAR(predict_apex(15, 30, {}, {hang}).height, 3.9, 1e-12);
  EXPECT_NEAR(predict_apex(15, 30, {}, {hang}).time, 0.6, 1e-12);
  const double same = 1e-9;
  for (const JumpAsk& ask :
       {JumpAsk{3.9, 0.6, {}, {}}, JumpAsk{3.9, {}, 15.0, {}}, JumpAsk{3.9, {}, {}, 30.0},
        JumpAsk{{}, 0.6, 15.0, {}}, JumpAsk{{}, 0.6, {}, 30.0}}) {
    const JumpAnswer answer = derive_jump(ask, {}, {hang});
    ASSERT_TRUE(answer.ok()) << describe(answer.refusal);
    EXPECT_NEAR(answer.gravity, 30, same);
    EXPECT_NEAR(answer.launch_speed, 15, same);
  }
  // Slower than the band all the way: half the gravity throughout.
  EXPECT_NEAR(derive_jump({0.3, 0.2, {}, {}}, {}, {{9, 0.5}}).gravity, 2 * 2 * 0.3 / 0.04, same);
}

TEST(DeriveJump, HangInSteppedLoopsMeetsTheHeightOrSaysThatNothingDoes) {
  int met = 0;
  int refused = 0;
  for (const JumpLoop& loop : all_loops(kRates)) {
    for (const Hang& hang : {Hang{1.2, 0.6}, Hang{4, 0.3}, Hang{2, 3}}) {
      for (const double height : {0.5, 2.0, 3.25, 5.5}) {
        for (const JumpAsk& ask : {JumpAsk{height, 0.38, {}, {}}, JumpAsk{height, {}, 14.0, {}}}) {
          const JumpAnswer answer = derive_jump(ask, loop, {hang});
          if (!answer.ok()) {
            EXPECT_NE(describe(answer.refusal).find("rises from one tick to the next"),
                      std::string::npos);
            ++refused;
            continue;
          }
          ++met;
          const Apex apex = predict_apex(answer.launch_speed, answer.gravity, loop, {hang});
          EXPECT_NEAR(apex.height, height, kSameHeight) << text_of(loop);
          if (ask.apex_time && loop.integrator != Integrator::exact) {
            EXPECT_LE(std::abs(apex.time - *ask.apex_time) * loop.tick_rate, 2) << text_of(loop);
          }
        }
      }
    }
  }
  EXPECT_GT(met, 10 * refused) << refused << " refused";
}

struct Refused {
  const char* what;
  JumpAsk ask;
  JumpLoop loop;
  const char* reason;  // part of the refusal
};

TEST(DeriveJump, RefusesWithTheReason) {
  const JumpLoop exact;
  const double nan = std::nan("");
  const double inf = std::numeric_limits<double>::infinity();
  const Refused gallery[] = {
      {"nothing",
       {},
       exact,
       "found nothing, expected two of height, apex time, launch speed and gravity"},
      {"one only", {3.0, {}, {}, {}}, exact, "found height alone, expected two of"},
      {"zero", {0.0, 0.4, {}, {}}, exact, "found height 0 u, expected more than 0, and finite"},
      {"negative", {3.0, -0.4, {}, {}}, exact, "found apex time -0.4 s, expected more than 0"},
      {"not a number",
       {3.0, {}, nan, {}},
       exact,
       "found launch speed nan u/s, expected more than 0"},
      {"infinite", {3.0, {}, {}, inf}, exact, "found gravity inf u/s², expected more than 0"},
      {"three that clash",
       {3.0, 0.4, {}, 30.0},
       exact,
       "found gravity 30 u/s² where the others give 37.5 u/s², expected one of them omitted"},
      {"exact without launch gravity",
       {3.0, 0.4, {}, {}},
       {Integrator::exact, 60, false},
       "expected gravity on it: the launch tick of the exact loop is like any other"},
      {"past the height before gravity acts",
       {0.1, {}, 15.0, {}},
       {Integrator::semi_implicit, 60, false},
       "found a height of 0.1 u, past which such a jump rises from one tick to the next, expected "
       "another height or tick rate"},
      {"no tick rate",
       {3.0, 0.4, {}, {}},
       {Integrator::trapezoidal, 0, true},
       "found a tick rate of 0 Hz"},
      {"too far apart",
       {1e300, 1e-300, {}, {}},
       exact,
       "expected numbers that are not so far apart"},
  };
  for (const Refused& refused : gallery) {
    const JumpAnswer answer = derive_jump(refused.ask, refused.loop);
    EXPECT_FALSE(answer.ok()) << refused.what;
    const std::string text = describe(answer.refusal);
    EXPECT_NE(text.find(refused.reason), std::string::npos) << refused.what << ": " << text;
  }
}

TEST(DeriveJump, AcceptsMoreThanTwoThatAgree) {
  EXPECT_TRUE(derive_jump({3.0, 0.4, 15.0, 37.5}, {}).ok());
}

}  // namespace
}  // namespace bushbaby
