#include "bushbaby/records/reports.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/names.h"
#include "bushbaby/data/quantities.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;
using detail::place_json;
using detail::reported_json;

// How far a measured value is from what was asked: "as asked", or "+0.0123 u".
std::string difference(double measured, double asked, Dimension dimension, const Units& units) {
  constexpr double kSame = 1e-9;
  const double off = measured - asked;
  if (off < kSame && off > -kSame) return "as asked";
  return (off > 0 ? "+" : "-") + units.text(dimension, std::abs(off), 4);
}

// A time in the other unit: in ticks, or in seconds where the units themselves are ticks.
std::string other_time(double seconds, const Units& units) {
  return units.convention.per_tick ? fmt::format("{:.4g} s", seconds)
                                   : fmt::format("{:.4g} ticks", seconds * units.tick_rate);
}

const char* other_time_heading(const Units& units) {
  return units.convention.per_tick ? "in seconds" : "in ticks";
}

std::string series_table(const Series& series, const Units& units) {
  std::string text =
      fmt::format("\n{} by {}, {}:\n", series.name, series.over, units.name(series.dimension));
  constexpr std::size_t kAcross = 8;
  for (std::size_t i = 0; i < series.values.size(); ++i) {
    if (i % kAcross == 0) {
      text += fmt::format("{:>4}", (i + 1) * static_cast<std::size_t>(series.step));
    }
    text += fmt::format(" {:>9.5g}", units.shown(series.dimension, series.values[i]));
    if (i % kAcross == kAcross - 1 || i + 1 == series.values.size()) text += "\n";
  }
  return text;
}

// A measured value; of one that was not looked for any further, that it is that or more.
std::string value_text(const Fact& fact, const Units& units) {
  return fmt::format("{}{:.6g}", fact.or_more ? "≥ " : "",
                     units.shown(fact.info->dimension, *fact.value));
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

// Two knobs that together meet it and break nothing.
std::string pairs_text(const MissAdvice& miss, const Units& units) {
  if (miss.pairs.empty()) return "";
  std::string text = "  two together, with nothing else missed\n";
  for (const Change& change : miss.pairs) {
    for (const KnobMove& move : change.knobs) {
      text += fmt::format("  {:<28} {:>14} {:>14}\n", move.place.key(),
                          knob_text(move.place, move.from, units),
                          knob_text(move.place, move.to, units));
    }
  }
  return text;
}

// What single knobs could do about a miss, as a table.
std::string advice_text(const MissAdvice& miss, const Units& units) {
  const Target& target = *miss.verdict->target;
  const std::string subject = subject_of(target);
  if (miss.remedies.empty()) {
    return fmt::format("\n{}: no knob alone moves it\n", subject) + pairs_text(miss, units);
  }
  const bool meets = miss.remedies.front().meets;
  std::string text = fmt::format(
      "\n{}: {}\n  {:<28} {:>14} {:>14} {:>16}  {}\n", subject,
      meets ? "any of these alone would meet it" : "no knob alone meets it; these come nearest",
      "knob", "now", "then", "measured then", meets ? "and then missed" : "off by");
  constexpr std::size_t kMost = 6;
  for (std::size_t i = 0; i < miss.remedies.size() && i < kMost; ++i) {
    const Remedy& remedy = miss.remedies[i];
    std::string rest;
    if (meets) {
      for (const Target* broken : remedy.breaks) {
        rest += (rest.empty() ? "" : ", ") + subject_of(*broken);
      }
      if (rest.empty()) rest = "nothing";
    } else {
      rest = difference(off_by(target.bound, remedy.measured), 0, dimension_of(target), units);
    }
    if (remedy.switches_on) rest += "; it is switched off now";
    text += fmt::format("  {:<28} {:>14} {:>14} {:>16}  {}\n", remedy.place.key(),
                        knob_text(remedy.place, remedy.from, units),
                        knob_text(remedy.place, remedy.to, units),
                        units.text(dimension_of(target), remedy.measured), rest);
  }
  if (miss.remedies.size() > kMost) {
    text += fmt::format("  and {} more (--json lists all)\n", miss.remedies.size() - kMost);
  }
  return text + pairs_text(miss, units);
}

// What was measured, how far that is off, and what it comes to.
std::string verdict_text(const Verdict& verdict, const Units& units) {
  const bool optional = verdict.target->priority == Priority::should;
  const std::string missed = optional ? "missed (should)" : "MISSED";
  if (!verdict.measured) {
    return fmt::format("{:>12} {:>12}  {}: {}", "none", "", missed, verdict.why_not);
  }
  const Dimension dimension = dimension_of(*verdict.target);
  const double off = units.shown(dimension, verdict.off_by);
  std::string text =
      fmt::format("{:>12} {:>12}  {}",
                  fmt::format("{}{:.6g}", verdict.or_more ? "≥ " : "",
                              units.shown(dimension, *verdict.measured)),
                  std::abs(verdict.off_by) < 1e-9 ? "0" : fmt::format("{:+.4g}", off),
                  verdict.met ? "met" : missed);
  if (verdict.met) return text;
  if (verdict.or_more) text += ": " + verdict.why_not;
  if (!verdict.reported.empty()) text += ": " + verdict.reported;
  if (!verdict.place) return text;
  const Vec place = units.shown(Dimension::length, *verdict.place);
  const std::string length = units.name(Dimension::length);
  return text + fmt::format(", at x {:.5g} {}, y {:.5g} {}", place.x, length, place.y, length);
}

Json remedies_json(const MissAdvice& miss, const Units& units) {
  const Dimension dimension = dimension_of(*miss.verdict->target);
  Json remedies = Json::array();
  for (const Remedy& remedy : miss.remedies) {
    Json breaks = Json::array();
    for (const Target* broken : remedy.breaks) breaks.push_back(subject_of(*broken));
    remedies.push_back({{"knob", remedy.place.key()},
                        {"from", knob_text(remedy.place, remedy.from, units)},
                        {"to", knob_text(remedy.place, remedy.to, units)},
                        {"measured", units.shown(dimension, remedy.measured)},
                        {"meets", remedy.meets},
                        {"switches_on", remedy.switches_on},
                        {"breaks", breaks}});
  }
  return remedies;
}

Json pairs_json(const MissAdvice& miss, const Units& units) {
  Json pairs = Json::array();
  for (const Change& change : miss.pairs) {
    Json knobs = Json::array();
    for (const KnobMove& move : change.knobs) {
      knobs.push_back({{"knob", move.place.key()},
                       {"from", knob_text(move.place, move.from, units)},
                       {"to", knob_text(move.place, move.to, units)}});
    }
    pairs.push_back(std::move(knobs));
  }
  return pairs;
}

}  // namespace

std::string name_of_integrator(const Tuning& tuning) {
  return std::get<std::string>(get_knob(tuning, *find_knob("loop.integrator")));
}

std::string describe_loop(const Tuning& tuning) {
  return fmt::format("{} Hz, {} loop{}", tuning.loop.tick_rate, name_of_integrator(tuning),
                     tuning.loop.gravity_on_launch_tick ? "" : ", no gravity on the launch tick");
}

std::string knob_text(const KnobPlace& place, const KnobValue& value, const Units& units) {
  const Knob& knob = *place.knob;
  if (const auto* duration = std::get_if<Duration>(&value)) {
    if (duration->unit == Duration::Unit::ticks) return duration_text(*duration);
    return units.text(Dimension::time, duration->amount);
  }
  if (const auto* number = std::get_if<double>(&value)) {
    if (knob.dimension == Dimension::ratio) return fmt::format("{:.6g}", *number);
    return units.text(knob.dimension, *number);
  }
  if (const auto* name = std::get_if<std::string>(&value)) return *name;
  return describe(value);
}

std::string derivation_table(const Derivation& derivation, const Units& units) {
  const Tuning& tuning = derivation.tuning;
  const ArcConstants& constants = derivation.constants;
  const ArcShape& asked = derivation.continuous;
  const auto& got = derivation.achieved;
  std::string text = fmt::format("constants for {}\n", describe_loop(tuning));
  constexpr int kPasted = 10;  // digits of what people copy
  const auto constant = [&](const char* name, double value, Dimension dimension) {
    text += fmt::format("  {:<24} {}\n", name, units.text(dimension, value, kPasted));
  };
  constant("gravity while rising", constants.gravity, Dimension::acceleration);
  constant("gravity while falling", constants.gravity * constants.fall_factor,
           Dimension::acceleration);
  constant("launch speed", constants.launch_speed, Dimension::speed);
  if (constants.terminal_speed) {
    constant("terminal speed", *constants.terminal_speed, Dimension::speed);
  }
  text += fmt::format("\n{:<16} {:>16}  {:>16}  {:<16} {}\n", "a jump with them", "in simulation",
                      "continuous", "difference", other_time_heading(units));
  const auto row = [&](const char* name, double measured, double target, Dimension dimension) {
    std::string line =
        fmt::format("  {:<14} {:>16}  {:>16}  {:<16} {}", name, units.text(dimension, measured),
                    units.text(dimension, target), difference(measured, target, dimension, units),
                    dimension == Dimension::time ? other_time(measured, units) : "");
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

std::string derivation_json(const Derivation& derivation, const Units& units) {
  const Tuning& tuning = derivation.tuning;
  const auto& got = derivation.achieved;
  const auto reported = [&units](double value, Dimension dimension) {
    return units.shown(dimension, value);
  };
  const double gravity = derivation.constants.gravity;
  const Json json{
      {"gravity", reported(gravity, Dimension::acceleration)},
      {"fall_gravity",
       reported(gravity * derivation.constants.fall_factor, Dimension::acceleration)},
      {"launch_speed", reported(derivation.constants.launch_speed, Dimension::speed)},
      {"fall_factor", derivation.constants.fall_factor},
      {"terminal_speed",
       reported_json(derivation.constants.terminal_speed, Dimension::speed, units)},
      {"tick_rate", tuning.loop.tick_rate},
      {"integrator", name_of_integrator(tuning)},
      {"gravity_on_launch_tick", tuning.loop.gravity_on_launch_tick},
      {"continuous",
       {{"height", reported(derivation.continuous.height, Dimension::length)},
        {"apex_time", reported(derivation.continuous.apex_time, Dimension::time)},
        {"air_time", reported(derivation.continuous.air_time, Dimension::time)},
        {"landing_speed", reported(derivation.continuous.landing_speed, Dimension::speed)}}},
      {"achieved",
       {{"height", reported(got.height, Dimension::length)},
        {"apex_time", reported(got.apex_time, Dimension::time)},
        {"air_time", reported(got.air_time, Dimension::time)},
        {"landing_speed", reported(got.landing_speed, Dimension::speed)},
        {"distance", reported_json(got.distance, Dimension::length, units)}}},
      {"units",
       {{"gravity", units.name(Dimension::acceleration)},
        {"fall_gravity", units.name(Dimension::acceleration)},
        {"launch_speed", units.name(Dimension::speed)},
        {"terminal_speed", units.name(Dimension::speed)},
        {"height", units.name(Dimension::length)},
        {"apex_time", units.name(Dimension::time)},
        {"air_time", units.name(Dimension::time)},
        {"landing_speed", units.name(Dimension::speed)},
        {"distance", units.name(Dimension::length)},
        {"tick_rate", "Hz"}}}};
  return json_text(json);
}

std::string drill_table(const Tuning& tuning, const Units& units,
                        const std::vector<Rounding>& roundings,
                        const std::vector<DrillReport>& reports) {
  const double rate = tuning.loop.tick_rate;
  std::string text = fmt::format("{}: {}\n", character_name(tuning.name), describe_loop(tuning));
  for (const Rounding& rounding : roundings) {
    text += fmt::format("  rounded: {}\n", describe(rounding, rate));
  }
  text += fmt::format("\n{:<28} {:>12} {:<8} {}\n", "fact", "measured", "unit",
                      other_time_heading(units));
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
      const Dimension dimension = fact.info->dimension;
      std::string line = fmt::format(
          "{:<28} {:>12} {:<8} {}", fact.info->name, value_text(fact, units), units.name(dimension),
          dimension == Dimension::time ? other_time(*fact.value, units) : "");
      line.erase(line.find_last_not_of(' ') + 1);
      text += line + "\n";
    }
  }
  for (const DrillReport& report : reports) {
    for (const Series& series : report.series) text += series_table(series, units);
  }
  return text;
}

std::string drill_json(const Tuning& tuning, const Units& units,
                       const std::vector<Rounding>& roundings,
                       const std::vector<DrillReport>& reports) {
  Json rounded = Json::array();
  for (const Rounding& rounding : roundings) {
    rounded.push_back(
        {{"knob", rounding.key},
         {"asked_ticks", rounding.asked_ticks},
         {"used_ticks", rounding.used_ticks},
         {"used_seconds", rounding.used_seconds},
         {"units", {{"asked_ticks", "ticks"}, {"used_ticks", "ticks"}, {"used_seconds", "s"}}}});
  }
  Json facts = Json::object();
  Json names = Json::object();
  Json missing = Json::object();
  Json skipped = Json::object();
  Json all_series = Json::object();
  Json limits = Json::array();
  for (const DrillReport& report : reports) {
    for (const Series& series : report.series) {
      Json values = Json::array();
      for (const double value : series.values)
        values.push_back(units.shown(series.dimension, value));
      all_series[std::string(series.name)] = {{"over", series.over},
                                              {"step", series.step},
                                              {"unit", units.name(series.dimension)},
                                              {"values", values}};
    }
    if (!report.skipped.empty()) skipped[std::string(report.drill->name)] = report.skipped;
    for (const Fact& fact : report.facts) {
      const std::string name(fact.info->name);
      if (fact.value) {
        facts[name] = units.shown(fact.info->dimension, *fact.value);
        names[name] = units.name(fact.info->dimension);
        if (fact.or_more) limits.push_back(name);
      } else {
        missing[name] = fact.why_not;
      }
    }
  }
  const Json json{{"tuning", tuning.name},
                  {"tick_rate", tuning.loop.tick_rate},
                  {"integrator", name_of_integrator(tuning)},
                  {"facts", facts},
                  {"units", names},
                  {"or_more", limits},
                  {"series", all_series},
                  {"rounded", rounded},
                  {"missing", missing},
                  {"skipped", skipped}};
  return json_text(json);
}

std::vector<std::string> curve_remarks(const std::vector<Target>& targets, Subject& subject) {
  constexpr double kMuch = 5;  // times another size
  std::vector<std::string> remarks;
  for (const Target& target : targets) {
    if (!target.follow) continue;
    const auto jump = find_drill(target.fact)->record(subject);
    if (!jump) continue;
    const double size = relative_size(*target.follow, *jump);
    if (size < kMuch && size > 1 / kMuch) continue;
    remarks.push_back(fmt::format(
        "{} is {:.3g} times the size of the {}; if its numbers are in other units, name "
        "them in its heading (x px,y px) or in the targets' [convention]",
        target.curve_name, size, target.fact));
  }
  return remarks;
}

Rounder rounder_in(const Units& units) {
  return [units](Dimension dimension, double value, int digits) {
    const double reported = units.shown(dimension, value);
    const auto rounded = parse_number(fmt::format("{:.{}g}", reported, digits));
    return units.meant(dimension, rounded.value_or(reported));
  };
}

std::string bound_text(const Target& target, const Units& units) {
  const Bound& bound = target.bound;
  // What was written comes back without the rounding there and back.
  const auto reported = [&](double value) {
    return fmt::format("{:.12g}", units.shown(dimension_of(target), value));
  };
  switch (bound.form) {
    case Bound::Form::aim: return fmt::format("{} ± {}", reported(bound.lo), reported(bound.hi));
    case Bound::Form::between:
      return fmt::format("{} … {}", reported(bound.lo), reported(bound.hi));
    case Bound::Form::at_least: return fmt::format("≥ {}", reported(bound.lo));
    case Bound::Form::at_most: break;
  }
  return fmt::format("≤ {}", reported(bound.hi));
}

std::string subject_of(const Target& target) {
  if (target.run) return fmt::format("{} in {}", target.fact, target.run->stage->inputs_name);
  if (!target.follow) return target.fact;
  return fmt::format("{} follows {}", target.fact, target.curve_name);
}

std::string judgement_table(const Tuning& tuning, const Units& units, const Judgement& judgement,
                            const std::vector<MissAdvice>& advice) {
  const auto met = std::count_if(judgement.verdicts.begin(), judgement.verdicts.end(),
                                 [](const Verdict& verdict) { return verdict.met; });
  std::string text = fmt::format("{}, {}: {} of {} targets met\n\n", character_name(tuning.name),
                                 describe_loop(tuning), met, judgement.verdicts.size());
  std::size_t wide = 42;
  for (const Verdict& verdict : judgement.verdicts) {
    wide = std::max(wide, subject_of(*verdict.target).size());
  }
  text += fmt::format("{:<{}} {:<8} {:>16} {:>12} {:>12}  {}\n", "target", wide, "unit", "aim",
                      "measured", "off by", "verdict");
  for (const Verdict& verdict : judgement.verdicts) {
    const Target& target = *verdict.target;
    const Dimension dimension = dimension_of(target);
    text += fmt::format("{:<{}} {:<8} {:>16} ", subject_of(target), wide, units.name(dimension),
                        bound_text(target, units));
    text += verdict_text(verdict, units);
    text += "\n";
  }
  for (const MissAdvice& miss : advice) text += advice_text(miss, units);
  return text;
}

std::string judgement_json(const Tuning& tuning, const Units& units, const Judgement& judgement,
                           const std::vector<MissAdvice>& advice) {
  static constexpr const char* kForms[] = {"aim", "between", "at_least", "at_most"};
  Json targets = Json::array();
  for (const Verdict& verdict : judgement.verdicts) {
    const Target& target = *verdict.target;
    const Bound& bound = target.bound;
    const Dimension dimension = dimension_of(target);
    const auto reported = [&](double value) { return units.shown(dimension, value); };
    Json aim;
    switch (bound.form) {
      case Bound::Form::aim:
      case Bound::Form::at_least: aim = reported(bound.lo); break;
      case Bound::Form::at_most: aim = reported(bound.hi); break;
      case Bound::Form::between: aim = {reported(bound.lo), reported(bound.hi)}; break;
    }
    Json item{{"fact", target.fact},
              {"form", target.follow ? "follow" : kForms[static_cast<int>(bound.form)]},
              {"aim", aim},
              {"within", bound.form == Bound::Form::aim ? Json(reported(bound.hi)) : Json()},
              {"measured", reported_json(verdict.measured, dimension, units)},
              {"off_by", verdict.measured ? Json(reported(verdict.off_by)) : Json()},
              {"or_more", verdict.or_more},
              {"verdict", verdict.met ? "met" : "missed"},
              {"priority", target.priority == Priority::must ? "must" : "should"},
              {"weight", target.weight},
              {"unit", units.name(dimension)}};
    if (target.follow) item["follow"] = target.curve_name;
    if (!verdict.measured) item["why_not"] = verdict.why_not;
    if (target.run) {
      item["run"] = {{"level", target.run->stage->level_name},
                     {"inputs", target.run->stage->inputs_name}};
      item["text"] = verdict.reported;
      item["place"] = verdict.place ? place_json(*verdict.place, units) : Json();
    }
    for (const MissAdvice& miss : advice) {
      if (miss.verdict != &verdict) continue;
      item["remedies"] = remedies_json(miss, units);
      item["pairs"] = pairs_json(miss, units);
    }
    targets.push_back(std::move(item));
  }
  const Json json{{"tuning", tuning.name},
                  {"tick_rate", tuning.loop.tick_rate},
                  {"met", judgement.met()},
                  {"targets", targets}};
  return json_text(json);
}

}  // namespace bushbaby
