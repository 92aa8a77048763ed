// What wins when two mechanisms want the same tick, and the mistakes that movement code is known
// for. The table in docs/model.md, "Who wins", lists the first part row by row.
#include <cmath>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/motion/why.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

constexpr Controls kRightDash{127, 0, false, true};

// Everything switched on.
Tuning everything() {
  Tuning tuning = pip();
  tuning.jump.coyote = {6, Duration::Unit::ticks};
  tuning.jump.buffer = {6, Duration::Unit::ticks};
  tuning.jump.air_jumps.count = 1;
  tuning.jump.air_jumps.height = 2;
  tuning.fall.fast.speed = 30;
  tuning.fall.glide.speed = 3;
  tuning.wall.slide_speed = 2.5;
  tuning.wall.cling = {5, Duration::Unit::ticks};
  tuning.wall.coyote = {4, Duration::Unit::ticks};
  tuning.wall.exits = {{"jump", WallPlace::anywhere, {}, 8, 10, {9, Duration::Unit::ticks}}};
  tuning.dash.charges = 1;
  tuning.dash.distance = 3;
  tuning.dash.time = {Duration{10, Duration::Unit::ticks}};
  return tuning;
}

std::vector<Box> walled() { return {{{-50, -1}, {50, 0}}, {{5, -1}, {6, 60}}}; }

std::vector<std::string> jumps_of(const Mover& run) {
  std::vector<std::string> kinds;
  for (const Event& event : run.all(EventKind::jumped)) kinds.emplace_back(detail_of(event));
  return kinds;
}
using Kinds = std::vector<std::string>;

// ---- who wins -----------------------------------------------------------------------------------

TEST(WhoWins, CoyoteBeforeAirJump) {
  const Rules rules = rules_of(everything());
  const LevelWorld ledge = world_of({{{-9, -1}, {0, 0}}});
  Mover run(rules, ledge, {-1, 0});
  while (run.character.grounded()) run.advance(kRight);
  run.advance(kRight, 2);
  run.advance(kRightJump);
  run.advance(kRight, 5);
  run.advance(kRightJump);
  run.advance(kRight);
  run.advance(kRightJump);
  EXPECT_EQ(jumps_of(run), (Kinds{"ground", "air"}));
  EXPECT_EQ(run.all(EventKind::coyote_used).size(), 1U);
}

TEST(WhoWins, WallBeforeAirJump) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(walled());
  Mover run(rules, world, {4.55, 20});
  run.advance(kRight, 4);
  run.advance(kRightJump);
  run.advance(kRight, 3);
  run.advance(kRightJump);
  EXPECT_EQ(jumps_of(run), (Kinds{"wall", "air"}));
}

TEST(WhoWins, GroundBeforeWall) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(walled());
  Mover run(rules, world, {4, 0});
  run.advance(kRight, 30);
  ASSERT_EQ(run.character.wall, 1);
  run.advance(kRightJump);
  EXPECT_EQ(jumps_of(run), (Kinds{"ground"}));
}

TEST(WhoWins, ABufferedPressWaitsForGroundOrWallWhicheverComesFirst) {
  Tuning tuning = everything();
  tuning.jump.air_jumps.count = 0;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(walled());
  Mover to_wall(rules, world, {4.45, 30});
  to_wall.advance(kRightJump);
  while (to_wall.character.wall == 0) to_wall.advance(kRight);
  to_wall.advance(kRight);
  EXPECT_EQ(jumps_of(to_wall), (Kinds{"wall"}));
  EXPECT_EQ(to_wall.all(EventKind::buffer_used).size(), 1U);
  Mover to_ground(rules, world, {0, 0.05});
  to_ground.advance(kJump);
  to_ground.advance(kNothing, 4);
  EXPECT_EQ(jumps_of(to_ground), (Kinds{"ground"}));
}

TEST(WhoWins, ADashOverAWallClingUntilItIsBlocked) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(walled());
  Mover run(rules, world, {3.6, 20});
  run.advance(kRightDash);
  while (run.character.wall == 0) {
    EXPECT_EQ(run.character.stance(), Stance::dashing);
    run.advance(kRight);
  }
  EXPECT_EQ(detail_of(run.all(EventKind::dash_ended).at(0)), "blocked");
  const double y = run.character.feet.y;
  run.advance(kRight, 5);
  EXPECT_EQ(run.character.feet.y, y) << "then it clings";
  run.advance(kRight);
  EXPECT_LT(run.character.feet.y, y);
}

TEST(WhoWins, ADashStartedAtAWallLeavesIt) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(walled());
  Mover run(rules, world, {4.55, 20});
  run.advance(kRight, 4);
  run.advance({-127, 0, false, true});
  EXPECT_LT(run.character.velocity.x, 0);
  EXPECT_EQ(run.character.stance(), Stance::dashing);
}

TEST(WhoWins, AJumpEndsADashIfTheTuningLetsIt) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const bool lets : {true, false}) {
    Tuning tuning = everything();
    tuning.dash.jump_out = lets;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kRightDash, 4);
    run.advance(kRightJump);
    EXPECT_EQ(jumps_of(run), lets ? Kinds{"ground"} : Kinds{});
    if (lets) {
      EXPECT_EQ(detail_of(run.all(EventKind::dash_ended).at(0)), "jumped");
      EXPECT_GT(run.character.velocity.x, 17) << "the dash's speed is taken along";
    } else {
      run.advance(kRightJump, 9);
      EXPECT_EQ(jumps_of(run), (Kinds{"ground"})) << "the press was remembered";
    }
  }
}

TEST(WhoWins, JumpAndDashOnOneTickJumpFirstAndDashNext) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  run.advance({127, 0, true, true});
  EXPECT_EQ(jumps_of(run), (Kinds{"ground"}));
  EXPECT_TRUE(run.all(EventKind::dash_started).empty());
  run.advance({127, 0, true, true});
  EXPECT_EQ(run.all(EventKind::dash_started).size(), 1U);
  EXPECT_EQ(run.character.velocity.y, 0) << "the dash has the speed now";
}

TEST(WhoWins, APushEndsAWallJumpsLockAndADash) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(walled());
  Mover run(rules, world, {4.55, 20});
  run.advance(kRight, 4);
  run.advance(kRightJump, 3);
  ASSERT_GT(run.character.steer_lock_left, 0);
  push(run.character, {{3, 4}, PushFrame::world, false, 0.05}, {}, rules);
  run.advance(kRight, 3);
  EXPECT_EQ(run.character.velocity.x, 3) << "the push's own lock, 3 ticks";
  run.advance(kRight);
  EXPECT_GT(run.character.velocity.x, 3) << "the wall jump's lock is gone";

  Mover dasher(rules, world, {-20, 20});
  dasher.advance(kRightDash, 3);
  push(dasher.character, {{-4, 2}}, {}, rules);
  dasher.advance(kRight);
  EXPECT_EQ(detail_of(dasher.all(EventKind::dash_ended).at(0)), "pushed");
  EXPECT_LT(dasher.character.velocity.x, 0);
}

TEST(WhoWins, AStunEmptiesACharge) {
  Tuning tuning = pip();
  tuning.jump.charge.time = Duration{0.5};
  tuning.jump.charge.height = 5;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  run.advance(kJump, 20);
  set_status(run.character, StatusKind::stun, {3});
  run.advance(kJump, 3);
  EXPECT_EQ(run.all(EventKind::charge_lost).size(), 1U);
  run.advance(kJump, 5);
  run.advance(kNothing, 5);
  EXPECT_TRUE(jumps_of(run).empty()) << "the button was never pressed again";
}

TEST(WhoWins, ABounceDisarmsTheCut) {
  Level level = flat_floor();
  level.solids[0].traits.bounce_speed = 15;
  const LevelWorld world(level, kNothingTravels);
  const Rules rules = rules_of(everything());
  Mover run(rules, world, {0, 1});
  while (run.all(EventKind::bounced).empty()) run.advance(kJump);
  const double speed = run.character.velocity.y;
  run.advance(kNothing);
  EXPECT_TRUE(run.all(EventKind::cut).empty());
  EXPECT_NEAR(run.character.velocity.y, speed - rules.rise_gravity / 60, 1e-9);
}

TEST(WhoWins, ABounceEndsADash) {
  Level level = flat_floor();
  level.solids[0].traits.bounce_speed = 15;
  const LevelWorld world(level, kNothingTravels);
  Tuning tuning = everything();
  tuning.dash.direction = DashDirection::eight;
  const Rules rules = rules_of(tuning);
  Mover run(rules, world, {0, 0.5});
  run.advance({127, -127, false, true}, 6);
  ASSERT_EQ(run.all(EventKind::bounced).size(), 1U);
  EXPECT_EQ(detail_of(run.all(EventKind::dash_ended).at(0)), "blocked");
  EXPECT_GT(run.character.velocity.y, 0);
}

TEST(WhoWins, ALandingEndsASteeringLock) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(walled());
  Mover run(rules, world, {4.55, 0.3});
  run.advance(kRight, 3);
  ASSERT_EQ(run.character.wall, 1);
  ASSERT_FALSE(run.character.grounded());
  run.character.velocity.y = -20;
  run.character.steer_lock_left = 40;
  while (!run.character.grounded()) run.advance(kNothing);
  EXPECT_EQ(run.character.steer_lock_left, 0);
  run.advance(kLeft);
  EXPECT_LT(run.character.velocity.x, 0);
}

TEST(WhoWins, NoCoyoteTimeOpensUnderAPushsLock) {
  const Rules rules = rules_of(everything());
  const LevelWorld ledge = world_of({{{-9, -1}, {0, 0}}});
  for (const bool locked : {true, false}) {
    Mover run(rules, ledge, {-0.5, 0});
    push(run.character, {{20, 0}, PushFrame::world, false, locked ? 0.5 : 0.0}, {}, rules);
    for (int i = 0; i < 60 && run.character.grounded(); ++i) run.advance(kNothing);
    ASSERT_FALSE(run.character.grounded());
    EXPECT_EQ(run.character.coyote_left, locked ? 0 : 6);
  }
}

TEST(WhoWins, AWallOverFastFallAndGlide) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(walled());
  Mover run(rules, world, {4.0, 50});
  run.advance({0, -127, false, false});
  EXPECT_TRUE(run.character.fast_falling);
  run.advance(kRight, 40);
  EXPECT_FALSE(run.character.fast_falling);
  run.advance({127, -127, false, false});
  EXPECT_FALSE(run.character.fast_falling);
  EXPECT_EQ(
      consider_text(run.character, {127, 0, false, false}, rules, world, Candidate::fast_fall),
      "no fast fall: down was not pressed");
}

// Everything, and climbing; a mover at the wall that climbs, up held.
Tuning climbing() {
  Tuning tuning = everything();
  tuning.wall.climb.up_speed = 3;
  tuning.wall.climb.reserve = Duration{60, Duration::Unit::ticks};
  return tuning;
}
constexpr Controls kRightUp{127, 127, false, false};

Mover on_the_wall(const Rules& rules, const World& world) {
  Mover run(rules, world, {4.59, 10});
  run.advance(kRightUp, 20);
  EXPECT_TRUE(run.character.climbing);
  run.events.clear();
  return run;
}

TEST(WhoWins, AClimbOverFastFallSlideAndCling) {
  const Rules rules = rules_of(climbing());
  const LevelWorld world(walled());
  Mover run = on_the_wall(rules, world);
  run.advance({127, -127, false, false}, 10);
  EXPECT_TRUE(run.all(EventKind::fast_fell).empty());
  EXPECT_EQ(run.character.velocity.y, -3) << "it climbs down";
  const std::int64_t cling = run.character.cling_left;
  run.advance(kRight, 10);
  EXPECT_EQ(run.character.velocity.y, 0) << "it holds on";
  EXPECT_EQ(run.character.cling_left, cling) << "a climber uses no cling up";
  run.advance(kRight, 100);
  EXPECT_EQ(run.character.velocity.y, -2.5) << "and slides when its reserve is gone";
  EXPECT_EQ(run.character.cling_left, 0);
}

TEST(WhoWins, WhatLeavesTheWallOverAClimb) {
  Tuning tuning = climbing();
  tuning.wall.exits.push_back({"up", WallPlace::anywhere, {}, 0, 9});
  const LevelWorld world(walled());
  const Rules with_row = rules_of(tuning);
  Mover leaves(with_row, world, {4.59, 10});
  leaves.advance(kRight, 10);
  leaves.advance(kRightUp);
  EXPECT_EQ(jumps_of(leaves), (Kinds{"wall"})) << "a row of wall.exit comes first";
  const Rules rules = rules_of(climbing());
  Mover jumps = on_the_wall(rules, world);
  jumps.advance({127, 127, true, false});
  EXPECT_EQ(jumps_of(jumps), (Kinds{"wall"}));
  EXPECT_FALSE(jumps.character.climbing);
  Mover dashes = on_the_wall(rules, world);
  dashes.advance({-127, 127, false, true});
  EXPECT_EQ(dashes.all(EventKind::dash_started).size(), 1U);
  EXPECT_FALSE(dashes.character.climbing);
  Mover blown = on_the_wall(rules, world);
  push(blown.character, {{0, 9}}, {}, rules);
  blown.advance(kRightUp);
  EXPECT_GT(blown.character.velocity.y, 8) << "a push is no climb";
}

TEST(WhoWins, AJumpOverAClimbUntilItIsAsSlow) {
  const Rules rules = rules_of(climbing());
  const LevelWorld world(walled());
  Mover run(rules, world, {4.59, 0});
  run.advance(kRight, 20);
  run.advance({127, 127, true, false});
  EXPECT_EQ(jumps_of(run), (Kinds{"ground"}));
  while (run.character.velocity.y > 3) {
    EXPECT_FALSE(run.character.climbing);
    run.advance({127, 127, true, false});
  }
  run.advance({127, 127, true, false}, 3);
  EXPECT_TRUE(run.character.climbing);
  EXPECT_EQ(run.character.velocity.y, 3);
}

TEST(WhoWins, ARowThatComesFirstOverAJumpFromTheGround) {
  Tuning tuning = everything();
  tuning.wall.exits[0].first = true;
  tuning.jump.charge.time = {20, Duration::Unit::ticks};
  tuning.jump.charge.height = 6;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(walled());
  Mover run(rules, world, {4.59, 0});
  run.advance(kRight, 20);
  run.advance(kRightJump);
  EXPECT_EQ(jumps_of(run), (Kinds{"wall"}));
  EXPECT_TRUE(run.all(EventKind::charge_started).empty()) << "and over a charge";
}

TEST(WhoWins, AFastFallOverAGlide) {
  Tuning tuning = everything();
  tuning.jump.air_jumps.count = 0;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 60});
  run.advance({0, 0, true, false}, 20);
  EXPECT_EQ(run.character.stance(), Stance::gliding);
  run.advance({0, -127, true, false}, 3);
  EXPECT_EQ(run.character.velocity.y, -30);
  EXPECT_EQ(run.character.stance(), Stance::falling);
}

// ---- classic mistakes ---------------------------------------------------------------------------

TEST(Mistake, NoSecondJumpAtTheApex) {
  Tuning tuning = pip();
  tuning.jump.hang = {3, 0.01};  // dwells at the top, with no speed to speak of
  const LevelWorld world(flat_floor(), kNothingTravels);
  const Rules rules = rules_of(tuning);
  Mover run(rules, world, {0, 0});
  for (int i = 0; i < 24; ++i) run.advance(kJump);
  for (int i = 0; !run.character.grounded(); ++i) run.advance(i % 2 == 0 ? kNothing : kJump);
  EXPECT_EQ(jumps_of(run).size(), 1U);
  // Nor with a vertical speed of exactly nothing.
  Mover still(rules, world, {0, 5});
  still.character.velocity = {0, 0};
  still.advance(kJump);
  EXPECT_TRUE(jumps_of(still).empty());
}

TEST(Mistake, NoCutWhileFalling) {
  Tuning tuning = pip();
  tuning.jump.cut = {CutStyle::scale, 0.1, 2, {}};
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  while (run.character.velocity.y >= 0) run.advance(kJump);
  const double speed = run.character.velocity.y;
  run.advance(kNothing);
  EXPECT_LT(run.character.velocity.y, speed) << "releasing must not slow the fall";
  EXPECT_TRUE(run.all(EventKind::cut).empty());
}

TEST(Mistake, NoFreeExtraJumpAfterCoyote) {
  const Rules rules = rules_of(everything());
  const LevelWorld ledge = world_of({{{-9, -1}, {0, 0}}});
  Mover run(rules, ledge, {-1, 0});
  while (run.character.grounded()) run.advance(kRight);
  for (int i = 0; i < 20; ++i) run.advance(i % 2 == 0 ? kRightJump : kRight);
  EXPECT_EQ(jumps_of(run), (Kinds{"ground", "air"})) << "one in the time of grace, one in the air";
}

TEST(Mistake, NoRepeatedJumpFromAHeldButton) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  run.advance(kJump, 500);
  EXPECT_EQ(jumps_of(run).size(), 1U);
}

TEST(Mistake, AWallJumpCostsNoAirJumpAndRestoreWhenReported) {
  Tuning tuning = everything();
  tuning.jump.air_jumps.restore_on_wall = true;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(walled());
  Mover run(rules, world, {3.5, 30});
  run.advance(kRightJump);
  EXPECT_EQ(run.character.air_jumps_used, 1);
  while (run.character.wall == 0) run.advance(kRight);
  EXPECT_EQ(run.character.air_jumps_used, 0);
  run.advance(kRightJump);
  EXPECT_EQ(run.character.air_jumps_used, 0);
  run.advance(kRight);
  run.advance(kRightJump);
  EXPECT_EQ(jumps_of(run), (Kinds{"air", "wall", "air"}));
}

TEST(Mistake, HeldSteeringDoesNotCancelThePushOff) {
  const Rules rules = rules_of(everything());
  const LevelWorld world(walled());
  Mover run(rules, world, {4.55, 20});
  run.advance(kRight, 4);
  run.advance(kRightJump, 9);
  EXPECT_EQ(run.character.velocity.x, -8);
  EXPECT_LT(run.character.feet.x, 4.6 - 8 * 8.5 / 60);
}

TEST(Mistake, NoDownwardSpeedPilesUpOnTheGround) {
  const LevelWorld ledge = world_of({{{-9, -1}, {0, 0}}});
  const Rules rules = rules_of(everything());
  Mover run(rules, ledge, {-8, 0});
  run.advance(kNothing, 600);
  EXPECT_EQ(run.character.velocity.y, 0);
  while (run.character.grounded()) run.advance(kRight);
  run.advance(kRight);
  EXPECT_GE(run.character.velocity.y, -rules.fall_gravity / 60 - 1e-9) << "the fall begins slowly";
}

TEST(Mistake, NoBounceOnLanding) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({30, 60})) {
    const Rules rules = rules_of(with_loop(everything(), loop));
    Mover run(rules, world, {0, 40});
    while (!run.character.grounded()) run.advance(kNothing);
    for (int i = 0; i < 30; ++i) {
      run.advance(kNothing);
      EXPECT_TRUE(run.character.grounded());
      EXPECT_EQ(run.character.velocity.y, 0);
    }
  }
}

TEST(Mistake, NoStickingToAWallThatIsPushedInto) {
  Tuning tuning = everything();
  tuning.wall.slide_speed.reset();
  tuning.wall.cling = {};
  const Rules rules = rules_of(tuning);
  const LevelWorld with_wall(walled());
  const LevelWorld without = world_of({{{-50, -1}, {50, 0}}});
  Mover pushing(rules, with_wall, {4.59, 30});
  Mover free(rules, without, {4.59, 30});
  for (int i = 0; i < 30; ++i) {
    pushing.advance(kRight);
    free.advance(kRight);
    EXPECT_NEAR(pushing.character.feet.y, free.character.feet.y, 1e-12);
  }
  EXPECT_EQ(pushing.character.stance(), Stance::falling);
}

TEST(Mistake, AFastFallIsNotClippedByTerminalSpeed) {
  const Rules rules = rules_of(everything());  // terminal speed 24, fast fall 30
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 60});
  run.advance({0, -127, false, false}, 20);
  EXPECT_EQ(run.character.velocity.y, -30);
}

// ---- everything at once -------------------------------------------------------------------------

// Plays inputs on a small level that has a wall, a bounce and a push, and watches that nothing
// breaks. Counts the tunings that were played.
void play(const Tuning& tuning, const std::string& what, int& played) {
  const Compiled compiled = compile(tuning);
  if (!compiled.ok()) return;  // a combination that is refused with its reason
  Level level{"limits", {0, 0}, {}};
  for (const Box& box : walled()) level.solids.push_back({"", box});
  level.solids.push_back({"", {{-9, 0}, {-7, 0.5}}});
  level.solids.back().traits.bounce_speed = 12;
  level.solids.push_back({"", {{-20, 0}, {-19, 4}}});
  level.solids.back().traits.has_touch = level.solids.back().traits.touch.pushes = true;
  level.solids.back().traits.touch.push = {{9, 9}, PushFrame::source};
  const LevelWorld world(level, kNothingTravels);
  Character character;
  if (!place(character, {0, 0}, compiled.rules, world)) return;  // a body too large for it
  ++played;
  const Controls inputs[] = {kRight,     kRightJump, kRight,           kRightJump, kLeft,
                             kRightDash, kJump,      {0, -127, false}, kLeft,      {-127, 0, true}};
  for (int i = 0; i < 600; ++i) {
    const Events events = advance(character, inputs[(i / 7) % 10], compiled.rules, world);
    ASSERT_TRUE(std::isfinite(character.feet.x) && std::isfinite(character.feet.y)) << what;
    ASSERT_TRUE(std::isfinite(character.velocity.x + character.velocity.y)) << what;
    ASSERT_EQ(overlap(world, compiled.rules.body, character.feet, 0).depth, 0) << what;
    ASSERT_FALSE(events.overflowed()) << what;
  }
}

TEST(Limits, EveryKnobAtZeroAtOneTickAndAtTheEndsOfItsRange) {
  int played = 0;
  for (const KnobPlace& at : places_of(everything())) {
    if (at.knob->mechanism() == "loop") continue;
    for (const KnobValue& value : std::initializer_list<KnobValue>{
             Duration{0}, Duration{1, Duration::Unit::ticks}, Duration{1e6, Duration::Unit::ticks},
             Duration{1e-10, Duration::Unit::ticks}, Duration{1e-300}, 0.0, 1.0, 1e-9, -1.0,
             at.knob->range.lo, at.knob->range.hi, true, false}) {
      Tuning tuning = everything();
      if (set_knob(tuning, *at.knob, value, at.row)) continue;  // out of its range
      play(tuning, at.key() + " = " + describe(value), played);
    }
  }
  EXPECT_GT(played, 400);
}

TEST(Why, SaysWhatEachCandidateFailedOn) {
  Tuning tuning = everything();
  const Rules rules = rules_of(tuning);
  const LevelWorld ledge = world_of({{{-9, -1}, {0, 0}}});
  Mover run(rules, ledge, {-1, 0});
  while (run.character.grounded()) run.advance(kRight);
  run.advance(kRight, 7);
  run.character.air_jumps_used = 1;
  const auto text = [&](Candidate candidate) {
    return consider_text(run.character, kRightJump, rules, ledge, candidate);
  };
  EXPECT_EQ(text(Candidate::ground_jump), "no ground jump: not grounded");
  EXPECT_EQ(text(Candidate::coyote_jump),
            "no coyote jump: its window of 6 ticks closed 2 ticks ago (jump.coyote)");
  EXPECT_EQ(text(Candidate::wall_exit), "no wall exit: no wall is touched");
  EXPECT_EQ(text(Candidate::air_jump), "no air jump: 1 of 1 used (jump.air_jumps.count)");
  EXPECT_EQ(explain(run.character, kRightJump, rules, ledge).gravity, "fall.glide.speed")
      << "a press that gives no jump glides at once";
  const Explanation explanation = explain(run.character, kRight, rules, ledge);
  EXPECT_EQ(explanation.drive, "run.top_speed");
  EXPECT_EQ(explanation.gravity, "fall.factor");
  EXPECT_NEAR(explanation.gravity_pull, rules.fall_gravity, 1e-12);
}

}  // namespace
}  // namespace bushbaby
