// Solids that travel: their timetables against closed forms, what they carry, push and crush, and
// what a body takes along that leaves them.
#include <algorithm>
#include <cmath>
#include <limits>

#include <gtest/gtest.h>

#include "bushbaby/core/world/check_world.h"
#include "bushbaby/core/world/platform_path.h"

#include "support.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): helpers of the tests

PlatformPath back_and_forth(std::vector<Vec> stops, double speed) {
  PlatformPath path;
  path.stops = std::move(stops);
  path.speed = speed;
  return path;
}

// A moving platform that goes on with one velocity for longer than any test lasts.
PlatformPath straight(Vec velocity) {
  constexpr double kSeconds = 1000;
  return back_and_forth({velocity * kSeconds}, std::hypot(velocity.x, velocity.y));
}

Solid moving_platform(const Box& box, PlatformPath path) {
  Solid solid{"path", box};
  solid.path = std::move(path);
  return solid;
}

TEST(Timetables, GoToAndFroAndRoundWithRests) {
  PlatformPath path = back_and_forth({{6, 0}, {6, 4}}, 2);
  const Timetable plain(path);
  EXPECT_DOUBLE_EQ(plain.period(), 10);
  const auto expect = [](const Timetable& table, double time, Vec place) {
    EXPECT_NEAR(table.place_at(time).x, place.x, 1e-12) << time;
    EXPECT_NEAR(table.place_at(time).y, place.y, 1e-12) << time;
  };
  expect(plain, 0, {0, 0});
  expect(plain, 1, {2, 0});
  expect(plain, 4, {6, 2});
  expect(plain, 5, {6, 4});
  expect(plain, 6, {6, 2});
  expect(plain, 9.5, {1, 0});
  expect(plain, 10, {0, 0});
  expect(plain, -0.5, {1, 0});
  expect(plain, 1234 * 10.0 + 1, {2, 0});
  EXPECT_EQ(plain.bounds(), (Box{{0, 0}, {6, 4}}));

  path.loop = true;
  const double back = std::hypot(6, 4) / 2;
  const Timetable round(path);
  EXPECT_DOUBLE_EQ(round.period(), 5 + back);
  expect(round, 5 + back / 2, {3, 2});

  path.loop = false;
  path.waits = {1};
  const Timetable resting(path);
  EXPECT_DOUBLE_EQ(resting.period(), 14);
  expect(resting, 0.75, {0, 0});
  expect(resting, 2, {2, 0});
  expect(resting, 4.5, {6, 0});
  expect(resting, 6, {6, 2});
  expect(resting, 7.9, {6, 4});

  path.waits = {1, 2};
  const Timetable at_ends(path);
  EXPECT_DOUBLE_EQ(at_ends.period(), 13);
  expect(at_ends, 4.5, {6, 1});

  path.waits = {0.5, 0, 2};
  path.offset = 0.5;
  const Timetable each(path);
  EXPECT_DOUBLE_EQ(each.period(), 12.5);
  expect(each, 1, {2, 0});
  expect(each, 3.5, {6, 1});
  expect(each, 6.9, {6, 4});
  expect(each, 8, {6, 2});
}

// Between two rests the share of the way is the cubic that begins and ends at rest.
TEST(Timetables, GoGently) {
  PlatformPath path = back_and_forth({{3, 0}, {6, 0}}, 2);
  path.ease = true;
  const Timetable table(path);
  for (const double x : {0.0, 0.1, 0.25, 0.5, 0.8, 1.0}) {
    const double share = 3 * x * x - 2 * x * x * x;
    EXPECT_NEAR(table.place_at(3 * x).x, 6 * share, 1e-12) << x;
    EXPECT_NEAR(table.place_at(3 + 3 * x).x, 6 - 6 * share, 1e-12) << x;
  }
  // Round and round without a rest there is nothing to be ease about.
  path.loop = true;
  path.stops = {{3, 0}, {3, 3}, {0, 3}};
  EXPECT_NEAR(Timetable(path).place_at(0.75).x, 1.5, 1e-12);
  // Of a round that rests elsewhere than where it is drawn, tick 0 lies on the way.
  path.waits = {0, 0, 1, 0};
  const Timetable round(path);
  EXPECT_NEAR(round.place_at(0).x, 0, 1e-9);
  EXPECT_NEAR(round.place_at(0).y, 0, 1e-9);
  EXPECT_DOUBLE_EQ(round.period(), 7);
  EXPECT_NEAR(round.place_at(3.5).x, 3, 1e-12);
  EXPECT_NEAR(round.place_at(3.5).y, 3, 1e-12);
}

TEST(Timetables, OfAnyPlatformPathNeverJump) {
  std::mt19937_64 random(13);
  const auto uniform = [&](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  for (int i = 0; i < 400; ++i) {
    PlatformPath path = back_and_forth({}, uniform(0.1, 60));
    for (std::uint64_t left = 1 + random() % 5; left > 0; --left) {
      path.stops.emplace_back(uniform(-9, 9), uniform(-9, 9));
    }
    path.loop = random() % 2 == 0;
    path.ease = random() % 2 == 0;
    for (std::size_t k = random() % 2 == 0 ? 0 : path.stops.size() + 1; k > 0; --k) {
      path.waits.push_back(random() % 2 == 0 ? 0 : uniform(0, 2));
    }
    ASSERT_FALSE(find_fault(path));
    const Timetable table(path);
    const double most = path.speed * (path.ease ? 1.5 : 1);
    const Vec drawn = table.place_at(0);
    ASSERT_NEAR(std::hypot(drawn.x, drawn.y), 0, 1e-9);
    const double step = 1e-3;
    Vec before = drawn;
    for (double time = step; time < std::min(table.period() * 1.1, 9.0); time += step) {
      const Vec now = table.place_at(time);
      ASSERT_LE(std::hypot(now.x - before.x, now.y - before.y), most * step + 1e-9);
      ASSERT_GE(now.x, table.bounds().lo.x - 1e-9);
      ASSERT_LE(now.x, table.bounds().hi.x + 1e-9);
      ASSERT_GE(now.y, table.bounds().lo.y - 1e-9);
      ASSERT_LE(now.y, table.bounds().hi.y + 1e-9);
      before = now;
    }
    const double time = uniform(-99, 99);
    const Vec once = table.place_at(time);
    const Vec again = table.place_at(time + 3 * table.period());
    ASSERT_NEAR(once.x, again.x, 1e-9);
    ASSERT_NEAR(once.y, again.y, 1e-9);
  }
}

TEST(Timetables, HaveFaults) {
  const double inf = std::numeric_limits<double>::infinity();
  struct Case {
    std::vector<Vec> stops;
    double speed;
    std::vector<double> waits;
    bool round;
    std::optional<PathFault> fault;
  };
  const Case cases[] = {
      {{{1, 0}}, 1, {}, false, std::nullopt},
      {{{1, 0}, {0, 0}}, 1, {}, false, std::nullopt},
      {{{1, 0}, {0, 0}}, 1, {}, true, PathFault::stop_twice},
      {{}, 1, {}, false, PathFault::no_stops},
      {{{0, 0}}, 1, {}, false, PathFault::stop_twice},
      {{{1, 0}, {1, 0}}, 1, {}, false, PathFault::stop_twice},
      {{{inf, 0}}, 1, {}, false, PathFault::bad_place},
      {{{1, 0}, {1, 1e-12}}, 1, {}, false, PathFault::stop_twice},
      {{{1e-320, 0}}, 1, {}, false, PathFault::stop_twice},
      {{{1, 0}}, 0, {}, false, PathFault::bad_speed},
      {{{1, 0}}, 1e-300, {}, false, PathFault::bad_speed},
      {{{1, 0}}, inf, {}, false, PathFault::bad_speed},
      {{{1, 0}}, 1, {1, 2, 3}, false, PathFault::wrong_waits},
      {{{1, 0}, {2, 0}}, 1, {1, 2}, false, std::nullopt},
      {{{1, 0}, {2, 0}}, 1, {1, 2}, true, PathFault::wrong_waits},
      {{{1, 0}}, 1, {1, -2}, false, PathFault::bad_wait},
  };
  for (const Case& c : cases) {
    PlatformPath path = back_and_forth(c.stops, c.speed);
    path.waits = c.waits;
    path.loop = c.round;
    EXPECT_EQ(find_fault(path), c.fault) << &c - cases;
  }
}

TEST(MovingPlatforms, OfALevelAnswerAsTheyShould) {
  Level level = flat_floor();
  std::mt19937_64 random(4);
  const auto uniform = [&](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  for (int i = 0; i < 60; ++i) {
    const Vec lo{uniform(-40, 40), uniform(0, 20)};
    Solid solid =
        moving_platform({lo, lo + Vec{uniform(0.5, 5), uniform(0.2, 2)}},
                        back_and_forth({{uniform(-9, 9), uniform(-9, 9)}}, uniform(1, 50)));
    if (i % 2 == 0) solid.corners = {lo, lo + Vec{3, 0}, lo + Vec{1, 2}};
    level.solids.push_back(solid);
  }
  const LevelWorld world(level, 60);
  const auto faults = check_world(world, {{-50, -5}, {50, 30}}, 3000);
  EXPECT_TRUE(faults.empty()) << faults.front();
  // Where nobody says how many ticks a second has, they stay.
  EXPECT_EQ(LevelWorld(level, kNothingTravels).travel(1, 5), (Vec{0, 0}));
  EXPECT_NE(world.travel(1, 5), (Vec{0, 0}));
  EXPECT_EQ(world.travel(0, 5), (Vec{0, 0})) << "the floor";
}

std::vector<Vec> eight_ways() {
  std::vector<Vec> ways;
  for (int i = 0; i < 8; ++i) ways.emplace_back(std::cos(i * M_PI / 4), std::sin(i * M_PI / 4));
  return ways;
}

// Whoever stands on a moving platform stays where it stands on it, whatever the platform does.
TEST(MovingPlatforms, CarryInAnyDirectionAtAnySpeed) {
  for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
    for (const JumpLoop& loop : all_loops({60, 144})) {
      for (const double speed : {0.5, 7.0, 50.0}) {
        Tuning tuning = with_loop(pip(), loop);
        tuning.body.shape = shape;
        const Rules rules = rules_of(tuning);
        // A way with corners, along every direction and back.
        std::vector<Vec> stops;
        for (const Vec way : eight_ways()) {
          stops.push_back((stops.empty() ? Vec{0, 0} : stops.back()) + way * 6.0);
        }
        Level level;
        level.solids.push_back(moving_platform({{-2, -1}, {2, 0}}, back_and_forth(stops, speed)));
        level.solids.back().path->waits = {0.1};
        const LevelWorld world(level, loop.tick_rate);
        Mover mover(rules, world, {0, 0});
        const Timetable table(*level.solids[0].path);
        for (int tick = 1; tick < 400; ++tick) {
          mover.advance(kNothing);
          const Character& c = mover.character;
          ASSERT_TRUE(c.grounded()) << text_of(loop) << " " << speed << " " << tick;
          const Vec off = c.feet - table.place_at(tick / loop.tick_rate);
          ASSERT_NEAR(off.x, 0, 1e-9);
          ASSERT_NEAR(off.y, rules.flush_gap / 2, rules.flush_gap / 100);
          ASSERT_EQ(c.velocity, (Vec{0, 0})) << "over the platform it stands";
        }
        EXPECT_TRUE(mover.events.empty());
      }
    }
  }
}

// Of a floor and a platform that is flush with it, the slower carries, whichever the level names
// first.
TEST(MovingPlatforms, FlushWithAFloorCarryNobodyWhoStandsOnBoth) {
  const Rules rules = rules_of(pip());
  const Box floor{{-5, -1}, {0.1, 0}};
  for (const bool floor_first : {true, false}) {
    for (const double speed : {-3.0, 0.5, 3.0}) {
      Level level;
      const Solid moves = moving_platform({{-0.1, -1}, {5, 0}}, straight({speed, 0}));
      if (floor_first) level.solids = {{"floor", floor}, moves};
      if (!floor_first) level.solids = {moves, {"floor", floor}};
      const LevelWorld world(level, rules.tick_rate);
      Character both;
      ASSERT_TRUE(place(both, {0, 0}, rules, world));
      Character beyond;
      ASSERT_TRUE(place(beyond, {2, 0}, rules, world));
      for (int i = 0; i < 12; ++i) {
        advance(both, kNothing, rules, world);
        advance(beyond, kNothing, rules, world);
      }
      EXPECT_NEAR(both.feet.x, 0, 1e-12) << floor_first << ' ' << speed;
      EXPECT_NEAR(beyond.feet.x, 2 + speed * 12 / rules.tick_rate, 1e-9) << "nothing else is there";
    }
  }
}

// On a slope that travels, and for a body that stands along another up.
TEST(MovingPlatforms, CarryOverSlopesAndWhenTurned) {
  const Rules rules = rules_of(pip());
  for (const double degrees : {0.0, 30.0, 90.0, 200.0}) {
    const double angle = radians(degrees);
    const auto turned = [angle](Vec v) {
      return Vec{std::cos(angle) * v.x - std::sin(angle) * v.y,
                 std::sin(angle) * v.x + std::cos(angle) * v.y};
    };
    for (const Vec velocity : {Vec{40, 0}, Vec{-3, 20}, Vec{0, -50}}) {
      Level level;
      Solid slope = moving_platform({}, straight(turned(velocity)));
      slope.corners = {turned({-9, -5}), turned({9, -5}), turned({9, 4}), turned({-9, -4})};
      level.solids.push_back(slope);
      const LevelWorld world(level, 60);
      Character c;
      c.up = turned({0, 1});
      const double under_corner = rules.body.box.hi.x * 8 / 18;
      ASSERT_TRUE(place(c, turned({0, under_corner + rules.flush_gap}), rules, world));
      const Vec place = c.feet;
      const double began = static_cast<double>(c.tick);
      for (int i = 0; i < 120; ++i) {
        (void)advance(c, kNothing, rules, world);
        ASSERT_TRUE(c.grounded()) << degrees;
      }
      const Vec way = turned(velocity) * ((static_cast<double>(c.tick) - began) / 60.0);
      EXPECT_NEAR(c.feet.x - place.x, way.x, rules.flush_gap) << degrees;
      EXPECT_NEAR(c.feet.y - place.y, way.y, rules.flush_gap) << degrees;
    }
  }
}

// A jump from a moving platform at a constant speed is, seen from the platform, the jump from the
// ground, tick by tick in every loop: up to its apex there, cut or not; all of it, if the platform
// goes on the level.
TEST(MovingPlatforms, HandTheirSpeedToJumps) {
  for (const JumpLoop& loop : all_loops({60})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.run.air = {{0, 0, 0}};
    tuning.fall.terminal_speed.reset();
    const Rules rules = rules_of(tuning);
    const Box box{{-900, -1}, {900, 0}};
    const LevelWorld still = world_of({box});
    for (const auto& [velocity, held_for] : {std::pair{Vec{30, 0}, 90},
                                             {Vec{-8, 12}, 90},
                                             {Vec{0, 50}, 90},
                                             {Vec{0, 50}, 9},
                                             {Vec{30, 0}, 9},
                                             {Vec{2, 5}, 9}}) {
      Level level;
      level.solids.push_back(moving_platform(box, straight(velocity)));
      const LevelWorld world(level, 60);
      Mover rides(rules, world, {0, 0});
      Mover stands(rules, still, {0, 0});
      double apex = 0;
      for (int tick = 1; tick < 100; ++tick) {
        const bool press = tick >= 20 && tick < 20 + held_for;
        rides.advance(press ? kJump : kNothing);
        stands.advance(press ? kJump : kNothing);
        const Vec off = rides.character.feet - velocity * (tick / 60.0);
        apex = std::max(apex, off.y);
        if (velocity.y != 0 && tick > 20 && stands.character.velocity.y <= 0) break;
        ASSERT_NEAR(off.x, stands.character.feet.x, 1e-9) << text_of(loop) << " " << tick;
        ASSERT_NEAR(off.y, stands.character.feet.y, 1e-4) << text_of(loop) << " " << tick;
        ASSERT_EQ(rides.character.grounded(), stands.character.grounded()) << tick;
      }
      if (velocity.y != 0) {
        rides.advance(kNothing, 200);
        for (int tick = 0; tick < 3; ++tick) EXPECT_TRUE(rides.character.grounded());
        continue;
      }
      ASSERT_EQ(rides.all(EventKind::landed).size(), 1U);
      EXPECT_NEAR(rides.all(EventKind::landed)[0].value, stands.all(EventKind::landed)[0].value,
                  1e-6)
          << "how hard it lands is relative to the platform";
      EXPECT_NEAR(rides.character.velocity.x, 0, 1e-9);
    }
  }
}

TEST(MovingPlatforms, HandOverByShares) {
  Tuning tuning = pip();
  tuning.run.air = {{0, 0, 0}};
  const Rules rules = rules_of(tuning);
  struct Case {
    Vec velocity;
    double across, up;
    Vec gains;  // by a jump
  };
  const Case cases[] = {{{6, 3}, 1, 1, {6, 3}},     {{6, 3}, 0.5, 0, {3, 0}},
                        {{6, -3}, 1, 1, {6, 0}},    {{-6, 8}, 0, 0.25, {0, 2}},
                        {{-6, 8}, 1.5, 1, {-9, 8}}, {{0, -40}, 1, 1, {0, 0}}};
  for (const Case& c : cases) {
    Level level;
    level.solids.push_back(moving_platform({{-900, -1}, {900, 0}}, straight(c.velocity)));
    level.solids[0].traits.inherit_horizontal = c.across;
    level.solids[0].traits.inherit_vertical = c.up;
    const LevelWorld world(level, 60);
    Mover mover(rules, world, {0, 0});
    mover.advance(kNothing, 3);
    mover.advance(kJump);
    const double plain = rules.launch_speed - rules.rise_gravity * rules.dt;
    EXPECT_NEAR(mover.character.velocity.x, c.gains.x, 1e-9) << &c - cases;
    EXPECT_NEAR(mover.character.velocity.y, plain + c.gains.y, 1e-9) << &c - cases;
  }
}

// Whoever walks off keeps the horizontal speed; and jumps a moment later with what the platform had
// vertically as well.
TEST(MovingPlatforms, AreRememberedByCoyoteJumps) {
  Tuning tuning = pip();
  tuning.jump.coyote = Duration{7, Duration::Unit::ticks};
  tuning.run.air = {{0, 0, 0}};
  const Rules rules = rules_of(tuning);
  Level level;
  level.solids.push_back(moving_platform({{-2, -1}, {1, 0}}, straight({3, 6})));
  const LevelWorld world(level, 60);
  Mover mover(rules, world, {0.5, 0});
  int ticks = 0;
  while (mover.character.grounded() && ++ticks < 100) mover.advance(kRight);
  const double relative_to_platform = mover.character.velocity.x - 3;
  EXPECT_GT(relative_to_platform, 3);
  EXPECT_NEAR(mover.character.velocity.y, 0, 1e-9) << "nobody is thrown up who walks off";
  const Character left = mover.character;
  for (const int wait : {0, 3, 6}) {
    Character c = left;
    for (int i = 0; i < wait; ++i) (void)advance(c, kNothing, rules, world);
    (void)advance(c, kJump, rules, world);
    ASSERT_EQ(c.jump_kind, JumpKind::ground) << wait;
    EXPECT_NEAR(c.velocity.y, rules.launch_speed + 6 - rules.rise_gravity * rules.dt, 1e-9) << wait;
    EXPECT_NEAR(c.velocity.x, relative_to_platform + 3, 1e-9);
  }
  Character late = left;
  for (int i = 0; i < 8; ++i) (void)advance(late, kNothing, rules, world);
  EXPECT_EQ(late.platform_rise, 0);
}

TEST(MovingPlatforms, HaveConveyorsAndAreWalkedOnTo) {
  Tuning tuning = pip();
  const Rules rules = rules_of(tuning);
  Level level = flat_floor();
  level.solids[0].box = {{-50, -5}, {0, 0}};
  level.solids.push_back(moving_platform({{0, -1}, {400, 0}}, straight({4, 0})));
  level.solids.back().path->waits = {1, 0};
  level.solids.back().traits.conveyor = -1;
  const LevelWorld world(level, 60);
  Mover mover(rules, world, {-1, 0});
  for (int i = 0; i < 30; ++i) mover.advance(kRight);
  ASSERT_EQ(mover.character.ground.surface, 1U);
  mover.advance(kNothing, 60);
  ASSERT_TRUE(mover.character.grounded());
  EXPECT_NEAR(mover.character.velocity.x, -1, 1e-9) << "over the platform, its conveyor carries it";
  const double from = mover.character.feet.x;
  mover.advance(kNothing, 60);
  EXPECT_NEAR(mover.character.feet.x - from, 3, 1e-6)
      << "the platform's 4 u/s less the conveyor's 1";
}

// Pushed by a wall, it is never in it, and goes as fast as that does.
TEST(MovingPlatforms, Push) {
  for (const BodyShape shape : {BodyShape::box, BodyShape::capsule}) {
    for (const JumpLoop& loop : all_loops({30, 60, 240})) {
      Tuning tuning = with_loop(pip(), loop);
      tuning.body.shape = shape;
      const Rules rules = rules_of(tuning);
      for (const double speed : {0.3, 5.0, 50.0, -50.0}) {
        for (const Controls& held : {kNothing, kLeft, kRight}) {
          const double side = speed > 0 ? 1 : -1;
          Level level = flat_floor();
          level.solids.push_back(
              moving_platform({{-2 * side - 1, 0}, {-2 * side + 1, 9}}, straight({speed, 0})));
          const LevelWorld world(level, loop.tick_rate);
          Mover mover(rules, world, {0, 0});
          const int ticks = static_cast<int>(3 * loop.tick_rate);
          for (int i = 0; i < ticks; ++i) {
            mover.advance(held);
            const Character& c = mover.character;
            ASSERT_LT(overlap(world, rules.body, c.feet, c.tick).depth, 1e-9)
                << text_of(loop) << " " << speed << " " << i;
            ASSERT_TRUE(c.grounded()) << "pushed along the floor";
          }
          const bool caught = held == kNothing || std::abs(speed) > rules.top_speed;
          if (!caught || std::abs(speed) < 1) continue;
          const double face = (-2 * side + side) + speed * 3;
          EXPECT_NEAR((mover.character.feet.x - face) * side, rules.body.box.hi.x,
                      2 * rules.flush_gap)
              << text_of(loop) << " " << speed;
        }
      }
    }
  }
}

// Up a slope, off a ledge, and out of the air.
TEST(MovingPlatforms, PushAlongWhateverElseIsThere) {
  const Rules rules = rules_of(pip());
  Level level;
  Solid hill{"hill", {}};
  hill.corners = {{-30, -1}, {30, -1}, {30, 0}, {20, 0}, {10, 4}, {0, 0}, {-30, 0}};
  level.solids.push_back(hill);
  level.solids.push_back(moving_platform({{-12, -0.5}, {-10, 20}}, straight({50, 0})));
  const LevelWorld world(level, 60);
  const LevelWorld hill_alone(Level{"", {0, 0}, {hill}}, kNothingTravels);
  Mover mover(rules, world, {-5, 0});
  double top = 0;
  for (int i = 0; i < 40; ++i) {
    mover.advance(kNothing);
    const Character& c = mover.character;
    ASSERT_LT(overlap(world, rules.body, c.feet, c.tick).depth, 1e-9) << i;
    top = std::max(top, c.feet.y);
  }
  EXPECT_GT(top, 3.9) << "over the top of the hill";
  EXPECT_TRUE(mover.all(EventKind::crushed).empty());

  // A lift catches whoever falls, or rises more slowly than it does.
  for (const double rise : {-20.0, 0.0, 10.0}) {
    Level shaft;
    shaft.solids.push_back(moving_platform({{-3, -9}, {3, -5}}, straight({0, 40})));
    const LevelWorld lift(shaft, 60);
    Mover caught(rules, lift, {0, 0});
    caught.character.velocity = {0, rise};
    for (int i = 0; i < 60; ++i) {
      caught.advance(kNothing);
      const Character& c = caught.character;
      ASSERT_LT(overlap(lift, rules.body, c.feet, c.tick).depth, 1e-9) << i;
    }
    EXPECT_TRUE(caught.character.grounded()) << rise;
    ASSERT_EQ(caught.all(EventKind::landed).size(), 1U) << rise;
    EXPECT_GE(caught.all(EventKind::landed)[0].value, 30);
  }
}

TEST(MovingPlatforms, Crush) {
  const Rules rules = rules_of(pip());
  const double height = rules.body.box.hi.y;
  struct Case {
    const char* what;
    std::vector<Solid> solids;
  };
  const auto wall = [](const Box& box) { return Solid{"wall", box}; };
  const auto press = [](const Box& box, Vec way) {
    return moving_platform(box, back_and_forth({way}, 4));
  };
  const Case cases[] = {
      {"against a wall",
       {wall({{-9, -1}, {9, 0}}), wall({{1, 0}, {2, 9}}), press({{-4, 0.1}, {-2, 5}}, {2.6, 0})}},
      {"under a ceiling", {wall({{-9, height + 2}, {9, 9}}), press({{-2, -1}, {2, 0}}, {0, 2.3})}},
      {"by a ceiling", {wall({{-9, -1}, {9, 0}}), press({{-2, height + 1}, {2, 9}}, {0, -1.4})}},
      {"between two",
       {wall({{-9, -1}, {9, 0}}), press({{-4, 0.1}, {-2, 5}}, {1.8, 0}),
        press({{2, 0.1}, {4, 5}}, {-1.8, 0})}},
  };
  for (const Case& c : cases) {
    Level level;
    level.solids = c.solids;
    const LevelWorld world(level, 60);
    Level fixed;
    for (const Solid& solid : c.solids) {
      if (!solid.path) fixed.solids.push_back(solid);
    }
    const LevelWorld walls(fixed, kNothingTravels);
    Mover mover(rules, world, {0, 0});
    bool crushed = false;
    int times = 0;
    for (int i = 0; i < 300; ++i) {
      mover.advance(kNothing);
      const Character& body = mover.character;
      ASSERT_LT(overlap(walls, rules.body, body.feet, body.tick).depth, 1e-9) << c.what;
      const double depth = overlap(world, rules.body, body.feet, body.tick).depth;
      ASSERT_EQ(body.crushed, depth > 1e-9) << c.what << " " << i << " " << depth;
      times += body.crushed && !crushed ? 1 : 0;
      crushed = body.crushed;
    }
    EXPECT_FALSE(crushed) << c.what << ": the platform has gone back";
    EXPECT_GE(times, 1) << c.what;
    EXPECT_EQ(mover.all(EventKind::crushed).size(), static_cast<std::size_t>(times)) << c.what;
  }
}

// A platform of one side that travels holds whoever comes from above, and lets go whoever drops.
TEST(MovingPlatforms, AreOneWayAndDroppedThrough) {
  Tuning tuning = pip();
  tuning.drop.by = DropBy::down;
  tuning.drop.window = Duration{0.2};
  const Rules rules = rules_of(tuning);
  for (const double speed : {-6.0, 3.0, 6.0}) {
    Level level;
    Solid liana = moving_platform({{-9, -1}, {9, 0}}, straight({0, speed}));
    liana.blocks = Blocks::from_above;
    level.solids.push_back(liana);
    const LevelWorld world(level, 60);
    Mover mover(rules, world, {0, 0});
    mover.advance(kNothing, 10);
    ASSERT_TRUE(mover.character.grounded());
    mover.advance(kDown, 60);
    EXPECT_FALSE(mover.character.grounded()) << speed;
    EXPECT_EQ(mover.all(EventKind::landed).size(), 0U) << speed;
    EXPECT_LT(mover.character.feet.y, -1 + speed) << speed;
  }
  // Rising through a body from below, it holds it nowhere.
  Level level;
  Solid liana = moving_platform({{-9, -3}, {9, -2.9}}, straight({0, 30}));
  liana.blocks = Blocks::from_below;
  level.solids.push_back(liana);
  const LevelWorld world(level, 60);
  Mover mover(rules, world, {0, 0});
  mover.advance(kNothing, 30);
  EXPECT_FALSE(mover.character.grounded());
  EXPECT_LT(mover.character.feet.y, 0);
}

// A wall that travels takes along whoever holds on to it.
TEST(MovingPlatforms, CarryWhoeverAWallHolds) {
  Tuning tuning = pip();
  tuning.wall.slide_speed = 2;
  tuning.wall.grab = WallGrab::touch;
  const Rules rules = rules_of(tuning);
  for (const double speed : {-7.0, 7.0}) {
    Level level;
    level.solids.push_back(moving_platform({{0.5, -200}, {9, 200}}, straight({speed, 0})));
    const LevelWorld world(level, 60);
    Mover mover(rules, world, {0, 0});
    for (int i = 0; i < 200; ++i) mover.advance(i < 40 ? kRight : kNothing);
    if (mover.character.wall == 0) continue;
    const double face = 0.5 + speed * 200 / 60.0;
    EXPECT_NEAR(mover.character.feet.x + rules.body.box.hi.x, face, rules.flush_gap);
    EXPECT_NEAR(mover.character.velocity.y, -2, 1e-9) << "it slides as along any wall";
  }
}

// Whoever leaves a wall that travels a moment after having slid off its end is helped by it as much
// as whoever leaves it there: by what leads away from it, and up.
TEST(MovingPlatforms, AreRememberedByWallExits) {
  Tuning tuning = pip();
  tuning.wall.slide_speed = 2;
  tuning.wall.grab = WallGrab::touch;
  tuning.wall.coyote = Duration{6, Duration::Unit::ticks};
  tuning.run.air = {{0, 0, 0}};
  tuning.fall.factor = 0.1;
  WallExit row;
  row.on = "jump";
  row.away = 6;
  row.up = 9;
  tuning.wall.exits = {row};
  const Rules rules = rules_of(tuning);
  for (const Vec velocity : {Vec{-4, 3}, {-4, 0}, {2, 0}}) {
    Level level;
    level.solids.push_back(moving_platform({{0.45, -0.5}, {9, 200}}, straight(velocity)));
    level.solids[0].traits.inherit_vertical = 0.5;
    const LevelWorld world(level, 60);
    Mover mover(rules, world, {0, 0});
    mover.character.velocity.x = 5;
    mover.advance(kNothing, 9);
    ASSERT_EQ(mover.character.wall, 1);
    const Vec expected{-6 + std::min(velocity.x, 0.0),
                       9 + std::max(velocity.y, 0.0) / 2 - rules.rise_gravity * rules.dt};
    bool late = false;
    for (int left = 6; left > 0; left -= late ? 1 : 0) {
      Character leaves = mover.character;
      (void)advance(leaves, kJump, rules, world);
      ASSERT_EQ(leaves.jump_kind, JumpKind::wall) << left;
      EXPECT_NEAR(leaves.velocity.x, expected.x, 1e-9) << left;
      EXPECT_NEAR(leaves.velocity.y, expected.y, 1e-9) << left;
      mover.advance(kNothing);
      late = mover.character.wall == 0;
    }
    EXPECT_EQ(mover.character.wall_coyote_left, 1);
  }
}

}  // namespace
}  // namespace bushbaby
