// Casts: one box by hand, many boxes against brute force.
#include "bushbaby/core/world/level.h"

#include <cmath>
#include <random>

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "bushbaby/core/world/check_world.h"

#include "support.h"

namespace bushbaby {
namespace {

constexpr Box kBody{{-0.5, 0}, {0.5, 2}};
constexpr Box kSolid{{4, 0}, {6, 1}};

struct CastCase {
  const char* what;
  Vec from;
  Vec move;
  bool met;
  double fraction;
  Vec normal;
};

TEST(Cast, AgainstOneBox) {
  const CastCase cases[] = {
      {"from the left", {0, 0}, {7, 0}, true, 0.5, {-1, 0}},
      {"from the right", {10, 0.5}, {-7, 0}, true, 0.5, {1, 0}},
      {"from above", {5, 5}, {0, -8}, true, 0.5, {0, 1}},
      {"from below", {5, -4}, {0, 4}, true, 0.5, {0, -1}},
      {"stops short of it", {0, 0}, {3.4, 0}, false, 1, {0, 0}},
      {"arrives exactly", {0, 0}, {3.5, 0}, true, 1, {-1, 0}},
      {"passes over it, touching", {0, 1}, {10, 0}, false, 1, {0, 0}},
      {"slides down its side, touching", {3.5, 5}, {0, -9}, false, 1, {0, 0}},
      {"starts on top and leaves", {5, 1}, {0, 3}, false, 1, {0, 0}},
      {"starts on top and presses down", {5, 1}, {0, -3}, true, 0, {0, 1}},
      {"stays where it is", {5, 5}, {0, 0}, false, 1, {0, 0}},
      {"starts inside, deeper in", {3.6, 0}, {1, 0}, true, 0, {-1, 0}},
      {"starts inside, out", {3.6, 0}, {-1, 0}, false, 1, {0, 0}},
      {"starts inside, along", {3.6, 0}, {0, 1}, false, 1, {0, 0}},
      {"meets a corner: the side that faces up counts", {1.5, 3}, {4, -4}, true, 0.5, {0, 1}},
  };
  // Of three boxes, the last.
  const LevelWorld world(std::vector<Box>{{{90, 0}, {91, 1}}, {{95, 0}, {96, 1}}, kSolid});
  for (const CastCase& c : cases) {
    const Contact contact = cast(world, {kBody, c.from, c.move, {0, 1}, 0});
    EXPECT_EQ(contact.met(), c.met) << c.what;
    EXPECT_DOUBLE_EQ(contact.fraction, c.fraction) << c.what;
    EXPECT_EQ(contact.normal, c.normal) << c.what;
    if (c.met) {
      EXPECT_EQ(contact.surface, 2U) << c.what;
    }
  }
}

TEST(Cast, OverlapReportsTheShortestWayOut) {
  const LevelWorld world(std::vector<Box>{kSolid});
  EXPECT_EQ(overlap(world, kBody, {0, 0}, 0).surface, kNoSurface);
  EXPECT_EQ(overlap(world, kBody, {3.5, 0}, 0).surface, kNoSurface) << "touching is not inside";
  const Overlap side = overlap(world, kBody, {3.75, 0}, 0);
  EXPECT_DOUBLE_EQ(side.depth, 0.25);
  EXPECT_EQ(side.normal, (Vec{-1, 0}));
  const Overlap top = overlap(world, kBody, {5, 0.875}, 0);
  EXPECT_DOUBLE_EQ(top.depth, 0.125);
  EXPECT_EQ(top.normal, (Vec{0, 1}));
}

TEST(Cast, EmptyWorldMeetsNothing) {
  const LevelWorld world(std::vector<Box>{});
  EXPECT_FALSE(cast(world, {kBody, {0, 0}, {1e6, -1e6}, {0, 1}, 0}).met());
  EXPECT_EQ(overlap(world, kBody, {0, 0}, 0).surface, kNoSurface);
}

std::vector<Box> random_boxes(std::mt19937_64& random, int count) {
  std::uniform_real_distribution<double> place(-40, 40);
  std::exponential_distribution<double> size(1);
  // Some on a grid, so that sides line up and contacts tie.
  std::bernoulli_distribution on_grid(0.5);
  std::vector<Box> boxes;
  for (int i = 0; i < count; ++i) {
    Vec lo{place(random), place(random)};
    Vec extent{0.01 + 2 * size(random), 0.01 + 2 * size(random)};
    if (on_grid(random)) {
      lo = {std::floor(lo.x), std::floor(lo.y)};
      extent = {std::ceil(extent.x), std::ceil(extent.y)};
    }
    boxes.push_back({lo, {lo.x + extent.x, lo.y + extent.y}});
  }
  return boxes;
}

// Hands over every box, wherever it is.
class EveryBox final : public World {
 public:
  explicit EveryBox(const std::vector<Box>& boxes) : boxes_(boxes) {}
  void find_solids(const Box& /*region*/, std::int64_t, Solids& solids) const noexcept override {
    for (std::size_t id = boxes_.size(); id-- > 0;) {
      solids.take_box(boxes_[id], static_cast<SurfaceId>(id));
    }
  }

 private:
  const std::vector<Box>& boxes_;
};

// The index must find exactly what looking at every box finds: same bits, same surface.
RC_GTEST_PROP(LevelWorldLaw, IndexEqualsBruteForce, (std::uint32_t seed)) {
  std::mt19937_64 random(seed);
  const int count = 1 + static_cast<int>(random() % 300);
  const std::vector<Box> boxes = random_boxes(random, count);
  const LevelWorld world(boxes);
  const EveryBox every(boxes);
  std::uniform_real_distribution<double> place(-45, 45);
  std::uniform_real_distribution<double> step(-30, 30);
  for (int i = 0; i < 50; ++i) {
    Vec from{place(random), place(random)};
    Vec move{step(random), step(random)};
    if (i % 3 == 0) from = {std::floor(from.x), std::floor(from.y)};
    if (i % 4 == 0) move.x = 0;
    if (i % 5 == 0) move.y = 0;
    if (i % 7 == 0) move = {move.x * 1e5, move.y * 1e5};
    const Sweep sweep{kBody, from, move, {0, 1}, 0};
    const Contact nearest = cast(every, sweep);
    const Overlap deepest = overlap(every, kBody, from, 0);
    const Contact found = cast(world, sweep);
    RC_ASSERT(found.surface == nearest.surface);
    RC_ASSERT(found.fraction == nearest.fraction);
    RC_ASSERT(found.normal == nearest.normal);
    RC_ASSERT(found.depth == nearest.depth);
    const Overlap lies = overlap(world, kBody, from, 0);
    RC_ASSERT(lies.surface == deepest.surface);
    RC_ASSERT(lies.depth == deepest.depth);
  }
}

// A world that answers by a function.
template <class Answer>
class AnsweringWorld final : public World {
 public:
  explicit AnsweringWorld(Answer answer) : answer_(std::move(answer)) {}
  void find_solids(const Box& region, std::int64_t, Solids& solids) const noexcept override {
    answer_(region, solids);
  }

 private:
  Answer answer_;
};

template <class Answer>
std::string first_fault(Answer answer) {
  const auto faults = check_world(AnsweringWorld<Answer>(std::move(answer)), {{0, 0}, {10, 10}});
  return faults.empty() ? "none" : faults[0];
}

TEST(CheckWorld, FindsWhatAWorldGetsWrong) {
  const auto polygon = [](std::vector<Vec> corners) {
    return [corners](const Box&, Solids& solids) {
      solids.take_polygon(corners.data(), static_cast<std::uint32_t>(corners.size()), 4);
    };
  };
  EXPECT_EQ(first_fault(polygon({{1, 1}, {5, 1}, {5, 4}})), "none");
  EXPECT_EQ(first_fault(polygon({{1, 1}, {5, 4}})), "none");
  EXPECT_EQ(first_fault(polygon({{1, 1}, {5, 4}, {5, 1}})),
            "surface 4 at [1, 1, 5, 4] is not convex and counter-clockwise");
  EXPECT_EQ(first_fault(polygon({{1, 1}, {5, 1}, {3, 2}, {5, 4}})),
            "surface 4 at [1, 1, 5, 4] is not convex and counter-clockwise");
  EXPECT_EQ(first_fault(polygon({{1, 1}, {1, 1}, {5, 4}})),
            "surface 4 at [1, 1, 5, 4] has the same corner twice");
  EXPECT_EQ(first_fault(polygon(std::vector<Vec>(9, Vec{1, 1}))),
            "surface 4 at [1, 1, 1, 1] is a polygon of too many corners");
  EXPECT_EQ(first_fault(polygon({{1, 1}, {5, 1}, {std::nan(""), 4}})),
            "surface 4 at [1, 1, 5, 4] has a corner that is not finite");
  EXPECT_EQ(first_fault([](const Box&, Solids& s) {
              s.take_box({{3, 3}, {3, 5}}, 0);
            }),
            "surface 0 at [3, 3, 3, 5] is a box without an inside");
  EXPECT_EQ(first_fault([](const Box&, Solids& s) {
              s.take_box({{3, 3}, {4, 5}}, kNoSurface);
            }),
            "surface 4294967295 at [3, 3, 4, 5] has no surface");
  // One that only looks at the middle of a region.
  EXPECT_THAT(first_fault([](const Box& region, Solids& s) {
                const Vec middle = (region.lo + region.hi) * 0.5;
                const Box box{{3, 3}, {6, 5}};
                const bool there = middle.x > 3 && middle.x < 6 && middle.y > 3 && middle.y < 5;
                if (there) s.take_box(box, 0);
              }),
              ::testing::HasSubstr("is handed over for"));
  // One that counts how often it was asked.
  int asked = 0;
  EXPECT_THAT(first_fault([&asked](const Box&, Solids& s) {
                s.take_box({{3, 3}, {4, 5.0 + ++asked}}, 0);
              }),
              ::testing::HasSubstr("it answers again with other ones"));
}

TEST(CheckWorld, FindsNothingInALevel) {
  std::mt19937_64 random(5);
  Level level;
  for (const Box& box : random_boxes(random, 200)) level.solids.push_back({"", box});
  for (Solid& solid : level.solids) {
    if (random() % 3 != 0) continue;
    const Box box = solid.box;
    solid.corners = {box.lo, {box.hi.x, box.lo.y}, {(box.lo.x + box.hi.x) / 2, box.hi.y}};
  }
  EXPECT_EQ(check_world(LevelWorld(level, kNothingTravels), {{-40, -40}, {40, 40}}),
            std::vector<std::string>{});
}

// Zones of all sizes, side by side, one in another and over each other; some are polygons.
std::vector<Zone> random_zones(std::mt19937_64& random, int count) {
  const auto number = [&random](double least, double most) {
    return std::uniform_real_distribution<double>(least, most)(random);
  };
  std::vector<Zone> zones;
  for (int i = 0; i < count; ++i) {
    const double size = std::pow(10, number(-1, 1.7));
    const Vec lo{std::round(number(-40, 40)), number(-40, 40)};
    Zone zone;
    zone.box = {lo, {lo.x + size, lo.y + size * number(0.05, 2)}};
    zone.traits.exit_margin = random() % 4 == 0 ? 0 : number(0, 0.5);
    zone.traits.contains = static_cast<Contains>(random() % 3);
    if (random() % 4 == 0) {
      const Box& box = zone.box;
      zone.corners = {box.lo, {box.hi.x, box.lo.y}, {(box.lo.x + box.hi.x) / 2, box.hi.y}};
    }
    zones.push_back(std::move(zone));
  }
  return zones;
}

// What a level says of regions far from the borders of its zones is what it hands over there.
TEST(CheckWorld, FindsNothingInTheZonesOfALevel) {
  std::mt19937_64 random(8);
  int known = 0;
  constexpr int kLevels = 60;
  constexpr int kRegions = 500;
  for (int i = 0; i < kLevels; ++i) {
    Level level;
    level.zones = random_zones(random, 1 + i % 12);
    const LevelWorld world(level, kNothingTravels);
    EXPECT_EQ(check_world(world, {{-60, -60}, {100, 100}}, 3000), std::vector<std::string>{});
    std::uniform_real_distribution<double> place(-60, 90);
    for (int k = 0; k < kRegions; ++k) {
      const Vec lo{place(random), place(random)};
      ZoneSet zones;
      if (world.zones_throughout({lo, {lo.x + 1, lo.y + 2}}, 0, zones)) ++known;
    }
  }
  EXPECT_GT(known, kLevels * kRegions / 3) << "it is of use";
}

TEST(CheckWorld, FindsZonesThatAreReportedWrong) {
  class Liar final : public World {
   public:
    explicit Liar(bool in_zone) : in_zone_(in_zone) {}
    void find_solids(const Box&, std::int64_t, Solids&) const noexcept override {}
    void find_zones(const Box&, std::int64_t, Solids& zones) const noexcept override {
      if (!in_zone_) zones.take_box({{2, 2}, {8, 8}}, 3);
    }
    [[nodiscard]] bool zones_throughout(const Box&, std::int64_t,
                                        ZoneSet& zones) const noexcept override {
      zones = no_zones();
      if (in_zone_) zones[0] = 5;
      return true;
    }

   private:
    bool in_zone_;
  };
  const auto fault = [](bool in_zone) {
    return check_world(Liar(in_zone), {{0, 0}, {10, 10}}).at(0);
  };
  EXPECT_THAT(fault(false), ::testing::HasSubstr("a border of zone 3 at [2, 2, 8, 8] is there"));
  EXPECT_THAT(fault(true), ::testing::HasSubstr("is in zone 5, which is not handed over there"));
}

}  // namespace
}  // namespace bushbaby
