// Quantities with and without units, in every convention.
#include "bushbaby/data/units.h"

#include <cmath>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

namespace bushbaby {
namespace {

using D = Dimension;

const Units kPixels{{16, "px", true, true}, 60};
const Units kWorld;

TEST(Quantities, AreReadWithAnyUnitOfTheirKind) {
  const struct {
    const char* text;
    D dimension;
    const Units& units;
    double meant;
  } table[] = {
      {"3.25", D::length, kWorld, 3.25},
      {"3.25 u", D::length, kWorld, 3.25},
      {"3.25u", D::length, kPixels, 3.25},
      {"52", D::length, kPixels, 3.25},
      {" 52 px ", D::length, kPixels, 3.25},
      {"-52px", D::length, kPixels, -3.25},
      {"5.2e1 px", D::length, kPixels, 3.25},
      {"3.25 tiles", D::length, kPixels, 3.25},
      {"1 tile", D::length, kWorld, 1},
      {"7.5 tiles/s", D::speed, kPixels, 7.5},
      {"7.5 u/s", D::speed, kPixels, 7.5},
      {"2 px/tick", D::speed, kPixels, 7.5},
      {"120 px/s", D::speed, kPixels, 7.5},
      {"0.12 px / ms", D::speed, kPixels, 7.5},
      {"0.125 u/tick", D::speed, kWorld, 7.5},
      {"0.2 px/tick²", D::acceleration, kPixels, 45},
      {"0.2 px/tick2", D::acceleration, kPixels, 45},
      {"0.2 px/tick^2", D::acceleration, kPixels, 45},
      {"45 u/s²", D::acceleration, kPixels, 45},
      {"22", D::time, kWorld, 22},
      {"24", D::time, kPixels, 0.4},
      {"24 ticks", D::time, kWorld, 0.4},
      {"1 tick", D::time, kWorld, 1.0 / 60},
      {"400 ms", D::time, kPixels, 0.4},
      {"0.4s", D::time, kPixels, 0.4},
      {"60 Hz", D::frequency, kPixels, 60},
      {"45 degrees", D::angle, kPixels, 45},
      {"45°", D::angle, kPixels, 45},
      {"0.5", D::ratio, kPixels, 0.5},
  };
  for (const auto& row : table) {
    const auto read = parse_quantity(row.text, row.dimension, row.units);
    ASSERT_TRUE(read) << row.text;
    EXPECT_NEAR(*read, row.meant, 1e-12 * std::abs(row.meant)) << row.text;
  }
}

TEST(Quantities, OfAnotherKindOrNoneAreRefused) {
  const std::pair<const char*, D> gallery[] = {
      {"", D::length},         {"px", D::length},        {"52 px/tick", D::length},
      {"52 s", D::length},     {"52 pixels", D::length}, {"52 px px", D::length},
      {"fifty px", D::length}, {"2 px", D::speed},       {"2 px/tick²", D::speed},
      {"2 px/px", D::speed},   {"2 tick/px", D::speed},  {"2/tick", D::speed},
      {"4 px", D::time},       {"4 Hz", D::time},        {"0.5 px", D::ratio},
      {"1,5 px", D::length},   {"²", D::acceleration},   {"2 u/s³", D::acceleration},
  };
  for (const auto& [text, dimension] : gallery) {
    EXPECT_FALSE(parse_quantity(text, dimension, kPixels)) << text;
  }
  EXPECT_FALSE(parse_quantity("52 px", D::length, kWorld)) << "whose pixels?";
}

// What is reported reads back as what was meant, in every convention.
TEST(Quantities, ReportedThenReadAreTheSame) {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> any(-1000, 1000);
  for (const double per_unit : {1.0, 10.0, 16.0, 37.5}) {
    for (const bool per_tick : {false, true}) {
      const Units units{{per_unit, per_unit == 1 ? "u" : "px", true, per_tick}, 50};
      for (const D dimension : {D::length, D::time, D::speed, D::acceleration}) {
        for (int i = 0; i < 200; ++i) {
          const double meant = any(random);
          const std::string text = units.text(dimension, meant, 17);
          const auto read = parse_quantity(text, dimension, units);
          ASSERT_TRUE(read) << text;
          EXPECT_NEAR(*read, meant, 1e-12 * std::abs(meant)) << text;
          EXPECT_NEAR(units.meant(dimension, units.shown(dimension, meant)), meant,
                      1e-12 * std::abs(meant));
        }
      }
    }
  }
}

// A knob's value as it is written reads back, short where that is possible.
TEST(Quantities, KnobsAreWrittenAsShortAsTheirBitsAllow) {
  Tuning tuning;
  tuning.name = "Pip";  // which belongs to no section, in whatever convention
  tuning.jump.height = 3;
  tuning.jump.apex_time = Duration{0.4};
  std::mt19937 random(11);
  std::uniform_real_distribution<double> any(0.1, 100);
  for (int i = 0; i < 300; ++i) {
    tuning.run.top_speed = i == 0 ? 7 : any(random);
    tuning.run.ground.brake = i == 0 ? 80 : any(random);
    const Convention convention{i % 2 == 0 ? 16.0 : 10.0, "px", true, i % 3 != 0};
    const auto again = parse_tuning(write_tuning(tuning, convention), "t");
    ASSERT_TRUE(again) << describe(again.error().front());
    EXPECT_EQ(again->tuning.name, "Pip");
    // Not every number has one in the convention that means it to the last bit.
    EXPECT_DOUBLE_EQ(again->tuning.run.top_speed, tuning.run.top_speed) << i;
    EXPECT_DOUBLE_EQ(again->tuning.run.ground.brake, tuning.run.ground.brake) << i;
    EXPECT_TRUE(i > 0 || again->tuning.run.top_speed == 7);
    EXPECT_TRUE(i > 0 || again->tuning.run.ground.brake == 80);
  }
  tuning.run.top_speed = 0.7;
  EXPECT_NE(write_tuning(tuning, {10, "px", false, false}).find("top_speed = 7\n"),
            std::string::npos);
}

TEST(Quantities, OfLevelsMayHaveUnits) {
  const auto level = parse_level(
      "format = \"bushbaby-level/1\"\nconvention = { one_unit = \"16 px\", vertical = \"down\" }\n"
      "start = [\"2 u\", \"-16 px\"]\n[[solid]]\nbox = [0, \"1 u\", 320, 0]\n"
      "surface = { conveyor = \"1.5 u/s\" }\ntouch = { stun = \"250 ms\" }\n",
      "t");
  ASSERT_TRUE(level) << describe(level.error().front());
  EXPECT_EQ(level->start, (Vec{2, 1}));
  EXPECT_EQ(level->solids[0].box, (Box{{0, -1}, {20, 0}}));
  EXPECT_EQ(level->solids[0].traits.conveyor, 1.5);
  EXPECT_EQ(level->solids[0].traits.touch.stun, 0.25);
  const auto ticks = parse_level(
      "format = \"bushbaby-level/1\"\nstart = [0, 0]\n[[solid]]\nbox = [0, -1, 1, 0]\n"
      "surface = { conveyor = \"2 u/tick\" }\n",
      "t");
  EXPECT_FALSE(ticks) << "a level has no ticks";
}

TEST(Phrases, AreReportedInEitherUnits) {
  const Phrase phrase = Phrase("a jump of ") + Quantity{3.25, D::length} + " at " +
                        Quantity{7.123456789, D::speed, true} + ", in " + Phrase(D::time);
  EXPECT_EQ(describe(phrase), "a jump of 3.25 u at 7.12346 u/s, in s");
  EXPECT_EQ(describe(phrase, kPixels), "a jump of 52 px at 1.89959 px/tick, in ticks");
}

}  // namespace
}  // namespace bushbaby
