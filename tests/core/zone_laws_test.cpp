// Laws of random levels with zones: whatever they do, nothing gets into a solid, nothing is
// forgotten, and which way they are turned makes no difference.
#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>

#include <gtest/gtest.h>

#include "bushbaby/core/tuning/zones.h"
#include "bushbaby/core/world/check_world.h"

#include "situation.h"
#include "support.h"
#include "turned_world.h"

namespace bushbaby {
namespace {

using test::Situation;
using test::Turn;
using test::TurnedWorld;

Vec random_way(Situation& situation) {
  const double angle = situation.uniform(0, 2 * M_PI);
  if (situation.one_in(2))
    return Turn::by_quarters(static_cast<int>(situation.random() % 4)).of(Vec{1, 0});
  return {std::cos(angle), std::sin(angle)};
}

Turning random_turning(Situation& situation) {
  Turning turning;
  turning.to = situation.one_in(2) ? Turning::To::direction : Turning::To::point;
  turning.down = random_way(situation);
  turning.point = {situation.uniform(-20, 20), situation.uniform(-5, 15)};
  turning.rate =
      situation.one_in(3) ? std::numeric_limits<double>::infinity() : situation.uniform(30, 2000);
  turning.speed_turns = situation.one_in(2);
  return turning;
}

void add_overrides(Situation& situation, Zone& zone) {
  const auto scaled = [&](const char* knob, double lo, double hi) {
    if (situation.one_in(3)) zone.overrides.push_back({knob, true, situation.uniform(lo, hi)});
  };
  scaled("jump.gravity", 0.2, 4);
  scaled("run.top_speed", 0, 2);
  scaled("fall.factor", 0.2, 3);
  scaled("jump.coyote", 0, 3);
  scaled("jump.buffer", 0, 3);
  scaled("run.air.turn", 0, 3);
  if (situation.one_in(4)) zone.overrides.push_back({"jump.allowed", false, situation.one_in(2)});
  if (situation.one_in(4))
    zone.overrides.push_back({"dash.charges", false, situation.uniform(0, 3)});
  if (situation.one_in(4)) {
    zone.overrides.push_back({"wall.slide_speed", false, situation.uniform(0, 6)});
  }
}

// A level with some zones of all kinds over it.
void add_zones(Situation& situation) {
  for (std::uint64_t left = 1 + situation.random() % 6; left > 0; --left) {
    Zone zone;
    const Vec lo{situation.uniform(-28, 20), situation.uniform(-3, 12)};
    zone.box = {lo, {lo.x + situation.uniform(0.01, 20), lo.y + situation.uniform(0.01, 12)}};
    if (situation.one_in(3)) {
      const Vec middle{(zone.box.lo.x + zone.box.hi.x) / 2, (zone.box.lo.y + zone.box.hi.y) / 2};
      zone.corners = {{zone.box.lo.x, middle.y},
                      {middle.x, zone.box.lo.y},
                      {zone.box.hi.x, middle.y},
                      {middle.x, zone.box.hi.y}};
    }
    zone.priority = static_cast<int>(situation.random() % 3);
    zone.traits.contains = static_cast<Contains>(situation.random() % 3);
    zone.traits.exit_margin = situation.one_in(4) ? 0 : situation.uniform(0, 0.3);
    if (situation.one_in(3)) zone.traits.keep_vertical = situation.uniform(0, 1.5);
    if (situation.one_in(3)) zone.traits.keep_horizontal = situation.uniform(0, 1.5);
    if (situation.one_in(4)) {
      zone.traits.has_touch = true;
      zone.traits.touch.pushes = situation.one_in(2);
      zone.traits.touch.push = {{situation.uniform(-10, 10), situation.uniform(-5, 12)},
                                static_cast<PushFrame>(situation.random() % 3),
                                situation.one_in(2),
                                situation.uniform(0, 0.3)};
      zone.traits.touch.no_jump = situation.one_in(2) ? situation.uniform(0, 0.4) : 0;
    }
    add_overrides(situation, zone);
    if (situation.one_in(2)) zone.turning = random_turning(situation);
    if (situation.one_in(3)) zone.fluid = situation.random_fluid();
    situation.level.zones.push_back(std::move(zone));
  }
}

// Lets some of a level's solids travel, slowly and fast, and makes some solid at times.
void add_moving_platforms(Situation& situation) {
  const double most = situation.one_in(2) ? 6 : 50;
  for (std::size_t i = 1; i < situation.level.solids.size(); ++i) {
    if (!situation.one_in(2)) continue;
    PlatformPath path;
    for (std::uint64_t left = 1 + situation.random() % 3; left > 0; --left) {
      path.stops.emplace_back(situation.uniform(-9, 9), situation.uniform(-9, 9));
      if (situation.one_in(2)) path.stops.back().y = 0;
    }
    path.loop = situation.one_in(2);
    path.speed = situation.uniform(0.2, most);
    path.ease = situation.one_in(2);
    if (situation.one_in(2)) path.waits = {situation.uniform(0, 0.5)};
    path.offset = situation.uniform(0, 3);
    if (find_fault(path)) continue;
    Solid& solid = situation.level.solids[i];
    solid.path = path;
    solid.traits.inherit_horizontal = situation.uniform(0, 1.5);
    solid.traits.inherit_vertical = situation.uniform(0, 1.5);
  }
}

void add_conditions(Situation& situation) {
  for (std::size_t i = 1; i < situation.level.solids.size(); ++i) {
    if (!situation.one_in(4)) continue;
    Condition::Node node;
    node.statement.of = static_cast<Stated>(situation.random() % 5);
    node.statement.at_least = situation.uniform(-10, 2);
    situation.level.solids[i].solid_when.nodes = {node};
  }
}

// A level of those of its solids that a test may count on.
template <class Counts>
LevelWorld world_of(const Situation& situation, const Counts& counts) {
  Level level = situation.level;
  level.solids.clear();
  for (const Solid& solid : situation.level.solids) {
    if (counts(solid)) level.solids.push_back(solid);
  }
  return LevelWorld(level, situation.tuning.loop.tick_rate);
}

// A book of the zones; nothing if the tuning cannot be had in one of them.
std::optional<Rulebook> book_of(const Tuning& tuning, const std::vector<Zone>& zones) {
  CompiledBook compiled = compile_book(tuning, zones);
  if (!compiled.ok()) return std::nullopt;
  return std::move(compiled.book);
}

void expect_windows_within_rules(const Character& c, const Rules& rules) {
  ASSERT_LE(c.coyote_left, rules.coyote_ticks);
  ASSERT_LE(c.buffer_left, rules.buffer_ticks);
  ASSERT_LE(c.wall_coyote_left, rules.wall_coyote_ticks);
  ASSERT_LE(c.wall_buffer_left, rules.wall_buffer_ticks);
  ASSERT_LE(c.cling_left, rules.cling_ticks);
  ASSERT_LE(c.stroke_left, rules.fluid.stroke_every);
  ASSERT_LE(c.dash_cooldown_left, rules.dash_cooldown);
  ASSERT_LE(c.air_jumps_used, rules.air_jumps);
  ASSERT_LE(c.dashes_used, rules.dash_charges);
}

// A world that never says beforehand in which zones a region is; it counts how often it could have.
class AskedEachTick final : public World {
 public:
  explicit AskedEachTick(const World& inner) : inner_(inner) {}
  void find_solids(const Box& region, std::int64_t tick, Solids& solids) const noexcept override {
    inner_.find_solids(region, tick, solids);
  }
  [[nodiscard]] bool has_moving_platforms() const noexcept override {
    return inner_.has_moving_platforms();
  }
  void find_moving_platforms(const Box& region, std::int64_t tick,
                             Solids& solids) const noexcept override {
    inner_.find_moving_platforms(region, tick, solids);
  }
  [[nodiscard]] Vec travel(SurfaceId surface, std::int64_t tick) const noexcept override {
    return inner_.travel(surface, tick);
  }
  [[nodiscard]] const SurfaceTraits& surface(SurfaceId surface) const noexcept override {
    return inner_.surface(surface);
  }
  [[nodiscard]] const Condition* solid_when(SurfaceId surface) const noexcept override {
    return inner_.solid_when(surface);
  }
  void find_zones(const Box& region, std::int64_t tick, Solids& zones) const noexcept override {
    inner_.find_zones(region, tick, zones);
  }
  [[nodiscard]] const ZoneTraits& zone(ZoneId zone) const noexcept override {
    return inner_.zone(zone);
  }
  [[nodiscard]] bool zones_throughout(const Box& region, std::int64_t tick,
                                      ZoneSet& zones) const noexcept override {
    if (inner_.zones_throughout(region, tick, zones)) ++known_;
    return false;
  }

  [[nodiscard]] std::int64_t known() const { return known_; }

 private:
  const World& inner_;
  mutable std::int64_t known_ = 0;
};

// An account of which zones of boxes an upright body is in, from docs/model.md: what counts of it
// is in the box; or was, and is no farther out of it than `release`.
void expect_zones_as_reported(const Situation& situation, const ZoneSet& before,
                              const Character& c) {
  if (c.up != Vec{0, 1}) return;
  const auto has = [](const ZoneSet& set, ZoneId zone) {
    return std::find(set.begin(), set.end(), zone) != set.end();
  };
  const double height = situation.tuning.body.height;
  const double half = situation.tuning.body.width / 2;
  for (ZoneId id = 0; id < situation.level.zones.size(); ++id) {
    const Zone& zone = situation.level.zones[id];
    const bool round = situation.tuning.body.shape == BodyShape::capsule;
    const bool any_part = zone.traits.contains == Contains::any_part;
    if (!zone.corners.empty() || (any_part && round)) continue;
    Box counts{c.feet, c.feet};
    if (zone.traits.contains == Contains::centre) counts.lo.y = counts.hi.y = c.feet.y + height / 2;
    if (any_part) counts = {c.feet - Vec{half, 0}, c.feet + Vec{half, height}};
    const double out = std::max({zone.box.lo.x - counts.hi.x, counts.lo.x - zone.box.hi.x,
                                 zone.box.lo.y - counts.hi.y, counts.lo.y - zone.box.hi.y});
    const double within = has(before, id) ? zone.traits.exit_margin : 0;
    if (std::abs(out - within) < 1e-9) continue;  // a rounding decides
    ASSERT_EQ(has(c.zones, id), out < within) << "zone " << id;
  }
}

// Never in a solid, unless a moving platform crushes it; never without a number, no window longer
// than its rules, as many entries as exits; the same bits on a repeat, be it in a world that has to
// be asked for its zones at every tick, and from a copy made in the middle.
TEST(ZoneLaws, HoldOverMillionsOfTicks) {
  std::int64_t ticks = 0;
  std::int64_t crossings = 0;
  std::int64_t turned = 0;
  std::int64_t swum = 0;
  std::int64_t ridden = 0;
  std::int64_t crushed = 0;
  std::int64_t overflows = 0;
  std::int64_t known = 0;
  const std::uint32_t most = test::kSlow ? 150 : 6800;
  for (std::uint32_t seed = 0; seed < most; ++seed) {
    Situation situation(seed);
    if (seed % 3 == 1) situation.tuning.body.shape = BodyShape::capsule;
    add_zones(situation);
    if (seed % 2 == 1) add_moving_platforms(situation);
    if (seed % 4 > 1) add_conditions(situation);
    const auto book = book_of(situation.tuning, situation.level.zones);
    if (!book) continue;
    const LevelWorld world(situation.level, situation.tuning.loop.tick_rate);
    const auto always = [](const Solid& solid) { return solid.solid_when.nodes.empty(); };
    const LevelWorld lasting = world_of(situation, always);
    const LevelWorld fixed =
        world_of(situation, [&](const Solid& solid) { return always(solid) && !solid.path; });
    const auto feet = situation.find_room(book->rules(0), world);
    Character character;
    if (!feet || !place(character, *feet, *book, world)) continue;
    Character again = character;
    const AskedEachTick asked(world);
    std::vector<int> inside(situation.level.zones.size(), 0);
    for (const ZoneId zone : character.zones) {
      if (zone != kNoZone) inside[zone] = 1;
    }
    Character copy;
    for (std::size_t i = 0; i < situation.controls.size(); ++i) {
      const Controls& held = situation.controls[i];
      const ZoneSet zones_before = character.zones;
      const Events events = advance(character, held, *book, world);
      ASSERT_TRUE(std::isfinite(character.feet.x) && std::isfinite(character.feet.y) &&
                  std::isfinite(character.velocity.x) && std::isfinite(character.velocity.y))
          << seed << " " << i;
      const Rules& rules = book->rules(character.rules);
      const auto depth_in = [&](const LevelWorld& solids) {
        return overlap(solids, rules.body, character.feet, character.tick, character.up).depth;
      };
      ASSERT_LT(depth_in(fixed), 1e-9) << "seed " << seed << ", tick " << character.tick;
      if (!character.crushed) {
        ASSERT_LT(depth_in(lasting), 1e-9) << "seed " << seed << ", tick " << character.tick;
      }
      ASSERT_NEAR(std::hypot(character.up.x, character.up.y), 1, 1e-12);
      expect_windows_within_rules(character, rules);
      expect_zones_as_reported(situation, zones_before, character);
      ASSERT_EQ(book->entry(character.rules).zones, character.zones)
          << "every combination is there";
      if (testing::Test::HasFatalFailure())
        FAIL() << "seed " << seed << ", tick " << character.tick;
      for (const Event& event : events) {
        if (event.kind == EventKind::entered) {
          ASSERT_EQ(++inside[event.surface], 1);
          ++crossings;
        } else if (event.kind == EventKind::left) {
          ASSERT_EQ(--inside[event.surface], 0);
        }
      }
      overflows += events.overflowed() ? 1 : 0;
      for (ZoneId zone = 0; zone < inside.size(); ++zone) {
        const bool in = std::find(character.zones.begin(), character.zones.end(), zone) !=
                        character.zones.end();
        if (events.overflowed()) inside[zone] = in ? 1 : 0;
        ASSERT_EQ(inside[zone], in ? 1 : 0) << "seed " << seed << ", tick " << character.tick;
      }
      (void)advance(again, held, *book, asked);
      ASSERT_EQ(again, character) << "seed " << seed << ", tick " << character.tick;
      if (i == situation.controls.size() / 2) {
        std::memcpy(static_cast<void*>(&copy), &character, sizeof copy);
      } else if (i > situation.controls.size() / 2) {
        (void)advance(copy, held, *book, world);
      }
      turned += character.up.y != 1 ? 1 : 0;
      swum += character.swims ? 1 : 0;
      ridden += character.grounded() &&
                        world.travel(character.ground.surface, character.tick) != Vec{0, 0}
                    ? 1
                    : 0;
      crushed += character.crushed ? 1 : 0;
      ++ticks;
    }
    known += asked.known();
    ASSERT_EQ(copy, character) << "seed " << seed;
  }
  EXPECT_GT(known, ticks / 20);
  EXPECT_GT(ticks, test::kSlow ? 20000 : 2000000);
  EXPECT_GT(crossings, ticks / 1000);
  EXPECT_GT(turned, ticks / 40);
  EXPECT_GT(swum, ticks / 50);
  EXPECT_GT(ridden, ticks / 100);
  EXPECT_GT(crushed, 0);
  EXPECT_LE(overflows, ticks / 100000);
  EXPECT_LT(crushed, ticks / 20);
}

// The zones of a turned world: directions and places of the world in them are turned too.
std::vector<Zone> turned_zones(std::vector<Zone> zones, Turn turn) {
  for (Zone& zone : zones) {
    zone.turning.down = turn.of(zone.turning.down);
    zone.turning.point = turn.of(zone.turning.point);
    if (zone.fluid) zone.fluid->current = turn.of(zone.fluid->current);
  }
  return zones;
}

// A situation in which some zone says everywhere which way is down.
void add_zones_everywhere(Situation& situation) {
  add_zones(situation);
  Zone everywhere;
  everywhere.box = {{-1e6, -1e6}, {1e6, 1e6}};
  everywhere.priority = -1;
  everywhere.turning.to = Turning::To::direction;
  situation.level.zones.push_back(everywhere);
}

TEST(ZoneLaws, WorldsOfLevelsAnswerAsTheyShould) {
  for (std::uint32_t seed = 0; seed < 20; ++seed) {
    Situation situation(seed);
    add_zones(situation);
    const auto faults =
        check_world(LevelWorld(situation.level, kNothingTravels), {{-30, -5}, {30, 20}}, 300);
    EXPECT_TRUE(faults.empty()) << faults.front();
  }
}

TEST(ZoneLaws, ByQuartersARunHasTheSameBits) {
  std::int64_t ticks = 0;
  for (std::uint32_t seed = 0; seed < 300; ++seed) {
    Situation situation(seed);
    add_zones_everywhere(situation);
    if (seed % 2 == 1) add_moving_platforms(situation);
    const std::vector<Zone>& zones = situation.level.zones;
    const auto book = book_of(situation.tuning, zones);
    if (!book) continue;
    const LevelWorld world(situation.level, situation.tuning.loop.tick_rate);
    const auto feet = situation.find_room(book->rules(0), world);
    if (!feet) continue;
    for (int quarters = 1; quarters < 4; ++quarters) {
      const Turn turn = Turn::by_quarters(quarters);
      const TurnedWorld turned(world, turn, zones.size());
      // How far it reaches, and so what can be at once, is the same.
      std::vector<Zone> other_zones = turned_zones(zones, turn);
      for (Zone& zone : other_zones) {
        zone.box = turn.bounds(zone.box);
        for (Vec& corner : zone.corners) corner = turn.of(corner);
      }
      const auto other_book = book_of(situation.tuning, other_zones);
      ASSERT_TRUE(other_book);
      Character a;
      Character b;
      if (!place(a, *feet, *book, world)) continue;
      ASSERT_TRUE(place(b, turn.of(*feet), *other_book, turned));
      for (const Controls& held : situation.controls) {
        (void)advance(a, held, *book, world);
        (void)advance(b, held, *other_book, turned);
        Character expected = turn.of(a);
        // Which id the book gives a combination may differ.
        expected.rules = b.rules;
        expected.turned_by = b.turned_by;
        ASSERT_EQ(expected, b) << "seed " << seed << ", tick " << a.tick;
        ++ticks;
      }
    }
  }
  EXPECT_GT(ticks, 200000);
}

TEST(ZoneLaws, ByAnyAngleATickIsTheTurnedTick) {
  // Without moving platforms, and with them.
  std::int64_t ticks[] = {0, 0};
  std::int64_t differ[] = {0, 0};
  for (std::uint32_t seed = 0; seed < 450; ++seed) {
    Situation situation(seed);
    if (seed % 2 == 1) situation.tuning.body.shape = BodyShape::capsule;
    for (Solid& solid : situation.level.solids) {
      solid.box.lo -= Vec{situation.uniform(0, 0.2), situation.uniform(0, 0.2)};
      solid.box.hi += Vec{situation.uniform(0, 0.2), situation.uniform(0, 0.2)};
    }
    add_zones_everywhere(situation);
    if (seed % 2 == 1) add_moving_platforms(situation);
    const std::vector<Zone>& zones = situation.level.zones;
    const auto book = book_of(situation.tuning, zones);
    if (!book) continue;
    const LevelWorld world(situation.level, situation.tuning.loop.tick_rate);
    const auto feet = situation.find_room(book->rules(0), world);
    Character runner;
    if (!feet || !place(runner, *feet, *book, world)) continue;
    const Turn turn = Turn::by(situation.uniform(0, 2 * M_PI));
    const TurnedWorld turned(world, turn, zones.size());
    std::vector<Rulebook::Entry> entries;
    std::vector<ZoneId> ranking;
    // The same combinations, with what is of the world turned.
    for (RulesId id = 0; id < book->size(); ++id) {
      entries.push_back(book->entry(id));
      Rules& rules = entries.back().rules;
      rules.turn.up = turn.of(rules.turn.up);
      rules.turn.point = turn.of(rules.turn.point);
      rules.fluid.current = turn.of(rules.fluid.current);
    }
    const Rulebook other_book(entries, ranking);
    for (const Controls& held : situation.controls) {
      Character a = runner;
      a.feet += Vec{situation.uniform(-1e-5, 1e-5), situation.uniform(-1e-5, 1e-5)};
      a.velocity.x *= situation.uniform(0.999, 1);
      Character b = turn.of(a);
      (void)advance(a, held, *book, world);
      (void)advance(b, held, other_book, turned);
      (void)advance(runner, held, *book, world);
      const double same = 1e-9 * (1 + std::abs(a.velocity.x) + std::abs(a.velocity.y));
      const auto is_near = [same](Vec p, Vec q) {
        return std::abs(p.x - q.x) < same && std::abs(p.y - q.y) < same;
      };
      const bool same_tick = is_near(turn.back(b.feet), a.feet) && is_near(turn.back(b.up), a.up) &&
                             is_near(turn.back(b.velocity), a.velocity) && a.zones == b.zones;
      differ[seed % 2] += same_tick ? 0 : 1;
      ++ticks[seed % 2];
    }
  }
  EXPECT_GT(ticks[0], 50000);
  EXPECT_GT(ticks[1], 50000);
  // Where a speed is just what a rule compares it with (0 after a cut, that of a climb; that at
  // which a moving platform goes along the body), a rounding decides.
  EXPECT_LE(differ[0] * 2500, ticks[0]) << differ[0] << " of " << ticks[0];
  EXPECT_LE(differ[1] * 1000, ticks[1]) << differ[1] << " of " << ticks[1];
}

}  // namespace
}  // namespace bushbaby
