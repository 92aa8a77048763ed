// Conventions: the same character and level, written in px, y down, per tick.
#include "bushbaby/data/convention.h"

#include <cmath>

#include <gtest/gtest.h>

#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

namespace bushbaby {
namespace {

const char* const kMetric = R"(format = "bushbaby-tuning/1"
[loop]
tick_rate = 50
[body]
width = 0.75
height = 1.5
[run]
top_speed = 6.25
ground = { accelerate = 62.5, brake = 78.125, turn = 125 }
[jump]
launch_speed = 15.625
gravity = 39.0625
coyote = "6 ticks"
buffer = 0.1
hang = { below_speed = 1.25, gravity = 0.5 }
[fall]
factor = 1.75
terminal_speed = 25
)";

// 16 px to the unit, 50 ticks to the second: a speed of 1 u/s is 0.32 px/tick, and an acceleration
// of 1 u/s² is 0.0064 px/tick².
const char* const kPixels = R"(format = "bushbaby-tuning/1"
[body]
width = 12
height = 24
[run]
top_speed = 2
ground = { accelerate = 0.4, brake = 0.5, turn = 0.8 }
[jump]
launch_speed = 5
gravity = 0.25
coyote = 6
buffer = "0.1s"
hang = { below_speed = 0.4, gravity = 0.5 }
[fall]
factor = 1.75
terminal_speed = 8
[convention]   # the order of the tables does not matter
one_unit = "16 px"
vertical = "down"
time = "tick"
[loop]
tick_rate = 50
)";

TuningFile parsed(const char* text) {
  auto file = parse_tuning(text, "t");
  if (!file) {
    ADD_FAILURE() << describe(file.error().front());
    return {};
  }
  return *file;
}

TEST(Convention, PixelsPerTickAreTheSameCharacter) {
  const Rules metric = compile(parsed(kMetric).tuning).rules;
  const Rules pixels = compile(parsed(kPixels).tuning).rules;
  const auto same = [](double a, double b) { EXPECT_NEAR(a, b, 1e-12 * (1 + std::abs(b))); };
  same(pixels.body.box.hi.x, metric.body.box.hi.x);
  same(pixels.body.box.hi.y, metric.body.box.hi.y);
  same(pixels.top_speed, metric.top_speed);
  same(pixels.ground.rates.accelerate, metric.ground.rates.accelerate);
  same(pixels.ground.rates.brake, metric.ground.rates.brake);
  same(pixels.ground.rates.turn, metric.ground.rates.turn);
  same(pixels.launch_speed, metric.launch_speed);
  same(pixels.rise_gravity, metric.rise_gravity);
  same(pixels.fall_gravity, metric.fall_gravity);
  same(pixels.terminal_speed, metric.terminal_speed);
  same(pixels.hang.below_speed, metric.hang.below_speed);
  EXPECT_EQ(pixels.coyote_ticks, metric.coyote_ticks);
  EXPECT_EQ(pixels.buffer_ticks, metric.buffer_ticks);
}

TEST(Convention, RewritingStaysInTheConvention) {
  TuningFile file = parsed(kPixels);
  EXPECT_EQ(rewrite_tuning(file, file.tuning), file.text);
  const auto set = parse_tuning(kPixels, "t.toml", {{"run.top_speed=4"}});
  ASSERT_TRUE(set);
  EXPECT_DOUBLE_EQ(set->tuning.run.top_speed, 12.5) << "in px per tick, as in the file";
  Tuning changed = parsed(kPixels).tuning;
  changed.run.top_speed = 12.5;
  changed.jump.buffer = Duration{0.2};
  std::string expected = kPixels;
  expected.replace(expected.find("top_speed = 2"), 13, "top_speed = 4");
  expected.replace(expected.find("\"0.1s\""), 6, "\"10 ticks\"");
  EXPECT_EQ(rewrite_tuning(parsed(kPixels), changed), expected);
}

TEST(Convention, AnotherTickRateKeepsWhatIsWrittenPerTick) {
  const TuningFile file = parsed(kPixels);
  Tuning changed = file.tuning;
  changed.loop.tick_rate = 25;
  const TuningFile rewritten = parsed(rewrite_tuning(file, changed).c_str());
  for (const Knob& knob : knobs()) {
    const KnobValue value = get_knob(rewritten.tuning, knob);
    const KnobValue expected = get_knob(changed, knob);
    if (const auto* number = std::get_if<double>(&expected)) {
      EXPECT_NEAR(std::get<double>(value), *number, 1e-12 * std::abs(*number)) << knob.key;
    } else {
      EXPECT_EQ(value, expected) << knob.key;
    }
  }
}

TEST(Convention, LevelsTurnWithIt) {
  const auto level = parse_level(
      "format = \"bushbaby-level/1\"\nstart = [32, -16]\n[convention]\none_unit = \"16 px\"\n"
      "vertical = \"down\"\n[[solid]]\nbox = [0, 48, 160, 16]\n",
      "c");
  ASSERT_TRUE(level) << describe(level.error().front());
  EXPECT_EQ(level->start, (Vec{2, 1}));
  EXPECT_EQ(level->solids[0].box, (Box{{0, -3}, {10, -1}}));
}

TEST(Convention, ThereAndBack) {
  const auto convention = parse_convention("one_unit=16 px, vertical=down, time=tick", "here");
  ASSERT_TRUE(convention);
  const Vec place{3, -7};
  const Vec written = to_convention(*convention, place, Dimension::length, 60);
  EXPECT_EQ(written, (Vec{48, 112}));
  EXPECT_EQ(from_convention(*convention, written, Dimension::length, 60), place);
  EXPECT_DOUBLE_EQ(to_convention(*convention, Vec{60, 0}, Dimension::speed, 60).x, 16);
  EXPECT_EQ(unit_in(*convention, Dimension::acceleration), "px/tick²");
  EXPECT_TRUE(parse_convention("", "here")->is_default());
}

struct Bad {
  const char* text;
  const char* message;
};

// The name of a length stands in headings of CSV, in pictures and beside numbers: none but letters.
TEST(Convention, NamesOfLengthsAreNamesAndNothingElse) {
  for (const char* name : {"px", "tiles", "Bl\u00f6cke", "m"}) EXPECT_TRUE(is_length_name(name));
  for (const char* name : {"", "a,b", "a b", "px\nx", "\"px", "px/s", "16", "s", "tick", "ticks",
                           "ms", "=1+1", "x(1)", "\x1b[31m", "a name that is far too long"}) {
    EXPECT_FALSE(is_length_name(name)) << name;
    EXPECT_FALSE(parse_convention(std::string("one_unit=16 ") + name, "x")) << name;
  }
  EXPECT_FALSE(parse_convention("one_unit=16 u", "x")) << "that name is taken";
  EXPECT_FALSE(parse_convention("one_unit=1e300 px", "x"));
  EXPECT_TRUE(parse_convention("one_unit=1 u", "x"));
}

TEST(Convention, SaysWhatIsWrong) {
  const Bad gallery[] = {
      {"one_unit=16",
       "x: one_unit: found 16, expected a number from 1e-6 to 1e6 and a name of letters, such as "
       "\"16 "
       "px\""},
      {"one_unit=0 px",
       "x: one_unit: found 0 px, expected a number from 1e-6 to 1e6 and a name of letters, such as "
       "\"16 px\""},
      {"vertical=sideways", "x: vertical: found sideways, expected \"up\" or \"down\""},
      {"tine=tick",
       "x: found tine=tick, expected one_unit=NUMBER NAME, vertical=up|down or "
       "time=second|tick; did you mean time?"},
  };
  for (const Bad& bad : gallery) {
    const auto convention = parse_convention(bad.text, "x");
    ASSERT_FALSE(convention) << bad.text;
    EXPECT_EQ(describe(convention.error().front()), bad.message);
  }
  const auto file =
      parse_tuning("format = \"bushbaby-tuning/1\"\n[convention]\none_unit = 16\n", "t");
  ASSERT_FALSE(file);
  EXPECT_EQ(describe(file.error().front()),
            "t:3:12: convention.one_unit: found 16, expected a number from 1e-6 to 1e6 and a name "
            "of letters, such as "
            "\"16 px\"");
}

}  // namespace
}  // namespace bushbaby
