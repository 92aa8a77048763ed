// Closed forms both ways, and derivations proved by simulation.
#include "bushbaby/lab/arc.h"

#include <cmath>
#include <random>

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "bushbaby/lab/derive.h"

#include "support.h"

namespace bushbaby {
namespace {

using test::all_loops;
using test::text_of;

TEST(PredictArc, ByHand) {
  // Launch 15, gravity 37.5: 3 u in 0.4 s. Twice the gravity down: sqrt(2·3/75) s.
  const ArcShape shape = predict_arc({37.5, 15, 2, {}, {}});
  EXPECT_DOUBLE_EQ(shape.height, 3);
  EXPECT_DOUBLE_EQ(shape.apex_time, 0.4);
  EXPECT_DOUBLE_EQ(shape.air_time, 0.4 + std::sqrt(0.08));
  EXPECT_DOUBLE_EQ(shape.landing_speed, 75 * std::sqrt(0.08));
  // At most 15 u/s down: 0.2 s and 1.5 u to get there, then 1.5 u in 0.1 s.
  const ArcShape limited = predict_arc({37.5, 15, 2, 15.0, {}});
  EXPECT_DOUBLE_EQ(limited.air_time, 0.4 + 0.2 + 0.1);
  EXPECT_DOUBLE_EQ(limited.landing_speed, 15);
}

// From constants to the arc, and from any two of its quantities back to the constants.
RC_GTEST_PROP(ArcLaw, ThereAndBack, (std::uint32_t seed)) {
  std::mt19937_64 random(seed);
  const auto uniform = [&random](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  ArcConstants constants{uniform(5, 200), uniform(2, 40), uniform(0.4, 4), {}, {}};
  if (random() % 2 == 0) constants.shape.hang = {uniform(0, 5), uniform(0.2, 3)};
  if (random() % 2 == 0) constants.terminal_speed = uniform(3, 40);
  const ArcShape shape = predict_arc(constants);
  const double top_speed = uniform(1, 20);
  ArcAsk base;
  base.fall_factor = constants.fall_factor;
  base.terminal_speed = constants.terminal_speed;
  base.shape.hang = constants.shape.hang;
  std::vector<ArcAsk> asks;
  const auto ask_with = [&](const JumpAsk& jump, bool by_distance) {
    ArcAsk ask = base;
    ask.jump = jump;
    if (by_distance) {
      ask.distance = shape.air_time * top_speed;
      ask.top_speed = top_speed;
    } else {
      ask.air_time = shape.air_time;
    }
    asks.push_back(ask);
  };
  for (const bool by_distance : {false, true}) {
    ask_with({shape.height, {}, {}, {}}, by_distance);
    ask_with({{}, {}, constants.launch_speed, {}}, by_distance);
    ask_with({{}, {}, {}, constants.gravity}, by_distance);
    // Apex time and air time determine a jump only if it falls at terminal speed for a while.
    if (constants.terminal_speed && constants.shape.hang.below_speed == 0 &&
        shape.landing_speed == *constants.terminal_speed &&
        shape.air_time > shape.apex_time * (1 + 1 / std::sqrt(constants.fall_factor)) * 1.001) {
      ask_with({{}, shape.apex_time, {}, {}}, by_distance);
    }
  }
  for (const ArcAsk& ask : asks) {
    const auto back = derive_arc(ask, {});
    RC_ASSERT(back.has_value());
    RC_ASSERT(std::abs(back->gravity / constants.gravity - 1) < 1e-8);
    RC_ASSERT(std::abs(back->launch_speed / constants.launch_speed - 1) < 1e-8);
  }
}

struct Refused {
  const char* what;
  ArcAsk ask;
  const char* reason;
};

ArcAsk asking(JumpAsk jump, std::optional<double> air_time = {},
              std::optional<double> distance = {}, std::optional<double> top_speed = {}) {
  ArcAsk ask;
  ask.jump = jump;
  ask.air_time = air_time;
  ask.distance = distance;
  ask.top_speed = top_speed;
  return ask;
}

TEST(DeriveArc, RefusesWithTheReason) {
  ArcAsk slow_fall = asking({10.0, {}, {}, {}}, 0.5);
  slow_fall.terminal_speed = 5;
  ArcAsk bad_factor = asking({3.0, 0.4, {}, {}});
  bad_factor.fall_factor = -1;
  const Refused gallery[] = {
      {"nothing", asking({}), "found nothing, expected two of height"},
      {"air time alone", asking({}, 0.7), "found air time alone, expected two of"},
      {"distance without speed", asking({3.0, {}, {}, {}}, {}, 4.0),
       "found a distance alone, expected a top speed with it"},
      {"three that clash", asking({3.0, 0.4, {}, {}}, 0.9),
       "found an air time of 0.9 s where the others give 0.8 s, expected one of them omitted, or "
       "a "
       "fall factor of 0.64, which gives both"},
      {"distance against air time", asking({3.0, {}, {}, {}}, 0.7, 7.0, 7.0),
       "found an air time of 0.7 s where 7 u at 7 u/s take 1 s"},
      {"apex and air time", asking({{}, 0.4, {}, {}}, 0.9),
       "the apex time alone makes the air time 0.8 s, whatever the height"},
      {"slower than terminal speed", slow_fall,
       "found an air time of 0.5 s, expected more than 2 s: the fall from 10 u takes that long"},
      {"negative height", asking({-3.0, 0.4, {}, {}}), "found height -3 u, expected more than 0"},
      {"bad factor", bad_factor, "found fall factor -1, expected more than 0"},
      {"not a number", asking({3.0, {}, {}, {}}, std::nan("")),
       "found air time nan s, expected more than 0"},
  };
  for (const Refused& refused : gallery) {
    const auto answer = derive_arc(refused.ask, {});
    ASSERT_FALSE(answer) << refused.what;
    const std::string text = describe(answer.error());
    EXPECT_NE(text.find(refused.reason), std::string::npos) << refused.what << ": " << text;
  }
}

TEST(Derive, SimulationGivesWhatWasAsked) {
  constexpr double kSameHeight = 1e-9;
  for (const JumpLoop& loop : all_loops({30, 50, 60, 120, 144})) {
    for (const double height : {0.7, 3.25, 6.1234}) {
      for (const double time : {0.25, 0.38, 0.4, 0.6789}) {
        SCOPED_TRACE(text_of(loop) + " " + std::to_string(height) + " u " + std::to_string(time) +
                     " s");
        const auto derivation =
            derive(test::with_loop(test::pip(), loop), asking({height, time, {}, {}}));
        ASSERT_TRUE(derivation) << describe(derivation.error());
        EXPECT_NEAR(derivation->achieved.height, height, kSameHeight);
        const double off_ticks = std::abs(derivation->achieved.apex_time - time) * loop.tick_rate;
        EXPECT_LE(off_ticks, loop.integrator == Integrator::exact ? 1e-9 : 1 + 1e-9);
        if (loop.integrator == Integrator::exact) {
          EXPECT_NEAR(derivation->achieved.air_time, derivation->continuous.air_time, 1e-9);
          EXPECT_NEAR(derivation->achieved.landing_speed, derivation->continuous.landing_speed,
                      1e-9);
        }
      }
    }
  }
}

TEST(Derive, DistanceAtTopSpeed) {
  Tuning base = test::pip();
  base.fall = {1.7, {}};
  const auto exact = derive(base, asking({3.25, {}, {}, {}}, {}, 5.0, 7.0));
  ASSERT_TRUE(exact) << describe(exact.error());
  EXPECT_NEAR(*exact->achieved.distance, 5.0, 1e-9);
  EXPECT_NEAR(exact->achieved.height, 3.25, 1e-9);
  EXPECT_EQ(exact->tuning.run.top_speed, 7);
  // A stepped loop covers whole ticks of it.
  base.loop.integrator = Integrator::semi_implicit;
  const auto stepped = derive(base, asking({3.25, {}, {}, {}}, {}, 5.0, 7.0));
  ASSERT_TRUE(stepped) << describe(stepped.error());
  const double ticks = *stepped->achieved.distance / 7 * 60;
  EXPECT_NEAR(ticks, std::round(ticks), 1e-9);
  EXPECT_NEAR(*stepped->achieved.distance, 5.0, 2 * 7.0 / 60);
}

}  // namespace
}  // namespace bushbaby
