#include "bushbaby/records/overlay_reports.h"

#include <algorithm>
#include <optional>

#include <fmt/format.h>

#include "bushbaby/lab/explain.h"
#include "bushbaby/records/run_reports.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

// Whether ticks of two traces can be compared.
bool is_comparable(const Trace& a, const Trace& b) {
  return a.tick_rate == b.tick_rate && shared_samples(a, b) > 0;
}

// Where a variant parts from the first. Recorded traces hold numbers of other programs: a millionth
// of a unit is no difference.
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
  return fmt::format("parts from A in tick {} ({:.4g} s): {}", parting->tick,
                     static_cast<double>(parting->tick) / first.trace.tick_rate,
                     fmt::join(parting->over, ", "));
}

std::string value_text(const Compared& row, std::size_t variant, const Units& units) {
  const auto& value = row.values[variant];
  const auto& first = row.values.front();
  if (variant > 0 && is_same(row, variant)) return "=";
  if (!value) return "none";
  std::string text = fmt::format("{:.5g}", units.told(row.dimension, *value));
  if (variant == 0 || !first) return text;
  return fmt::format("{} ({:+.3g})", text, units.told(row.dimension, *value - *first));
}

constexpr std::size_t kMostRows = 24;  // of events, in a table

std::string rows_text(const std::vector<Compared>& rows, const std::vector<Variant>& variants,
                      const Units& units, const char* heading, std::size_t most) {
  if (rows.empty()) return {};
  std::size_t wide = 30;
  for (const Compared& row : rows) wide = std::max(wide, row.what.size());
  std::string text = fmt::format("\n{:<{}} {:<8}", heading, wide, "unit");
  for (std::size_t v = 0; v < variants.size(); ++v) text += fmt::format(" {:>18}", letter_of(v));
  text += "\n";
  for (std::size_t i = 0; i < std::min(rows.size(), most); ++i) {
    const Compared& row = rows[i];
    text += fmt::format("{:<{}} {:<8}", row.what, wide, units.name(row.dimension));
    for (std::size_t v = 0; v < variants.size(); ++v) {
      text += fmt::format(" {:>18}", value_text(row, v, units));
    }
    text += "\n";
  }
  if (rows.size() > most) {
    text += fmt::format("and {} more (--json lists all)\n", rows.size() - most);
  }
  return text;
}

Json rows_json(const std::vector<Compared>& rows, const Units& units) {
  Json all = Json::array();
  for (const Compared& row : rows) {
    Json values = Json::array();
    for (const auto& value : row.values) {
      values.push_back(value ? Json(units.told(row.dimension, *value)) : Json());
    }
    all.push_back({{"what", row.what}, {"unit", units.name(row.dimension)}, {"values", values}});
  }
  return all;
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
  text += rows_text(report.rows, variants, report.units, "what differs", report.rows.size());
  text += rows_text(events, variants, report.units, "when it happens", kMostRows);
  if (report.rows.empty() && events.empty()) return text + "\nnothing that is measured differs\n";
  return text + "\n=: as in A; in brackets: how far from A\n";
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
                  {"differences", rows_json(report.rows, units)},
                  {"events", rows_json(compare_events(variants), units)},
                  {"units", {{"events", units.name(Dimension::time)}, {"tick_rate", "Hz"}}}};
  return json_text(json);
}

}  // namespace bushbaby
