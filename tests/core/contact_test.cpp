// Contact with boxes, polygons and thin segments, against an account of its own: the separation of
// two convex shapes over the normals of both, sampled finely along the way.
#include <algorithm>
#include <cmath>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/world/level.h"

#include "situation.h"
#include "support.h"

namespace bushbaby {
namespace {

using test::kNothing;
using test::kRight;
using test::rules_of;

constexpr double kPi = 3.14159265358979323846;

// ---- the account --------------------------------------------------------------------------------

std::vector<Vec> corners_of(const Box& box) {
  return {box.lo, {box.hi.x, box.lo.y}, box.hi, {box.lo.x, box.hi.y}};
}

std::vector<Vec> points_of(const Solid& solid) {
  return solid.corners.empty() ? corners_of(solid.box) : solid.corners;
}

struct Separation {
  double distance = -1e300;  // negative: the depth
  Vec normal{0, 0};          // out of the solid
  double second = -1e300;    // the next best along another normal
};

double least_along(const std::vector<Vec>& points, Vec axis) {
  double least = 1e300;
  for (const Vec p : points) least = std::min(least, p.x * axis.x + p.y * axis.y);
  return least;
}

// Over the normals of the edges of both shapes, all of them out of the solid.
Separation separation_of(const std::vector<Vec>& body, const std::vector<Vec>& solid) {
  Separation best;
  const auto consider = [&](const std::vector<Vec>& shape, double side) {
    for (std::size_t i = 0; i < shape.size(); ++i) {
      const Vec edge = shape[(i + 1) % shape.size()] - shape[i];
      const double length = std::hypot(edge.x, edge.y);
      const Vec normal{side * edge.y / length, -side * edge.x / length};
      const Vec back{-normal.x, -normal.y};
      const double distance = least_along(body, normal) + least_along(solid, back);
      const double turn = normal.x * best.normal.x + normal.y * best.normal.y;
      if (distance > best.distance) {
        if (turn < 0.999999) best.second = best.distance;
        best.distance = distance;
        best.normal = normal;
      } else if (distance > best.second && turn < 0.999999) {
        best.second = distance;
      }
    }
  };
  consider(solid, 1);
  consider(body, -1);
  return best;
}

// The way from a segment to a point.
Vec way_from_segment(Vec a, Vec b, Vec place) {
  const Vec along = b - a;
  const double square = along.x * along.x + along.y * along.y;
  const Vec off = place - a;
  const double share =
      square > 0 ? std::clamp((off.x * along.x + off.y * along.y) / square, 0.0, 1.0) : 0;
  return place - (a + along * share);
}

// Of a body with round corners: the shortest way between its core and the solid, over the corners
// of either and the edges of the other.
Separation separation_of_round(const std::vector<Vec>& core, double radius,
                               const std::vector<Vec>& solid) {
  Separation apart = separation_of(core, solid);
  apart.second = -1e300;
  if (apart.distance > 0) {
    apart.distance = 1e300;
    const auto consider = [&](const std::vector<Vec>& edges, const std::vector<Vec>& points,
                              double side) {
      for (std::size_t i = 0; i < edges.size(); ++i) {
        for (const Vec point : points) {
          const Vec way = way_from_segment(edges[i], edges[(i + 1) % edges.size()], point);
          const double distance = std::hypot(way.x, way.y);
          if (distance >= apart.distance) continue;
          apart.distance = distance;
          apart.normal = way * (side / distance);
        }
      }
    };
    consider(solid, core, 1);
    consider(core, solid, -1);
  }
  apart.distance -= radius;
  return apart;
}

Separation separation_at(const Shape& shape, Vec feet, const Solid& solid) {
  const Box& body = shape.box;
  const double r = shape.radius;
  if (r > 0) {
    const Box core{body.lo + feet + Vec{r, r}, body.hi + feet - Vec{r, r}};
    // A core of no width or height has an edge all the same.
    constexpr double kLeast = 1e-12;
    return separation_of_round(corners_of(Box{core.lo,
                                              {std::max(core.hi.x, core.lo.x + kLeast),
                                               std::max(core.hi.y, core.lo.y + kLeast)}}),
                               r, points_of(solid));
  }
  return separation_of(corners_of(Box{body.lo + feet, body.hi + feet}), points_of(solid));
}

// ---- made-up solids -----------------------------------------------------------------------------

struct Dice {
  explicit Dice(std::uint64_t seed) : random(seed) {}
  double between(double lo, double hi) {
    return lo + (hi - lo) * std::uniform_real_distribution<double>(0, 1)(random);
  }
  int below(int n) { return static_cast<int>(random() % static_cast<std::uint64_t>(n)); }
  std::mt19937_64 random;
};

// A box, a convex polygon or a thin segment around a point.
Solid random_solid(Dice& dice, Vec centre, double size) {
  Solid solid;
  const int kind = dice.below(6);
  if (kind == 0) {
    const Vec half{dice.between(0.2, 1) * size, dice.between(0.2, 1) * size};
    solid.box = {centre - half, centre + half};
    return solid;
  }
  const int count = kind == 1 ? 2 : 3 + dice.below(5);
  std::vector<double> angles;
  const double turn = dice.between(0, 2 * kPi);
  for (int i = 0; i < count; ++i) {
    angles.push_back(turn + (i + dice.between(0, 0.6)) * 2 * kPi / count);
  }
  const double flatness = dice.between(0.2, 1);
  for (const double angle : angles) {
    solid.corners.push_back(centre +
                            Vec{size * std::cos(angle), size * flatness * std::sin(angle)});
  }
  return solid;
}

LevelWorld world_of_solids(std::vector<Solid> solids) {
  Level level;
  level.solids = std::move(solids);
  return LevelWorld(level, kNothingTravels);
}

// ---- the time of contact ------------------------------------------------------------------------

// What is reported a first contact must be so: at that time the body is at rest distance, along
// that normal, and before it it was never nearer than what may be passed. Without contact it never
// was.
struct Claim {
  bool met = false;
  double time = 1;  // share of the way
  Vec normal{0, 0};
};

template <class Place>
void check_claim(const Claim& claim, const Place& place, const Shape& body, const Solid& solid,
                 double rest, double slack, double size) {
  constexpr int kSamples = 400;
  const double noise = 1e-9 * size;
  const double until = claim.met ? claim.time : 1;
  for (int i = 0; i < kSamples; ++i) {
    const double share = until * i / kSamples;
    const Separation apart = separation_at(body, place(share), solid);
    ASSERT_GT(apart.distance, rest - slack - noise) << "at share " << share << " of the way";
  }
  if (!claim.met) return;
  const Separation apart = separation_at(body, place(claim.time), solid);
  // Round corners are followed to an eighth of the slack.
  const double loose = body.radius > 0 ? noise + slack / 8 : noise;
  ASSERT_LT(apart.distance, rest + loose);
  if (apart.second < apart.distance - 1e-6 * size) {
    ASSERT_NEAR(apart.normal.x, claim.normal.x, body.radius > 0 ? 1e-6 : 1e-9);
    ASSERT_NEAR(apart.normal.y, claim.normal.y, body.radius > 0 ? 1e-6 : 1e-9);
    ASSERT_NEAR(apart.distance, rest, loose) << "found late or early";
  }
}

constexpr int kRounds = test::kSlow ? 2000 : 30000;

TEST(Contact, StraightCastsAgreeWithFineSteps) {
  Dice dice(3);
  int met = 0;
  for (int round = 0; round < kRounds; ++round) {
    const Solid solid = random_solid(dice, {0, 0}, dice.between(0.2, 4));
    const double half = dice.between(0.1, 1);
    Shape body = Box{{-half, 0}, {half, dice.between(0.2, 2)}};
    if (round % 2 == 1)
      body.radius = std::min(half, body.box.hi.y / 2) * (dice.below(2) == 0 ? 1 : 0.4);
    const Vec from{dice.between(-8, 8), dice.between(-8, 8)};
    if (separation_at(body, from, solid).distance < 0) continue;
    const Vec aim{dice.between(-3, 3), dice.between(-3, 3)};
    const Vec move = (aim - from) * dice.between(0.2, 2);
    const Contact contact = cast(world_of_solids({solid}), {body, from, move, {0, 1}, 0});
    met += contact.met() ? 1 : 0;
    SCOPED_TRACE("round " + std::to_string(round));
    check_claim(
        {contact.met(), contact.fraction, contact.normal},
        [&](double share) { return from + move * share; }, body, solid, 0, 0, 16);
    if (HasFatalFailure()) return;
  }
  EXPECT_GT(met, kRounds / 4);
}

// Nothing but gravity, in the exact loop: the way within a tick is a parabola.
Rules falling_rules(double tick_rate, Dice& dice) {
  Tuning tuning;
  tuning.loop.tick_rate = tick_rate;
  tuning.body.width = dice.between(0.2, 2);
  tuning.body.height = dice.between(0.2, 2);
  if (dice.below(2) == 0) tuning.body.shape = BodyShape::capsule;
  tuning.run.ground = tuning.run.air = {};
  tuning.run.air.accelerate = tuning.run.air.brake = tuning.run.air.turn = 0;
  tuning.jump.height = dice.between(0.5, 8);
  tuning.jump.apex_time = Duration{dice.between(0.2, 1)};
  return rules_of(tuning);
}

TEST(Contact, CurvedWaysAgreeWithFineSteps) {
  Dice dice(4);
  int met = 0;
  int set_aside = 0;
  for (int round = 0; round < kRounds; ++round) {
    const Rules rules = falling_rules(dice.between(2, 10), dice);
    const Solid solid = random_solid(dice, {0, 0}, dice.between(0.2, 4));
    const LevelWorld world = world_of_solids({solid});
    Character character;
    character.feet = {dice.between(-8, 8), dice.between(-8, 8)};
    if (separation_at(rules.body, character.feet, solid).distance < rules.flush_gap) continue;
    const Vec aim{dice.between(-3, 3), dice.between(-3, 3)};
    const double time = rules.dt * dice.between(0.3, 2);
    const Vec fall{0, rules.fall_gravity * time / 2};
    character.velocity = (aim - character.feet) / time + fall;
    const Character before = character;
    Claim claim;
    Vec reported{0, 0};
    for (const Event& event : advance(character, kNothing, rules, world)) {
      const bool is_contact = event.kind == EventKind::landed ||
                              event.kind == EventKind::wall_touched ||
                              event.kind == EventKind::bumped_head;
      if (!is_contact || claim.met) continue;
      claim = {true, event.fraction, {0, 0}};
      reported = event.place;
    }
    const auto place = [&](double share) {
      const double t = share * rules.dt;
      return before.feet + before.velocity * t - Vec{0, rules.rise_gravity * t * t / 2};
    };
    const Vec off = claim.met ? reported - place(claim.time) : character.feet - place(1);
    if (std::abs(off.x) > 1e-9 || std::abs(off.y) > 1e-9) {
      ++set_aside;  // by a corner that it met within the flush gap
      continue;
    }
    met += claim.met ? 1 : 0;
    if (claim.met) claim.normal = separation_at(rules.body, place(claim.time), solid).normal;
    SCOPED_TRACE("round " + std::to_string(round));
    check_claim(claim, place, rules.body, solid, rules.flush_gap / 2, rules.flush_gap / 8, 64);
    if (HasFatalFailure()) return;
  }
  EXPECT_GT(met, kRounds / 8);
  EXPECT_LT(set_aside, kRounds / 100);
}

// ---- never inside, in all loops -----------------------------------------------------------------

Level random_level(Dice& dice) {
  Level level;
  level.solids.push_back({"", {{-20, -3}, {20, -2}}});
  const int count = 8 + dice.below(12);
  for (int i = 0; i < count; ++i) {
    const Vec centre{dice.between(-14, 14), dice.between(-3, 8)};
    level.solids.push_back(random_solid(dice, centre, dice.between(0.3, 3)));
  }
  return level;
}

double nearest(const Shape& body, Vec feet, const Level& level) {
  double least = 1e300;
  for (const Solid& solid : level.solids) {
    least = std::min(least, separation_at(body, feet, solid).distance);
  }
  return least;
}

// Help at corners, and what else moves a body aside or down.
void choose_help(Tuning& tuning, Dice& dice) {
  if (dice.below(2) == 0) tuning.jump.corner_nudge = dice.between(0, 0.6);
  if (dice.below(2) == 0) tuning.run.ledge_lift = dice.between(0, 0.8);
  if (dice.below(3) == 0) tuning.run.slope.stick_depth = dice.between(0, 1);
  tuning.run.slope.ramp_launch = dice.below(2) == 0;
}

void play_among_polygons(std::uint64_t seed, std::int64_t& ticks, std::int64_t& contacts) {
  Dice dice(seed);
  const Level level = random_level(dice);
  const LevelWorld world(level, kNothingTravels);
  Tuning tuning = test::pip();
  const double rates[] = {30, 60, 144, 1000};
  tuning.loop.tick_rate = rates[dice.below(4)];
  tuning.loop.integrator = test::all_integrators()[static_cast<std::size_t>(dice.below(4))];
  tuning.body.width = dice.between(0.2, 1.5);
  tuning.body.height = dice.between(0.2, 2);
  if (dice.below(2) == 0) tuning.body.shape = BodyShape::capsule;
  tuning.run.top_speed = dice.between(1, 40);
  tuning.run.air.accelerate = dice.between(10, 1000);
  choose_help(tuning, dice);
  const Rules rules = rules_of(tuning);
  Character character;
  Vec start{0, 0};
  for (int tries = 0;; ++tries) {
    if (tries == 100) return;
    start = {dice.between(-12, 12), dice.between(-1.9, 10)};
    if (nearest(rules.body, start, level) > rules.flush_gap) break;
  }
  if (!place(character, start, rules, world)) return;
  Controls held;
  for (int tick = 0; tick < 400; ++tick) {
    if (dice.below(12) == 0) {
      held = {static_cast<std::int8_t>(127 * (dice.below(3) - 1)), 0, dice.below(3) == 0, false};
    }
    if (dice.below(60) == 0) {  // a blow
      const double speed = std::pow(10, dice.between(0, 3));
      character.velocity = {dice.between(-speed, speed), dice.between(-speed, speed)};
    }
    const Events events = advance(character, held, rules, world);
    ASSERT_TRUE(std::isfinite(character.feet.x) && std::isfinite(character.feet.y));
    ASSERT_GT(nearest(rules.body, character.feet, level), 0)
        << "seed " << seed << ", tick " << character.tick << ", at " << character.feet.x << ", "
        << character.feet.y;
    ++ticks;
    for (const Event& event : events) {
      const bool is_contact = event.kind == EventKind::landed ||
                              event.kind == EventKind::wall_touched ||
                              event.kind == EventKind::bumped_head;
      if (!is_contact) continue;
      ++contacts;
      // Flush where it met it: in the exact loop events know the place.
      if (rules.integrator != Integrator::exact) continue;
      const double gap = nearest(rules.body, event.place, level);
      ASSERT_GT(gap, 0) << "seed " << seed << ", tick " << character.tick;
      ASSERT_LE(gap, rules.flush_gap) << "seed " << seed << ", tick " << character.tick;
    }
  }
}

class AmongPolygons : public ::testing::TestWithParam<std::uint64_t> {};

TEST_P(AmongPolygons, NeverInsideAndAlwaysFlushInAllLoops) {
  constexpr std::uint64_t kSeeds = test::kSlow ? 60 : 1300;
  std::int64_t ticks = 0;
  std::int64_t contacts = 0;
  for (std::uint64_t i = 0; i < kSeeds && !HasFatalFailure(); ++i) {
    play_among_polygons(GetParam() * kSeeds + i, ticks, contacts);
  }
  EXPECT_GT(ticks, static_cast<std::int64_t>(kSeeds) * 350);
  EXPECT_GT(contacts, ticks / 100);
}

INSTANTIATE_TEST_SUITE_P(Shards, AmongPolygons, ::testing::Range<std::uint64_t>(0, 4));

// ---- no tunnelling ------------------------------------------------------------------------------

// The places that a body may come to from a start, on a grid: cells in which it might be free,
// filled from the start's on. What is solid is at least as thick as the body, and so as several
// cells.
class Reach {
 public:
  Reach(const Shape& body, const Level& level, const Box& where, Vec start)
      : where_(where),
        columns_(static_cast<int>((where.hi.x - where.lo.x) / kCell) + 1),
        rows_(static_cast<int>((where.hi.y - where.lo.y) / kCell) + 1),
        filled_(static_cast<std::size_t>(columns_ * rows_), false) {
    std::vector<int> waiting{cell_of(start)};
    filled_[static_cast<std::size_t>(waiting[0])] = true;
    while (!waiting.empty()) {
      const int cell = waiting.back();
      waiting.pop_back();
      const int x = cell % columns_;
      const int y = cell / columns_;
      for (const auto& [nx, ny] : {std::pair{x + 1, y}, {x - 1, y}, {x, y + 1}, {x, y - 1}}) {
        if (nx < 0 || ny < 0 || nx >= columns_ || ny >= rows_) continue;
        const auto next = static_cast<std::size_t>(ny * columns_ + nx);
        const Vec centre = where_.lo + Vec{(nx + 0.5) * kCell, (ny + 0.5) * kCell};
        if (filled_[next] || nearest(body, centre, level) < -0.75 * kCell) continue;
        filled_[next] = true;
        waiting.push_back(static_cast<int>(next));
      }
    }
  }

  [[nodiscard]] bool has(Vec feet) const {
    const int cell = cell_of(feet);
    return cell >= 0 && filled_[static_cast<std::size_t>(cell)];
  }
  [[nodiscard]] double share() const {
    return static_cast<double>(std::count(filled_.begin(), filled_.end(), true)) /
           static_cast<double>(filled_.size());
  }

 private:
  static constexpr double kCell = 0.06;

  [[nodiscard]] int cell_of(Vec feet) const {
    const int x = static_cast<int>(std::floor((feet.x - where_.lo.x) / kCell));
    const int y = static_cast<int>(std::floor((feet.y - where_.lo.y) / kCell));
    return x < 0 || y < 0 || x >= columns_ || y >= rows_ ? -1 : y * columns_ + x;
  }

  Box where_;
  int columns_;
  int rows_;
  std::vector<bool> filled_;
};

// Rooms between thin walls that lean, with polygons in them; a body that is knocked about at any
// speed stays in the room that it was put into.
TEST(Contact, NothingIsTunnelledThrough) {
  Dice dice(77);
  int rooms = 0;
  double shares = 0;
  for (int round = 0; round < (test::kSlow ? 3 : 150); ++round) {
    const Box where{{-6, -3}, {6, 5}};
    Level level;
    level.solids.push_back({"", {{-7, -4}, {7, -2.5}}});
    level.solids.push_back({"", {{-7, 4.5}, {7, 6}}});
    level.solids.push_back({"", {{-7, -4}, {-5.5, 6}}});
    level.solids.push_back({"", {{5.5, -4}, {7, 6}}});
    for (int i = 0; i < 3; ++i) {  // from the one side to the other
      Solid wall;
      wall.corners = {{dice.between(-5, 5), -2.6}, {dice.between(-5, 5), 4.6}};
      if (i == 2) wall.corners = {{-5.6, dice.between(-1, 4)}, {5.6, dice.between(-1, 4)}};
      level.solids.push_back(wall);
    }
    for (int i = 0; i < 5; ++i) {
      level.solids.push_back(
          random_solid(dice, {dice.between(-5, 5), dice.between(-2, 4)}, dice.between(0.2, 1)));
    }
    const LevelWorld world(level, kNothingTravels);
    Tuning tuning = test::pip();
    const double rates[] = {30, 60, 144};
    tuning.loop.tick_rate = rates[dice.below(3)];
    tuning.loop.integrator = test::all_integrators()[static_cast<std::size_t>(dice.below(4))];
    tuning.body.width = dice.between(0.2, 0.6);
    tuning.body.height = dice.between(0.2, 0.8);
    choose_help(tuning, dice);
    if (dice.below(2) == 0) tuning.body.shape = BodyShape::capsule;
    const Rules rules = rules_of(tuning);
    Vec start{dice.between(-5, 5), dice.between(-2, 3)};
    for (int tries = 0; tries < 100 && nearest(rules.body, start, level) < 0.05; ++tries) {
      start = {dice.between(-5, 5), dice.between(-2, 3)};
    }
    Character character;
    if (nearest(rules.body, start, level) < 0.05 || !place(character, start, rules, world))
      continue;
    const Reach reach(rules.body, level, where, start);
    ++rooms;
    shares += reach.share();
    Controls held;
    for (int tick = 0; tick < 3000; ++tick) {
      if (dice.below(12) == 0) {
        held = {static_cast<std::int8_t>(127 * (dice.below(3) - 1)), 0, dice.below(3) == 0, false};
      }
      if (dice.below(10) == 0) {
        const double speed = std::pow(10, dice.between(0, 5));
        character.velocity = {dice.between(-speed, speed), dice.between(-speed, speed)};
      }
      advance(character, held, rules, world);
      ASSERT_TRUE(reach.has(character.feet)) << "round " << round << ", tick " << tick << ", at "
                                             << character.feet.x << ", " << character.feet.y;
    }
  }
  EXPECT_GT(rooms, test::kSlow ? 1 : 80);
  EXPECT_LT(shares / rooms, 0.4) << "so that most of the places are out of reach";
}

// Hands over every solid thirty times: more than the step keeps, so that it asks for every look.
class Insistent final : public World {
 public:
  explicit Insistent(const World& world) : world_(world) {}
  void find_solids(const Box& region, std::int64_t tick, Solids& solids) const noexcept override {
    for (int i = 0; i < 30; ++i) world_.find_solids(region, tick, solids);
  }

 private:
  const World& world_;
};

TEST(Worlds, WhatIsHandedOverManyTimesChangesNoBit) {
  for (std::uint64_t seed = 0; seed < 40; ++seed) {
    Dice dice(seed);
    const LevelWorld world(random_level(dice), kNothingTravels);
    const Insistent insistent(world);
    const Rules rules = rules_of(test::with_loop(
        test::pip(), {test::all_integrators()[static_cast<std::size_t>(seed % 4)], 60, true}));
    Character a;
    Character b;
    if (!place(a, {dice.between(-9, 9), 9}, rules, world)) continue;
    ASSERT_TRUE(place(b, a.feet, rules, insistent));
    b = a;
    Controls held;
    for (int tick = 0; tick < 300; ++tick) {
      if (dice.below(12) == 0) {
        held = {static_cast<std::int8_t>(127 * (dice.below(3) - 1)), 0, dice.below(3) == 0, false};
      }
      advance(a, held, rules, world);
      advance(b, held, rules, insistent);
      ASSERT_TRUE(a == b) << "seed " << seed << ", tick " << tick;
    }
  }
}

// ---- seams, steps, corners ----------------------------------------------------------------------

// Floors and walls of many pieces: what stands out by less than counts as flush stops nothing.
TEST(Seams, StepsBelowTheFlushGapStopNothing) {
  for (const JumpLoop& loop : test::all_loops({60, 300})) {
    const Rules rules = rules_of(test::with_loop(test::pip(), loop));
    for (const double step : {0.0, 1e-15, 1e-12, 5e-5, 3e-4, 0.99 * rules.flush_gap}) {
      SCOPED_TRACE(test::text_of(loop) + ", steps of " + std::to_string(step));
      Dice dice(9);
      std::vector<Box> boxes;
      for (int i = -2; i < 1000; ++i) {
        const double top = dice.below(2) == 0 ? 0 : step;
        boxes.push_back({{0.3 * i, -1}, {0.3 * (i + 1), top}});
      }
      const LevelWorld floor(boxes);
      test::Mover run(rules, floor, {0.5, step});
      run.advance(kRight, 60);
      EXPECT_EQ(run.character.velocity.x, 7);
      for (int i = 0; i < 1500; ++i) {
        run.advance(kRight);
        ASSERT_EQ(run.character.velocity.x, 7) << "tick " << run.character.tick;
        ASSERT_TRUE(run.character.grounded()) << "tick " << run.character.tick;
      }

      boxes.clear();
      for (int i = 0; i < 400; ++i) {
        const double side = dice.below(2) == 0 ? 0 : -step;
        boxes.push_back({{side, -0.3 * (i + 1)}, {1, -0.3 * i}});
      }
      const LevelWorld wall(boxes);
      const LevelWorld nothing(std::vector<Box>{});
      test::Mover fall(rules, wall, {-0.41, -2});
      test::Mover free(rules, nothing, {-0.41, -2});
      const int ticks = static_cast<int>(2 * loop.tick_rate);
      fall.advance(kRight, ticks);
      free.advance(kNothing, ticks);
      EXPECT_NEAR(fall.character.feet.y, free.character.feet.y, 1e-9);
      EXPECT_TRUE(fall.all(EventKind::landed).empty());
    }
  }
}

// Whatever the angle of approach, the body ends at half the flush gap, at once.
TEST(Contact, ShallowApproachesEndFlushAtOnce) {
  const LevelWorld world(std::vector<Box>{{{3, -1e4}, {4, 1e4}}});
  for (const double rate : {30.0, 60.0, 1000.0}) {
    Tuning tuning = test::with_loop(test::pip(), {Integrator::exact, rate, true});
    tuning.run.air = {};
    const Rules rules = rules_of(tuning);
    for (double across = 40; across > 1e-4; across *= 0.7) {
      Character character;
      character.feet = {2.599 - across / rate / 3, 0};
      character.velocity = {across, 17};
      bool reported = false;
      const double ticks = 3 + 0.001 / across * rate;
      for (int tick = 0; tick < ticks && !reported; ++tick) {
        for (const Event& event : advance(character, kNothing, rules, world)) {
          reported = reported || event.kind == EventKind::wall_touched;
        }
        const double gap = 3 - (character.feet.x + 0.4);
        ASSERT_GE(gap, rules.flush_gap / 2 - 1e-12) << across << " u/s at " << rate << " Hz";
        if (!reported) continue;
        EXPECT_NEAR(gap, rules.flush_gap / 2, 1e-12) << across << " u/s at " << rate << " Hz";
        EXPECT_EQ(character.velocity.x, 0);
      }
      EXPECT_TRUE(reported) << across << " u/s at " << rate << " Hz";
    }
  }
}

// At speeds and accelerations beyond all sense nothing is passed through, and a contact is reported
// where the body is beside the solid.
TEST(Contact, AbsurdSpeedsMeetWhatIsThere) {
  const Box thin{{0, -1e-3}, {1, 0}};
  const LevelWorld world(std::vector<Box>{thin});
  for (const double speed : {1e2, 5e3, 1e5}) {
    for (const double slope : {0.01, 0.3, 1.0, 30.0}) {
      Tuning tuning = test::with_loop(test::pip(), {Integrator::exact, 60, true});
      tuning.body.width = 0.05;
      tuning.body.height = 0.05;
      tuning.run.air = {};
      const Rules rules = rules_of(tuning);
      Character character;
      const Vec way{speed, -slope * speed};
      character.feet = Vec{0.5, 0.001} - way * (0.4 / 60);
      character.velocity = way;
      bool reported = false;
      for (const Event& event : advance(character, kNothing, rules, world)) {
        if (event.kind != EventKind::landed) continue;
        reported = true;
        EXPECT_GT(event.place.x + 0.025, thin.lo.x);
        EXPECT_LT(event.place.x - 0.025, thin.hi.x);
        EXPECT_NEAR(event.place.y, rules.flush_gap / 2, 1e-7 * (1 + speed / 1e3));
      }
      EXPECT_TRUE(reported) << speed << " u/s, slope " << slope;
    }
  }
}

// In a wedge of two slopes a body comes to rest, and no tick is lost on the way there.
TEST(Contact, AWedgeHoldsTheBodyWithoutOverlap) {
  for (const double steepness : {0.2, 1.0, 4.0, 20.0}) {
    Solid left;
    left.corners = {{-50, -1}, {0, -1}, {0, 0}, {-50, 50 * steepness}};
    Solid right;
    right.corners = {{0, -1}, {50, -1}, {50, 50 * steepness}, {0, 0}};
    Level level;
    level.solids = {left, right};
    const LevelWorld world(level, kNothingTravels);
    for (const JumpLoop& loop : test::all_loops({60})) {
      SCOPED_TRACE(test::text_of(loop) + ", steepness " + std::to_string(steepness));
      const Rules rules = rules_of(test::with_loop(test::pip(), loop));
      Character character;
      character.feet = {0.3, 10 * steepness};
      for (int tick = 0; tick < 900; ++tick) {
        advance(character, kNothing, rules, world);
        ASSERT_GT(nearest(rules.body, character.feet, level), 0) << "tick " << tick;
      }
      EXPECT_LT(nearest(rules.body, character.feet, level), rules.flush_gap);
    }
  }
}

}  // namespace
}  // namespace bushbaby
