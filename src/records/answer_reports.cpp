#include "bushbaby/records/answer_reports.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/names.h"
#include "bushbaby/records/reports.h"

#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;
using detail::told_json;

constexpr std::size_t kMostOthers = 8;

std::string told(const std::optional<double>& value, Dimension dimension, const Units& units) {
  return value ? units.text(dimension, *value, 5) : std::string("none");
}

// By how much a value changes: a share, or what it was and is.
std::string change_text(const SideEffect& effect, const Units& units) {
  const Dimension dimension = effect.fact->dimension;
  std::string text = fmt::format("{} → {}", told(effect.before, dimension, units),
                                 told(effect.after, dimension, units));
  // Of what changes its sign, a share says nothing.
  if (effect.before && effect.after && *effect.before * *effect.after > 0) {
    constexpr double kPercent = 100;
    text += fmt::format(" ({:+.0f} %)",
                        kPercent * (*effect.after - *effect.before) / std::abs(*effect.before));
  }
  return text;
}

// Those that change most, by share, come first.
std::vector<SideEffect> by_share(std::vector<SideEffect> others) {
  const auto share = [](const SideEffect& effect) {
    if (!effect.before || !effect.after || *effect.before == 0) return 1.0;
    return std::abs((*effect.after - *effect.before) / *effect.before);
  };
  std::stable_sort(others.begin(), others.end(),
                   [&](const SideEffect& a, const SideEffect& b) { return share(a) > share(b); });
  return others;
}

// What a complaint moves: "hop.height down by 15 %".
std::string moves_text(const Complaint& complaint, std::string_view quote) {
  constexpr double kPercent = 100;
  const std::string step = complaint.step >= 1 ? fmt::format("{:g} ticks", complaint.step)
                                               : fmt::format("{:g} %", complaint.step * kPercent);
  std::string text;
  for (const ComplaintFact& fact : complaint.facts) {
    text += fmt::format("{}{}{}{} {} by {}", text.empty() ? "" : ", ", quote, fact.fact, quote,
                        fact.more ? "up" : "down", step);
  }
  return text;
}

std::string targets_text(const Answer& answer, const Units& units) {
  std::string text =
      fmt::format("\n{:<8} {:<28} {:<8} {:>12}  {}\n", "", "fact", "unit", "now", "then");
  for (std::size_t i = 0; i < answer.targets.size(); ++i) {
    const Target& target = answer.targets[i];
    const Dimension dimension = dimension_of(target);
    const auto& now = answer.before.verdicts[i].measured;
    const Bound& bound = target.bound;
    // What was measured is told as short as the table is.
    std::string wanted;
    switch (bound.form) {
      case Bound::Form::at_least:
        wanted = fmt::format("≥ {:.5g}", units.told(dimension, bound.lo));
        break;
      case Bound::Form::at_most:
        wanted = fmt::format("≤ {:.5g}", units.told(dimension, bound.hi));
        break;
      default: wanted = fmt::format("the same ± {:.3g}", units.told(dimension, bound.hi)); break;
    }
    text += fmt::format("{:<8} {:<28} {:<8} {:>12}  {}\n", i < answer.wanted ? "wanted" : "held",
                        target.fact, units.name(dimension),
                        now ? fmt::format("{:.5g}", units.told(dimension, *now)) : "none", wanted);
  }
  return text;
}

std::string way_table(const Answer& answer, std::size_t number, const Units& units) {
  const AnswerWay& one = answer.ways[number];
  std::string text = fmt::format("\nway {}\n", number + 1);
  for (const KnobMove& move : one.way.knobs) {
    text +=
        fmt::format("  turn   {:<26} {} → {}{}\n", move.place.key(),
                    knob_text(move.place, move.from, units), knob_text(move.place, move.to, units),
                    move.at_lo || move.at_hi ? ", as far as it usually goes" : "");
  }
  for (std::size_t i = 0; i < answer.targets.size(); ++i) {
    const Verdict& verdict = one.after.verdicts[i];
    text += fmt::format("  {:<6} {:<26} {}{}\n", i == 0 ? "then" : "", answer.targets[i].fact,
                        told(verdict.measured, dimension_of(answer.targets[i]), units),
                        verdict.met ? "" : ", which was to be held");
  }
  const std::vector<SideEffect> others = by_share(one.others);
  for (std::size_t i = 0; i < others.size() && i < kMostOthers; ++i) {
    text += fmt::format("  {:<6} {:<26} {}\n", i == 0 ? "costs" : "", others[i].fact->name,
                        change_text(others[i], units));
  }
  if (others.size() > kMostOthers) {
    text += fmt::format("         and {} more (--json lists all)\n", others.size() - kMostOthers);
  }
  if (others.empty()) text += "  costs  nothing else changes by more than 1 %\n";
  return text;
}

Json way_json(const Answer& answer, const AnswerWay& one, const Units& units) {
  Json knobs = Json::array();
  for (const KnobMove& move : one.way.knobs) {
    knobs.push_back({{"knob", move.place.key()},
                     {"from", knob_text(move.place, move.from, units)},
                     {"to", knob_text(move.place, move.to, units)}});
  }
  Json targets = Json::array();
  for (std::size_t i = 0; i < answer.targets.size(); ++i) {
    const Verdict& verdict = one.after.verdicts[i];
    targets.push_back(
        {{"fact", answer.targets[i].fact},
         {"after", told_json(verdict.measured, dimension_of(answer.targets[i]), units)},
         {"met", verdict.met}});
  }
  Json others = Json::array();
  for (const SideEffect& effect : by_share(one.others)) {
    const Dimension dimension = effect.fact->dimension;
    others.push_back({{"fact", effect.fact->name},
                      {"before", told_json(effect.before, dimension, units)},
                      {"after", told_json(effect.after, dimension, units)},
                      {"unit", units.name(dimension)}});
  }
  return {{"turn", knobs}, {"facts", targets}, {"costs", others}};
}

}  // namespace

std::string complaints_table() {
  std::string text = fmt::format("{:<16} {}\n", "word", "what is said");
  for (const Complaint& complaint : complaints()) {
    text += fmt::format("{:<16} {}\n", complaint.word, complaint.says);
    text += fmt::format("{:<16}   also: {}\n", "", fmt::join(complaint.also, ", "));
    text += fmt::format("{:<16}   {}; held: {}\n", "", moves_text(complaint, ""),
                        fmt::join(complaint.holds, ", "));
  }
  return text;
}

std::string complaint_reference() {
  std::string text =
      "| word | what is said | also | moves | holds | why |\n|---|---|---|---|---|---|\n";
  for (const Complaint& complaint : complaints()) {
    text += fmt::format("| {} | {} | {} | {} | `{}` | {} |\n", complaint.word, complaint.says,
                        fmt::join(complaint.also, ", "), moves_text(complaint, "`"),
                        fmt::join(complaint.holds, "`, `"), complaint.reason);
  }
  return text;
}

std::string answer_table(const Tuning& tuning, const Units& units, const Answer& answer) {
  const Complaint& complaint = *answer.complaint;
  std::string text =
      fmt::format("{}, {}: \"{}\", {}\n{}\n", character_name(tuning.name), describe_loop(tuning),
                  complaint.word, complaint.says, complaint.reason);
  if (!answer.targets.empty() && !answer.before.verdicts.empty())
    text += targets_text(answer, units);
  if (!answer.why_not.empty()) text += fmt::format("\nno way was found: {}\n", answer.why_not);
  if (!answer.ways.empty() && !answer.keeps_held) {
    text += "\nno one or two knobs do that and keep what is held; these let go of some of it\n";
  }
  for (std::size_t i = 0; i < answer.ways.size(); ++i) text += way_table(answer, i, units);
  return text;
}

std::string answer_json(const Tuning& tuning, const Units& units, const Answer& answer) {
  Json targets = Json::array();
  for (std::size_t i = 0; i < answer.before.verdicts.size(); ++i) {
    const Target& target = answer.targets[i];
    const Dimension dimension = dimension_of(target);
    targets.push_back({{"fact", target.fact},
                       {"role", i < answer.wanted ? "wanted" : "held"},
                       {"now", told_json(answer.before.verdicts[i].measured, dimension, units)},
                       {"then", bound_text(target, units)},
                       {"unit", units.name(dimension)}});
  }
  Json ways = Json::array();
  for (const AnswerWay& one : answer.ways) ways.push_back(way_json(answer, one, units));
  const Json json{{"tuning", tuning.name},
                  {"complaint", answer.complaint->word},
                  {"targets", targets},
                  {"ways", ways},
                  {"keeps_held", answer.keeps_held},
                  {"why_not", answer.why_not.empty() ? Json() : Json(answer.why_not)}};
  return json_text(json);
}

}  // namespace bushbaby
