// Climbing along a wall that holds the body, over its top, and for as long as the reserve lasts.
#include <cmath>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/motion/why.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

constexpr Controls kRightUp{127, 127, false, false};
constexpr Controls kRightDown{127, -127, false, false};
constexpr Controls kUp{0, 127, false, false};

// A floor, and a wall whose face is at x = 5, up to y = `top`.
std::vector<Box> walled(double top = 60) { return {{{-50, -1}, {50, 0}}, {{5, -1}, {15, top}}}; }

Tuning climber() {
  Tuning tuning = pip();
  tuning.wall.slide_speed = 2.5;
  tuning.wall.climb.up_speed = 3;
  tuning.wall.climb.down_speed = 4;
  tuning.wall.climb.rate = 60;
  return tuning;
}

// A mover that stands at the wall.
Mover beside_wall(const Rules& rules, const World& world) {
  Mover run(rules, world, {5 - 0.4 - 0.01, 0});
  run.advance(kRight, 20);
  EXPECT_EQ(run.character.wall, 1);
  EXPECT_TRUE(run.character.grounded());
  run.events.clear();
  return run;
}

TEST(Climb, GoesUpAndDownAtItsSpeedsInEveryLoop) {
  const LevelWorld world(walled());
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    const Rules rules = rules_of(with_loop(climber(), loop));
    Mover run = beside_wall(rules, world);
    const auto second = static_cast<int>(loop.tick_rate);
    run.advance(kRightUp, second);
    EXPECT_EQ(run.character.velocity.y, 3) << text_of(loop);
    EXPECT_EQ(run.character.stance(), Stance::climbing);
    EXPECT_TRUE(run.character.climbing);
    ASSERT_EQ(run.all(EventKind::left_ground).size(), 1U);
    EXPECT_EQ(detail_of(run.all(EventKind::left_ground)[0]), "climbed");
    const double before = run.character.feet.y;
    run.advance(kRightUp);
    EXPECT_NEAR(run.character.feet.y, before + 3 / loop.tick_rate, 1e-9) << text_of(loop);
    run.advance(kRight, second / 3);
    EXPECT_EQ(run.character.velocity.y, 0) << "with neither held it holds on where it is";
    const double held_at = run.character.feet.y;
    run.advance(kRight, second);
    EXPECT_EQ(run.character.feet.y, held_at);
    run.advance(kRightDown, second / 3);
    EXPECT_EQ(run.character.velocity.y, -4) << text_of(loop);
    run.advance(kNothing);
    EXPECT_FALSE(run.character.climbing) << "whoever no longer pushes is not held";
  }
}

TEST(Climb, TheExactLoopIsTheClosedFormAtEveryTickRate) {
  const LevelWorld world(walled());
  for (const double rate : {24.0, 60.0, 250.0}) {
    const Rules rules = rules_of(at_tick_rate(climber(), rate));
    Mover run = beside_wall(rules, world);
    const double start = run.character.feet.y;
    run.advance(kRightUp, static_cast<int>(rate));
    // 60 u/s² for 1/20 s, then 3 u/s.
    EXPECT_NEAR(run.character.feet.y - start, 3 - 3.0 * 3.0 / (2 * 60), 1e-9) << rate;
  }
}

TEST(Climb, UsesItsReserveUpAndStandingGivesItBack) {
  Tuning tuning = climber();
  tuning.wall.climb.reserve = Duration{30, Duration::Unit::ticks};
  tuning.loop.tick_rate = 60;
  const LevelWorld world(walled());
  const Rules rules = rules_of(tuning);
  Mover run = beside_wall(rules, world);
  for (int round = 0; round < 2; ++round) {
    run.events.clear();
    int climbed = 0;
    for (int i = 0; i < 200 && (i == 0 || !run.character.grounded()); ++i) {
      // Holding on uses it up as climbing does.
      run.advance(i < 10 || i > 20 ? kRightUp : kRight);
      climbed += run.character.climbing ? 1 : 0;
      if (climbed == 30 && !run.character.climbing && !run.character.grounded()) {
        EXPECT_LE(run.character.velocity.y, 3);
      }
    }
    EXPECT_EQ(climbed, 30) << "round " << round;
    EXPECT_EQ(run.all(EventKind::climb_started).size(), 1U);
    EXPECT_EQ(run.all(EventKind::climb_ended).size(), 1U);
    ASSERT_EQ(run.all(EventKind::landed).size(), 1U) << "it slides down and stands again";
    EXPECT_NEAR(run.all(EventKind::landed)[0].value, 2.5, 1e-9);
    run.advance(kRight);
  }
}

TEST(Climb, ComesOverTheTop) {
  for (const WallGrab hold : {WallGrab::push, WallGrab::touch}) {
    for (const JumpLoop& loop : all_loops({30, 60, 144})) {
      Tuning tuning = with_loop(climber(), loop);
      tuning.wall.grab = hold;
      if (hold == WallGrab::touch) tuning.wall.climb.over = 2;
      tuning.wall.climb.up_speed = 6;
      const LevelWorld world(walled(5));
      const Rules rules = rules_of(tuning);
      Mover run = beside_wall(rules, world);
      const Controls held = hold == WallGrab::push ? kRightUp : kUp;
      for (int i = 0; i < 600 && !(run.character.feet.x > 5); ++i) run.advance(held);
      run.advance(kNothing, 60);
      EXPECT_TRUE(run.character.grounded()) << text_of(loop);
      EXPECT_NEAR(run.character.feet.y, 5, 0.001) << text_of(loop);
      EXPECT_GT(run.character.feet.x, 4.6);
      ASSERT_EQ(run.all(EventKind::climbed_over).size(), 1U) << text_of(loop);
      const double across = run.all(EventKind::climbed_over)[0].value;
      if (hold == WallGrab::touch) {
        EXPECT_EQ(across, 2);
      }
    }
  }
}

TEST(Climb, ATouchThatHoldsNeedsNoPushAndACeilingStopsIt) {
  Tuning tuning = climber();
  tuning.wall.grab = WallGrab::touch;
  std::vector<Box> boxes = walled();
  boxes.push_back({{-10, 4}, {5, 5}});
  const LevelWorld world(boxes);
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(tuning, loop));
    Mover run = beside_wall(rules, world);
    run.advance(kUp, 120);
    EXPECT_TRUE(run.character.climbing) << text_of(loop);
    EXPECT_NEAR(run.character.feet.y + 1.4, 4, 0.001) << text_of(loop);
    EXPECT_TRUE(run.all(EventKind::bumped_head).empty()) << "a climber does not bump";
  }
}

TEST(Climb, IsLostToWhatTakesTheWallAway) {
  const LevelWorld world(walled());
  const Rules rules = rules_of(climber());
  for (const StatusKind kind : {StatusKind::no_cling, StatusKind::stun, StatusKind::no_control}) {
    Mover run = beside_wall(rules, world);
    run.advance(kRightUp, 40);
    set_status(run.character, kind, {10});
    run.advance(kRightUp, 3);
    EXPECT_FALSE(run.character.climbing) << name_of(kind);
    EXPECT_LT(run.character.velocity.y, 3) << name_of(kind);
    run.advance(kRightUp, 30);
    EXPECT_TRUE(run.character.climbing) << "and taken up again: " << name_of(kind);
  }
  // A surface that is no wall to hold on to.
  Level slippery{"", {0, 0}, {{"", {{-50, -1}, {50, 0}}}, {"", {{5, -1}, {6, 60}}}}};
  slippery.solids[1].traits.cling = false;
  const LevelWorld smooth(slippery, kNothingTravels);
  Mover run = beside_wall(rules, smooth);
  run.advance(kRightUp, 30);
  EXPECT_TRUE(run.character.grounded());
}

TEST(Climb, WaitsForAJumpToComeDownToItsSpeedAndEndsWhatTheJumpArmed) {
  const LevelWorld world(walled());
  Tuning tuning = climber();
  tuning.jump.hang = {4, 0.5};
  const Rules rules = rules_of(tuning);
  Mover run = beside_wall(rules, world);
  run.advance({127, 127, true, false});
  EXPECT_FALSE(run.character.climbing);
  double before = run.character.velocity.y;
  while (!run.character.climbing && run.character.velocity.y > -10) {
    EXPECT_GT(before, 3) << "a faster rise is a jump's";
    before = run.character.velocity.y;
    run.advance({127, 127, true, false});
  }
  EXPECT_TRUE(run.character.climbing);
  EXPECT_FALSE(run.character.hang_armed || run.character.cut_armed);
  EXPECT_TRUE(run.all(EventKind::apex).empty()) << "it never came to rest";
}

TEST(Climb, HoldsOnOnlyIfTheTuningSaysSo) {
  const LevelWorld world(walled());
  Tuning tuning = climber();
  tuning.wall.climb.stays = false;
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(tuning, loop));
    Mover run = beside_wall(rules, world);
    run.advance(kRightUp, 60);
    const std::int64_t used = run.character.climb_used;
    EXPECT_EQ(used, 60);
    run.advance(kRight, 60);
    EXPECT_EQ(run.character.velocity.y, -2.5) << "it slides: " << text_of(loop);
    EXPECT_EQ(run.character.climb_used, used);
  }
}

TEST(Climb, SaysWhatMovesTheBody) {
  const LevelWorld world(walled());
  const Rules rules = rules_of(climber());
  Mover run = beside_wall(rules, world);
  run.advance(kRightUp, 10);
  EXPECT_EQ(explain(run.character, kRightUp, rules, world).gravity, "wall.climb.up_speed");
  EXPECT_EQ(explain(run.character, kRightUp, rules, world).gravity_pull, 0);
  EXPECT_EQ(explain(run.character, kRight, rules, world).gravity, "wall.climb.reserve");
  const Trial down = explain(run.character, kRightDown, rules, world).of(Candidate::fast_fall);
  EXPECT_EQ(down.hurdle, Hurdle::off);
}

TEST(Climb, SaysWhatKeepsItFromClimbing) {
  Tuning tuning = climber();
  tuning.wall.climb.reserve = Duration{20, Duration::Unit::ticks};
  tuning.wall.climb.stays = false;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(walled());
  const auto said = [&](const Character& character, const Controls& held) {
    return consider_text(character, held, rules, world, Candidate::climb);
  };
  Mover away(rules, world, {0, 0});
  EXPECT_EQ(said(away.character, kRightUp), "no climb: no wall is touched");
  EXPECT_EQ(said(away.character, kRight), "no climb: neither up nor down is held");
  Mover run = beside_wall(rules, world);
  EXPECT_EQ(said(run.character, kRightUp), "climb (wall.climb.up_speed)");
  EXPECT_EQ(said(run.character, kRightDown), "no climb: grounded");
  EXPECT_EQ(said(run.character, kUp),
            "no climb: the direction towards the wall is not held (wall.grab)");
  Mover jumps = run;
  jumps.advance({127, 127, true, false});
  EXPECT_EQ(said(jumps.character, kRightUp), "no climb: rising faster (wall.climb.up_speed)");
  set_status(run.character, StatusKind::no_cling, {3});
  EXPECT_EQ(said(run.character, kRightUp), "no climb: locked by no_cling for another 3 ticks");
  set_status(run.character, StatusKind::no_cling, {});
  run.advance(kRightUp, 22);
  EXPECT_EQ(said(run.character, kRightUp),
            "no climb: its reserve of 20 ticks is used up (wall.climb.reserve)");
  EXPECT_EQ(consider_text(run.character, kRightUp, rules_of(pip()), world, Candidate::climb),
            "no climb: off in the tuning (wall.climb.up_speed)");
}

TEST(Climb, AnotherReserveIsAdoptedByTimeUsed) {
  Tuning tuning = climber();
  tuning.wall.climb.reserve = Duration{1};
  const LevelWorld world(walled());
  const Rules rules = rules_of(tuning);
  Mover run = beside_wall(rules, world);
  run.advance(kRightUp, 30);
  EXPECT_EQ(run.character.climb_used, 30);
  const Rules twice = rules_of(at_tick_rate(tuning, 120));
  adopt(run.character, rules, twice);
  EXPECT_EQ(run.character.climb_used, 60) << "half a second, at either rate";
  tuning.wall.climb.reserve = Duration{0.1};
  adopt(run.character, twice, rules_of(tuning));
  EXPECT_EQ(run.character.climb_used, 6) << "no more than there is";
}

}  // namespace
}  // namespace bushbaby
