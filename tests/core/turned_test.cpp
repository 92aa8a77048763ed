// Which way is up makes no difference: a character in a world that is turned, with its up turned
// too, does the same thing, turned.
#include <cmath>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/motion/pose.h"
#include "bushbaby/core/motion/why.h"

#include "situation.h"
#include "support.h"
#include "turned_world.h"

namespace bushbaby {
namespace {

using test::rules_of;
using test::Situation;
using test::Turn;
using test::TurnedWorld;

// A whole run in a world turned by quarters is the turned run, to the last bit, events included.
TEST(TurnedWorld, ByQuartersARunHasTheSameBits) {
  std::int64_t ticks = 0;
  for (std::uint32_t seed = 0; seed < 150; ++seed) {
    Situation situation(seed);
    const Rules rules = rules_of(situation.tuning);
    const LevelWorld world(situation.level, kNothingTravels);
    const auto start = situation.enter(rules, world);
    if (!start) continue;
    for (int quarters = 1; quarters < 4; ++quarters) {
      const Turn turn = Turn::by_quarters(quarters);
      const TurnedWorld turned(world, turn);
      Character a = *start;
      Character b;
      b.up = turn.of(Vec{0, 1});
      ASSERT_TRUE(place(b, turn.of(start->feet), rules, turned));
      for (const Controls& held : situation.controls) {
        const Explanation why = explain(b, held, rules, turned);
        for (const Trial& trial : explain(a, held, rules, world).trials) {
          ASSERT_EQ(trial.hurdle, why.of(trial.candidate).hurdle);
        }
        const Events ea = advance(a, held, rules, world);
        const Events eb = advance(b, held, rules, turned);
        ASSERT_EQ(turn.of(a), b) << "seed " << seed << ", tick " << a.tick;
        ASSERT_EQ(ea.size(), eb.size());
        for (std::size_t i = 0; i < ea.size(); ++i) {
          ASSERT_EQ(ea[i].kind, eb[i].kind);
          ASSERT_EQ(turn.of(ea[i].place), eb[i].place);
        }
        ++ticks;
      }
    }
  }
  EXPECT_GT(ticks, 200000);
}

bool is_near(Vec a, Vec b, double within) {
  return std::abs(a.x - b.x) < within && std::abs(a.y - b.y) < within;
}

// From wherever a run comes to, the tick in a world turned by any angle is the turned tick.
TEST(TurnedWorld, ByAnyAngleATickIsTheTurnedTick) {
  std::int64_t ticks = 0;
  for (std::uint32_t seed = 0; seed < 250; ++seed) {
    Situation situation(seed);
    if (seed % 2 == 1) situation.tuning.body.shape = BodyShape::capsule;
    // Of solids that begin at one place, a rounding would say which is met first.
    for (Solid& solid : situation.level.solids) {
      solid.box.lo -= Vec{situation.uniform(0, 0.2), situation.uniform(0, 0.2)};
      solid.box.hi += Vec{situation.uniform(0, 0.2), situation.uniform(0, 0.2)};
    }
    const Rules rules = rules_of(situation.tuning);
    const LevelWorld world(situation.level, kNothingTravels);
    const auto start = situation.enter(rules, world);
    if (!start) continue;
    Character runner = *start;
    for (const Controls& held : situation.controls) {
      // Near there: not just at the edge of what counts as near, where a rounding decides.
      Character a = runner;
      a.feet += Vec{situation.uniform(-1e-5, 1e-5), situation.uniform(-1e-5, 1e-5)};
      a.velocity.x *= situation.uniform(0.999, 1);
      const Turn turn = Turn::by(situation.uniform(0, 2 * M_PI));
      Character b = turn.of(a);
      (void)advance(a, held, rules, world);
      (void)advance(b, held, rules, TurnedWorld(world, turn));
      const double same = 1e-9 * (1 + std::abs(a.velocity.x) + std::abs(a.velocity.y));
      ASSERT_TRUE(is_near(turn.back(b.feet), a.feet, same)) << "seed " << seed << ", " << a.tick;
      ASSERT_TRUE(is_near(turn.back(b.velocity), a.velocity, same))
          << "seed " << seed << ", " << a.tick;
      ASSERT_EQ(a.ground.reason, b.ground.reason) << "seed " << seed << ", " << a.tick;
      ASSERT_EQ(a.wall, b.wall) << "seed " << seed << ", " << a.tick;
      (void)advance(runner, held, rules, world);
      ++ticks;
    }
  }
  EXPECT_GT(ticks, 100000);
}

// A body that stands on the slope of a turned world stays where it is for good.
TEST(TurnedWorld, NobodyCreeps) {
  const Rules rules = rules_of(test::pip());
  const LevelWorld level(std::vector<Box>{{{-50, -2}, {50, 0}}});
  for (const double angle : {0.1, 1.0, 2.5, 4.0, 5.5}) {
    const Turn turn = Turn::by(angle);
    const TurnedWorld world(level, turn);
    Character character;
    character.up = turn.of(Vec{0, 1});
    ASSERT_TRUE(place(character, turn.of(Vec{3, 0.0001}), rules, world));
    ASSERT_TRUE(character.grounded());
    const Vec feet = character.feet;
    for (int i = 0; i < 20000; ++i) (void)advance(character, {}, rules, world);
    EXPECT_EQ(character.feet, feet) << angle;
    EXPECT_TRUE(character.grounded());
  }
}

// Questions from outside are answered for a body that stands along any up.
TEST(TurnedWorld, QuestionsAndPushesFollowTheBody) {
  const LevelWorld level(std::vector<Box>{{{-5, -2}, {5, 0}}});
  const Turn turn = Turn::by(2);
  const TurnedWorld world(level, turn);
  const Shape body = Box{{-0.4, 0}, {0.4, 1.4}};
  const Vec up = turn.of(Vec{0, 1});
  const Contact contact = cast(world, {body, turn.of(Vec{1, 2}), turn.of(Vec{0, -4}), up, 0});
  EXPECT_NEAR(contact.fraction, 0.5, 1e-12);
  EXPECT_TRUE(is_near(contact.normal, up, 1e-12));
  const Overlap lies = overlap(world, body, turn.of(Vec{1, -0.25}), 0, up);
  EXPECT_NEAR(lies.depth, 0.25, 1e-12);
  EXPECT_TRUE(is_near(lies.normal, up, 1e-12));
  EXPECT_EQ(overlap(world, body, turn.of(Vec{1, 0.25}), 0, up).surface, kNoSurface);

  Character character;
  character.up = up;
  character.feet = turn.of(Vec{1, 3});
  push(character, {{3, 5}, PushFrame::source}, turn.of(Vec{2, 3}), rules_of(test::pip()));
  EXPECT_TRUE(is_near(character.velocity, turn.of(Vec{-3, 5}), 1e-12));
  EXPECT_TRUE(is_near(pose_between(character, character, 0.5).up, up, 1e-12));
}

}  // namespace
}  // namespace bushbaby
