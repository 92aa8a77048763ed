// Laws of motion that hold for any level, inputs and tuning.
#include <cmath>
#include <cstring>

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/inputs.h"

#include "situation.h"
#include "support.h"

namespace bushbaby {
namespace {

using test::rules_of;

using test::Situation;

// A place where the body fits; a situation without one does not count.
Vec room_in(Situation& situation, const Rules& rules, const World& world) {
  const auto feet = situation.find_room(rules, world);
  if (!feet) RC_DISCARD("no room in this level");
  return *feet;
}

Character placed(Vec feet, const Rules& rules, const World& world) {
  Character character;
  RC_ASSERT(place(character, feet, rules, world));
  return character;
}

// Left and right are the same: the mirrored level, inputs and start give the mirrored run, to the
// last bit.
RC_GTEST_PROP(Law, MirrorSymmetry, (std::uint32_t seed)) {
  Situation situation(seed);
  const Rules rules = rules_of(situation.tuning);
  Tuning turned = situation.tuning;
  const AutoRun run = turned.run.auto_run;
  if (run == AutoRun::left) turned.run.auto_run = AutoRun::right;
  if (run == AutoRun::right) turned.run.auto_run = AutoRun::left;
  const Rules mirror_rules = rules_of(turned);
  Level mirrored = situation.level;
  for (Solid& solid : mirrored.solids) {
    const Box box = solid.box;
    solid.box = {{-box.hi.x, box.lo.y}, {-box.lo.x, box.hi.y}};
    if (solid.blocks == Blocks::from_left) {
      solid.blocks = Blocks::from_right;
    } else if (solid.blocks == Blocks::from_right) {
      solid.blocks = Blocks::from_left;
    }
    solid.traits.conveyor = -solid.traits.conveyor;
    Push& push = solid.traits.touch.push;
    if (push.frame == PushFrame::world) push.velocity.x = -push.velocity.x;
  }
  const LevelWorld world(situation.level, kNothingTravels);
  const LevelWorld mirror_world(mirrored, kNothingTravels);
  const Vec feet = room_in(situation, rules, world);
  Character a = placed(feet, rules, world);
  Character b = placed({-feet.x, feet.y}, mirror_rules, mirror_world);
  b.facing = -1;
  for (const Controls& held : situation.controls) {
    Controls mirrored_held = held;
    mirrored_held.x = static_cast<std::int8_t>(-held.x);
    const Events ea = advance(a, held, rules, world);
    const Events eb = advance(b, mirrored_held, mirror_rules, mirror_world);
    RC_ASSERT(a.feet.x == -b.feet.x && a.feet.y == b.feet.y);
    RC_ASSERT(a.velocity.x == -b.velocity.x && a.velocity.y == b.velocity.y);
    RC_ASSERT(a.wall == -b.wall && a.ground.reason == b.ground.reason);
    RC_ASSERT(a.facing == -b.facing && a.stance() == b.stance());
    RC_ASSERT(ea.size() == eb.size());
  }
}

// The unit of length is free: everything four times as large moves exactly four times as far.
RC_GTEST_PROP(Law, UnitsOfLengthAreFree, (std::uint32_t seed)) {
  Situation situation(seed);
  constexpr double kScale = 4;  // a power of two, so that scaling rounds nothing
  const Tuning large = test::scaled(situation.tuning, kScale);
  Level large_level = situation.level;
  for (Solid& solid : large_level.solids) {
    solid.box = {solid.box.lo * kScale, solid.box.hi * kScale};
    solid.traits.conveyor *= kScale;
    solid.traits.bounce_speed *= kScale;
    solid.traits.touch.push.velocity *= kScale;
  }
  const Rules rules = rules_of(situation.tuning);
  const Rules large_rules = rules_of(large);
  const LevelWorld world(situation.level, kNothingTravels);
  const LevelWorld large_world(large_level, kNothingTravels);
  const Vec feet = room_in(situation, rules, world);
  Character a = placed(feet, rules, world);
  Character b = placed({feet.x * kScale, feet.y * kScale}, large_rules, large_world);
  for (const Controls& held : situation.controls) {
    advance(a, held, rules, world);
    advance(b, held, large_rules, large_world);
    RC_ASSERT(b.feet.x == a.feet.x * kScale && b.feet.y == a.feet.y * kScale);
    RC_ASSERT(b.velocity.x == a.velocity.x * kScale && b.velocity.y == a.velocity.y * kScale);
  }
}

// The character is the whole state: a copy made by memcpy in mid-run goes on the same way, and
// asking the world in between changes nothing.
RC_GTEST_PROP(Law, TheCharacterIsTheWholeState, (std::uint32_t seed)) {
  Situation situation(seed);
  const Rules rules = rules_of(situation.tuning);
  const LevelWorld world(situation.level, kNothingTravels);
  const Vec feet = room_in(situation, rules, world);
  Character original = placed(feet, rules, world);
  const std::size_t half = situation.controls.size() / 2;
  for (std::size_t i = 0; i < half; ++i) advance(original, situation.controls[i], rules, world);
  Character copy;
  std::memcpy(static_cast<void*>(&copy), &original, sizeof copy);
  for (std::size_t i = half; i < situation.controls.size(); ++i) {
    advance(original, situation.controls[i], rules, world);
    (void)overlap(world, rules.body, copy.feet, 0);
    advance(copy, situation.controls[i], rules, world);
    RC_ASSERT(copy == original);
  }
}

// With the exact loop, free flight with inputs at common times is the same at every tick rate.
RC_GTEST_PROP(Law, ExactFreeFlightIsTheSameAtEveryRate, (std::uint32_t seed)) {
  Situation situation(seed, false);
  Tuning tuning = situation.tuning;
  tuning.loop.integrator = Integrator::exact;
  tuning.loop.gravity_on_launch_tick = true;
  tuning.run.top_speed = 9;
  tuning.jump.cut.min_hold = Duration{0.1};  // a common time too
  // Inputs change every tenth of a second: a whole number of ticks at each of the rates.
  Inputs inputs;
  for (int i = 0; i < 30; ++i) {
    Controls held;
    held.x = static_cast<std::int8_t>(static_cast<int>(situation.random() % 3 - 1) * 127);
    held.jump = situation.random() % 2 == 0;
    inputs.spans.push_back({held, {0.1}});
  }
  const LevelWorld nothing(std::vector<Box>{});
  const auto end_at = [&](double rate) {
    tuning.loop.tick_rate = rate;
    const Rules rules = rules_of(tuning);
    Character character;
    character.velocity = {3, 14};
    character.cut_armed = true;
    for (const Controls& held : controls_of(inputs, rate)) advance(character, held, rules, nothing);
    return character;
  };
  const Character reference = end_at(30);
  constexpr double kSame = 1e-9;
  for (const double rate : {50.0, 60.0, 120.0, 240.0, 1000.0}) {
    const Character character = end_at(rate);
    const double far = 1 + std::abs(reference.feet.y);
    RC_ASSERT(std::abs(character.feet.x - reference.feet.x) < kSame * far);
    RC_ASSERT(std::abs(character.feet.y - reference.feet.y) < kSame * far);
    RC_ASSERT(std::abs(character.velocity.x - reference.velocity.x) < kSame);
    RC_ASSERT(std::abs(character.velocity.y - reference.velocity.y) < kSame * far);
  }
}

TEST(Inputs, SpansEndAtCommonTimesAtEveryRate) {
  const Inputs inputs{{{test::kRight, {0.25}},
                       {test::kJump, {0.25}},
                       {test::kNothing, {3, Duration::Unit::ticks}}}};
  const auto at_30 = controls_of(inputs, 30);
  ASSERT_EQ(at_30.size(), 18U);
  EXPECT_EQ(at_30[7], test::kRight) << "0.25 s is 7.5 ticks: half up";
  EXPECT_EQ(at_30[8], test::kJump);
  EXPECT_EQ(at_30[14], test::kJump) << "two halves make 15 ticks, not 16";
  EXPECT_EQ(at_30[15], test::kNothing);
  EXPECT_EQ(controls_of(inputs_of(at_30), 144), at_30);
}

TEST(Controls, DirectionsAreWholeSteps) {
  EXPECT_EQ(direction_from(1), 127);
  EXPECT_EQ(direction_from(-1), -127);
  EXPECT_EQ(direction_from(7), 127);
  EXPECT_EQ(direction_from(-1e300), -127);
  EXPECT_EQ(direction_from(std::nan("")), 0);
  for (int step = -127; step <= 127; ++step) {
    const auto direction = static_cast<std::int8_t>(step);
    EXPECT_EQ(direction_from(direction_share(direction)), direction);
    EXPECT_EQ(direction_share(direction), -direction_share(static_cast<std::int8_t>(-step)));
  }
}

}  // namespace
}  // namespace bushbaby
