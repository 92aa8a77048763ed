// Laws of motion that hold for any course, tape and tuning.
#include <cmath>
#include <cstring>
#include <random>

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "bushbaby/core/advance.h"
#include "bushbaby/core/tape.h"

#include "support.h"

namespace bushbaby {
namespace {

using test::rules_of;

// A random situation, repeatable from its seed: a crowded course, a tuning, and what is held.
struct Situation {
  explicit Situation(std::uint32_t seed) : random(seed) {
    boxes.push_back({{-30, -2}, {30, 0}});
    const int count = static_cast<int>(uniform(5, 80));
    for (int i = 0; i < count; ++i) {
      Vec lo{uniform(-25, 25), uniform(-1, 15)};
      Vec extent{uniform(0.001, 6), uniform(0.001, 3)};
      if (i % 2 == 0) {
        lo = {std::floor(lo.x), std::floor(lo.y)};
        extent = {std::ceil(extent.x), std::ceil(extent.y)};
      }
      boxes.push_back({lo, {lo.x + extent.x, lo.y + extent.y}});
    }
    tuning = test::pip();
    const JumpLoop loops[] = {{Integrator::exact, 60, true},
                              {Integrator::averaged, 60, random() % 2 == 0},
                              {Integrator::semi_implicit, 60, random() % 2 == 0},
                              {Integrator::explicit_step, 60, random() % 2 == 0}};
    tuning = test::with_loop(tuning, loops[random() % 4]);
    const double rates[] = {24, 30, 50, 60, 144, 240};
    tuning.loop.tick_rate = rates[random() % 6];
    tuning.jump.height = uniform(0.5, 8);
    tuning.jump.apex_time = Duration{uniform(0.15, 0.8)};
    tuning.fall.factor = uniform(0.5, 4);
    if (random() % 3 == 0) tuning.fall.terminal_speed.reset();
    tuning.jump.cut.style = static_cast<CutStyle>(random() % 4);
    tuning.jump.coyote = {static_cast<double>(random() % 12), Duration::Unit::ticks};
    tuning.jump.coyote_gravity = uniform(0, 1);
    tuning.jump.buffer = {static_cast<double>(random() % 12), Duration::Unit::ticks};
    // A stepped loop may have no launch speed for a height with a hang band.
    if (random() % 2 == 0 && tuning.loop.integrator == Integrator::exact) {
      tuning.jump.hang = {uniform(0, 5), uniform(0.1, 3)};
    }
    tuning.run.top_speed = random() % 10 == 0 ? 1e4 : uniform(0, 30);
    tuning.run.ground = {uniform(0, 300), uniform(0, 300), uniform(0, 300)};
    tuning.run.air = {uniform(0, 300), uniform(0, 300), uniform(0, 300)};
    if (random() % 10 == 0) tuning.run.air = {1e6, 1e6, 1e6};
    for (int i = 0; i < 60; ++i) {
      Controls held;
      held.x = static_cast<std::int8_t>(static_cast<int>(random() % 3 - 1) * 127);
      if (random() % 4 == 0)
        held.x = static_cast<std::int8_t>(static_cast<int>(random() % 255) - 127);
      held.jump = random() % 2 == 0;
      const int lasts = 1 + static_cast<int>(random() % 25);
      for (int t = 0; t < lasts; ++t) controls.push_back(held);
    }
  }

  double uniform(double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  }

  // A place where the body fits; a situation without one does not count.
  Vec find_room(const Rules& rules, const World& world) {
    for (int i = 0; i < 50; ++i) {
      const Vec feet{uniform(-28, 28), uniform(0, 18)};
      Character trial;
      if (place(trial, feet, rules, world)) return feet;
    }
    RC_DISCARD("no room in this course");
  }

  Character placed(Vec feet, const Rules& rules, const World& world) const {
    Character character;
    RC_ASSERT(place(character, feet, rules, world));
    return character;
  }

  std::mt19937_64 random;
  std::vector<Box> boxes;
  Tuning tuning;
  std::vector<Controls> controls;
};

RC_GTEST_PROP(Law, NeverInsideASolid, (std::uint32_t seed)) {
  Situation situation(seed);
  const Rules rules = rules_of(situation.tuning);
  const CourseWorld world(situation.boxes);
  const Vec feet = situation.find_room(rules, world);
  Character character = situation.placed(feet, rules, world);
  for (const Controls& held : situation.controls) {
    const bool may_jump = character.grounded() || character.coyote_left > 0;
    const Events events = advance(character, held, rules, world);
    RC_ASSERT(world.overlap(rules.body, character.feet, 0).depth == 0);
    RC_ASSERT(std::isfinite(character.velocity.x) && std::isfinite(character.velocity.y));
    RC_ASSERT(std::isfinite(character.feet.x) && std::isfinite(character.feet.y));
    RC_ASSERT(!events.overflowed());
    int jumps = 0;
    for (const Event& event : events) {
      RC_ASSERT(event.fraction >= 0 && event.fraction <= 1);
      if (event.kind == EventKind::jumped) ++jumps;
    }
    RC_ASSERT(jumps <= 1);
    if (jumps == 1) RC_ASSERT(may_jump);
    if (character.grounded()) {
      RC_ASSERT(character.velocity.y == 0);
      RC_ASSERT(character.ground.gap > 0 && character.ground.gap <= rules.flush_gap * 1.0001);
    }
  }
}

// Left and right are the same: the mirrored course, tape and start give the mirrored run, to the
// last bit.
RC_GTEST_PROP(Law, MirrorSymmetry, (std::uint32_t seed)) {
  Situation situation(seed);
  const Rules rules = rules_of(situation.tuning);
  std::vector<Box> mirrored;
  for (const Box& box : situation.boxes) {
    mirrored.push_back({{-box.hi.x, box.lo.y}, {-box.lo.x, box.hi.y}});
  }
  const CourseWorld world(situation.boxes);
  const CourseWorld mirror_world(mirrored);
  const Vec feet = situation.find_room(rules, world);
  Character a = situation.placed(feet, rules, world);
  Character b = situation.placed({-feet.x, feet.y}, rules, mirror_world);
  for (const Controls& held : situation.controls) {
    Controls mirrored_held = held;
    mirrored_held.x = static_cast<std::int8_t>(-held.x);
    const Events ea = advance(a, held, rules, world);
    const Events eb = advance(b, mirrored_held, rules, mirror_world);
    RC_ASSERT(a.feet.x == -b.feet.x && a.feet.y == b.feet.y);
    RC_ASSERT(a.velocity.x == -b.velocity.x && a.velocity.y == b.velocity.y);
    RC_ASSERT(a.wall == -b.wall && a.ground.reason == b.ground.reason);
    RC_ASSERT(ea.size() == eb.size());
  }
}

// The unit of length is free: everything four times as large moves exactly four times as far.
RC_GTEST_PROP(Law, UnitsOfLengthAreFree, (std::uint32_t seed)) {
  Situation situation(seed);
  constexpr double kScale = 4;  // a power of two, so that scaling rounds nothing
  Tuning large = situation.tuning;
  for (const KnobPlace& place : places_of(large)) {
    const Knob& knob = *place.knob;
    const bool has_length = knob.dimension == Dimension::length ||
                            knob.dimension == Dimension::speed ||
                            knob.dimension == Dimension::acceleration;
    const KnobValue value = get_knob(large, knob, place.row);
    if (const auto* number = std::get_if<double>(&value); number != nullptr && has_length) {
      RC_ASSERT(!set_knob(large, knob, *number * kScale, place.row));
    }
  }
  std::vector<Box> large_boxes;
  for (const Box& box : situation.boxes) {
    large_boxes.push_back(
        {{box.lo.x * kScale, box.lo.y * kScale}, {box.hi.x * kScale, box.hi.y * kScale}});
  }
  const Rules rules = rules_of(situation.tuning);
  const Rules large_rules = rules_of(large);
  const CourseWorld world(situation.boxes);
  const CourseWorld large_world(large_boxes);
  const Vec feet = situation.find_room(rules, world);
  Character a = situation.placed(feet, rules, world);
  Character b = situation.placed({feet.x * kScale, feet.y * kScale}, large_rules, large_world);
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
  const CourseWorld world(situation.boxes);
  const Vec feet = situation.find_room(rules, world);
  Character original = situation.placed(feet, rules, world);
  const std::size_t half = situation.controls.size() / 2;
  for (std::size_t i = 0; i < half; ++i) advance(original, situation.controls[i], rules, world);
  Character copy;
  std::memcpy(static_cast<void*>(&copy), &original, sizeof copy);
  for (std::size_t i = half; i < situation.controls.size(); ++i) {
    advance(original, situation.controls[i], rules, world);
    (void)world.overlap(rules.body, copy.feet, 0);
    advance(copy, situation.controls[i], rules, world);
    RC_ASSERT(copy == original);
  }
}

// With the exact loop, free flight with inputs at common times is the same at every tick rate.
RC_GTEST_PROP(Law, ExactFreeFlightIsTheSameAtEveryRate, (std::uint32_t seed)) {
  Situation situation(seed);
  Tuning tuning = situation.tuning;
  tuning.loop.integrator = Integrator::exact;
  tuning.loop.gravity_on_launch_tick = true;
  tuning.run.top_speed = 9;
  tuning.jump.cut.min_hold = Duration{0.1};  // a common time too
  // Inputs change every tenth of a second: a whole number of ticks at each of the rates.
  Tape tape;
  for (int i = 0; i < 30; ++i) {
    Controls held;
    held.x = static_cast<std::int8_t>(static_cast<int>(situation.random() % 3 - 1) * 127);
    held.jump = situation.random() % 2 == 0;
    tape.spans.push_back({held, {0.1}});
  }
  const CourseWorld nothing(std::vector<Box>{});
  const auto end_at = [&](double rate) {
    tuning.loop.tick_rate = rate;
    const Rules rules = rules_of(tuning);
    Character character;
    character.velocity = {3, 14};
    character.cut_armed = true;
    for (const Controls& held : controls_of(tape, rate)) advance(character, held, rules, nothing);
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

TEST(Tape, SpansEndAtCommonTimesAtEveryRate) {
  const Tape tape{{{test::kRight, {0.25}},
                   {test::kJump, {0.25}},
                   {test::kNothing, {3, Duration::Unit::ticks}}}};
  const auto at_30 = controls_of(tape, 30);
  ASSERT_EQ(at_30.size(), 18U);
  EXPECT_EQ(at_30[7], test::kRight) << "0.25 s is 7.5 ticks: half up";
  EXPECT_EQ(at_30[8], test::kJump);
  EXPECT_EQ(at_30[14], test::kJump) << "two halves make 15 ticks, not 16";
  EXPECT_EQ(at_30[15], test::kNothing);
  EXPECT_EQ(controls_of(tape_of(at_30), 144), at_30);
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
