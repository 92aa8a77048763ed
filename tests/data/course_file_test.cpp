// Course files: reading them, and what is wrong with them.
#include "bushbaby/data/course_file.h"

#include <gtest/gtest.h>

namespace bushbaby {
namespace {

const std::string kHead = "format = \"bushbaby-course/1\"\nstart = [0, 0]\n";

TEST(CourseFile, ReadsTheFirstLimbs) {
  const auto course =
      load_course(std::string(BUSHBABY_SOURCE_DIR) + "/demo/first-limbs.course.toml");
  ASSERT_TRUE(course) << describe(course.error().front());
  EXPECT_EQ(course->name, "First limbs");
  EXPECT_EQ(course->start, (Vec{2, 0}));
  ASSERT_EQ(course->solids.size(), 7U);
  EXPECT_EQ(course->solids[1].name, "root");
  EXPECT_EQ(course->solids[1].box, (Box{{6, 0}, {8.5, 1.1}}));
}

struct Bad {
  std::string text;
  const char* message;
};

TEST(CourseFile, SaysWhatIsWrongAndWhere) {
  const Bad gallery[] = {
      {"", "c:1:1: found no format line, expected format = \"bushbaby-course/1\""},
      {"format = \"bushbaby-course/1\"\n",
       "c:1:1: found no start, expected start = [x, y] of the feet in u"},
      {kHead + "[[solid]]\nbox = [0, 0, 1]\n",
       "c:4:7: solid.box: found a list of 3, expected [left, bottom, right, top] in u"},
      {kHead + "[[solid]]\nbox = [0, 0, 1, \"one\"]\n",
       "c:4:17: solid.box: found \"one\", expected [left, bottom, right, top] in u"},
      {kHead + "[[solid]]\nbox = [1, 0, 0, 1]\n",
       "c:4:7: solid.box: found left, right = 1, 0, expected the second beyond the first"},
      {kHead + "[[solid]]\nbox = [0, 1, 1, 1]\n",
       "c:4:7: solid.box: found bottom, top = 1, 1, expected the second beyond the first"},
      {kHead + "[[solid]]\nbox = [0, 0, nan, 1]\n",
       "c:4:14: solid.box: found nan, expected a coordinate of -1e+07 to 1e+07 u"},
      {kHead + "[[solid]]\nname = \"bare\"\n",
       "c:3:1: solid: found no box, expected box = [left, bottom, right, top] in u"},
      {kHead + "[[solid]]\nbix = [0, 0, 1, 1]\nbox = [0, 0, 1, 1]\n",
       "c:4:1: found unknown key bix; did you mean box?"},
      {kHead + "solids = 3\n", "c:3:1: found unknown key solids; did you mean solid?"},
      {kHead + "solid = 3\n", "c:3:9: solid: found 3, expected sections headed [[solid]]"},
      {kHead + "name = 7\n", "c:3:8: name: found 7, expected a text in quotes"},
  };
  for (const Bad& bad : gallery) {
    const auto course = parse_course(bad.text, "c");
    ASSERT_FALSE(course) << bad.text;
    EXPECT_EQ(describe(course.error().front()), bad.message) << bad.text;
  }
}

}  // namespace
}  // namespace bushbaby
