// The sprint: its speed, its rates, its button, and what becomes of it in the air.
#include <cmath>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/motion/why.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

constexpr Controls kRightSprint{127, 0, false, false, true};

Tuning with_sprint() {
  Tuning tuning = pip();
  tuning.run.sprint.top_speed = 12;
  tuning.run.sprint.ground.accelerate = 24;
  tuning.run.sprint.ground.brake = 10;
  tuning.run.sprint.air.accelerate = 6;
  return tuning;
}

TEST(Sprint, HasASpeedAndRatesOfItsOwnInEveryLoop) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    const Rules rules = rules_of(with_loop(with_sprint(), loop));
    Mover run(rules, world, {0, 0});
    const auto half = static_cast<int>(loop.tick_rate / 2);
    run.advance(kRightSprint, half);
    EXPECT_NEAR(run.character.velocity.x, 12, 1e-9) << "24 u/s² for half a second";
    run.advance(kRightSprint, 3);
    EXPECT_EQ(run.character.velocity.x, 12) << text_of(loop);
    EXPECT_TRUE(run.character.sprinting);
    // Back at the run speed it brakes at that one's rate, 80 u/s².
    run.advance(kRight);
    EXPECT_NEAR(run.character.velocity.x, std::max(7.0, 12 - 80 / loop.tick_rate), 1e-9);
    run.advance(kRight, half);
    EXPECT_EQ(run.character.velocity.x, 7);
    EXPECT_EQ(run.all(EventKind::sprint_started).size(), 1U);
    EXPECT_EQ(run.all(EventKind::sprint_ended).size(), 1U);
  }
}

TEST(Sprint, MayCountUnlessItsButtonIsHeld) {
  Tuning tuning = with_sprint();
  tuning.run.sprint.when = SprintWhen::not_held;
  tuning.run.sprint.top_speed = 3;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  run.advance(kRight, 60);
  EXPECT_EQ(run.character.velocity.x, 3);
  run.advance(kRightSprint, 60);
  EXPECT_EQ(run.character.velocity.x, 7);
}

TEST(Sprint, IsKeptThroughAJumpByChoice) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const SprintInAir in_air : {SprintInAir::kept, SprintInAir::changes}) {
    const bool kept = in_air == SprintInAir::kept;
    Tuning tuning = with_sprint();
    tuning.run.sprint.in_air = in_air;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kRightSprint, 60);
    run.advance({127, 0, true, false, true});
    run.advance(kRightJump, 20);
    EXPECT_EQ(run.character.sprinting, kept);
    EXPECT_NEAR(run.character.velocity.x, kept ? 12 : 12 - 20 * 12 / 60.0, 1e-9);
    while (!run.character.grounded()) run.advance(kRight);
    EXPECT_EQ(run.character.sprinting, kept) << "the landing tick belongs to the jump";
    run.advance(kRight);
    EXPECT_FALSE(run.character.sprinting);
    // And the other way: it is not taken up in the air either.
    run.advance(kRight, 60);
    run.advance(kRightJump);
    run.advance({127, 0, true, false, true}, 10);
    EXPECT_EQ(run.character.sprinting, !kept);
    if (kept) {
      EXPECT_EQ(run.character.velocity.x, 7);
    } else {
      EXPECT_NEAR(run.character.velocity.x, 8, 1e-9) << "6 u/s² for ten ticks";
    }
  }
}

TEST(Sprint, ALockLeavesItAndNothingElseChangesIt) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(with_sprint());
  Mover run(rules, world, {0, 0});
  run.advance(kRightSprint, 60);
  set_status(run.character, StatusKind::stun, {5});
  run.advance(kRight, 5);
  EXPECT_TRUE(run.character.sprinting);
  EXPECT_NEAR(run.character.velocity.x, 12 - 10 * 5 / 60.0, 1e-9) << "it brakes at that speed";
  run.advance(kRight);
  EXPECT_FALSE(run.character.sprinting);
}

TEST(Sprint, WithoutOneItsButtonIsNothing) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover with(rules, world, {0, 0});
  Mover without(rules, world, {0, 0});
  for (int i = 0; i < 200; ++i) {
    const bool jump = i % 40 < 15;
    with.advance({127, 0, jump, false, i % 7 < 4});
    without.advance({127, 0, jump, false});
    ASSERT_EQ(with.character.feet, without.character.feet);
  }
  EXPECT_EQ(with.events.size(), without.events.size());
}

TEST(Sprint, IsNamedByWhatDrives) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(with_sprint());
  Mover run(rules, world, {0, 0});
  EXPECT_EQ(explain(run.character, kRightSprint, rules, world).drive,
            "run.sprint.ground.accelerate");
  run.advance(kRightSprint, 60);
  EXPECT_EQ(explain(run.character, kRightSprint, rules, world).drive, "run.sprint.top_speed");
  EXPECT_EQ(explain(run.character, kRight, rules, world).drive, "run.ground.brake");
}

}  // namespace
}  // namespace bushbaby
