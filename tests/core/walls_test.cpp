// Walls: sliding, clinging, and the ways to leave them.
#include <cmath>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/motion/why.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

constexpr Controls kUp{0, 127, false, false};
using test::kDown;
constexpr Controls kLeftDown{-127, -127, false, false};

// A floor, and a high wall whose face is at x = 5.
std::vector<Box> walled() { return {{{-50, -1}, {50, 0}}, {{5, -1}, {6, 60}}}; }

Tuning climber() {
  Tuning tuning = pip();
  tuning.jump.cut.style = CutStyle::none;
  tuning.wall.slide_speed = 2.5;
  tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 8, 10, {9, Duration::Unit::ticks}}};
  return tuning;
}

// A mover that has come to the wall at that height, holding towards it, and falls.
Mover mover_on_wall(const Rules& rules, const World& world, double y = 20) {
  Mover run(rules, world, {5 - 0.4 - 0.01, y});
  for (int i = 0; i < 20 && run.character.wall == 0; ++i) run.advance(kRight);
  EXPECT_EQ(run.character.wall, 1);
  run.events.clear();
  return run;
}

TEST(WallSlide, LimitsTheFallAndNothingElse) {
  const LevelWorld world(walled());
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    const Rules rules = rules_of(with_loop(climber(), loop));
    Mover run = mover_on_wall(rules, world, 30);
    run.advance(kRight, static_cast<int>(loop.tick_rate));
    EXPECT_EQ(run.character.velocity.y, -2.5) << text_of(loop);
    EXPECT_EQ(run.character.stance(), Stance::wall_sliding);
    run.advance(kNothing, static_cast<int>(loop.tick_rate / 3));
    EXPECT_LT(run.character.velocity.y, -8) << "without pushing it falls";
    EXPECT_EQ(run.character.stance(), Stance::falling);
  }
}

TEST(WallSlide, ABodyThatBrushesAWallKeepsItsUpwardSpeed) {
  const LevelWorld world(walled());
  Tuning sliding = climber();
  sliding.wall.cling = {10, Duration::Unit::ticks};
  Tuning plain = sliding;
  plain.wall.slide_speed.reset();
  plain.wall.cling = {};
  const Rules with = rules_of(sliding);
  const Rules without = rules_of(plain);
  Mover a(with, world, {4, 0});
  Mover b(without, world, {4, 0});
  while (a.character.velocity.y >= 0) {
    a.advance(kRightJump);
    b.advance(kRightJump);
    if (a.character.velocity.y < 0) break;
    EXPECT_EQ(a.character.feet, b.character.feet);
    EXPECT_EQ(a.character.velocity, b.character.velocity);
  }
  EXPECT_EQ(a.character.wall, 1);
}

TEST(WallSlide, AFasterFallSlowsDownAtItsRate) {
  Tuning tuning = climber();
  tuning.wall.slide_brake = 60;  // 1 u/s a tick
  const Rules rules = rules_of(tuning);
  const LevelWorld world(walled());
  Mover run = mover_on_wall(rules, world, 40);
  run.character.velocity.y = -12.25;
  run.advance(kRight, 9);
  EXPECT_NEAR(run.character.velocity.y, -3.25, 1e-12);
  run.advance(kRight);
  EXPECT_EQ(run.character.velocity.y, -2.5);
}

TEST(WallSlide, OnlyOnSurfacesThatLetIt) {
  Level level{"smooth", {0, 0}, {}};
  for (const Box& box : walled()) level.solids.push_back({"", box});
  level.solids[1].traits.cling = false;
  const LevelWorld world(level, kNothingTravels);
  const Rules rules = rules_of(climber());
  Mover run = mover_on_wall(rules, world);
  run.advance(kRight, 30);
  EXPECT_LT(run.character.velocity.y, -10);
  run.advance(kRightJump);
  EXPECT_TRUE(run.all(EventKind::jumped).empty());
  EXPECT_EQ(consider_text(run.character, kRightJump, rules, world, Candidate::wall_exit),
            "no wall exit: the surface does not let it");
}

TEST(WallCling, LastsTheTicksWritten) {
  const LevelWorld world(walled());
  for (const JumpLoop& loop : all_loops({60})) {
    for (int n = 0; n <= 8; ++n) {
      Tuning tuning = with_loop(climber(), loop);
      tuning.wall.cling = {static_cast<double>(n), Duration::Unit::ticks};
      const Rules rules = rules_of(tuning);
      Mover run(rules, world, {5 - 0.4 - 0.01, 20});
      run.advance(kRight);
      while (run.character.wall == 0) run.advance(kRight);
      int still = 0;
      double y = run.character.feet.y;
      for (int i = 0; i < 20; ++i) {
        run.advance(kRight);
        if (run.character.feet.y == y) ++still;
        y = run.character.feet.y;
      }
      // In the explicit loop the tick after it still moves with the speed of before: none.
      const int late = loop.integrator == Integrator::explicit_step && n > 0 ? 1 : 0;
      EXPECT_EQ(still, n + late) << text_of(loop);
    }
  }
}

TEST(WallExit, GivesItsSpeedsAndLocksTheSteering) {
  const LevelWorld world(walled());
  for (const JumpLoop& loop : all_loops({60})) {
    for (const int lock : {0, 1, 9}) {
      Tuning tuning = with_loop(climber(), loop);
      tuning.loop.gravity_on_launch_tick = loop.gravity_on_launch_tick;
      tuning.wall.exits[0].steer_lock = {static_cast<double>(lock), Duration::Unit::ticks};
      const Rules rules = rules_of(tuning);
      Mover run = mover_on_wall(rules, world);
      run.advance(kRightJump);
      ASSERT_EQ(run.all(EventKind::jumped).size(), 1U);
      EXPECT_EQ(detail_of(run.all(EventKind::jumped)[0]), "wall");
      EXPECT_EQ(run.all(EventKind::jumped)[0].value, 10);
      int untouched = run.character.velocity.x == -8 ? 1 : 0;
      for (int i = 0; i < 15 && run.character.velocity.x == -8; ++i) {
        run.advance(kRight);
        if (run.character.velocity.x == -8) ++untouched;
      }
      EXPECT_EQ(untouched, lock) << "the push survives for the lock, to the tick";
      EXPECT_EQ(run.all(EventKind::wall_lost).empty(), lock == 0 && run.character.wall != 0);
    }
  }
}

TEST(WallExit, AFadeGivesTheSteeringBackBitByBit) {
  Tuning tuning = climber();
  tuning.wall.exits[0].steer_lock = {2, Duration::Unit::ticks};
  tuning.wall.exits[0].steer_fade = {3, Duration::Unit::ticks};
  tuning.run.air = {{60, 60, 60}};  // 1 u/s a tick
  const Rules rules = rules_of(tuning);
  const LevelWorld world(walled());
  Mover run = mover_on_wall(rules, world);
  const double expected[] = {-8, -8, -7.75, -7.25, -6.5, -5.5};
  for (const double speed : expected) {
    run.advance(kRightJump);
    EXPECT_NEAR(run.character.velocity.x, speed, 1e-12);
  }
}

TEST(WallExit, TheSideComesFromTheContactNeverFromFacing) {
  const LevelWorld world(walled());
  Tuning tuning = climber();
  tuning.wall.grab = WallGrab::touch;
  const Rules rules = rules_of(tuning);
  Mover run = mover_on_wall(rules, world);
  run.character.facing = -1;
  run.advance(kJump);
  EXPECT_EQ(run.character.velocity.x, -8);
  EXPECT_EQ(run.character.facing, -1) << "it faces away afterwards";
}

TEST(WallExit, TheFirstRowThatFitsCounts) {
  Tuning tuning = climber();
  tuning.wall.exits = {
      {"jump + towards", WallPlace::anywhere, {}, 3, 12, {1, Duration::Unit::ticks}},
      {"jump", WallPlace::anywhere, {}, 8, 10, {1, Duration::Unit::ticks}},
      {"down", WallPlace::anywhere, {}, 0, 0},
      {"up", WallPlace::top, {}, -3, 9},
  };
  const Rules rules = rules_of(tuning);
  const LevelWorld world(walled());
  struct Case {
    Controls held;
    double away;
    double up;
  };
  const Case cases[] = {{kRightJump, -3, 12}, {kJump, -8, 10}, {{-127, 0, true, false}, -8, 10}};
  for (const Case& c : cases) {
    Mover run = mover_on_wall(rules, world);
    run.advance(c.held);
    ASSERT_EQ(run.all(EventKind::jumped).size(), 1U);
    EXPECT_EQ(run.all(EventKind::jumped)[0].value, c.up);
    EXPECT_EQ(run.character.velocity.x, c.away);
  }
  // A row of zeros drops off: no speed is given, and nothing holds the body there any more.
  Mover drop = mover_on_wall(rules, world);
  drop.advance(kRight, 20);
  drop.advance(kLeftDown);
  EXPECT_EQ(drop.all(EventKind::wall_released).size(), 1U);
  EXPECT_TRUE(drop.all(EventKind::jumped).empty());
  EXPECT_LT(drop.character.velocity.y, -2.5);
  // Up does nothing but at the top.
  Mover low = mover_on_wall(rules, world);
  low.advance(kUp, 3);
  EXPECT_TRUE(low.all(EventKind::jumped).empty());
  Mover top = mover_on_wall(rules, world, 59.4);
  top.advance({127, 127, false, false});
  ASSERT_EQ(top.all(EventKind::jumped).size(), 1U) << "the wall ends at 60, its middle is at 60.1";
  for (int i = 0; i < 60 && !top.character.grounded(); ++i) top.advance(kRight);
  EXPECT_TRUE(top.character.grounded());
  EXPECT_GT(top.character.feet.x, 4.6) << "the hop ends on the wall's top";
  EXPECT_NEAR(top.character.feet.y, 60, 0.01);
}

TEST(WallExit, ADirectionMayHaveToBeHeldForAWhile) {
  const LevelWorld world(walled());
  for (int n = 0; n <= 5; ++n) {
    Tuning tuning = climber();
    tuning.wall.grab = WallGrab::touch;
    tuning.wall.exits = {
        {"down", WallPlace::anywhere, {static_cast<double>(n), Duration::Unit::ticks}, 4, 0}};
    const Rules rules = rules_of(tuning);
    Mover run = mover_on_wall(rules, world);
    int held = 0;
    while (run.all(EventKind::wall_released).empty() && held < 20) {
      run.advance(kDown);
      ++held;
    }
    EXPECT_EQ(held, std::max(n, 1));
  }
}

TEST(WallWindows, AreTheTicksWritten) {
  const LevelWorld world(walled());
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    for (int n = 0; n <= 8; ++n) {
      Tuning tuning = with_loop(climber(), loop);
      tuning.wall.coyote = {static_cast<double>(n), Duration::Unit::ticks};
      tuning.wall.buffer = Duration{static_cast<double>(n), Duration::Unit::ticks};
      const Rules rules = rules_of(tuning);
      for (int late = 1; late <= n + 2; ++late) {
        Mover run = mover_on_wall(rules, world, 55);
        while (run.character.wall != 0) run.advance(kLeft);
        run.advance(kLeft, late - 1);
        run.advance({-127, 0, true, false});
        EXPECT_EQ(run.all(EventKind::jumped).size(), late <= n ? 1U : 0U)
            << text_of(loop) << ", " << late << " of " << n;
      }
      for (int early = 1; early <= n + 2; ++early) {
        const Vec start{2.5, 55};
        Mover rehearsal(rules, world, start);
        int arrival = 0;
        while (rehearsal.character.wall == 0) {
          rehearsal.advance(kRight);
          ++arrival;
        }
        if (early >= arrival) continue;
        Mover run(rules, world, start);
        run.advance(kRight, arrival - early);
        run.advance(kRightJump);
        run.advance(kRight, early);
        EXPECT_EQ(run.all(EventKind::jumped).size(), early <= n ? 1U : 0U)
            << text_of(loop) << ", " << early << " of " << n << " early";
      }
    }
  }
}

TEST(WallExit, TheSameWallMayBeBarredUntilALandingOrTheOtherWall) {
  Tuning tuning = climber();
  tuning.wall.exits[0].same_wall = false;
  tuning.wall.exits[0].steer_lock = {};
  const Rules rules = rules_of(tuning);
  const LevelWorld shaft = world_of({{{-50, -1}, {50, 0}}, {{5, -1}, {6, 90}}, {{1, 2}, {2, 90}}});
  Mover run = mover_on_wall(rules, shaft, 40);
  run.advance(kRightJump);
  const auto back_to = [&run](const Controls& held, int side) {
    run.advance(held);
    while (run.character.wall != side) run.advance(held);
  };
  back_to(kRight, 1);
  run.advance(kRightJump);
  EXPECT_EQ(run.all(EventKind::jumped).size(), 1U) << "this side is spent";
  back_to(kLeft, -1);
  run.advance({-127, 0, true, false});
  EXPECT_EQ(run.all(EventKind::jumped).size(), 2U);
  back_to(kRight, 1);
  run.advance(kRightJump);
  EXPECT_EQ(run.all(EventKind::jumped).size(), 3U) << "the other side gave it back";
}

TEST(WallExit, MayGiveAirJumpsBack) {
  const LevelWorld world(walled());
  for (const bool restore : {false, true}) {
    Tuning tuning = climber();
    tuning.jump.air_jumps.count = 1;
    tuning.wall.exits[0].restore = restore;
    const Rules rules = rules_of(tuning);
    Mover run = mover_on_wall(rules, world, 40);
    run.character.air_jumps_used = 1;
    run.advance(kRightJump);
    run.advance(kNothing);
    run.advance(kJump);
    EXPECT_EQ(run.all(EventKind::jumped).size(), restore ? 2U : 1U);
  }
}

TEST(Wall, EverythingMirrors) {
  Tuning tuning = climber();
  tuning.wall.cling = {5, Duration::Unit::ticks};
  tuning.wall.coyote = {3, Duration::Unit::ticks};
  tuning.wall.exits.push_back({"away", WallPlace::anywhere, {4, Duration::Unit::ticks}, 2, 0});
  const Rules rules = rules_of(tuning);
  const LevelWorld right(walled());
  const LevelWorld left = world_of({{{-50, -1}, {50, 0}}, {{-6, -1}, {-5, 60}}});
  Mover a(rules, right, {3, 0});
  Mover b(rules, left, {-3, 0});
  const Controls inputs[] = {kRightJump, kRight,     kRightJump, kLeft,
                             kRight,     kRightJump, kLeft,      kNothing};
  const int lasts[] = {20, 12, 8, 3, 25, 14, 9, 40};
  for (std::size_t i = 0; i < 8; ++i) {
    for (int t = 0; t < lasts[i]; ++t) {
      Controls mirrored = inputs[i];
      mirrored.x = static_cast<std::int8_t>(-mirrored.x);
      a.advance(inputs[i]);
      b.advance(mirrored);
      ASSERT_EQ(a.character.feet.x, -b.character.feet.x);
      ASSERT_EQ(a.character.feet.y, b.character.feet.y);
      ASSERT_EQ(a.character.facing, -b.character.facing);
      ASSERT_EQ(a.character.stance(), b.character.stance());
    }
  }
  EXPECT_EQ(a.events.size(), b.events.size());
  EXPECT_GE(a.all(EventKind::jumped).size(), 2U);
}

TEST(WallExit, StraightUpClimbsAsOftenAsItIsPressed) {
  const LevelWorld world(walled());
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(climber(), loop);
    tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 0, 10}};
    const Rules rules = rules_of(tuning);
    Mover run = mover_on_wall(rules, world);
    for (int jump = 1; jump <= 5; ++jump) {
      const double before = run.character.feet.y;
      run.advance(kRightJump);
      while (run.character.velocity.y > 0) run.advance(kRightJump);
      EXPECT_GT(run.character.feet.y, before + 0.8) << text_of(loop);
      EXPECT_EQ(run.all(EventKind::jumped).size(), static_cast<std::size_t>(jump));
      run.advance(kRight, 5);
      EXPECT_EQ(run.character.stance(), Stance::wall_sliding) << "it slides again";
    }
  }
}

TEST(WallExit, APressThatLetsGoIsNoJumpAndIsUsedUp) {
  const LevelWorld world(walled());
  Tuning tuning = climber();
  tuning.jump.air_jumps.count = 2;
  tuning.jump.buffer = {20, Duration::Unit::ticks};
  tuning.wall.exits.insert(tuning.wall.exits.begin(), WallExit{"jump + down"});
  const Rules rules = rules_of(tuning);
  Mover run = mover_on_wall(rules, world);
  run.advance({127, -127, false, false});
  const Controls press{127, -127, true, false};
  const Availability now = available(run.character, press, rules, world);
  EXPECT_FALSE(now.possible);
  EXPECT_EQ(describe(now.trial), "no wall exit: the press releases the wall (wall.exit.1)");
  run.advance(press, 20);
  EXPECT_TRUE(run.all(EventKind::jumped).empty());
  EXPECT_EQ(run.all(EventKind::wall_released).size(), 1U);
  EXPECT_EQ(run.character.air_jumps_used, 0) << "the press did its work";
  EXPECT_EQ(run.character.buffer_left, 0);
}

// A lock says for how long, and what was touched; in the air as well.
TEST(Why, ALockByATouchNamesItsSurface) {
  Level level{"", {0, 0}, {{"floor", {{-50, -1}, {50, 0}}}, {"thorns", {{3, 0}, {4, 1}}}}};
  level.solids[1].traits.has_touch = true;
  level.solids[1].traits.touch.no_jump = 0.5;
  const LevelWorld world(level, kNothingTravels);
  Tuning tuning = pip();
  const Rules rules = rules_of(tuning);
  Mover run(rules, world, {0, 0});
  for (int i = 0; i < 60 && run.all(EventKind::locked).empty(); ++i) run.advance(kRight);
  ASSERT_EQ(run.all(EventKind::locked).size(), 1U);
  EXPECT_EQ(run.all(EventKind::locked)[0].surface, 1U);
  const Availability now = available(run.character, kRight, rules, world);
  EXPECT_EQ(now.trial.surface, 1U);
  EXPECT_EQ(describe(now.trial, "\"thorns\""),
            "no ground jump: locked by no_jump for another 29 ticks, since \"thorns\" was touched");
  run.character.velocity.y = 5;  // lifted by the game: now it is in the air
  run.advance(kNothing);
  EXPECT_FALSE(run.character.grounded());
  EXPECT_EQ(available(run.character, kNothing, rules, world).trial.hurdle, Hurdle::locked);
}

// ---- before a jump from the ground --------------------------------------------------------------

TEST(WallExit, MayComeBeforeAJumpFromTheGround) {
  const LevelWorld world(walled());
  for (const JumpLoop& loop : all_loops({60})) {
    for (const bool first : {false, true}) {
      Tuning tuning = with_loop(climber(), loop);
      tuning.jump.buffer = {8, Duration::Unit::ticks};
      tuning.wall.exits[0].first = first;
      const Rules rules = rules_of(tuning);
      const JumpKind expected = first ? JumpKind::wall : JumpKind::ground;
      Mover run(rules, world, {4.59, 0});
      run.advance(kRight, 20);
      ASSERT_TRUE(run.character.grounded() && run.character.wall == 1);
      EXPECT_EQ(available(run.character, kRight, rules, world).kind, expected) << text_of(loop);
      run.advance(kRightJump);
      ASSERT_EQ(run.all(EventKind::jumped).size(), 1U);
      EXPECT_EQ(run.all(EventKind::jumped)[0].detail, static_cast<std::uint8_t>(expected));
      EXPECT_EQ(run.character.velocity.x < 0, first) << "8 u/s away from it";
      ASSERT_EQ(run.all(EventKind::left_ground).size(), 1U);
      EXPECT_EQ(detail_of(run.all(EventKind::left_ground)[0]), "jumped");
      // One that is remembered at landing is no other.
      Mover falls(rules, world, {4.59, 0.5});
      falls.advance(kRight, 4);
      falls.advance(kRightJump, 10);
      ASSERT_FALSE(falls.all(EventKind::jumped).empty());
      EXPECT_EQ(falls.all(EventKind::jumped)[0].detail, static_cast<std::uint8_t>(JumpKind::wall));
    }
  }
}

TEST(WallExit, ThatComesFirstStillWantsWhatItNames) {
  Tuning tuning = climber();
  tuning.wall.exits[0].on = "jump + away";
  tuning.wall.exits[0].first = true;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(walled());
  Mover run(rules, world, {4.59, 0});
  run.advance(kRight, 20);
  EXPECT_EQ(available(run.character, kRight, rules, world).kind, JumpKind::ground);
  EXPECT_EQ(available(run.character, kLeft, rules, world).kind, JumpKind::wall);
  EXPECT_EQ(
      consider_text(run.character, {-127, 0, true, false}, rules, world, Candidate::ground_jump),
      "no ground jump: another action took it");
  for (const char* on : {"away", "jump"}) {
    Tuning wrong = climber();
    wrong.wall.exits[0].on = on;
    wrong.wall.exits[0].first = true;
    wrong.wall.exits[0].up = 0;
    const Compiled compiled = compile(wrong);
    ASSERT_EQ(compiled.violations.size(), 1U);
    EXPECT_EQ(
        describe(compiled.violations[0]),
        "wall.exit.1.first: found true, expected false, or a row that jumps: \"jump\" among its "
        "words, and an up");
  }
}

}  // namespace
}  // namespace bushbaby
