#include "bushbaby/records/explanations.h"

#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/core/knobs.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/records/trace_csv.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

std::string title_of(const ExplainedTick& tick, double tick_rate) {
  const Sample& s = tick.before;
  return fmt::format(
      "tick {} ({:.4g} s): at x {:.3f} u, y {:.3f} u; {:.3f} u/s across, {:.3f} u/s up; {}; held: "
      "{}\n",
      s.tick, static_cast<double>(s.tick) / tick_rate, s.feet.x, s.feet.y, s.velocity.x,
      s.velocity.y, name_of(s.stance), held_text(tick.held));
}

std::string happened_text(const std::vector<Event>& events) {
  std::string text;
  for (const Event& event : events) {
    const std::string_view detail = detail_of(event);
    text += fmt::format("{}{}{}{}", text.empty() ? "" : ", ", name_of(event.kind),
                        detail.empty() ? "" : ":", detail);
    if (event.value != 0) text += fmt::format(" {:.4g}", event.value);
  }
  return text.empty() ? "nothing" : text;
}

// The names of the candidates that failed on one hurdle, as a line; empty if none did.
std::string named_line(const Explanation& why, Hurdle hurdle, std::string_view heading) {
  std::vector<std::string_view> names;
  for (const Trial& trial : why.trials) {
    if (trial.hurdle == hurdle) names.push_back(name_of(trial.candidate));
  }
  if (names.empty()) return {};
  return fmt::format("     {}: {}\n", heading, fmt::join(names, ", "));
}

// The knobs of a tuning that decide what a reason names: gravity while rising, and while falling if
// that is the same, may follow from others.
std::string knobs_behind(std::string_view knob, const Tuning& tuning) {
  const bool is_rise = knob == "jump.gravity" || (knob == "fall.factor" && tuning.fall.factor == 1);
  if (!is_rise) return std::string(knob);
  if (tuning.jump.gravity) return "jump.gravity";
  std::vector<std::string_view> given;
  for (const char* key : {"jump.height", "jump.apex_time", "jump.launch_speed"}) {
    const bool set = !std::holds_alternative<std::monostate>(get_knob(tuning, *find_knob(key)));
    if (set) given.emplace_back(key);
  }
  return fmt::format("{}", fmt::join(given, " and "));
}

// What the tick decided first, then what came of every other candidate.
std::string tick_text(const ExplainedTick& tick, double tick_rate, const Tuning& tuning) {
  std::string text = title_of(tick, tick_rate);
  for (const bool taken : {true, false}) {
    for (const Trial& trial : tick.why.trials) {
      const bool named = trial.hurdle == Hurdle::not_asked || trial.hurdle == Hurdle::off;
      if (named || (trial.hurdle == Hurdle::none) != taken) continue;
      text += fmt::format("  {} {}\n", taken ? "->" : "  ", describe(trial));
    }
  }
  text += named_line(tick.why, Hurdle::not_asked, "not asked for");
  text += named_line(tick.why, Hurdle::off, "not in the tuning");
  const Explanation& why = tick.why;
  if (!why.driven) {
    text += fmt::format("     run: nothing drives it ({})\n", why.drive);
  } else {
    text += fmt::format("     run: towards {:.6g} u/s ({})\n", why.drive_target, why.drive);
  }
  if (why.gravity.empty()) {
    text += "     gravity: none, the body stands\n";
  } else {
    text += fmt::format("     gravity: {:.6g} u/s² ({})\n", why.gravity_pull,
                        knobs_behind(why.gravity, tuning));
  }
  return text + fmt::format("     happened: {}\n", happened_text(tick.events));
}

Json tick_json(const ExplainedTick& tick, double tick_rate) {
  Json trials = Json::array();
  for (const Trial& trial : tick.why.trials) {
    trials.push_back({{"candidate", name_of(trial.candidate)},
                      {"happens", trial.hurdle == Hurdle::none},
                      {"why", describe(trial)},
                      {"knob", trial.knob}});
  }
  Json events = Json::array();
  for (const Event& event : tick.events) events.push_back(event_text(event));
  const Sample& s = tick.before;
  return {{"tick", s.tick},
          {"time", static_cast<double>(s.tick) / tick_rate},
          {"place", {s.feet.x, s.feet.y}},
          {"velocity", {s.velocity.x, s.velocity.y}},
          {"stance", name_of(s.stance)},
          {"held", held_text(tick.held)},
          {"candidates", trials},
          {"run", {{"knob", tick.why.drive}, {"towards", tick.why.drive_target}}},
          {"gravity", {{"knob", tick.why.gravity}, {"pull", tick.why.gravity_pull}}},
          {"events", events}};
}

// A column of a trace at the end of a tick, as text.
std::string column_text(const Trace& trace, std::int64_t tick, std::string_view column) {
  const auto at = std::find_if(trace.samples.begin(), trace.samples.end(),
                               [tick](const Sample& sample) { return sample.tick > tick; });
  const Sample& sample = at == trace.samples.end() ? trace.samples.back() : *at;
  if (column == "held") return held_text(sample.held);
  if (column == "x") return fmt::format("{}", sample.feet.x);
  if (column == "y") return fmt::format("{}", sample.feet.y);
  if (column == "vx") return fmt::format("{}", sample.velocity.x);
  if (column == "vy") return fmt::format("{}", sample.velocity.y);
  if (column == "stance") return std::string(name_of(sample.stance));
  if (column == "grounded") return sample.grounded ? "1" : "0";
  std::vector<Event> events;
  for (const Event& event : trace.events) {
    if (event.tick == tick) events.push_back(event);
  }
  return happened_text(events);
}

}  // namespace

std::vector<std::string> differing_knobs(const Tuning& a, const Tuning& b) {
  std::vector<std::string> differences;
  const auto& more = a.wall.exits.size() < b.wall.exits.size() ? b : a;
  for (const KnobPlace& place : places_of(more)) {
    const auto value_in = [&place](const Tuning& tuning) {
      const bool missing = place.knob->in_list() && place.row >= tuning.wall.exits.size();
      return missing ? std::string("no such row")
                     : describe(get_knob(tuning, *place.knob, place.row));
    };
    const std::string in_a = value_in(a);
    const std::string in_b = value_in(b);
    if (in_a != in_b) differences.push_back(fmt::format("{}: {}, {}", place.key(), in_a, in_b));
  }
  return differences;
}

std::string why_text(const WhyReport& report) {
  std::string text = fmt::format("{} on \"{}\", {} Hz\n",
                                 report.character.empty() ? "the character" : report.character,
                                 report.level, report.tick_rate);
  if (report.ticks.empty()) text += "\nno jump, dash or down is pressed on this inputs\n";
  for (const ExplainedTick& tick : report.ticks) {
    text += "\n" + tick_text(tick, report.tick_rate, report.tuning);
  }
  return text;
}

std::string why_json(const WhyReport& report) {
  Json ticks = Json::array();
  for (const ExplainedTick& tick : report.ticks) ticks.push_back(tick_json(tick, report.tick_rate));
  const Json json{
      {"tuning", report.character},
      {"level", report.level},
      {"tick_rate", report.tick_rate},
      {"ticks", ticks},
      {"units",
       {{"place", "u"}, {"velocity", "u/s"}, {"towards", "u/s"}, {"pull", "u/s²"}, {"time", "s"}}}};
  return json_text(json);
}

std::string parting_text(const PartingReport& report) {
  if (!report.parting) {
    const std::size_t shared = shared_samples(report.a, report.b);
    const std::size_t ticks = shared > 0 ? shared - 1 : 0;
    std::string text = fmt::format("{} and {} are the same in all of {} ticks\n", report.name_a,
                                   report.name_b, ticks);
    if (report.a.samples.size() != report.b.samples.size()) {
      text += fmt::format("{} has {} ticks, {} has {}\n", report.name_a,
                          report.a.samples.size() - 1, report.name_b, report.b.samples.size() - 1);
    }
    return text;
  }
  const Parting& parting = *report.parting;
  const double time = static_cast<double>(parting.tick) / report.a.tick_rate;
  const std::string when =
      parting.at_start
          ? "differ from the start"
          : fmt::format("are the same until tick {} ({:.4g} s), which ends differently",
                        parting.tick, time);
  std::string text = fmt::format("{} and {} {}: in {}\n", report.name_a, report.name_b, when,
                                 fmt::join(parting.over, ", "));
  for (const std::string_view column : parting.over) {
    text += fmt::format("  {:<9} {}: {}\n  {:<9} {}: {}\n", column, report.name_a,
                        column_text(report.a, parting.tick, column), "", report.name_b,
                        column_text(report.b, parting.tick, column));
  }
  if (!report.knobs.empty()) text += "\nthe tunings differ in\n";
  for (const std::string& knob : report.knobs) text += "  " + knob + "\n";
  for (const ExplainedTick& tick : report.why_a) {
    text += fmt::format("\n{}, {}", report.name_a,
                        tick_text(tick, report.a.tick_rate, report.tuning_a));
  }
  for (const ExplainedTick& tick : report.why_b) {
    text += fmt::format("\n{}, {}", report.name_b,
                        tick_text(tick, report.b.tick_rate, report.tuning_b));
  }
  return text;
}

std::string parting_json(const PartingReport& report) {
  Json json{{"a", report.name_a}, {"b", report.name_b}, {"parts", report.parting.has_value()}};
  if (report.parting) {
    json["tick"] = report.parting->tick;
    json["time"] = static_cast<double>(report.parting->tick) / report.a.tick_rate;
    json["at_start"] = report.parting->at_start;
    json["knobs"] = report.knobs;
    json["over"] = Json::array();
    for (const std::string_view column : report.parting->over) {
      json["over"].push_back({{"column", column},
                              {"a", column_text(report.a, report.parting->tick, column)},
                              {"b", column_text(report.b, report.parting->tick, column)}});
    }
    for (const ExplainedTick& tick : report.why_a)
      json["why_a"] = tick_json(tick, report.a.tick_rate);
    for (const ExplainedTick& tick : report.why_b)
      json["why_b"] = tick_json(tick, report.b.tick_rate);
  }
  return json_text(json);
}

}  // namespace bushbaby
