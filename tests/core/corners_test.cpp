// Help at corners, and what a tuning may say of slopes.
#include <algorithm>
#include <cmath>
#include <map>
#include <random>

#include <gtest/gtest.h>

#include "support.h"

namespace bushbaby {
namespace {

using test::ground_below;
using test::ground_speed_of;
using test::kJump;
using test::kLeft;
using test::kNothing;
using test::kRight;
using test::Mover;
using test::radians;
using test::rules_of;
using test::text_of;
using test::with_loop;

double highest_of(const Mover& run) {
  double highest = run.character.feet.y;
  for (const Event& event : run.events) highest = std::max(highest, event.place.y);
  return highest;
}

// A floor, and a block whose left lower corner the head of a body at x = 0 clips by `overlap`.
std::vector<Box> under_a_corner(double overlap, double side) {
  const double near = 0.4 - overlap;
  const Box block = side > 0 ? Box{{near, 2}, {near + 3, 3}} : Box{{-near - 3, 2}, {-near, 3}};
  return {{{-9, -1}, {9, 0}}, block};
}

TEST(Corners, AHeadThatOnlyJustClipsOneIsPushedPastIt) {
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(test::pip(), loop);
    tuning.jump.corner_nudge = 0.15;
    const Rules rules = rules_of(tuning);
    for (const double side : {1.0, -1.0}) {
      for (const double overlap : {0.01, 0.1, 0.149, 0.16, 0.4}) {
        SCOPED_TRACE(text_of(loop) + ", by " + std::to_string(side * overlap));
        const LevelWorld world(under_a_corner(overlap, side));
        Mover pip(rules, world, {0, 0});
        pip.advance(kJump, static_cast<int>(0.5 * rules.tick_rate));
        const bool passes = overlap + rules.flush_gap < 0.15;
        EXPECT_EQ(pip.all(EventKind::nudged).size(), passes ? 1U : 0U);
        EXPECT_EQ(pip.all(EventKind::bumped_head).empty(), passes);
        if (passes) {
          EXPECT_EQ(detail_of(pip.all(EventKind::nudged)[0]), "head");
          EXPECT_NEAR(pip.character.feet.x, -side * overlap, rules.flush_gap);
          if (loop.integrator == Integrator::exact) {
            EXPECT_NEAR(highest_of(pip), 3.25 + rules.flush_gap / 2, 1e-9) << "a whole jump";
          }
        } else {
          EXPECT_EQ(pip.character.feet.x, 0);
        }
      }
    }
  }
}

bool are_apart(const Box& a, const Box& b) {
  return a.lo.x >= b.hi.x || b.lo.x >= a.hi.x || a.lo.y >= b.hi.y || b.lo.y >= a.hi.y;
}

// What happens to a body that goes straight up its y axis, reported from the boxes alone: it passes
// the first of them if it may, where it meets it, go so far aside as clears all that it meets at
// once.
enum class Corner { none, stops, is_passed, too_close_to_call };

Corner reported_of(const std::vector<Box>& boxes, const Box& body, double gap, double most,
                   const std::vector<double>& sides) {
  double face = 1e9;
  for (const Box& box : boxes) {
    const double overlap = std::min(body.hi.x - box.lo.x, box.hi.x - body.lo.x);
    if (box.lo.y < body.hi.y) continue;
    if (std::abs(overlap) < gap) return Corner::too_close_to_call;
    if (overlap > 0) face = std::min(face, box.lo.y);
  }
  for (const Box& box : boxes) {
    if (box.lo.y > face && box.lo.y < face + 3 * gap) return Corner::too_close_to_call;
  }
  if (face == 1e9) return Corner::none;
  const double to_face = face - gap / 2 - body.hi.y;
  const Box there{body.lo + Vec{0, to_face}, body.hi + Vec{0, to_face}};
  bool close = false;
  for (const double side : sides) {
    double shift = 0;
    for (const Box& box : boxes) {
      if (box.lo.y != face || box.lo.x >= body.hi.x || box.hi.x <= body.lo.x) continue;
      shift = std::max(shift, (side < 0 ? body.hi.x - box.lo.x : box.hi.x - body.lo.x) + gap / 2);
    }
    if (std::abs(shift - most) < gap || shift < 3 * gap) close = true;
    if (shift > most) continue;
    Box swept = there;
    (side < 0 ? swept.lo.x : swept.hi.x) += side * shift;
    const Box beyond{there.lo + Vec{side * shift, 0}, there.hi + Vec{side * shift, 2 * gap}};
    const auto is_free = [&](double farther) {
      return std::all_of(boxes.begin(), boxes.end(), [&](const Box& solid) {
        Box wider[] = {swept, beyond};
        for (Box& box : wider) (side < 0 ? box.lo.x : box.hi.x) += side * farther;
        return are_apart(wider[0], solid) && are_apart(wider[1], solid);
      });
    };
    const bool free = is_free(0);
    if (free != is_free(gap)) close = true;
    if (free) return close ? Corner::too_close_to_call : Corner::is_passed;
  }
  return close ? Corner::too_close_to_call : Corner::stops;
}

// A floor and what stands on it or hangs over it, and how far a corner is helped past.
struct Scene {
  double most = 0;
  std::vector<Box> boxes{{{-9, -1}, {9, 0}}};
};

using Random = std::mt19937_64;

double between(Random& random, double lo, double hi) {
  return std::uniform_real_distribution<double>(lo, hi)(random);
}

Scene blocks_overhead(Random& random) {
  Scene scene;
  scene.most = between(random, 0.05, 0.4);
  for (std::uint64_t left = 1 + random() % 6; left > 0; --left) {
    const bool level = random() % 2 == 0;
    const Vec lo{between(random, -1.6, 1.2), level ? 2 : between(random, 1.6, 3)};
    scene.boxes.push_back({lo, lo + Vec{between(random, 0.02, 1.2), between(random, 0.05, 1)}});
  }
  if (random() % 3 == 0) {  // a thin wall beside it
    const double side = random() % 2 == 0 ? 1 : -1;
    const Vec lo{side * (0.43 + between(random, 0, 0.5)), between(random, 0.1, 3)};
    scene.boxes.push_back({lo, lo + Vec{0.01, between(random, 0.1, 2)}});
  }
  return scene;
}

Scene blocks_ahead(Random& random) {
  Scene scene;
  scene.most = between(random, 0.05, 0.5);
  for (std::uint64_t left = 1 + random() % 5; left > 0; --left) {
    const bool flush = random() % 2 == 0;
    const double low = random() % 2 == 0 ? 0 : between(random, -0.5, 0.5);
    const Vec lo{flush ? 1 : between(random, 0.6, 1.4), low};
    scene.boxes.push_back({lo, lo + Vec{between(random, 0.05, 1), between(random, 0.02, 0.4)}});
  }
  if (random() % 3 == 0) {  // something above it
    const Vec lo{between(random, -0.5, 1.4), between(random, 1.41, 2)};
    scene.boxes.push_back({lo, lo + Vec{between(random, 0.1, 2), 0.2}});
  }
  return scene;
}

Box with_axes_changed(const Box& box) { return {{box.lo.y, box.lo.x}, {box.hi.y, box.hi.x}}; }

// A head that jumps, or a foot that runs, until it has passed a corner or been stopped, in every
// loop, held against that account.
void expect_as_reported(Scene (*make)(Random&), bool head) {
  Random random(77);
  std::map<Corner, int> counts;
  for (int round = 0; round < 60000; ++round) {
    const Scene scene = make(random);
    Tuning tuning = with_loop(test::pip(), {test::all_integrators()[random() % 4], 60, true});
    (head ? tuning.jump.corner_nudge : tuning.run.ledge_lift) = scene.most;
    const Rules rules = rules_of(tuning);
    const double gap = rules.flush_gap;
    const Box body{rules.body.box.lo + Vec{0, gap / 2}, rules.body.box.hi + Vec{0, gap / 2}};
    std::vector<Box> ahead = scene.boxes;
    if (!head) std::transform(ahead.begin(), ahead.end(), ahead.begin(), with_axes_changed);
    const Corner reported = head
                                ? reported_of(ahead, body, gap, scene.most, {-1, 1})
                                : reported_of(ahead, with_axes_changed(body), gap, scene.most, {1});
    if (reported == Corner::none || reported == Corner::too_close_to_call) continue;
    const LevelWorld world(scene.boxes);
    Mover pip(rules, world, {0, 0});
    const EventKind stop = head ? EventKind::bumped_head : EventKind::wall_touched;
    const auto has = [&pip](EventKind kind) { return !pip.all(kind).empty(); };
    for (int i = 0; i < 60 && !has(stop) && !has(EventKind::nudged); ++i) {
      pip.advance(head ? kJump : kRight);
    }
    ASSERT_TRUE(has(EventKind::nudged) || has(stop)) << "round " << round;
    ASSERT_EQ(has(EventKind::nudged), reported == Corner::is_passed) << "round " << round;
    ++counts[reported];
  }
  EXPECT_GT(counts[Corner::is_passed], 5000);
  EXPECT_GT(counts[Corner::stops], 5000);
}

TEST(Corners, HeadsPassWhereTheBoxesSaySo) { expect_as_reported(blocks_overhead, true); }
TEST(Corners, FeetPassWhereTheBoxesSaySo) { expect_as_reported(blocks_ahead, false); }

TEST(Corners, NothingIsPushedWhereThereIsNoRoom) {
  Tuning tuning = test::pip();
  tuning.jump.corner_nudge = 0.15;
  tuning.run.ledge_lift = 0.3;
  const Rules rules = rules_of(tuning);
  std::vector<Box> boxes = under_a_corner(0.1, 1);
  boxes.push_back({{-0.46, 0}, {-0.45, 4}});  // a thin wall on the other side
  Mover walled(rules, LevelWorld(boxes), {0, 0});
  const LevelWorld beside(boxes);
  Mover pip(rules, beside, {0, 0});
  pip.advance(kJump, 20);
  EXPECT_TRUE(pip.all(EventKind::nudged).empty());
  EXPECT_EQ(pip.all(EventKind::bumped_head).size(), 1U);

  // Small blocks, side by side, are a ceiling.
  std::vector<Box> ceiling{{{-9, -1}, {9, 0}}};
  for (int i = -30; i < 30; ++i) ceiling.push_back({{0.1 * i + 0.03, 2}, {0.1 * i + 0.13, 3}});
  const LevelWorld under(ceiling);
  Mover low(rules, under, {0, 0});
  low.advance(kJump, 20);
  EXPECT_TRUE(low.all(EventKind::nudged).empty());
  EXPECT_EQ(low.character.feet.x, 0);

  // A step under a ceiling that leaves no room for the head.
  const LevelWorld tight(
      std::vector<Box>{{{-9, -1}, {9, 0}}, {{1, 0}, {9, 0.2}}, {{0, 1.5}, {9, 2}}});
  Mover stopped(rules, tight, {-1, 0});
  stopped.advance(kRight, 60);
  EXPECT_TRUE(stopped.all(EventKind::nudged).empty());
  EXPECT_EQ(stopped.character.wall, 1);
}

TEST(Corners, AFootThatMissesALedgeIsLiftedOnToIt) {
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(test::pip(), loop);
    tuning.run.ledge_lift = 0.3;
    const Rules rules = rules_of(tuning);
    for (const double missing : {0.05, 0.2, 0.29, 0.35, 1.0}) {
      SCOPED_TRACE(text_of(loop) + ", by " + std::to_string(missing));
      const LevelWorld world(std::vector<Box>{{{1, -9}, {9, 2}}});
      Mover pip(rules, world, {0.55, 2 - missing});
      pip.character.velocity = {7, 0};
      pip.advance(kRight, 2);
      const bool lifted = missing < 0.3 - 0.05;
      if (missing == 0.29) continue;  // it falls a little on its way
      EXPECT_EQ(pip.all(EventKind::nudged).size(), lifted ? 1U : 0U);
      pip.advance(kRight, 10);
      EXPECT_EQ(pip.character.grounded(), lifted);
      if (!lifted) continue;
      EXPECT_EQ(detail_of(pip.all(EventKind::nudged)[0]), "foot");
      EXPECT_EQ(pip.all(EventKind::landed).size(), 1U);
      EXPECT_EQ(pip.character.velocity.x, 7);
    }
    // Stairs are run up at full speed, and each of them reported.
    std::vector<Box> stairs{{{-20, -9}, {0, 0}}};
    for (int i = 0; i < 10; ++i) stairs.push_back({{1.3 * i, -9}, {30, 0.25 * (i + 1)}});
    const LevelWorld world(stairs);
    Mover pip(rules, world, {-3, 0});
    for (int i = 0; i < static_cast<int>(2.5 * rules.tick_rate); ++i) {
      pip.advance(kRight);
      ASSERT_TRUE(pip.character.grounded()) << text_of(loop);
    }
    EXPECT_EQ(pip.character.velocity.x, 7);
    EXPECT_NEAR(pip.character.feet.y, 2.5, rules.flush_gap);
    EXPECT_EQ(pip.all(EventKind::nudged).size(), 10U);
  }
}

// ---- slopes -------------------------------------------------------------------------------------

TEST(SlopeKnobs, ThePaceUphillAndDownhillIsAsAsked) {
  Tuning tuning = test::pip();
  tuning.run.slope.uphill = 0.5;
  tuning.run.slope.downhill = 1.4;
  for (const JumpLoop& loop : test::all_loops({60, 144})) {
    const Rules rules = rules_of(with_loop(tuning, loop));
    for (const double degrees : {10.0, 30.0, 49.0}) {
      const LevelWorld world = ground_below(
          {{-90, -90 * std::tan(radians(degrees))}, {90, 90 * std::tan(radians(degrees))}});
      const double part = std::sin(radians(degrees)) / std::sin(radians(50));
      for (const Controls& held : {kRight, kLeft}) {
        Mover run(rules, world, {0, 1});
        run.advance(held, static_cast<int>(2 * rules.tick_rate));
        const double share = held.x > 0 ? 1 - 0.5 * part : 1 + 0.4 * part;
        EXPECT_NEAR(ground_speed_of(run.character), 7 * share, 1e-9)
            << text_of(loop) << ", " << degrees << " degrees, " << int{held.x};
        ASSERT_TRUE(run.character.grounded());
      }
    }
    const LevelWorld level(test::flat_floor(), kNothingTravels);
    Mover flat(rules, level, {0, 0});
    flat.advance(kRight, static_cast<int>(rules.tick_rate));
    EXPECT_EQ(flat.character.velocity.x, 7);
  }
}

TEST(SlopeKnobs, TheDepthOfHuggingIsAsAsked) {
  const LevelWorld crest =
      ground_below({{-30, 0}, {0, 0}, {5, 5 * std::tan(radians(30))}, {10, 0}, {40, 0}});
  const LevelWorld ledge = ground_below({{-30, 0}, {0, 0}, {1e-6, -0.4}, {40, -0.4}});
  const auto ticks_in_air = [](const Rules& rules, const LevelWorld& world) {
    Mover run(rules, world, {-3, 0});
    int ticks = 0;
    for (int i = 0; i < static_cast<int>(2.5 * rules.tick_rate); ++i) {
      run.advance(kRight);
      ticks += run.character.grounded() ? 0 : 1;
    }
    return ticks;
  };
  for (const JumpLoop& loop : test::all_loops({60, 144})) {
    SCOPED_TRACE(text_of(loop));
    Tuning tuning = with_loop(test::pip(), loop);
    EXPECT_EQ(ticks_in_air(rules_of(tuning), crest), 0);
    EXPECT_GT(ticks_in_air(rules_of(tuning), ledge), 1) << "a ledge is left";
    tuning.run.slope.stick_depth = 0;
    EXPECT_GT(ticks_in_air(rules_of(tuning), crest), 1);
    tuning.run.slope.stick_depth = 0.5;
    EXPECT_EQ(ticks_in_air(rules_of(tuning), crest), 0);
    EXPECT_EQ(ticks_in_air(rules_of(tuning), ledge), 0) << "it walks down that far";
  }
}

TEST(SlopeKnobs, ARampLaunchesAlongItselfIfTheTuningSaysSo) {
  const double slope = std::tan(radians(30));
  const LevelWorld ramp = ground_below({{-30, 0}, {0, 0}, {5, 5 * slope}});
  const LevelWorld crest = ground_below({{-30, 0}, {0, 0}, {5, 5 * slope}, {10, 0}, {90, 0}});
  const LevelWorld plateau = ground_below({{-30, 0}, {0, 0}, {5, 5 * slope}, {90, 5 * slope}});
  for (const JumpLoop& loop : test::all_loops({30, 60, 144})) {
    for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
      for (const bool launches : {false, true}) {
        SCOPED_TRACE(text_of(loop) + (launches ? ", launching" : ""));
        Tuning tuning = with_loop(test::pip(), loop);
        tuning.body.shape = shape;
        tuning.run.slope.ramp_launch = launches;
        const Rules rules = rules_of(tuning);
        for (double start = -3; start > -3.3; start -= 0.029) {
          Mover run(rules, ramp, {start, 0});
          while (run.all(EventKind::left_ground).empty()) {
            run.advance(kRight);
            ASSERT_LT(run.character.tick, 1000);
          }
          ASSERT_EQ(run.all(EventKind::left_ground).size(), 1U);
          const double up = launches ? 7 * std::sin(radians(30)) : 0;
          EXPECT_NEAR(run.character.velocity.y, up, 1e-9);
          EXPECT_NEAR(run.character.velocity.x, launches ? 7 * std::cos(radians(30)) : 7, 1e-9);
        }
        for (const LevelWorld* world : {&crest, &plateau}) {
          Mover over(rules, *world, {-3, 0});
          over.advance(kRight, static_cast<int>(2.5 * rules.tick_rate));
          EXPECT_TRUE(over.all(EventKind::left_ground).empty()) << "no ramp ends there";
        }
      }
    }
  }
}

}  // namespace
}  // namespace bushbaby
