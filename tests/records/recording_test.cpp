// Recordings: reading them in whatever numbers they are, and what is wrong with them.
#include <gtest/gtest.h>

#include "bushbaby/records/recording_csv.h"
#include "bushbaby/records/trace_csv.h"

namespace bushbaby {
namespace {

Result<RecordingFile> read(const std::string& text, const RecordingOptions& options = {}) {
  return parse_recording(text, "log.csv", options);
}

Units pixels(double tick_rate) {
  return {*parse_convention("one_unit=16 px, vertical=down, time=tick", "--units"), tick_rate};
}

TEST(Recording, ReadsUnitsOfHeadings) {
  const auto file = read(
      "colour,time ms,x px,y px down,vx px/s,vy px/s down,grounded,jump,left,right\n"
      "red,0,32,0,16,0,1,0,0,0\n"
      "red,20,,5,0,0,0,0,0,0\n"
      "red,25,48,nan,0,0,0,0,0,0\n"
      "red,30,48,-48,16,-160,false,true,1,0\n");
  ASSERT_TRUE(file) << describe(file.error().front());
  const Recording& recording = file->recording;
  ASSERT_EQ(recording.points.size(), 2U);
  EXPECT_EQ(file->left_out, 2U);
  EXPECT_TRUE(file->scale_is_guessed);
  EXPECT_EQ(file->units.convention.lengths_per_unit, 16);
  EXPECT_EQ(file->units.convention.length_name, "px");
  EXPECT_TRUE(recording.has_speeds && recording.has_ground && recording.has_jump &&
              recording.has_run);
  const RecordedPoint& last = recording.points.back();
  EXPECT_EQ(last.time, 0.03);
  EXPECT_EQ(last.feet, (Vec{3, 3}));
  EXPECT_EQ(last.velocity, (Vec{1, 10}));
  EXPECT_FALSE(last.grounded);
  EXPECT_TRUE(last.jump);
  EXPECT_EQ(last.run, -1);
}

TEST(Recording, ReadsTheNumbersOfAConvention) {
  RecordingOptions options;
  options.units = pixels(50);
  options.tick_rate = 50;
  const auto file = read("tick,x,y,vy,held\n0,0,0,0,nothing\n5,8,-16,-2,left jump\n", options);
  ASSERT_TRUE(file) << describe(file.error().front());
  EXPECT_FALSE(file->scale_is_guessed);
  const RecordedPoint& last = file->recording.points.back();
  EXPECT_EQ(last.time, 0.1);
  EXPECT_EQ(last.feet, (Vec{0.5, 1}));
  EXPECT_EQ(last.velocity.y, 2 * 50 / 16.0);
  EXPECT_TRUE(last.jump);
  EXPECT_EQ(last.run, -1);
  // Lengths of the world beside it, and times in ticks.
  const auto other = read("time ticks,x u,y u\n0,0,0\n5,1,-2\n", options);
  ASSERT_TRUE(other) << describe(other.error().front());
  EXPECT_EQ(other->recording.points.back().time, 0.1);
  EXPECT_EQ(other->recording.points.back().feet, (Vec{1, 2}));
}

TEST(Recording, ATraceIsOne) {
  Trace trace;
  trace.tick_rate = 50;
  for (int i = 0; i < 4; ++i) {
    Sample sample;
    sample.tick = i;
    sample.feet = {0.1 * i, 0.2 * i};
    sample.velocity = {5, 10};
    sample.held.jump = i == 2;
    trace.samples.push_back(sample);
  }
  const auto file = read(write_trace(trace));
  ASSERT_TRUE(file) << describe(file.error().front());
  ASSERT_EQ(file->recording.points.size(), 4U);
  for (std::size_t i = 0; i < 4; ++i) {
    EXPECT_EQ(file->recording.points[i].feet, trace.samples[i].feet);
    EXPECT_EQ(file->recording.points[i].velocity, trace.samples[i].velocity);
    EXPECT_EQ(file->recording.points[i].jump, i == 2);
  }
}

TEST(Recording, PinsTurnPlacesIntoTimesAndLengths) {
  RecordingOptions options;
  for (const char* pin : {"x 100 = 0 s", "x 300px = 500 ms", "y 400=0u", "y 200 = 32 px"}) {
    const auto read_pin = parse_pin(pin, pixels(60));
    ASSERT_TRUE(read_pin) << pin;
    options.pins.push_back(*read_pin);
  }
  const auto file = read("x px,y px down\n100,400\n200,300\n300,200\n", options);
  ASSERT_TRUE(file) << describe(file.error().front());
  EXPECT_DOUBLE_EQ(file->recording.points[1].time, 0.25);
  EXPECT_DOUBLE_EQ(file->recording.points[1].feet.y, 1);
  EXPECT_DOUBLE_EQ(file->recording.points[2].feet.y, 2);
  // A way across, at a speed.
  options.pins[0] = *parse_pin("x 100 = 0 u", {});
  options.pins[1] = *parse_pin("x 300 = 7 u", {});
  options.speed = 14;
  const auto way = read("x,y\n100,400\n300,200\n", options);
  ASSERT_TRUE(way) << describe(way.error().front());
  EXPECT_DOUBLE_EQ(way->recording.points[1].time, 0.5);
  EXPECT_DOUBLE_EQ(way->recording.points[1].feet.x, 7);
}

TEST(Recording, SaysWhatIsWrongAndWhere) {
  const struct {
    const char* text;
    const char* message;
  } gallery[] = {
      {"", "found an empty file"},
      {"x,y\n0,0\n1,1\n", "log.csv:1: found no column time or tick"},
      {"time,x\n0,0\n1,1\n", "log.csv:1: found no columns x and y"},
      {"timee,x,y\n0,0,0\n", "timee is the nearest"},
      {"tick,x,y\n0,0,0\n1,0,1\n", "or how long a tick is: --tick-rate"},
      {"time ticks,x,y\n0,0,0\n1,0,1\n", "time: found ticks, expected s or ms, or --tick-rate"},
      {"time h,x,y\n0,0,0\n1,0,1\n", "time: found h, expected s, ms or ticks"},
      {"time,x px,y u\n0,0,0\n1,0,1\n", "y: found u, expected the length of x"},
      {"time,x,y,vy m/s\n0,0,0,0\n1,0,1,0\n", "vy: found m/s, expected u/s or u/tick"},
      {"time,x,y\n0,0,0\n", "found 1 rows with a place, expected at least 2"},
      {"time,x,y\n0,0,0\n0,0,1\n", "log.csv:3: time: found 0, expected later than the row above"},
      {"time,x,y\n0,0,0\n1,inf,1\n", "x: found inf, expected a number of no more than 1e12"},
      {"time,x,y\n0,0,0\n1,2e99,1\n", "expected a number of no more than 1e12"},
      {"time,x,y,grounded\n0,0,0,yes\n1,0,1,1\n", "grounded: found yes, expected a number"},
      {"time,x,y,held\n0,0,0,jumping\n1,0,1,jump\n", "held: found jumping, expected what is held"},
      {"time,x,y\n0,0\n", "log.csv:2: found 2 fields, expected 3"},
  };
  for (const auto& c : gallery) {
    const auto file = read(c.text);
    ASSERT_FALSE(file) << c.text;
    std::string all;
    for (const Problem& problem : file.error()) all += describe(problem) + "\n";
    EXPECT_NE(all.find(c.message), std::string::npos) << c.text << all;
  }
  // Pins so near to one another that places lie beyond all numbers.
  RecordingOptions options;
  for (const char* pin : {"x 0 = 0 s", "x 1 = 1 s", "y 0 = 0 u", "y 1e-300 = 1e300 u"}) {
    options.pins.push_back(*parse_pin(pin, {}));
  }
  EXPECT_FALSE(read("x,y\n0,1\n1,2\n", options));
  for (const char* pin :
       {"", "x", "x 1", "x = 1 s", "y 1 = 1 s", "q 1 = 1 s", "x nan = 1 s", "x 1 = 1e400 s"}) {
    EXPECT_FALSE(parse_pin(pin, {})) << pin;
  }
}

}  // namespace
}  // namespace bushbaby
