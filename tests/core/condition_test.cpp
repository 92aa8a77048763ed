// Surfaces that are solid at times: what statements come to, and what it means for a body.
#include "bushbaby/core/world/condition.h"

#include <cmath>

#include <gtest/gtest.h>

#include "situation.h"
#include "visitor.h"

namespace bushbaby {
namespace {

using test::kDown;
using test::kJump;
using test::kNothing;
using test::kRight;
using test::pip;
using test::rules_of;
using test::Situation;
using Kind = Condition::Kind;

constexpr double kAny = std::numeric_limits<double>::infinity();

Condition::Node says(Stated of, double at_least, double at_most = kAny) {
  return {Kind::statement, 1, {of, at_least, at_most}};
}
Condition::Node group(Kind kind, std::uint32_t size) { return {kind, size, {}}; }

// What a tree comes to, and which statement decided.
TEST(Conditions, TheFirstStatementThatMakesItSoDecides) {
  const Condition::Node yes = says(Stated::height, 0);
  const Condition::Node no = says(Stated::height, 100);
  struct Case {
    std::vector<Condition::Node> nodes;
    bool holds;
    std::size_t by;
  };
  const Case cases[] = {
      {{}, true, 0},
      {{yes}, true, 0},
      {{no}, false, 0},
      {{group(Kind::no, 2), no}, true, 1},
      {{group(Kind::all, 3), yes, yes}, true, 2},
      {{group(Kind::all, 4), yes, no, no}, false, 2},
      {{group(Kind::any, 4), no, yes, yes}, true, 2},
      {{group(Kind::any, 3), no, no}, false, 2},
      {{group(Kind::all, 6), yes, group(Kind::any, 3), no, yes, yes}, true, 5},
      {{group(Kind::all, 6), yes, group(Kind::any, 3), no, no, yes}, false, 4},
      {{group(Kind::no, 4), group(Kind::any, 3), no, no}, true, 3},
  };
  BodyState body;
  for (const Case& c : cases) {
    const Condition condition{c.nodes};
    ASSERT_TRUE(is_well_formed(condition));
    const Decision decision = decide(condition, body, 1);
    EXPECT_EQ(decision.holds, c.holds);
    EXPECT_EQ(decision.node, c.by);
  }
  const std::vector<std::vector<Condition::Node>> crooked{
      {group(Kind::all, 1)},          {group(Kind::all, 3), yes},
      {group(Kind::no, 3), yes, yes}, {yes, yes},
      {group(Kind::any, 0), yes},     {{Kind::statement, 2, {}}, yes},
      {group(Kind::all, 2), yes, no}, {group(Kind::all, 3), group(Kind::any, 3), yes}};
  for (const auto& nodes : crooked) EXPECT_FALSE(is_well_formed({nodes}));
}

TEST(Conditions, EachQuantityIsThatOfTheBody) {
  BodyState body;
  body.velocity = {3, -4};
  body.held_horizontal = -1;
  body.held_vertical = 1;
  body.stance = static_cast<int>(Stance::dashing);
  body.zones[0] = 2;
  const auto value = [&body](Stated of, double bound) {
    return decide({{says(of, bound)}}, body, 7).value;
  };
  EXPECT_EQ(value(Stated::height, 0), 7);
  EXPECT_EQ(value(Stated::speed_horizontal, 0), 3);
  EXPECT_EQ(value(Stated::speed_vertical, 0), -4);
  EXPECT_EQ(value(Stated::held_horizontal, 0), -1);
  EXPECT_EQ(value(Stated::held_vertical, 0), 1);
  EXPECT_EQ(value(Stated::stance, 0), static_cast<int>(Stance::dashing));
  EXPECT_EQ(value(Stated::zone, 2), 1);
  EXPECT_EQ(value(Stated::zone, 3), 0);
}

// A leaf above a floor.
Level leaf_level(std::vector<Condition::Node> nodes) {
  Level level = test::floor_with({});
  Solid leaf{"leaf", {{-3, 5}, {3, 5.5}}};
  leaf.solid_when.nodes = std::move(nodes);
  level.solids.push_back(leaf);
  return level;
}

// Where a body that falls on to the leaf from so high comes to stand, with that held.
double lands_at(const Level& level, const Tuning& tuning, double drop, const Controls& held = {}) {
  const Rules rules = rules_of(tuning);
  const LevelWorld world(level, kNothingTravels);
  Character character;
  EXPECT_TRUE(place(character, {0, 5.5 + drop}, rules, world));
  for (int i = 0; i < 400; ++i) (void)advance(character, held, rules, world);
  EXPECT_TRUE(character.grounded());
  return std::round(character.feet.y * 10) / 10;
}

TEST(Conditions, ALeafHoldsWhoeverLandsSlowly) {
  const Level level = leaf_level({says(Stated::speed_vertical, -8)});
  for (const JumpLoop& loop : test::all_loops({60, 144})) {
    const Tuning tuning = test::with_loop(pip(), loop);
    const double fall = rules_of(tuning).fall_gravity;
    // The speed of the tick before the landing counts.
    const double tick = fall / loop.tick_rate;
    const auto drop_to = [fall](double speed) { return speed * speed / (2 * fall); };
    EXPECT_EQ(lands_at(level, tuning, drop_to(8 - tick)), 5.5) << test::text_of(loop);
    EXPECT_EQ(lands_at(level, tuning, drop_to(8 + 3 * tick)), 0) << test::text_of(loop);
  }
}

TEST(Conditions, WhatIsHeldStancesHeightsAndZonesCount) {
  EXPECT_EQ(
      lands_at(leaf_level({group(Kind::no, 2), says(Stated::held_vertical, -1, -1)}), pip(), 1),
      5.5);
  EXPECT_EQ(lands_at(leaf_level({group(Kind::no, 2), says(Stated::held_vertical, -1, -1)}), pip(),
                     1, kDown),
            0);
  EXPECT_EQ(lands_at(leaf_level({says(Stated::height, 0)}), pip(), 1), 5.5) << "a platform";
  EXPECT_EQ(lands_at(leaf_level({says(Stated::height, 50)}), pip(), 1), 0);
  const double standing = static_cast<double>(Stance::standing);
  EXPECT_EQ(lands_at(leaf_level({says(Stated::stance, standing, standing)}), pip(), 1), 0);

  Level level = leaf_level({says(Stated::zone, 0)});
  level.zones.push_back(test::zone_of({{-1, 5}, {9, 20}}));
  for (const double x : {0.0, -2.0}) {
    test::Visitor visitor(pip(), level, {x, 7});
    visitor.ticks(200, kNothing);
    EXPECT_EQ(visitor.character.ground.surface, x == 0 ? 1U : 0U);
  }
}

// A surface that turns solid while a body is in it lets it out, however long that takes; then it
// holds again.
TEST(Conditions, NobodyIsPoppedUp) {
  for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
    Tuning tuning = pip();
    tuning.body.shape = shape;
    const Rules rules = rules_of(tuning);
    const LevelWorld world(leaf_level({says(Stated::held_vertical, 0)}), kNothingTravels);
    Character character;
    ASSERT_TRUE(place(character, {0, 5.5}, rules, world));
    ASSERT_TRUE(character.grounded());
    // Down for a moment: it has sunk in when down is released, and falls on.
    for (int i = 0; i < 5; ++i) (void)advance(character, kDown, rules, world);
    ASSERT_LT(character.feet.y, 5.5);
    ASSERT_GT(character.feet.y, 5);
    double before = character.feet.y;
    for (int i = 0; i < 60; ++i) {
      (void)advance(character, kNothing, rules, world);
      EXPECT_LE(character.feet.y, before);
      before = character.feet.y;
    }
    EXPECT_NEAR(character.feet.y, 0, 0.001);
    for (int i = 0; i < 25; ++i) (void)advance(character, kJump, rules, world);
    EXPECT_LE(character.feet.y, 5 - tuning.body.height + 0.001) << "from below it is solid too";
  }
}

// Among solids of all kinds that come and go with what the body does: it is never in one that is
// always there, and never moved by more than its own speed.
TEST(Conditions, HoldOverHundredsOfThousandsOfTicks) {
  std::int64_t ticks = 0;
  std::int64_t stood = 0;
  const std::uint32_t most = test::kSlow ? 40 : 600;
  for (std::uint32_t seed = 0; seed < most; ++seed) {
    Situation situation(seed);
    situation.tuning.jump.corner_nudge = situation.tuning.run.ledge_lift = 0;
    situation.tuning.run.slope.stick_depth.reset();
    if (seed % 3 == 1) situation.tuning.body.shape = BodyShape::capsule;
    Level always = situation.level;
    always.solids.clear();
    for (Solid& solid : situation.level.solids) {
      const bool conditional = &solid != &situation.level.solids[0] && situation.one_in(2);
      if (!conditional) {
        always.solids.push_back(solid);
        continue;
      }
      const Condition::Node statements[] = {
          says(Stated::speed_vertical, situation.uniform(-20, 5)),
          says(Stated::speed_horizontal, -kAny, situation.uniform(-5, 15)),
          says(Stated::held_horizontal, 0), says(Stated::held_vertical, -1, 0),
          says(Stated::height, situation.uniform(-1, 1))};
      solid.solid_when.nodes = {group(situation.one_in(2) ? Kind::all : Kind::any, 3),
                                statements[situation.random() % 5],
                                statements[situation.random() % 5]};
    }
    const Rules rules = rules_of(situation.tuning);
    const LevelWorld world(situation.level, kNothingTravels);
    const LevelWorld fixed(always, kNothingTravels);
    // An account of the conditions, from docs/model.md: as things are at the start of the tick.
    const auto states = [&](const Solid& solid, const Character& c, const Controls& held) {
      const auto sign = [](int d) { return d >= kHeldStep ? 1 : d <= -kHeldStep ? -1 : 0; };
      const auto holds = [&](const Statement& s) {
        const double values[] = {c.feet.y - solid.box.hi.y, static_cast<double>(sign(held.x)),
                                 static_cast<double>(sign(held.y)), c.velocity.x, c.velocity.y};
        const double value = values[static_cast<int>(s.of)];
        return value >= s.at_least && value <= s.at_most;
      };
      const auto& nodes = solid.solid_when.nodes;
      const bool first = holds(nodes[1].statement);
      const bool second = holds(nodes[2].statement);
      return nodes[0].kind == Kind::all ? first && second : first || second;
    };
    const auto entered = situation.enter(rules, world);
    if (!entered) continue;
    Character character = *entered;
    Character again = character;
    for (const Controls& held : situation.controls) {
      const Character before = character;
      (void)advance(character, held, rules, world);
      ASSERT_LT(overlap(fixed, rules.body, character.feet, 0).depth, 1e-9)
          << "seed " << seed << ", tick " << character.tick;
      const Vec way = character.feet - before.feet;
      const double gained = rules.dt * 1000 + rules.launch_speed + rules.dash_speed + 60;
      const double fastest = std::hypot(before.velocity.x, before.velocity.y) +
                             std::hypot(character.velocity.x, character.velocity.y) + gained +
                             rules.top_speed;
      ASSERT_LE(std::hypot(way.x, way.y), fastest * rules.dt + 2 * rules.flush_gap)
          << "seed " << seed << ", tick " << character.tick;
      if (character.grounded()) {
        const Solid& under = situation.level.solids[character.ground.surface];
        if (!under.solid_when.nodes.empty()) {
          ASSERT_TRUE(states(under, before, held))
              << "seed " << seed << ", tick " << character.tick;
          ++stood;
        }
      }
      (void)advance(again, held, rules, world);
      ASSERT_EQ(again, character);
      ++ticks;
    }
  }
  EXPECT_GT(ticks, test::kSlow ? 10000 : 300000);
  EXPECT_GT(stood, test::kSlow ? 200 : ticks / 100);
}

}  // namespace
}  // namespace bushbaby
