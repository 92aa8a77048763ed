// What is swum in: buoyancy, drag and current, strokes, diving, leaping out.
#include <cmath>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/why.h"

#include "visitor.h"

namespace bushbaby {
namespace {

using test::kDown;
using test::kJump;
using test::kNothing;
using test::kRight;
using test::pip;
using test::rules_of;
using test::scaled;
using test::Visitor;
using test::zone_of;

Zone pool_of(const Box& box, const Fluid& fluid) {
  Zone zone = zone_of(box);
  zone.fluid = fluid;
  return zone;
}

Level deep_pool(const Fluid& fluid) {
  Level level;
  level.zones = {pool_of({{-500, -500}, {500, 0}}, fluid)};
  return level;
}

Fluid sap() {
  Fluid fluid;
  fluid.buoyancy = 60;
  fluid.drag = 3;
  fluid.stroke = 0.9;
  fluid.stroke_every = {12, Duration::Unit::ticks};
  fluid.exit_jump = 1.8;
  fluid.dive = 5;
  return fluid;
}

// The speed goes towards where buoyancy, gravity and drag are even, as in closed form, at every
// tick rate and in every loop.
TEST(Fluids, SpeedsFollowTheClosedForm) {
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    for (const double buoyancy : {10.0, 60.0, 200.0}) {
      const Tuning tuning = test::with_loop(pip(), loop);
      const Rules rules = rules_of(tuning);
      Fluid fluid;
      fluid.buoyancy = buoyancy;
      fluid.drag = 4;
      fluid.current = {0, 0.5};
      Visitor visitor(tuning, deep_pool(fluid), {0, -100});
      visitor.character.velocity = {0, -6};
      double speed = -6;
      for (int i = 1; i <= static_cast<int>(loop.tick_rate); ++i) {
        const double goal = 0.5 + (buoyancy - rules.rise_gravity) / 4;
        speed = goal + (speed - goal) * std::exp(-4 / loop.tick_rate);
        visitor.tick(kNothing);
        ASSERT_NEAR(visitor.character.velocity.y, speed, 1e-9) << test::text_of(loop) << " " << i;
        ASSERT_EQ(visitor.character.stance(), Stance::swimming);
      }
    }
  }
}

// Without drag, buoyancy and gravity alone: a parabola.
TEST(Fluids, WithoutDragItIsAFall) {
  Fluid fluid;
  fluid.buoyancy = 20;
  const Rules rules = rules_of(pip());
  Visitor visitor(pip(), deep_pool(fluid), {0, -10});
  for (int i = 1; i <= 60; ++i) visitor.tick(kNothing);
  const double pull = rules.rise_gravity - 20;
  EXPECT_NEAR(visitor.character.feet.y, -10 - pull / 2, 1e-9);
  EXPECT_NEAR(visitor.character.velocity.y, -pull, 1e-9);
}

TEST(Fluids, WhatFloatsComesToRestAtTheSurface) {
  for (const JumpLoop& loop : test::all_loops({60})) {
    Fluid fluid = sap();
    Level level = deep_pool(fluid);
    level.zones[0].traits.keep_vertical = 0.6;
    Visitor visitor(test::with_loop(pip(), loop), level, {0, 4});
    visitor.ticks(600, kNothing);
    double lowest = 0;
    double highest = -100;
    for (int i = 0; i < 300; ++i) {
      visitor.tick(kNothing);
      lowest = std::min(lowest, visitor.character.feet.y + 0.7);
      highest = std::max(highest, visitor.character.feet.y + 0.7);
    }
    EXPECT_GT(lowest, -0.5) << test::text_of(loop);
    EXPECT_LT(highest, 0.5) << test::text_of(loop);
  }
}

TEST(Fluids, DownDivesUntilLetGo) {
  for (const JumpLoop& loop : test::all_loops({60})) {
    Visitor visitor(test::with_loop(pip(), loop), deep_pool(sap()), {0, -20});
    visitor.ticks(300, kDown);
    EXPECT_NEAR(visitor.character.velocity.y, -5, 1e-3) << test::text_of(loop);
    EXPECT_EQ(visitor.count(EventKind::fast_fell), 0);
    visitor.ticks(300, kNothing);
    const Rules rules = rules_of(pip());
    EXPECT_NEAR(visitor.character.velocity.y, (60 - rules.rise_gravity) / 3, 1e-3);
  }
}

// A stroke goes along any held direction, as fast as a jump of its height is launched; not sooner
// than its interval after the last; a press that comes too soon is remembered like any.
TEST(Fluids, Strokes) {
  struct Case {
    Controls held;
    Vec way;
  };
  const double half = std::sqrt(0.5);
  const Case cases[] = {{{0, 0, true, false}, {0, 1}},
                        {{0, 127, true, false}, {0, 1}},
                        {{127, 0, true, false}, {1, 0}},
                        {{-127, 127, true, false}, {-half, half}},
                        {{127, -127, true, false}, {half, -half}},
                        {{0, -127, true, false}, {0, -1}}};
  Tuning tuning = pip();
  tuning.jump.buffer = {4, Duration::Unit::ticks};
  tuning.jump.air_jumps.count = 2;
  const double speed = std::sqrt(2 * 0.9 * rules_of(tuning).rise_gravity);
  for (const Case& c : cases) {
    Visitor visitor(tuning, deep_pool(sap()), {0, -20});
    const Events events = visitor.tick(c.held);
    ASSERT_EQ(visitor.count(EventKind::jumped), 1);
    EXPECT_EQ(visitor.character.jump_kind, JumpKind::stroke);
    EXPECT_NEAR(events[0].value, speed * c.way.y, 1e-9);
  }
  // Pressed again in every second tick.
  Visitor visitor(tuning, deep_pool(sap()), {0, -200});
  for (int i = 0; i < 200; ++i) visitor.tick(i % 2 == 0 ? kJump : kNothing);
  std::int64_t last = -100;
  int strokes = 0;
  for (const Event& event : visitor.all) {
    if (event.kind != EventKind::jumped) continue;
    EXPECT_EQ(static_cast<JumpKind>(event.detail), JumpKind::stroke) << "no air jump here";
    EXPECT_GE(event.tick - last, 12);
    EXPECT_LE(event.tick - last, strokes == 0 ? 1000 : 13);
    last = event.tick;
    ++strokes;
  }
  EXPECT_GT(strokes, 14);
  const Visitor fresh(tuning, deep_pool(sap()), {0, -20});
  const Availability now = available(fresh.character, kNothing, fresh.book, fresh.world);
  EXPECT_EQ(now.kind, JumpKind::stroke);
}

// A leap rises as high as it is asked to from where it is taken, once the head is out; deeper down
// a press strokes.
void expect_exit_jump_of_its_height(const Tuning& tuning, double gravity_there) {
  Fluid fluid = sap();
  fluid.buoyancy = rules_of(tuning).rise_gravity + 15;
  Level level = deep_pool(fluid);
  level.zones[0].overrides = {scaled("jump.gravity", gravity_there)};
  Visitor visitor(tuning, level, {0, -20});
  while (!visitor.character.head_out) {
    const Explanation why = explain(visitor.character, kJump, visitor.book, visitor.world);
    ASSERT_EQ(why.of(Candidate::exit_jump).hurdle, Hurdle::under_water);
    ASSERT_TRUE(why.happens(Candidate::stroke));
    visitor.tick(kNothing);
  }
  // A body that comes up slowly: what it had of speed would count.
  visitor.character.velocity = {0, 0};
  const double from = visitor.character.feet.y;
  double most = -100;
  for (int i = 0; i < 200; ++i) {
    const bool rises = visitor.count(EventKind::apex) == 0;
    visitor.tick(kJump);
    if (rises) most = std::max(most, visitor.character.feet.y);
  }
  ASSERT_EQ(visitor.character.jump_kind, JumpKind::exit_jump);
  const JumpLoop loop = jump_loop(tuning);
  const double between = rules_of(tuning).rise_gravity / (loop.tick_rate * loop.tick_rate) / 8;
  const double stepped = loop.integrator == Integrator::exact ? between : 1e-9;
  EXPECT_NEAR(most - from, 1.8, stepped + 1e-9) << test::text_of(loop);
}

TEST(Fluids, ExitJumpsHaveAHeightOfTheirOwn) {
  for (const JumpLoop& loop : test::all_loops({50, 60, 144})) {
    for (const Hang& hang : {Hang{}, Hang{3, 0.4}, Hang{60, 0.5}}) {
      Tuning tuning = test::with_loop(pip(), loop);
      tuning.jump.hang = hang;
      // What pulls at a leap is not the gravity that is swum in.
      for (const double gravity_there : {1.0, 0.4}) {
        SCOPED_TRACE(gravity_there);
        expect_exit_jump_of_its_height(tuning, gravity_there);
      }
    }
  }
}

TEST(Fluids, CurrentsCarryAndFluidsRestore) {
  Fluid fluid = sap();
  fluid.current = {2, 0};
  fluid.restores = true;
  Visitor visitor(pip(), deep_pool(fluid), {0, -20});
  visitor.character.air_jumps_used = 1;
  visitor.character.dashes_used = 1;
  visitor.ticks(120, kNothing);
  EXPECT_NEAR(visitor.character.velocity.x, 2, 1e-9);
  EXPECT_EQ(visitor.character.air_jumps_used, 0);
  EXPECT_EQ(visitor.character.dashes_used, 0);
  visitor.ticks(120, kRight);
  EXPECT_NEAR(visitor.character.velocity.x, 2 + pip().run.top_speed, 1e-9);
  // Where down is to the left, its current is still the world's.
  Level level = deep_pool(fluid);
  level.zones[0].turning.to = Turning::To::direction;
  level.zones[0].turning.down = {-1, 0};
  Visitor turned(pip(), level, {0, -20});
  turned.ticks(240, kNothing);
  EXPECT_NEAR(turned.character.velocity.y, 0, 1e-3);
  EXPECT_NEAR(turned.character.velocity.x, 2 + (60 - rules_of(pip()).rise_gravity) / 3, 1e-3);
}

// Whoever stands on the bottom jumps as from any ground.
TEST(Fluids, OnTheBottomItStands) {
  Fluid fluid = sap();
  fluid.buoyancy = 0;
  Level level = deep_pool(fluid);
  level.solids = {{"bottom", {{-50, -12}, {50, -10}}}};
  Visitor visitor(pip(), level, {0, -10});
  EXPECT_TRUE(visitor.character.grounded());
  visitor.ticks(30, kRight);
  EXPECT_EQ(visitor.character.stance(), Stance::standing);
  EXPECT_NEAR(visitor.character.velocity.x, pip().run.top_speed, 1e-9);
  visitor.tick(kJump);
  EXPECT_EQ(visitor.character.jump_kind, JumpKind::ground);
  EXPECT_EQ(visitor.character.stance(), Stance::swimming);
}

}  // namespace
}  // namespace bushbaby
