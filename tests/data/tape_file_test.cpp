// Tapes: reading, writing, and what is wrong with them.
#include "bushbaby/data/tape_file.h"

#include <random>

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace bushbaby {
namespace {

const std::string kHead = "# bushbaby tape 1\n";

TEST(TapeFile, ReadsWhatIsHeldAndForHowLong) {
  const auto tape = parse_tape(kHead +
                                   "# a comment\n\n"
                                   "nothing for 30t\n"
                                   "right jump for 0.25s   # another\r\n"
                                   "x=0.6 y=-1 dash for 250ms\n"
                                   "left right for 1t",
                               "t");
  ASSERT_TRUE(tape) << describe(tape.error().front());
  const std::vector<TapeSpan> expected{{{0, 0, false, false}, {30, Duration::Unit::ticks}},
                                       {{127, 0, true, false}, {0.25}},
                                       {{76, -127, false, true}, {0.25}},
                                       {{0, 0, false, false}, {1, Duration::Unit::ticks}}};
  EXPECT_EQ(tape->spans, expected);
}

RC_GTEST_PROP(TapeFileLaw, WrittenThenReadIsTheSame, (std::uint32_t seed)) {
  std::mt19937_64 random(seed);
  Tape tape;
  for (int i = 0; i < 20; ++i) {
    const auto step = [&random] {
      return static_cast<std::int8_t>(static_cast<int>(random() % 255) - 127);
    };
    const bool ticks = random() % 2 == 0;
    const double amount = ticks ? static_cast<double>(random() % 99 + 1)
                                : static_cast<double>(random() % 9999 + 1) / 1024;
    tape.spans.push_back({{step(), step(), random() % 2 == 0, random() % 2 == 0},
                          {amount, ticks ? Duration::Unit::ticks : Duration::Unit::seconds}});
  }
  const auto read = parse_tape(write_tape(tape), "t");
  RC_ASSERT(read.has_value());
  RC_ASSERT(read->spans == tape.spans);
}

struct Bad {
  std::string text;
  const char* message;
};

TEST(TapeFile, SaysWhatIsWrongAndWhere) {
  const std::string held = "nothing, or any of left right up down jump dash x=SHARE y=SHARE";
  const std::string time = "a length of time, more than 0: 30t (ticks), 0.25s or 250ms";
  const Bad gallery[] = {
      {"", "t:1:1: found no format line, expected the format line \"# bushbaby tape 1\""},
      {"right for 3t\n",
       "t:1:1: found right for 3t, expected the format line \"# bushbaby tape 1\""},
      {"# bushbaby tape 2\n",
       "t:1:1: found # bushbaby tape 2, expected the format line \"# bushbaby tape 1\""},
      {kHead + "rigth for 3t\n", "t:2:1: found rigth, expected HELD; did you mean right?"},
      {kHead + "right  jmp for 3t\n", "t:2:8: found jmp, expected HELD; did you mean jump?"},
      {kHead + "nothing right for 3t\n", "t:2:1: found nothing among other words, expected HELD"},
      {kHead + "right\n", "t:2:6: found the end of the line, expected for and a length of time"},
      {kHead + "for 3t\n", "t:2:1: found for, expected HELD"},
      {kHead + "right for\n", "t:2:10: found the end of the line, expected TIME"},
      {kHead + "right for 3\n", "t:2:11: found 3, expected TIME"},
      {kHead + "right for -3t\n", "t:2:11: found -3t, expected TIME"},
      {kHead + "right for nans\n", "t:2:11: found nans, expected TIME"},
      {kHead + "right for 3t and more\n", "t:2:14: found and, expected the end of the line"},
      {kHead + "x=1.5 for 3t\n", "t:2:1: found x=1.5, expected x= and a number from -1 to 1"},
      {kHead + "x=nan for 3t\n", "t:2:1: found x=nan, expected x= and a number from -1 to 1"},
  };
  for (const Bad& bad : gallery) {
    const auto tape = parse_tape(bad.text, "t");
    ASSERT_FALSE(tape) << bad.text;
    std::string message = bad.message;
    if (const auto at = message.find("HELD"); at != std::string::npos) message.replace(at, 4, held);
    if (const auto at = message.find("TIME"); at != std::string::npos) message.replace(at, 4, time);
    EXPECT_EQ(describe(tape.error().front()), message) << bad.text;
  }
  const auto both = parse_tape(kHead + "rigth for 3t\nright for x\n", "t");
  ASSERT_FALSE(both);
  EXPECT_EQ(both.error().size(), 2U);
}

}  // namespace
}  // namespace bushbaby
