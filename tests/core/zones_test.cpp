// Zones: other rules in places of a level, which way is down, and what is swum in.
#include <algorithm>
#include <cmath>
#include <functional>

#include <gtest/gtest.h>

#include "visitor.h"

namespace bushbaby {
namespace {

using test::kNothing;
using test::kRight;
using test::pip;
using test::rules_of;

using test::floor_with;
using test::jump_height;
using test::scaled;
using test::set_to;
using test::Visitor;
using test::zone_of;

TEST(Zones, AGravityFactorChangesTheHeightAndNotTheLaunchSpeed) {
  for (const JumpLoop& loop : test::all_loops({50, 60, 144})) {
    const Tuning tuning = test::with_loop(pip(), loop);
    const Rules outside = rules_of(tuning);
    Zone zone = zone_of({{-50, -10}, {50, 50}});
    zone.overrides = {scaled("jump.gravity", 0.5)};
    Visitor visitor(tuning, floor_with({zone}), {0, 0});
    EXPECT_EQ(visitor.rules().launch_speed, outside.launch_speed);
    EXPECT_EQ(visitor.rules().rise_gravity, outside.rise_gravity * 0.5);
    EXPECT_EQ(visitor.rules().fall_gravity, outside.fall_gravity * 0.5);
    const double expected =
        predict_apex(outside.launch_speed, outside.rise_gravity * 0.5, loop).height;
    // Samples of the exact loop miss the apex by no more than half a tick.
    const double between = outside.rise_gravity / 16 / (loop.tick_rate * loop.tick_rate);
    EXPECT_NEAR(jump_height(visitor), expected, between + 1e-3) << test::text_of(loop);
  }
}

// What knobs come to in some zones, by value, by multiple and one after the other.
TEST(Zones, OverridesApplyByRankThenInOrder) {
  const Tuning tuning = pip();
  const Rules outside = rules_of(tuning);
  struct Case {
    const char* what;
    std::vector<Override> first;
    int first_priority;
    std::vector<Override> second;
    std::function<double(const Rules&)> of;
    double expected;
  };
  const auto top = [](const Rules& r) { return r.top_speed; };
  const auto launch = [](const Rules& r) { return r.launch_speed; };
  const double g = outside.rise_gravity;
  const Case cases[] = {
      {"value", {set_to("run.top_speed", 3)}, 0, {}, top, 3},
      {"multiple", {scaled("run.top_speed", 3)}, 0, {}, top, 21},
      {"the later of one priority counts",
       {set_to("run.top_speed", 3)},
       0,
       {set_to("run.top_speed", 4)},
       top,
       4},
      {"the higher priority counts",
       {set_to("run.top_speed", 3)},
       1,
       {set_to("run.top_speed", 4)},
       top,
       3},
      {"a multiple of a value",
       {set_to("run.top_speed", 3)},
       0,
       {scaled("run.top_speed", 2)},
       top,
       6},
      {"a value over a multiple",
       {scaled("run.top_speed", 2)},
       1,
       {set_to("run.top_speed", 3)},
       top,
       6},
      {"a height", {set_to("jump.height", 1)}, 0, {}, launch, std::sqrt(2 * g)},
      {"a height under another gravity",
       {set_to("jump.height", 1)},
       0,
       {scaled("jump.gravity", 0.25)},
       launch,
       std::sqrt(g / 2)},
      {"a time", {set_to("jump.apex_time", 0.5)}, 0, {}, launch, g / 2},
      {"both",
       {set_to("jump.height", 2), set_to("jump.apex_time", 0.5)},
       0,
       {},
       [](const Rules& r) { return r.rise_gravity; },
       16},
      {"a multiple of the height",
       {scaled("jump.height", 4)},
       0,
       {},
       launch,
       2 * outside.launch_speed},
      {"rates stay when top speed changes",
       {scaled("run.top_speed", 0.5)},
       0,
       {},
       [](const Rules& r) { return r.ground.rates.accelerate; },
       outside.ground.rates.accelerate},
      {"a window in ticks",
       {{"jump.coyote", false, Duration{9, Duration::Unit::ticks}}},
       0,
       {},
       [](const Rules& r) { return static_cast<double>(r.coyote_ticks); },
       9},
      {"a flag",
       {{"jump.allowed", false, false}},
       0,
       {},
       [](const Rules& r) { return r.may_jump ? 1.0 : 0.0; },
       0},
      {"a choice",
       {{"jump.cut.style", false, std::string("none")}},
       0,
       {},
       [](const Rules& r) { return static_cast<double>(r.cut_style); },
       0},
  };
  for (const Case& c : cases) {
    Zone first = zone_of({{-5, -5}, {5, 5}});
    first.overrides = c.first;
    first.priority = c.first_priority;
    Zone second = zone_of({{-5, -5}, {5, 5}});
    second.overrides = c.second;
    const Visitor visitor(tuning, floor_with({first, second}), {0, 0});
    EXPECT_NEAR(c.of(visitor.rules()), c.expected, 1e-9) << c.what;
    EXPECT_EQ(c.of(visitor.book.rules(0)), c.of(outside)) << c.what;
  }
}

TEST(Zones, WhatIsWrongWithThemIsReported) {
  struct Case {
    const char* what;
    std::function<void(Zone&)> spoil;
    const char* says;
  };
  const Case cases[] = {
      {"an unknown knob", [](Zone& z) { z.overrides = {set_to("run.topspeed", 3)}; },
       "run.topspeed: found nothing of that name, expected a knob of the tuning"},
      {"a value out of range", [](Zone& z) { z.overrides = {set_to("run.top_speed", -3)}; },
       "run.top_speed: found -3, expected a speed in u/s, 0 to 1000000"},
      {"a product out of range", [](Zone& z) { z.overrides = {scaled("run.top_speed", -1)}; },
       "run.top_speed: found -7, expected a speed in u/s, 0 to 1000000"},
      {"a factor on a flag", [](Zone& z) { z.overrides = {scaled("jump.allowed", 2)}; },
       "jump.allowed: found no number to multiply, expected a value in its place: the tuning has "
       "no "
       "number there"},
      {"a factor on nothing", [](Zone& z) { z.overrides = {scaled("fall.glide.speed", 2)}; },
       "fall.glide.speed: found nothing to multiply, expected a value in its place: the tuning has "
       "no number there"},
      {"the loop", [](Zone& z) { z.overrides = {set_to("loop.tick_rate", 30)}; },
       "loop.tick_rate: found a change, expected another knob: those of the loop and of the body "
       "are the same everywhere"},
      {"a dive without drag",
       [](Zone& z) {
         z.fluid = Fluid{};
         z.fluid->dive = 3;
       },
       "fluid.dive: found 3 u/s, expected 0 without fluid.drag, which leads the speed towards "
       "it"},
      {"a down that is none",
       [](Zone& z) {
         z.turning.to = Turning::To::direction;
         z.turning.down = {0, 0};
       },
       "down: found no unit vector, expected one"},
  };
  for (const Case& c : cases) {
    Zone zone = zone_of({{-5, -5}, {5, 5}});
    c.spoil(zone);
    const CompiledBook compiled = compile_book(pip(), {zone_of({{0, 0}, {1, 1}}), zone});
    ASSERT_EQ(compiled.violations.size(), 1U) << c.what;
    EXPECT_EQ(compiled.violations[0].zones, std::vector<ZoneId>{1}) << c.what;
    EXPECT_EQ(describe(compiled.violations[0].violation), c.says) << c.what;
  }
  const std::vector<Zone> nine(9, zone_of({{-5, -5}, {5, 5}}));
  const CompiledBook crowded = compile_book(pip(), nine);
  ASSERT_EQ(crowded.violations.size(), 1U);
  EXPECT_EQ(crowded.violations[0].zones.size(), 9U);
  std::vector<Zone> crowd(100, zone_of({{-5, -5}, {5, 5}}));
  EXPECT_EQ(compile_book(pip(), crowd).violations.at(0).zones.size(), 9U);
  crowd.resize(200000, zone_of({{0, 0}, {1, 1}}));
  EXPECT_EQ(
      describe(compile_book(pip(), crowd).violations.at(0).violation),
      "zone: found 4096 combinations or more, expected fewer: zones that overlap one another less");
  std::vector<Zone> row(1000, zone_of({{0, 0}, {1, 1}}));
  for (std::size_t i = 0; i < row.size(); ++i) {
    row[i].box = {{3.0 * static_cast<double>(i), 0}, {3.0 * static_cast<double>(i) + 2, 2}};
  }
  const CompiledBook long_one = compile_book(pip(), row);
  ASSERT_TRUE(long_one.ok());
  EXPECT_EQ(long_one.book.size(), 1001U);
}

// At every speed a border is crossed once each way, in the tick in which what counts of the body
// gets past it; back only beyond the release margin.
TEST(Zones, BordersDoNotFlicker) {
  for (const Contains contains : {Contains::feet, Contains::centre, Contains::any_part}) {
    for (double speed = 0.01; speed < 150; speed = speed * 1.7) {
      for (const int way : {1, -1}) {
        Zone zone = zone_of({{-3, -5}, {3, 50}});
        zone.traits.contains = contains;
        Tuning tuning = pip();
        tuning.run.top_speed = speed;
        tuning.run.ground = {{1e6, 1e6, 1e6}};
        const double half = contains == Contains::any_part ? tuning.body.width / 2 : 0;
        const double release = zone.traits.exit_margin;
        // Starts in it, a little more than nothing from its border, and comes back.
        Visitor visitor(tuning, floor_with({zone}), {way * (3 + half - 0.001), 0});
        ASSERT_EQ(visitor.character.zones[0], 0U);
        Controls out{static_cast<std::int8_t>(way * 127), 0, false, false};
        Controls back{static_cast<std::int8_t>(-way * 127), 0, false, false};
        for (int i = 0; i < 20000 && visitor.count(EventKind::left) == 0; ++i) {
          const double before = way * visitor.character.feet.x;
          visitor.tick(out);
          const bool past = way * visitor.character.feet.x >= 3 + half + release;
          ASSERT_EQ(visitor.count(EventKind::left), past ? 1 : 0) << speed << " from " << before;
        }
        for (int i = 0; i < 20000 && visitor.count(EventKind::entered) == 0; ++i) {
          visitor.tick(back);
          const bool inside = way * visitor.character.feet.x < 3 + half;
          ASSERT_EQ(visitor.count(EventKind::entered), inside ? 1 : 0) << speed;
        }
        ASSERT_EQ(visitor.count(EventKind::left), 1 + (visitor.character.zones[0] == 0 ? 0 : 1));
      }
    }
  }
}

// A zone that is passed within a tick is reported and does what it does; a run reports as many
// entries as exits.
TEST(Zones, ThinOnesAreNotSkipped) {
  Zone thin = zone_of({{5, -1}, {5.001, 9}});
  thin.traits.has_touch = true;
  thin.traits.touch.no_jump = 0.5;
  thin.overrides = {set_to("run.top_speed", 1)};
  Tuning tuning = pip();
  tuning.run.top_speed = 90;
  tuning.run.ground = {{1e6, 1e6, 1e6}};
  Visitor visitor(tuning, floor_with({thin}), {0, 0});
  visitor.ticks(10, kRight);
  EXPECT_EQ(visitor.count(EventKind::entered), 1);
  EXPECT_EQ(visitor.count(EventKind::left), 1);
  EXPECT_EQ(visitor.count(EventKind::locked), 1) << "its touch counts";
  EXPECT_EQ(visitor.character.zones[0], kNoZone);
  EXPECT_GT(visitor.character.velocity.x, 80) << "its rules do not";
}

TEST(Zones, EnteringKeepsSharesOfTheSpeedAndPushesAway) {
  Zone pool = zone_of({{-50, -20}, {50, -1}});
  pool.traits.keep_vertical = 0.25;
  pool.traits.keep_horizontal = 0.5;
  Level level;
  level.zones = {pool};
  Visitor visitor(pip(), level, {0, 0});
  visitor.character.velocity = {4, -6};
  Vec before{0, 0};
  while (visitor.count(EventKind::entered) == 0) {
    Character plain = visitor.character;
    (void)advance(plain, kNothing, visitor.rules(), visitor.world);
    before = plain.velocity;
    visitor.tick(kNothing);
  }
  EXPECT_DOUBLE_EQ(visitor.character.velocity.x, before.x * 0.5);
  EXPECT_DOUBLE_EQ(visitor.character.velocity.y, before.y * 0.25);

  Zone hive = zone_of({{3, -1}, {6, 6}});
  hive.traits.has_touch = true;
  hive.traits.touch.pushes = true;
  hive.traits.touch.push = {{9, 5}, PushFrame::source, false, 0.2};
  Visitor stung(pip(), floor_with({hive}), {0, 0});
  while (stung.count(EventKind::entered) == 0) stung.tick(kRight);
  EXPECT_EQ(stung.character.velocity, (Vec{-9, 5})) << "away from its middle";
  stung.tick(kRight);
  EXPECT_EQ(stung.count(EventKind::pushed), 1);
}

}  // namespace
}  // namespace bushbaby
