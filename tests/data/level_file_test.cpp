// Level files: reading them, and what is wrong with them.
#include "bushbaby/data/level_file.h"

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "bushbaby/data/files.h"

namespace bushbaby {
namespace {

const std::string kHead = "format = \"bushbaby-level/1\"\nstart = [0, 0]\n";

TEST(LevelFile, ReadsTheFirstLimbs) {
  const auto level = load_level(std::string(BUSHBABY_SOURCE_DIR) + "/demo/first-limbs.level.toml");
  ASSERT_TRUE(level) << describe(level.error().front());
  EXPECT_EQ(level->name, "First limbs");
  EXPECT_EQ(level->start, (Vec{2, 0}));
  ASSERT_EQ(level->solids.size(), 7U);
  EXPECT_EQ(level->solids[1].name, "root");
  EXPECT_EQ(level->solids[1].box, (Box{{6, 0}, {8.5, 1.1}}));
}

TEST(LevelFile, ReadsSurfacesAndTouchesInTheFilesConvention) {
  const auto level = parse_level(
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[convention]\none_unit = \"16 px\"\n"
      "vertical = \"down\"\n[[solid]]\nbox = [0, 16, 16, 0]\n"
      "surface = { grip = 0.5, conveyor = -32, bounce = 0.25, bounce_speed = 160, ground = false, "
      "cling = false, jump = false }\n"
      "touch = { push = [96, -80], frame = \"away\", adds = true, lock = \"200ms\", stun = 0.5, "
      "no_jump = \"1s\", slow = 2, slow_share = 0.75, no_cling = \"300ms\", "
      "slow_fall = 3, slow_fall_share = 0.25 }\n",
      "c");
  ASSERT_TRUE(level) << describe(level.error().front());
  const SurfaceTraits& surface = level->solids.at(0).traits;
  EXPECT_EQ(surface.grip, 0.5);
  EXPECT_EQ(surface.conveyor, -2);
  EXPECT_EQ(surface.bounce, 0.25);
  EXPECT_EQ(surface.bounce_speed, 10);
  EXPECT_FALSE(surface.ground || surface.cling || surface.jump);
  ASSERT_TRUE(surface.has_touch && surface.touch.pushes);
  EXPECT_EQ(surface.touch.push.velocity, (Vec{6, 5}));
  EXPECT_EQ(surface.touch.push.frame, PushFrame::source);
  EXPECT_TRUE(surface.touch.push.adds);
  EXPECT_EQ(surface.touch.push.lock, 0.2);
  EXPECT_EQ(surface.touch.stun, 0.5);
  EXPECT_EQ(surface.touch.no_jump, 1);
  EXPECT_EQ(surface.touch.slow, 2);
  EXPECT_EQ(surface.touch.slow_share, 0.75);
  EXPECT_EQ(surface.touch.no_cling, 0.3);
  EXPECT_EQ(surface.touch.slow_fall, 3);
  EXPECT_EQ(surface.touch.slow_fall_share, 0.25);
}

TEST(LevelFile, ReadsZonesInTheFilesConvention) {
  const auto level = parse_level(
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[convention]\none_unit = \"16 px\"\n"
      "vertical = \"down\"\n[[zone]]\nname = \"sap\"\nbox = [0, 16, 32, 0]\ncontains = \"any "
      "part\"\n"
      "priority = -2\nexit_margin = 1.6\nset = { run.top_speed = 48, jump.coyote = \"9 ticks\", "
      "jump.allowed = false, jump.cut.style = \"stop\", fall.glide.speed = \"none\", "
      "wall.exit.1.away = \"2 u/s\" }\nscale = { jump.gravity = 0.4 }\ndown = \"left\"\n"
      "turn_rate = \"at once\"\ninputs = \"screen\"\nkeeps = { vertical = 0.5, horizontal = 0.25, "
      "turns = "
      "false }\nfluid = { buoyancy = 160, drag = 3, current = [16, 32], dive = 64, exit_jump = 24, "
      "stroke "
      "= { height = 8, every = \"12 ticks\" }, restores = true }\ntouch = { stun = 0.5 }\n"
      "[[zone]]\ncircle = [16, 32, 16]\ndown_towards = [16, 32]\n[[zone]]\npolygon = [[0, 0], [16, "
      "0], [0, 16]]\ndown = 90\n",
      "c");
  ASSERT_TRUE(level) << describe(level.error().front());
  ASSERT_EQ(level->zones.size(), 3U);
  const Zone& zone = level->zones[0];
  EXPECT_EQ(zone.name, "sap");
  EXPECT_EQ(zone.box, (Box{{0, -1}, {2, 0}}));
  EXPECT_EQ(zone.traits.contains, Contains::any_part);
  EXPECT_EQ(zone.priority, -2);
  EXPECT_EQ(zone.traits.exit_margin, 0.1);
  const auto has = [&zone](const char* knob, bool scales, const KnobValue& value) {
    return std::any_of(zone.overrides.begin(), zone.overrides.end(), [&](const Override& change) {
      return change.knob == knob && change.scales == scales && KnobValue(change.value) == value;
    });
  };
  EXPECT_EQ(zone.overrides.size(), 7U);
  EXPECT_TRUE(has("run.top_speed", false, 3.0));
  EXPECT_TRUE(has("jump.coyote", false, Duration{9, Duration::Unit::ticks}));
  EXPECT_TRUE(has("jump.allowed", false, false));
  EXPECT_TRUE(has("jump.cut.style", false, std::string("stop")));
  EXPECT_TRUE(has("fall.glide.speed", false, std::monostate{}));
  EXPECT_TRUE(has("wall.exit.1.away", false, 2.0));
  EXPECT_TRUE(has("jump.gravity", true, 0.4));
  EXPECT_EQ(zone.turning.to, Turning::To::direction);
  EXPECT_EQ(zone.turning.down, (Vec{-1, 0}));
  EXPECT_TRUE(std::isinf(zone.turning.rate));
  EXPECT_TRUE(zone.turning.by_screen);
  EXPECT_FALSE(zone.turning.speed_turns);
  EXPECT_EQ(zone.traits.keep_vertical, 0.5);
  EXPECT_EQ(zone.traits.keep_horizontal, 0.25);
  ASSERT_TRUE(zone.fluid);
  EXPECT_EQ(zone.fluid->buoyancy, 10);
  EXPECT_EQ(zone.fluid->drag, 3);
  EXPECT_EQ(zone.fluid->current, (Vec{1, -2}));
  EXPECT_EQ(zone.fluid->dive, 4);
  EXPECT_EQ(zone.fluid->exit_jump, 1.5);
  EXPECT_EQ(zone.fluid->stroke, 0.5);
  EXPECT_EQ(zone.fluid->stroke_every, (Duration{12, Duration::Unit::ticks}));
  EXPECT_TRUE(zone.fluid->restores);
  EXPECT_TRUE(zone.traits.has_touch);
  EXPECT_EQ(zone.traits.touch.stun, 0.5);
  EXPECT_EQ(level->zones[1].corners.size(), 64U);
  EXPECT_EQ(level->zones[1].turning.point, (Vec{1, -2}));
  EXPECT_EQ(level->zones[2].turning.down, (Vec{1, 0})) << "a quarter against the clock from down";
}

TEST(LevelFile, ReadsWhenASolidIsSolid) {
  const auto level = parse_level(
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[convention]\none_unit = \"16 "
      "px\"\n[[solid]]\n"
      "box = [0, 0, 16, 16]\nsolid_when = { speed_vertical = { at_least = -128 }, any = [{ "
      "held_vertical "
      "= "
      "{ is = \"down\" } }, { not = { zone = { is = \"sap\" } } }, { height = { between = [8, \"2 "
      "u\"] "
      "} }, { stance = { is = \"gliding\" } }] }\n[[zone]]\nname = \"air\"\nbox = [0, 0, 1, 1]\n"
      "[[zone]]\nname = \"sap\"\nbox = [0, 0, 1, 1]\n",
      "c");
  ASSERT_TRUE(level) << describe(level.error().front());
  const Condition& condition = level->solids[0].solid_when;
  ASSERT_TRUE(is_well_formed(condition));
  ASSERT_EQ(condition.nodes.size(), 8U);
  BodyState body;
  body.velocity = {0, -7.9};
  const auto holds = [&](double height) { return decide(condition, body, height).holds; };
  EXPECT_TRUE(holds(5)) << "not in the sap";
  body.zones[0] = 1;
  EXPECT_FALSE(holds(5));
  EXPECT_TRUE(holds(1));
  body.held_vertical = -1;
  EXPECT_TRUE(holds(5));
  body.velocity.y = -8.1;
  EXPECT_FALSE(holds(5));
}

TEST(LevelFile, WhatIsWrongWithACondition) {
  struct Case {
    const char* when;
    const char* says;
  };
  const Case cases[] = {
      {"{}", "c:5:14: solid.solid_when: found nothing, expected a statement, all, any or not"},
      {"3", "c:5:14: solid.solid_when: found 3, expected a table"},
      {"{ speed_horizontl = { at_least = 1 } }",
       "c:5:16: found unknown key speed_horizontl; did you mean speed_horizontal?"},
      {"{ speed_vertical = { at_lest = 1 } }",
       "c:5:35: found unknown key at_lest; did you mean at_least?"},
      {"{ speed_vertical = { at_least = 1, at_most = 2 } }",
       "c:5:33: solid.solid_when.speed_vertical: found 2 bounds, expected one of at_least, "
       "at_most, between and is"},
      {"{ held_vertical = { is = \"left\" } }",
       "c:5:39: solid.solid_when.held_vertical.is: found \"left\", expected one of down, nothing, "
       "up"},
      {"{ zone = { is = \"sop\" } }",
       "c:5:30: solid.solid_when: found sop, expected one of sap; did you mean sap?"},
      {"{ any = [] }",
       "c:5:22: solid.solid_when.any: found an empty list, expected a list of statements: [{ "
       "speed_vertical = { at_least = -6 } }, …]"},
  };
  for (const Case& c : cases) {
    const auto level = parse_level(kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsolid_when = " + c.when +
                                       "\n[[zone]]\nname = \"sap\"\nbox = [0, 0, 1, 1]\n",
                                   "c");
    ASSERT_FALSE(level) << c.when;
    EXPECT_EQ(describe(level.error().front()), c.says) << c.when;
  }
}

TEST(LevelFile, ReadsPathsInTheFilesConvention) {
  const auto level = parse_level(
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[convention]\none_unit = \"16 px\"\n"
      "vertical = \"down\"\n[[solid]]\nbox = [0, 16, 16, 0]\n"
      "surface = { inherit = { horizontal = 0.5, vertical = 0 } }\n"
      "path = { stops = [[48, 0], [48, 64]], duration = \"3500 ms\", waits = [0.5, \"250 ms\"], "
      "ease = true, offset = 1.5 }\n[[solid]]\nbox = [0, 16, 16, 0]\n"
      "path = { stops = [[32, 0], [32, -16]], loop = true, speed = 32, waits = 1 }\n",
      "c");
  ASSERT_TRUE(level) << describe(level.error().front());
  const Solid& lift = level->solids.at(0);
  ASSERT_TRUE(lift.path);
  EXPECT_EQ(lift.path->stops, (std::vector<Vec>{{3, 0}, {3, -4}}));
  EXPECT_EQ(lift.path->speed, 2) << "7 u in 3.5 s";
  EXPECT_EQ(lift.path->waits, (std::vector<double>{0.5, 0.25}));
  EXPECT_TRUE(lift.path->ease);
  EXPECT_FALSE(lift.path->loop);
  EXPECT_EQ(lift.path->offset, 1.5);
  EXPECT_EQ(lift.traits.inherit_horizontal, 0.5);
  EXPECT_EQ(lift.traits.inherit_vertical, 0);
  const PlatformPath& wheel = *level->solids.at(1).path;
  EXPECT_TRUE(wheel.loop);
  EXPECT_EQ(wheel.speed, 2);
  EXPECT_EQ(wheel.stops.back(), (Vec{2, 1}));
}

TEST(LevelFile, WhatIsWrongWithAPath) {
  struct Case {
    const char* path;
    const char* says;
  };
  const Case cases[] = {
      {"3", "c:5:8: path: found 3, expected a table"},
      {"{ stops = [[1, 0]] }",
       "c:5:8: path: found neither speed nor duration, expected one of speed (on its way) and "
       "duration (seconds to the last stop, or round)"},
      {"{ stops = [[1, 0]], speed = 1, duration = 2 }",
       "c:5:8: path: found speed and duration, expected one of speed (on its way) and duration "
       "(seconds to the last stop, or round)"},
      {"{ stops = [[1, 0]], sped = 1 }", "c:5:28: found unknown key sped; did you mean speed?"},
      {"{ stops = [[1, 0]], speed = 0 }",
       "c:5:36: path.speed: found 0, expected a speed in u/s, more than 0 and at most 1000000"},
      {"{ stops = [], speed = 1 }",
       "c:5:18: path.stops: found no stops, expected [[x, y], ...] in u from where the solid is "
       "drawn"},
      {"{ speed = 1 }",
       "c:5:8: path.stops: found no stops, expected [[x, y], ...] in u from where the solid is "
       "drawn"},
      {"{ stops = [[1]], speed = 1 }",
       "c:5:19: path.stops: found a list of 1, expected [[x, y], ...] in u from where the solid is "
       "drawn"},
      {"{ stops = [[0, 0]], speed = 1 }",
       "c:5:18: path.stops: found a stop twice in a row, expected stops apart from each other: "
       "where the solid is drawn is the first"},
      {"{ stops = [[1, 0]], speed = 1, waits = [1, 2, 3] }",
       "c:5:47: path.waits: found 3 times, expected one for every stop, two for either end, or one "
       "for each of the 2: where the solid is drawn is the first"},
      {"{ stops = [[1, 0]], speed = 1, waits = \"3 ticks\" }",
       "c:5:47: path.waits: found \"3 ticks\", expected a time, 0 to 1000000: 0.11 (seconds) or "
       "\"110 ms\""},
      {"{ stops = [[1, 0]], speed = 1, offset = -1 }",
       "c:5:48: path.offset: found -1, expected a time, 0 to 1000000: 0.11 (seconds) or \"110 "
       "ms\""},
  };
  for (const Case& c : cases) {
    const auto level =
        parse_level(kHead + "[[solid]]\nbox = [0, 0, 1, 1]\npath = " + c.path + "\n", "c");
    ASSERT_FALSE(level) << c.path;
    EXPECT_EQ(describe(level.error().front()), c.says) << c.path;
  }
}

TEST(LevelFile, WhatIsWrongWithAZone) {
  struct Case {
    const char* keys;  // of the zone, from line 4 on
    const char* says;
  };
  const Case cases[] = {
      {"box = [0, 0, 1, 1]\nset = { run.topspeed = 3 }",
       "c:5:13: found unknown key zone.set.run.topspeed; did you mean zone.set.run.top_speed?"},
      {"box = [0, 0, 1, 1]\nset = { run.top_speed = [3] }",
       "c:5:25: zone.set.run.top_speed: found a list, expected a speed in u/s, 0 to 1000000"},
      {"box = [0, 0, 1, 1]\nscale = { run.top_speed = \"x\" }",
       "c:5:27: zone.scale.run.top_speed: found \"x\", expected a number, -1000000000 to "
       "1000000000"},
      {"box = [0, 0, 1, 1]\ndown = \"lft\"",
       "c:5:8: zone.down: found \"lft\", expected down, up, left or right, or degrees against the "
       "clock from straight down"},
      {"box = [0, 0, 1, 1]\ndown = 3\ndown_towards = [1, 2]",
       "c:3:1: zone: found down and down_towards, expected one of them"},
      {"box = [0, 0, 1, 1]\nturn_rate = 5",
       "c:5:13: zone.turn_rate: found a zone without a down of its own, expected down or "
       "down_towards "
       "as well"},
      {"circle = [0, 0, 0]", "c:4:10: zone.circle: found radius 0, expected more than 0"},
      {"name = \"x\"", "c:3:1: zone: found no shape, expected one of box, polygon or circle"},
      {"box = [0, 0, 1, 1]\ncircle = [0, 0, 1]",
       "c:3:1: zone: found box and circle, expected one of box, polygon or circle"},
      {"box = [0, 0, 1, 1]\ncontains = \"head\"",
       "c:5:12: zone.contains: found \"head\", expected one of feet, centre, any part"},
      {"box = [0, 0, 1, 1]\nfluid = { drag = -1 }",
       "c:5:18: zone.fluid.drag: found -1, expected a number, 0 to 1000000"},
      {"box = [0, 0, 1, 1]\nfluid = { stroke = { height = 1, each = 2 } }",
       "c:5:34: found unknown key each, expected one of height, every"},
      {"box = [0, 0, 1, 1]\npriority = 1.5",
       "c:5:12: zone.priority: found 1.5, expected a whole number"},
  };
  for (const Case& c : cases) {
    const auto level = parse_level(kHead + "[[zone]]\n" + c.keys + "\n", "c");
    ASSERT_FALSE(level) << c.keys;
    EXPECT_EQ(describe(level.error().front()), c.says) << c.keys;
  }
}

// Where y points down, top and bottom may stand in either order.
TEST(LevelFile, BoxesThatPointDownTakeEitherOrder) {
  const std::string down = kHead + "[convention]\nvertical = \"down\"\n";
  const auto one = parse_level(down + "[[solid]]\nbox = [0, 1, 2, 4]\n", "c");
  const auto other = parse_level(down + "[[solid]]\nbox = [0, 4, 2, 1]\n", "c");
  ASSERT_TRUE(one && other);
  EXPECT_EQ(one->solids[0].box.lo, (Vec{0, -4}));
  EXPECT_EQ(one->solids[0].box.hi, (Vec{2, -1}));
  EXPECT_EQ(other->solids[0].box.lo, one->solids[0].box.lo);
  EXPECT_EQ(other->solids[0].box.hi, one->solids[0].box.hi);
}

// What zones ask of a tuning is reported where their file asks for it.
TEST(LevelFile, WhatAZoneCannotDoToATuning) {
  const std::string path = testing::TempDir() + "zones.level.toml";
  ASSERT_FALSE(write_file(path, kHead + "[[zone]]\nname = \"a\"\nbox = [0, 0, 1, 1]\nset = { "
                                        "run.top_speed = -3 }\nscale = { loop.tick_rate = 2 }\n"));
  const auto level = load_level_file(path);
  const auto tuning = load_tuning(std::string(BUSHBABY_SOURCE_DIR) + "/demo/pip.tuning.toml");
  ASSERT_TRUE(level && tuning);
  const auto book = compile_for(*tuning, *level, "c", tuning->units());
  ASSERT_FALSE(book);
  ASSERT_EQ(book.error().size(), 2U);
  EXPECT_EQ(describe(book.error()[0]),
            "c:6:25: run.top_speed: found -3 in \"a\", expected a speed in u/s, 0 to 1000000");
  EXPECT_EQ(describe(book.error()[1]),
            "c:7:28: loop.tick_rate: found a change in \"a\", expected another knob: those of the "
            "loop and of the body are the same everywhere");
}

TEST(LevelFile, ReadsPolygonsLinesAndWhatTheyBlock) {
  const auto level = parse_level(
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[convention]\none_unit = \"10 px\"\n"
      "vertical = \"down\"\n[[solid]]\npolygon = [[0, 0], [40, -20], [40, 0]]\n"
      "[[solid]]\nline = [[0, -50], [\"3 u\", -50], [60, -40]]\nblocks = \"from above\"\n",
      "c");
  ASSERT_TRUE(level) << describe(level.error().front());
  const Solid& polygon = level->solids.at(0);
  EXPECT_EQ(polygon.corners, (std::vector<Vec>{{0, 0}, {4, 2}, {4, 0}}));
  EXPECT_EQ(bounds_of(polygon), (Box{{0, 0}, {4, 2}}));
  EXPECT_FALSE(polygon.is_line);
  EXPECT_EQ(polygon.blocks, Blocks::everything);
  const Solid& line = level->solids.at(1);
  EXPECT_EQ(line.corners, (std::vector<Vec>{{0, 5}, {3, 5}, {6, 4}}));
  EXPECT_TRUE(line.is_line);
  EXPECT_EQ(line.blocks, Blocks::from_above);
}

struct Bad {
  std::string text;
  const char* message;
};

TEST(LevelFile, SaysWhatIsWrongAndWhere) {
  const Bad gallery[] = {
      {"", "c:1:1: found no format line, expected format = \"bushbaby-level/1\""},
      {"format = \"bushbaby-level/1\"\n",
       "c:1:1: found no start, expected start = [x, y] of the feet in u"},
      {kHead + "[[solid]]\nbox = [0, 0, 1]\n",
       "c:4:7: solid.box: found a list of 3, expected [left, bottom, right, top] in u"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, \"one\"]\n",
       "c:4:17: solid.box: found \"one\", expected [left, bottom, right, top] in u"},
      {kHead + "[[solid]]\nbox = [1, 0, 0, 1]\n",
       "c:4:7: solid.box: found left 1, right 0, expected left less than right"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, -3]\n",
       "c:4:7: solid.box: found bottom 0, top -3, expected bottom less than top (if y points down "
       "in "
       "this file, write vertical = \"down\" under [convention])"},
      {kHead + "[convention]\nvertical = \"down\"\n[[solid]]\nbox = [0, 3, 1, 3]\n",
       "c:6:7: solid.box: found bottom 3, top 3, expected a top and a bottom apart"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\ntouch = { push = [1e9, 0] }\n",
       "c:5:19: touch.push: found 1000000000, expected a speed of -1e+06 to 1e+06 u/s"},
      {kHead + "[[solid]]\nbox = [0, 1, 1, 1]\n",
       "c:4:7: solid.box: found bottom 1, top 1, expected bottom less than top"},
      {kHead + "[[solid]]\nbox = [0, 0, nan, 1]\n",
       "c:4:14: solid.box: found nan, expected a coordinate of -1e+07 to 1e+07 u"},
      {kHead + "[[solid]]\nname = \"bare\"\n",
       "c:3:1: solid: found no shape, expected one of box = [left, bottom, right, top] in u, "
       "polygon = [[x, y], [x, y], ...] in u, circle = [x, y, radius] or line = [[x, y], [x, y], "
       "...] in u"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nline = [[0, 0], [1, 1]]\n",
       "c:3:1: solid: found box and line, expected one of box = [left, bottom, right, top] in u, "
       "polygon = [[x, y], [x, y], ...] in u, circle = [x, y, radius] or line = [[x, y], [x, y], "
       "...] in u"},
      {kHead + "[[solid]]\npolygon = [[0, 0], [4, 0]]\n",
       "c:4:11: solid.polygon: found 2 corners, expected 3 corners or more (two are a line)"},
      {kHead + "[[solid]]\npolygon = [[0, 0], [4, 0], 3]\n",
       "c:4:28: solid.polygon: found 3, expected [[x, y], [x, y], ...] in u"},
      {kHead + "[[solid]]\npolygon = [[0, 0], [4, 0], [4, 0], [0, 2]]\n",
       "c:4:11: solid.polygon: found [4, 0] twice in a row, expected every corner once"},
      {kHead + "[[solid]]\npolygon = [[0, 0], [4, 4], [4, 0], [0, 4]]\n",
       "c:4:11: solid.polygon: found an edge from [0, 0] to [4, 4] that meets the edge from [4, 0] "
       "to [0, 4], expected an outline that neither crosses nor touches itself"},
      {kHead + "[convention]\none_unit = \"10 px\"\nvertical = \"down\"\n[[solid]]\n"
               "polygon = [[0, 0], [40, 0], [80, 0]]\n",
       "c:7:11: solid.polygon: found an edge from [0, 0] to [40, 0] that meets the edge from "
       "[80, 0] to [0, 0], expected an outline that neither crosses nor touches itself"},
      {kHead + "[[solid]]\nline = [[0, 0]]\n",
       "c:4:8: solid.line: found 1 points, expected 2 points or more"},
      {kHead + "[[solid]]\nline = [[0, 0], [1, 1], [1, 1]]\n",
       "c:4:8: solid.line: found [1, 1] twice in a row, expected every point once"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nblocks = \"from abve\"\n",
       "c:5:10: solid.blocks: found \"from abve\", expected one of everything, from above, from "
       "below, from left, from right; did you mean from above?"},
      {kHead + "[[solid]]\nbix = [0, 0, 1, 1]\nbox = [0, 0, 1, 1]\n",
       "c:4:1: found unknown key bix; did you mean box?"},
      {kHead + "solids = 3\n", "c:3:1: found unknown key solids; did you mean solid?"},
      {kHead + "solid = 3\n", "c:3:9: solid: found 3, expected sections headed [[solid]]"},
      {kHead + "name = 7\n", "c:3:8: name: found 7, expected a text in quotes"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsurface = { grpi = 1 }\n",
       "c:5:13: found unknown key grpi; did you mean grip?"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsurface = { bounce = 1.5 }\n",
       "c:5:22: surface.bounce: found 1.5, expected a number, 0 to 1"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsurface = { ground = 1 }\n",
       "c:5:22: surface.ground: found 1, expected true or false"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsurface = 3\n",
       "c:5:11: surface: found 3, expected a table"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\ntouch = { stun = \"9 ticks\" }\n",
       "c:5:18: touch.stun: found \"9 ticks\", expected a time, 0 to 1000000: 0.11 (seconds) or "
       "\"110 "
       "ms\""},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\ntouch = { push = [1] }\n",
       "c:5:18: touch.push: found a list of 1, expected [horizontal speed, vertical speed]"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\ntouch = { frame = \"awya\" }\n",
       "c:5:19: touch.frame: found \"awya\", expected one of world, facing, away; did you mean "
       "away?"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsurface = { conveyor = 1 }\n[convention]\ntime = "
               "\"tick\"\n",
       "c:5:24: surface.conveyor: found a level that counts in ticks, expected time = \"second\" "
       "in its convention: a level has no tick rate"},
  };
  for (const Bad& bad : gallery) {
    const auto level = parse_level(bad.text, "c");
    ASSERT_FALSE(level) << bad.text;
    EXPECT_EQ(describe(level.error().front()), bad.message) << bad.text;
  }
}

}  // namespace
}  // namespace bushbaby
