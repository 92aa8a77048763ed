// GroundReason that slopes: the speed along it, crests and valleys, landings, what is too steep,
// and rest.
#include <algorithm>
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/world/level.h"

#include "situation.h"
#include "support.h"

namespace bushbaby {
namespace {

using test::ground_below;
using test::ground_speed_of;
using test::kJump;
using test::kLeft;
using test::kNothing;
using test::kRight;
using test::kRightJump;
using test::Mover;
using test::radians;
using test::rules_of;
using test::text_of;
using test::with_loop;

// A profile of ground: points from left to right, with solid ground far below each piece.
LevelWorld ground_along(const std::vector<Vec>& profile) {
  Level level;
  for (std::size_t i = 0; i + 1 < profile.size(); ++i) {
    const Vec a = profile[i];
    const Vec b = profile[i + 1];
    Solid solid;
    solid.corners = {{a.x, -200}, {b.x, -200}, b, a};
    level.solids.push_back(std::move(solid));
  }
  return LevelWorld(level, kNothingTravels);
}

// The profile mirrored: what holds to the right holds to the left.
std::vector<Vec> mirrored(std::vector<Vec> profile) {
  std::vector<Vec> turned;
  for (auto p = profile.rbegin(); p != profile.rend(); ++p) turned.push_back({-p->x, p->y});
  return turned;
}

// Runs for a time and holds that it is grounded in every tick, at full speed along the ground.
void run_grounded(Mover& run, const Controls& held, double seconds) {
  const int ticks = static_cast<int>(seconds * run.rules.tick_rate);
  for (int i = 0; i < ticks; ++i) {
    const Vec before = run.character.feet;
    const double ground_speed = ground_speed_of(run.character);
    run.advance(held);
    ASSERT_TRUE(run.character.grounded())
        << "tick " << run.character.tick << " at " << run.character.feet.x;
    ASSERT_GT(ground_speed_of(run.character), ground_speed - 1e-9) << "tick " << run.character.tick;
    if (ground_speed == 0) continue;
    ASSERT_GT(std::abs(run.character.feet.x - before.x), 0) << "tick " << run.character.tick;
  }
}

TEST(Slopes, ThePaceAlongTheSurfaceIsThePaceAskedFor) {
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    for (const double degrees : {10.0, 30.0, 49.0, -10.0, -40.0, -49.0}) {
      for (const bool left : {false, true}) {
        SCOPED_TRACE(text_of(loop) + ", " + std::to_string(degrees) + (left ? " left" : " right"));
        const double rise = 60 * std::tan(radians(degrees));
        const std::vector<Vec> profile{{-20, 0}, {0, 0}, {60, rise}};
        const LevelWorld world = ground_along(left ? mirrored(profile) : profile);
        const Rules rules = rules_of(with_loop(test::pip(), loop));
        Mover run(rules, world, {left ? 4.0 : -4.0, 0});
        run_grounded(run, left ? kLeft : kRight, 2);
        if (::testing::Test::HasFatalFailure()) return;
        EXPECT_NEAR(ground_speed_of(run.character), 7, 1e-9);
        const double turned = run.character.velocity.y / std::abs(run.character.velocity.x);
        EXPECT_NEAR(turned, std::tan(radians(degrees)), 1e-9);
        // And as far as that speed goes.
        const Vec before = run.character.feet;
        run.advance(left ? kLeft : kRight, static_cast<int>(loop.tick_rate));
        const Vec way = run.character.feet - before;
        EXPECT_NEAR(std::hypot(way.x, way.y), 7, 1e-6);
      }
    }
  }
}

TEST(Slopes, CrestsValleysAndSteeperDescentsAreWalkedWithoutAHop) {
  // Hills of straight pieces, each turned against the next by up to 45 + 40 degrees.
  const std::vector<Vec> profile{{-20, 0}, {2, 0},  {6, 4},    {10, 0.7}, {12, 0.7}, {16, -2},
                                 {18, -1}, {22, 0}, {26, 3.2}, {28, 3.2}, {32, 3.0}, {90, 3}};
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    for (const bool left : {false, true}) {
      SCOPED_TRACE(text_of(loop) + (left ? " left" : " right"));
      const LevelWorld world = ground_along(left ? mirrored(profile) : profile);
      const Rules rules = rules_of(with_loop(test::pip(), loop));
      Mover run(rules, world, {left ? 1.0 : -1.0, 0});
      run_grounded(run, left ? kLeft : kRight, 7.5);
      if (::testing::Test::HasFatalFailure()) return;
      EXPECT_GT(std::abs(run.character.feet.x), 33) << "past all hills";
      EXPECT_NEAR(ground_speed_of(run.character), 7, 1e-9);
    }
  }
}

// As a drawing has it: a circle is a polygon of many corners, in several parts.
TEST(Slopes, ARoundLimbIsWalkedOverWithoutAHop) {
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    for (const double radius : {1.0, 3.5, 12.0}) {
      Solid limb;
      for (int i = 0; i < 64; ++i) {
        const double angle = radians(360.0 * i / 64);
        limb.corners.push_back({radius * std::cos(angle), radius * std::sin(angle)});
      }
      Level level;
      level.solids = {limb};
      const LevelWorld world(level, kNothingTravels);
      for (const double speed : {2.0, 7.0, 11.0}) {
        Tuning tuning = with_loop(test::pip(), loop);
        tuning.run.top_speed = speed;
        const Rules rules = rules_of(tuning);
        Mover run(rules, world, {0, radius + rules.flush_gap / 2});
        // Until the end that leads down is at 46 degrees: then it is nearly too steep.
        while (run.character.feet.x - 0.4 < radius * std::sin(radians(46))) {
          run.advance(kRight);
          ASSERT_TRUE(run.character.grounded())
              << text_of(loop) << ", radius " << radius << ", at " << run.character.feet.x;
          ASSERT_LT(run.character.tick, 2000);
          if (run.character.feet.x - 0.4 + speed * rules.dt > radius * std::sin(radians(46))) break;
        }
      }
    }
  }
}

TEST(Slopes, LedgesAreLeftAndRampsEndLevel) {
  for (const JumpLoop& loop : test::all_loops({60})) {
    SCOPED_TRACE(text_of(loop));
    const Rules rules = rules_of(with_loop(test::pip(), loop));
    // A step down by a tenth is a ledge, on the flat and after a slope that it does not explain.
    const LevelWorld step(std::vector<Box>{{{-20, -1}, {0, 0}}, {{0, -1}, {20, -0.1}}});
    Mover off(rules, step, {-4, 0});
    off.advance(kRight, 90);
    EXPECT_EQ(off.all(EventKind::left_ground).size(), 1U);
    // The end of a ramp is left level.
    const LevelWorld ramp = ground_along({{-20, 0}, {0, 0}, {6, 6 * std::tan(radians(30))}});
    Mover up(rules, ramp, {-4, 0});
    while (up.character.feet.x < 9 && up.character.tick < 400) {
      up.advance(kRight);
      if (up.all(EventKind::left_ground).empty()) continue;
      const bool just_left = up.all(EventKind::left_ground)[0].tick == up.character.tick;
      if (just_left) {
        EXPECT_NEAR(up.character.velocity.x, 7, 1e-9);
        EXPECT_EQ(up.character.velocity.y, 0);
      }
    }
    EXPECT_EQ(up.all(EventKind::left_ground).size(), 1U);
  }
}

TEST(Slopes, AHardLandingKeepsTheRunSpeed) {
  for (const JumpLoop& loop : test::all_loops({60})) {
    for (const double degrees : {40.0, -40.0}) {
      for (const double across : {0.0, 5.0, -5.0}) {
        SCOPED_TRACE(text_of(loop) + ", " + std::to_string(degrees) + " degrees");
        const double rise = 60 * std::tan(radians(degrees));
        const LevelWorld world = ground_along({{-60, -rise}, {60, rise}});
        Tuning tuning = with_loop(test::pip(), loop);
        tuning.run.ground.brake = tuning.run.air.brake = 0;  // nothing but the landing
        const Rules rules = rules_of(tuning);
        Character character;
        character.feet = {0, 6};
        character.velocity = {across, -24};
        for (int i = 0; i < 120 && !character.grounded(); ++i) {
          advance(character, kNothing, rules, world);
        }
        ASSERT_TRUE(character.grounded());
        EXPECT_NEAR(ground_speed_of(character), std::abs(across), 1e-9);
        EXPECT_NEAR(character.velocity.x, across * std::cos(radians(degrees)), 1e-9);
        for (int i = 0; i < 30; ++i) {
          advance(character, kNothing, rules, world);
          ASSERT_TRUE(character.grounded());
          EXPECT_NEAR(ground_speed_of(character), std::abs(across), 1e-9);
        }
      }
    }
  }
}

TEST(Slopes, WhatIsTooSteepIsSlidDownAndNotClimbed) {
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    for (const double degrees : {55.0, 60.0, 75.0, 88.0}) {
      SCOPED_TRACE(text_of(loop) + ", " + std::to_string(degrees) + " degrees");
      const double slope = std::tan(radians(degrees));
      const LevelWorld world = ground_along({{-20, 0}, {0, 0}, {30, 30 * slope}});
      const Rules rules = rules_of(with_loop(test::pip(), loop));
      // Ran into from level ground, it stops the run.
      Mover run(rules, world, {-4, 0});
      run.advance(kRight, static_cast<int>(2 * loop.tick_rate));
      EXPECT_LT(run.character.feet.y, 0.01);
      EXPECT_TRUE(run.character.grounded());
      EXPECT_EQ(ground_speed_of(run.character), 0);
      EXPECT_EQ(run.all(EventKind::wall_touched).size(), 1U);
      // Jumped at with the direction held, it gives no more height than a jump in the open.
      const double from = run.character.feet.y;
      double highest = from;
      for (int i = 0; i < 3 * static_cast<int>(loop.tick_rate); ++i) {
        run.advance(i % 40 < 20 ? kRightJump : kRight);
        highest = std::max(highest, run.character.feet.y);
      }
      EXPECT_LT(highest - from, 3.25 + 17.2 / loop.tick_rate);
      // From high up on it, the body comes down along it, as fast as it falls.
      Character high;
      high.feet = {10, 10 * slope + 0.01};
      high.feet.x -= 0.41;
      const LevelWorld nothing(std::vector<Box>{});
      Character free = high;
      for (int i = 0; i < static_cast<int>(0.4 * loop.tick_rate); ++i) {
        advance(high, kRight, rules, world);
        advance(free, kRight, rules, nothing);
        EXPECT_FALSE(high.grounded());
      }
      EXPECT_LT(high.feet.x, 9.6);
      EXPECT_NEAR(high.feet.y, free.feet.y, 24 / loop.tick_rate);
    }
  }
}

TEST(Slopes, ABodyAtRestStaysWhereItIs) {
  for (const JumpLoop& loop : test::all_loops({60})) {
    SCOPED_TRACE(text_of(loop));
    const LevelWorld world = ground_along({{-60, -60 * std::tan(radians(30))}, {0, 0}, {9, 0}});
    const Rules rules = rules_of(with_loop(test::pip(), loop));
    Mover run(rules, world, {-5, 2});
    run.advance(kNothing, 100);
    ASSERT_TRUE(run.character.grounded());
    const Vec rest = run.character.feet;
    for (int i = 0; i < 100000; ++i) {
      advance(run.character, kNothing, rules, world);
      ASSERT_EQ(run.character.feet, rest);
      ASSERT_TRUE(run.character.grounded());
    }
  }
}

// A jump from a slope is as high as any, and as fast across as the body ran.
TEST(Slopes, JumpsFromThemAreWholeJumps) {
  for (const double degrees : {-40.0, -20.0, 20.0, 40.0}) {
    for (const Integrator integrator : test::all_integrators()) {
      const double rise = 90 * std::tan(radians(degrees));
      const LevelWorld world = ground_along({{-90, -rise}, {90, rise}});
      const Rules rules = rules_of(with_loop(test::pip(), {integrator, 60, true}));
      Mover run(rules, world, {-40, -40 / 90.0 * rise + 1.2});
      run.advance(kRight, 90);
      ASSERT_TRUE(run.character.grounded());
      const double from = run.character.feet.y;
      run.advance(kRightJump);
      EXPECT_NEAR(run.character.velocity.x, 7, 1e-9) << degrees;
      double highest = from;
      for (int i = 0; i < 40; ++i) {
        run.advance(kJump);
        highest = std::max(highest, run.character.feet.y);
        for (const Event& event : run.all(EventKind::apex)) {
          highest = std::max(highest, event.place.y);
        }
      }
      EXPECT_GE(highest - from, 3.25 - 1e-6) << degrees;
    }
  }
}

// The highest ground under the base, reported from the profile alone.
double ground_under(const std::vector<Vec>& profile, double left, double right) {
  const auto height = [&profile](double x) {
    std::size_t i = 1;
    while (i + 1 < profile.size() && profile[i].x < x) ++i;
    const Vec a = profile[i - 1];
    const Vec b = profile[i];
    return a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x);
  };
  double highest = std::max(height(left), height(right));
  for (const Vec p : profile) {
    if (p.x > left && p.x < right) highest = std::max(highest, p.y);
  }
  return highest;
}

// What is left of top speed on the slope that it stands on, from docs/model.md, "Ramps".
double share_of(const Character& walker, const Controls& held, const Tuning& tuning) {
  const double lean = walker.ground.normal.x;  // the sine of its angle, down to the right
  const double way = held.x != 0 ? held.x : walker.velocity.x;
  const double whole = way * lean > 0 ? tuning.run.slope.downhill : tuning.run.slope.uphill;
  const double steepest = std::sin(radians(tuning.run.steepest_ground));
  return way == 0 ? 1 : 1 + (whole - 1) * std::min(1.0, std::abs(lean) / steepest);
}

Tuning random_runner(std::mt19937_64& random) {
  const auto between = [&random](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  const double rates[] = {32, 64, 128};
  Tuning tuning =
      with_loop(test::pip(), {test::all_integrators()[random() % 4], rates[random() % 3], true});
  tuning.run.steepest_ground = between(48.5, 70);
  RunDrive& drive = tuning.run.ground;
  drive.style = static_cast<DriveStyle>(random() % 3);
  drive.accelerate_lag = drive.brake_lag = drive.turn_lag = Duration{between(0.02, 0.3)};
  if (random() % 2 == 0) drive.overspeed_brake = between(0, 60);
  // What a damped run gives up is a share of top speed, that of the tuning.
  if (drive.style != DriveStyle::damped) {
    tuning.run.slope.uphill = between(0, 1.5);
    tuning.run.slope.downhill = between(0.5, 2);
  }
  return tuning;
}

// An account of walking on hills: wherever no jump is asked for the body stands, on the highest
// ground under its base, and its speed is tick by tick what the same inputs give on level ground,
// where top speed is what the slope leaves of it.
TEST(Slopes, OnHillsThePaceIsThatOfLevelGroundTickByTick) {
  std::mt19937_64 random(12);
  const LevelWorld level(test::flat_floor(), kNothingTravels);
  std::int64_t ticks = 0;
  for (int round = 0; round < 800 / test::kFewer; ++round) {
    const std::vector<Vec> profile = test::random_hills(random, 48);
    const LevelWorld hills = round % 2 == 0 ? ground_along(profile) : ground_below(profile);
    const Tuning tuning = random_runner(random);
    const Rules rules = rules_of(tuning);
    Character walker;
    const double under = ground_under(profile, -0.4, 0.4);
    ASSERT_TRUE(place(walker, {0, under + rules.flush_gap / 2}, rules, hills));
    Character flat;
    ASSERT_TRUE(place(flat, {0, rules.flush_gap / 2}, rules, level));
    if (!walker.grounded()) continue;
    Controls held;
    for (int tick = 0; tick < 600; ++tick) {
      if (random() % 20 == 0) held.x = static_cast<std::int8_t>(127 * (random() % 3) - 127);
      // From the same speed: a rounding decides whether a speed next to 0 brakes or turns.
      flat.velocity.x = std::copysign(ground_speed_of(walker), walker.velocity.x);
      Rules flat_rules = rules;
      flat_rules.top_speed = rules.top_speed * share_of(walker, held, tuning);
      advance(walker, held, rules, hills);
      advance(flat, held, flat_rules, level);
      const double ground_speed = ground_speed_of(walker);
      const std::string where = "round " + std::to_string(round) + ", tick " + std::to_string(tick);
      ASSERT_TRUE(walker.grounded()) << where;
      ASSERT_NEAR(ground_speed, std::abs(flat.velocity.x), 1e-7) << where;
      const double above =
          walker.feet.y - ground_under(profile, walker.feet.x - 0.4, walker.feet.x + 0.4);
      ASSERT_GT(above, 0) << where;
      ASSERT_LT(above, 2 * rules.flush_gap) << where;
      ++ticks;
    }
  }
  EXPECT_GT(ticks, 300000 / test::kFewer);
}

}  // namespace
}  // namespace bushbaby
