// The drive's styles, surfaces, the ways to fall, dashes and pushes.
#include <cmath>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/motion/pose.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

using test::kDown;
constexpr Controls kDash{0, 0, false, true};
constexpr Controls kRightDash{127, 0, false, true};

// ---- run ----------------------------------------------------------------------------------------

TEST(Drive, TimesInThePlaceOfRates) {
  Tuning tuning = pip();
  tuning.run.ground.reach_time = {Duration{0.5}};
  tuning.run.ground.stop_time = {Duration{0.25}};
  tuning.run.ground.turn_time = {Duration{0.125}};
  const Rules rules = rules_of(tuning);
  EXPECT_DOUBLE_EQ(rules.ground.rates.accelerate, 14);
  EXPECT_DOUBLE_EQ(rules.ground.rates.brake, 28);
  EXPECT_DOUBLE_EQ(rules.ground.rates.turn, 56);
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  run.advance(kRight, 30);
  EXPECT_NEAR(run.character.velocity.x, 7, 1e-12);
  run.advance(kNothing, 15);
  EXPECT_NEAR(run.character.velocity.x, 0, 1e-12);
}

TEST(Drive, DampedTakesAShareOfTheDifference) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.run.ground.style = DriveStyle::damped;
    tuning.run.ground.accelerate_lag = Duration{0.1};
    tuning.run.ground.brake_lag = Duration{0.05};
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    const int ticks = static_cast<int>(loop.tick_rate / 10);
    run.advance(kRight, ticks);
    const double time = ticks / loop.tick_rate;
    EXPECT_NEAR(run.character.velocity.x, 7 * (1 - std::exp(-time / 0.1)), 1e-12) << text_of(loop);
    const double speed = run.character.velocity.x;
    run.advance(kNothing, ticks);
    EXPECT_NEAR(run.character.velocity.x, speed * std::exp(-time / 0.05), 1e-12) << text_of(loop);
  }
}

TEST(Drive, InstantIsThereAtOnce) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.run.ground.style = tuning.run.air.style = DriveStyle::instant;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kRight);
    EXPECT_EQ(run.character.velocity.x, 7);
    EXPECT_NEAR(run.character.feet.x, 7.0 / 60, 1e-12) << text_of(loop);
    run.advance({-127, 0, true, false});
    EXPECT_EQ(run.character.velocity.x, -7);
    run.advance(kNothing);
    EXPECT_EQ(run.character.velocity.x, 0);
  }
}

TEST(Drive, OverSpeedDecaysByItsOwnRateAndIsNotClipped) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    for (const DriveStyle style : {DriveStyle::rate, DriveStyle::damped, DriveStyle::instant}) {
      Tuning tuning = with_loop(pip(), loop);
      tuning.run.ground.style = style;
      tuning.run.ground.overspeed_brake = 12;  // 0.2 u/s a tick
      const Rules rules = rules_of(tuning);
      Mover run(rules, world, {0, 0});
      run.character.velocity.x = 9;
      run.advance(kRight, 5);
      EXPECT_NEAR(run.character.velocity.x, 8, 1e-12) << text_of(loop);
      run.advance(kRight, 10);
      EXPECT_EQ(run.character.velocity.x, 7) << text_of(loop);
    }
  }
}

TEST(Drive, FacingFollowsWhatTheTuningSays) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Tuning tuning = pip();
  tuning.run.facing = FacingRule::speed;
  const Rules by_speed = rules_of(tuning);
  const Rules by_hand = rules_of(pip());
  Mover a(by_speed, world, {0, 0});
  Mover b(by_hand, world, {0, 0});
  for (Mover* run : {&a, &b}) run->advance(kRight, 10);
  for (Mover* run : {&a, &b}) run->advance(kLeft, 1);
  EXPECT_EQ(a.character.facing, 1) << "it still moves to the right";
  EXPECT_EQ(b.character.facing, -1);
  for (Mover* run : {&a, &b}) run->advance(kLeft, 10);
  EXPECT_EQ(a.character.facing, -1);
}

TEST(Drive, AutoRunHoldsADirectionWhileNoneIsHeld) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Tuning tuning = pip();
  tuning.run.auto_run = AutoRun::right;
  const Rules rules = rules_of(tuning);
  Mover run(rules, world, {0, 0});
  run.advance(kNothing, 30);
  EXPECT_EQ(run.character.velocity.x, 7);
  run.advance(kLeft, 30);
  EXPECT_EQ(run.character.velocity.x, -7);
  tuning.run.auto_run = AutoRun::facing;
  const Rules facing = rules_of(tuning);
  Mover other(facing, world, {0, 0});
  other.advance(kLeft);
  other.advance(kNothing, 30);
  EXPECT_EQ(other.character.velocity.x, -7);
}

// ---- surfaces -----------------------------------------------------------------------------------

Level floor_like(const SurfaceTraits& traits) {
  Level level = flat_floor();
  level.solids[0].traits = traits;
  return level;
}

TEST(Surface, GripScalesTheRates) {
  SurfaceTraits ice;
  ice.grip = 0.25;
  const LevelWorld world(floor_like(ice), kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover run(rules, world, {0, 0});
  run.advance(kRight, 8);
  EXPECT_NEAR(run.character.velocity.x, 2, 1e-12) << "8 ticks at a quarter of 1 u/s a tick";
}

TEST(Surface, AConveyorCarriesWhatStandsOnIt) {
  SurfaceTraits conveyor;
  conveyor.conveyor = -3;
  const LevelWorld world(floor_like(conveyor), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    for (const DriveStyle style : {DriveStyle::rate, DriveStyle::damped, DriveStyle::instant}) {
      Tuning tuning = with_loop(pip(), loop);
      tuning.run.ground.style = style;
      tuning.run.ground.brake_lag = tuning.run.ground.accelerate_lag = Duration{0.01};
      const Rules rules = rules_of(tuning);
      Mover run(rules, world, {0, 0});
      run.advance(kNothing, 120);
      EXPECT_NEAR(run.character.velocity.x, -3, 1e-9) << text_of(loop);
      run.advance(kRight, 120);
      EXPECT_NEAR(run.character.velocity.x, 4, 1e-9) << text_of(loop);
      run.advance(kRightJump);
      EXPECT_GT(run.character.velocity.x, 3.9) << "a jump keeps the speed";
    }
  }
}

TEST(Surface, BouncesGiveBackAShareOrASpeed) {
  for (const JumpLoop& loop : all_loops({60, 144})) {
    SurfaceTraits springy;
    springy.bounce = 0.5;
    const LevelWorld world(floor_like(springy), kNothingTravels);
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {0, 3});
    run.advance(kNothing, 400);
    const auto bounces = run.all(EventKind::bounced);
    ASSERT_GE(bounces.size(), 3U);
    if (loop.integrator == Integrator::exact) {
      EXPECT_NEAR(bounces[0].value, std::sqrt(2 * rules.fall_gravity * 3) / 2, 0.01);
    }
    for (std::size_t i = 1; i < bounces.size(); ++i) {
      EXPECT_LT(bounces[i].value, bounces[i - 1].value);
    }
    EXPECT_TRUE(run.character.grounded()) << "it comes to rest: " << text_of(loop);
    EXPECT_EQ(run.all(EventKind::landed).size(), 1U);
  }
  SurfaceTraits spring;
  spring.bounce_speed = 12;
  const LevelWorld world(floor_like(spring), kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover run(rules, world, {0, 0.5});
  run.advance(kNothing, 300);
  for (const Event& event : run.all(EventKind::bounced)) EXPECT_EQ(event.value, 12);
  EXPECT_GE(run.all(EventKind::bounced).size(), 4U);
}

TEST(Surface, OneThatMayNotBeStoodOnBlocksAndIsNoGround) {
  SurfaceTraits thorns;
  thorns.ground = false;
  const LevelWorld world(floor_like(thorns), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {0, 1});
    run.advance(kNothing, 60);
    EXPECT_FALSE(run.character.grounded());
    EXPECT_EQ(run.character.ground.reason, GroundReason::refused) << text_of(loop);
    EXPECT_GT(run.character.feet.y, 0);
    EXPECT_EQ(run.character.velocity.y, 0) << "no speed builds up";
    run.advance(kJump, 3);
    EXPECT_TRUE(run.all(EventKind::jumped).empty());
    EXPECT_TRUE(run.all(EventKind::landed).empty());
  }
}

TEST(Surface, ATouchWorksOncePerEntry) {
  SurfaceTraits hive;
  hive.has_touch = true;
  hive.touch.pushes = true;
  hive.touch.push = {{-6, 5}, PushFrame::world, false, 0.2};
  hive.touch.slow = 0.5;
  hive.touch.slow_share = 0.5;
  Level level = flat_floor();
  level.solids.push_back({"hive", {{3, 0}, {4, 3}}, hive});
  const LevelWorld world(level, kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover run(rules, world, {1, 0});
  while (run.all(EventKind::pushed).empty()) run.advance(kRight);
  ASSERT_EQ(run.all(EventKind::left_ground).size(), 1U);
  EXPECT_EQ(detail_of(run.all(EventKind::left_ground)[0]), "pushed");
  EXPECT_NEAR(run.character.velocity.x, -6, 1e-12) << "nothing drives it during the lock";
  run.advance(kRight, 11);
  EXPECT_NEAR(run.character.velocity.x, -6, 1e-12) << "0.2 s are 12 ticks";
  run.advance(kRight);
  EXPECT_GT(run.character.velocity.x, -6);
  EXPECT_EQ(run.all(EventKind::pushed).size(), 1U);
  while (run.all(EventKind::pushed).size() < 2) run.advance(kRight);
  SUCCEED() << "a second entry, a second push";
  // Pinned against it, it is pushed once.
  hive.touch.push = {{0, 0}, PushFrame::world, true, 0};
  level.solids.back().traits = hive;
  const LevelWorld still(level, kNothingTravels);
  Mover pinned(rules, still, {1, 0});
  pinned.advance(kRight, 120);
  EXPECT_EQ(pinned.all(EventKind::pushed).size(), 1U);
}

TEST(Surface, ATouchWorksOnWhoeverWalksOnToItFromANeighbour) {
  SurfaceTraits resin;
  resin.has_touch = true;
  resin.touch.no_cling = 0.5;
  resin.touch.slow_fall = 0.25;
  resin.touch.slow_fall_share = 0.5;
  const Level level{"", {0, 0}, {{"", {{-9, -1}, {2, 0}}}, {"", {{2, -1}, {4, 0}}, resin}}};
  const LevelWorld world(level, kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(pip(), loop));
    Mover run(rules, world, {0, 0});
    run.advance(kRight, 60);
    EXPECT_EQ(run.all(EventKind::locked).size(), 2U) << "once: " << text_of(loop);
    EXPECT_EQ(run.all(EventKind::unlocked).size(), 2U);
    EXPECT_EQ(run.all(EventKind::locked)[0].surface, 1U);
    // Whoever is put down on it has not come to it.
    Mover stands(rules, world, {3, 0});
    stands.advance(kNothing, 10);
    EXPECT_TRUE(stands.all(EventKind::locked).empty());
  }
}

// ---- fall ---------------------------------------------------------------------------------------

TEST(FastFall, SetsItsSpeedAndIsNotClippedByTerminalSpeed) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.fall.fast.speed = 40;
    tuning.fall.overspeed_brake = 30;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 60});
    run.advance(kNothing, 5);
    run.advance(kDown, 30);
    EXPECT_EQ(run.character.velocity.y, -40) << text_of(loop);
    EXPECT_EQ(run.all(EventKind::fast_fell).size(), 1U);
    while (!run.character.grounded()) run.advance(kNothing);
    EXPECT_FALSE(run.character.fast_falling);
    EXPECT_GE(run.all(EventKind::landed)[0].value, 40 - 1e-9);
  }
}

TEST(FastFall, AFactorWorksOnGravityAndTerminalSpeed) {
  Tuning tuning = pip();
  tuning.fall.fast.factor = 2;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 100});
  run.advance(kDown, 6);
  EXPECT_NEAR(run.character.velocity.y, -2 * rules.fall_gravity * 6 / 60, 1e-9);
  run.advance(kNothing, 60);
  EXPECT_EQ(run.character.velocity.y, -48);
}

TEST(FastFall, OnThePressAndOnlyWhileFallingByChoice) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const bool only_falling : {true, false}) {
    Tuning tuning = pip();
    tuning.fall.fast.speed = 15;
    tuning.fall.fast.only_falling = only_falling;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kJump, 5);
    Controls both = kJump;
    both.y = -127;
    run.advance(both);
    EXPECT_EQ(run.all(EventKind::fast_fell).size(), only_falling ? 0U : 1U);
    EXPECT_EQ(run.character.velocity.y < 0, !only_falling);
    run.advance(both, 120);
    EXPECT_EQ(run.all(EventKind::fast_fell).size(), only_falling ? 0U : 1U)
        << "holding is no press";
  }
}

TEST(Fall, ATooFastFallDecaysByItsOwnRate) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.fall.overspeed_brake = 60;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 200});
    run.character.velocity.y = -30;
    run.advance(kNothing, 4);
    EXPECT_NEAR(run.character.velocity.y, -26, 1e-12) << text_of(loop);
    run.advance(kNothing, 4);
    EXPECT_EQ(run.character.velocity.y, -24) << text_of(loop);
  }
}

TEST(Glide, APressThatGivesNoJumpGlidesWhileHeld) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({60})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.fall.glide.speed = 3;
    tuning.fall.glide.brake = 120;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 60});
    run.advance(kNothing, 20);
    EXPECT_LT(run.character.velocity.y, -20);
    run.advance(kJump, 30);
    EXPECT_EQ(run.character.velocity.y, -3) << text_of(loop);
    EXPECT_EQ(run.character.stance(), Stance::gliding);
    run.advance(kNothing, 10);
    EXPECT_LT(run.character.velocity.y, -10);
    EXPECT_EQ(run.character.stance(), Stance::falling);
    // Still held from the jump itself, the button does not glide.
    Mover jumper(rules, world, {0, 0});
    jumper.advance(kJump, 30);
    EXPECT_LT(jumper.character.velocity.y, -3);
  }
}

// ---- dash ---------------------------------------------------------------------------------------

Tuning dasher() {
  Tuning tuning = pip();
  tuning.dash.charges = 1;
  tuning.dash.distance = 3;
  tuning.dash.time = {Duration{0.13}};
  tuning.dash.keep = 0.5;
  return tuning;
}

TEST(Dash, CoversItsDistanceAtEveryTickRateInEveryLoop) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({24, 30, 50, 60, 144, 240, 1000})) {
    const Rules rules = rules_of(with_loop(dasher(), loop));
    for (const double height : {0.0, 30.0}) {
      Mover run(rules, world, {0, height});
      run.advance(kRightDash);
      ASSERT_EQ(run.all(EventKind::dash_started).size(), 1U);
      while (run.all(EventKind::dash_ended).empty()) run.advance(kRightDash);
      EXPECT_NEAR(run.character.feet.x, 3, 1e-9) << text_of(loop);
      EXPECT_NEAR(run.character.feet.y, height, 0.001) << "no gravity during it";
      EXPECT_NEAR(run.character.velocity.x, rules.dash_speed / 2, 1e-12) << text_of(loop);
    }
  }
}

TEST(Dash, AtItsLimits) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const auto length = [&](double distance, double time) {
    Tuning tuning = dasher();
    tuning.dash.distance = distance;
    tuning.dash.time = {Duration{time}};
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kRightDash);
    while (run.all(EventKind::dash_ended).empty()) run.advance(kNothing);
    return run.character.feet.x;
  };
  EXPECT_NEAR(length(3, 1e-6), 3, 1e-9) << "one tick at least";
  EXPECT_NEAR(length(1e-6, 0.1), 1e-6, 1e-12);
  EXPECT_NEAR(length(5000, 0.1), 5000, 1e-6);
  Tuning off = dasher();
  off.dash.charges = 0;
  const Rules rules = rules_of(off);
  Mover run(rules, world, {0, 0});
  run.advance(kRightDash, 10);
  EXPECT_TRUE(run.all(EventKind::dash_started).empty());
}

TEST(Dash, TwoOfDistanceTimeAndSpeed) {
  Tuning tuning = dasher();
  tuning.dash.time.reset();
  tuning.dash.speed = 20;
  Rules rules = rules_of(tuning);
  EXPECT_EQ(rules.dash_ticks, 9) << "3 u at 20 u/s are 9 ticks";
  EXPECT_NEAR(rules.dash_speed, 20, 1e-12);
  tuning.dash.distance.reset();
  tuning.dash.time = {Duration{0.13}};
  rules = rules_of(tuning);
  EXPECT_EQ(rules.dash_ticks, 8);
  EXPECT_EQ(rules.dash_speed, 20);
  tuning.dash.speed.reset();
  const Compiled compiled = compile(tuning);
  ASSERT_FALSE(compiled.ok());
  EXPECT_EQ(compiled.violations[0].key, "dash");
  EXPECT_EQ(describe(compiled.violations[0].found), "dash.time alone");
}

TEST(Dash, DirectionPolicies) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const double diagonal = 1 / std::sqrt(2.0);
  struct Case {
    DashDirection direction;
    int x;
    int y;
    Vec way;
  };
  const Case cases[] = {{DashDirection::facing, -127, 0, {-1, 0}},
                        {DashDirection::facing, 0, 127, {1, 0}},
                        {DashDirection::sideways, 1, 127, {1, 0}},
                        {DashDirection::sideways, 0, -127, {1, 0}},
                        {DashDirection::eight, 127, 127, {diagonal, diagonal}},
                        {DashDirection::eight, 127, 50, {1, 0}},
                        {DashDirection::eight, 127, 55, {diagonal, diagonal}},
                        {DashDirection::eight, 0, 127, {0, 1}},
                        {DashDirection::eight, -20, -127, {0, -1}},
                        {DashDirection::eight, 0, 0, {1, 0}},
                        {DashDirection::free, 60, 80, {0.6, 0.8}},
                        {DashDirection::free, 0, 0, {1, 0}}};
  for (const Case& c : cases) {
    Tuning tuning = dasher();
    tuning.dash.direction = c.direction;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 30});
    run.advance({static_cast<std::int8_t>(c.x), static_cast<std::int8_t>(c.y), false, true});
    EXPECT_NEAR(run.character.dash_way.x, c.way.x, 1e-12) << c.x << ' ' << c.y;
    EXPECT_NEAR(run.character.dash_way.y, c.way.y, 1e-12) << c.x << ' ' << c.y;
  }
}

TEST(Dash, ChargesCooldownAndRestore) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const int charges : {1, 2, 3}) {
    for (const int cooldown : {0, 1, 5}) {
      Tuning tuning = dasher();
      tuning.dash.charges = charges;
      tuning.dash.time = {Duration{3, Duration::Unit::ticks}};
      tuning.dash.cooldown = {static_cast<double>(cooldown), Duration::Unit::ticks};
      const Rules rules = rules_of(tuning);
      Mover run(rules, world, {0, 100});
      for (int i = 0; i < 60; ++i) run.advance(i % 2 == 0 ? kDash : kNothing);
      const auto starts = run.all(EventKind::dash_started);
      EXPECT_EQ(starts.size(), static_cast<std::size_t>(charges)) << "no restore in the air";
      for (std::size_t i = 1; i < starts.size(); ++i) {
        // Three ticks of dash and the cooldown, at the next press of an even tick.
        const int next = (3 + cooldown + 1) / 2 * 2;
        EXPECT_EQ(starts[i].tick - starts[i - 1].tick, next) << cooldown;
      }
      while (!run.character.grounded()) run.advance(kNothing);
      EXPECT_EQ(run.character.dashes_used, 0);
    }
  }
}

TEST(Dash, HoldingNeverRepeatsItAndABufferRemembersAPress) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Tuning tuning = dasher();
  tuning.dash.cooldown = {10, Duration::Unit::ticks};
  const Rules plain = rules_of(tuning);
  Mover run(plain, world, {0, 0});
  run.advance(kDash, 200);
  EXPECT_EQ(run.all(EventKind::dash_started).size(), 1U);
  tuning.dash.buffer = {6, Duration::Unit::ticks};
  const Rules buffered = rules_of(tuning);
  for (int early = 1; early <= 8; ++early) {
    Mover other(buffered, world, {0, 0});
    other.advance(kDash);
    while (other.all(EventKind::dash_ended).empty()) other.advance(kNothing);
    other.advance(kNothing, 10 - early);
    other.advance(kDash);
    other.advance(kNothing, early);
    EXPECT_EQ(other.all(EventKind::dash_started).size(), early <= 6 ? 2U : 1U) << early;
  }
}

TEST(Dash, EndsAtAWall) {
  const LevelWorld world = world_of({{{-9, -1}, {9, 0}}, {{2, 0}, {3, 9}}});
  for (const JumpLoop& loop : all_loops({60})) {
    const Rules rules = rules_of(with_loop(dasher(), loop));
    Mover run(rules, world, {0, 0});
    run.advance(kRightDash);
    while (run.all(EventKind::dash_ended).empty()) run.advance(kRight);
    EXPECT_EQ(detail_of(run.all(EventKind::dash_ended)[0]), "blocked") << text_of(loop);
    EXPECT_EQ(run.character.velocity.x, 0);
    EXPECT_LT(run.character.feet.x, 1.6);
    EXPECT_TRUE(run.character.grounded());
  }
}

// ---- push ---------------------------------------------------------------------------------------

TEST(Push, FramesShareAddingAndLock) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  Tuning tuning = pip();
  tuning.push.lock = {7, Duration::Unit::ticks};
  tuning.push.share = 0.5;
  const Rules rules = rules_of(tuning);
  Mover run(rules, world, {0, 20});
  const auto pushed = [&](const Push& p, Vec source) {
    Character character = run.character;
    character.velocity = {1, 2};
    push(character, p, source, rules);
    return character.velocity;
  };
  EXPECT_EQ(pushed({{8, 6}}, {5, 0}), (Vec{4, 3}));
  EXPECT_EQ(pushed({{8, 6}, PushFrame::world, true}, {5, 0}), (Vec{5, 5}));
  EXPECT_EQ(pushed({{8, 6}, PushFrame::source}, {5, 20}), (Vec{-4, 3}));
  EXPECT_EQ(pushed({{8, 6}, PushFrame::source}, {-5, 20}), (Vec{4, 3}));
  run.character.facing = -1;
  EXPECT_EQ(pushed({{8, 6}, PushFrame::facing}, {}), (Vec{-4, 3}));
  EXPECT_EQ(pushed({{8, 6}, PushFrame::source}, {0, 99}), (Vec{4, 3})) << "backwards";

  push(run.character, {{8, 0}}, {}, rules);
  run.advance(kLeft, 7);
  EXPECT_EQ(run.character.velocity.x, 4) << "seven ticks without control";
  run.advance(kLeft);
  EXPECT_LT(run.character.velocity.x, 4);
  ASSERT_EQ(run.all(EventKind::pushed).size(), 1U);
  EXPECT_EQ(run.all(EventKind::pushed)[0].value, 4);
  EXPECT_EQ(run.all(EventKind::locked).size(), 1U);
  EXPECT_EQ(run.all(EventKind::unlocked).size(), 1U);
}

TEST(Status, SlowIsAPartOfTopSpeedAndStunStopsEverything) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(dasher());
  Mover run(rules, world, {0, 0});
  set_status(run.character, StatusKind::slow, {60, 0, 0.5});
  run.advance(kRight, 60);
  EXPECT_EQ(run.character.velocity.x, 3.5);
  run.advance(kRight, 30);
  EXPECT_EQ(run.character.velocity.x, 7);
  set_status(run.character, StatusKind::stun, {30});
  run.advance({127, -127, true, true}, 30);
  EXPECT_EQ(run.character.velocity.x, 0) << "the run brakes";
  EXPECT_TRUE(run.all(EventKind::jumped).empty());
  EXPECT_TRUE(run.all(EventKind::dash_started).empty());
}

// ---- between ticks ------------------------------------------------------------------------------

// What stands is drawn on what it stands on, level or sloped; what is in the air where it is.
TEST(Pose, FeetAreShownOnTheGround) {
  for (const double rise : {0.0, 0.6, -0.6}) {
    SCOPED_TRACE(rise);
    Level level;
    Solid ramp;
    ramp.corners = {{-20, -30}, {20, -30}, {20, 20 * rise}, {-20, -20 * rise}};
    level.solids.push_back(ramp);
    const LevelWorld world(level, kNothingTravels);
    const Rules rules = rules_of(pip());
    Mover run(rules, world, {0, 20 * std::abs(rise)});
    for (int i = 0; i < 120; ++i) run.advance({});
    ASSERT_TRUE(run.character.grounded());
    const Vec feet = visible_feet(run.character);
    // The corner that touches lies on the slope.
    const double corner = rise > 0 ? rules.body.box.hi.x : rise < 0 ? rules.body.box.lo.x : 0;
    EXPECT_EQ(feet.x, run.character.feet.x);
    EXPECT_LT(feet.y, run.character.feet.y);
    EXPECT_NEAR(feet.y, rise * (feet.x + corner), 1e-9);
    run.advance(kRightJump);
    EXPECT_EQ(visible_feet(run.character), run.character.feet);
  }
}

TEST(Pose, GoesInAStraightLineFromTickToTick) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(pip());
  Mover run(rules, world, {0, 0});
  const Character before = run.character;
  run.advance(kRightJump);
  const Character& after = run.character;
  EXPECT_EQ(pose_between(before, after, 0).feet, visible_feet(before));
  EXPECT_EQ(pose_between(before, after, 0).stance, Stance::standing);
  EXPECT_EQ(pose_between(before, after, 1).feet, after.feet);
  EXPECT_EQ(pose_between(before, after, 7).velocity, after.velocity);
  EXPECT_EQ(pose_between(before, after, -7).feet, visible_feet(before));
  const Pose half = pose_between(before, after, 0.5);
  EXPECT_NEAR(half.feet.y, after.feet.y / 2, 1e-15);
  EXPECT_EQ(half.stance, Stance::rising);
}

}  // namespace
}  // namespace bushbaby
