// Turning takes nobody through a solid or across a border; and solids that stop from one side have
// no floors inside.
#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/world/outline.h"

#include "support.h"
#include "visitor.h"

namespace bushbaby {
namespace {

using test::is_inside;
using test::kNothing;
using test::kRight;
using test::Visitor;

using Random = std::mt19937_64;

double between(Random& random, double lo, double hi) {
  return std::uniform_real_distribution<double>(lo, hi)(random);
}

// Whoever runs into a zone that turns the body, and lets go anywhere near its border, enters it
// once.
TEST(Turning, TakesNobodyAcrossABorder) {
  for (const Vec down : {Vec{0, 1}, Vec{-1, 0}, Vec{1, 0}}) {
    for (int held = 90; held < 110; ++held) {
      Level level;
      level.solids = {{"floor", {{-50, -2}, {50, 0}}}, {"ceiling", {{-50, 6}, {50, 8}}}};
      Zone zone = test::zone_of({{8, -1}, {40, 9}});
      zone.turning.to = Turning::To::direction;
      zone.turning.down = down;
      zone.traits.contains = static_cast<Contains>(held % 3);
      level.zones = {zone};
      Visitor visitor(test::pip(), level, {0, 0});
      visitor.ticks(held, kRight);
      visitor.ticks(270, kNothing);
      EXPECT_LE(visitor.count(EventKind::entered), 1) << down.x << ' ' << down.y << ' ' << held;
    }
  }
}

// Rooms with walls thinner than a body, and zones in them that turn it at any rate.
TEST(Turning, LeavesNoRoom) {
  constexpr double kWide = 3;
  constexpr double kHigh = 4;
  int rooms = 0;
  for (std::uint64_t seed = 0; seed < 300; ++seed) {
    Random random(seed);
    const double thick = between(random, 0.01, 0.3);
    Level level;
    level.solids = {{"", {{-kWide, -thick}, {kWide, 0}}},
                    {"", {{-kWide, kHigh}, {kWide, kHigh + thick}}},
                    {"", {{-kWide - thick, -thick}, {-kWide, kHigh + thick}}},
                    {"", {{kWide, -thick}, {kWide + thick, kHigh + thick}}}};
    for (int i = 0; i < 3; ++i) {
      const Vec lo{between(random, -kWide, kWide), between(random, -1, kHigh)};
      const Vec size{between(random, 0.5, 5), between(random, 0.5, 5)};
      Zone zone = test::zone_of({lo, lo + size});
      zone.turning.to = random() % 3 == 0 ? Turning::To::point : Turning::To::direction;
      zone.turning.down = way_from_down(between(random, 0, 360));
      zone.turning.point = {between(random, -kWide, kWide), between(random, 0, kHigh)};
      zone.turning.rate =
          random() % 2 == 0 ? std::numeric_limits<double>::infinity() : between(random, 100, 20000);
      level.zones.push_back(zone);
    }
    const CompiledBook compiled = compile_book(test::pip(), level.zones);
    ASSERT_TRUE(compiled.ok());
    const LevelWorld world(level, 60);
    Character pip;
    if (!place(pip, {between(random, -2, 2), between(random, 0, 2)}, compiled.book, world))
      continue;
    ++rooms;
    Controls held;
    for (int i = 0; i < 400; ++i) {
      if (random() % 10 == 0)
        held.x = static_cast<std::int8_t>(127 * (static_cast<int>(random() % 3) - 1));
      if (random() % 8 == 0) held.jump = !held.jump;
      (void)advance(pip, held, compiled.book, world);
      const Vec middle = pip.feet + pip.up * 0.7;
      ASSERT_LT(std::abs(middle.x), kWide) << seed << ", " << i;
      ASSERT_TRUE(middle.y > 0 && middle.y < kHigh) << seed << ", " << i;
    }
  }
  EXPECT_GT(rooms, 150);
}

// A body that is wholly within a concave solid which stops from above falls out of it unstopped.
TEST(OneWay, ConcaveSolidsHaveNoFloorsInside) {
  Random random(11);
  int falls = 0;
  while (falls < 1000) {
    std::vector<Vec> outline;
    const auto corners = static_cast<double>(5 + random() % 8);
    for (double i = 0; i < corners; ++i) {
      const double angle = 6.2831853 * (i + between(random, 0, 0.8)) / corners;
      const double far = between(random, 1.2, 4);
      outline.push_back({far * std::cos(angle), far * std::sin(angle)});
    }
    if (find_fault(outline) || convex_parts(outline).size() < 2) continue;
    const auto holds_all = [&](Vec feet) {
      for (const double x : {-0.16, 0.0, 0.16}) {
        for (const double y : {-0.01, 0.15, 0.31}) {
          if (!is_inside(outline, feet + Vec{x, y})) return false;
        }
      }
      return true;
    };
    Character pip;
    pip.feet = {between(random, -2, 2), between(random, -2, 2)};
    if (!holds_all(pip.feet)) continue;
    ++falls;
    Level level;
    level.solids.emplace_back();
    level.solids[0].corners = outline;
    level.solids[0].blocks = Blocks::from_above;
    Tuning tuning = test::pip();
    tuning.body.width = tuning.body.height = 0.3;
    if (falls % 2 == 0) tuning.body.shape = BodyShape::capsule;
    const Rules rules = test::rules_of(tuning);
    const LevelWorld world(level, kNothingTravels);
    while (holds_all(pip.feet) && pip.tick < 200) {
      for (const Event& event : advance(pip, kNothing, rules, world)) {
        EXPECT_FALSE(event.kind == EventKind::landed && holds_all(event.place)) << falls;
      }
    }
    EXPECT_LT(pip.tick, 200);
  }
}

}  // namespace
}  // namespace bushbaby
