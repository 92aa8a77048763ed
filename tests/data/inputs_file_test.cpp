// Inputs: reading, writing, and what is wrong with them.
#include "bushbaby/data/inputs_file.h"

#include <random>

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace bushbaby {
namespace {

const std::string kHead = "# bushbaby inputs 1\n";

TEST(InputsFile, ReadsWhatIsHeldAndForHowLong) {
  const auto inputs = parse_inputs(kHead +
                                       "# a comment\n\n"
                                       "nothing for 30 ticks\n"
                                       "right jump for 0.25s   # another\r\n"
                                       "x=0.6 y=-1 dash for 250ms\n"
                                       "left right for 1 ticks",
                                   "t");
  ASSERT_TRUE(inputs) << describe(inputs.error().front());
  const std::vector<InputSpan> expected{{{0, 0, false, false}, {30, Duration::Unit::ticks}},
                                        {{127, 0, true, false}, {0.25}},
                                        {{76, -127, false, true}, {0.25}},
                                        {{0, 0, false, false}, {1, Duration::Unit::ticks}}};
  EXPECT_EQ(inputs->spans, expected);
}

RC_GTEST_PROP(InputsFileLaw, WrittenThenReadIsTheSame, (std::uint32_t seed)) {
  std::mt19937_64 random(seed);
  Inputs inputs;
  for (int i = 0; i < 20; ++i) {
    const auto step = [&random] {
      return static_cast<std::int8_t>(static_cast<int>(random() % 255) - 127);
    };
    const bool ticks = random() % 2 == 0;
    const double amount = ticks ? static_cast<double>(random() % 99 + 1)
                                : static_cast<double>(random() % 9999 + 1) / 1024;
    inputs.spans.push_back({{step(), step(), random() % 2 == 0, random() % 2 == 0},
                            {amount, ticks ? Duration::Unit::ticks : Duration::Unit::seconds}});
  }
  const auto read = parse_inputs(write_inputs(inputs), "t");
  RC_ASSERT(read.has_value());
  RC_ASSERT(read->spans == inputs.spans);
}

struct Bad {
  std::string text;
  const char* message;
};

TEST(InputsFile, SaysWhatIsWrongAndWhere) {
  const std::string held = "nothing, or any of left right up down jump dash pace x=SHARE y=SHARE";
  const std::string time = "a length of time, more than 0: 30 ticks, 0.25 s or 250 ms";
  const Bad gallery[] = {
      {"", "t:1:1: found no format line, expected the format line \"# bushbaby inputs 1\""},
      {"right for 3 ticks\n",
       "t:1:1: found no format line, expected the format line \"# bushbaby inputs 1\""},
      {"# bushbaby inputs 2\n",
       "t:1:1: found # bushbaby inputs 2, expected the format line \"# bushbaby inputs 1\""},
      {kHead + "rigth for 3 ticks\n", "t:2:1: found rigth, expected HELD; did you mean right?"},
      {kHead + "right  jmp for 3 ticks\n", "t:2:8: found jmp, expected HELD; did you mean jump?"},
      {kHead + "nothing right for 3 ticks\n",
       "t:2:1: found nothing among other words, expected HELD"},
      {kHead + "right\n", "t:2:6: found the end of the line, expected for and a length of time"},
      {kHead + "for 3 ticks\n", "t:2:1: found for, expected HELD"},
      {kHead + "right for\n", "t:2:10: found the end of the line, expected TIME"},
      {kHead + "right for 3\n", "t:2:11: found 3, expected TIME"},
      {kHead + "right for -3 ticks\n", "t:2:11: found -3 ticks, expected TIME"},
      {kHead + "right for nans\n", "t:2:11: found nans, expected TIME"},
      {kHead + "right for 3 ticks and more\n", "t:2:19: found and, expected the end of the line"},
      {kHead + "x=1.5 for 3 ticks\n", "t:2:1: found x=1.5, expected x= and a number from -1 to 1"},
      {kHead + "x=nan for 3 ticks\n", "t:2:1: found x=nan, expected x= and a number from -1 to 1"},
  };
  for (const Bad& bad : gallery) {
    const auto inputs = parse_inputs(bad.text, "t");
    ASSERT_FALSE(inputs) << bad.text;
    std::string message = bad.message;
    if (const auto at = message.find("HELD"); at != std::string::npos) message.replace(at, 4, held);
    if (const auto at = message.find("TIME"); at != std::string::npos) message.replace(at, 4, time);
    EXPECT_EQ(describe(inputs.error().front()), message) << bad.text;
  }
  const auto both = parse_inputs(kHead + "rigth for 3 ticks\nright for x\n", "t");
  ASSERT_FALSE(both);
  EXPECT_EQ(both.error().size(), 2U);
}

}  // namespace
}  // namespace bushbaby
