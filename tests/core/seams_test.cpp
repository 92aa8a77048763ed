// Only the outside of all solids together can be met: a level that is cut into pieces, in any
// order, gives the run of the level as it was whole.
#include <algorithm>
#include <cmath>
#include <optional>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/world/outline.h"

#include "random_cuts.h"
#include "situation.h"
#include "support.h"

namespace bushbaby {
namespace {

using test::cut;
using test::kNothing;
using test::kRight;
using test::level_of;
using test::Outline;
using test::Random;
using test::rules_of;

// A character of any size and loop that runs, jumps, slides down walls and is helped past corners.
Tuning random_tuning(Random& random) {
  Tuning tuning = test::pip();
  const double rates[] = {24, 30, 50, 60, 120, 144, 240};
  tuning = test::with_loop(
      tuning, {test::all_integrators()[random.below(4)], rates[random.below(7)], true});
  tuning.jump.height = random.between(0.5, 6);
  tuning.jump.apex_time = Duration{random.between(0.15, 0.6)};
  tuning.fall.terminal_speed = random.between(3, 30);
  if (random.one_in(2)) tuning.wall.slide_speed = random.between(0, 6);
  tuning.wall.slide_brake = random.between(20, 400);
  tuning.wall.grab = random.one_in(2) ? WallGrab::touch : WallGrab::push;
  tuning.body.width = random.one_in(2) ? 0.8 : random.between(0.3, 2);
  tuning.body.height = std::max(tuning.body.width, random.one_in(2) ? 1 : random.between(0.3, 2));
  if (random.one_in(3)) tuning.body.shape = BodyShape::capsule;
  tuning.jump.coyote = {static_cast<double>(random.below(6)), Duration::Unit::ticks};
  tuning.jump.buffer = {static_cast<double>(random.below(6)), Duration::Unit::ticks};
  tuning.run.top_speed = random.between(1, 15);
  for (RunDrive* drive : {&tuning.run.ground, &tuning.run.air}) {
    *drive = {{random.between(5, 200), random.between(5, 200), random.between(5, 200)}};
  }
  tuning.jump.air_jumps.count = static_cast<int>(random.below(3));
  if (random.one_in(3)) tuning.jump.corner_nudge = random.between(0, 0.5);
  if (random.one_in(3)) tuning.run.ledge_lift = random.between(0, 0.4);
  return tuning;
}

void hold_something(Random& random, Controls& held) {
  if (random.one_in(12)) {
    held.x = static_cast<std::int8_t>(random.one_in(3) ? 0 : random.one_in(2) ? 127 : -127);
    held.y = static_cast<std::int8_t>(random.one_in(4) ? -127 : random.one_in(4) ? 127 : 0);
  }
  if (random.one_in(8)) held.jump = !held.jump;
}

// How a run in one level goes beside the same in another: the same, or otherwise from a tick on.
struct Comparison {
  std::int64_t ticks = 0;
  double worst = 0;  // u, between the feet
  bool differs = false;
};

bool report_the_same(const Events& a, const Events& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                    [](const Event& x, const Event& y) { return x.kind == y.kind; });
}

Comparison compare(Random& random, const Rules& rules, const World& whole, const World& cut,
                   double tolerance) {
  Comparison result;
  Character a;
  Character b;
  bool fits = false;
  for (int i = 0; i < 60 && !fits; ++i) {
    Vec feet{random.between(-8, 8), random.between(0, 10)};
    const double half = rules.body.box.hi.x;
    if (random.one_in(2)) feet.x = std::floor(feet.x) + (random.one_in(2) ? half : -half);
    fits = place(a, feet, rules, whole) && place(b, feet, rules, cut) && a.feet == b.feet;
  }
  Controls held;
  for (int i = 0; fits && i < 400 && a.feet.y > -15; ++i) {
    hold_something(random, held);
    const Events of_a = advance(a, held, rules, whole);
    const Events of_b = advance(b, held, rules, cut);
    ++result.ticks;
    const double off = std::max(std::abs(a.feet.x - b.feet.x), std::abs(a.feet.y - b.feet.y));
    result.worst = std::max(result.worst, off);
    if (off > tolerance || a.stance() != b.stance() || a.wall != b.wall ||
        a.grounded() != b.grounded() || !report_the_same(of_a, of_b)) {
      result.differs = true;
      break;
    }
  }
  return result;
}

// ---- boxes --------------------------------------------------------------------------------------

class CutBoxes : public testing::TestWithParam<std::uint64_t> {};

TEST_P(CutBoxes, GiveTheRunOfTheWholeLevel) {
  std::int64_t ticks = 0;
  constexpr std::uint64_t kRounds = 3000 / test::kFewer;
  for (std::uint64_t round = 0; round < kRounds; ++round) {
    Random random(GetParam() * kRounds + round);
    std::vector<Box> whole{{{-8, -2}, {8, 0}}};
    const bool on_a_lattice = random.one_in(2);
    for (std::uint64_t left = 1 + random.below(6); left > 0; --left) {
      Vec lo{random.between(-7, 6), random.between(-1, 8)};
      Vec size{random.between(0.2, 6), random.between(0.2, 6)};
      if (on_a_lattice) {
        lo = {std::floor(lo.x), std::floor(lo.y)};
        size = {std::ceil(size.x), std::ceil(size.y)};
      }
      whole.push_back({lo, lo + size});
    }
    std::vector<Box> pieces;
    for (const Box& box : whole) cut(random, box, 4, pieces);
    random.shuffle(pieces);
    const Rules rules = rules_of(random_tuning(random));
    const Comparison found = compare(random, rules, LevelWorld(whole), LevelWorld(pieces), 1e-9);
    ASSERT_FALSE(found.differs) << "round " << round << ", by " << found.worst << " u";
    ticks += found.ticks;
  }
  EXPECT_GT(ticks, 700'000 / test::kFewer);
}

INSTANTIATE_TEST_SUITE_P(Shards, CutBoxes, testing::Range<std::uint64_t>(0, 4));

// ---- polygons -----------------------------------------------------------------------------------

// How the run of a level of outlines compares with that of its pieces.
Comparison compare_cut(std::uint64_t round) {
  Random random(77'000 + round);
  const auto [whole, pieces] = test::cut_scene(random);
  const Rules rules = rules_of(random_tuning(random));
  return compare(random, rules, LevelWorld(level_of(whole), kNothingTravels),
                 LevelWorld(level_of(pieces), kNothingTravels), 1e-9);
}

// Of 30,000 runs of 330 ticks five differ, by a rounding of up to 4e-7 u where a round body comes
// round a corner, and none of these; without the law every tenth does.
TEST(CutPolygons, GiveTheRunOfTheWholeLevelButForARounding) {
  std::int64_t ticks = 0;
  int differ = 0;
  constexpr int kRounds = 3000 / test::kFewer;
  for (std::uint64_t round = 0; round < kRounds; ++round) {
    const Comparison found = compare_cut(round);
    differ += found.differs ? 1 : 0;
    ticks += found.ticks;
  }
  EXPECT_EQ(differ, 0);
  EXPECT_GT(ticks, 700'000 / test::kFewer);
}

// The rarest of those runs, each a corner of a piece that a neighbour covers: fallen past, slid
// along while nearer than at rest, and met by an upright side beside an edge that leans a little.
TEST(CutPolygons, GiveTheRunOfTheWholeLevelAtTheRarestCorners) {
  for (const std::uint64_t round : {12'192U, 13'430U, 26'240U}) {
    const Comparison found = compare_cut(round);
    EXPECT_FALSE(found.differs) << "round " << round << ", by " << found.worst << " u";
    EXPECT_GT(found.ticks, 100) << "round " << round;
  }
}

// Hills and stars go together from their convex parts: the level of the parts gives the same run.
TEST(Outlines, GiveTheRunsOfTheirConvexParts) {
  std::int64_t ticks = 0;
  constexpr std::uint64_t kRounds = 2000 / test::kFewer;
  for (std::uint64_t round = 0; round < kRounds; ++round) {
    Random random(177'000 + round);
    const std::vector<Outline> whole = test::cut_scene(random).whole;
    std::vector<Outline> parts;
    for (const Outline& outline : whole) {
      for (const Outline& part : convex_parts(outline)) parts.push_back(part);
    }
    const Rules rules = rules_of(random_tuning(random));
    const Comparison found = compare(random, rules, LevelWorld(level_of(whole), kNothingTravels),
                                     LevelWorld(level_of(parts), kNothingTravels), 1e-9);
    ASSERT_FALSE(found.differs) << "round " << round << ", by " << found.worst << " u";
    ticks += found.ticks;
  }
  EXPECT_GT(ticks, 500'000 / test::kFewer);
}

// Whether a run on the other side of a mirror is another one from some tick on.
bool differs_in_mirror(Random& random, const Rules& rules, const World& world,
                       const World& mirror) {
  Character a;
  Character b;
  bool fits = false;
  for (int i = 0; i < 60 && !fits; ++i) {
    const Vec feet{random.between(-8, 8), random.between(0, 10)};
    fits = place(a, feet, rules, world) && place(b, {-feet.x, feet.y}, rules, mirror) &&
           a.feet == Vec{-b.feet.x, b.feet.y};
  }
  b.facing = static_cast<std::int8_t>(-a.facing);
  Controls held;
  for (int i = 0; fits && i < 400 && a.feet.y > -15; ++i) {
    hold_something(random, held);
    Controls mirrored = held;
    mirrored.x = static_cast<std::int8_t>(-held.x);
    const Events of_a = advance(a, held, rules, world);
    const Events of_b = advance(b, mirrored, rules, mirror);
    const double off = std::max(std::abs(a.feet.x + b.feet.x), std::abs(a.feet.y - b.feet.y));
    constexpr double kRounding = 1e-9;
    if (off > kRounding || a.stance() != b.stance() || a.wall != -b.wall ||
        !report_the_same(of_a, of_b)) {
      return true;
    }
  }
  return false;
}

// Left and right are alike among hills and stars, but for the rarest corners: one run in 2,500 goes
// otherwise in the end.
TEST(Outlines, GiveMirroredRunsInAMirror) {
  int differ = 0;
  constexpr int kRounds = 2000 / test::kFewer;
  for (int round = 0; round < kRounds; ++round) {
    Random random(static_cast<std::uint64_t>(677'000 + round));
    const std::vector<Outline> whole = test::cut_scene(random).whole;
    std::vector<Outline> mirrored;
    for (const Outline& outline : whole) {
      mirrored.emplace_back();
      for (auto corner = outline.rbegin(); corner != outline.rend(); ++corner) {
        mirrored.back().emplace_back(-corner->x, corner->y);
      }
    }
    const Rules rules = rules_of(random_tuning(random));
    differ += differs_in_mirror(random, rules, LevelWorld(level_of(whole), kNothingTravels),
                                LevelWorld(level_of(mirrored), kNothingTravels))
                  ? 1
                  : 0;
  }
  EXPECT_LE(differ, 2);
}

// ---- what a tick costs --------------------------------------------------------------------------

// Counted in looks at what is near, so that it is the same on every machine. Eight are
// allowed for all else that a tick does (docs/performance.md).
class Costs {
 public:
  void add(const Explanation& tick) { costs_.push_back(8 + tick.looks); }
  [[nodiscard]] std::size_t ticks() const { return costs_.size(); }
  [[nodiscard]] std::int64_t worst() const {
    return *std::max_element(costs_.begin(), costs_.end());
  }
  [[nodiscard]] std::int64_t median() {
    const auto middle = costs_.begin() + static_cast<std::ptrdiff_t>(costs_.size() / 2);
    std::nth_element(costs_.begin(), middle, costs_.end());
    return *middle;
  }

 private:
  std::vector<std::int64_t> costs_;
};

constexpr std::int64_t kWorstToMedian = 50;

TEST(Costs, OfNoTickAreManyTimesTheUsual) {
  Costs costs;
  for (std::uint64_t round = 0; round < 2000 / test::kFewer; ++round) {
    Random random(900'000 + round);
    const test::CutScene scene = test::cut_scene(random);
    const LevelWorld world(level_of(scene.pieces), kNothingTravels);
    const Rules rules = rules_of(random_tuning(random));
    Character pip;
    bool fits = false;
    for (int i = 0; i < 60 && !fits; ++i) {
      fits = place(pip, {random.between(-8, 8), random.between(0, 10)}, rules, world);
    }
    Controls held;
    for (int i = 0; fits && i < 400 && pip.feet.y > -15; ++i) {
      hold_something(random, held);
      Explanation tick;
      advance(pip, held, rules, world, &tick);
      costs.add(tick);
    }
  }
  EXPECT_GT(costs.ticks(), 500'000U / test::kFewer);
  EXPECT_LE(costs.worst(), kWorstToMedian * costs.median());
}

// ---- by hand ------------------------------------------------------------------------------------

// Two boxes of a wall, in either order: a body that presses against it at their seam slides on.
TEST(Seams, OfAWallHoldNobody) {
  const Rules rules = rules_of(test::pip());
  for (const bool from_above : {false, true}) {
    std::vector<Box> boxes{{{1, 4}, {3, 5}}, {{1, 5}, {3, 7}}};
    if (from_above) std::swap(boxes[0], boxes[1]);
    const LevelWorld world(boxes);
    Character pip;
    pip.feet = {0.5996, 5.0000762};
    pip.velocity = {0, -4};
    for (const Event& event : advance(pip, kRight, rules, world)) {
      EXPECT_EQ(event.kind, EventKind::wall_touched);
    }
    EXPECT_EQ(pip.feet.x, 0.5996);
    EXPECT_LT(pip.feet.y, 4.95);
  }
}

// A box that stands out of a wall by less than counts as flush stops no fall along it.
TEST(Seams, OfAWallThatStandOutALittleStopNoFall) {
  const Rules rules = rules_of(test::pip());
  for (double out = 5e-5; out < rules.flush_gap; out += 5e-5) {
    const LevelWorld world(std::vector<Box>{{{1 - out, 4}, {3, 5}}, {{1, 5}, {3, 9}}});
    Character pip;
    pip.feet = {0.5996, 6};
    for (int i = 0; i < 60; ++i) advance(pip, kRight, rules, world);
    EXPECT_LT(pip.feet.y, 0) << out;
  }
}

// Platforms on a grid that travel, push and lie over one another: which of them comes first in the
// level decides nothing, not even what carries a body that stands on two at once.
TEST(Seams, TheOrderOfMovingPlatformsDecidesNothing) {
  Random random(4'004);
  int runs = 0;
  int carried = 0;
  for (int round = 0; round < 3000 / test::kFewer; ++round) {
    const auto on_grid = [&random](double lo, double hi) {
      return std::round(random.between(lo, hi) * 2) / 2;
    };
    Level level;
    for (std::uint64_t left = 3 + random.below(9); left > 0; --left) {
      Solid solid;
      const Vec at{on_grid(-4, 3), on_grid(-3, 3)};
      solid.box = {at, {at.x + 0.5 + on_grid(0, 3), at.y + 0.5 + on_grid(0, 1)}};
      if (random.one_in(2)) {
        solid.path = PlatformPath{};
        for (std::uint64_t stops = 1 + random.below(3); stops > 0; --stops) {
          solid.path->stops.push_back({on_grid(-3, 3), on_grid(-3, 3)});
        }
        solid.path->speed = random.between(0.5, 25);
      }
      level.solids.push_back(solid);
    }
    Level reversed = level;
    std::reverse(reversed.solids.begin(), reversed.solids.end());
    const Rules rules = rules_of(random_tuning(random));
    const LevelWorld world(level, rules.tick_rate);
    const LevelWorld other(reversed, rules.tick_rate);
    const Vec feet{random.between(-3, 3), random.between(-3, 4)};
    Character a;
    Character b;
    if (!place(a, feet, rules, world) || !place(b, feet, rules, other)) continue;
    ++runs;
    Controls held;
    for (int i = 0; i < 150 && !a.crushed; ++i) {
      hold_something(random, held);
      (void)advance(a, held, rules, world);
      (void)advance(b, held, rules, other);
      carried += a.grounded() && level.solids[a.ground.surface].path ? 1 : 0;
      ASSERT_NEAR(a.feet.x, b.feet.x, 1e-9) << round << " tick " << i;
      ASSERT_NEAR(a.feet.y, b.feet.y, 1e-9) << round << " tick " << i;
    }
  }
  EXPECT_GT(runs, 1000 / test::kFewer);
  EXPECT_GT(carried, 3000 / test::kFewer);
}

// A wall that leans a little under its sharp top is fallen along, not hung from.
TEST(Seams, TheTopOfALeaningWallHoldsNobody) {
  Tuning tuning = test::with_loop(test::pip(), {Integrator::trapezoidal, 30, true});
  tuning.body.width = 1;
  tuning.body.height = 1.48264;
  const Rules rules = rules_of(tuning);
  Level level;
  level.solids.resize(1);
  level.solids[0].corners = {
      {-6.178922632, 5.065405129}, {-6.63701051, 3.89365798}, {-6.178417432, 3.38146651}};
  Character pip;
  pip.feet = {-5.6784519487605349, 5.1292830871698776};
  pip.velocity = {0, -18.5558};
  const LevelWorld world(level, kNothingTravels);
  for (int i = 0; i < 10; ++i) advance(pip, kNothing, rules, world);
  EXPECT_LT(pip.feet.y, 1);
}

// Over a pit about as wide as itself a body stands on both edges, or falls in; it never hangs.
TEST(Seams, ABodyOverAPitOfItsOwnWidthStandsOrFalls) {
  const Rules rules = rules_of(test::pip());
  const double gap = rules.flush_gap;
  const double half = rules.body.box.hi.x;
  Costs costs;
  for (double wider = 0; wider <= 1.5; wider += 0.05) {
    for (double off = -0.75; off <= 0.75; off += 0.05) {
      const LevelWorld world(std::vector<Box>{{{-5, -1}, {-half - wider * gap / 2, 0}},
                                              {{half + wider * gap / 2, -1}, {5, 0}}});
      Character pip;
      pip.feet = {off * gap, 0.5};
      for (int i = 0; i < 120; ++i) {
        Explanation tick;
        advance(pip, kNothing, rules, world, &tick);
        costs.add(tick);
      }
      EXPECT_TRUE(pip.grounded() || pip.feet.y < -2) << wider << ' ' << off;
      if (wider <= 0.7 && std::abs(off) <= 0.5) {
        EXPECT_TRUE(pip.grounded()) << wider << ' ' << off;
      }
    }
  }
  EXPECT_LE(costs.worst(), kWorstToMedian * costs.median());
}

// What is held from both sides and cannot fall stands: it may jump, and that it landed is reported
// once.
TEST(Wedges, HoldABodyThatMayJump) {
  Solid left;
  left.corners = {{-3, 6}, {-5, 6}, {-5, -1}, {0, -1}, {0, 0}};
  Solid right;
  right.corners = {{0, 0}, {0, -1}, {5, -1}, {5, 6}, {3, 6}};
  Level valley;
  valley.solids = {left, right};
  const LevelWorld slit(std::vector<Box>{{{-5, -5}, {-0.35, 0}}, {{0.35, -5}, {5, 0}}});
  const LevelWorld steep(valley, kNothingTravels);
  for (const Integrator integrator : test::all_integrators()) {
    for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
      Tuning tuning = test::with_loop(test::pip(), {integrator, 60, true});
      tuning.body.shape = shape;
      const Rules rules = rules_of(tuning);
      const bool round = shape == BodyShape::capsule;
      for (const LevelWorld* world : {&steep, round ? &slit : &steep}) {
        Character pip;
        pip.feet = {0.02, 3};
        int landings = 0;
        for (int i = 0; i < 200; ++i) {
          for (const Event& event : advance(pip, kNothing, rules, *world)) {
            landings += event.kind == EventKind::landed ? 1 : 0;
            EXPECT_LT(event.tick, 150) << "reported again and again";
          }
        }
        EXPECT_EQ(landings, 1);
        EXPECT_TRUE(pip.grounded() && pip.ground.wedged);
        const double rested = pip.feet.y;
        for (int i = 0; i < 12; ++i) advance(pip, test::kJump, rules, *world);
        EXPECT_GT(pip.feet.y, rested + 1);
      }
    }
  }
}

// What may not be stood on holds nobody that way either.
TEST(Wedges, OfSurfacesThatMayNotBeStoodOnGiveNoGround) {
  Level valley;
  valley.solids.resize(2);
  valley.solids[0].corners = {{-3, 6}, {-5, 6}, {-5, -1}, {0, -1}, {0, 0}};
  valley.solids[1].corners = {{0, 0}, {0, -1}, {5, -1}, {5, 6}, {3, 6}};
  for (Solid& solid : valley.solids) solid.traits.ground = false;
  const LevelWorld world(valley, kNothingTravels);
  const Rules rules = rules_of(test::pip());
  Character pip;
  pip.feet = {0.02, 3};
  for (int i = 0; i < 200; ++i) {
    advance(pip, kNothing, rules, world);
    ASSERT_FALSE(pip.grounded());
  }
}

}  // namespace
}  // namespace bushbaby
