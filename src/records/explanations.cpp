#include "bushbaby/records/explanations.h"

#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/records/trace_csv.h"
#include "bushbaby/records/zone_words.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;

// What a trial's surface is called on its level.
std::string surface_name(SurfaceId surface, const Level* level) {
  if (level == nullptr || surface >= level->solids.size()) return {};
  return solid_name(*level, surface);
}

std::string trial_text(const Trial& trial, const Level* level) {
  if (!trial.by_zone) return describe(trial, surface_name(trial.surface, level));
  return describe(trial, level == nullptr ? std::string() : zone_name(*level, trial.surface));
}

std::string title_of(const ExplainedTick& tick, const Units& units) {
  const Sample& s = tick.before;
  const Vec feet = units.shown(Dimension::length, visible_feet(s));
  const std::string length = units.name(Dimension::length);
  return fmt::format(
      "tick {} (from {:.4g} s on): at x {:.6g} {}, y {:.6g} {}; {} horizontal, {} vertical; {}; "
      "held: {}\n",
      tick.tick, static_cast<double>(s.tick) / units.tick_rate, feet.x, length, feet.y, length,
      units.text(Dimension::speed, s.velocity.x, 4), units.text(Dimension::speed, s.velocity.y, 4),
      name_of(s.stance), held_text(tick.held));
}

std::string happened_text(const std::vector<Event>& events, const Units& units,
                          const Level* level) {
  std::string text;
  for (const Event& event : events) {
    const std::string_view detail = detail_of(event);
    text += fmt::format("{}{}{}{}", text.empty() ? "" : ", ", name_of(event.kind),
                        detail.empty() ? "" : ":", detail);
    if (event.value == 0) continue;
    if (meaning_of(event.kind).value == EventValue::zone && level != nullptr) {
      text += " " + zone_name(*level, event.surface);
      continue;
    }
    const bool is_speed = meaning_of(event.kind).value == EventValue::speed;
    text += is_speed ? " at " + units.text(Dimension::speed, event.value, 4)
                     : fmt::format(" ({})", event.value);
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

// What is about the body: the zones whose rules are in force, with what they do, and surfaces that
// are solid at times. Empty if there is nothing.
std::string surroundings_text(const ExplainedTick& tick, const Units& units, const Level* level) {
  std::string text;
  if (tick.why.rides != kNoSurface) {
    const Vec speed = units.shown(Dimension::speed, tick.why.ride_speed);
    text += fmt::format("     carried by {}: [{:.4g}, {:.4g}] {}; its own speed is over that\n",
                        surface_name(tick.why.rides, level), speed.x, speed.y,
                        units.name(Dimension::speed));
  }
  for (const ZoneId zone : tick.zones) {
    if (level == nullptr || zone >= level->zones.size()) continue;
    text += fmt::format("     in {}: {}\n", zone_name(*level, zone),
                        fmt::join(deeds_of(level->zones[zone], units), "; "));
  }
  for (const ExplainedTick::Conditional& one : tick.conditionals) {
    if (level == nullptr || one.surface >= level->solids.size()) continue;
    const Solidity& now = one.solidity;
    text += fmt::format(
        "     {} is {}: {}\n", surface_name(one.surface, level), now.solid ? "solid" : "not solid",
        now.inside ? std::string("the body is in it")
                   : describe(now.decision, level->solids[one.surface].solid_when, *level, units));
  }
  return text;
}

// What the tick decided first, then what came of every other candidate.
std::string text_of(const ExplainedTick& tick, const Units& units, const Tuning& tuning,
                    const Level* level) {
  std::string text = title_of(tick, units);
  const auto by_zones = [&](std::string_view knob) {
    return level == nullptr ? std::string() : said_by_zones(knob, tick.zones, *level, units);
  };
  text += surroundings_text(tick, units, level);
  for (const bool taken : {true, false}) {
    for (const Trial& trial : tick.why.trials) {
      const bool named = trial.hurdle == Hurdle::not_asked || trial.hurdle == Hurdle::off ||
                         trial.hurdle == Hurdle::still_held;
      if (named || (trial.hurdle == Hurdle::none) != taken) continue;
      text += fmt::format("  {} {}{}\n", taken ? "->" : "  ", trial_text(trial, level),
                          by_zones(trial.knob));
    }
  }
  const std::string since =
      tick.jump_held_since
          ? fmt::format("held since tick {}, a new press is needed", *tick.jump_held_since)
          : std::string("still held");
  text += named_line(tick.why, Hurdle::still_held, since);
  text += named_line(tick.why, Hurdle::not_asked, "not asked for");
  text += named_line(tick.why, Hurdle::off, "not in the tuning");
  const Explanation& why = tick.why;
  if (!why.driven) {
    text += fmt::format("     run: nothing drives it ({})\n", why.drive);
  } else {
    text +=
        fmt::format("     run: towards {} ({})\n", units.text(Dimension::speed, why.drive_target),
                    std::string(why.drive) + by_zones(why.drive));
  }
  if (why.happens(Candidate::climb)) {
    text += fmt::format("     gravity: none, the body climbs ({})\n", why.gravity);
  } else if (why.gravity.empty()) {
    text += "     gravity: none, the body stands\n";
  } else {
    text += fmt::format("     gravity: {} ({})\n",
                        units.text(Dimension::acceleration, why.gravity_pull),
                        knobs_behind(why.gravity, tuning) + by_zones(why.gravity));
  }
  return text + fmt::format("     happened: {}\n", happened_text(tick.events, units, level));
}

Json zones_json(const ExplainedTick& tick, const Level* level) {
  Json names = Json::array();
  for (const ZoneId zone : tick.zones) {
    if (level == nullptr || zone >= level->zones.size()) continue;
    const std::string& name = level->zones[zone].name;
    names.push_back(name.empty() ? fmt::format("zone {}", zone + 1) : name);
  }
  return names;
}

Json tick_json(const ExplainedTick& tick, const Units& units, const Level* level) {
  Json trials = Json::array();
  for (const Trial& trial : tick.why.trials) {
    trials.push_back({{"candidate", name_of(trial.candidate)},
                      {"happens", trial.hurdle == Hurdle::none},
                      {"why", trial_text(trial, level)},
                      {"knob", trial.knob}});
  }
  Json events = Json::array();
  for (const Event& event : tick.events) events.push_back(event_text(event, units));
  const Sample& s = tick.before;
  const Vec feet = units.shown(Dimension::length, visible_feet(s));
  const Vec velocity = units.shown(Dimension::speed, s.velocity);
  Json json{{"tick", tick.tick},
            {"time", units.shown(Dimension::time, static_cast<double>(s.tick) / units.tick_rate)},
            {"place", {feet.x, feet.y}},
            {"velocity", {velocity.x, velocity.y}},
            {"stance", name_of(s.stance)},
            {"held", held_text(tick.held)},
            {"zones", zones_json(tick, level)},
            {"candidates", trials},
            {"run",
             {{"knob", tick.why.drive},
              {"towards", units.shown(Dimension::speed, tick.why.drive_target)}}},
            {"gravity",
             {{"knob", tick.why.gravity},
              {"pull", units.shown(Dimension::acceleration, tick.why.gravity_pull)}}},
            {"events", events}};
  if (tick.why.rides != kNoSurface) {
    const Vec speed = units.shown(Dimension::speed, tick.why.ride_speed);
    json["carried"] = {{"by", surface_name(tick.why.rides, level)}, {"speed", {speed.x, speed.y}}};
  }
  if (tick.jump_held_since) json["jump_held_since"] = *tick.jump_held_since;
  return json;
}

Json units_json(const Units& units) {
  return {{"place", units.name(Dimension::length)},
          {"velocity", units.name(Dimension::speed)},
          {"towards", units.name(Dimension::speed)},
          {"pull", units.name(Dimension::acceleration)},
          {"time", units.name(Dimension::time)},
          {"y", units.convention.vertical_down ? "down" : "up"}};
}

std::string ticks_text(std::int64_t ticks) {
  return fmt::format("{} tick{}", ticks, ticks == 1 ? "" : "s");
}

// The knob of the memory of a press.
std::string_view buffer_of(const Press& press) {
  return press.button == Button::dash ? "dash.buffer" : "jump.buffer";
}

// What came of a press, from its first tick to its last.
std::string text_of(const Press& press, const Level* level) {
  const std::string buffered = fmt::format("buffered for {}", ticks_text(press.remembered));
  switch (press.end) {
    case Press::End::done:
      if (press.remembered == 0) return trial_text(press.trial, level);
      return fmt::format("{} ({}), then {} at tick {}", buffered, buffer_of(press),
                         name_of(press.trial.candidate), press.end_tick);
    case Press::End::charged:
      return fmt::format("charged; released and jumped at tick {} (jump.charge.time)",
                         press.end_tick);
    case Press::End::replaced:
      return fmt::format("{}; pressed again at tick {}", trial_text(press.trial, level),
                         press.end_tick);
    case Press::End::open:
      return fmt::format("{}; the inputs end first", trial_text(press.trial, level));
    case Press::End::nothing: break;
  }
  std::string text = trial_text(press.trial, level);
  if (press.remembered > 0) text += "; " + buffered;
  if (press.too_soon_for) {
    const std::int64_t early = *press.too_soon_for - press.end_tick;
    text += press.remembered > 0
                ? fmt::format("; expired {} before a jump was possible ({})", ticks_text(early),
                              buffer_of(press))
                : fmt::format("; {} too soon", ticks_text(*press.too_soon_for - press.tick));
    if (press.lasted) {
      text += fmt::format("; held since tick {}: a new press is needed", press.tick);
    }
  } else if (press.remembered > 0) {
    text += fmt::format("; expired ({})", buffer_of(press));
  }
  return text;
}

std::string_view name_of(Press::End end) {
  switch (end) {
    case Press::End::done: return "done";
    case Press::End::charged: return "charged";
    case Press::End::nothing: return "nothing";
    case Press::End::replaced: return "replaced";
    case Press::End::open: break;
  }
  return "open";
}

constexpr int kAllDigits = 17;  // of a double

// A column of a trace at the end of a tick, as text.
std::string column_text(const Trace& trace, std::int64_t tick, std::string_view column,
                        const Units& units, int digits) {
  const auto at = std::find_if(trace.samples.begin(), trace.samples.end(),
                               [tick](const Sample& sample) { return sample.tick >= tick; });
  const Sample& sample = at == trace.samples.end() ? trace.samples.back() : *at;
  const Vec feet = units.shown(Dimension::length, sample.feet);
  const Vec velocity = units.shown(Dimension::speed, sample.velocity);
  const auto number = [&units, digits](double value, Dimension dimension) {
    return fmt::format("{:.{}g} {}", value, digits, units.name(dimension));
  };
  if (column == "held") return held_text(sample.held);
  if (column == "x") return number(feet.x, Dimension::length);
  if (column == "y") return number(feet.y, Dimension::length);
  if (column == "vx") return number(velocity.x, Dimension::speed);
  if (column == "vy") return number(velocity.y, Dimension::speed);
  if (column == "stance") return std::string(name_of(sample.stance));
  if (column == "grounded") return sample.grounded ? "1" : "0";
  std::vector<Event> events;
  for (const Event& event : trace.events) {
    if (event.tick == tick) events.push_back(event);
  }
  return happened_text(events, units, nullptr);
}

// A column of both runs at the end of a tick, with as many digits as it takes to see a difference.
std::pair<std::string, std::string> differing_texts(const PartingReport& report, std::int64_t tick,
                                                    std::string_view column) {
  constexpr int kShort = 6;
  std::pair<std::string, std::string> texts;
  for (int digits = kShort; digits <= kAllDigits && texts.first == texts.second; ++digits) {
    texts = {column_text(report.a, tick, column, report.units, digits),
             column_text(report.b, tick, column, report.units, digits)};
  }
  return texts;
}

// Every knob that either of two tunings has; rows that only the second has come last.
std::vector<KnobPlace> places_of_both(const Tuning& a, const Tuning& b) {
  std::vector<KnobPlace> places = places_of(a);
  for (const KnobPlace& place : places_of(b)) {
    if (!place.knob->has_row(a, place.row)) places.push_back(place);
  }
  return places;
}

}  // namespace

std::vector<KnobDifference> knob_differences(const Tuning& a, const Tuning& b, const Units& units) {
  std::vector<KnobDifference> differences;
  for (const KnobPlace& place : places_of_both(a, b)) {
    const auto value_in = [&](const Tuning& tuning) {
      return !place.knob->has_row(tuning, place.row)
                 ? std::string("no such row")
                 : describe(to_convention(units.convention, *place.knob,
                                          get_knob(tuning, *place.knob, place.row),
                                          units.tick_rate));
    };
    const std::string in_a = value_in(a);
    const std::string in_b = value_in(b);
    if (in_a != in_b) differences.push_back({place.key(), in_a, in_b});
  }
  return differences;
}

std::vector<std::string> differing_knobs(const Tuning& a, const Tuning& b, const Units& units) {
  std::vector<std::string> texts;
  for (const KnobDifference& one : knob_differences(a, b, units)) {
    texts.push_back(fmt::format("{}: {}, {}", one.key, one.in_a, one.in_b));
  }
  return texts;
}

std::string outcome_text(const Press& press, const Level& level) { return text_of(press, &level); }

std::string tick_text(const ExplainedTick& tick, const Units& units, const Tuning& tuning,
                      const Level& level) {
  return text_of(tick, units, tuning, &level);
}

std::string presses_text(const WhyReport& report) {
  const std::size_t count = report.presses.size();
  std::string text = fmt::format("{} on \"{}\", {} Hz: {} press{} of jump, down and dash\n",
                                 character_name(report.character), shortened(report.level.name),
                                 report.units.tick_rate, count, count == 1 ? "" : "es");
  if (count == 0) return text;
  text += fmt::format("\n{:>6}  {:<5} {}\n", "tick", "press", "result");
  for (const Press& press : report.presses) {
    text += fmt::format("{:>6}  {:<5} {}\n", press.tick, name_of(press.button),
                        text_of(press, &report.level));
  }
  return text + "\nEverything that a tick decided: --tick TICK, or --full for every press.\n";
}

std::string presses_json(const WhyReport& report) {
  Json presses = Json::array();
  for (const Press& press : report.presses) {
    Json item{{"tick", press.tick},
              {"button", name_of(press.button)},
              {"end", name_of(press.end)},
              {"end_tick", press.end_tick},
              {"buffered", press.remembered},
              {"lasted", press.lasted},
              {"candidate", name_of(press.trial.candidate)},
              {"knob", press.trial.knob},
              {"why", text_of(press, &report.level)}};
    if (press.too_soon_for) item["too_soon_for"] = *press.too_soon_for;
    presses.push_back(std::move(item));
  }
  const Json json{{"tuning", report.character},
                  {"level", report.level.name},
                  {"tick_rate", report.units.tick_rate},
                  {"presses", presses},
                  {"units", {{"tick", "ticks"}, {"end_tick", "ticks"}, {"buffered", "ticks"}}}};
  return json_text(json);
}

std::string why_text(const WhyReport& report) {
  std::string text = fmt::format("{} on \"{}\", {} Hz\n", character_name(report.character),
                                 shortened(report.level.name), report.units.tick_rate);
  if (report.ticks.empty()) text += "\nno jump, dash or down is pressed in these inputs\n";
  for (const ExplainedTick& tick : report.ticks) {
    text += "\n" + text_of(tick, report.units, report.tuning, &report.level);
  }
  return text;
}

std::string why_json(const WhyReport& report) {
  Json ticks = Json::array();
  for (const ExplainedTick& tick : report.ticks) {
    ticks.push_back(tick_json(tick, report.units, &report.level));
  }
  const Json json{{"tuning", report.character},
                  {"level", report.level.name},
                  {"tick_rate", report.units.tick_rate},
                  {"ticks", ticks},
                  {"units", units_json(report.units)}};
  return json_text(json);
}

std::string parting_text(const PartingReport& report) {
  if (!report.parting) {
    const std::size_t shared = shared_samples(report.a, report.b);
    const std::size_t ticks = shared > 0 ? shared - 1 : 0;
    std::string text = fmt::format("{} and {} are the same in all {} ticks\n", report.name_a,
                                   report.name_b, ticks);
    if (report.a.samples.size() != report.b.samples.size()) {
      text += fmt::format("{} has {} ticks, {} has {}\n", report.name_a,
                          report.a.samples.size() - 1, report.name_b, report.b.samples.size() - 1);
    }
    return text;
  }
  const Parting& parting = *report.parting;
  const double time = static_cast<double>(parting.tick) / report.a.tick_rate;  // at its end
  const std::string when = parting.at_start
                               ? "differ from the start"
                               : fmt::format("diverge at tick {} ({:.4g} s)", parting.tick, time);
  std::string text = fmt::format("{} and {} {}: {}\n", report.name_a, report.name_b, when,
                                 fmt::join(parting.over, ", "));
  for (const std::string_view column : parting.over) {
    const auto [in_a, in_b] = differing_texts(report, parting.tick, column);
    text += fmt::format("  {:<9} {}: {}\n  {:<9} {}: {}\n", column, report.name_a, in_a, "",
                        report.name_b, in_b);
  }
  if (!report.knobs.empty()) text += "\nthe tunings differ in\n";
  for (const std::string& knob : report.knobs) text += "  " + knob + "\n";
  for (const ExplainedTick& tick : report.why_a) {
    text += fmt::format("\n{}, {}", report.name_a,
                        text_of(tick, report.units, report.tuning_a, report.level));
  }
  for (const ExplainedTick& tick : report.why_b) {
    text += fmt::format("\n{}, {}", report.name_b,
                        text_of(tick, report.units, report.tuning_b, report.level));
  }
  return text;
}

std::string parting_json(const PartingReport& report) {
  Json json{{"a", report.name_a}, {"b", report.name_b}, {"parts", report.parting.has_value()}};
  if (report.parting) {
    json["tick"] = report.parting->tick;
    json["time"] = report.units.shown(
        Dimension::time, static_cast<double>(report.parting->tick) / report.a.tick_rate);
    json["at_start"] = report.parting->at_start;
    json["knobs"] = report.knobs;
    json["over"] = Json::array();
    for (const std::string_view column : report.parting->over) {
      json["over"].push_back(
          {{"column", column},
           {"a", column_text(report.a, report.parting->tick, column, report.units, kAllDigits)},
           {"b", column_text(report.b, report.parting->tick, column, report.units, kAllDigits)}});
    }
    for (const ExplainedTick& tick : report.why_a)
      json["why_a"] = tick_json(tick, report.units, report.level);
    for (const ExplainedTick& tick : report.why_b)
      json["why_b"] = tick_json(tick, report.units, report.level);
  }
  json["units"] = units_json(report.units);
  return json_text(json);
}

}  // namespace bushbaby
