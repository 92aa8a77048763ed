// Gravity by direction and towards a point: bodies turn, walk right round a ball, jump from it.
#include <algorithm>
#include <cmath>
#include <limits>

#include <gtest/gtest.h>

#include "visitor.h"

namespace bushbaby {
namespace {

using test::along;
using test::jump_height;
using test::kJump;
using test::kNothing;
using test::kRight;
using test::pip;
using test::scaled;
using test::Visitor;
using test::zone_of;

Zone zone_down(const Box& box, Vec down) {
  Zone zone = zone_of(box);
  zone.turning.to = Turning::To::direction;
  zone.turning.down = down;
  return zone;
}

// A ball in the middle of a zone whose down is towards it.
Level ball_level(double radius, int corners = 64) {
  Level level;
  Solid ball{"round_walk", {}};
  for (int i = 0; i < corners; ++i) {
    const double angle = 2 * M_PI * i / corners;
    ball.corners.push_back({radius * std::cos(angle), radius * std::sin(angle)});
  }
  level.solids.push_back(ball);
  Zone zone = zone_of({{-40, -40}, {40, 40}});
  zone.turning.to = Turning::To::point;
  zone.turning.point = {0, 0};
  level.zones.push_back(zone);
  return level;
}

constexpr Controls kLeft{-127, 0, false, false};

TEST(Gravity, ABallIsWalkedRightRoundBothWaysAndNeverLeft) {
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
      for (const Controls& held : {kRight, kLeft}) {
        Tuning tuning = test::with_loop(pip(), loop);
        tuning.body.shape = shape;
        const double radius = 2 * tuning.body.height;
        Visitor visitor(tuning, ball_level(radius), {0, radius + 0.001});
        ASSERT_TRUE(visitor.character.grounded());
        double turned = 0;
        double before = M_PI / 2;
        const int most = static_cast<int>(8 * loop.tick_rate);
        int ticks = 0;
        int reached = 0;
        for (; ticks < most && std::abs(turned) < 4 * M_PI; ++ticks) {
          visitor.tick(held);
          ASSERT_TRUE(visitor.character.grounded())
              << test::text_of(loop) << " tick " << ticks << " turned " << turned << " shape "
              << static_cast<int>(shape);
          const Vec feet = visitor.character.feet;
          const double now = std::atan2(feet.y, feet.x);
          turned += std::remainder(now - before, 2 * M_PI);
          before = now;
          const double height = std::hypot(feet.x, feet.y);
          // A box stands on a corner of the ball, or on a facet.
          ASSERT_LT(height, radius + 0.02) << test::text_of(loop);
          ASSERT_GT(height, radius * std::cos(M_PI / 64) - 1e-3) << test::text_of(loop);
          if (std::abs(turned) >= 2 * M_PI && reached == 0) reached = ticks;
        }
        ASSERT_GE(std::abs(turned), 4 * M_PI) << test::text_of(loop);
        EXPECT_LT(turned * held.x, 0);
        // Once round at the speed of level ground, within the facets' and the first steps' worth.
        const double lap = (ticks - reached) / loop.tick_rate;
        EXPECT_NEAR(lap, 2 * M_PI * radius / tuning.run.top_speed, 0.07) << test::text_of(loop);
      }
    }
  }
}

TEST(Gravity, JumpsFromABallHaveTheirHeightAndComeBackToIt) {
  for (const JumpLoop& loop : test::all_loops({60})) {
    for (const double angle : {0.3, 1.2, 2.0, 3.3, 4.4, 5.9}) {
      const Tuning tuning = test::with_loop(pip(), loop);
      const double radius = 2 * tuning.body.height;
      const Vec way{std::cos(angle), std::sin(angle)};
      Visitor visitor(tuning, ball_level(radius), way * (radius + 0.002));
      EXPECT_GT(along(visitor.character.up, way), 0.999);
      visitor.ticks(2, kNothing);
      const double height = jump_height(visitor);
      EXPECT_NEAR(height, *tuning.jump.height, 0.02) << test::text_of(loop);
      EXPECT_TRUE(visitor.character.grounded());
      // And on the run.
      visitor.ticks(30, kRight);
      int ticks = 0;
      double most = 0;
      do {
        visitor.tick({127, 0, true, false});
        most = std::max(most, std::hypot(visitor.character.feet.x, visitor.character.feet.y));
      } while (!visitor.character.grounded() && ++ticks < 300);
      EXPECT_TRUE(visitor.character.grounded());
      EXPECT_NEAR(most - radius, *tuning.jump.height, 0.1) << "its speed turns with it";
    }
  }
}

// A hollow where down is to the left: whoever comes in falls against the left wall, stands on it as
// on any floor, jumps off it as high as anywhere, and turns back outside.
TEST(Gravity, DownCanBeSideways) {
  for (const JumpLoop& loop : test::all_loops({60})) {
    Level level;
    level.solids = {{"floor", {{-50, -3}, {50, 0}}}, {"wall", {{-12, 0}, {-10, 30}}}};
    level.zones = {zone_down({{-10, 0.8}, {0, 30}}, {-1, 0})};
    const Tuning tuning = test::with_loop(pip(), loop);
    Visitor visitor(tuning, level, {-4, 6});
    EXPECT_EQ(visitor.character.up, (Vec{1, 0}));
    visitor.ticks(200, kNothing);
    EXPECT_TRUE(visitor.character.grounded());
    EXPECT_NEAR(visitor.character.feet.x, -10, 0.001);
    EXPECT_EQ(visitor.character.ground.surface, 1U);
    EXPECT_NEAR(jump_height(visitor), *tuning.jump.height, 0.02) << test::text_of(loop);
    // To the right, as it stands there, is down in the world.
    visitor.ticks(20, kRight);
    EXPECT_LT(visitor.character.velocity.y, -5);
    // Down to the floor, out of the hollow below its border, and upright again.
    visitor.ticks(300, kRight);
    EXPECT_EQ(visitor.character.zones[0], kNoZone);
    EXPECT_EQ(visitor.character.up, (Vec{0, 1}));
    EXPECT_TRUE(visitor.character.grounded());
    EXPECT_NEAR(visitor.character.feet.y, 0, 0.001);
  }
}

// The body turns about its centre, at its rate, and only when it fits.
TEST(Gravity, ABodyTurnsAtItsRateAndWhenItFits) {
  Level level;
  level.zones = {zone_down({{-10, -50}, {10, 50}}, {1, 0})};
  level.zones[0].turning.rate = 300;
  level.zones[0].overrides = {scaled("jump.gravity", 1e-9)};
  const Tuning tuning = pip();
  Visitor visitor(tuning, level, {-10.1, 0});
  visitor.character.velocity = {9, 0};
  visitor.tick(kNothing);
  ASSERT_EQ(visitor.character.zones[0], 0U);
  visitor.character.velocity = {0, 0};
  const double half = tuning.body.height / 2;
  const Vec centre = visitor.character.feet + visitor.character.up * half;
  for (int i = 1; i <= 18; ++i) {
    visitor.tick(kNothing);
    const Vec up = visitor.character.up;
    EXPECT_NEAR(up.x, -std::sin(5.0 * i * M_PI / 180), 1e-12) << i;
    EXPECT_NEAR(up.y, std::cos(5.0 * i * M_PI / 180), 1e-12) << i;
    const Vec moved = visitor.character.feet + up * half - centre;
    EXPECT_LT(std::hypot(moved.x, moved.y), 1e-6);
  }
  EXPECT_EQ(visitor.character.up, (Vec{-1, 0}));

  // In a shaft that is narrower than the body is high there is no room to lie down.
  Level shaft;
  shaft.solids = {{"left", {{-3, -1}, {-0.5, 40}}},
                  {"right", {{0.5, -1}, {3, 40}}},
                  {"floor", {{-3, -3}, {3, -1}}}};
  shaft.zones = {zone_down({{-3, 3}, {3, 50}}, {1, 0})};
  Visitor stuck(pip(), shaft, {0, -0.999});
  stuck.character.velocity = {0, 30};
  stuck.character.ground = {};
  double highest = 0;
  for (int i = 0; i < 100; ++i) {
    stuck.tick(kNothing);
    highest = std::max(highest, stuck.character.feet.y);
    EXPECT_EQ(stuck.character.up, (Vec{0, 1}));
    EXPECT_EQ(overlap(stuck.world, stuck.rules().body, stuck.character.feet, 0).depth, 0);
  }
  EXPECT_GT(highest, 5) << "it came into the zone";
}

// Between two pulls that mirror each other a body goes back and forth for ever, and never farther;
// the same between a strong pull and a weak one. (The explicit loop gains in every tick of any
// fall.)
TEST(Gravity, NobodyGainsByCrossingBorders) {
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    if (loop.integrator == Integrator::explicit_step) continue;
    for (const bool mirrors : {true, false}) {
      Tuning tuning = test::with_loop(pip(), loop);
      tuning.fall.factor = 1;
      tuning.fall.terminal_speed.reset();
      Level level;
      Zone zone = zone_down({{-50, -50}, {50, 0}}, {0, 1});
      zone.turning.rate = std::numeric_limits<double>::infinity();
      zone.turning.speed_turns = false;
      if (!mirrors) zone.overrides = {scaled("jump.gravity", 0.4)};
      level.zones = {zone};
      if (!mirrors) level.solids = {{"under it", {{-50, -60}, {50, -40}}}};
      Visitor visitor(tuning, level, {0, 3});
      const double start = 3 + tuning.body.height / 2;
      double most = 0;
      for (int i = 0; i < 60 * static_cast<int>(loop.tick_rate); ++i) {
        visitor.tick(kNothing);
        const Character& c = visitor.character;
        most = std::max(most, std::abs(c.feet.y + c.up.y * tuning.body.height / 2));
      }
      EXPECT_GT(visitor.count(EventKind::entered), 20);
      const double farthest = mirrors ? start : start / 0.4;
      EXPECT_LT(most, farthest * 1.02) << test::text_of(loop) << (mirrors ? " mirrors" : " weak");
      EXPECT_GT(most, farthest * 0.85) << test::text_of(loop) << (mirrors ? " mirrors" : " weak");
    }
  }
}

// What is held is meant as the screen shows it, if the zone says so: as long as the same direction
// is held it means the same, so that nothing flickers where the body turns over.
TEST(Gravity, DirectionsCanBeTheScreens) {
  Level level = ball_level(2.8);
  level.zones[0].turning.by_screen = true;
  Visitor visitor(pip(), level, {0, 2.801});
  // Held all the way: right at the top goes on round.
  double turned = 0;
  double before = M_PI / 2;
  for (int i = 0; i < 400; ++i) {
    visitor.tick(kRight);
    const double now = std::atan2(visitor.character.feet.y, visitor.character.feet.x);
    const double step = std::remainder(now - before, 2 * M_PI);
    EXPECT_LT(step, 1e-3) << "never back";
    turned += step;
    before = now;
  }
  EXPECT_LT(turned, -2 * M_PI);
  // Let go and pressed again at the bottom, right is to the right of the screen.
  while (visitor.character.feet.y > -2.7) visitor.tick(kRight);
  visitor.ticks(30, kNothing);
  const double x = visitor.character.feet.x;
  visitor.ticks(6, kRight);
  EXPECT_GT(visitor.character.feet.x, x + 0.1);
}

}  // namespace
}  // namespace bushbaby
