// Small rules that are easily lost: each has a test that fails without it.
#include <algorithm>
#include <functional>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/world/level.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace)

TEST(Settling, NeverGoesThroughACeiling) {
  const Rules rules = rules_of(pip());
  const double height = rules.body.box.hi.y;
  const double gap = rules.flush_gap;
  for (const double room : {0.35 * gap, 0.45 * gap, 0.6 * gap, 0.8 * gap, 3 * gap}) {
    for (const double feet : {0.05 * gap, 0.2 * gap, 0.31 * gap}) {
      const LevelWorld world =
          world_of({{{-9, -1}, {9, 0}}, {{-9, height + room}, {9, height + room + 1}}});
      Mover run(rules, world_of({{{-9, -1}, {9, 0}}}), {0, 0});
      run.character.feet.y = feet;
      for (int i = 0; i < 30; ++i) {
        bushbaby::advance(run.character, i < 15 ? kRight : kNothing, rules, world);
        ASSERT_EQ(overlap(world, rules.body, run.character.feet, 0).depth, 0)
            << "room " << room << ", feet " << feet << ", tick " << i;
      }
    }
  }
}

// A press waits if the body, going on as it does, stands within the buffer, be it still rising.
TEST(NearGround, CountsWhatIsLeftOfTheRise) {
  Tuning tuning = pip();
  tuning.jump.near_ground = NearGround::buffer;
  tuning.jump.air_jumps.count = 1;
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (int n = 2; n <= 30; ++n) {
    tuning.jump.buffer = {static_cast<double>(n), Duration::Unit::ticks};
    const Rules rules = rules_of(tuning);
    for (const double rise : {-2.0, 0.3, 1.0, 3.0}) {
      Mover pressed(rules, world, {0, 0.2});
      Mover idle(rules, world, {0, 0.2});
      pressed.character.velocity = idle.character.velocity = {0, rise};
      idle.advance(kNothing, n);
      const bool lands = !idle.all(EventKind::landed).empty();
      pressed.advance(kJump);
      EXPECT_EQ(pressed.all(EventKind::jumped).empty(), lands) << n << " ticks, rising " << rise;
      if (!lands) continue;
      pressed.advance(kJump, n);
      ASSERT_EQ(pressed.all(EventKind::jumped).size(), 1U) << "it does jump there";
      EXPECT_EQ(detail_of(pressed.all(EventKind::jumped)[0]), "ground");
    }
  }
}

// A floor, and a high wall whose face is at x = 5.
std::vector<Box> walled() { return {{{-50, -1}, {50, 0}}, {{5, -1}, {6, 90}}}; }

// However hard a body presses against a wall, its tick has all its time: it falls as in the open.
TEST(Walls, TakeNoTimeAway) {
  const LevelWorld world = world_of(walled());
  for (const double rate : {24.0, 30.0, 60.0, 144.0, 240.0}) {
    for (const double accelerate : {1.0, 45.0, 300.0, 1e5, 1e6}) {
      for (const int stick : {20, 70, 127}) {
        Tuning tuning = at_tick_rate(pip(), rate);
        tuning.run.air.accelerate = accelerate;
        tuning.jump.hang = {0.05, 0.5};
        const Rules rules = rules_of(tuning);
        Mover pressing(rules, world, {5 - 0.4 - 0.001, 60});
        Mover open(rules, world, {0, 60});
        for (int i = 0; i < static_cast<int>(rate); ++i) {
          pressing.advance({static_cast<std::int8_t>(stick), 0, false, false});
          open.advance(kNothing);
          ASSERT_NEAR(pressing.character.feet.y, open.character.feet.y, 1e-9)
              << rate << " Hz, " << accelerate << " u/s², tick " << i;
        }
      }
    }
  }
}

TEST(Walls, ANarrowHangBandTakesNoTimeOfALandingTick) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const double band : {1e-6, 0.05, 1.0}) {
    Tuning tuning = pip();
    tuning.jump.hang = {band, 0.5};
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kRightJump, 20);
    while (run.all(EventKind::landed).empty()) {
      const double before = run.character.feet.x;
      run.advance(kRight);
      EXPECT_NEAR(run.character.feet.x - before, 7.0 / 60, 1e-9) << band;
    }
  }
}

TEST(Landing, GivesBackEvenIfItSlipsOffInTheSameTick) {
  Tuning tuning = pip();
  tuning.jump.air_jumps.count = 2;
  tuning.jump.coyote = {5, Duration::Unit::ticks};
  tuning.fall.fast.speed = 20;
  tuning.run.top_speed = 60;
  tuning.run.air = {{1e6, 1e6, 1e6}};
  const Rules rules = rules_of(tuning);
  const LevelWorld ledge = world_of({{{-50, -1}, {0, 0}}});
  int slips = 0;
  for (int i = 0; i < 400; ++i) {
    Mover run(rules, ledge, {-7.5 + 0.005 * i, 0.5});
    run.character.velocity = {60, 0};
    run.character.air_jumps_used = 2;
    run.character.fast_falling = run.character.hang_armed = true;
    for (int t = 0; t < 12 && run.all(EventKind::landed).empty(); ++t) run.advance(kRight);
    if (run.all(EventKind::landed).empty() || run.character.grounded()) continue;
    ++slips;
    EXPECT_EQ(run.all(EventKind::landed)[0].tick, run.character.tick);
    EXPECT_EQ(run.character.coyote_left, 5);
    EXPECT_EQ(run.character.air_jumps_used, 0);
    EXPECT_FALSE(run.character.fast_falling || run.character.hang_armed);
  }
  EXPECT_GT(slips, 10) << "the case was met";
}

TEST(Landing, RenewsTheClingAtAWallThatStaysTouched) {
  const LevelWorld world = world_of(walled());
  Tuning tuning = pip();
  tuning.wall.cling = {20, Duration::Unit::ticks};
  tuning.wall.slide_speed = 3;
  const Rules rules = rules_of(tuning);
  Mover run(rules, world, {5 - 0.4 - 0.01, 0.4});
  while (!run.character.grounded()) run.advance(kRight);
  for (int jump = 0; jump < 3; ++jump) {
    run.advance(kRightJump);
    while (run.character.velocity.y > 0) run.advance(kRightJump);
    const double top = run.character.feet.y;
    run.advance(kRight, 15);
    EXPECT_NEAR(run.character.feet.y, top, 0.01) << "it clings, jump " << jump;
    while (!run.character.grounded()) run.advance(kRight);
  }
}

TEST(Facing, BySpeedTurnsWithTheSpeed) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({30, 60})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.run.facing = FacingRule::speed;
    tuning.run.auto_run = AutoRun::facing;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kRight, 30);
    while (run.character.velocity.x >= 0) run.advance(kLeft);
    EXPECT_EQ(run.character.facing, -1) << text_of(loop);
    run.advance(kNothing, 30);
    EXPECT_LT(run.character.velocity.x, 0) << "a turn that is released goes on";
  }
}

TEST(FastFall, WaitsForTheTickAfterAJump) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Tuning tuning = pip();
  tuning.fall.fast.speed = 30;
  tuning.fall.fast.only_falling = false;
  tuning.jump.air_jumps.count = 1;
  const Rules rules = rules_of(tuning);
  const Controls both{0, -127, true, false};
  Mover ground(rules, world, {0, 0});
  ground.advance(both, 5);
  EXPECT_EQ(ground.all(EventKind::jumped).size(), 1U);
  EXPECT_TRUE(ground.all(EventKind::fast_fell).empty());
  EXPECT_GT(ground.character.feet.y, 0.5) << "the jump was not for nothing";
  ground.advance(kNothing);
  ground.advance({0, -127, false, false});
  EXPECT_EQ(ground.all(EventKind::fast_fell).size(), 1U) << "a press of its own does";
}

TEST(WallExit, LettingGoEndsNoDash) {
  const LevelWorld world = world_of(walled());
  Tuning tuning = pip();
  tuning.dash.charges = 1;
  tuning.dash.distance = 2;
  tuning.dash.time = Duration{20, Duration::Unit::ticks};
  tuning.dash.direction = DashDirection::free;
  tuning.wall.exits = {{"down"}};
  for (const bool jump_out : {false, true}) {
    tuning.dash.jump_out = jump_out;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {5 - 0.4 - 0.01, 40});
    run.advance(kRight, 10);
    ASSERT_EQ(run.character.wall, 1);
    run.advance({0, 127, false, true});
    run.advance({0, -127, false, false}, 5);
    EXPECT_EQ(run.all(EventKind::wall_released).size(), 1U);
    EXPECT_TRUE(run.all(EventKind::dash_ended).empty());
    EXPECT_EQ(run.character.stance(), Stance::dashing);
  }
}

TEST(WallSlide, IsNoFasterThanTerminalSpeed) {
  const LevelWorld world = world_of(walled());
  for (const JumpLoop& loop : all_loops({60})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.fall.terminal_speed = 5;
    tuning.wall.slide_speed = 12;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {5 - 0.4 - 0.01, 80});
    for (int i = 0; i < 90; ++i) {
      run.advance(kRight);
      EXPECT_GE(run.character.velocity.y, -5) << text_of(loop);
    }
  }
}

TEST(Stun, EndsASustain) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Tuning tuning = pip();
  tuning.jump.sustain = {10, Duration::Unit::ticks};
  const Rules rules = rules_of(tuning);
  for (const StatusKind kind : {StatusKind::stun, StatusKind::no_control}) {
    Mover run(rules, world, {0, 0});
    run.advance(kJump, 3);
    const double speed = run.character.velocity.y;
    EXPECT_EQ(speed, rules.launch_speed);
    set_status(run.character, kind, {20});
    run.advance(kJump);
    EXPECT_LT(run.character.velocity.y, speed) << name_of(kind);
    EXPECT_EQ(run.character.sustain_left, 0);
  }
}

TEST(AutoRun, CountsForTheHoldOfARow) {
  const LevelWorld world = world_of(walled());
  Tuning tuning = pip();
  tuning.wall.exits = {{"towards", WallPlace::anywhere, {8, Duration::Unit::ticks}, 5, 9}};
  Tuning automatic = tuning;
  automatic.run.auto_run = AutoRun::right;
  const Rules by_hand = rules_of(tuning);
  const Rules by_itself = rules_of(automatic);
  Mover a(by_hand, world, {5 - 0.4 - 0.3, 40});
  Mover b(by_itself, world, {5 - 0.4 - 0.3, 40});
  for (int i = 0; i < 30; ++i) {
    a.advance(kRight);
    b.advance(kNothing);
    ASSERT_EQ(a.all(EventKind::jumped).size(), b.all(EventKind::jumped).size()) << i;
  }
  EXPECT_GE(a.all(EventKind::jumped).size(), 1U);
}

TEST(WallExit, TheSameWallIsGivenBackByALandingOrByLeavingTheOther) {
  const LevelWorld world =
      world_of({{{-50, -1}, {50, 0}}, {{2, -1}, {3, 90}}, {{-3, -1}, {-2, 90}}});
  Tuning tuning = pip();
  tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 9, 14}};
  tuning.wall.exits[0].same_wall = false;
  const Rules rules = rules_of(tuning);
  const auto to = [](Mover& run, const Controls& held, std::int8_t side) {
    for (int i = 0; i < 60 && run.character.wall != side; ++i) run.advance(held);
    ASSERT_EQ(run.character.wall, side);
    run.advance(held);
  };
  Mover run(rules, world, {0, 40});
  to(run, kRight, 1);
  run.advance(kRightJump);
  EXPECT_EQ(run.all(EventKind::jumped).size(), 1U);
  to(run, kLeft, -1);  // touches the other wall, and does not leave it by a jump
  to(run, kRight, 1);
  run.advance(kRightJump);
  EXPECT_EQ(run.all(EventKind::jumped).size(), 1U) << "touching gives nothing back";
  to(run, kLeft, -1);
  run.advance({-127, 0, true, false});
  EXPECT_EQ(run.all(EventKind::jumped).size(), 2U);
  to(run, kRight, 1);
  run.advance(kRightJump);
  EXPECT_EQ(run.all(EventKind::jumped).size(), 3U) << "leaving the other does";
}

TEST(Walls, HoldTheSpeedStillInEveryLoop) {
  const LevelWorld world = world_of(walled());
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    const Rules rules = rules_of(with_loop(pip(), loop));
    for (const double y : {0.0, 60.0}) {
      Mover run(rules, world, {5 - 0.4 - 0.5, y});
      while (run.character.wall == 0) run.advance(kRight);
      run.advance(kRight);
      for (int i = 0; i < 20; ++i) {
        run.advance(kRight);
        EXPECT_EQ(run.character.velocity.x, 0) << text_of(loop) << " at " << y;
      }
      run.advance(kLeft, 3);
      EXPECT_LT(run.character.velocity.x, 0) << "and lets it go";
    }
  }
}

// Every mode is reported when the body comes into it and out of it, once each, whatever ended it.
TEST(Modes, AreEnteredAndLeftOnceEach) {
  Tuning tuning = pip();
  tuning.wall.slide_speed = 3;
  tuning.fall.glide.speed = 3;
  tuning.fall.fast.speed = 20;
  tuning.jump.air_jumps.count = 1;
  tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 6, 12}, {"down"}};
  std::uint32_t seed = 99;
  const auto random = [&seed](std::uint32_t n) {
    seed = seed * 1664525U + 1013904223U;
    return (seed >> 16U) % n;
  };
  const LevelWorld world = world_of({{{-9, -1}, {9, 0}}, {{5, -1}, {6, 30}}, {{-6, -1}, {-5, 30}}});
  const std::pair<EventKind, EventKind> pairs[] = {
      {EventKind::wall_grabbed, EventKind::wall_grab_ended},
      {EventKind::glide_started, EventKind::glide_ended},
      {EventKind::fast_fell, EventKind::fast_fall_ended}};
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(tuning, loop));
    Mover run(rules, world, {0, 0});
    bool on[3] = {};
    int starts[3] = {};
    Controls held;
    for (int i = 0; i < 6000; ++i) {
      if (i % 7 == 0) {
        held = {static_cast<std::int8_t>(static_cast<int>(random(3) - 1) * 127),
                static_cast<std::int8_t>(random(6) == 0 ? -127 : 0), random(2) == 0, false};
      }
      if (random(300) == 0) push(run.character, {{5, 8}}, {}, rules);
      for (const Event& event : run.advance(held)) {
        for (std::size_t k = 0; k < 3; ++k) {
          if (event.kind == pairs[k].first) {
            ASSERT_FALSE(on[k]) << name_of(event.kind) << " twice, tick " << i;
            on[k] = true;
            ++starts[k];
          } else if (event.kind == pairs[k].second) {
            ASSERT_TRUE(on[k]) << name_of(event.kind) << " of nothing, tick " << i;
            on[k] = false;
          }
        }
      }
      ASSERT_EQ(on[0], run.character.on_wall) << i;
      ASSERT_EQ(on[1], run.character.stance() == Stance::gliding) << i;
      ASSERT_EQ(on[2], run.character.fast_falling) << i;
    }
    for (const int count : starts) EXPECT_GT(count, 5) << text_of(loop);
  }
}

TEST(Statuses, ForbidHoldingOnAndSlowTheFall) {
  const LevelWorld world = world_of(walled());
  Tuning tuning = pip();
  tuning.wall.slide_speed = 2;
  const Rules rules = rules_of(tuning);
  Mover run(rules, world, {5 - 0.4 - 0.01, 80});
  run.advance(kRight, 30);
  EXPECT_EQ(run.character.stance(), Stance::wall_sliding);
  set_status(run.character, StatusKind::no_cling, {10, 7});
  run.advance(kRight, 10);
  EXPECT_EQ(run.character.stance(), Stance::falling);
  EXPECT_LT(run.character.velocity.y, -8);
  run.advance(kRight, 30);
  EXPECT_EQ(run.character.stance(), Stance::wall_sliding) << "it takes hold again by itself";

  for (const JumpLoop& loop : all_loops({60})) {
    const Rules slow = rules_of(with_loop(pip(), loop));
    Mover fall(slow, world, {0, 80});
    set_status(fall.character, StatusKind::slow_fall, {kForEver, 3, 0.25});
    fall.advance(kNothing, 12);
    EXPECT_NEAR(fall.character.velocity.y, -slow.fall_gravity / 4 * 12 / 60, 1e-9) << text_of(loop);
    fall.advance(kNothing, 60);
    EXPECT_EQ(fall.character.velocity.y, -24.0 / 4) << "terminal speed as well";
    EXPECT_EQ(fall.character.status[static_cast<std::size_t>(StatusKind::slow_fall)].left,
              kForEver);
    set_status(fall.character, StatusKind::slow_fall, {});
    fall.advance(kNothing, 5);
    EXPECT_EQ(fall.all(EventKind::unlocked).size(), 1U) << "until it is taken back";
    EXPECT_LT(fall.character.velocity.y, -10);
  }
}

// Whatever rules come in between, no window is longer than they allow, and none that is open and
// still allowed is lost.
TEST(Adopt, KeepsWhatIsOpenWithinTheNewRules) {
  Tuning tuning = pip();
  tuning.jump.coyote = {10, Duration::Unit::ticks};
  tuning.jump.buffer = {8, Duration::Unit::ticks};
  tuning.jump.air_jumps.count = 3;
  const Rules before = rules_of(tuning);
  const LevelWorld ledge = world_of({{{-9, -1}, {0, 0}}});
  Mover run(before, ledge, {-1, 0});
  while (run.character.grounded()) run.advance(kRight);
  run.advance(kRight, 3);
  ASSERT_EQ(run.character.coyote_left, 7);
  run.character.air_jumps_used = 3;

  Tuning shorter = tuning;
  shorter.jump.coyote = {5, Duration::Unit::ticks};
  shorter.jump.air_jumps.count = 1;
  Character c = run.character;
  adopt(c, before, rules_of(shorter));
  EXPECT_EQ(c.coyote_left, 2) << "five in all, of which three have passed";
  EXPECT_EQ(c.air_jumps_used, 1);
  shorter.jump.coyote = {3, Duration::Unit::ticks};
  c = run.character;
  adopt(c, before, rules_of(shorter));
  EXPECT_EQ(c.coyote_left, 0) << "over, under the new rules";
  c = run.character;
  adopt(c, before, rules_of(at_tick_rate(tuning, 120)));
  EXPECT_EQ(c.coyote_left, 14) << "as long in seconds";
  EXPECT_EQ(c.tick - c.ground_lost_tick, 2 * (run.character.tick - run.character.ground_lost_tick));
  c = run.character;
  adopt(c, before, rules_of(at_tick_rate(tuning, 6)));
  EXPECT_EQ(c.coyote_left, 1) << "open for a tick at least";
  c = run.character;
  adopt(c, before, before);
  EXPECT_TRUE(c == run.character) << "the same rules change nothing";
}

// What new rules do not allow ends, and is reported like any other end.
TEST(Adopt, ReportsWhatItEnds) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Tuning able = pip();
  able.dash.charges = 1;
  able.dash.distance = 3;
  able.dash.time = Duration{20, Duration::Unit::ticks};
  able.jump.charge.time = {30, Duration::Unit::ticks};
  able.jump.charge.height = 5;
  const Rules with = rules_of(able);
  const Rules without = rules_of(pip());
  Mover dash(with, world, {0, 0});
  dash.advance({127, 0, false, true}, 3);
  ASSERT_EQ(dash.character.stance(), Stance::dashing);
  Mover gauge(with, world, {0, 0});
  gauge.advance(kJump, 5);
  ASSERT_EQ(gauge.all(EventKind::charge_started).size(), 1U);
  const auto ended_by = [&](Mover& run, EventKind kind) {
    adopt(run.character, with, without);
    const Events events = bushbaby::advance(run.character, kNothing, without, world);
    return std::any_of(events.begin(), events.end(),
                       [kind](const Event& event) { return event.kind == kind; });
  };
  EXPECT_TRUE(ended_by(dash, EventKind::dash_ended));
  EXPECT_NE(dash.character.stance(), Stance::dashing);
  EXPECT_TRUE(ended_by(gauge, EventKind::charge_lost));
}

TEST(Bounce, EndsWhereGravityTakesItBackWithinATick) {
  for (const Integrator integrator : all_integrators()) {
    Tuning tuning = pip();
    tuning.loop.integrator = integrator;
    const Rules rules = rules_of(tuning);
    Level level = flat_floor();
    level.solids[0].traits.bounce = 0.6;
    const LevelWorld world(level, kNothingTravels);
    Mover run(rules, world, {0, 3});
    run.advance(kNothing, 600);
    const std::vector<Event> bounces = run.all(EventKind::bounced);
    ASSERT_GT(bounces.size(), 3U);
    for (const Event& event : bounces) {
      EXPECT_GT(event.value, rules.fall_gravity * rules.dt) << "a bounce that nobody could see";
    }
    EXPECT_TRUE(run.character.grounded());
    EXPECT_EQ(run.character.velocity.y, 0);
    EXPECT_LT(bounces.back().tick, 300);
  }
}

TEST(Equality, SeesEveryField) {
  using Change = std::function<void(Character&)>;
  const std::vector<Change> changes{
      [](Character& c) { c.tick = 1; },
      [](Character& c) { c.feet.x = 1; },
      [](Character& c) { c.feet.y = 1; },
      [](Character& c) { c.velocity.x = 1; },
      [](Character& c) { c.velocity.y = 1; },
      [](Character& c) { c.controls.x = 1; },
      [](Character& c) { c.controls.y = 1; },
      [](Character& c) { c.controls.jump = true; },
      [](Character& c) { c.controls.dash = true; },
      [](Character& c) { c.held_horizontal = 1; },
      [](Character& c) { c.held_vertical = 1; },
      [](Character& c) { c.ground.reason = GroundReason::ground; },
      [](Character& c) { c.ground.surface = 1; },
      [](Character& c) { c.ground.normal.y = 1; },
      [](Character& c) { c.ground.gap = 1; },
      [](Character& c) { c.facing = -1; },
      [](Character& c) { c.rising = true; },
      [](Character& c) { c.gliding = true; },
      [](Character& c) { c.on_wall = true; },
      [](Character& c) { c.cut_armed = true; },
      [](Character& c) { c.cut_heavy = true; },
      [](Character& c) { c.hang_armed = true; },
      [](Character& c) { c.fast_falling = true; },
      [](Character& c) { c.glide_armed = true; },
      [](Character& c) { c.launch_tick = 1; },
      [](Character& c) { c.coyote_left = 1; },
      [](Character& c) { c.buffer_left = 1; },
      [](Character& c) { c.sustain_left = 1; },
      [](Character& c) { c.charge_held = 1; },
      [](Character& c) { c.air_jumps_used = 1; },
      [](Character& c) { c.ground_lost_tick = 1; },
      [](Character& c) { c.ground_lost_by = LeaveReason::jumped; },
      [](Character& c) { c.wall = 1; },
      [](Character& c) { c.wall_surface = 1; },
      [](Character& c) { c.wall_lost = 1; },
      [](Character& c) { c.wall_released = true; },
      [](Character& c) { c.wall_spent = 1; },
      [](Character& c) { c.platform_rise = 1; },
      [](Character& c) { c.wall_gave.x = 1; },
      [](Character& c) { c.cling_side = 1; },
      [](Character& c) { c.cling_left = 1; },
      [](Character& c) { c.wall_coyote_left = 1; },
      [](Character& c) { c.wall_buffer_left = 1; },
      [](Character& c) { c.wall_lost_tick = 1; },
      [](Character& c) { c.steer_lock_left = 1; },
      [](Character& c) { c.steer_fade_left = 1; },
      [](Character& c) { c.steer_fade_ticks = 1; },
      [](Character& c) { c.dash_left = 1; },
      [](Character& c) { c.dash_way.x = 1; },
      [](Character& c) { c.dashes_used = 1; },
      [](Character& c) { c.dash_cooldown_left = 1; },
      [](Character& c) { c.dash_buffer_left = 1; },
      [](Character& c) { c.status[0].left = 1; },
      [](Character& c) { c.status[3].reason = 1; },
      [](Character& c) { c.status[1].share = 0.5; },
      [](Character& c) { c.status_seen = 1; },
      [](Character& c) { c.modes_seen = 1; },
      [](Character& c) { c.pushed = true; },
      [](Character& c) { c.dash_broken = true; },
      [](Character& c) { c.charge_broken = true; },
      [](Character& c) { c.touching = 1; },
  };
  for (std::size_t i = 0; i < changes.size(); ++i) {
    Character changed;
    changes[i](changed);
    EXPECT_FALSE(changed == Character{}) << "change " << i;
    Character same;
    changes[i](same);
    EXPECT_TRUE(changed == same) << "change " << i;
  }
}

TEST(Ties, TheLowerSurfaceCountsWhateverTheIndexDoes) {
  // Boxes that end on one line, in any order, among others: short and long casts.
  std::mt19937_64 random(11);
  for (int round = 0; round < 200; ++round) {
    std::vector<Box> boxes;
    for (int i = 0; i < 40; ++i) {
      const double left = static_cast<double>(random() % 20) - 10;
      boxes.push_back({{left, -1 - static_cast<double>(random() % 3)}, {left + 2, 0}});
    }
    const LevelWorld world(boxes);
    const Box shape{{-0.4, 0}, {0.4, 1}};
    for (const double drop : {0.5, 50.0}) {
      const double x = static_cast<double>(random() % 2000) / 100 - 10;
      const Sweep sweep{shape, {x, drop / 2}, {0, -drop}, {0, 1}, 0};
      SurfaceId lowest = kNoSurface;
      for (SurfaceId id = 0; id < boxes.size() && lowest == kNoSurface; ++id) {
        if (boxes[id].lo.x < x + 0.4 && x - 0.4 < boxes[id].hi.x) lowest = id;
      }
      EXPECT_EQ(cast(world, sweep).surface, lowest) << "round " << round << ", drop " << drop;
    }
  }
}

// ---- found by an account of the speeds ----------------------------------------------------------

TEST(Conveyor, ASpeedThatCameDownToTopSpeedIsThereHoweverItIsRounded) {
  int awkward = 0;
  for (int i = 1; i <= 400; ++i) {
    SurfaceTraits sap;
    sap.conveyor = 0.7301 * i / 100;
    const Level level{"", {0, 0}, {{"", {{-1e4, -1}, {1e4, 0}}, sap}}};
    const LevelWorld world(level, kNothingTravels);
    Tuning tuning = pip();
    tuning.run.top_speed = 3.1 + 0.0137 * i;
    tuning.run.ground.overspeed_brake = 38;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    // Over the surface it runs at top speed to the rounding of the sum, and lets go.
    const double speed = rules.top_speed + sap.conveyor;
    awkward += speed - sap.conveyor > rules.top_speed ? 1 : 0;
    run.character.velocity.x = speed;
    run.advance(kNothing);
    EXPECT_NEAR(run.character.velocity.x, speed - 80.0 / 60, 1e-9) << "it brakes at once";
    EXPECT_NEAR(run.character.feet.x, speed / 60 - 80.0 / 7200, 1e-9) << "and no time is lost";
  }
  EXPECT_GT(awkward, 10) << "sums that are rounded up";
}

}  // namespace
}  // namespace bushbaby
