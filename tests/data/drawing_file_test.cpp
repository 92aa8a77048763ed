// Levels drawn in SVG: what is read, and what is wrong with them.
#include <cmath>

#include <gtest/gtest.h>

#include "bushbaby/data/level_file.h"

namespace bushbaby {
namespace {

const std::string kStart = "<circle class='start' cx='20' cy='-30' r='2'/>";

// A drawing of 10 px to a world unit, its shapes from the second line on.
std::string drawing(const std::string& shapes, const std::string& start = kStart) {
  return "<svg xmlns='http://www.w3.org/2000/svg' xmlns:ed='urn:editor' "
         "data-format='bushbaby-level/1' data-one-unit='10 px'>" +
         start + "\n" + shapes + "\n</svg>";
}

Level level_of(const std::string& shapes) {
  const auto level = parse_level_drawing(drawing(shapes), "d.svg");
  EXPECT_TRUE(level) << shapes << ": " << describe(level.error().front());
  return level ? *level : Level{};
}

TEST(Drawing, ZonesAndConditionsAreShapesWithKeys) {
  const auto level = parse_level_drawing(
      "<svg xmlns='http://www.w3.org/2000/svg' data-format='bushbaby-level/1' data-one-unit='10 "
      "px'>"
      "<circle class='start' cx='0' cy='0' r='2'/>"
      "<rect x='0' y='0' width='10' height='10' data-solid-when='zone = { is = \"sap\" }' "
      "data-path='stops = [[30, -20]], speed = 5'/>"
      "<g class='zone' data-zone='scale = { jump.gravity = 0.5 }, down = \"left\"'>"
      "<circle cx='50' cy='-20' r='10'><title>sap</title></circle></g></svg>",
      "d.svg");
  ASSERT_TRUE(level) << describe(level.error().front());
  ASSERT_EQ(level->solids.size(), 1U);
  ASSERT_EQ(level->zones.size(), 1U);
  const Zone& zone = level->zones[0];
  EXPECT_EQ(zone.name, "sap");
  EXPECT_EQ(zone.corners.size(), 64U);
  EXPECT_EQ(zone.overrides.at(0).knob, "jump.gravity");
  EXPECT_EQ(zone.turning.down, (Vec{-1, 0}));
  EXPECT_EQ(level->solids[0].solid_when.nodes.at(0).statement.at_least, 0) << "the id of the zone";
  ASSERT_TRUE(level->solids[0].path);
  EXPECT_EQ(level->solids[0].path->stops.at(0), (Vec{3, 2})) << "up in a drawing is down there";
  const auto bad = parse_level_drawing(
      "<svg xmlns='http://www.w3.org/2000/svg' data-format='bushbaby-level/1' data-one-unit='10 "
      "px'>"
      "<circle class='start' cx='0' cy='0' r='2'/>\n"
      "<line class='zone' x1='0' y1='0' x2='9' y2='9'/>\n"
      "<rect class='zone' width='9' height='9' data-zone='box = [0, 0, 1, 1]'/>\n"
      "<rect class='zone' width='9' height='9' data-zone='contain = 3'/>\n"
      "<rect width='9' height='9' data-path='stops = [], speed = 5'/></svg>",
      "d.svg");
  ASSERT_FALSE(bad);
  ASSERT_EQ(bad.error().size(), 4U);
  EXPECT_EQ(describe(bad.error()[0]),
            "d.svg:2:1: <line>: found a zone without an inside, expected a closed shape");
  EXPECT_EQ(describe(bad.error()[1]),
            "d.svg:3:1: <rect> box: found a shape, expected none: it is drawn");
  EXPECT_EQ(describe(bad.error()[2]),
            "d.svg:4:1: <rect>: found unknown key contain; did you mean contains?");
  EXPECT_EQ(describe(bad.error()[3]),
            "d.svg:5:1: <rect> path.stops: found no stops, expected [[x, y], ...] in px from where "
            "the solid is drawn");
}

TEST(Drawing, ReadsEveryShapeUpright) {
  const Level level = level_of(R"svg(
    <title>
      Roots  in
      moonlight </title>
    <rect x="0" y="10" width="40" height="20"><title>floor</title></rect>
    <polygon points="0,0 20,-10 20 0"/>
    <polyline points="0,0 10,-10 20,0 0,0"/>
    <polyline points="0,0 10,-10 20,0 30,0"/>
    <line x1="5" y1="0" x2="15px" y2="0"/>
    <path d="M10-20h10v-10H10z"/>
    <path d="m10,20 10,0 0,-10"/>
    <circle cx="30" cy="-40" r="10" id="burr"/>
    <text x="0" y="0">not a solid</text>
    <defs><rect width="5" height="5"/></defs>)svg");
  EXPECT_EQ(level.name, "Roots in moonlight");
  EXPECT_EQ(level.start, (Vec{2, 3}));
  ASSERT_EQ(level.solids.size(), 8U);
  EXPECT_EQ(level.solids[0].name, "floor");
  EXPECT_EQ(level.solids[0].box, (Box{{0, -3}, {4, -1}}));
  EXPECT_TRUE(level.solids[0].corners.empty());
  EXPECT_EQ(level.solids[1].corners, (std::vector<Vec>{{0, 0}, {2, 1}, {2, 0}}));
  EXPECT_FALSE(level.solids[1].is_line);
  EXPECT_EQ(level.solids[2].corners, (std::vector<Vec>{{0, 0}, {1, 1}, {2, 0}}));
  EXPECT_FALSE(level.solids[2].is_line) << "it ends where it began";
  EXPECT_EQ(level.solids[3].corners.size(), 4U);
  EXPECT_TRUE(level.solids[3].is_line);
  EXPECT_EQ(level.solids[4].corners, (std::vector<Vec>{{0.5, 0}, {1.5, 0}}));
  EXPECT_EQ(level.solids[5].corners, (std::vector<Vec>{{1, 2}, {2, 2}, {2, 3}, {1, 3}}));
  EXPECT_FALSE(level.solids[5].is_line);
  EXPECT_EQ(level.solids[6].corners, (std::vector<Vec>{{1, -2}, {2, -2}, {2, -1}}));
  EXPECT_TRUE(level.solids[6].is_line);
  const std::vector<Vec>& circle = level.solids[7].corners;
  EXPECT_EQ(circle.size(), 64U);
  for (const Vec& corner : circle) EXPECT_NEAR(std::hypot(corner.x - 3, corner.y - 4), 1, 1e-12);
}

TEST(Drawing, TransformsAndGroupsReachWhatIsInThem) {
  const Level level = level_of(R"svg(
    <g transform="translate(100)" class="from-above" data-surface="grip = 0.5">
      <g transform="scale(2, 1)">
        <rect x="0" y="0" width="10" height="10"/>
        <rect class="solid" data-surface="conveyor = 20" width="10" height="10"/>
      </g>
      <rect transform="rotate(90)" width="20" height="10"/>
      <rect transform="rotate(30 10 10)" width="20" height="20"/>
    </g>
    <g ed:label="scenery"><rect width="10" height="10"/><use href="#x"/></g>
    <g style="display: none"><rect width="10" height="10"/></g>
    <rect transform="matrix(1 0 0 -1 0 0) skewX(45)" width="10" height="10" class="bark"/>)svg");
  ASSERT_EQ(level.solids.size(), 5U);
  EXPECT_EQ(level.solids[0].box, (Box{{10, -1}, {12, 0}}));
  EXPECT_EQ(level.solids[0].blocks, Blocks::from_above);
  EXPECT_EQ(level.solids[0].traits.grip, 0.5);
  EXPECT_EQ(level.solids[1].blocks, Blocks::everything);
  EXPECT_EQ(level.solids[1].traits.conveyor, 2) << "in the drawing's lengths";
  EXPECT_EQ(level.solids[1].traits.grip, 1);
  EXPECT_EQ(level.solids[2].box, (Box{{9, -2}, {10, 0}})) << "a quarter turn leaves a box";
  const std::vector<Vec>& turned = level.solids[3].corners;
  ASSERT_EQ(turned.size(), 4U);
  EXPECT_NEAR(turned[0].x, 10 + 1 - std::cos(M_PI / 6) + std::sin(M_PI / 6), 1e-12);
  EXPECT_NEAR(turned[0].y, -(1 - std::sin(M_PI / 6) - std::cos(M_PI / 6)), 1e-12);
  const std::vector<Vec>& skewed = level.solids[4].corners;
  ASSERT_EQ(skewed.size(), 4U);
  EXPECT_NEAR(skewed[2].x, 2, 1e-12);
  EXPECT_NEAR(skewed[2].y, 1, 1e-12);
}

TEST(Drawing, ARectIsAStartToStandIn) {
  const auto level = parse_level_drawing(
      drawing("", "<rect class='start' x='10' y='-30' width='8' height='20'/>"), "d.svg");
  ASSERT_TRUE(level) << describe(level.error().front());
  EXPECT_EQ(level->start, (Vec{1.4, 1}));
}

TEST(Drawing, SaysWhatIsWrongWithWhichElement) {
  struct Bad {
    std::string text;
    const char* message;
  };
  const auto head = [](const char* attributes) {
    return "<svg " + std::string(attributes) + ">" + kStart + "</svg>";
  };
  const std::string deep = [] {
    std::string text;
    for (int i = 0; i < 200; ++i) text += "<g>";
    text += "<rect width='1' height='1'/>";
    for (int i = 0; i < 200; ++i) text += "</g>";
    return text;
  }();
  const Bad gallery[] = {
      {"",
       "d.svg:1:1: found text that XML does not allow, expected SVG (No document element found)"},
      {"<svg>\n<rect></svg>",
       "d.svg:2:9: found text that XML does not allow, expected SVG (Start-end tags mismatch)"},
      {"<html/>", "d.svg:1:1: found a text that is no drawing, expected SVG"},
      {"<svg>\n\xff</svg>", "d.svg:2:1: found bytes that are not UTF-8, expected a text in UTF-8"},
      {head("data-one-unit='1 px'"),
       "d.svg:1:1: <svg>: found no data-format, expected data-format=\"bushbaby-level/1\""},
      {head("data-format='bushbaby-level/2' data-one-unit='1 px'"),
       "d.svg:1:1: <svg>: found data-format=\"bushbaby-level/2\", expected "
       "data-format=\"bushbaby-level/1\""},
      {head("data-format='bushbaby-level/1'"),
       "d.svg:1:1: <svg>: found no data-one-unit, expected data-one-unit=\"32 px\", or how many "
       "lengths of the drawing make one world unit"},
      {head("data-format='bushbaby-level/1' data-one-unit='none'"),
       "d.svg:1:1: <svg>: found data-one-unit=\"none\", expected data-one-unit=\"32 px\", or how "
       "many lengths of the drawing make one world unit"},
      {drawing("", ""),
       "d.svg:1:1: found no start, expected a circle of class start, its centre where the feet are "
       "put, or a rect that they stand at the bottom of"},
      {drawing(kStart), "d.svg:2:1: <circle>: found a second start, expected one"},
      {drawing("", "<line class='start' x2='5'/>"),
       "d.svg:1:116: <line>: found a start that is no circle and no rect, expected a circle, its "
       "centre where the feet are put, or a rect that they stand at the bottom of"},
      {drawing("<rect id='r1' width='0' height='5'/>"),
       "d.svg:2:1: <rect id=\"r1\">: found width 0, height 5, expected both more than 0"},
      {drawing("<g>é<rect width='3mm' height='5'/></g>"),
       "d.svg:2:5: <rect>: found width=\"3mm\", expected a number, in the drawing's own lengths"},
      {drawing("<rect width='3' height='5' rx='1'/>"),
       "d.svg:2:1: <rect>: found rounded corners, expected a rect without rx and ry, or a path of "
       "short straight lines"},
      {drawing("<circle r='0'/>"),
       "d.svg:2:1: <circle>: found no radius, expected a radius of more "
       "than 0"},
      {drawing("<polygon points='0,0 1,1 2'/>"),
       "d.svg:2:1: <polygon>: found the end where a point should be, expected points=\"x,y x,y "
       "...\""},
      {drawing("<polygon points='0,0 10,10 10,0 0,10'/>"),
       "d.svg:2:1: <polygon>: found an edge from [0, 0] to [10, 10] that meets the edge from [10, "
       "0] to [0, 10], expected an outline that neither crosses nor touches itself"},
      {drawing("<path d='M0 0 C 1 1 2 2 3 3'/>"),
       "d.svg:2:1: <path>: found a curve (C), expected straight lines: turn its curves into short "
       "ones"},
      {drawing("<path d='M0 0 h5 v5 z M 1 1 h1 v1 z'/>"),
       "d.svg:2:1: <path>: found more than one outline, expected one outline of straight lines: M, "
       "L, H, V and Z"},
      {drawing("<path d='L0'/>"),
       "d.svg:2:1: <path>: found the end where a number should be, expected one outline of "
       "straight "
       "lines: M, L, H, V and Z"},
      {drawing("<path d='5 5'/>"),
       "d.svg:2:1: <path>: found 5 5 where a command should be, expected one outline of straight "
       "lines: M, L, H, V and Z"},
      {drawing("<path/>"), "d.svg:2:1: <path>: found 0 points, expected 2 points or more"},
      {drawing("<rect width='1' height='1' transform='rotate(1,2)'/>"),
       "d.svg:2:1: <rect>: found the transform rotate(1,2), expected matrix(), translate(), "
       "scale(), rotate(), skewX() or skewY() with their numbers"},
      {drawing("<rect width='1' height='1' transform='scale(0)'/>"),
       "d.svg:2:1: <rect>: found a rect without an inside, expected a transform that leaves it "
       "one"},
      {drawing("<rect x='1e300' width='1' height='1'/>"),
       "d.svg:2:1: <rect>: found a place too far out, expected coordinates of -1e+08 to 1e+08 px"},
      {drawing("<use href='#a' id='twin'/>"),
       "d.svg:2:1: <use id=\"twin\">: found a clone, expected shapes of their own, or the class "
       "scenery"},
      {drawing("<g class='from-abve'/>"),
       "d.svg:2:1: <g>: found the class \"from-abve\", expected one of solid, from-above, "
       "from-below, from-left, from-right, scenery, start, zone, or a word not so close to them; "
       "did you "
       "mean from-above?"},
      {drawing("<g class='from-above start'/>"),
       "d.svg:2:1: <g>: found the classes from-above and start, expected one of the two"},
      {drawing("<rect width='1' height='1' data-surface='grpi = 1'/>"),
       "d.svg:2:1: <rect>: found unknown key grpi; did you mean grip?"},
      {drawing("<rect width='1' height='1' data-surface='bounce = 2'/>"),
       "d.svg:2:1: <rect> surface.bounce: found 2, expected a number, 0 to 1"},
      {drawing("<rect width='1' height='1' data-surface='} \n x = {'/>"),
       "d.svg:2:1: <rect>: found data-surface=\"}   x = {\", expected keys as in a level file: "
       "\"grip = 0.4, conveyor = 2\""},
      {drawing(deep),
       "d.svg:2:301: <g>: found groups too deep, expected at most 100 within one another"},
  };
  for (const Bad& bad : gallery) {
    const auto level = parse_level_drawing(bad.text, "d.svg");
    ASSERT_FALSE(level) << bad.text;
    EXPECT_EQ(describe(level.error().front()), bad.message) << bad.text;
  }
}

}  // namespace
}  // namespace bushbaby
