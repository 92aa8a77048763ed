// Targets files and reference curves: reading them, and what is wrong with them.
#include "bushbaby/records/targets_file.h"

#include <gtest/gtest.h>

namespace bushbaby {
namespace {

const std::string kHead = "format = \"bushbaby-targets/1\"\n[[target]]\n";

TEST(TargetsFile, ReadsPips) {
  const auto targets = load_targets(std::string(BUSHBABY_SOURCE_DIR) + "/demo/pip.targets.toml");
  ASSERT_TRUE(targets) << describe(targets.error().front());
  ASSERT_EQ(targets->size(), 9U);
  EXPECT_EQ((*targets)[0].fact, "stand_jump.height");
  EXPECT_EQ((*targets)[0].bound.lo, 3.25);
  EXPECT_EQ((*targets)[0].bound.hi, 0.01);
  EXPECT_EQ((*targets)[5].priority, Priority::should);
  ASSERT_TRUE((*targets)[8].follow);
  EXPECT_FALSE((*targets)[8].follow->over_time);
  EXPECT_EQ((*targets)[8].follow->points.size(), 13U);
}

const std::string kRun =
    "format = \"bushbaby-targets/1\"\n[[target]]\nrun = { level = "
    "\"first-limbs.level.toml\", inputs = \"late-leaps.inputs\" }\n";
const std::string kInDemo = std::string(BUSHBABY_SOURCE_DIR) + "/demo/t.targets.toml";

TEST(TargetsFile, ReadsWhatRunsMustDo) {
  const auto targets =
      load_targets(std::string(BUSHBABY_SOURCE_DIR) + "/demo/first-limbs.targets.toml");
  ASSERT_TRUE(targets) << describe(targets.error().front());
  ASSERT_EQ(targets->size(), 5U);
  EXPECT_EQ((*targets)[0].run->name, "low limb");
  EXPECT_EQ((*targets)[0].fact, "lands_on low limb");
  EXPECT_EQ((*targets)[0].run->stage, (*targets)[1].run->stage);  // read once
  EXPECT_EQ((*targets)[3].run->then, "landed");
  EXPECT_EQ(dimension_of((*targets)[3]), Dimension::time);
  EXPECT_EQ((*targets)[4].bound.form, Bound::Form::at_most);
  const struct {
    const char* text;
    const char* message;
  } gallery[] = {
      {"lands_on = \"low lim\"\n", "did you mean low limb?"},
      {"touches = \"nowhere\"\n", "expected the name of a solid, or a zone, of "},
      {"count = \"lnded\"\nat_least = 1\n", "did you mean landed?"},
      {"count = \"landed\"\n", "found 0 bounds"},
      {"time = [\"jumped\"]\nat_most = 1\n", "two events"},
      {"", "found 0 things asked of it"},
      {"touches = \"root\"\nends_on = \"root\"\n", "found 2 things asked of it"},
      {"fact = \"hop.height\"\nlands_on = \"root\"\n", "found a fact or a curve beside a run"},
  };
  for (const auto& bad : gallery) {
    const auto read = parse_targets(kRun + bad.text, kInDemo);
    ASSERT_FALSE(read) << bad.text;
    EXPECT_NE(describe(read.error().front()).find(bad.message), std::string::npos)
        << describe(read.error().front());
  }
  EXPECT_FALSE(
      parse_targets("format = \"bushbaby-targets/1\"\n[[target]]\nrun = { level = "
                    "\"no.toml\", inputs = \"late-leaps.inputs\" }\nlands_on = \"x\"\n",
                    kInDemo));
  EXPECT_FALSE(
      parse_targets("format = \"bushbaby-targets/1\"\n[[target]]\nrun = 3\ntouches = "
                    "\"x\"\n",
                    kInDemo));
}

struct Bad {
  std::string text;
  const char* message;
};

TEST(TargetsFile, SaysWhatIsWrongAndWhere) {
  const Bad gallery[] = {
      {"", "t:1:1: found no format line, expected format = \"bushbaby-targets/1\""},
      {"format = \"bushbaby-targets/1\"\n",
       "t: found no targets, expected sections headed "
       "[[target]]"},
      {kHead + "fact = \"stand_jump.heigth\"\naim = 3\nwithin = 1\n",
       "t:3:8: fact: found \"stand_jump.heigth\", expected a fact that a drill measures; did you "
       "mean stand_jump.height?"},
      {kHead + "fact = \"stand_jump.height\"\n",
       "t:2:1: stand_jump.height: found 0 bounds, expected one of aim (with within), between, "
       "at_least, at_most"},
      {kHead + "fact = \"stand_jump.height\"\naim = 3\nat_most = 4\nwithin = 1\n",
       "t:2:1: stand_jump.height: found 2 bounds, expected one of aim (with within), between, "
       "at_least, at_most"},
      {kHead + "fact = \"stand_jump.height\"\naim = 3\n",
       "t:2:1: within: found nothing, expected a number"},
      {kHead + "fact = \"stand_jump.height\"\naim = nan\nwithin = 1\n",
       "t:4:7: aim: found nan, expected a length: a number (in u) or \"3.25 u\""},
      {kHead + "fact = \"stand_jump.height\"\naim = 3\nwithin = -1\n",
       "t:5:10: within: found -1, expected 0 or more"},
      {kHead + "fact = \"stand_jump.height\"\nbetween = [8, 6]\n",
       "t:4:11: between: found a list, expected [lowest, highest], two numbers in that order"},
      {kHead + "fact = \"stand_jump.height\"\nat_leest = 3\n",
       "t:4:1: found unknown key at_leest; did you mean at_least?"},
      {kHead + "fact = \"stand_jump.height\"\nat_most = 3\npriority = \"shuld\"\n",
       "t:5:12: priority: found \"shuld\", expected \"must\" or \"should\"; did you mean should?"},
      {kHead + "fact = \"stand_jump.height\"\nat_most = 3\nweight = 0\n",
       "t:5:10: weight: found 0, expected more than 0"},
      {kHead + "drill = \"stop\"\nfollow = \"x.csv\"\nwithin = 1\n",
       "t:3:9: drill: found \"stop\", expected one of stand_jump, hop, running_jump"},
      {kHead + "drill = \"hop\"\nfollow = \"nowhere.csv\"\nwithin = 1\n",
       "nowhere.csv: found No such file or directory, expected a readable file"},
  };
  for (const Bad& bad : gallery) {
    const auto targets = parse_targets(bad.text, "t");
    ASSERT_FALSE(targets) << bad.text;
    EXPECT_EQ(describe(targets.error().front()), bad.message) << bad.text;
  }
}

TEST(CurveCsv, ReadsOverDistanceOrTime) {
  const auto path = parse_curve("x,y\n0,0\n1.5,2\n3,0\n", "c");
  ASSERT_TRUE(path);
  EXPECT_FALSE(path->over_time);
  EXPECT_EQ(path->points[1].across, 1.5);
  const auto time = parse_curve("note,time,y\r\n\"a, b\",0,0\r\nc,0.5,2\r\n", "c");
  ASSERT_TRUE(time) << describe(time.error().front());
  EXPECT_TRUE(time->over_time);
  EXPECT_EQ(time->points[1].height, 2);
}

TEST(CurveCsv, SaysWhatIsWrongAndWhere) {
  const Bad gallery[] = {
      {"", "c:1: found an empty file, expected a header with x (u) or time (s), and y (u)"},
      {"a,b\n1,2\n", "c:1: found no column y, expected a header with x (u) or time (s), and y (u)"},
      {"x,y\n0,0\n", "c:2: found 1 rows, expected at least 2 rows of numbers"},
      {"x,y\n0,0\n1\n2,0\n", "c:3: found 1 fields, expected 2, as in the header"},
      {"x,y\n0,0\n1,2,3\n", "c:3: found 3 fields, expected 2, as in the header"},
      {"x,y\n0,0\n1,high\n", "c:3: y: found high, expected a finite number"},
      {"x,y\n0,0\n1,nan\n", "c:3: y: found nan, expected a finite number"},
      {"x,y\n0,0\n1,1\n0.5,0\n",
       "c:4: x: found 0.5, expected more than 1, which stands in the row above"},
      {"x,y\n0,0\n1,\"2\n", "c:3: found "},
  };
  for (const Bad& bad : gallery) {
    const auto curve = parse_curve(bad.text, "c");
    ASSERT_FALSE(curve) << bad.text;
    EXPECT_EQ(describe(curve.error().front()).substr(0, std::string(bad.message).size()),
              bad.message);
  }
}

}  // namespace
}  // namespace bushbaby
