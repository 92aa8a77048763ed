#include "bushbaby/records/reports.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

std::string name_of_integrator(const Tuning& tuning) {
  return std::get<std::string>(get_knob(tuning, *find_knob("loop.integrator")));
}

// A quantity to six significant digits, with its unit.
std::string quantity(double value, Dimension dimension) {
  return fmt::format("{:.6g} {}", value, unit_of(dimension));
}

Json optional_json(const std::optional<double>& value) { return value ? Json(*value) : Json(); }

// How far a measured value is from what was asked: "as asked", or "+0.0123 u".
std::string difference(double measured, double asked, Dimension dimension) {
  constexpr double kSame = 1e-9;
  const double off = measured - asked;
  if (off < kSame && off > -kSame) return "as asked";
  return fmt::format("{:+.4g} {}", off, unit_of(dimension));
}

std::string ticks_text(double seconds, double tick_rate) {
  return fmt::format("{:.4g} ticks", seconds * tick_rate);
}

std::string character_name(const Tuning& tuning) {
  return tuning.name.empty() ? "the character" : tuning.name;
}

std::string event_title(const Event& event) {
  const std::string_view detail = detail_of(event);
  return detail.empty() ? std::string(name_of(event.kind))
                        : fmt::format("{} ({})", name_of(event.kind), detail);
}

std::string series_table(const Series& series) {
  std::string text =
      fmt::format("\n{} by {}, {}:\n", series.name, series.over, unit_of(series.dimension));
  constexpr std::size_t kAcross = 8;
  for (std::size_t i = 0; i < series.values.size(); ++i) {
    if (i % kAcross == 0) {
      text += fmt::format("{:>4}", (i + 1) * static_cast<std::size_t>(series.step));
    }
    text += fmt::format(" {:>8.4f}", series.values[i]);
    if (i % kAcross == kAcross - 1 || i + 1 == series.values.size()) text += "\n";
  }
  return text;
}

// Why a drill gave no fact at all, if it is one reason for all of them.
std::optional<std::string> common_reason(const DrillReport& report) {
  if (report.facts.size() < 2) return std::nullopt;
  const std::string& reason = report.facts.front().why_not;
  const bool common =
      std::all_of(report.facts.begin(), report.facts.end(),
                  [&reason](const Fact& fact) { return !fact.value && fact.why_not == reason; });
  return common ? std::optional(reason) : std::nullopt;
}

Json place_json(Vec place) { return Json::array({place.x, place.y}); }

}  // namespace

std::string describe_loop(const Tuning& tuning) {
  return fmt::format("{} Hz, {} loop{}", tuning.loop.tick_rate, name_of_integrator(tuning),
                     tuning.loop.gravity_on_launch_tick ? "" : ", no gravity on the launch tick");
}

std::string derivation_table(const Derivation& derivation) {
  const Tuning& tuning = derivation.tuning;
  const double rate = tuning.loop.tick_rate;
  const ArcConstants& constants = derivation.constants;
  const ArcShape& asked = derivation.continuous;
  const auto& got = derivation.achieved;
  std::string text = fmt::format("constants for {}\n", describe_loop(tuning));
  const auto constant = [&text](const char* name, const std::string& value) {
    text += fmt::format("  {:<14} {}\n", name, value);
  };
  constant("gravity", fmt::format("{:.10g} u/s² rising, {:.10g} u/s² falling", constants.gravity,
                                  constants.gravity * constants.fall_factor));
  constant("launch speed", fmt::format("{:.10g} u/s", constants.launch_speed));
  if (constants.terminal_speed) {
    constant("terminal speed", quantity(*constants.terminal_speed, Dimension::speed));
  }
  text += fmt::format("\n{:<16} {:>14}  {:>14}  {:<14} {}\n", "a jump with them", "in simulation",
                      "continuous", "difference", "in ticks");
  const auto row = [&](const char* name, double measured, double wanted, Dimension dimension) {
    const bool is_time = dimension == Dimension::time;
    std::string line =
        fmt::format("  {:<14} {:>14}  {:>14}  {:<14} {}", name, quantity(measured, dimension),
                    quantity(wanted, dimension), difference(measured, wanted, dimension),
                    is_time ? ticks_text(measured, rate) : "");
    text += line.erase(line.find_last_not_of(' ') + 1) + "\n";
  };
  row("height", got.height, asked.height, Dimension::length);
  row("apex time", got.apex_time, asked.apex_time, Dimension::time);
  row("air time", got.air_time, asked.air_time, Dimension::time);
  row("landing speed", got.landing_speed, asked.landing_speed, Dimension::speed);
  if (got.distance) {
    row("distance", *got.distance, asked.air_time * tuning.run.top_speed, Dimension::length);
  }
  return text;
}

std::string derivation_json(const Derivation& derivation) {
  const Tuning& tuning = derivation.tuning;
  const auto& got = derivation.achieved;
  const Json json{{"gravity", derivation.constants.gravity},
                  {"fall_gravity", derivation.constants.gravity * derivation.constants.fall_factor},
                  {"launch_speed", derivation.constants.launch_speed},
                  {"fall_factor", derivation.constants.fall_factor},
                  {"terminal_speed", optional_json(derivation.constants.terminal_speed)},
                  {"tick_rate", tuning.loop.tick_rate},
                  {"integrator", name_of_integrator(tuning)},
                  {"gravity_on_launch_tick", tuning.loop.gravity_on_launch_tick},
                  {"continuous",
                   {{"height", derivation.continuous.height},
                    {"apex_time", derivation.continuous.apex_time},
                    {"air_time", derivation.continuous.air_time},
                    {"landing_speed", derivation.continuous.landing_speed}}},
                  {"achieved",
                   {{"height", got.height},
                    {"apex_time", got.apex_time},
                    {"air_time", got.air_time},
                    {"landing_speed", got.landing_speed},
                    {"distance", optional_json(got.distance)}}},
                  {"units",
                   {{"gravity", "u/s²"},
                    {"launch_speed", "u/s"},
                    {"height", "u"},
                    {"apex_time", "s"},
                    {"air_time", "s"},
                    {"landing_speed", "u/s"},
                    {"distance", "u"},
                    {"tick_rate", "Hz"}}}};
  return json_text(json);
}

std::string drill_table(const Tuning& tuning, const std::vector<Rounding>& roundings,
                        const std::vector<DrillReport>& reports) {
  const double rate = tuning.loop.tick_rate;
  std::string text = fmt::format("{}: {}\n", character_name(tuning), describe_loop(tuning));
  for (const Rounding& rounding : roundings) {
    text += fmt::format("  rounded: {}\n", describe(rounding, rate));
  }
  text += fmt::format("\n{:<28} {:>12} {:<6} {}\n", "fact", "measured", "unit", "in ticks");
  for (const DrillReport& report : reports) {
    if (!report.skipped.empty()) {
      text += fmt::format("{:<28} skipped: {}\n", report.drill->name, report.skipped);
    }
    if (const auto reason = common_reason(report)) {
      text += fmt::format("{:<28} {:>12} {}\n", report.drill->name, "none", *reason);
      continue;
    }
    for (const Fact& fact : report.facts) {
      if (!fact.value) {
        text += fmt::format("{:<28} {:>12} {}\n", fact.info->name, "none", fact.why_not);
        continue;
      }
      const bool is_time = fact.info->dimension == Dimension::time;
      std::string line =
          fmt::format("{:<28} {:>12.6g} {:<6} {}", fact.info->name, *fact.value,
                      unit_of(fact.info->dimension), is_time ? ticks_text(*fact.value, rate) : "");
      line.erase(line.find_last_not_of(' ') + 1);
      text += line + "\n";
    }
  }
  for (const DrillReport& report : reports) {
    for (const Series& series : report.series) text += series_table(series);
  }
  return text;
}

std::string drill_json(const Tuning& tuning, const std::vector<Rounding>& roundings,
                       const std::vector<DrillReport>& reports) {
  Json rounded = Json::array();
  for (const Rounding& rounding : roundings) {
    rounded.push_back({{"knob", rounding.key},
                       {"asked_ticks", rounding.asked_ticks},
                       {"used_ticks", rounding.used_ticks},
                       {"used_seconds", rounding.used_seconds}});
  }
  Json facts = Json::object();
  Json units = Json::object();
  Json missing = Json::object();
  Json skipped = Json::object();
  Json all_series = Json::object();
  for (const DrillReport& report : reports) {
    for (const Series& series : report.series) {
      all_series[std::string(series.name)] = {{"over", series.over},
                                              {"step", series.step},
                                              {"unit", unit_of(series.dimension)},
                                              {"values", series.values}};
    }
    if (!report.skipped.empty()) skipped[std::string(report.drill->name)] = report.skipped;
    for (const Fact& fact : report.facts) {
      const std::string name(fact.info->name);
      if (fact.value) {
        facts[name] = *fact.value;
        units[name] = unit_of(fact.info->dimension);
      } else {
        missing[name] = fact.why_not;
      }
    }
  }
  const Json json{{"tuning", tuning.name},
                  {"tick_rate", tuning.loop.tick_rate},
                  {"integrator", name_of_integrator(tuning)},
                  {"facts", facts},
                  {"units", units},
                  {"series", all_series},
                  {"rounded", rounded},
                  {"missing", missing},
                  {"skipped", skipped}};
  return json_text(json);
}

std::string bound_text(const Bound& bound) {
  switch (bound.form) {
    case Bound::Form::aim: return fmt::format("{} ± {}", bound.lo, bound.hi);
    case Bound::Form::between: return fmt::format("{} … {}", bound.lo, bound.hi);
    case Bound::Form::at_least: return fmt::format("≥ {}", bound.lo);
    case Bound::Form::at_most: break;
  }
  return fmt::format("≤ {}", bound.hi);
}

std::string_view unit_of(const Target& target) {
  if (target.follow) return unit_of(Dimension::length);
  for (const FactInfo& info : drill_of_fact(target.fact)->facts) {
    if (info.name == target.fact) return unit_of(info.dimension);
  }
  return "";
}

std::string subject_of(const Target& target) {
  if (!target.follow) return target.fact;
  return fmt::format("{} follows {}", target.fact, target.curve_name);
}

std::string judgement_table(const Tuning& tuning, const Judgement& judgement,
                            const std::vector<MissAdvice>& advice) {
  const auto met = std::count_if(judgement.verdicts.begin(), judgement.verdicts.end(),
                                 [](const Verdict& verdict) { return verdict.met; });
  std::string text = fmt::format("{}, {}: {} of {} targets met\n\n", character_name(tuning),
                                 describe_loop(tuning), met, judgement.verdicts.size());
  text += fmt::format("{:<42} {:<6} {:>16} {:>12} {:>12}  {}\n", "target", "unit", "aim",
                      "measured", "off by", "verdict");
  for (const Verdict& verdict : judgement.verdicts) {
    const Target& target = *verdict.target;
    const bool optional = target.priority == Priority::should;
    text += fmt::format("{:<42} {:<6} {:>16} ", subject_of(target), unit_of(target),
                        bound_text(target.bound));
    if (verdict.measured) {
      text += fmt::format(
          "{:>12.6g} {:>12}  ", *verdict.measured,
          std::abs(verdict.off_by) < 1e-9 ? "0" : fmt::format("{:+.4g}", verdict.off_by));
      text += verdict.met ? "met" : optional ? "missed (should)" : "MISSED";
    } else {
      text += fmt::format("{:>12} {:>12}  {}: {}", "none", "",
                          optional ? "missed (should)" : "MISSED", verdict.why_not);
    }
    text += "\n";
  }
  for (const MissAdvice& miss : advice) {
    const Target& target = *miss.verdict->target;
    text += fmt::format("\n{} is moved by", subject_of(target));
    if (miss.effects.empty()) text += " no single knob";
    constexpr std::size_t kMost = 5;
    for (std::size_t i = 0; i < miss.effects.size() && i < kMost; ++i) {
      const Effect& effect = miss.effects[i];
      text += fmt::format("\n  {:<28} {:<12} {:+.4g} {}", effect.key, effect.change, effect.by,
                          unit_of(target));
    }
    text += "\n";
  }
  return text;
}

std::string judgement_json(const Tuning& tuning, const Judgement& judgement,
                           const std::vector<MissAdvice>& advice) {
  static constexpr const char* kForms[] = {"aim", "between", "at_least", "at_most"};
  Json targets = Json::array();
  for (const Verdict& verdict : judgement.verdicts) {
    const Target& target = *verdict.target;
    const Bound& bound = target.bound;
    Json aim;
    switch (bound.form) {
      case Bound::Form::aim:
      case Bound::Form::at_least: aim = bound.lo; break;
      case Bound::Form::at_most: aim = bound.hi; break;
      case Bound::Form::between: aim = {bound.lo, bound.hi}; break;
    }
    Json item{{"fact", target.fact},
              {"form", target.follow ? "follow" : kForms[static_cast<int>(bound.form)]},
              {"aim", aim},
              {"within", bound.form == Bound::Form::aim ? Json(bound.hi) : Json()},
              {"measured", optional_json(verdict.measured)},
              {"off_by", verdict.measured ? Json(verdict.off_by) : Json()},
              {"verdict", verdict.met ? "met" : "missed"},
              {"priority", target.priority == Priority::must ? "must" : "should"},
              {"weight", target.weight},
              {"unit", unit_of(target)}};
    if (target.follow) item["follow"] = target.curve_name;
    if (!verdict.measured) item["why_not"] = verdict.why_not;
    for (const MissAdvice& miss : advice) {
      if (miss.verdict != &verdict) continue;
      item["moved_by"] = Json::array();
      for (const Effect& effect : miss.effects) {
        item["moved_by"].push_back(
            {{"knob", effect.key}, {"change", effect.change}, {"by", effect.by}});
      }
    }
    targets.push_back(std::move(item));
  }
  const Json json{{"tuning", tuning.name},
                  {"tick_rate", tuning.loop.tick_rate},
                  {"met", judgement.met()},
                  {"targets", targets}};
  return json_text(json);
}

std::string run_table(const RunReport& report) {
  const Trace& trace = report.trace;
  const Sample& last = trace.samples.back();
  std::string text =
      fmt::format("{} on \"{}\": {} ticks at {} Hz = {:.4g} s; ends at x {:.4g} u, y {:.4g} u\n",
                  report.character.empty() ? "the character" : report.character, report.level,
                  last.tick, trace.tick_rate, trace.time_of(last), last.feet.x, last.feet.y);
  const std::vector<Arc> arcs = find_arcs(trace);
  if (arcs.empty()) {
    text += last.grounded ? "\nno arcs: the body never left the ground\n"
                          : "\nno arcs: the body falls from the start on and meets no ground\n";
  } else {
    text +=
        fmt::format("\n{:>4} {:<8} {:>9} {:>9} {:>9} {:>9} {:>10} {:>12} {:>13}\n", "arc", "from",
                    "time s", "x u", "y u", "height u", "air time s", "distance u", "landing u/s");
  }
  int number = 0;
  for (const Arc& arc : arcs) {
    text += fmt::format("{:>4} {:<8} {:>9.3f} {:>9.3f} {:>9.3f} {:>9.3f} ", ++number,
                        arc.from_jump ? "jump" : "edge", arc.take_off_time, arc.take_off.x,
                        arc.take_off.y, arc.height());
    text += arc.landed ? fmt::format("{:>10.4f} {:>12.3f} {:>13.3f}\n", arc.air_time(),
                                     arc.distance(), arc.landing_speed)
                       : "still in the air at the end\n";
  }
  text += fmt::format("\n{:>9} {:>9} {:>9}  {:<24} {:>9} {:>7} {:>13}\n", "time s", "x u", "y u",
                      "event", "speed u/s", "tick", "share of tick");
  for (const Event& event : trace.events) {
    text += fmt::format(
        "{:>9.4f} {:>9.3f} {:>9.3f}  {:<24} {:>9} {:>7} {:>13.3f}\n",
        time_of(event, trace.tick_rate), event.place.x, event.place.y, event_title(event),
        event.value == 0 ? "" : fmt::format("{:.3f}", event.value), event.tick, event.fraction);
  }
  return text;
}

std::string run_json(const RunReport& report) {
  const Trace& trace = report.trace;
  Json arcs = Json::array();
  for (const Arc& arc : find_arcs(trace)) {
    Json item{{"from", arc.from_jump ? "jump" : "edge"},
              {"take_off_time", arc.take_off_time},
              {"take_off", place_json(arc.take_off)},
              {"launch_speed", arc.launch_speed},
              {"apex_time", arc.apex_time},
              {"apex", place_json(arc.apex)},
              {"height", arc.height()},
              {"landed", arc.landed}};
    if (arc.landed) {
      item["landing_time"] = arc.landing_time;
      item["landing"] = place_json(arc.landing);
      item["landing_speed"] = arc.landing_speed;
      item["air_time"] = arc.air_time();
      item["distance"] = arc.distance();
    }
    arcs.push_back(std::move(item));
  }
  Json events = Json::array();
  for (const Event& event : trace.events) {
    events.push_back({{"kind", name_of(event.kind)},
                      {"detail", detail_of(event)},
                      {"tick", event.tick},
                      {"fraction", event.fraction},
                      {"time", time_of(event, trace.tick_rate)},
                      {"place", place_json(event.place)},
                      {"value", event.value}});
  }
  const Sample& last = trace.samples.back();
  const Json json{{"tuning", report.character},
                  {"level", report.level},
                  {"tick_rate", trace.tick_rate},
                  {"ticks", last.tick},
                  {"end", place_json(last.feet)},
                  {"trace_hash", fmt::format("{:016x}", hash_of(trace))},
                  {"arcs", arcs},
                  {"events", events},
                  {"units", {{"place", "u"}, {"time", "s"}, {"speed", "u/s"}}}};
  return json_text(json);
}

}  // namespace bushbaby
