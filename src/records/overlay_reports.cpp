#include "bushbaby/records/overlay_reports.h"

#include <algorithm>
#include <optional>

#include <fmt/format.h>

#include "bushbaby/lab/explain.h"
#include "bushbaby/records/run_reports.h"

#include "compared_rows.h"
#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

// Whether ticks of two traces can be compared.
bool is_comparable(const Trace& a, const Trace& b) {
  return a.tick_rate == b.tick_rate && shared_samples(a, b) > 0;
}

// Where a variant diverges from the first. Recorded traces hold numbers of other programs: a
// millionth of a unit is no difference.
std::optional<Parting> parting_of(const Variant& first, const Variant& other) {
  constexpr double kWithin = 1e-6;
  return find_parting(first.trace, other.trace, kWithin);
}

// The same in words.
std::string parting_words(const Variant& first, const Variant& other) {
  if (first.trace.tick_rate != other.trace.tick_rate) {
    return fmt::format("at {} Hz", other.trace.tick_rate);
  }
  if (shared_samples(first.trace, other.trace) == 0) return "has no tick in common with A";
  const auto parting = parting_of(first, other);
  if (!parting) {
    return first.trace.samples.size() == other.trace.samples.size()
               ? "the same as A"
               : "the same as A, as far as both go";
  }
  if (parting->at_start) {
    return fmt::format("differs from A at the start: {}", fmt::join(parting->over, ", "));
  }
  return fmt::format("diverges from A at tick {} ({:.4g} s): {}", parting->tick,
                     static_cast<double>(parting->tick) / first.trace.tick_rate,
                     fmt::join(parting->over, ", "));
}

}  // namespace

std::string letter_of(std::size_t variant) {
  return std::string(1, static_cast<char>('A' + variant));
}

std::string overlay_table(const OverlayReport& report) {
  const std::vector<Variant>& variants = report.variants;
  std::size_t wide = 0;
  for (const Variant& variant : variants) wide = std::max(wide, variant.name.size());
  std::string text = fmt::format("{} variants on {}, at {} Hz\n", variants.size(), report.on,
                                 variants.front().trace.tick_rate);
  for (std::size_t v = 0; v < variants.size(); ++v) {
    const Variant& variant = variants[v];
    std::string line = fmt::format("  {}  {:<{}}  {}", letter_of(v), variant.name, wide,
                                   v == 0 ? "" : parting_words(variants.front(), variant));
    text += line.erase(line.find_last_not_of(' ') + 1) + "\n";
    constexpr std::size_t kMostKnobs = 12;
    if (v < report.knobs.size()) {
      const auto& knobs = report.knobs[v];
      for (std::size_t i = 0; i < std::min(knobs.size(), kMostKnobs); ++i) {
        text += fmt::format("       {}\n", knobs[i]);
      }
      if (knobs.size() > kMostKnobs) {
        text += fmt::format("       and {} knobs more\n", knobs.size() - kMostKnobs);
      }
    }
    if (variant.stall) {
      text += fmt::format("       ended early: {}\n", describe(*variant.stall, report.units));
    }
  }
  const std::vector<Compared> events = compare_events(variants);
  constexpr std::size_t kMostRows = 24;  // of events
  text += detail::compared_text(report.rows, variants.size(), report.units, "what differs",
                                report.rows.size());
  text +=
      detail::compared_text(events, variants.size(), report.units, "when it happens", kMostRows);
  if (report.rows.empty() && events.empty()) return text + "\nnothing that is measured differs\n";
  return fmt::format("{}\n{}", text, detail::kComparedLegend);
}

std::string overlay_json(const OverlayReport& report) {
  const std::vector<Variant>& variants = report.variants;
  const Units& units = report.units;
  Json all = Json::array();
  for (std::size_t v = 0; v < variants.size(); ++v) {
    const Variant& variant = variants[v];
    Json one{{"letter", letter_of(v)},
             {"name", variant.name},
             {"tick_rate", variant.trace.tick_rate},
             {"ticks", variant.trace.samples.size() - 1},
             {"trace_hash", fmt::format("{:016x}", hash_of(variant.trace))}};
    if (v < report.knobs.size()) one["knobs"] = report.knobs[v];
    one["ended_early"] = variant.stall ? Json(describe(*variant.stall, units)) : Json();
    if (v > 0 && is_comparable(variants.front().trace, variant.trace)) {
      const auto parting = parting_of(variants.front(), variant);
      one["parts_in_tick"] = parting ? Json(parting->at_start ? 0 : parting->tick) : Json();
      one["parts_over"] = Json::array();
      if (parting) {
        for (const std::string_view column : parting->over) one["parts_over"].push_back(column);
      }
    }
    all.push_back(std::move(one));
  }
  const Json json{{"on", report.on},
                  {"variants", all},
                  {"differences", detail::compared_json(report.rows, units)},
                  {"events", detail::compared_json(compare_events(variants), units)},
                  {"units", {{"events", units.name(Dimension::time)}, {"tick_rate", "Hz"}}}};
  return json_text(json);
}

}  // namespace bushbaby
