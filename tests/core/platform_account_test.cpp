// An account of being carried and of leaving, from docs/model.md, "Moving platforms": a level all
// of which travels at one speed is, for whoever keeps to a surface of it, the level at rest.
#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "situation.h"
#include "support.h"

namespace bushbaby {
namespace {

using test::Situation;

// What a body keeps to: its ground, or the wall that holds it.
SurfaceId kept_to(const Character& c) {
  if (c.grounded()) return c.ground.surface;
  return c.on_wall ? c.wall_surface : kNoSurface;
}

bool has(const Events& events, EventKind kind) {
  return std::any_of(events.begin(), events.end(),
                     [kind](const Event& event) { return event.kind == kind; });
}

struct Counts {
  std::int64_t ticks = 0;
  std::int64_t jumps = 0;
  std::int64_t left = 0;  // otherwise
  std::int64_t on_wall = 0;
  std::int64_t late = 0;  // wall exits after the wall was lost
  std::int64_t late_differ = 0;
  std::int64_t differ = 0;
};

// Whoever has lost a wall that travels and leaves it in its coyote time takes along what it handed
// over: vertically, and of that across what leads away from the wall.
void leave_late(Character c, Controls held, const SurfaceTraits& traits, const Rules& rules,
                const World& moving, Vec u, Counts& counts) {
  const int side = c.wall_lost;
  const double across = u.x * traits.inherit_horizontal;
  const Vec gave{across * side < 0 ? across : 0, std::max(u.y * traits.inherit_vertical, 0.0)};
  for (; c.wall_coyote_left > 0 && c.wall == 0; (void)advance(c, held, rules, moving)) {
    Character leaves = c;
    held.jump = true;
    leaves.controls.jump = false;
    const Explanation why = explain(leaves, held, rules, moving);
    const Trial& trial = why.of(Candidate::wall_exit);
    const Events reported = advance(leaves, held, rules, moving);
    held.jump = false;
    if (!why.happens(Candidate::wall_exit) || !has(reported, EventKind::jumped)) continue;
    const WallExitRules& row = rules.exits[static_cast<std::size_t>(trial.row)];
    const double up = row.up > 0 ? std::max(row.up + gave.y, c.velocity.y) : c.velocity.y;
    const double run = row.away == 0 ? c.velocity.x : gave.x - side * row.away;
    const auto launch = std::find_if(reported.begin(), reported.end(), [](const Event& event) {
      return event.kind == EventKind::jumped;
    });
    const bool steered = row.steer_lock == 0 || test::meets_or_dashes(reported);
    const bool agrees = std::abs(launch->value - up) < 1e-8 &&
                        (steered || std::abs(leaves.velocity.x - run) < 1e-8);
    counts.late_differ += agrees ? 0 : 1;
    ++counts.late;
  }
}

// Holds a tick of the level at rest against that of the level that travels with velocity `u`.
void compare(const Situation& situation, const Character& before, const Controls& held,
             const Rules& rules, const World& still, const World& moving, const Timetable& table,
             Vec u, Counts& counts) {
  const Vec from = table.place_at(static_cast<double>(before.tick) / rules.tick_rate);
  const Vec to = table.place_at(static_cast<double>(before.tick + 1) / rules.tick_rate);
  Character a = before;
  Character b = before;
  b.feet += from;
  b.drop_from += from;
  const Events reported = advance(a, held, rules, still);
  (void)advance(b, held, rules, moving);
  // A bounce adds to what it gives; a touch says what the velocity is.
  if (has(reported, EventKind::bounced) || a.pushed || b.pushed) return;
  // It is carried all of the tick; whoever has left takes a share along, vertically by a jump
  // alone.
  Vec expected = a.velocity;
  const SurfaceTraits& traits = situation.level.solids[kept_to(before)].traits;
  if (kept_to(a) == kNoSurface) {
    const bool jumped = has(reported, EventKind::jumped);
    const bool off_wall = jumped && a.jump_kind == JumpKind::wall;
    const int side = a.wall != 0 ? a.wall : a.wall_lost;
    const double across = u.x * traits.inherit_horizontal;
    if (!off_wall || across * side < 0) expected.x += across;
    if (jumped) expected.y += std::max(u.y * traits.inherit_vertical, 0.0);
    ++(jumped ? counts.jumps : counts.left);
  }
  if (b.wall_coyote_left > 0 && !before.grounded() && !has(reported, EventKind::jumped)) {
    leave_late(b, held, traits, rules, moving, u, counts);
  }
  const double same = 1e-8 * (1 + std::abs(a.velocity.x) + std::abs(a.velocity.y));
  // Whoever presses against a wall that goes along may lie a little farther from it: flush all the
  // same.
  const double flush = rules.flush_gap / 4;
  const auto is_near = [](Vec p, Vec q, double within) {
    return std::abs(p.x - q.x) < within && std::abs(p.y - q.y) < within;
  };
  const bool agrees = is_near(b.feet - to, a.feet, same + (a.wall != 0 ? flush : 0)) &&
                      is_near(b.velocity, expected, same) && b.grounded() == a.grounded() &&
                      b.wall == a.wall && !b.crushed;
  counts.differ += agrees ? 0 : 1;
  counts.on_wall += before.grounded() ? 0 : 1;
  ++counts.ticks;
}

TEST(PlatformAccount, WhoeverKeepsToATravellingLevelIsWhereItIsAtRest) {
  Counts counts;
  const std::uint32_t most = test::kSlow ? 60 : 1500;
  for (std::uint32_t seed = 0; seed < most; ++seed) {
    Situation situation(seed);
    if (seed % 3 == 1) situation.tuning.body.shape = BodyShape::capsule;
    const Rules rules = test::rules_of(situation.tuning);
    const Vec u{situation.uniform(-20, 20), situation.uniform(-20, 20)};
    const double across = situation.uniform(0, 1.5);
    const double up = situation.uniform(0, 1.5);
    PlatformPath path;
    path.stops = {u * 1000.0};
    path.speed = std::hypot(u.x, u.y);
    for (Solid& solid : situation.level.solids) {
      solid.traits.inherit_horizontal = across;
      solid.traits.inherit_vertical = up;
    }
    Level travelling = situation.level;
    for (Solid& solid : travelling.solids) solid.path = path;
    const LevelWorld still(situation.level, kNothingTravels);
    const LevelWorld moving(travelling, rules.tick_rate);
    const Timetable table(path);
    const auto entered = situation.enter(rules, still);
    if (!entered) continue;
    Character runner = *entered;
    for (const Controls& held : situation.controls) {
      if (kept_to(runner) != kNoSurface) {
        compare(situation, runner, held, rules, still, moving, table, u, counts);
      }
      (void)advance(runner, held, rules, still);
    }
  }
  EXPECT_GT(counts.ticks, test::kSlow ? 5000 : 150000);
  EXPECT_GT(counts.jumps, counts.ticks / 500);
  EXPECT_GT(counts.left, counts.ticks / 2000);
  EXPECT_GT(counts.on_wall, counts.ticks / 200);
  EXPECT_GT(counts.late, test::kSlow ? 0 : 400);
  EXPECT_EQ(counts.late_differ, 0);
  // Where a place or a speed is just what a rule compares it with, a rounding decides.
  EXPECT_LE(counts.differ * 2000, counts.ticks) << counts.differ << " of " << counts.ticks;
}

}  // namespace
}  // namespace bushbaby
