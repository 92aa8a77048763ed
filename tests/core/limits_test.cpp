// Just where a rule begins and where it ends: the tick, the angle, the distance on either side.
#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

#include "bushbaby/core/motion/outside.h"

#include "support.h"
#include "visitor.h"

namespace bushbaby {
namespace {

using namespace test;  // NOLINT(google-build-using-namespace): a test's own vocabulary

constexpr Controls kRightDash{127, 0, false, true};

Duration ticks(double count) { return {count, Duration::Unit::ticks}; }

bool reports(const Events& events, EventKind kind) {
  return std::any_of(events.begin(), events.end(),
                     [kind](const Event& event) { return event.kind == kind; });
}

// ---- jumps --------------------------------------------------------------------------------------

TEST(Limits, AnAirJumpFollowsAfterItsIntervalAndNoSooner) {
  Tuning tuning = pip();
  tuning.jump.air_jumps.count = 1;
  tuning.jump.air_jumps.height = 2;
  tuning.jump.air_jumps.interval = ticks(6);
  const Rules rules = rules_of(tuning);
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (int wait = 1; wait <= 12; ++wait) {
    Mover run(rules, world, {0, 0});
    run.advance(kJump);
    run.advance(kNothing, wait - 1);
    EXPECT_EQ(reports(run.advance(kJump), EventKind::jumped), wait >= 6) << wait;
  }
}

TEST(Limits, AStandingBodyIsLiftedByAnySpeedUpward) {
  const Rules rules = rules_of(pip());
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const double rise : {1e-5, 1e-3, 0.05}) {
    Mover run(rules, world, {0, 0});
    run.character.velocity = {7, rise};
    EXPECT_TRUE(reports(run.advance(kRight), EventKind::left_ground)) << rise;
  }
}

TEST(Limits, AHeavyCutEndsAtTheApexInEveryLoop) {
  const LevelWorld world(flat_floor(), kNothingTravels);
  for (const JumpLoop& loop : all_loops({30, 60, 144})) {
    Tuning tuning = with_loop(pip(), loop);
    tuning.jump.cut.style = CutStyle::weight;
    const Rules rules = rules_of(tuning);
    Mover run(rules, world, {0, 0});
    run.advance(kJump, static_cast<int>(loop.tick_rate / 8));
    run.advance(kNothing);
    ASSERT_TRUE(run.character.cut_heavy) << text_of(loop);
    while (run.character.velocity.y > 0) run.advance(kNothing);
    EXPECT_FALSE(run.character.cut_heavy) << text_of(loop);
  }
}

// ---- dashes and locks ---------------------------------------------------------------------------

Tuning dasher() {
  Tuning tuning = pip();
  tuning.dash.charges = 1;
  tuning.dash.distance = 3;
  tuning.dash.time = ticks(9);
  tuning.dash.buffer = ticks(0);
  return tuning;
}

TEST(Limits, ADashLastsItsTicksAndGoesItsDistance) {
  const Rules rules = rules_of(dasher());
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 5});
  for (int tick = 1; tick <= 9; ++tick) {
    EXPECT_EQ(reports(run.advance(kRightDash), EventKind::dash_ended), tick == 9) << tick;
  }
  EXPECT_NEAR(run.character.feet.x, 3, 1e-12);
}

TEST(Limits, ADashThatAWallStopsOnTheGroundIsGivenBack) {
  const Rules rules = rules_of(dasher());
  const LevelWorld world(world_of({{{-50, -1}, {50, 0}}, {{1, 0}, {2, 5}}}));
  Mover run(rules, world, {0.3, 0});
  for (int i = 0; i < 9 && run.all(EventKind::dash_ended).empty(); ++i) run.advance(kRightDash);
  ASSERT_EQ(run.all(EventKind::dash_ended).size(), 1U);
  EXPECT_EQ(run.character.dashes_used, 0);
}

TEST(Limits, ADashThatWaitsForAJumpIsKeptWhenATuningIsAdopted) {
  const Rules rules = rules_of(dasher());
  const LevelWorld world(flat_floor(), kNothingTravels);
  Mover run(rules, world, {0, 0});
  ASSERT_TRUE(reports(run.advance({127, 0, true, true}), EventKind::jumped));
  const Rules faster = rules_of(at_tick_rate(dasher(), 120));
  adopt(run.character, rules, faster);
  const Events next = advance(run.character, {127, 0, true, true}, faster, world);
  EXPECT_TRUE(reports(next, EventKind::dash_started));
}

TEST(Limits, ALockOfAPushLastsATickAtLeastUnlessItIsNone) {
  const Rules rules = rules_of(pip());
  for (const double lock : {0.0, 1e-4, 0.001, 1.0 / 60, 2.0 / 60}) {
    Character pushed;
    push(pushed, {{5, 5}, PushFrame::world, false, lock}, {0, 0}, rules);
    const auto& status = pushed.status[static_cast<std::size_t>(StatusKind::no_control)];
    EXPECT_EQ(status.left, lock == 0 ? 0 : lock < 0.02 ? 1 : 2) << lock;
  }
}

// What a fading lock of steering and a slippery ground leave of a rate is the product of both.
TEST(Limits, SlipperyGroundAndAFadingLockCountTogether) {
  const Rules rules = rules_of(pip());
  const auto speed = [&rules](double grip, bool fades) {
    Level level = flat_floor();
    level.solids[0].traits.grip = grip;
    const LevelWorld world(level, kNothingTravels);
    Mover run(rules, world, {0, 0});
    if (fades) run.character.steer_fade_left = run.character.steer_fade_ticks = 3;
    run.advance(kRight);
    return run.character.velocity.x;
  };
  EXPECT_NEAR(speed(1, true), speed(1, false) / 4, 1e-12);
  EXPECT_NEAR(speed(0.5, true), speed(1, false) / 8, 1e-12);
}

// ---- walls --------------------------------------------------------------------------------------

Mover mover_on_wall(const Rules& rules, const World& world) {
  Mover run(rules, world, {4.59, 20});
  for (int i = 0; i < 20 && run.character.wall == 0; ++i) run.advance(kRight);
  EXPECT_EQ(run.character.wall, 1);
  return run;
}

TEST(Limits, ARowOfAWallIsHeldForItsTicksWhicheverWayItIs) {
  const struct {
    const char* held;
    Controls controls;
  } ways[] = {{"down", kDown}, {"up", {0, 127}}, {"towards", {127, 0}}};
  for (const auto& way : ways) {
    for (const double side : {1.0, -1.0}) {
      Tuning tuning = pip();
      tuning.wall.slide_speed = 2.5;
      tuning.wall.grab = WallGrab::touch;
      tuning.wall.exits = {{way.held, WallPlace::anywhere, ticks(4)}};
      const Rules rules = rules_of(tuning);
      const LevelWorld world(
          world_of({{{-50, -1}, {50, 0}}, {{5, -1}, {6, 60}}, {{-6, -1}, {-5, 60}}}));
      Mover run(rules, world, {4.59 * side, 20});
      const auto turned = [side](Controls held) {
        held.x = static_cast<std::int8_t>(side * held.x);
        return held;
      };
      for (int i = 0; i < 20 && run.character.wall == 0; ++i) run.advance(turned(kRight));
      ASSERT_EQ(run.character.wall, static_cast<int>(side));
      run.advance(kNothing, 3);
      for (int tick = 1; tick <= 4; ++tick) {
        const Events events = run.advance(turned(way.controls));
        const bool leaves =
            reports(events, EventKind::wall_released) || reports(events, EventKind::jumped);
        EXPECT_EQ(leaves, tick == 4) << way.held << ' ' << side << ' ' << tick;
      }
    }
  }
}

// A row that leaves each wall once gives a wall back when the other is left, by any row.
TEST(Limits, ALeftWallComesBackByTheOtherOne) {
  Tuning tuning = pip();
  tuning.jump.coyote = tuning.jump.buffer = ticks(0);
  tuning.wall.slide_speed = 2.5;
  WallExit once{"jump+up", WallPlace::anywhere, {}, 8, 10};
  once.same_wall = false;
  tuning.wall.exits = {once, {"jump", WallPlace::anywhere, {}, 8, 10}};
  const Rules rules = rules_of(tuning);
  const LevelWorld world(world_of({{{5, -1}, {6, 90}}, {{2, -1}, {3, 90}}}));
  Mover run = mover_on_wall(rules, world);
  const auto leave = [&run](const Controls& held) {
    Controls presses = held;
    presses.jump = true;
    return reports(run.advance(presses), EventKind::jumped);
  };
  const auto go_to = [&run](int side) {
    const Controls held = side > 0 ? kRight : kLeft;
    for (int i = 0; i < 100 && run.character.wall != side; ++i) run.advance(held);
    return run.character.wall == side;
  };
  const Controls up{0, 127, false, false};
  ASSERT_TRUE(leave(up));
  ASSERT_EQ(run.character.wall_spent, 1);
  ASSERT_TRUE(go_to(-1));
  ASSERT_TRUE(leave(kNothing));  // by the other row
  EXPECT_EQ(run.character.wall_spent, 0);
  ASSERT_TRUE(go_to(1));
  EXPECT_TRUE(leave(up));
  EXPECT_EQ(run.character.wall_spent, 1);
}

// A surface that faces down is a wall if it is steeper than 60 degrees, and a ceiling otherwise.
TEST(Limits, CeilingsBeginAtSixtyDegrees) {
  const Rules rules = rules_of(pip());
  for (const double angle : {55.0, 59.0, 61.0, 65.0}) {
    Solid over;
    // It leans over whoever comes from the left.
    over.corners = {{1, 0}, {9, 0}, {9, 9}, {1 - 9 / std::tan(radians(angle)), 9}};
    Level level;
    level.solids = {over};
    const LevelWorld world(level, kNothingTravels);
    Character pip;
    pip.feet = {-1.5, 0.5};
    pip.velocity = {6, 12};
    Events events;
    for (int i = 0; i < 60 && events.size() == 0; ++i) events = advance(pip, kRight, rules, world);
    EXPECT_EQ(reports(events, EventKind::bumped_head), angle < 60) << angle;
    EXPECT_EQ(reports(events, EventKind::wall_touched), angle > 60) << angle;
  }
}

// A face that bars the way is one, however many solids push with it in one tick: here each of six
// overtakes the one before, and there is room for the ceiling that is met last.
TEST(Limits, ManyThatPushTheSameWayAreOneFace) {
  for (const Integrator integrator : all_integrators()) {
    const Rules rules = rules_of(with_loop(pip(), {integrator, 20, true}));
    const double half = rules.body.box.hi.x;
    Level level;
    double face = 0.005;
    double speed = 1;
    for (int i = 0; i < 6; ++i) {
      Solid pusher{"", {{face, -2}, {face + 3, 4}}};
      pusher.path = PlatformPath{};
      pusher.path->stops = {{-100, 0}};
      pusher.path->speed = speed;
      level.solids.push_back(pusher);
      face += 2 * 0.006 * (i + 1);  // the next one, 2 u/s faster, comes level 6 ms later each
      speed += 2;
    }
    const Solid& last = level.solids.back();
    const double pushed_to = last.box.lo.x - last.path->speed * rules.dt;
    const double rise = 12;
    const double meets = 0.04;  // s
    const double headroom = (rise - rules.rise_gravity * meets / 2) * meets;
    const double top = rules.body.box.hi.y + headroom;
    level.solids.push_back({"", {{-9, top}, {9, top + 1}}});
    const LevelWorld world(level, rules.tick_rate);
    Character pip;
    pip.feet = {-half - 0.001, 0};
    pip.velocity = {0, rise};
    const Events events = advance(pip, kNothing, rules, world);
    EXPECT_TRUE(reports(events, EventKind::bumped_head));
    EXPECT_FALSE(pip.crushed) << static_cast<int>(integrator);
    EXPECT_NEAR(pip.feet.x, pushed_to - half, rules.flush_gap);
    EXPECT_LE(pip.feet.y, headroom);
    EXPECT_LE(pip.velocity.y, 0);
  }
}

// Who slides up under a surface that leans over is led back by it: along a wall with the speed
// vertically as it is, along a ceiling with all that gravity and pressing leave along it. Once it
// stands it is led nowhere: who presses on falls as freely as beside it. By closed forms.
TEST(Limits, WhatLeansOverHoldsNobodyPastTheApex) {
  for (const double angle : {35.0, 45.0, 55.0, 65.0, 75.0, 85.0}) {
    Tuning tuning = with_loop(pip(), {Integrator::exact, 120, true});
    tuning.run.top_speed = 60;
    const double leads = 1 / std::tan(radians(angle));  // u back for every u up
    // Hard enough to keep to the surface against the gravity of a rise, not to that of a fall.
    const double presses = 0.75 * leads * rules_of(tuning).fall_gravity;
    tuning.run.air = {{presses, presses, presses}};
    const Rules rules = rules_of(tuning);
    Solid over;
    over.corners = {{1, 0}, {60, 0}, {60, 30}, {1 - 30 * leads, 30}};
    Level level;
    level.solids = {over};
    const LevelWorld world(level, kNothingTravels);
    Mover run(rules, world, {-1, -1.5});
    const bool is_wall = angle > 60;
    run.character.velocity = is_wall ? Vec{6, 18} : Vec{2, 22};
    bool is_met = false;
    for (int i = 0; i < 120 && !is_met; ++i) is_met = run.advance(kRight).size() > 0;
    ASSERT_TRUE(is_met);
    const Vec from = run.character.feet;
    const double rise = run.character.velocity.y;
    // Along the surface, what gravity and pressing leave of the rise.
    const double along = presses * leads + rules.rise_gravity;
    const double slows = is_wall ? rules.rise_gravity : along / (1 + leads * leads);
    const double stands = rise / slows;
    constexpr int kTicks = 40;
    ASSERT_GT(stands, 0.05);
    ASSERT_LT(stands, 0.4);
    constexpr double kRounding = 1e-9;
    for (int i = 1; i <= kTicks; ++i) {
      run.advance(kRight);
      const double rising = std::min(i / 120.0, stands);
      const double falling = i / 120.0 - rising;
      const double risen = (rise - slows * rising / 2) * rising;
      const double x = from.x - leads * risen + presses * falling * falling / 2;
      const double y = from.y + risen - rules.fall_gravity * falling * falling / 2;
      EXPECT_NEAR(run.character.feet.x, x, kRounding) << angle << " after " << i;
      EXPECT_NEAR(run.character.feet.y, y, kRounding) << angle << " after " << i;
    }
    EXPECT_LT(run.character.velocity.y, 0) << angle;
  }
}

// ---- ground -------------------------------------------------------------------------------------

// A ramp that gets a little flatter goes on: a body's width ahead there is ground.
TEST(Limits, ARampThatGetsFlatterIsNotItsEnd) {
  Tuning tuning = pip();
  tuning.run.slope.ramp_launch = true;
  const Rules rules = rules_of(tuning);
  for (const double then : {36.0, 30.0, 20.0}) {
    const double first = std::tan(radians(38));
    const LevelWorld world = ground_below(
        {{-20, 0}, {0, 0}, {4, 4 * first}, {40, 4 * first + 36 * std::tan(radians(then))}});
    Mover run(rules, world, {-2, 0});
    for (int i = 0; i < 120; ++i) run.advance(kRight);
    EXPECT_GT(run.character.feet.x, 6);
    EXPECT_TRUE(run.all(EventKind::left_ground).empty()) << then;
  }
}

// Ground beyond a ramp goes on from it as far down as the steepest ground leads in a body's width;
// from a ramp that ends over lower ground the body takes off.
TEST(Limits, ARampEndsWhereTheGroundBeyondLiesLowerThanGroundLeads) {
  Tuning tuning = pip();
  tuning.run.slope.ramp_launch = true;
  const Rules rules = rules_of(tuning);
  const double top = 4 * std::tan(radians(38));
  const double leads = tuning.body.width * std::tan(radians(tuning.run.steepest_ground));
  for (const double share : {0.5, 0.97, 1.03, 1.3}) {
    const double below = top - share * leads;
    const LevelWorld world = ground_below({{-20, 0}, {0, 0}, {4, top}, {4, below}, {40, below}});
    Mover run(rules, world, {-2, 0});
    double fastest_rise = 0;
    for (int i = 0; i < 120; ++i) {
      run.advance(kRight);
      if (!run.character.grounded()) {
        fastest_rise = std::max(fastest_rise, run.character.velocity.y);
      }
    }
    EXPECT_EQ(fastest_rise > 1, share > 1) << share;
  }
}

// On a slope a body is brought to half the gap along the normal, straight down.
TEST(Limits, OnASlopeTheGapIsMeantAlongTheNormal) {
  const Rules rules = rules_of(pip());
  const LevelWorld world = ground_below({{-50, -50}, {50, 50}});
  Mover run(rules, world, {0, 0.5});
  run.advance(kNothing, 60);
  ASSERT_TRUE(run.character.grounded());
  const double x = run.character.feet.x;
  run.character.feet.y += 0.9 * rules.flush_gap;
  run.advance(kNothing);
  EXPECT_EQ(run.character.feet.x, x);
  // Its lower right corner is what is nearest to the slope.
  const double gap = (run.character.feet.y - (x + 0.4)) * std::sqrt(0.5);
  EXPECT_NEAR(gap, rules.flush_gap / 2, 1e-12);
}

// A platform of one side holds whoever is no deeper in it than a fifth of the gap or so.
TEST(Limits, APlatformHoldsWhoeverIsHardlyInIt) {
  const Rules rules = rules_of(pip());
  Level level;
  level.solids.resize(1);
  level.solids[0].box = {{-5, -1}, {5, 0}};
  level.solids[0].blocks = Blocks::from_above;
  const LevelWorld world(level, kNothingTravels);
  for (const double deep : {0.0, 0.1, 0.3, 0.5}) {
    Character pip;
    pip.feet = {0, -deep * rules.flush_gap};
    for (int i = 0; i < 5; ++i) advance(pip, kNothing, rules, world);
    EXPECT_EQ(pip.grounded(), deep <= 0.1) << deep;
  }
}

// Of solids that hold a body as deep the first of the level is reported.
TEST(Limits, OfEqualSolidsTheFirstIsTheOneThatABodyIsIn) {
  for (const std::size_t count : {2U, 5U, 30U}) {
    const LevelWorld world(std::vector<Box>(count, {{-1, -1}, {1, 1}}));
    EXPECT_EQ(overlap(world, rules_of(pip()).body, {0.2, 0.9}, 0).surface, 0U) << count;
  }
}

// Of surfaces that are met at once the first of the level is reported.
TEST(Limits, OfSurfacesMetAtOnceTheFirstIsReported) {
  const Rules rules = rules_of(pip());
  const LevelWorld world(world_of({{{-9, -1}, {9, 0}}, {{-1, -2}, {1, 0}}, {{-3, -3}, {3, 0}}}));
  Mover run(rules, world, {0, 1});
  run.advance(kNothing, 40);
  ASSERT_EQ(run.all(EventKind::landed).size(), 1U);
  EXPECT_EQ(run.all(EventKind::landed)[0].surface, 0U);
  EXPECT_EQ(run.character.ground.surface, 0U);
}

// ---- zones --------------------------------------------------------------------------------------

TEST(Limits, OfMoreThanEightZonesTheFirstEightCount) {
  Level level = flat_floor();
  for (int i = 0; i < 10; ++i) {
    Zone zone = zone_of({{-50, -10}, {50, 50}});
    level.zones.push_back(zone);
  }
  // A book refuses them; a world of one's own may have more than its book knows of.
  const std::vector<Zone> known(level.zones.begin(), level.zones.begin() + kMostZones);
  const CompiledBook compiled = compile_book(pip(), known);
  ASSERT_TRUE(compiled.ok());
  const LevelWorld world(level, kNothingTravels);
  Character character;
  ASSERT_TRUE(place(character, {0, 0}, compiled.book, world));
  advance(character, kNothing, compiled.book, world);
  for (ZoneId i = 0; i < kMostZones; ++i) EXPECT_EQ(character.zones[i], i);
}

// Hands over the zones of a level in any order.
class InOrder final : public World {
 public:
  InOrder(const Level& level, bool backwards)
      : world_(level, kNothingTravels), backwards_(backwards) {}
  void find_solids(const Box& region, std::int64_t tick, Solids& solids) const noexcept override {
    world_.find_solids(region, tick, solids);
  }
  void find_zones(const Box& region, std::int64_t tick, Solids& zones) const noexcept override {
    struct Boxes final : Solids {
      void take(const Convex& /*part*/, ZoneId /*zone*/) noexcept override {}
      void take_box(const Box& box, ZoneId zone) noexcept override { all.emplace_back(box, zone); }
      std::vector<std::pair<Box, ZoneId>> all;
    } boxes;
    world_.find_zones(region, tick, boxes);
    std::sort(boxes.all.begin(), boxes.all.end(),
              [this](const auto& a, const auto& b) { return (a.second < b.second) != backwards_; });
    for (const auto& [box, zone] : boxes.all) zones.take_box(box, zone);
  }
  [[nodiscard]] const ZoneTraits& zone(ZoneId zone) const noexcept override {
    return world_.zone(zone);
  }

 private:
  LevelWorld world_;
  bool backwards_;
};

TEST(Limits, ZonesAreKeptInTheirOrderInWhateverOrderTheyAreFound) {
  Level level = flat_floor();
  for (const double speed : {2.0, 3.0, 4.0}) {
    level.zones.push_back(zone_of({{-50, -10}, {50, 50}}));
    level.zones.back().overrides = {set_to("run.top_speed", speed)};
  }
  for (const bool backwards : {false, true}) {
    const InOrder world(level, backwards);
    const CompiledBook compiled = compile_book(pip(), level.zones);
    ASSERT_TRUE(compiled.ok());
    Character character;
    ASSERT_TRUE(place(character, {0, 0}, compiled.book, world));
    for (int i = 0; i < 60; ++i) advance(character, kRight, compiled.book, world);
    for (ZoneId i = 0; i < 3; ++i) EXPECT_EQ(character.zones[i], i) << backwards;
    EXPECT_DOUBLE_EQ(character.velocity.x, 4);
  }
}

// Of borders that are passed in one tick the one that lies farthest back counts.
TEST(Limits, SpeedIsEvenedFromTheBorderPassedFirst) {
  for (const bool backwards : {false, true}) {
    for (const bool swapped : {false, true}) {
      Level level;
      for (const double top : {9.9, 10.0}) {
        level.zones.push_back(zone_of({{-50, -50}, {50, top}}));
        level.zones.back().traits.contains = Contains::feet;
        level.zones.back().overrides = {scaled("jump.gravity", 0.5)};
      }
      if (swapped) std::swap(level.zones[0], level.zones[1]);
      const InOrder world(level, backwards);
      const CompiledBook compiled = compile_book(pip(), level.zones);
      ASSERT_TRUE(compiled.ok());
      Character character;
      ASSERT_TRUE(place(character, {0, 10.1}, compiled.book, world));
      character.velocity = {0, -20};
      Character alone = character;
      const Rules rules = rules_of(pip());
      advance(alone, kNothing, rules, world);
      advance(character, kNothing, compiled.book, world);
      ASSERT_LT(alone.feet.y, 9.85);
      EXPECT_EQ(character.feet.y, alone.feet.y);
      // Of the pull a quarter is left; it is noticed at the next tick.
      const double pull = rules.fall_gravity;
      const double speed =
          std::sqrt(alone.velocity.y * alone.velocity.y - 1.5 * pull * (10 - alone.feet.y));
      advance(character, kNothing, compiled.book, world);
      EXPECT_NEAR(character.velocity.y, -speed - pull / 4 / 60, 1e-9) << backwards << swapped;
    }
  }
}

// Right over by half a turn a body goes by its left, be its up off by a rounding.
TEST(Limits, HalfTurnsGoToTheLeftWhateverARoundingSays) {
  Zone zone = zone_of({{-50, -50}, {50, 50}});
  zone.turning.to = Turning::To::direction;
  zone.turning.down = {0, 1};
  zone.turning.rate = 90;
  Level level;
  level.zones = {zone};
  for (const double off : {-1e-12, 0.0, 1e-12}) {
    Visitor visitor(pip(), level, {0, 5});
    visitor.character.up = {off, 1};
    visitor.tick(kNothing);
    EXPECT_LT(visitor.character.up.x, -0.01) << off;
  }
}

TEST(Limits, OfTwoFluidsTheLaterOfTheHighestPriorityCounts) {
  const auto drifts = [](int first_priority, int second_priority) {
    Level level;
    for (const int rank : {first_priority, second_priority}) {
      Zone zone = zone_of({{-50, -50}, {50, 50}});
      zone.priority = rank;
      zone.fluid = Fluid{};
      zone.fluid->drag = 5;
      zone.fluid->buoyancy = 40;
      zone.fluid->current = {level.zones.empty() ? 1.0 : -1.0, 0};
      level.zones.push_back(zone);
    }
    Visitor visitor(pip(), level, {0, 5});
    for (int i = 0; i < 120; ++i) visitor.tick(kNothing);
    return visitor.character.velocity.x;
  };
  EXPECT_LT(drifts(0, 0), 0);  // the later
  EXPECT_GT(drifts(1, 0), 0);
  EXPECT_LT(drifts(0, 1), 0);
}

}  // namespace
}  // namespace bushbaby
