// Bodies with round ends: on hills, at rest, at an edge, over seams; and, with boxes, among
// polygons that are mirrored or scaled.
#include <algorithm>
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/world/level.h"

#include "support.h"

namespace bushbaby {
namespace {

using test::ground_below;
using test::ground_speed_of;
using test::kNothing;
using test::kRight;
using test::Mover;
using test::radians;
using test::rules_of;
using test::text_of;
using test::with_loop;

Tuning round_pip() {
  Tuning tuning = test::pip();
  tuning.body.shape = BodyShape::capsule;
  return tuning;
}

// How far the lower end of the body is from ground that is known by its upper edge.
double room_below(const Rules& rules, Vec feet, const std::vector<Vec>& profile) {
  const Vec centre{feet.x, feet.y + rules.body.radius};
  double least = 1e300;
  for (std::size_t i = 0; i + 1 < profile.size(); ++i) {
    const Vec along = profile[i + 1] - profile[i];
    const Vec off = centre - profile[i];
    const double square = along.x * along.x + along.y * along.y;
    const double share = std::clamp((off.x * along.x + off.y * along.y) / square, 0.0, 1.0);
    least = std::min(least, std::hypot(off.x - share * along.x, off.y - share * along.y));
  }
  return least - rules.body.radius;
}

TEST(Capsule, IsRoundAtItsEnds) {
  const Rules tall = rules_of(round_pip());
  EXPECT_EQ(tall.body.radius, 0.4);
  Tuning flat = round_pip();
  flat.body.height = 0.5;
  EXPECT_EQ(rules_of(flat).body.radius, 0.25);
  EXPECT_EQ(rules_of(test::pip()).body.radius, 0);
}

// Wherever no jump is asked for it stands, flush, at the speed that level ground gives.
TEST(Capsule, WalksHillsAsABoxDoes) {
  std::mt19937_64 random(21);
  const LevelWorld level(test::flat_floor(), kNothingTravels);
  std::int64_t ticks = 0;
  for (int round = 0; round < 200; ++round) {
    const std::vector<Vec> profile = test::random_hills(random, 46);
    const LevelWorld hills = ground_below(profile);
    const double rates[] = {32, 64, 128};
    const Rules rules = rules_of(
        with_loop(round_pip(), {test::all_integrators()[random() % 4], rates[random() % 3], true}));
    Character walker;
    double height = 200;
    while (room_below(rules, {0, height}, profile) > rules.flush_gap) {
      height -= std::max(room_below(rules, {0, height}, profile) / 2, 1e-5);
    }
    ASSERT_TRUE(place(walker, {0, height}, rules, hills));
    Character flat;
    ASSERT_TRUE(place(flat, {0, 0}, rules, level));
    if (!walker.grounded()) continue;
    Controls held;
    for (int tick = 0; tick < 500; ++tick) {
      if (random() % 20 == 0) held.x = static_cast<std::int8_t>(127 * (random() % 3) - 127);
      flat.velocity.x = std::copysign(ground_speed_of(walker), walker.velocity.x);
      advance(walker, held, rules, hills);
      advance(flat, held, rules, level);
      ASSERT_TRUE(walker.grounded()) << "round " << round << ", tick " << tick;
      ASSERT_NEAR(ground_speed_of(walker), std::abs(flat.velocity.x), 1e-7)
          << "round " << round << ", tick " << tick;
      const double room = room_below(rules, walker.feet, profile);
      ASSERT_GT(room, 0) << "round " << round << ", tick " << tick;
      ASSERT_LT(room, 2 * rules.flush_gap) << "round " << round << ", tick " << tick;
      ++ticks;
    }
  }
  EXPECT_GT(ticks, 60000);
}

// At an edge it stands for as long as the corner that it touches gives ground, and never creeps;
// beyond that it falls off.
TEST(Capsule, AtABrinkItRestsOrFalls) {
  const LevelWorld ledge(std::vector<Box>{{{-10, -3}, {0, 0}}});
  for (const JumpLoop& loop : test::all_loops({60, 240})) {
    const Rules rules = rules_of(with_loop(round_pip(), loop));
    for (int degrees = 1; degrees < 89; degrees += 4) {
      SCOPED_TRACE(text_of(loop) + ", " + std::to_string(degrees) + " degrees");
      const double radius = rules.body.radius + rules.flush_gap / 2;
      Character character;
      const Vec over{radius * std::sin(radians(degrees)),
                     radius * std::cos(radians(degrees)) - rules.body.radius};
      ASSERT_TRUE(place(character, over, rules, ledge));
      const bool rests = std::cos(radians(degrees)) >= rules.ground_slope;
      ASSERT_EQ(character.grounded(), rests);
      if (!rests && degrees < 70) {
        EXPECT_EQ(character.ground.reason, GroundReason::too_steep) << "the check says why";
      }
      const Vec start = character.feet;
      for (int tick = 0; tick < 400; ++tick) advance(character, kNothing, rules, ledge);
      if (rests) {
        EXPECT_EQ(character.feet, start) << "it creeps";
      } else {
        EXPECT_LT(character.feet.y, -3);
      }
    }
  }
}

TEST(Capsule, AtRestOnASlopeItDoesNotMove) {
  for (const JumpLoop& loop : test::all_loops({60})) {
    const Rules rules = rules_of(with_loop(round_pip(), loop));
    const LevelWorld slope =
        ground_below({{-90, -90 * std::tan(radians(30))}, {90, 90 * std::tan(radians(30))}});
    Mover pip(rules, slope, {0, 0.1});
    pip.advance(kNothing, 60);
    ASSERT_TRUE(pip.character.grounded());
    const Vec start = pip.character.feet;
    for (int tick = 0; tick < 100000; ++tick) advance(pip.character, kNothing, rules, slope);
    EXPECT_EQ(pip.character.feet, start) << text_of(loop);
  }
}

// Floors and walls of many pieces, with steps up to the flush gap, stop nothing.
TEST(Capsule, SeamsAndSmallStepsStopNothing) {
  for (const JumpLoop& loop : test::all_loops({60, 300})) {
    const Rules rules = rules_of(with_loop(round_pip(), loop));
    for (const double step : {0.0, 1e-15, 5e-5, 0.99 * rules.flush_gap}) {
      SCOPED_TRACE(text_of(loop) + ", steps of " + std::to_string(step));
      std::mt19937_64 random(9);
      std::vector<Box> boxes;
      for (int i = -2; i < 1000; ++i) {
        boxes.push_back({{0.3 * i, -1}, {0.3 * (i + 1), random() % 2 == 0 ? 0 : step}});
      }
      const LevelWorld floor(boxes);
      Mover run(rules, floor, {0.5, step});
      run.advance(kRight, 60);
      for (int i = 0; i < 1500; ++i) {
        run.advance(kRight);
        ASSERT_NEAR(ground_speed_of(run.character), 7, 1e-9) << "tick " << run.character.tick;
        ASSERT_TRUE(run.character.grounded()) << "tick " << run.character.tick;
      }
      boxes.clear();
      for (int i = 0; i < 400; ++i) {
        boxes.push_back({{random() % 2 == 0 ? 0 : -step, -0.3 * (i + 1)}, {1, -0.3 * i}});
      }
      const LevelWorld wall(boxes);
      const LevelWorld nothing(std::vector<Box>{});
      Mover fall(rules, wall, {-0.41, -2});
      Mover free(rules, nothing, {-0.41, -2});
      const int ticks = static_cast<int>(2 * loop.tick_rate);
      fall.advance(kRight, ticks);
      free.advance(kNothing, ticks);
      EXPECT_NEAR(fall.character.feet.y, free.character.feet.y, 1e-9);
    }
  }
}

// A head that clips a corner comes round it by itself, and one that meets a ceiling stops.
TEST(Capsule, AHeadComesRoundACorner) {
  const LevelWorld world(std::vector<Box>{{{-9, -1}, {9, 0}}, {{0.3, 2}, {9, 3}}});
  const Rules rules = rules_of(round_pip());
  Mover clips(rules, world, {0, 0});
  clips.advance(test::kJump, 60);
  EXPECT_LT(clips.character.feet.x, -0.05);
  double highest = 0;
  for (const Event& event : clips.events) highest = std::max(highest, event.place.y);
  EXPECT_GT(highest, 1.4) << "well above where a ceiling stops it, at 0.6";
  Mover stops(rules, world, {2, 0});
  stops.advance(test::kJump, 10);
  EXPECT_EQ(stops.all(EventKind::bumped_head).size(), 1U);
  EXPECT_EQ(stops.character.feet.x, 2);
}

// ---- polygons, mirrored and scaled --------------------------------------------------------------

struct Scene {
  Level level;
  Tuning tuning;
  Character character;
  Controls held;
};

Scene random_scene(std::mt19937_64& random) {
  const auto between = [&random](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  Scene scene;
  scene.level.solids.push_back({"", {{-20, -3}, {20, -2}}});
  for (int i = 0; i < 14; ++i) {
    Solid solid;
    const Vec centre{between(-7, 7), between(-3, 5)};
    const int count = 2 + static_cast<int>(random() % 6);
    const double turn = between(0, 6);
    for (int k = 0; k < count; ++k) {
      const double angle = turn + (k + between(0, 0.6)) * 2 * M_PI / count;
      solid.corners.push_back(centre + Vec{2 * std::cos(angle), std::sin(angle)});
    }
    if (random() % 4 == 0) solid.blocks = static_cast<Blocks>(1 + random() % 2);
    scene.level.solids.push_back(std::move(solid));
  }
  scene.tuning = with_loop(test::pip(), {test::all_integrators()[random() % 4], 60, true});
  if (random() % 2 == 0) scene.tuning.body.shape = BodyShape::capsule;
  const Rules rules = rules_of(scene.tuning);
  const LevelWorld world(scene.level, kNothingTravels);
  for (int tries = 0; tries < 100; ++tries) {
    if (place(scene.character, {between(-7, 7), between(-2, 7)}, rules, world)) break;
  }
  scene.character.velocity = {between(-20, 20), between(-20, 20)};
  scene.held = {static_cast<std::int8_t>(127 * (static_cast<int>(random() % 3) - 1)), 0,
                random() % 2 == 0, false};
  // Into some contact first.
  for (std::uint64_t i = random() % 30; i > 0; --i) {
    (void)advance(scene.character, scene.held, rules, world);
  }
  return scene;
}

TEST(Polygons, AMirroredTickIsTheMirroredTick) {
  std::mt19937_64 random(31);
  for (int round = 0; round < 20000; ++round) {
    Scene scene = random_scene(random);
    const Rules rules = rules_of(scene.tuning);
    Level mirrored = scene.level;
    for (Solid& solid : mirrored.solids) {
      solid.box = {{-solid.box.hi.x, solid.box.lo.y}, {-solid.box.lo.x, solid.box.hi.y}};
      for (Vec& corner : solid.corners) corner.x = -corner.x;
      std::reverse(solid.corners.begin(), solid.corners.end());
    }
    Character a = scene.character;
    Character b = a;
    const auto turn = [](auto& value) {
      value = static_cast<std::decay_t<decltype(value)>>(-value);
    };
    turn(b.feet.x);
    turn(b.velocity.x);
    turn(b.controls.x);
    turn(b.ground.normal.x);
    turn(b.held_horizontal);
    turn(b.facing);
    turn(b.wall);
    turn(b.wall_lost);
    turn(b.cling_side);
    turn(b.wall_spent);
    Controls held = scene.held;
    turn(held.x);
    (void)advance(a, scene.held, rules, LevelWorld(scene.level, kNothingTravels));
    (void)advance(b, held, rules, LevelWorld(mirrored, kNothingTravels));
    ASSERT_NEAR(a.feet.x, -b.feet.x, 1e-9) << "round " << round;
    ASSERT_NEAR(a.feet.y, b.feet.y, 1e-9) << "round " << round;
    ASSERT_NEAR(a.velocity.x, -b.velocity.x, 1e-9) << "round " << round;
    ASSERT_NEAR(a.velocity.y, b.velocity.y, 1e-9) << "round " << round;
    ASSERT_EQ(a.grounded(), b.grounded()) << "round " << round;
    ASSERT_EQ(a.wall, -b.wall) << "round " << round;
  }
}

TEST(Polygons, ATickFourTimesAsLargeIsExactlyThat) {
  std::mt19937_64 random(32);
  constexpr double kScale = 4;
  for (int round = 0; round < 20000; ++round) {
    Scene scene = random_scene(random);
    const Tuning large = test::scaled(scene.tuning, kScale);
    Level level = scene.level;
    for (Solid& solid : level.solids) {
      solid.box = {solid.box.lo * kScale, solid.box.hi * kScale};
      for (Vec& corner : solid.corners) corner *= kScale;
    }
    Character a = scene.character;
    Character b = a;
    b.feet *= kScale;
    b.velocity *= kScale;
    b.ground.gap *= kScale;
    (void)advance(a, scene.held, rules_of(scene.tuning), LevelWorld(scene.level, kNothingTravels));
    (void)advance(b, scene.held, rules_of(large), LevelWorld(level, kNothingTravels));
    ASSERT_EQ(a.feet * kScale, b.feet) << "round " << round;
    ASSERT_EQ(a.velocity * kScale, b.velocity) << "round " << round;
  }
}

}  // namespace
}  // namespace bushbaby
