// Traces as CSV, and the generated parts of the documentation.
#include <gtest/gtest.h>

#include "bushbaby/data/files.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/records/trace_csv.h"

namespace bushbaby {
namespace {

TEST(TraceCsv, RowsAreSamplesAndEventsStandInTheRowTheirTickEnded) {
  Trace trace;
  trace.tick_rate = 50;
  trace.samples = {{0, {1, 0.5}, {0, 0}, Stance::ground, true, {}},
                   {1, {1.1, 0.7}, {5, 0.1}, Stance::rise, false, {127, 0, true, false}}};
  trace.events = {{EventKind::left_ground, 0, 3, 0, 0, {1, 0.5}, 0},
                  {EventKind::jumped, 0, 3, 0, 0, {1, 0.5}, 12.5},
                  {EventKind::wall_touched, 1, 4, 0, 0.25, {1.1, 0.6}, 1.0 / 3}};
  EXPECT_EQ(write_trace(trace),
            "tick,time,x,y,vx,vy,stance,grounded,held,events\n"
            "0,0,1,0.5,0,0,ground,1,nothing,\n"
            "1,0.02,1.1,0.7,5,0.1,rise,0,right jump,left_ground:jumped@0 jumped:ground=12.5@0 "
            "wall_touched:right=0.3333333333333333@0.25\n");
}

// The part of a document between its markers.
std::string generated_part(const std::string& name) {
  const auto text = read_file(std::string(BUSHBABY_SOURCE_DIR) + "/docs/" + name);
  if (!text) return "missing: " + name;
  const std::string begin = "<!-- generated: begin -->\n";
  const std::size_t at = text->find(begin);
  const std::size_t end = text->find("<!-- generated: end -->");
  if (at == std::string::npos || end == std::string::npos) return "no markers in " + name;
  return text->substr(at + begin.size(), end - at - begin.size());
}

TEST(Documents, ReferenceOfKnobsIsTheTable) {
  EXPECT_EQ(generated_part("formats.md"), knob_reference()) << "run scripts/refresh-docs";
}

TEST(Documents, ReferenceOfFactsIsTheTable) {
  EXPECT_EQ(generated_part("facts.md"), fact_reference()) << "run scripts/refresh-docs";
}

}  // namespace
}  // namespace bushbaby
