// Traces as CSV, and the generated parts of the documentation.
#include <gtest/gtest.h>

#include "bushbaby/data/files.h"
#include "bushbaby/records/answer_reports.h"
#include "bushbaby/records/catalogue.h"
#include "bushbaby/records/trace_csv.h"

namespace bushbaby {
namespace {

TEST(TraceCsv, RowsAreSamplesAndEventsStandInTheRowTheirTickEnded) {
  Trace trace;
  trace.tick_rate = 50;
  trace.samples = {{0, {1, 0.5}, {0, 0}, Stance::standing, true, {}},
                   {1, {1.1, 0.7}, {5, 0.1}, Stance::rising, false, {127, 0, true, false}}};
  trace.events = {{EventKind::left_ground, 0, 3, 1, 0, {1, 0.5}, 0},
                  {EventKind::jumped, 0, 3, 1, 0, {1, 0.5}, 12.5},
                  {EventKind::wall_touched, 1, 4, 1, 0.25, {1.1, 0.6}, 1.0 / 3}};
  EXPECT_EQ(write_trace(trace),
            "tick,time s,x u,y u,vx u/s,vy u/s,stance,grounded,held,events\n"
            "0,0,1,0.5,0,0,standing,1,nothing,\n"
            "1,0.02,1.1,0.7,5,0.1,rising,0,right jump,left_ground:jumped@0 jumped:ground=12.5@0 "
            "wall_touched:right=0.3333333333333333@0.25:1.1;0.6\n");
}

// Written and read again, a trace of the whole moveset is the same to the last bit.
TEST(TraceCsv, WrittenThenReadIsTheSame) {
  Trace trace;
  trace.tick_rate = 60;
  for (int i = 0; i < 40; ++i) {
    Sample sample;
    sample.tick = i;
    sample.feet = {1.0 / (i + 3), -2.5 * i};
    sample.velocity = {0.1 * i, 1e-17 * i};
    sample.stance = static_cast<Stance>(i % 6);
    sample.grounded = i % 3 == 0;
    if (i > 0) sample.held = {static_cast<std::int8_t>(3 * i), -127, i % 2 == 0, i % 5 == 0};
    trace.samples.push_back(sample);
  }
  for (const EventMeaning& meaning : event_meanings()) {
    const auto kind = static_cast<int>(meaning.kind);
    for (std::uint8_t detail = 0; detail < kEventDetails; ++detail) {
      if (detail > 0 && meaning.words[detail].empty()) continue;
      const Vec place = trace.samples[static_cast<std::size_t>(kind) + 1].feet;
      trace.events.push_back(
          {meaning.kind, detail, kNoSurface, kind + 1, 0.1 * detail, place, 1.0 / 3});
    }
  }
  const auto again = parse_trace(write_trace(trace), "t");
  ASSERT_TRUE(again) << describe(again.error().front());
  EXPECT_EQ(write_trace(again->trace), write_trace(trace));
  EXPECT_EQ(hash_of(again->trace), hash_of(trace));
  // Where an event says no place, it is so far on the straight way of its tick.
  const auto way =
      parse_trace("tick,x,y,events\n0,1,2,\n1,3,6,apex@0 apex@0.25 apex@1 apex@0.25:7;-8\n", "t");
  ASSERT_TRUE(way) << describe(way.error().front());
  const Vec places[] = {{1, 2}, {1.5, 3}, {3, 6}, {7, -8}};
  for (std::size_t i = 0; i < std::size(places); ++i) {
    EXPECT_EQ(way->trace.events[i].place, places[i]) << i;
  }
}

TEST(TraceCsv, ReadsWhatAnotherSourceCanGive) {
  const auto file = parse_trace("time,x,y\n0,0,0\n0.02,0.1,0.2\n0.04,0.3,0.2\n", "t");
  ASSERT_TRUE(file) << describe(file.error().front());
  const Trace* trace = &file->trace;
  EXPECT_EQ(trace->tick_rate, 50);
  EXPECT_NEAR(trace->samples[1].velocity.y, 10, 1e-12);
  EXPECT_EQ(trace->samples[2].tick, 2);
}

TEST(TraceCsv, SaysWhatIsWrongAndWhere) {
  const struct {
    const char* text;
    const char* message;
  } gallery[] = {
      {"", "t:1: found an empty file, expected a header with tick or time (s), x and y"},
      {"x,y\n0,0\n1,1\n",
       "t:1: found no column tick or time, expected a header with tick or time (s), x and y"},
      {"tick,x =1+1,y\n0,0,0\n1,0,0\n",
       "t:1: x: found =1+1, expected the name of a length, such as px"},
      {"tick,x px,y u\n0,0,0\n1,0,0\n", "t:1: y: found u, expected px"},
      {"tick,x,y\n0,0,0\n", "t:2: found 1 rows, expected at least 2 rows of numbers"},
      {"tick,x,y\n0,0,0\n1,0\n", "t:3: found 2 fields, expected 3, as in the header"},
      {"tick,x,y\n0,0,0\n1,one,0\n", "t:3: x: found one, expected a finite number"},
      {"tick,x,y,stance\n0,0,0,flies\n1,0,0,rise\n",
       "t:2: stance: found flies, expected one of standing, rising, falling, wall_sliding, "
       "clinging, climbing, gliding, dashing, swimming"},
      {"tick,x,y,held\n0,0,0,rihgt\n1,0,0,right\n",
       "t:2: held: found rihgt, expected what is held, as in inputs"},
      {"tick,x,y,events\n0,0,0,\n1,0,0,apex@0:1\n",
       "t:3: events: found apex@0:1, expected an event of a trace, such as landed=18.2@0.63"},
      {"tick,x,y,events\n0,0,0,\n1,0,0,apex@0:1;inf\n",
       "t:3: events: found apex@0:1;inf, expected an event of a trace, such as landed=18.2@0.63"},
      {"tick,x,y,events\n0,0,0,\n1,0,0,hopped@0\n",
       "t:3: events: found hopped@0, expected an event of a trace, such as landed=18.2@0.63"},
  };
  for (const auto& bad : gallery) {
    const auto trace = parse_trace(bad.text, "t");
    ASSERT_FALSE(trace) << bad.text;
    EXPECT_EQ(describe(trace.error().front()), bad.message);
  }
}

// The part of a document between the markers of one reference.
std::string generated_part(const std::string& name, const std::string& what) {
  const auto text = read_file(std::string(BUSHBABY_SOURCE_DIR) + "/docs/" + name);
  if (!text) return "missing: " + name;
  const std::string begin = "<!-- generated: " + what + " -->\n";
  const std::size_t at = text->find(begin);
  const std::size_t end = text->find("<!-- generated: end -->", at);
  if (at == std::string::npos || end == std::string::npos) return "no markers in " + name;
  return text->substr(at + begin.size(), end - at - begin.size());
}

TEST(Documents, ReferencesAreTheTables) {
  EXPECT_EQ(generated_part("formats.md", "knobs"), knob_reference()) << "run scripts/refresh-docs";
  EXPECT_EQ(generated_part("formats.md", "events"), event_reference())
      << "run scripts/refresh-docs";
  EXPECT_EQ(generated_part("facts.md", "facts"), fact_reference()) << "run scripts/refresh-docs";
  EXPECT_EQ(generated_part("complaints.md", "complaints"), complaint_reference())
      << "run scripts/refresh-docs";
}

}  // namespace
}  // namespace bushbaby
