#include "bushbaby/records/rates_reports.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/names.h"
#include "bushbaby/records/overlay_reports.h"

#include "compared_rows.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

constexpr double kLeastMove = 1e-3;  // of a fact, for the table

bool moves(const Compared& row) {
  const auto& first = row.values.front();
  return std::any_of(row.values.begin(), row.values.end(), [&first](const auto& value) {
    if (value.has_value() != first.has_value()) return true;
    return value && std::abs(*value - *first) > kLeastMove * std::abs(*first);
  });
}

// In which numbers a tuning of that loop is written: what counts per tick counts per one of its
// own.
Units units_of(const RatesReport& report, std::size_t v) {
  return {report.units.convention, report.loops[v].tuning.loop.tick_rate};
}

std::string kept_text(const RatesReport& report) {
  std::string text;
  for (std::size_t v = 0; v < report.kept.size(); ++v) {
    const auto& kept = report.kept[v];
    if (!kept) continue;
    const Units units = units_of(report, v);
    text += fmt::format(
        "  {} {}: jump.launch_speed {} and jump.gravity {} give {} in {}\n", letter_of(v),
        report.loops[v].name, units.text(Dimension::speed, kept->launch_speed, 8),
        units.text(Dimension::acceleration, kept->gravity, 8),
        units.text(Dimension::length, kept->height), units.text(Dimension::time, kept->apex_time));
  }
  if (text.empty()) return "\nthe jump is as high in all of them\n";
  const bool per_tick = report.units.convention.per_tick;
  return fmt::format("\nto keep the height of the jump{}\n",
                     per_tick ? ", each in ticks of its own" : "") +
         text + "  jump.height and jump.apex_time instead of these two keep it in every loop\n";
}

std::string drift_text(const RatesReport& report, std::size_t v) {
  const Drift& drift = report.drifts[v];
  const Units& units = report.units;
  const std::string farthest = units.text(Dimension::length, drift.farthest, 4);
  if (!drift.apart) {
    return fmt::format("on these inputs never more than {} from A in {}", farthest,
                       units.text(Dimension::time, drift.compared, 4));
  }
  return fmt::format("on these inputs {} from A at {}, {} at the most",
                     units.text(Dimension::length, report.within, 4),
                     units.text(Dimension::time, *drift.apart, 4), farthest);
}

}  // namespace

std::string rates_table(const RatesReport& report) {
  std::string text =
      fmt::format("{} in {} loops\n", character_name(report.character), report.loops.size());
  for (std::size_t v = 0; v < report.loops.size(); ++v) {
    const LoopVariant& loop = report.loops[v];
    text += fmt::format("  {}  {}\n", letter_of(v), loop.name);
    for (const Rounding& rounding : loop.roundings) {
      text += fmt::format("       rounded: {}\n", describe(rounding, loop.tuning.loop.tick_rate));
    }
    if (v > 0 && v < report.drifts.size()) {
      text += fmt::format("       {}\n", drift_text(report, v));
    }
  }
  std::vector<Compared> rows;
  std::copy_if(report.facts.begin(), report.facts.end(), std::back_inserter(rows), moves);
  const std::size_t small = report.facts.size() - rows.size();
  text += detail::compared_text(rows, report.loops.size(), report.units, "facts that change",
                                rows.size());
  if (rows.empty()) text += "\nno fact moves by more than a thousandth\n";
  if (small > 0) text += fmt::format("{} facts move by less than a thousandth\n", small);
  if (!rows.empty()) text += fmt::format("\n{}", detail::kComparedLegend);
  if (!rows.empty() && report.units.convention.per_tick) {
    text += fmt::format("ticks are those of A, at {} Hz\n", report.units.tick_rate);
  }
  return text + kept_text(report);
}

std::string rates_json(const RatesReport& report) {
  const Units& units = report.units;
  Json loops = Json::array();
  for (std::size_t v = 0; v < report.loops.size(); ++v) {
    const LoopVariant& loop = report.loops[v];
    Json rounded = Json::array();
    for (const Rounding& rounding : loop.roundings) {
      rounded.push_back({{"knob", rounding.key},
                         {"asked_ticks", rounding.asked_ticks},
                         {"used_ticks", rounding.used_ticks}});
    }
    Json one{{"letter", letter_of(v)},
             {"name", loop.name},
             {"tick_rate", loop.tuning.loop.tick_rate},
             {"rounded", rounded}};
    if (v < report.kept.size() && report.kept[v]) {
      const KeptJump& kept = *report.kept[v];
      const Units own = units_of(report, v);
      one["to_keep_the_jump"] = {{"launch_speed", own.shown(Dimension::speed, kept.launch_speed)},
                                 {"gravity", own.shown(Dimension::acceleration, kept.gravity)},
                                 {"height", own.shown(Dimension::length, kept.height)},
                                 {"apex_time", own.shown(Dimension::time, kept.apex_time)}};
    }
    if (v < report.drifts.size()) {
      const Drift& drift = report.drifts[v];
      one["apart_at"] = drift.apart ? Json(units.shown(Dimension::time, *drift.apart)) : Json();
      one["farthest"] = units.shown(Dimension::length, drift.farthest);
      one["compared"] = units.shown(Dimension::time, drift.compared);
    }
    loops.push_back(std::move(one));
  }
  const Json json{{"tuning", report.character},
                  {"loops", loops},
                  {"facts", detail::compared_json(report.facts, units)},
                  {"within", units.shown(Dimension::length, report.within)},
                  {"units",
                   {{"tick_rate", "Hz"},
                    {"launch_speed", units.name(Dimension::speed)},
                    {"gravity", units.name(Dimension::acceleration)},
                    {"height", units.name(Dimension::length)},
                    {"apex_time", units.name(Dimension::time)},
                    {"apart_at", units.name(Dimension::time)},
                    {"farthest", units.name(Dimension::length)},
                    {"within", units.name(Dimension::length)}}}};
  return json_text(json);
}

}  // namespace bushbaby
