// Outlines: their faults, and their convex parts against the outline itself.
#include "bushbaby/core/world/outline.h"

#include <algorithm>
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/world/level.h"

#include "support.h"

namespace bushbaby {
namespace {

TEST(Outline, FaultsAreFoundWhereTheyAre) {
  struct Case {
    std::vector<Vec> outline;
    OutlineFault fault;
    std::size_t first, second;
  };
  const Case cases[] = {
      {{}, OutlineFault::too_few_corners, 0, 0},
      {{{0, 0}, {1, 0}}, OutlineFault::too_few_corners, 0, 0},
      {{{0, 0}, {1, 0}, {1, 0}, {0, 1}}, OutlineFault::no_length, 1, 1},
      {{{0, 0}, {1, 0}, {1, 1}, {0, 0}}, OutlineFault::no_length, 3, 3},
      {{{0, 0}, {2, 2}, {2, 0}, {0, 2}}, OutlineFault::crossing, 0, 2},
      {{{0, 0}, {2, 0}, {1, 0}, {1, 2}}, OutlineFault::crossing, 0, 1},  // turns back
      {{{0, 0}, {1, 0}, {2, 0}}, OutlineFault::crossing, 0, 2},          // no inside
      {{{0, 0}, {4, 0}, {4, 4}, {2, 0}, {0, 4}},
       OutlineFault::crossing,
       0,
       2},  // a corner on an edge
      {{{0, 0}, {2, 2}, {4, 0}, {4, 4}, {2, 2}, {0, 4}}, OutlineFault::crossing, 0, 3},  // a pinch
  };
  for (const Case& c : cases) {
    const auto found = find_fault(c.outline);
    ASSERT_TRUE(found) << c.outline.size();
    EXPECT_EQ(found->fault, c.fault) << c.outline.size();
    EXPECT_EQ(found->first, c.first) << c.outline.size();
    EXPECT_EQ(found->second, c.second) << c.outline.size();
  }
  EXPECT_FALSE(find_fault({{0, 0}, {2, 0}, {2, 2}, {1, 0.5}}));
  EXPECT_FALSE(find_fault({{0, 0}, {1, 0}, {2, 0}, {2, 2}})) << "a corner on a straight edge";
}

double area_within(const std::vector<Vec>& outline) {
  double twice = 0;
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Vec a = outline[i];
    const Vec b = outline[(i + 1) % outline.size()];
    twice += a.x * b.y - a.y * b.x;
  }
  return twice / 2;
}

// A simple outline: a star of many rays, a comb, or stairs; either way round.
std::vector<Vec> random_outline(std::mt19937_64& random) {
  std::uniform_real_distribution<double> share(0, 1);
  const auto count = 3 + static_cast<int>(random() % 30);
  std::vector<Vec> outline;
  const auto kind = random() % 3;
  for (int i = 0; i < count; ++i) {
    if (kind == 0) {
      const double angle = 2 * M_PI * (i + 0.8 * share(random)) / count;
      const double radius = 0.2 + 4 * share(random);
      outline.emplace_back(radius * std::cos(angle), radius * std::sin(angle));
    } else if (kind == 1) {
      outline.emplace_back(i, i % 2 == 0 ? 1 : 1 + 3 * share(random));
    } else {
      outline.emplace_back(i, (i + 1) / 2);
      outline.emplace_back(i + 1, (i + 1) / 2);
    }
  }
  if (kind == 1) outline.insert(outline.end(), {{count + 1.0, -1}, {-1, -1}});
  if (kind == 2) outline.insert(outline.end(), {{count + 1.0, -1}, {0, -1}});
  if (random() % 2 == 0) std::reverse(outline.begin(), outline.end());
  std::rotate(outline.begin(), outline.begin() + static_cast<long>(random() % outline.size()),
              outline.end());
  return outline;
}

TEST(Outline, ConvexPartsAreTheOutlineAndNothingElse) {
  std::mt19937_64 random(81);
  int with_many = 0;
  for (int round = 0; round < 3000; ++round) {
    const std::vector<Vec> outline = random_outline(random);
    if (find_fault(outline)) continue;  // a star whose corners lie too wide apart
    const auto parts = convex_parts(outline);
    double area = 0;
    Box bounds{outline[0], outline[0]};
    for (const Vec& corner : outline) {
      bounds = {{std::min(bounds.lo.x, corner.x), std::min(bounds.lo.y, corner.y)},
                {std::max(bounds.hi.x, corner.x), std::max(bounds.hi.y, corner.y)}};
    }
    for (const auto& part : parts) {
      ASSERT_LE(part.size(), kMostCorners);
      ASSERT_TRUE(is_convex(part)) << round;
      area += area_within(part);
    }
    ASSERT_NEAR(area, std::abs(area_within(outline)), 1e-9) << round;
    with_many += parts.size() > 3 ? 1 : 0;
    std::uniform_real_distribution<double> x(bounds.lo.x, bounds.hi.x);
    std::uniform_real_distribution<double> y(bounds.lo.y, bounds.hi.y);
    for (int i = 0; i < 50; ++i) {
      const Vec place{x(random), y(random)};
      const bool within = std::any_of(parts.begin(), parts.end(), [&](const auto& part) {
        return test::is_inside(part, place);
      });
      ASSERT_EQ(within, test::is_inside(outline, place)) << round;
    }
  }
  EXPECT_GT(with_many, 1000);
}

TEST(Outline, ConvexOnesStayWholeAndStarsDoNotPassForConvex) {
  const std::vector<Vec> square{{0, 0}, {1, 0}, {1, 1}, {0, 1}};
  EXPECT_EQ(convex_parts(square), (std::vector<std::vector<Vec>>{square}));
  EXPECT_EQ(convex_parts({square.rbegin(), square.rend()}).size(), 1U);
  std::vector<Vec> star;
  for (int i = 0; i < 5; ++i) {
    star.emplace_back(std::cos(4 * M_PI * i / 5), std::sin(4 * M_PI * i / 5));
  }
  EXPECT_FALSE(is_convex(star)) << "it turns left at every corner, twice round";
}

// A body among the parts of a level's polygons is one among the polygons.
TEST(Outline, ALevelHandsOverAllOfItsPolygons) {
  std::mt19937_64 random(82);
  std::uniform_real_distribution<double> place(-6, 20);
  int inside = 0;
  for (int round = 0; round < 300; ++round) {
    Level level;
    Solid solid;
    solid.corners = random_outline(random);
    if (find_fault(solid.corners)) continue;
    level.solids = {{"elsewhere", {{-90, -90}, {-80, -80}}}, solid};
    const LevelWorld world(level, kNothingTravels);
    constexpr Box kSpeck{{-1e-7, -1e-7}, {1e-7, 1e-7}};
    for (int i = 0; i < 50; ++i) {
      const Vec at{place(random), place(random) / 4};
      const Overlap found = overlap(world, kSpeck, at, 0);
      ASSERT_EQ(found.surface != kNoSurface, test::is_inside(solid.corners, at)) << round;
      if (found.surface == kNoSurface) continue;
      ASSERT_EQ(found.surface, 1U) << "the solid, not its part";
      ++inside;
    }
  }
  EXPECT_GT(inside, 500);
}

}  // namespace
}  // namespace bushbaby
