#include "bushbaby/records/sweep_csv.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/version.h"

#include "core/shape/hash.h"
#include "data/toml_text.h"
#include "json_text.h"
#include "sweep_rows.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

using detail::trimmed_copy;

// ---- ranges -------------------------------------------------------------------------------------

tl::unexpected<std::vector<Problem>> wrong_range(const std::string& text, std::string expected) {
  return tl::unexpected(std::vector<Problem>{
      {ProblemCode::bad_syntax, "--over", 0, 0, "", text, std::move(expected), ""}});
}

constexpr const char* kRangeWords =
    "a knob and its values: \"fall.factor=1..3 in 21\", \"jump.height=1..8 in 20 log\" or "
    "\"jump.coyote=0ticks, 4ticks\"";

// How a range is divided.
struct Division {
  std::string from;
  std::string to;
  std::size_t count = 0;
  bool log = false;
};

// "1..3 in 21 log"; nothing if it is no range.
std::optional<Division> division_of(const std::string& text) {
  const std::size_t dots = text.find("..");
  const std::size_t in = text.find(" in ");
  if (dots == std::string::npos || in == std::string::npos || in < dots) return std::nullopt;
  Division division;
  division.from = trimmed_copy(text.substr(0, dots));
  division.to = trimmed_copy(text.substr(dots + 2, in - dots - 2));
  std::string count = trimmed_copy(text.substr(in + 4));
  constexpr std::string_view kLog = " log";
  if (count.size() > kLog.size() && count.substr(count.size() - kLog.size()) == kLog) {
    division.log = true;
    count = trimmed_copy(count.substr(0, count.size() - kLog.size()));
  }
  const auto number = parse_number(count);
  if (!number || *number != std::floor(*number) || *number < 2 ||
      *number > static_cast<double>(kMostRuns)) {
    return std::nullopt;
  }
  division.count = static_cast<std::size_t>(*number);
  return division;
}

Result<std::vector<KnobValue>> values_between(const KnobPlace& place, const KnobValue& from,
                                              const KnobValue& to, const Division& division,
                                              const std::string& text) {
  const auto lo = amount_of(from);
  const auto hi = amount_of(to);
  if (!lo || !hi || from.index() != to.index() || is_in_ticks(from) != is_in_ticks(to)) {
    return wrong_range(text, "two numbers, or two times that are both in ticks or both not");
  }
  if (division.log && !(*lo > 0 && *hi > 0))
    return wrong_range(text, "two numbers above 0 for log");
  const bool whole =
      is_in_ticks(from) || std::holds_alternative<KnobAccess<int>>(place.knob->binding);
  std::vector<KnobValue> values;
  for (std::size_t i = 0; i < division.count; ++i) {
    const double share = static_cast<double>(i) / static_cast<double>(division.count - 1);
    double amount = division.log ? *lo * std::pow(*hi / *lo, share) : *lo + (*hi - *lo) * share;
    if (i + 1 == division.count) amount = *hi;
    if (whole) amount = std::round(amount);
    const KnobValue value = with_amount(from, amount);
    if (values.empty() || values.back() != value) values.push_back(value);
  }
  return values;
}

// ---- as reported
// ------------------------------------------------------------------------------------

// The values of a knob as they are reported: numbers, or their places.
struct Reported {
  SweepColumn column;
  std::vector<double> values;
  std::vector<std::string> texts;
  std::optional<double> present;
};

std::optional<double> reported_of(const KnobPlace& place, const KnobValue& value,
                                  const Units& units) {
  if (const auto* duration = std::get_if<Duration>(&value)) {
    return duration->unit == Duration::Unit::ticks ? duration->amount
                                                   : units.shown(Dimension::time, duration->amount);
  }
  if (const auto* number = std::get_if<double>(&value)) {
    return units.shown(place.knob->dimension, *number);
  }
  return std::nullopt;
}

Reported reported_axis(const KnobSweep& sweep, const SweepAxis& axis, const Units& units) {
  Reported reported;
  const KnobValue& first = axis.values.front();
  reported.column.name = axis.knob.key();
  if (is_in_ticks(first)) {
    reported.column.unit = "ticks";
  } else if (std::holds_alternative<Duration>(first)) {
    reported.column.unit = units.name(Dimension::time);
  } else if (std::holds_alternative<double>(first)) {
    reported.column.unit = units.name(axis.knob.knob->dimension);
  }
  // A bare factor needs no unit behind its name.
  if (axis.knob.knob->dimension == Dimension::ratio) reported.column.unit.clear();
  for (const KnobValue& value : axis.values) {
    const auto number = reported_of(axis.knob, value, units);
    reported.values.push_back(number.value_or(static_cast<double>(reported.values.size())));
    const auto* name = std::get_if<std::string>(&value);
    reported.texts.push_back(number            ? fmt::format("{}", *number)
                             : name != nullptr ? *name
                                               : describe(value));
  }
  const KnobValue now = get_knob(sweep.base, *axis.knob.knob, axis.knob.row);
  if (now.index() == first.index() && is_in_ticks(now) == is_in_ticks(first)) {
    reported.present = reported_of(axis.knob, now, units);
  }
  return reported;
}

std::vector<SweepColumn> fact_columns(const KnobSweep& sweep, const Units& units) {
  std::vector<SweepColumn> columns;
  for (const FactInfo* fact : sweep.facts) {
    columns.push_back({std::string(fact->name), units.name(fact->dimension)});
  }
  return columns;
}

SweepRun reported_run(SweepRun run, const KnobSweep& sweep, const Units& units) {
  for (std::size_t k = 0; k < run.size(); ++k) {
    if (run[k]) run[k] = units.shown(sweep.facts[k]->dimension, *run[k]);
  }
  return run;
}

// Whether a place is kept of `size` when no more than `most` are, evenly, both ends included.
std::vector<std::size_t> kept_places(std::size_t size, std::size_t most) {
  std::vector<std::size_t> kept;
  if (size <= most) {
    for (std::size_t i = 0; i < size; ++i) kept.push_back(i);
    return kept;
  }
  for (std::size_t i = 0; i < most; ++i) kept.push_back(i * (size - 1) / (most - 1));
  return kept;
}

std::string number_text(const std::optional<double>& value) {
  return value ? fmt::format("{:.6g}", *value) : std::string("none");
}

}  // namespace

Result<SweepAxis> parse_axis(const TuningFile& file, const std::string& text) {
  const std::size_t equals = text.find('=');
  if (equals == std::string::npos) return wrong_range(text, kRangeWords);
  const std::string key = trimmed_copy(text.substr(0, equals));
  const std::string range = trimmed_copy(text.substr(equals + 1));
  const auto place = find_place(key);
  if (!place) {
    TuningFile trial = file;
    return tl::unexpected(
        std::vector<Problem>{*apply_setting(trial, Setting(key + "=0", "--over"))});
  }
  if (range.empty()) return wrong_range(text, kRangeWords);
  SweepAxis axis{*place, {}};
  if (range.find("..") != std::string::npos) {
    const auto division = division_of(range);
    if (!division)
      return wrong_range(text, "LOW..HIGH in N, N from 2 on, and log or nothing behind it");
    const auto from = value_for(file, key, division->from, "--over");
    if (!from) return tl::unexpected(from.error());
    const auto to = value_for(file, key, division->to, "--over");
    if (!to) return tl::unexpected(to.error());
    auto values = values_between(*place, *from, *to, *division, text);
    if (!values) return tl::unexpected(values.error());
    axis.values = std::move(*values);
    return axis;
  }
  std::size_t at = 0;
  while (at <= range.size()) {
    const std::size_t end = std::min(range.find(',', at), range.size());
    const auto value = value_for(file, key, trimmed_copy(range.substr(at, end - at)), "--over");
    if (!value) return tl::unexpected(value.error());
    axis.values.push_back(*value);
    at = end + 1;
  }
  return axis;
}

std::string sweep_header(const KnobSweep& sweep, const Units& units) {
  std::string columns;
  detail::Hash sum;  // over all that the sweep is, and what makes it
  sum.add(std::string_view(kVersion));
  sum.add(write_tuning(sweep.base));
  sum.add(units.describe());
  // The scale of the units is not in their names.
  for (const Dimension dimension :
       {Dimension::length, Dimension::time, Dimension::speed, Dimension::acceleration}) {
    sum.add(units.shown(dimension, 1.0));
  }
  for (const SweepAxis& axis : sweep.axes) {
    const Reported reported = reported_axis(sweep, axis, units);
    columns += "," + reported.column.title();
    for (const std::string& text : reported.texts) sum.add(text + ",");
  }
  for (const SweepColumn& column : fact_columns(sweep, units)) columns += "," + column.title();
  sum.add(columns);
  return fmt::format("{}{} ({:016x}){},{}", detail::kSweepStart, runs_of(sweep), sum.sum(), columns,
                     detail::kSumTitle);
}

std::string sweep_lines(const KnobSweep& sweep, const Units& units, std::size_t first,
                        const std::vector<SweepRun>& runs) {
  std::vector<std::vector<std::string>> texts;
  for (const SweepAxis& axis : sweep.axes) texts.push_back(reported_axis(sweep, axis, units).texts);
  const std::string header = sweep_header(sweep, units);
  std::string lines;
  for (std::size_t i = 0; i < runs.size(); ++i) {
    std::string row = fmt::format("{}", first + i + 1);
    const std::vector<std::size_t> places = places_of(sweep, first + i);
    for (std::size_t k = 0; k < places.size(); ++k) row += "," + texts[k][places[k]];
    for (std::size_t k = 0; k < runs[i].size(); ++k) {
      row += ",";
      if (runs[i][k]) {
        row += fmt::format("{}", units.shown(sweep.facts[k]->dimension, *runs[i][k]));
      }
    }
    lines += fmt::format("{},{}\n", row, detail::row_sum(header, row));
  }
  return lines;
}

SweepTable sweep_frame(const KnobSweep& sweep, const Units& units, std::size_t most) {
  SweepTable table;
  for (const SweepAxis& axis : sweep.axes) {
    Reported reported = reported_axis(sweep, axis, units);
    table.knobs.push_back(std::move(reported.column));
    table.values.push_back(std::move(reported.values));
    table.texts.push_back(std::move(reported.texts));
    table.present.push_back(reported.present);
    table.kept.push_back(kept_places(axis.values.size(), most));
  }
  table.facts = fact_columns(sweep, units);
  table.now = reported_run(measure_facts(sweep.base, sweep.facts), sweep, units);
  return table;
}

void keep_runs(SweepTable& table, const KnobSweep& sweep, const Units& units, std::size_t first,
               const std::vector<SweepRun>& runs) {
  for (std::size_t i = 0; i < runs.size(); ++i) {
    const std::vector<std::size_t> places = places_of(sweep, first + i);
    bool is_kept = true;
    for (std::size_t k = 0; k < places.size(); ++k) {
      is_kept =
          is_kept && std::binary_search(table.kept[k].begin(), table.kept[k].end(), places[k]);
    }
    if (!is_kept) continue;
    table.runs.push_back(reported_run(runs[i], sweep, units));
  }
}

std::string sweep_text(const SweepTable& table) {
  std::vector<std::string> titles;
  for (const SweepColumn& column : table.knobs) titles.push_back(column.title());
  for (const SweepColumn& column : table.facts) titles.push_back(column.title());
  const auto wide = [&titles](std::size_t i) {
    return std::max<std::size_t>(titles[i].size(), 10);
  };
  std::string text;
  for (std::size_t i = 0; i < titles.size(); ++i) {
    text += fmt::format("{}{:>{}}", i > 0 ? "  " : "", titles[i], wide(i));
  }
  text += "\n";
  for (std::size_t r = 0; r < table.runs.size(); ++r) {
    std::size_t rest = r;
    std::vector<std::string> cells(table.knobs.size());
    bool present = true;
    for (std::size_t k = table.knobs.size(); k-- > 0;) {
      const std::size_t place = table.kept[k][rest % table.kept[k].size()];
      rest /= table.kept[k].size();
      cells[k] = table.texts[k][place];
      if (const auto number = parse_number(cells[k])) cells[k] = fmt::format("{:.6g}", *number);
      present = present && table.present[k] && *table.present[k] == table.values[k][place];
    }
    for (const auto& value : table.runs[r]) cells.push_back(number_text(value));
    for (std::size_t i = 0; i < cells.size(); ++i) {
      text += fmt::format("{}{:>{}}", i > 0 ? "  " : "", cells[i], wide(i));
    }
    text += present ? "  <- as it is now\n" : "\n";
  }
  return text;
}

std::string sweep_json(const SweepTable& table) {
  Json knobs = Json::array();
  for (std::size_t k = 0; k < table.knobs.size(); ++k) {
    Json values = Json::array();
    for (const std::size_t place : table.kept[k]) values.push_back(table.texts[k][place]);
    knobs.push_back({{"knob", table.knobs[k].name},
                     {"unit", table.knobs[k].unit},
                     {"values", values},
                     {"present", table.present[k] ? Json(*table.present[k]) : Json()}});
  }
  Json facts = Json::array();
  for (std::size_t f = 0; f < table.facts.size(); ++f) {
    Json measured = Json::array();
    for (const SweepRun& run : table.runs) measured.push_back(run[f] ? Json(*run[f]) : Json());
    facts.push_back(
        {{"fact", table.facts[f].name}, {"unit", table.facts[f].unit}, {"measured", measured}});
  }
  return json_text(
      Json{{"knobs", knobs}, {"facts", facts}, {"order", "the last knob changes first"}});
}

}  // namespace bushbaby
