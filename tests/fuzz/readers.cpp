// Any bytes, given to every reader: each says what is wrong, and nothing breaks.
#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

#include "bushbaby/data/convention.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/export_table.h"
#include "bushbaby/records/recording_csv.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/records/trace_csv.h"

namespace {

// A refusal says something, and where.
template <class T>
void expect_sense(const bushbaby::Result<T>& result) {
  if (result) return;
  if (result.error().empty()) __builtin_trap();
  for (const bushbaby::Problem& problem : result.error()) {
    if (describe(problem).empty() || problem.line < 0 || problem.column < 0) __builtin_trap();
  }
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string text(reinterpret_cast<const char*>(data), size);
  const std::string path = "/nowhere/t";
  const auto tuning = bushbaby::parse_tuning(text, path);
  expect_sense(tuning);
  if (tuning) expect_sense(bushbaby::check_tuning(*tuning));
  for (const auto& level :
       {bushbaby::parse_level(text, path), bushbaby::parse_level_drawing(text, path)}) {
    expect_sense(level);
    if (!level) continue;
    const bushbaby::LevelWorld world(*level, bushbaby::kNothingTravels);
    (void)bushbaby::overlap(world, bushbaby::Box{{-0.5, 0}, {0.5, 1}}, level->start, 0);
  }
  expect_sense(bushbaby::parse_targets(text, path));
  expect_sense(bushbaby::parse_curve(text, path));
  expect_sense(bushbaby::parse_trace(text, path));
  bushbaby::RecordingOptions options;
  options.tick_rate = 60;
  if (const auto recorded = bushbaby::parse_recording(text, path, options)) {
    if (recorded->recording.points.size() < 2) __builtin_trap();
  } else {
    expect_sense(recorded);
  }
  expect_sense(bushbaby::parse_pin(text, {}));
  expect_sense(bushbaby::parse_convention(text, path));
  expect_sense(bushbaby::parse_export(text, path));
  const auto inputs = bushbaby::parse_inputs(text, path);
  expect_sense(inputs);
  if (inputs) {
    const auto again = bushbaby::parse_inputs(bushbaby::write_inputs(*inputs), path);
    if (!again || again->spans != inputs->spans) __builtin_trap();
    if (!bushbaby::has_waits(*inputs) &&
        bushbaby::ticks_in(*inputs, 60) <= bushbaby::kMostRunTicks) {
      (void)bushbaby::controls_of(*inputs, 60);
    }
  }
  (void)bushbaby::parse_duration(text);
  (void)bushbaby::parse_number(text);
  (void)bushbaby::parse_quantity(text, bushbaby::Dimension::speed, {});
  expect_sense(bushbaby::parse_tuning("format = \"bushbaby-tuning/1\"\n", path, {text}));
  return 0;
}
