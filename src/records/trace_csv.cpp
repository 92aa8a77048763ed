#include "bushbaby/records/trace_csv.h"

#include <iterator>

#include <fmt/format.h>

#include "bushbaby/data/tape_file.h"

namespace bushbaby {

std::string event_text(const Event& event) {
  std::string text(name_of(event.kind));
  if (const std::string_view detail = detail_of(event); !detail.empty()) {
    text += fmt::format(":{}", detail);
  }
  if (event.value != 0) text += fmt::format("={}", event.value);
  return text + fmt::format("@{}", event.fraction);
}

std::string write_trace(const Trace& trace, const Convention& convention) {
  fmt::memory_buffer out;
  const auto to = std::back_inserter(out);
  fmt::format_to(to, "{}\n", kTraceHeader);
  auto event = trace.events.begin();
  const double rate = trace.tick_rate;
  const double time_factor = factor_of(convention, Dimension::time, rate);
  const double speed_factor = factor_of(convention, Dimension::speed, rate);
  for (const Sample& sample : trace.samples) {
    const Vec feet = to_convention(convention, sample.feet, Dimension::length, rate);
    const Vec velocity = to_convention(convention, sample.velocity, Dimension::speed, rate);
    fmt::format_to(to, "{},{},{},{},{},{},{},{},{},", sample.tick,
                   trace.time_of(sample) / time_factor, feet.x, feet.y, velocity.x, velocity.y,
                   name_of(sample.stance), sample.grounded ? 1 : 0, held_text(sample.held));
    // Events of the tick before a sample belong to its row.
    bool first = true;
    for (; event != trace.events.end() && event->tick < sample.tick; ++event) {
      Event shown = *event;
      shown.value = shown.value / speed_factor;
      fmt::format_to(to, "{}{}", first ? "" : " ", event_text(shown));
      first = false;
    }
    fmt::format_to(to, "\n");
  }
  return fmt::to_string(out);
}

}  // namespace bushbaby
