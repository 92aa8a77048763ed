// Forgiveness windows and the hang band, tick by tick, in every loop.
#include "bushbaby/core/motion/advance.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

Tuning with_windows(const JumpLoop& loop, int coyote, int buffer) {
  Tuning tuning = with_loop(pip(), loop);
  tuning.jump.coyote = {static_cast<double>(coyote), Duration::Unit::ticks};
  tuning.jump.buffer = {static_cast<double>(buffer), Duration::Unit::ticks};
  return tuning;
}

LevelWorld ledge() { return world_of({{{-50, -1}, {1, 0}}}); }

TEST(Coyote, TheFirstNDecisionsInTheAirMayJumpAndTheNextMayNot) {
  const LevelWorld world = ledge();
  for (const JumpLoop& loop : all_loops({30, 60})) {
    for (int n = 0; n <= 12; ++n) {
      const Rules rules = rules_of(with_windows(loop, n, 0));
      for (int pressed = 1; pressed <= n + 2; ++pressed) {
        Mover run(rules, world, {-3, 0});
        while (run.character.grounded()) run.advance(kRight);
        EXPECT_EQ(run.character.ground.reason, n > 0 ? GroundReason::grace : GroundReason::none);
        run.advance(kRight, pressed - 1);
        const Events events = run.advance(kRightJump);
        const bool jumped = !run.all(EventKind::jumped).empty();
        EXPECT_EQ(jumped, pressed <= n) << text_of(loop) << " n " << n << " pressed " << pressed;
        EXPECT_EQ(run.all(EventKind::coyote_used).size(), jumped ? 1U : 0U);
        if (jumped) {
          EXPECT_EQ(events.size(), 2U);
          EXPECT_GT(run.character.velocity.y, 0);
        }
        EXPECT_EQ(run.all(EventKind::left_ground).size(), 1U);
      }
    }
  }
}

TEST(Coyote, IsClosedByTheJumpAndNeverOpenedByOne) {
  const LevelWorld world = ledge();
  const Rules rules = rules_of(with_windows({}, 10, 0));
  Mover walker(rules, world, {-3, 0});
  while (walker.character.grounded()) walker.advance(kRight);
  walker.advance(kRightJump);
  walker.advance(kRight);
  walker.advance(kRightJump);
  EXPECT_EQ(walker.all(EventKind::jumped).size(), 1U) << "no second jump after a coyote jump";
  Mover jumper(rules, world, {-3, 0});
  jumper.advance(kJump);
  jumper.advance(kNothing);
  jumper.advance(kJump);
  EXPECT_EQ(jumper.all(EventKind::jumped).size(), 1U) << "no coyote time after a jump";
}

TEST(Coyote, GravityIsShared) {
  const LevelWorld world = ledge();
  for (const JumpLoop& loop : all_loops({60})) {
    for (const double share : {0.0, 0.25, 1.0}) {
      Tuning tuning = with_windows(loop, 5, 0);
      tuning.jump.coyote_gravity = share;
      const Rules rules = rules_of(tuning);
      Mover run(rules, world, {-3, 0});
      while (run.character.grounded()) run.advance(kRight);
      run.advance(kRight, 5);
      const double speed = 5 * share * rules.fall_gravity * rules.dt;
      EXPECT_NEAR(run.character.velocity.y, -speed, 1e-12) << text_of(loop);
      run.advance(kRight);
      EXPECT_NEAR(run.character.velocity.y, -speed - rules.fall_gravity * rules.dt, 1e-12);
    }
  }
}

TEST(Buffer, APressIsRememberedForTheNDecisionsAfterIt) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const auto rules_with = [](const JumpLoop& loop, int n) {
    Tuning tuning = with_windows(loop, 0, n);
    tuning.jump.cut.style =
        CutStyle::none;  // so that the second press cannot change the first jump
    return rules_of(tuning);
  };
  for (const JumpLoop& loop : all_loops({30, 60})) {
    // The decision that first sees the body standing again, without a second press.
    int landing = 1;
    {
      const Rules rules = rules_with(loop, 0);
      Mover run(rules, world, {0, 0});
      run.advance(kJump);
      for (; !run.character.grounded(); ++landing) run.advance(kNothing);
    }
    for (int n = 0; n <= 12; ++n) {
      const Rules rules = rules_with(loop, n);
      for (int early = 1; early <= n + 2 && early < landing - 1; ++early) {
        Mover run(rules, world, {0, 0});
        run.advance(kJump);
        run.advance(kNothing, landing - early - 1);
        run.advance(kJump);
        run.advance(kNothing, early);
        const auto jumps = run.all(EventKind::jumped);
        const bool jumped = jumps.size() == 2;
        EXPECT_EQ(jumped, early <= n) << text_of(loop) << " n " << n << " early " << early;
        EXPECT_EQ(run.all(EventKind::buffer_used).size(), jumped ? 1U : 0U);
        if (jumped) {
          EXPECT_EQ(jumps[1].tick, landing + 1)
              << "contact at the end of a tick jumps at the next decision";
        }
        run.advance(kNothing, 200);
        EXPECT_EQ(run.all(EventKind::jumped).size(), jumps.size()) << "a press is used once";
      }
    }
  }
}

TEST(Buffer, AJumpWhoseButtonIsUpIsATapAndOneHeldIsFull) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(with_windows({}, 0, 6));
  for (const bool held : {false, true}) {
    Mover run(rules, world, {0, 0});
    run.advance(kJump);
    while (run.character.feet.y > 0.5 || run.character.velocity.y > 0) run.advance(kNothing);
    run.advance(kJump);
    run.advance(held ? kJump : kNothing, 60);
    ASSERT_EQ(run.all(EventKind::jumped).size(), 2U);
    EXPECT_EQ(run.all(EventKind::cut).size(), held ? 1U : 2U);
  }
}

TEST(Buffer, ANewPressStartsTheWindowAnew) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(with_windows({}, 0, 4));
  Mover run(rules, world, {0, 0});
  run.advance(kJump);
  while (run.character.velocity.y > 0) run.advance(kNothing);
  run.advance(kJump);
  run.advance(kNothing);
  EXPECT_EQ(run.character.buffer_left, 3);
  run.advance(kJump);
  EXPECT_EQ(run.character.buffer_left, 4);
}

TEST(Hang, FloatsAroundTheApexOfAJumpOnly) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60, 144})) {
    SCOPED_TRACE(text_of(loop));
    Tuning tuning = with_loop(pip(), loop);
    tuning.jump.hang = {2, 0.4};
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kJump);
    int floated = 0;
    while (!run.character.grounded()) {
      const double before = run.character.velocity.y;
      run.advance(kJump);
      const double after = run.character.velocity.y;
      const double share = (before - after) * loop.tick_rate /
                           (before > 0 ? rules.rise_gravity : rules.fall_gravity);
      if (before < 2 && after > -2 && before * after > 0) {
        EXPECT_NEAR(share, 0.4, 1e-9);
        ++floated;
      }
      if (before < -2 && after > -24 && !run.character.grounded()) {
        EXPECT_NEAR(share, 1, 1e-9);
      }
    }
    EXPECT_GT(floated, 0);
    EXPECT_NEAR(run.all(EventKind::apex)[0].place.y - run.all(EventKind::jumped)[0].place.y, 3.25,
                1e-9);
    // A body that lost its ground without a jump falls at full gravity.
    Mover dropped(rules, world, {0, 20});
    dropped.advance(kNothing);
    EXPECT_NEAR(dropped.character.velocity.y, -rules.fall_gravity * rules.dt, 1e-12);
  }
}

}  // namespace
}  // namespace bushbaby
