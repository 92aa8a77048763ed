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

std::string write_trace(const Trace& trace) {
  fmt::memory_buffer out;
  const auto to = std::back_inserter(out);
  fmt::format_to(to, "{}\n", kTraceHeader);
  auto event = trace.events.begin();
  for (const Sample& sample : trace.samples) {
    fmt::format_to(to, "{},{},{},{},{},{},{},{},{},", sample.tick, trace.time_of(sample),
                   sample.feet.x, sample.feet.y, sample.velocity.x, sample.velocity.y,
                   name_of(sample.stance), sample.grounded ? 1 : 0, held_text(sample.held));
    // Events of the tick before a sample belong to its row.
    bool first = true;
    for (; event != trace.events.end() && event->tick < sample.tick; ++event) {
      fmt::format_to(to, "{}{}", first ? "" : " ", event_text(*event));
      first = false;
    }
    fmt::format_to(to, "\n");
  }
  return fmt::to_string(out);
}

}  // namespace bushbaby
