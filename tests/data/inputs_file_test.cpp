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

TEST(InputsFile, ReadsWhatIsWaitedFor) {
  Units pixels;
  pixels.convention = {16, "px", true, false};
  const auto inputs = parse_inputs(kHead +
                                       "right until landed\n"
                                       "right jump until falling within 250 ms\n"
                                       "right until 3 ticks before edge\n"
                                       "right until 0.1s after wall within 90 ticks\n"
                                       "right until x 32\n"
                                       "left until 2 ticks before x -1.5 u within 3 s\n"
                                       "up until y -48 px\n",
                                   "t", pixels);
  ASSERT_TRUE(inputs) << describe(inputs.error().front());
  constexpr auto kTicks = Duration::Unit::ticks;
  const Wait expected[] = {
      {Cue::landed, 0, {0, kTicks}, {10}}, {Cue::falling, 0, {0, kTicks}, {0.25}},
      {Cue::edge, 0, {-3, kTicks}, {10}},  {Cue::wall, 0, {0.1}, {90, kTicks}},
      {Cue::x, 2, {0, kTicks}, {10}},      {Cue::x, -1.5, {-2, kTicks}, {3}},
      {Cue::y, 3, {0, kTicks}, {10}}};
  ASSERT_EQ(inputs->spans.size(), std::size(expected));
  for (std::size_t i = 0; i < std::size(expected); ++i) {
    EXPECT_EQ(inputs->spans[i].until, expected[i]) << i;
    EXPECT_EQ(inputs->spans[i].line, static_cast<int>(i) + 2);
  }
  EXPECT_EQ(wait_text(expected[5], pixels), "2 ticks before x -24 px");
  EXPECT_EQ(parse_inputs(write_inputs(*inputs, pixels), "t", pixels)->spans, inputs->spans);
}

TEST(InputsFile, WritesLoopsOut) {
  const auto loops = parse_inputs(kHead +
                                      "repeat 2 times\n  right for 1 ticks\n  repeat 3 times\n"
                                      "    jump for 2 ticks\n  end\nend\nleft for 9 ticks\n",
                                  "t");
  const auto flat = parse_inputs(kHead +
                                     "right for 1 ticks\njump for 2 ticks\njump for 2 ticks\n"
                                     "jump for 2 ticks\nright for 1 ticks\njump for 2 ticks\n"
                                     "jump for 2 ticks\njump for 2 ticks\nleft for 9 ticks\n",
                                 "t");
  ASSERT_TRUE(loops && flat);
  EXPECT_EQ(loops->spans, flat->spans);
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
    const Duration lasts{amount, ticks ? Duration::Unit::ticks : Duration::Unit::seconds};
    inputs.spans.push_back(
        {{step(), step(), random() % 2 == 0, random() % 2 == 0, random() % 2 == 0}, lasts});
    if (random() % 2 == 0) continue;
    Wait wait{static_cast<Cue>(random() % 8), 0, {0, Duration::Unit::ticks}, lasts};
    if (wait.cue >= Cue::x) wait.place = static_cast<double>(random() % 9999) / 7 - 500;
    if (random() % 2 == 0) wait.shift = {(random() % 2 == 0 ? -1 : 1) * amount, lasts.unit};
    inputs.spans.back().until = wait;
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
  const std::string held = "nothing, or any of left right up down jump dash sprint x=SHARE y=SHARE";
  const std::string time = "a length of time, more than 0: 30 ticks, 0.25 s or 250 ms";
  const std::string cue =
      "a moment: landed, airborne, falling, wall, edge, still, x PLACE or y PLACE";
  const std::string span = "for and a length of time, or until and a moment";
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
      {kHead + "right\n", "t:2:6: found the end of the line, expected SPAN"},
      {kHead + "for 3 ticks\n", "t:2:1: found for, expected HELD"},
      {kHead + "right for\n", "t:2:10: found the end of the line, expected TIME"},
      {kHead + "right for 3\n", "t:2:11: found 3, expected TIME"},
      {kHead + "right for -3 ticks\n", "t:2:11: found -3 ticks, expected TIME"},
      {kHead + "right for nans\n", "t:2:11: found nans, expected TIME"},
      {kHead + "right for 3 ticks and more\n", "t:2:19: found and, expected the end of the line"},
      {kHead + "x=1.5 for 3 ticks\n", "t:2:1: found x=1.5, expected x= and a number from -1 to 1"},
      {kHead + "right until\n", "t:2:12: found the end of the line, expected CUE"},
      {kHead + "right until lnded\n", "t:2:13: found lnded, expected CUE; did you mean landed?"},
      {kHead + "right until 3 ticks edge\n", "t:2:21: found edge, expected before or after"},
      {kHead + "right until 3 edge\n", "t:2:13: found 3 edge, expected TIME"},
      {kHead + "right until x\n",
       "t:2:14: found the end of the line, expected a length: a number (in u) or \"3.25 u\""},
      {kHead + "right until x 1e300\n",
       "t:2:15: found 1e300, expected a length: a number (in u) or \"3.25 u\""},
      {kHead + "right until edge within\n", "t:2:24: found the end of the line, expected TIME"},
      {kHead + "right until edge now\n",
       "t:2:18: found now, expected within and a length of time, or the end of the line"},
      {kHead + "repeat 3\nend\n", "t:2:9: found the end of the line, expected times"},
      {kHead + "repeat 0 times\nend\n",
       "t:2:8: found 0, expected how often: a whole number from 1 to 10000, and times"},
      {kHead + "repeat 2 times\nright for 3 ticks\n",
       "t:2:1: found repeat without an end, expected a line that says end"},
      {kHead + "end\n", "t:2:1: found end without a repeat, expected repeat N times before it"},
      {kHead + "repeat 9000 times\nrepeat 9000 times\nright for 3 ticks\nend\nend\n",
       "t:2:1: found a loop with which there are 81000000 spans, expected at most 100000"},
      {kHead + "x=nan for 3 ticks\n", "t:2:1: found x=nan, expected x= and a number from -1 to 1"},
  };
  for (const Bad& bad : gallery) {
    const auto inputs = parse_inputs(bad.text, "t");
    ASSERT_FALSE(inputs) << bad.text;
    std::string message = bad.message;
    for (const auto& [name, words] :
         {std::pair("HELD", held), {"TIME", time}, {"CUE", cue}, {"SPAN", span}}) {
      const auto at = message.find(name);
      if (at != std::string::npos) message.replace(at, std::string(name).size(), words);
    }
    EXPECT_EQ(describe(inputs.error().front()), message) << bad.text;
  }
  const auto both = parse_inputs(kHead + "rigth for 3 ticks\nright for x\n", "t");
  ASSERT_FALSE(both);
  EXPECT_EQ(both.error().size(), 2U);
}

}  // namespace
}  // namespace bushbaby
