// Level files: reading them, and what is wrong with them.
#include "bushbaby/data/level_file.h"

#include <gtest/gtest.h>

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
      "surface = { grip = 0.5, belt = -32, bounce = 0.25, bounce_speed = 160, footing = false, "
      "cling = false, jump = false }\n"
      "touch = { push = [96, -80], frame = \"away\", adds = true, lock = \"200ms\", stun = 0.5, "
      "no_jump = \"1s\", slow = 2, slow_share = 0.75, no_cling = \"300ms\", "
      "slow_fall = 3, slow_fall_share = 0.25 }\n",
      "c");
  ASSERT_TRUE(level) << describe(level.error().front());
  const SurfaceTraits& surface = level->solids.at(0).traits;
  EXPECT_EQ(surface.grip, 0.5);
  EXPECT_EQ(surface.belt, -2);
  EXPECT_EQ(surface.bounce, 0.25);
  EXPECT_EQ(surface.bounce_speed, 10);
  EXPECT_FALSE(surface.footing || surface.cling || surface.jump);
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
      {kHead + "[convention]\nvertical = \"down\"\n[[solid]]\nbox = [0, 0, 1, 3]\n",
       "c:6:7: solid.box: found bottom 0, top 3, expected bottom more than top, since y points "
       "down "
       "in this file (if y points up in this file, write vertical = \"up\" under [convention])"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\ntouch = { push = [1e9, 0] }\n",
       "c:5:19: touch.push: found 1000000000, expected a speed of -1e+06 to 1e+06 u/s"},
      {kHead + "[[solid]]\nbox = [0, 1, 1, 1]\n",
       "c:4:7: solid.box: found bottom 1, top 1, expected bottom less than top"},
      {kHead + "[[solid]]\nbox = [0, 0, nan, 1]\n",
       "c:4:14: solid.box: found nan, expected a coordinate of -1e+07 to 1e+07 u"},
      {kHead + "[[solid]]\nname = \"bare\"\n",
       "c:3:1: solid: found no shape, expected one of box = [left, bottom, right, top] in u, "
       "polygon = [[x, y], [x, y], ...] in u or line = [[x, y], [x, y], ...] in u"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nline = [[0, 0], [1, 1]]\n",
       "c:3:1: solid: found box and line, expected one of box = [left, bottom, right, top] in u, "
       "polygon = [[x, y], [x, y], ...] in u or line = [[x, y], [x, y], ...] in u"},
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
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsurface = { footing = 1 }\n",
       "c:5:23: surface.footing: found 1, expected true or false"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsurface = 3\n",
       "c:5:11: surface: found 3, expected a table"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\ntouch = { stun = \"9 ticks\" }\n",
       "c:5:18: touch.stun: found \"9 ticks\", expected a time, 0 to 1000000: 0.11 (seconds) or "
       "\"110 "
       "ms\""},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\ntouch = { push = [1] }\n",
       "c:5:18: touch.push: found a list of 1, expected [speed along the frame, speed along up]"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\ntouch = { frame = \"awya\" }\n",
       "c:5:19: touch.frame: found \"awya\", expected one of world, facing, away; did you mean "
       "away?"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, 1]\nsurface = { belt = 1 }\n[convention]\ntime = "
               "\"tick\"\n",
       "c:5:20: surface.belt: found a level that counts in ticks, expected time = \"second\" in "
       "its convention: a level has no tick rate"},
  };
  for (const Bad& bad : gallery) {
    const auto level = parse_level(bad.text, "c");
    ASSERT_FALSE(level) << bad.text;
    EXPECT_EQ(describe(level.error().front()), bad.message) << bad.text;
  }
}

}  // namespace
}  // namespace bushbaby
