// Solids that stop what comes from one side, and dropping through them: by hand, and against
// accounts of their own.
#include <algorithm>
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/outside.h"

#include "situation.h"
#include "support.h"

namespace bushbaby {
namespace {

using test::kJump;
using test::kNothing;
using test::kRight;
using test::Mover;
using test::rules_of;

using test::kDown;
constexpr Controls kDownJump{0, -127, true, false};

Solid one_way(std::vector<Vec> corners, Blocks blocks = Blocks::from_above) {
  Solid solid;
  solid.corners = std::move(corners);
  solid.is_line = true;
  solid.blocks = blocks;
  return solid;
}

Solid one_way_box(const Box& box, Blocks blocks = Blocks::from_above) {
  Solid solid;
  solid.box = box;
  solid.blocks = blocks;
  return solid;
}

Level level_of(std::vector<Solid> solids) {
  Level level;
  level.solids = std::move(solids);
  return level;
}

// ---- what stops and what does not ---------------------------------------------------------------

TEST(OneWay, StopsWhatComesFromItsSideAndNothingElse) {
  struct Case {
    const char* what;
    Blocks blocks;
    Vec from, move;
    bool met;
  };
  constexpr Box kBody{{-0.5, 0}, {0.5, 2}};
  // Each of them against a thick platform of 4 by 2 u with its lower left corner at the origin.
  const Case cases[] = {
      {"down on it", Blocks::from_above, {2, 4}, {0, -9}, true},
      {"up through it", Blocks::from_above, {2, -9}, {0, 20}, false},
      {"from the left", Blocks::from_above, {-4, 0}, {9, 0}, false},
      {"slantwise on its top", Blocks::from_above, {-1, 4}, {4, -4}, true},
      {"slantwise into its side", Blocks::from_above, {-4, 1.9}, {4, -1}, false},
      {"down, from within", Blocks::from_above, {2, 1}, {0, -9}, false},
      {"down, from under its top", Blocks::from_above, {2, 1.99}, {0, -9}, false},
      {"standing on it, pressed down", Blocks::from_above, {2, 2}, {0, -1}, true},
      {"along its top", Blocks::from_above, {-2, 2}, {9, 0}, false},
      {"up against it", Blocks::from_below, {2, -9}, {0, 20}, true},
      {"down through it", Blocks::from_below, {2, 4}, {0, -9}, false},
      {"from the left, met", Blocks::from_left, {-4, 0}, {9, 0}, true},
      {"from the right, through", Blocks::from_left, {9, 0}, {-9, 0}, false},
      {"down through a door", Blocks::from_left, {2, 4}, {0, -9}, false},
      {"from the right, met", Blocks::from_right, {9, 0}, {-9, 0}, true},
  };
  for (const Case& c : cases) {
    const LevelWorld world(level_of({one_way_box({{0, 0}, {4, 2}}, c.blocks)}), kNothingTravels);
    EXPECT_EQ(cast(world, {kBody, c.from, c.move, {0, 1}, 0}).met(), c.met) << c.what;
    EXPECT_EQ(overlap(world, kBody, {2, 1}, 0).surface, kNoSurface) << "it may be within";
  }
}

// How far a body lies beyond a solid along the normals of both: those that face the side that
// stops, and all others.
struct Gaps {
  double stopping = -1e300;
  double other = -1e300;
};

double least_along(const std::vector<Vec>& points, Vec axis) {
  double least = 1e300;
  for (const Vec p : points) least = std::min(least, p.x * axis.x + p.y * axis.y);
  return least;
}

Gaps gaps_of(const Box& body, Vec feet, const Solid& solid) {
  const std::vector<Vec> shape = {body.lo + feet, Vec{body.hi.x, body.lo.y} + feet, body.hi + feet,
                                  Vec{body.lo.x, body.hi.y} + feet};
  std::vector<Vec> normals{{0, 1}, {0, -1}, {1, 0}, {-1, 0}};
  for (std::size_t i = 0; i < solid.corners.size(); ++i) {
    const Vec edge = solid.corners[(i + 1) % solid.corners.size()] - solid.corners[i];
    const double length = std::hypot(edge.x, edge.y);
    normals.emplace_back(edge.y / length, -edge.x / length);
  }
  const Vec side = side_of(solid.blocks);
  Gaps gaps;
  for (const Vec normal : normals) {
    const double gap = least_along(shape, normal) + least_along(solid.corners, -normal);
    double& best = normal.x * side.x + normal.y * side.y > 1e-9 ? gaps.stopping : gaps.other;
    best = std::max(best, gap);
  }
  return gaps;
}

// Straight ways against convex solids of one side: until the contact that is reported, and all the
// way if none is, no body comes in from the side that stops; and what is reported is such a
// contact.
TEST(OneWay, CastsAgreeWithFineSteps) {
  std::mt19937_64 random(5);
  const auto between = [&random](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  int met = 0;
  int passed = 0;
  for (int round = 0; round < (test::kSlow ? 2000 : 40000); ++round) {
    const int count = 2 + static_cast<int>(random() % 5);
    const double turn = between(0, 2 * M_PI);
    Solid solid;
    for (int i = 0; i < count; ++i) {
      const double angle = turn + (i + between(0, 0.5)) * 2 * M_PI / count;
      solid.corners.emplace_back(2 * std::cos(angle), 1.2 * std::sin(angle));
    }
    solid.blocks = static_cast<Blocks>(1 + random() % 4);
    const double half = between(0.1, 1);
    const Box body{{-half, 0}, {half, between(0.2, 2)}};
    const Vec from{between(-5, 5), between(-5, 5)};
    const Vec move = (Vec{between(-2, 2), between(-2, 2)} - from) * between(0.2, 2);
    const Contact contact =
        cast(LevelWorld(level_of({solid}), kNothingTravels), {body, from, move, {0, 1}, 0});
    const double until = contact.met() ? contact.fraction : 1;
    constexpr int kSamples = 400;
    const double noise = 1e-9;
    Gaps before = gaps_of(body, from, solid);
    if (std::abs(std::max(before.stopping, before.other)) < 1e-6) continue;
    for (int i = 1; i <= kSamples; ++i) {
      const Gaps now = gaps_of(body, from + move * (until * i / kSamples), solid);
      const bool comes_in = std::max(before.stopping, before.other) >= 0 && now.stopping < -noise &&
                            now.other < -noise;
      if (comes_in) {
        // Through a corner in one step it may be either.
        ASSERT_FALSE(before.stopping >= 0 && before.other < 0) << "round " << round;
        ++passed;
      }
      before = now;
    }
    if (!contact.met()) continue;
    ++met;
    ASSERT_NEAR(before.stopping, 0, 1e-8) << "round " << round;
    ASSERT_LT(before.other, 1e-8) << "round " << round;
    const Vec side = side_of(solid.blocks);
    ASSERT_GT(contact.normal.x * side.x + contact.normal.y * side.y, 0) << "round " << round;
  }
  EXPECT_GT(met, 300);
  EXPECT_GT(passed, 300);
}

// ---- in motion ----------------------------------------------------------------------------------

struct AtEveryLoop : ::testing::TestWithParam<JumpLoop> {
  [[nodiscard]] Tuning tuning() const { return test::with_loop(test::pip(), GetParam()); }
};

INSTANTIATE_TEST_SUITE_P(Loops, AtEveryLoop,
                         ::testing::ValuesIn(test::all_loops({30, 60, 240, 2000})),
                         [](const auto& loop) { return "loop" + std::to_string(loop.index); });

TEST_P(AtEveryLoop, JumpsUpThroughAPlatformAndLandsOnIt) {
  const LevelWorld world(level_of({{"floor", {{-9, -1}, {9, 0}}}, one_way({{-2, 2}, {2, 2.5}})}),
                         kNothingTravels);
  const Rules rules = rules_of(tuning());
  Mover pip(rules, world, {0, 0});
  pip.advance(kJump, static_cast<int>(1.5 * rules.tick_rate));
  EXPECT_TRUE(pip.all(EventKind::bumped_head).empty());
  EXPECT_TRUE(pip.all(EventKind::wall_touched).empty());
  ASSERT_EQ(pip.all(EventKind::landed).size(), 1U);
  EXPECT_EQ(pip.all(EventKind::landed)[0].surface, 1U);
  EXPECT_NEAR(pip.character.feet.y, 2.25 + 0.5 / 4 * rules.body.box.hi.x, 2 * rules.flush_gap);
}

TEST_P(AtEveryLoop, DropsThroughTheOneItStandsOnAndNoOther) {
  Tuning falls = tuning();
  std::vector<Solid> stack{{"floor", {{-9, -1}, {9, 0}}}};
  for (int i = 1; i <= 4; ++i) stack.push_back(one_way({{-2, i * 1.5}, {0.1, i * 1.5}}));
  // Two abut where the body stands, and a thick one lies on the third.
  for (int i = 1; i <= 4; ++i) stack.push_back(one_way({{0.1, i * 1.5}, {2, i * 1.5}}));
  stack[3] = one_way_box({{-2, 4.2}, {0.1, 4.5}});
  const LevelWorld world(level_of(stack), kNothingTravels);
  for (const DropBy by : {DropBy::down, DropBy::down_jump}) {
    falls.drop.by = by;
    const Rules rules = rules_of(falls);
    const Controls press = by == DropBy::down ? kDown : kDownJump;
    Mover pip(rules, world, {0, 6});
    const int second = static_cast<int>(rules.tick_rate);
    for (int level = 3; level >= 0; --level) {
      pip.events.clear();
      pip.advance(press, second);  // held on: one platform, not the whole stack
      ASSERT_TRUE(pip.character.grounded());
      EXPECT_NEAR(pip.character.feet.y, level * 1.5, rules.flush_gap) << level;
      ASSERT_EQ(pip.all(EventKind::left_ground).size(), 1U);
      EXPECT_EQ(detail_of(pip.all(EventKind::left_ground)[0]), "dropped");
      EXPECT_TRUE(pip.all(EventKind::jumped).empty());
      pip.advance(kNothing, 2);
    }
    pip.events.clear();
    pip.advance(kDown, 2);
    EXPECT_TRUE(pip.character.grounded()) << "the floor lets nothing through";
  }
}

// A sagging line is one platform, whichever of its pieces the body touches.
TEST_P(AtEveryLoop, DropsThroughAllOfASaggingLine) {
  for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
    Tuning falls = tuning();
    falls.body.shape = shape;
    falls.drop.by = DropBy::down;
    const Rules rules = rules_of(falls);
    const LevelWorld world(level_of({{"floor", {{-9, -1}, {9, 0}}},
                                     one_way({{-2, 3.4}, {-0.3, 3.02}, {0.3, 3}, {2, 3.3}})}),
                           kNothingTravels);
    for (double x = -1.5; x < 1.5; x += 0.07) {
      Mover pip(rules, world, {x, 3.7});
      pip.advance(kNothing, static_cast<int>(rules.tick_rate / 2));
      ASSERT_TRUE(pip.character.grounded() && pip.character.feet.y > 2.9) << x;
      pip.events.clear();
      pip.advance(kDown, static_cast<int>(rules.tick_rate));
      EXPECT_TRUE(pip.all(EventKind::wall_touched).empty()) << x;
      ASSERT_EQ(pip.all(EventKind::landed).size(), 1U) << x;
      EXPECT_EQ(pip.all(EventKind::landed)[0].surface, 0U) << x;
    }
  }
}

TEST_P(AtEveryLoop, RunsFromTheFloorOnToAPlatformAndBackWithoutAStep) {
  const Rules rules = rules_of(tuning());
  for (const double step : {0.0, 1e-12, -1e-12, 0.9, -0.9}) {
    const double height = step == 0.9 || step == -0.9 ? step * rules.flush_gap : step;
    const LevelWorld world(level_of({{"floor", {{-30, -1}, {0, 0}}},
                                     one_way_box({{0, -0.2}, {3, height}}),
                                     one_way({{3, height}, {6, height}}),
                                     {"floor", {{6, -1}, {40, 0}}}}),
                           kNothingTravels);
    Mover pip(rules, world, {-4, 0});
    const int ticks = static_cast<int>(3 * rules.tick_rate);
    for (int i = 0; i < ticks; ++i) {
      pip.advance(kRight);
      ASSERT_TRUE(pip.character.grounded()) << step << ", tick " << i;
    }
    EXPECT_GT(pip.character.feet.x, 7) << step;
    EXPECT_EQ(pip.character.velocity.x, rules.top_speed) << step;
    const int back = static_cast<int>(4 * rules.tick_rate);
    for (int i = 0; i < back; ++i) {
      pip.advance(test::kLeft);
      ASSERT_TRUE(pip.character.grounded()) << step << ", back, tick " << i;
    }
    EXPECT_LT(pip.character.feet.x, -3) << step;
  }
}

// Straight up and down among platforms, pushed about vertically: what lay under the feet at the
// start of a tick still does at its end, unless the body was just let through it.
TEST(OneWay, NothingFallsThroughWhatItWasAbove) {
  std::mt19937_64 random(9);
  const auto between = [&random](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  std::int64_t ticks = 0;
  int drops = 0;
  int caught = 0;
  for (int round = 0; round < (test::kSlow ? 40 : 600); ++round) {
    std::vector<Solid> solids{{"floor", {{-50, -1}, {50, 0}}}};
    for (int i = 0; i < 12; ++i) {
      const Vec at{between(-3, 3), between(0.2, 9)};
      const Vec half{between(0.5, 3), between(-0.6, 0.6)};
      solids.push_back(random() % 3 == 0 ? one_way_box({at, at + Vec{2, 0.01 + std::abs(half.y)}})
                                         : one_way({at - half, at + half}));
      Solid& last = solids.back();
      if (last.corners.empty()) {
        last.corners = {last.box.lo,
                        {last.box.hi.x, last.box.lo.y},
                        last.box.hi,
                        {last.box.lo.x, last.box.hi.y}};
      }
    }
    const LevelWorld world(level_of(solids), kNothingTravels);
    const double rates[] = {30, 60, 144, 1000};
    Tuning tuning = test::with_loop(
        test::pip(), {test::all_integrators()[random() % 4], rates[random() % 4], true});
    tuning.drop.by = random() % 2 == 0 ? DropBy::down : DropBy::down_jump;
    const Rules rules = rules_of(tuning);
    Character character;
    if (!place(character, {between(-3, 3), between(0, 11)}, rules, world)) continue;
    Controls held;
    for (int tick = 0; tick < 500; ++tick) {
      if (random() % 15 == 0) {
        held = {0, static_cast<std::int8_t>(random() % 3 == 0 ? -127 : 0), random() % 3 == 0,
                false};
      }
      if (random() % 80 == 0) character.velocity.y = between(-200, 60);
      character.velocity.x = 0;
      const Character before = character;
      const Events events = advance(character, held, rules, world);
      ++ticks;
      const bool dropping = character.drop_left > 0 || before.drop_left > 0 ||
                            std::any_of(events.begin(), events.end(), [](const Event& event) {
                              return detail_of(event) == "dropped";
                            });
      drops += dropping && before.drop_left == 0 ? 1 : 0;
      for (std::size_t i = 1; i < solids.size(); ++i) {
        const Gaps was = gaps_of(rules.body.box, before.feet, solids[i]);
        const Gaps now = gaps_of(rules.body.box, character.feet, solids[i]);
        if (was.stopping < 0 || was.other > -2 * rules.flush_gap) continue;
        const Vec from = before.drop_left > 0 ? before.drop_from : before.feet;
        const double below = gaps_of(rules.body.box, from, solids[i]).stopping;
        if (dropping && below <= 2 * rules.flush_gap) continue;
        if (now.other >= 0) continue;  // it slid off its end
        ASSERT_GT(now.stopping, -rules.flush_gap / 4)
            << "round " << round << ", tick " << character.tick << ", solid " << i;
        caught += now.stopping < rules.flush_gap ? 1 : 0;
      }
    }
  }
  EXPECT_GT(ticks, test::kSlow ? 10000 : 200000);
  EXPECT_GT(drops, test::kSlow ? 20 : 400);
  EXPECT_GT(caught, test::kSlow ? 500 : 10000);
}

// ---- who wins -----------------------------------------------------------------------------------

// On a platform over a floor.
struct OnALiana {
  explicit OnALiana(Tuning t, DropBy by = DropBy::down) : tuning(std::move(t)) {
    tuning.drop.by = by;
    rules = rules_of(tuning);
  }

  [[nodiscard]] std::string why(const Character& character, const Controls& held,
                                Candidate candidate = Candidate::drop) const {
    return test::consider_text(character, held, rules, world, candidate);
  }

  Tuning tuning;
  Rules rules;
  LevelWorld world{
      level_of(
          {{"floor", {{-9, -1}, {9, 0}}}, one_way({{-2, 4}, {2, 4}}), {"bark", {{2, 3}, {5, 4}}}}),
      kNothingTravels};
};

TEST(Drop, ComesBeforeEverythingThatTheSamePressCouldDo) {
  Tuning moves = test::pip();
  moves.fall.fast.speed = 20;
  moves.jump.air_jumps.count = 1;
  moves.jump.coyote = {7, Duration::Unit::ticks};
  moves.jump.buffer = {7, Duration::Unit::ticks};
  const OnALiana by_down(moves);
  Mover pip(by_down.rules, by_down.world, {0, 4});
  EXPECT_EQ(by_down.why(pip.character, kDown), "drop through (drop.by)");
  EXPECT_EQ(by_down.why(pip.character, kDown, Candidate::fast_fall),
            "no fast fall: another action took it");
  pip.advance(kDown);
  EXPECT_FALSE(pip.character.fast_falling);
  EXPECT_EQ(by_down.why(pip.character, kDownJump, Candidate::coyote_jump),
            "no coyote jump: the ground was dropped through");
  EXPECT_EQ(by_down.why(pip.character, kDownJump, Candidate::drop),
            "no drop through: nothing pressed triggers it");
  // A new press in the air is a fast fall again.
  pip.advance(kNothing);
  pip.advance(kDown);
  EXPECT_TRUE(pip.character.fast_falling);

  const OnALiana by_both(moves, DropBy::down_jump);
  Mover dorro(by_both.rules, by_both.world, {0, 4});
  dorro.advance(kDown, 3);
  EXPECT_TRUE(dorro.character.grounded()) << "down alone asks for nothing";
  const Availability now = available(dorro.character, kDown, by_both.rules, by_both.world);
  EXPECT_FALSE(now.possible);
  EXPECT_EQ(describe(now.trial), "no ground jump: the press drops through the platform");
  EXPECT_TRUE(available(dorro.character, kNothing, by_both.rules, by_both.world).possible);
  EXPECT_EQ(by_both.why(dorro.character, kDownJump, Candidate::air_jump),
            "no air jump: another action took it");
  dorro.advance(kDownJump);
  EXPECT_TRUE(dorro.all(EventKind::jumped).empty());
  EXPECT_EQ(dorro.character.air_jumps_used, 0);
  EXPECT_EQ(dorro.character.buffer_left, 0);
  // A press that is remembered counts at the landing.
  Mover falls(by_both.rules, by_both.world, {0, 4.35});
  falls.character.air_jumps_used = 1;
  falls.advance(kDown);
  for (int i = 0; i < 30 && falls.all(EventKind::left_ground).empty(); ++i) {
    const bool near = falls.character.feet.y < 4.2;
    falls.advance(near ? kDownJump : kDown);
  }
  ASSERT_EQ(falls.all(EventKind::left_ground).size(), 1U);
  EXPECT_EQ(detail_of(falls.all(EventKind::left_ground)[0]), "dropped");
  EXPECT_EQ(falls.all(EventKind::landed).size(), 1U);
}

TEST(Drop, IsRefusedWithAReason) {
  Tuning moves = test::pip();
  moves.dash.charges = 1;
  moves.dash.distance = 2;
  moves.dash.time = Duration{0.2};
  const OnALiana stage(moves);
  Mover pip(stage.rules, stage.world, {2, 4});  // one foot on the bark
  EXPECT_EQ(describe(explain(pip.character, kDown, stage.rules, stage.world).of(Candidate::drop),
                     "\"bark\""),
            "no drop through: \"bark\" lets nothing through");
  Mover on(stage.rules, stage.world, {0, 4});
  Character stunned = on.character;
  set_status(stunned, StatusKind::stun, {9});
  EXPECT_EQ(stage.why(stunned, kDown), "no drop through: locked by stun for another 9 ticks");
  on.advance({127, 0, false, true});
  EXPECT_EQ(stage.why(on.character, kDown), "no drop through: dashing");
  Mover in_air(stage.rules, stage.world, {0, 5});
  EXPECT_EQ(stage.why(in_air.character, kDown), "no drop through: not grounded");
  const OnALiana without(test::pip(), DropBy::nothing);
  Mover still(without.rules, without.world, {0, 4});
  EXPECT_EQ(without.why(still.character, kDown), "no drop through: off in the tuning (drop.by)");
}

TEST(Drop, ItsWindowIsOverInTime_AndAJumpOrALandingEndsIt) {
  Tuning slow = test::pip();
  slow.jump.coyote_gravity = 1;
  slow.fall.factor = 0.001;  // so slow that it is still over the platform when the window closes
  slow.drop.window = {3, Duration::Unit::ticks};
  OnALiana stage(slow);
  Mover pip(stage.rules, stage.world, {0, 4});
  pip.advance(kDown, 3);
  EXPECT_FALSE(pip.character.grounded());
  EXPECT_EQ(pip.character.drop_left, 0);
  pip.advance(kDown, 60);
  EXPECT_TRUE(pip.character.grounded()) << "too short a window for this fall";
  EXPECT_NEAR(pip.character.feet.y, 4, stage.rules.flush_gap);

  Tuning jumps = test::pip();
  jumps.jump.air_jumps.count = 1;
  OnALiana over(jumps);
  Mover dorro(over.rules, over.world, {0, 4});
  dorro.character.feet.y += over.rules.flush_gap / 4;  // so that a tick leaves it over the platform
  dorro.advance({0, -127, true, false});
  EXPECT_EQ(dorro.character.drop_left, 0) << "the jump of the same tick is an air jump";
  dorro.advance(kNothing, 120);
  EXPECT_NEAR(dorro.character.feet.y, 4, over.rules.flush_gap);
}

TEST(Drop, PastTheTimeOfGraceItCostsAnAirJumpLikeWalkingOff) {
  Tuning moves = test::pip();
  moves.jump.air_jumps.count = 1;
  moves.jump.air_jumps.walk_off_costs = true;
  const OnALiana stage(moves);
  Mover pip(stage.rules, stage.world, {0, 4});
  pip.advance(kDown);
  EXPECT_EQ(pip.character.air_jumps_used, 1);
}

}  // namespace
}  // namespace bushbaby
