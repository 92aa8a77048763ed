// What one tick does, mechanism by mechanism, in every loop.
#include "bushbaby/core/motion/advance.h"

#include <cmath>

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

constexpr double kRestShare = 0.0005;  // a body rests half the flush gap, 0.001 widths, away

double rest_of(const Rules& rules) {
  return kRestShare * (rules.body.box.hi.x - rules.body.box.lo.x);
}

TEST(Place, StandsFlushOnTheFloor) {
  const Rules rules = rules_of(pip());
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const double y : {0.0, -0.0001, 0.0003, 0.0007, 0.0015}) {
    Character character;
    ASSERT_TRUE(place(character, {0, y}, rules, world)) << y;
    EXPECT_TRUE(character.grounded()) << y;
    EXPECT_NEAR(character.feet.y, rest_of(rules), 1e-15) << y;
    EXPECT_EQ(character.ground.normal, (Vec{0, 1}));
    EXPECT_EQ(character.ground.surface, 0U);
  }
  Character character;
  EXPECT_TRUE(place(character, {0, 1}, rules, world));
  EXPECT_FALSE(character.grounded());
  EXPECT_EQ(character.ground.reason, GroundReason::none);
  EXPECT_FALSE(place(character, {0, -0.5}, rules, world)) << "deep in the floor";

  // Under a ceiling there must be room for the body.
  const double height = rules.body.box.hi.y;
  for (const double over : {-0.0001, 0.0, 0.0005, 0.0015, 0.002}) {
    Level low = flat_floor();
    low.solids.push_back({"", {{-9, height + over}, {9, height + 9}}, {}});
    const LevelWorld beneath(low, kNothingTravels);
    const bool fits = place(character, {0, 0}, rules, beneath);
    EXPECT_EQ(fits, over > 0) << over;
    if (fits) {
      EXPECT_EQ(overlap(beneath, rules.body, character.feet, 0).depth, 0) << over;
    } else {
      EXPECT_EQ(character.feet, (Vec{0, 0})) << over;
    }
  }
}

TEST(Advance, RestsWithoutChangeForever) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {0, 0});
    Character before = run.character;
    run.advance(kNothing, 1000);
    before.tick = run.character.tick;
    EXPECT_EQ(run.character, before) << text_of(loop);
    EXPECT_TRUE(run.events.empty()) << text_of(loop);
  }
}

TEST(Run, RatesApplyToSpeedingUpBrakingAndTurning) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Tuning tuning = pip();
  tuning.run.ground = {{60, 30, 120}};  // per tick at 60 Hz: 1, 0.5 and 2 u/s
  for (const JumpLoop& loop : all_loops({60})) {
    SCOPED_TRACE(text_of(loop));
    const Rules rules = rules_of(with_loop(tuning, loop));
    Mover run(rules, world, {0, 0});
    const auto speed = [&run] { return run.character.velocity.x; };
    run.advance(kRight, 3);
    EXPECT_NEAR(speed(), 3, 1e-12);
    run.advance(kRight, 10);
    EXPECT_EQ(speed(), 7) << "never past top speed";
    run.advance(kNothing, 4);
    EXPECT_NEAR(speed(), 5, 1e-12);
    run.advance({64, 0, false, false}, 100);
    EXPECT_DOUBLE_EQ(speed(), 7 * 64.0 / 127) << "part of the direction is part of the speed";
    run.advance(kRight, 100);
    run.advance(kLeft, 3);
    EXPECT_NEAR(speed(), 1, 1e-12);
    run.advance(kLeft);
    // From 1 u/s: exact turns for half a tick and speeds up for the other half.
    EXPECT_NEAR(speed(), loop.integrator == Integrator::exact ? -0.5 : -1, 1e-12);
    EXPECT_EQ(run.character.facing, -1);
    run.advance(kLeft, 100);
    EXPECT_EQ(speed(), -7);
    EXPECT_TRUE(run.character.grounded());
  }
}

TEST(Run, DistanceOfARunUpFollowsTheLoop) {
  // 7 ticks from rest to 7 u/s, by hand: the sums of the speeds that each loop moves with.
  const LevelWorld world(flat_floor(), kNothingTravels);
  const auto distance = [&](Integrator integrator) {
    const Rules rules = rules_of(with_loop(pip(), {integrator, 60, true}));
    Mover run(rules, world, {0, 0});
    run.advance(kRight, 7);
    return run.character.feet.x;
  };
  EXPECT_NEAR(distance(Integrator::exact), 49.0 / 120, 1e-12);
  EXPECT_NEAR(distance(Integrator::trapezoidal), 49.0 / 120, 1e-12);
  EXPECT_NEAR(distance(Integrator::semi_implicit), (1 + 2 + 3 + 4 + 5 + 6 + 7) / 60.0, 1e-12);
  EXPECT_NEAR(distance(Integrator::explicit_step), (0 + 1 + 2 + 3 + 4 + 5 + 6) / 60.0, 1e-12);
}

TEST(Run, InTheAirOtherRatesApply) {
  const LevelWorld world(std::vector<Box>{});
  const Rules rules = rules_of(with_loop(pip(), {Integrator::semi_implicit, 60, true}));
  Mover run(rules, world, {0, 0});
  run.advance(kRight, 2);
  EXPECT_NEAR(run.character.velocity.x, 2 * 45.0 / 60, 1e-12);
  run.advance(kNothing, 1);
  EXPECT_NEAR(run.character.velocity.x, 2 * 45.0 / 60 - 12.0 / 60, 1e-12);
}

TEST(WalkOff, LeavesLevelAndFallsFromTheNextTick) {
  const LevelWorld world = world_of({{{-10, -1}, {1, 0}}});
  for (const JumpLoop& loop : all_loops({60})) {
    SCOPED_TRACE(text_of(loop));
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {-3, 0});
    const double level = run.character.feet.y;
    while (run.character.grounded()) run.advance(kRight);
    EXPECT_GE(run.character.feet.x, 1.4);
    EXPECT_EQ(run.character.feet.y, level);
    EXPECT_EQ(run.character.velocity.y, 0);
    EXPECT_EQ(run.character.stance(), Stance::falling);
    ASSERT_EQ(run.all(EventKind::left_ground).size(), 1U);
    EXPECT_EQ(detail_of(run.all(EventKind::left_ground)[0]), "walked_off");
    run.advance(kRight);
    EXPECT_LT(run.character.velocity.y, 0);
    EXPECT_TRUE(run.all(EventKind::jumped).empty());
  }
}

TEST(Jump, NeedsAPressAndGround) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover run(rules, world, {0, 0});
  run.advance(kJump, 300);
  EXPECT_EQ(run.all(EventKind::jumped).size(), 1U) << "a held button jumps once";
  run.advance(kNothing);
  run.advance(kJump, 5);
  run.advance(kNothing);
  run.advance(kJump);
  EXPECT_EQ(run.all(EventKind::jumped).size(), 2U) << "no second jump in the air";
}

TEST(Jump, KeepsTheSpeedAcrossAndTheLargerSpeedUp) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover run(rules, world, {0, 0});
  run.advance(kRight, 20);
  const Event jumped = *run.advance(kRightJump).begin();
  EXPECT_EQ(jumped.kind, EventKind::left_ground);
  EXPECT_EQ(run.character.velocity.x, 7);
  EXPECT_EQ(run.all(EventKind::jumped).at(0).value, rules.launch_speed);
}

TEST(Jump, LaunchTickMovesByTheLoop) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {0, 0});
    const double before = run.character.feet.y;
    run.advance(kJump);
    const double v = rules.launch_speed;
    const double drop = rules.rise_gravity * rules.dt;
    const bool acts = loop.gravity_on_launch_tick;
    double moved = v * rules.dt;
    if (loop.integrator == Integrator::semi_implicit && acts) moved -= drop * rules.dt;
    if ((loop.integrator == Integrator::exact || loop.integrator == Integrator::trapezoidal) &&
        acts) {
      moved -= drop * rules.dt / 2;
    }
    EXPECT_NEAR(run.character.feet.y - before, moved, 1e-14) << text_of(loop);
    EXPECT_NEAR(run.character.velocity.y, acts ? v - drop : v, 1e-13) << text_of(loop);
  }
}

struct CutCase {
  Tuning::Jump::Cut cut;
  double speed_after;  // of a body that rose at `before` when the button was released
};

TEST(Cut, StylesActOnceAtTheFirstDecisionWithoutTheButton) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const CutStyle style : {CutStyle::none, CutStyle::stop, CutStyle::scale, CutStyle::weight}) {
    for (const JumpLoop& loop : all_loops({60})) {
      SCOPED_TRACE(text_of(loop) + " style " + std::to_string(static_cast<int>(style)));
      Tuning tuning = with_loop(pip(), loop);
      tuning.jump.cut = {style, 0.4, 3, {0}};
      const Rules rules = rules_of(tuning);
      Mover run(rules, world, {0, 0});
      run.advance(kJump, 4);
      const double before = run.character.velocity.y;
      run.advance(kNothing);
      const double gravity = rules.rise_gravity * rules.dt;
      const double after = run.character.velocity.y;
      switch (style) {
        case CutStyle::none: EXPECT_NEAR(after, before - gravity, 1e-12); break;
        case CutStyle::stop: EXPECT_NEAR(after, -rules.fall_gravity * rules.dt, 1e-12); break;
        case CutStyle::scale: EXPECT_NEAR(after, before * 0.4 - gravity, 1e-12); break;
        case CutStyle::weight: EXPECT_NEAR(after, before - 3 * gravity, 1e-12); break;
      }
      run.advance(kJump);
      run.advance(kNothing, 100);
      EXPECT_EQ(run.all(EventKind::cut).size(), style == CutStyle::none ? 0U : 1U);
      EXPECT_EQ(run.all(EventKind::apex).size(), 1U);
      EXPECT_EQ(run.all(EventKind::landed).size(), 1U);
    }
  }
}

TEST(Cut, WaitsForMinHoldTickByTick) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (int min_hold = 0; min_hold <= 12; ++min_hold) {
    Tuning tuning = pip();
    tuning.jump.cut.min_hold = {static_cast<double>(min_hold), Duration::Unit::ticks};
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kJump);  // the launch tick
    run.advance(kNothing, 20);
    const auto cuts = run.all(EventKind::cut);
    ASSERT_EQ(cuts.size(), 1U);
    EXPECT_EQ(cuts[0].tick - 1, std::max(1, min_hold)) << "the launch is tick 1";
  }
}

TEST(Cut, NeverActsOnAFallingBody) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover run(rules, world, {0, 0});
  while (run.character.velocity.y >= 0) run.advance(kJump);
  const double falling = run.character.velocity.y;
  run.advance(kNothing);
  EXPECT_NEAR(run.character.velocity.y, falling - rules.fall_gravity * rules.dt, 1e-12);
  EXPECT_TRUE(run.all(EventKind::cut).empty());
}

TEST(Fall, TerminalSpeedIsReachedAndNotPassed) {
  const LevelWorld world(std::vector<Box>{});
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {0, 0});
    run.advance(kNothing, 120);
    EXPECT_EQ(run.character.velocity.y, -24) << text_of(loop);
    // A faster fall that a game gives is kept, not clipped.
    run.character.velocity.y = -40;
    run.advance(kNothing, 10);
    EXPECT_EQ(run.character.velocity.y, -40) << text_of(loop);
  }
}

TEST(Contact, HeadBumpEndsTheRiseAndTheBodyFallsAtOnce) {
  const LevelWorld world = world_of({{{-10, -1}, {10, 0}}, {{-10, 2.5}, {10, 3}}});
  for (const JumpLoop& loop : all_loops({60})) {
    SCOPED_TRACE(text_of(loop));
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {0, 0});
    run.advance(kJump, 60);
    ASSERT_EQ(run.all(EventKind::bumped_head).size(), 1U);
    EXPECT_TRUE(run.all(EventKind::apex).empty());
    const Event bump = run.all(EventKind::bumped_head)[0];
    const Event landing = run.all(EventKind::landed).at(0);
    EXPECT_LT(bump.place.y + 1.4, 2.5);
    EXPECT_GT(bump.place.y + 1.4, 2.5 - 0.0008);
    EXPECT_GT(landing.tick, bump.tick);
  }
}

TEST(Contact, WallTakesTheSpeedAcrossAndLeavesTheRise) {
  const LevelWorld world = world_of({{{-10, -1}, {10, 0}}, {{3, 0}, {4, 50}}});
  const Rules rules = rules_of(pip());
  Mover along_wall(rules, world, {2.599, 0});
  const LevelWorld floor_only = world_of({{{-10, -1}, {10, 0}}});
  Mover in_open(rules, floor_only, {2.599, 0});
  for (int i = 0; i < 40; ++i) {
    along_wall.advance(kRightJump);
    in_open.advance(kRightJump);
    EXPECT_NEAR(along_wall.character.feet.y, in_open.character.feet.y, 1e-12);
    EXPECT_LT(along_wall.character.feet.x + 0.4, 3);
    EXPECT_EQ(along_wall.character.velocity.x, 0);
  }
  EXPECT_EQ(along_wall.all(EventKind::wall_touched).size(), 1U);
  EXPECT_EQ(along_wall.character.wall, 1);
  along_wall.advance(kLeft, 3);
  EXPECT_EQ(along_wall.all(EventKind::wall_lost).size(), 1U);
  EXPECT_EQ(along_wall.character.wall, 0);
}

TEST(Contact, PushingIntoAWallFallsFreely) {
  const LevelWorld walled = world_of({{{3, -100}, {4, 50}}});
  const LevelWorld open(std::vector<Box>{});
  const Rules rules = rules_of(pip());
  Mover pressed(rules, walled, {2.5, 10});
  Mover free(rules, open, {2.5, 10});
  pressed.advance(kRight, 60);
  free.advance(kRight, 60);
  EXPECT_NEAR(pressed.character.feet.y, free.character.feet.y, 1e-12);
}

TEST(Contact, SeamsBetweenBoxesNeverCatch) {
  // A floor and a wall made of unit blocks, run and slid over at every loop and rate.
  std::vector<Box> blocks;
  for (int i = -40; i < 40; ++i) {
    const double x = i;
    blocks.push_back({{x, -1}, {x + 1, 0}});
    blocks.push_back({{20, x}, {21, x + 1}});
  }
  const LevelWorld world(blocks);
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    SCOPED_TRACE(text_of(loop));
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {-30, 0});
    run.advance(kRight, static_cast<int>(loop.tick_rate * 2));
    for (int i = 0; i < static_cast<int>(loop.tick_rate); ++i) {
      run.advance(kRight);
      ASSERT_EQ(run.character.velocity.x, 7);
      ASSERT_TRUE(run.character.grounded());
    }
    // Falling along the wall while pressing into it, and landing on seams while running.
    Mover slide(rules, world, {19.5, 30});
    for (int i = 0; i < static_cast<int>(loop.tick_rate); ++i) slide.advance(kRight);
    EXPECT_EQ(slide.all(EventKind::landed).size(), 0U);
    EXPECT_LE(slide.character.velocity.y, -24 + 1e-9);
    for (int i = 0; i < 20; ++i) {
      run.advance(kLeft, static_cast<int>(loop.tick_rate));
      run.character.velocity.x = -7;
      run.advance({-127, 0, true, false}, 3);
      const double speed = run.character.velocity.x;
      run.advance(kLeft, static_cast<int>(loop.tick_rate));
      EXPECT_EQ(run.character.velocity.x, speed);
      run.character.feet.x += 7;  // back to where it was, more or less
    }
  }
}

struct Thrown {
  const char* what;
  Vec direction;
};

TEST(Contact, AWallOfAThousandthStopsAnySpeedFlushOnTheTickItArrives) {
  const double thin = 0.001;
  const double away = 6;
  const LevelWorld world = world_of({{{away, -1e3}, {away + thin, 1e3}},
                                     {{-away - thin, -1e3}, {-away, 1e3}},
                                     {{-1e3, away}, {1e3, away + thin}},
                                     {{-1e3, -away - thin}, {1e3, -away}}});
  Tuning tuning = pip();
  tuning.fall.terminal_speed.reset();
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    const Rules rules = rules_of(with_loop(tuning, loop));
    for (const Thrown& thrown : {Thrown{"right", {1, 0}}, Thrown{"left", {-1, 0}},
                                 Thrown{"up", {0, 1}}, Thrown{"down", {0, -1}}}) {
      for (const double speed : {40.0, 333.3, 1e3, 12345.6, 1e5, 1e6}) {
        SCOPED_TRACE(text_of(loop) + " " + thrown.what + " at " + std::to_string(speed));
        Mover run(rules, world, {0, 0});
        run.character.velocity = {thrown.direction.x * speed, thrown.direction.y * speed};
        const auto gap_at = [&](Vec feet) {
          if (thrown.direction.x != 0) return away - 0.4 - feet.x * thrown.direction.x;
          return thrown.direction.y > 0 ? away - 1.4 - feet.y : away + feet.y;
        };
        bool arrived = false;
        for (int i = 0; i < 200 && !arrived; ++i) {
          run.advance(kNothing);
          const Vec feet = run.character.feet;
          ASSERT_GT(gap_at(feet), 0);
          for (const Event& event : run.events) {
            const bool contact = event.kind == EventKind::wall_touched ||
                                 event.kind == EventKind::landed ||
                                 event.kind == EventKind::bumped_head;
            if (!contact) continue;
            arrived = true;
            EXPECT_GT(gap_at(event.place), 0);
            EXPECT_LE(gap_at(event.place), 0.001 * 0.8);
          }
          const Vec v = run.character.velocity;
          const double towards = v.x * thrown.direction.x + v.y * thrown.direction.y;
          if (arrived) {
            EXPECT_LE(towards, 0);
          } else {
            EXPECT_GT(towards, 0) << "nothing was in its way yet";
          }
        }
        EXPECT_TRUE(arrived);
      }
    }
  }
}

TEST(Events, ReportAJumpInOrder) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    SCOPED_TRACE(text_of(loop));
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {0, 0});
    run.advance(kNothing, 5);
    run.advance(kJump, 90);
    ASSERT_EQ(run.events.size(), 4U);
    const EventKind order[] = {EventKind::left_ground, EventKind::jumped, EventKind::apex,
                               EventKind::landed};
    for (std::size_t i = 0; i < 4; ++i) EXPECT_EQ(run.events[i].kind, order[i]);
    EXPECT_EQ(run.events[1].tick, 6) << "the first tick after five";
    EXPECT_NEAR(run.events[2].place.y - run.events[1].place.y, 3.25, 1e-9);
    const bool stepped = loop.integrator != Integrator::exact;
    for (const Event& event : run.events) {
      if (stepped) {
        EXPECT_TRUE(event.fraction == 0 || event.fraction == 1);
      }
    }
    if (!stepped) {
      EXPECT_NEAR(time_of(run.events[2], 60), 5.0 / 60 + 0.38, 1e-12);
      const double fall = std::sqrt(2 * 3.25 / rules.fall_gravity);
      EXPECT_NEAR(time_of(run.events[3], 60), 5.0 / 60 + 0.38 + fall, 1e-12);
      EXPECT_NEAR(run.events[3].value, rules.fall_gravity * fall, 1e-9);
    }
  }
}

TEST(Events, OverflowIsReportedNotLost) {
  Events events;
  for (std::size_t i = 0; i < Events::kMost; ++i) events.add({});
  EXPECT_FALSE(events.overflowed());
  events.add({});
  EXPECT_TRUE(events.overflowed());
  EXPECT_EQ(events.size(), Events::kMost);
}

TEST(GroundCheck, AStandingBodyThatIsGivenASpeedUpIsLifted) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover run(rules, world, {0, 0});
  run.character.velocity.y = 5;
  run.advance(kNothing);
  EXPECT_EQ(run.character.ground.reason, GroundReason::rising);
  EXPECT_EQ(detail_of(run.all(EventKind::left_ground).at(0)), "lifted");
}

}  // namespace
}  // namespace bushbaby
