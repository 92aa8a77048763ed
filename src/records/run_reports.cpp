#include "bushbaby/records/run_reports.h"

#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/names.h"
#include "bushbaby/data/quantities.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;
using detail::place_json;

std::string event_title(const Event& event, const std::vector<std::string>& zones) {
  if (meaning_of(event.kind).value == EventValue::zone && event.surface < zones.size()) {
    return fmt::format("{} {}", name_of(event.kind), zones[event.surface]);
  }
  return title_of(event);
}

// What an arc begins with.
std::string_view start_of(const Arc& arc) {
  if (arc.from_jump) return "jump";
  return arc.from_climb ? "climb" : "edge";
}

// Why what is waited for did not end the span.
std::string reason_of(const Stall& stall) {
  switch (stall.why) {
    case Stall::Why::too_early:
      return fmt::format("it came in tick {} of this line, too early for that", stall.waited);
    case Stall::Why::too_long: return fmt::format("a run has at most {} ticks", kMostRunTicks);
    case Stall::Why::too_much: return "looking ahead takes too many runs from the start";
    case Stall::Why::limit: break;
  }
  const Duration& limit = stall.span.until->limit;
  return fmt::format(
      "it did not come within {}{}", duration_text(limit),
      limit.unit == Duration::Unit::ticks ? "" : fmt::format(" ({} ticks)", stall.waited));
}

// Why a run has no arcs, from how it ends.
std::string why_no_arcs(const Sample& last) {
  if (last.grounded) return "the body never left the ground";
  const double rise = last.velocity.x * last.up.x + last.velocity.y * last.up.y;
  return rise == 0 && last.stance == Stance::falling
             ? "the body ends up on a surface that may not be stood on (ground = false)"
             : "the body falls from the start on and meets no ground";
}

}  // namespace

std::string describe(const Stall& stall, const Units& units) {
  const InputSpan& span = stall.span;
  std::string text = span.line > 0 ? fmt::format("line {} of the inputs, ", span.line) : "";
  text += fmt::format(
      "\"{} {}\"", held_text(span.held),
      span.until ? "until " + wait_text(*span.until, units) : "for " + duration_text(span.lasts));
  const Vec feet = units.shown(Dimension::length, visible_feet(stall.at));
  const std::string length = units.name(Dimension::length);
  return fmt::format("{}: {}; the run ends there, {} at x {:.5g} {}, y {:.5g} {}", text,
                     reason_of(stall), name_of(stall.at.stance), feet.x, length, feet.y, length);
}

std::string run_table(const RunReport& report) {
  const Trace& trace = report.trace;
  const Units& units = report.units;
  const Sample& last = trace.samples.back();
  const std::string length = units.name(Dimension::length);
  const std::string speed = units.name(Dimension::speed);
  const std::string time = units.name(Dimension::time);
  const Vec end = units.shown(Dimension::length, visible_feet(last));
  std::string text = fmt::format(
      "{} on \"{}\": {} ticks at {} Hz = {:.4g} s; ends at x {:.6g} {}, y {:.6g} {}{}\n",
      character_name(report.character), shortened(report.level), last.tick, trace.tick_rate,
      trace.time_of(last), end.x, length, end.y, length,
      units.convention.vertical_down ? " (y down)" : "");
  if (report.stall) text += fmt::format("ended early: {}\n", describe(*report.stall, units));
  const std::vector<Arc> arcs = find_arcs(trace);
  if (arcs.empty()) {
    text += fmt::format("\nno arcs: {}\n", why_no_arcs(last));
  } else {
    text += fmt::format("\n{:>4} {:<6} {:>11} {:>10} {:>10} {:>10} {:>13} {:>12} {:>15}\n", "arc",
                        "from", "time " + time, "x " + length, "y " + length, "height " + length,
                        "air time " + time, "distance " + length, "landing " + speed);
  }
  int number = 0;
  for (const Arc& arc : arcs) {
    const auto tick = std::llround(arc.take_off_time * trace.tick_rate);
    const Vec from = units.shown(Dimension::length, visible_place(trace, tick, arc.take_off));
    text += fmt::format("{:>4} {:<6} {:>11.5g} {:>10.5g} {:>10.5g} {:>10.5g} ", ++number,
                        start_of(arc), units.shown(Dimension::time, arc.take_off_time), from.x,
                        from.y, units.shown(Dimension::length, arc.height()));
    text += arc.landed ? fmt::format("{:>13.5g} {:>12.5g} {:>15.5g}\n",
                                     units.shown(Dimension::time, arc.air_time()),
                                     units.shown(Dimension::length, arc.distance()),
                                     units.shown(Dimension::speed, arc.landing_speed))
                       : "still in the air at the end\n";
  }
  text += fmt::format("\n{:>6} {:>7} {:>10} {:>10} {:>10}  {:<24} {:>15}\n", "tick", "share",
                      "time " + time, "x " + length, "y " + length, "event", "speed " + speed);
  for (const Event& event : trace.events) {
    const Vec place = units.shown(Dimension::length, visible_place(trace, event.tick, event.place));
    const bool has_speed = event.value != 0 && meaning_of(event.kind).value == EventValue::speed;
    std::string line = fmt::format(
        "{:>6} {:>7.3f} {:>10.5g} {:>10.5g} {:>10.5g}  {:<24} {:>15}", event.tick, event.fraction,
        units.shown(Dimension::time, time_of(event, trace.tick_rate)), place.x, place.y,
        event_title(event, report.zones),
        has_speed ? fmt::format("{:.5g}", units.shown(Dimension::speed, event.value)) : "");
    text += line.erase(line.find_last_not_of(' ') + 1) + "\n";
  }
  if (!trace.events.empty()) {
    text += "\nshare: how far into the tick it happened; tick k leads to row k of the trace\n";
  }
  return text;
}

std::string run_json(const RunReport& report) {
  const Trace& trace = report.trace;
  const Units& units = report.units;
  const auto reported = [&units](double value, Dimension dimension) {
    return units.shown(dimension, value);
  };
  Json arcs = Json::array();
  for (const Arc& arc : find_arcs(trace)) {
    Json item{{"from", start_of(arc)},
              {"take_off_time", reported(arc.take_off_time, Dimension::time)},
              {"take_off", place_json(arc.take_off, units)},
              {"launch_speed", reported(arc.launch_speed, Dimension::speed)},
              {"apex_time", reported(arc.apex_time, Dimension::time)},
              {"apex", place_json(arc.apex, units)},
              {"height", reported(arc.height(), Dimension::length)},
              {"landed", arc.landed}};
    if (arc.landed) {
      item["landing_time"] = reported(arc.landing_time, Dimension::time);
      item["landing"] = place_json(arc.landing, units);
      item["landing_speed"] = reported(arc.landing_speed, Dimension::speed);
      item["air_time"] = reported(arc.air_time(), Dimension::time);
      item["distance"] = reported(arc.distance(), Dimension::length);
    }
    arcs.push_back(std::move(item));
  }
  Json events = Json::array();
  for (const Event& event : trace.events) {
    const bool is_speed = meaning_of(event.kind).value == EventValue::speed;
    events.push_back({{"kind", name_of(event.kind)},
                      {"detail", detail_of(event)},
                      {"tick", event.tick},
                      {"fraction", event.fraction},
                      {"time", reported(time_of(event, trace.tick_rate), Dimension::time)},
                      {"place", place_json(event.place, units)},
                      {"value", is_speed ? reported(event.value, Dimension::speed) : event.value}});
    if (meaning_of(event.kind).value == EventValue::zone && event.surface < report.zones.size()) {
      events.back()["zone"] = report.zones[event.surface];
    }
  }
  const Sample& last = trace.samples.back();
  const std::string length = units.name(Dimension::length);
  const std::string time = units.name(Dimension::time);
  const std::string speed = units.name(Dimension::speed);
  const Json json{{"tuning", report.character},
                  {"level", report.level},
                  {"tick_rate", trace.tick_rate},
                  {"ticks", last.tick},
                  {"end", place_json(visible_feet(last), units)},
                  {"ended_early", report.stall ? Json(describe(*report.stall, units)) : Json()},
                  {"trace_hash", fmt::format("{:016x}", hash_of(trace))},
                  {"arcs", arcs},
                  {"events", events},
                  {"units",
                   {{"place", length},
                    {"y", units.convention.vertical_down ? "down" : "up"},
                    {"height", length},
                    {"distance", length},
                    {"time", time},
                    {"air_time", time},
                    {"speed", speed},
                    {"value", speed},
                    {"tick_rate", "Hz"}}}};
  return json_text(json);
}

}  // namespace bushbaby
