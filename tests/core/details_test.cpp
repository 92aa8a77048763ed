// Small rules that are easily lost: each has a test that fails without it.
#include <functional>
#include <random>

#include <gtest/gtest.h>

#include "bushbaby/core/level.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace)

TEST(Settling, NeverGoesThroughACeiling) {
  const Rules rules = rules_of(pip());
  const double height = rules.body.hi.y;
  const double gap = rules.flush_gap;
  for (const double room : {0.35 * gap, 0.45 * gap, 0.6 * gap, 0.8 * gap, 3 * gap}) {
    for (const double feet : {0.05 * gap, 0.2 * gap, 0.31 * gap}) {
      const LevelWorld world =
          world_of({{{-9, -1}, {9, 0}}, {{-9, height + room}, {9, height + room + 1}}});
      Mover run(rules, world_of({{{-9, -1}, {9, 0}}}), {0, 0});
      run.character.feet.y = feet;
      for (int i = 0; i < 30; ++i) {
        bushbaby::advance(run.character, i < 15 ? kRight : kNothing, rules, world);
        ASSERT_EQ(world.overlap(rules.body, run.character.feet, 0).depth, 0)
            << "room " << room << ", feet " << feet << ", tick " << i;
      }
    }
  }
}

TEST(NearGround, IsNotAskedWhileTheBodyRises) {
  Tuning tuning = pip();
  tuning.jump.buffer = {30, Duration::Unit::ticks};
  tuning.jump.near_ground = NearGround::buffer;
  tuning.jump.air_jumps.count = 1;
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor());
  Mover rising(rules, world, {0, 0.2});
  rising.character.velocity = {0, 3};  // down again well within the buffer
  rising.advance(kJump);
  ASSERT_EQ(rising.all(EventKind::jumped).size(), 1U);
  EXPECT_EQ(rising.all(EventKind::jumped)[0].detail, static_cast<int>(JumpKind::air));
  Mover falling(rules, world, {0, 0.2});
  falling.character.velocity = {0, -0.1};
  falling.advance(kJump);
  EXPECT_TRUE(falling.all(EventKind::jumped).empty()) << "the press waits for the ground";
}

TEST(Bounce, EndsWhereGravityTakesItBackWithinATick) {
  for (const Integrator integrator : all_integrators()) {
    Tuning tuning = pip();
    tuning.loop.integrator = integrator;
    const Rules rules = rules_of(tuning);
    Level level = flat_floor();
    level.solids[0].traits.bounce = 0.6;
    const LevelWorld world(level);
    Mover run(rules, world, {0, 3});
    run.advance(kNothing, 600);
    const std::vector<Event> bounces = run.all(EventKind::bounced);
    ASSERT_GT(bounces.size(), 3U);
    for (const Event& event : bounces) {
      EXPECT_GT(event.value, rules.fall_gravity * rules.dt) << "a bounce that nobody could see";
    }
    EXPECT_TRUE(run.character.grounded());
    EXPECT_EQ(run.character.velocity.y, 0);
    EXPECT_LT(bounces.back().tick, 300);
  }
}

TEST(Equality, SeesEveryField) {
  using Change = std::function<void(Character&)>;
  const std::vector<Change> changes{
      [](Character& c) { c.tick = 1; },
      [](Character& c) { c.feet.x = 1; },
      [](Character& c) { c.feet.y = 1; },
      [](Character& c) { c.velocity.x = 1; },
      [](Character& c) { c.velocity.y = 1; },
      [](Character& c) { c.controls.x = 1; },
      [](Character& c) { c.controls.y = 1; },
      [](Character& c) { c.controls.jump = true; },
      [](Character& c) { c.controls.dash = true; },
      [](Character& c) { c.across_held = 1; },
      [](Character& c) { c.along_held = 1; },
      [](Character& c) { c.ground.reason = Footing::footing; },
      [](Character& c) { c.ground.surface = 1; },
      [](Character& c) { c.ground.normal.y = 1; },
      [](Character& c) { c.ground.gap = 1; },
      [](Character& c) { c.facing = -1; },
      [](Character& c) { c.rising = true; },
      [](Character& c) { c.gliding = true; },
      [](Character& c) { c.at_wall = true; },
      [](Character& c) { c.cut_armed = true; },
      [](Character& c) { c.cut_heavy = true; },
      [](Character& c) { c.hang_armed = true; },
      [](Character& c) { c.fast_falling = true; },
      [](Character& c) { c.glide_armed = true; },
      [](Character& c) { c.launch_tick = 1; },
      [](Character& c) { c.coyote_left = 1; },
      [](Character& c) { c.buffer_left = 1; },
      [](Character& c) { c.sustain_left = 1; },
      [](Character& c) { c.charge_held = 1; },
      [](Character& c) { c.air_jumps_used = 1; },
      [](Character& c) { c.ground_lost_tick = 1; },
      [](Character& c) { c.ground_lost_by = LeaveReason::jumped; },
      [](Character& c) { c.wall = 1; },
      [](Character& c) { c.wall_surface = 1; },
      [](Character& c) { c.wall_lost = 1; },
      [](Character& c) { c.wall_let_go = true; },
      [](Character& c) { c.wall_spent = 1; },
      [](Character& c) { c.cling_side = 1; },
      [](Character& c) { c.cling_left = 1; },
      [](Character& c) { c.wall_coyote_left = 1; },
      [](Character& c) { c.wall_buffer_left = 1; },
      [](Character& c) { c.wall_lost_tick = 1; },
      [](Character& c) { c.steer_lock_left = 1; },
      [](Character& c) { c.steer_fade_left = 1; },
      [](Character& c) { c.steer_fade_ticks = 1; },
      [](Character& c) { c.dash_left = 1; },
      [](Character& c) { c.dash_way.x = 1; },
      [](Character& c) { c.dashes_used = 1; },
      [](Character& c) { c.dash_cooldown_left = 1; },
      [](Character& c) { c.dash_buffer_left = 1; },
      [](Character& c) { c.status[0].left = 1; },
      [](Character& c) { c.status[3].reason = 1; },
      [](Character& c) { c.status[1].share = 0.5; },
      [](Character& c) { c.status_seen = 1; },
      [](Character& c) { c.pushed = true; },
      [](Character& c) { c.dash_broken = true; },
      [](Character& c) { c.charge_broken = true; },
      [](Character& c) { c.touching = 1; },
  };
  for (std::size_t i = 0; i < changes.size(); ++i) {
    Character changed;
    changes[i](changed);
    EXPECT_FALSE(changed == Character{}) << "change " << i;
    Character same;
    changes[i](same);
    EXPECT_TRUE(changed == same) << "change " << i;
  }
}

TEST(Ties, TheLowerSurfaceCountsWhateverTheIndexDoes) {
  const Contact first{0.5, {0, 1}, 0, 3};
  const Contact second{0.5, {0, 1}, 0, 7};
  EXPECT_TRUE(comes_before(first, second, {0, 1}));
  EXPECT_FALSE(comes_before(second, first, {0, 1}));
  const Contact level{0.5, {1, 0}, 0, 1};
  EXPECT_TRUE(comes_before(first, level, {0, 1})) << "what faces along up comes first";

  // Boxes that end on one line, in any order, among others: short and long casts.
  std::mt19937_64 random(11);
  for (int round = 0; round < 200; ++round) {
    std::vector<Box> boxes;
    for (int i = 0; i < 40; ++i) {
      const double left = static_cast<double>(random() % 20) - 10;
      boxes.push_back({{left, -1 - static_cast<double>(random() % 3)}, {left + 2, 0}});
    }
    const LevelWorld world(boxes);
    const Box shape{{-0.4, 0}, {0.4, 1}};
    for (const double drop : {0.5, 50.0}) {
      const double x = static_cast<double>(random() % 2000) / 100 - 10;
      const Sweep sweep{shape, {x, drop / 2}, {0, -drop}, {0, 1}, 0};
      SurfaceId lowest = kNoSurface;
      for (SurfaceId id = 0; id < boxes.size() && lowest == kNoSurface; ++id) {
        if (boxes[id].lo.x < x + 0.4 && x - 0.4 < boxes[id].hi.x) lowest = id;
      }
      EXPECT_EQ(world.cast(sweep).surface, lowest) << "round " << round << ", drop " << drop;
    }
  }
}

}  // namespace
}  // namespace bushbaby
