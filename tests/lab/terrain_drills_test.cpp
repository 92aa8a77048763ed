// The drills on slopes, crests, seams and platforms measure what the knobs say.
#include <cmath>

#include "bushbaby/lab/drills.h"

#include "support.h"

namespace bushbaby {
namespace {

using test::all_loops;
using test::rules_of;
using test::scaled;
using test::text_of;
using test::with_loop;

double fact(const Tuning& tuning, const std::string& name) {
  CharacterSubject subject(rules_of(tuning), tuning.name);
  const auto value =
      value_of({run_drill(*find_drill(name.substr(0, name.find('.'))), subject)}, name);
  EXPECT_TRUE(value) << name;
  return value.value_or(std::nan(""));
}

TEST(TerrainDrills, SlopesCrestsAndSeamsInEveryLoop) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
      SCOPED_TRACE(text_of(loop));
      Tuning tuning = with_loop(test::pip(), loop);
      tuning.body.shape = shape;
      EXPECT_NEAR(fact(tuning, "slope.uphill_speed"), 7, 1e-9);
      EXPECT_NEAR(fact(tuning, "slope.downhill_speed"), 7, 1e-9);
      EXPECT_EQ(fact(tuning, "slope.contact"), 1);
      EXPECT_EQ(fact(tuning, "slope.steepest_walked"), 50);
      EXPECT_EQ(fact(tuning, "crest.air_ticks"), 0);
      EXPECT_NEAR(fact(tuning, "crest.speed_kept"), 1, 1e-9);
      EXPECT_EQ(fact(tuning, "seam.lost"), 0);
      EXPECT_EQ(fact(tuning, "seam.air_ticks"), 0);
      const double gap = rules_of(tuning).flush_gap;
      if (shape == BodyShape::box) {
        EXPECT_NEAR(fact(tuning, "seam.step"), gap, gap / 100);
      } else {
        EXPECT_GT(fact(tuning, "seam.step"), gap / 4);
      }
    }
  }
  Tuning climber = test::pip();
  climber.run.steepest_ground = 63;
  EXPECT_EQ(fact(climber, "slope.steepest_walked"), 63);
}

TEST(TerrainDrills, PlatformsAreDroppedThroughOneAPress) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    SCOPED_TRACE(text_of(loop));
    Tuning tuning = with_loop(test::pip(), loop);
    EXPECT_EQ(fact(tuning, "drop_through.platforms"), 0);
    EXPECT_EQ(fact(tuning, "drop_through.up"), 1);
    for (const DropBy by : {DropBy::down, DropBy::down_jump}) {
      tuning.drop.by = by;
      EXPECT_EQ(fact(tuning, "drop_through.platforms"), 1);
      const bool late = loop.integrator == Integrator::explicit_step;
      EXPECT_EQ(fact(tuning, "drop_through.response"), late ? 1 : 0);
      // Free fall of a body height, to the next tick.
      const Rules rules = rules_of(tuning);
      const double free = std::sqrt(2 * 1.4 / rules.fall_gravity);
      EXPECT_NEAR(fact(tuning, "drop_through.time"), free + rules.dt / 2, 1.01 * rules.dt);
    }
  }
}

TEST(TerrainDrills, MovingPlatformsCarryAndPassOnTheirSpeedInEveryLoop) {
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    SCOPED_TRACE(text_of(loop));
    const Tuning tuning = with_loop(test::pip(), loop);
    EXPECT_LT(fact(tuning, "platform_carry.slip"), rules_of(tuning).flush_gap);
    EXPECT_EQ(fact(tuning, "platform_carry.in_air"), 0);
    EXPECT_NEAR(fact(tuning, "platform_momentum.horizontal"), 1, 1e-9);
    EXPECT_NEAR(fact(tuning, "platform_momentum.vertical"), 1, 1e-9);
    EXPECT_NEAR(fact(tuning, "platform_momentum.down"), 0, 1e-9);
  }
  // In the exact loop it rises as high as the sum of the speeds does.
  const Rules rules = rules_of(test::pip());
  const double speed = rules.launch_speed + 5 * 1.4;
  EXPECT_NEAR(fact(test::pip(), "platform_momentum.height"),
              speed * speed / (2 * rules.rise_gravity), 1e-3);
}

TEST(TerrainDrills, SmallAndLargeBodiesAreDrilledAlike) {
  for (const double scale : {1.0 / 64, 128.0}) {
    Tuning tuning = test::pip();
    tuning.drop.by = DropBy::down;
    const Tuning other = scaled(tuning, scale);
    for (const char* name :
         {"slope.uphill_speed", "slope.downhill_speed", "seam.step", "platform_momentum.height"}) {
      EXPECT_NEAR(fact(other, name), fact(tuning, name) * scale, 1e-6 * scale) << name;
    }
    for (const char* name : {"slope.contact", "slope.steepest_walked", "crest.air_ticks",
                             "crest.speed_kept", "seam.lost", "platform_momentum.horizontal",
                             "platform_momentum.vertical", "platform_carry.in_air",
                             "drop_through.platforms", "drop_through.time", "drop_through.up"}) {
      EXPECT_NEAR(fact(other, name), fact(tuning, name), 1e-9) << name;
    }
  }
}

}  // namespace
}  // namespace bushbaby
