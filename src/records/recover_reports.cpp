#include "bushbaby/records/recover_reports.h"

#include <algorithm>
#include <cmath>
#include <iterator>

#include <fmt/format.h>

#include "bushbaby/records/reports.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;
using detail::reported_json;

std::string_view name_of_end(RecoverEnd end) {
  switch (end) {
    case RecoverEnd::measured: return "measured";
    case RecoverEnd::none_seen: return "none_seen";
    case RecoverEnd::undetermined: break;
  }
  return "cannot_tell";
}

// N digits that the last one is about a tenth of the interval, and none before the point is
// omitted.
int digits_for(const Estimate& estimate, Dimension dimension, const Units& units) {
  const double width = estimate.hi - estimate.lo;
  constexpr int kLeast = 2;
  constexpr int kMost = 6;
  if (!(width > 0) || estimate.value == 0) return kMost;
  const double digits = std::log10(std::abs(estimate.value) / width) + 2;
  const double whole = std::log10(std::abs(units.shown(dimension, estimate.value))) + 1;
  return std::clamp(static_cast<int>(std::ceil(digits)),
                    std::clamp(static_cast<int>(whole), kLeast, kMost), kMost);
}

std::string loop_name(Integrator integrator) {
  Tuning tuning;
  tuning.loop.integrator = integrator;
  return name_of_integrator(tuning);
}

std::string ticks_text(double seconds, const Units& units) {
  const double ticks = std::round(seconds * units.tick_rate);
  return fmt::format("{:g} tick{}", ticks, ticks == 1 ? "" : "s");
}

std::string value_text(const RecoveredKnob& knob, const Units& units) {
  if (!knob.choice.empty()) return knob.choice;
  if (knob.in_ticks) return ticks_text(knob.estimate.value, units);
  return units.text(knob.dimension, knob.estimate.value,
                    digits_for(knob.estimate, knob.dimension, units));
}

std::string interval_text(const Estimate& estimate, Dimension dimension, const Units& units) {
  const int digits = digits_for(estimate, dimension, units) + 1;
  const auto reported = [&](double value) {
    return fmt::format("{:.{}g}", units.shown(dimension, value), digits);
  };
  return fmt::format("{} … {}", reported(estimate.lo), reported(estimate.hi));
}

std::string row(const std::string& name, const std::string& value, const std::string& interval,
                const std::string& why) {
  return fmt::format("{:<22} {:>16}  {:<22} {}\n", name, value, interval, why);
}

std::string shape_row(const char* name, const std::optional<Estimate>& estimate,
                      Dimension dimension, const Units& units) {
  if (!estimate) return "";
  return row(name, units.text(dimension, estimate->value, digits_for(*estimate, dimension, units)),
             interval_text(*estimate, dimension, units), "by these constants");
}

std::string measured_text(const Units& units, const Recovered& recovered) {
  std::string text;
  for (const RecoveredKnob& knob : recovered.knobs) {
    if (knob.end != RecoverEnd::measured) continue;
    const Estimate& estimate = knob.estimate;
    const std::string interval = !knob.choice.empty() ? std::string()
                                 : !knob.in_ticks ? interval_text(estimate, knob.dimension, units)
                                 : estimate.hi - estimate.lo < 0.5 / units.tick_rate
                                     ? std::string("exactly")
                                     : fmt::format("{} … {}", ticks_text(estimate.lo, units),
                                                   ticks_text(estimate.hi, units));
    text += row(knob.key, value_text(knob, units), interval, knob.why);
  }
  text += shape_row("a full jump's height", recovered.height, Dimension::length, units);
  text += shape_row("  time to its apex", recovered.apex_time, Dimension::time, units);
  text += shape_row("  time in the air", recovered.air_time, Dimension::time, units);
  if (text.empty()) return text;
  return "\n" + row("knob", "value", "95 % interval", "rests on") + text;
}

std::string unseen_text(const Units& units, const Recovered& recovered) {
  std::string text;
  for (const RecoveredKnob& knob : recovered.knobs) {
    if (knob.end != RecoverEnd::none_seen) continue;
    text += fmt::format("  {:<22} {}", knob.key, knob.why);
    if (knob.estimate.hi > 0) {
      text += fmt::format("; it is less than {}", units.text(knob.dimension, knob.estimate.hi, 3));
    }
    text += "\n";
  }
  return text.empty() ? text : "\nnothing is to be seen of\n" + text;
}

std::string refused_text(const Units& units, const Recovered& recovered) {
  std::string text;
  std::string before;
  for (const RecoveredKnob& knob : recovered.knobs) {
    if (knob.end != RecoverEnd::undetermined) continue;
    text += fmt::format("  {:<22} {}", knob.key, knob.why);
    const Estimate& estimate = knob.estimate;
    if (estimate.hi > estimate.lo) {
      text +=
          fmt::format("; between {} is too wide", interval_text(estimate, knob.dimension, units));
    } else if (estimate.value > 0) {
      text += fmt::format(": {}", units.text(knob.dimension, estimate.value, 3));
    }
    text += "\n";
    if (!knob.to_record.empty() && knob.to_record != before) {
      text += fmt::format("  {:<22} to recover it, record: {}\n", "", knob.to_record);
    }
    before = knob.to_record;
  }
  return text.empty() ? text : "\ncannot be recovered\n" + text;
}

std::string loops_text(const Units& units, const Recovered& recovered) {
  if (recovered.loops.empty()) return "";
  const bool fitted = recovered.loops.front().miss.has_value();
  std::string text = fmt::format(
      "\nthe same jump in each loop at {:g} Hz, gravity on the launch tick\n{:<14} {:>14} {:>14} "
      "{:>12}{}\n",
      recovered.tick_rate, "loop", fmt::format("launch, {}", units.name(Dimension::speed)),
      fmt::format("gravity, {}", units.name(Dimension::acceleration)), "fall factor",
      fitted ? fmt::format(" {:>10}", fmt::format("misses, {}", units.name(Dimension::length)))
             : "");
  for (const RecoveredLoop& loop : recovered.loops) {
    text += fmt::format("{:<14} {:>14.6g} {:>13.6g} {:>12.5g}", loop_name(loop.integrator),
                        units.shown(Dimension::speed, loop.launch_speed),
                        units.shown(Dimension::acceleration, loop.gravity), loop.fall_factor);
    if (loop.miss) {
      text += fmt::format(" {:>10.3g}{}", units.shown(Dimension::length, *loop.miss),
                          !loop.goes                ? ""
                          : recovered.loop_reported ? "  goes with what was recorded"
                                                    : "");
    }
    text += "\n";
  }
  if (fitted && !recovered.loop_reported) {
    text += "what was recorded goes with every one of them";
    text += recovered.on_ticks
                ? ": speeds in columns vx and vy would distinguish them\n"
                : ": points at the ends of ticks, with speeds, would distinguish them\n";
  }
  return text;
}

// What else is to be known, remarks of the recovery first.
std::vector<std::string> notes_of(const Recovered& recovered) {
  std::vector<std::string> notes = recovered.remarks;
  if (recovered.better_between) {
    notes.emplace_back(
        "the points go better with a motion between them than with ticks at them: if they were "
        "filmed, say the game's tick rate with --tick-rate");
  }
  if (!recovered.knows_rate && recovered.refusal.empty()) {
    notes.push_back(
        fmt::format("the points are not ticks: loops are compared at {:g} Hz; choose another with "
                    "--tick-rate",
                    recovered.tick_rate));
  }
  return notes;
}

std::string ticks_text(const Recovered& recovered) {
  const char* const how = recovered.on_ticks ? "they are ends of ticks"
                          : recovered.between_ticks
                              ? "one for each tick, drawn between two of them,"
                              : nullptr;
  return how == nullptr ? "" : fmt::format("; {} at {:g} Hz", how, recovered.tick_rate);
}

std::string flights_text(const Recovered& recovered) {
  const auto jumps = static_cast<std::size_t>(
      std::count_if(recovered.flights.begin(), recovered.flights.end(),
                    [](const RecoveredFlight& flight) { return flight.jumps; }));
  const std::size_t falls = recovered.flights.size() - jumps;
  std::string text = fmt::format("{} jump{}", jumps, jumps == 1 ? "" : "s");
  if (falls > 0) text += fmt::format(" and {} fall{}", falls, falls == 1 ? "" : "s");
  return text;
}

}  // namespace

std::string recovered_table(const std::string& title, const Units& units,
                            const Recovered& recovered) {
  std::string text =
      fmt::format("{}: {} points over {:.4g} s, about {:.4g} a second{}\n", title, recovered.points,
                  recovered.seconds, recovered.rate, ticks_text(recovered));
  if (recovered.refusal.empty()) {
    text += fmt::format("{}, recovered to within {} (root of the mean square)\n",
                        flights_text(recovered), units.text(Dimension::length, recovered.noise, 3));
  } else {
    text += fmt::format("no jump can be recovered: {}\nto recover it, record: {}\n",
                        recovered.refusal, recovered.to_record);
  }
  for (const std::string& note : notes_of(recovered)) text += fmt::format("note: {}\n", note);
  text += measured_text(units, recovered);
  text += unseen_text(units, recovered);
  text += refused_text(units, recovered);
  text += loops_text(units, recovered);
  return text;
}

std::string recovered_json(const std::string& title, const Units& units,
                           const Recovered& recovered) {
  Json knobs = Json::array();
  for (const RecoveredKnob& knob : recovered.knobs) {
    Json item{{"knob", knob.key}, {"end", name_of_end(knob.end)}};
    const bool is_number = knob.choice.empty() && knob.end == RecoverEnd::measured;
    if (!knob.choice.empty()) item["choice"] = knob.choice;
    if (is_number) {
      item["value"] = units.shown(knob.dimension, knob.estimate.value);
      item["lo"] = units.shown(knob.dimension, knob.estimate.lo);
      item["hi"] = units.shown(knob.dimension, knob.estimate.hi);
      item["unit"] = units.name(knob.dimension);
    }
    item["why"] = knob.why;
    if (!knob.to_record.empty()) item["to_record"] = knob.to_record;
    knobs.push_back(std::move(item));
  }
  const auto shape = [&](const std::optional<Estimate>& estimate, Dimension dimension) {
    if (!estimate) return Json();
    return Json{{"value", units.shown(dimension, estimate->value)},
                {"lo", units.shown(dimension, estimate->lo)},
                {"hi", units.shown(dimension, estimate->hi)},
                {"unit", units.name(dimension)}};
  };
  Json loops = Json::array();
  for (const RecoveredLoop& loop : recovered.loops) {
    loops.push_back({{"loop", loop_name(loop.integrator)},
                     {"launch_speed", units.shown(Dimension::speed, loop.launch_speed)},
                     {"gravity", units.shown(Dimension::acceleration, loop.gravity)},
                     {"fall_factor", loop.fall_factor},
                     {"misses", reported_json(loop.miss, Dimension::length, units)},
                     {"goes", loop.miss ? Json(loop.goes) : Json()}});
  }
  Json flights = Json::array();
  for (const RecoveredFlight& flight : recovered.flights) {
    flights.push_back({{"take_off_s", flight.take_off},
                       {"jump", flight.jumps},
                       {"misses", units.shown(Dimension::length, flight.miss)}});
  }
  const Json json{{"recording", title},
                  {"points", recovered.points},
                  {"seconds", recovered.seconds},
                  {"points_a_second", recovered.rate},
                  {"on_ticks", recovered.on_ticks},
                  {"between_ticks", recovered.between_ticks},
                  {"tick_rate_hz", recovered.tick_rate},
                  {"refusal", recovered.refusal.empty() ? Json() : Json(recovered.refusal)},
                  {"misses", units.shown(Dimension::length, recovered.noise)},
                  {"length_unit", units.name(Dimension::length)},
                  {"height", shape(recovered.height, Dimension::length)},
                  {"apex_time", shape(recovered.apex_time, Dimension::time)},
                  {"air_time", shape(recovered.air_time, Dimension::time)},
                  {"knobs", std::move(knobs)},
                  {"loops", std::move(loops)},
                  {"flights", std::move(flights)},
                  {"notes", notes_of(recovered)}};
  return json_text(json);
}

std::string recovered_curve_csv(const Recovered& recovered, const Units& units) {
  const std::vector<Vec>& curve = recovered.curve;
  if (curve.empty()) return "";
  fmt::memory_buffer out;
  // Over the ground, whichever way the file counts: curves are read with y as their file's is.
  const double sign = units.convention.vertical_down ? -1 : 1;
  fmt::format_to(std::back_inserter(out), "time {},y {}{}\n", units.name(Dimension::time),
                 units.name(Dimension::length), sign < 0 ? " down" : "");
  for (const Vec& point : curve) {
    fmt::format_to(std::back_inserter(out), "{:.6g},{:.6g}\n",
                   units.shown(Dimension::time, point.x),
                   0 + sign * units.shown(Dimension::length, point.y));
  }
  return fmt::to_string(out);
}

}  // namespace bushbaby
