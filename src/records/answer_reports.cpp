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
using detail::reported_json;

constexpr std::size_t kMostOthers = 8;

std::string reported(const std::optional<double>& value, Dimension dimension, const Units& units) {
  return value ? units.text(dimension, *value, 5) : std::string("none");
}

// By how much a value changes: a share, or what it was and is.
std::string change_text(const SideEffect& effect, const Units& units) {
  const Dimension dimension = effect.fact->dimension;
  std::string text = fmt::format("{} → {}", reported(effect.before, dimension, units),
                                 reported(effect.after, dimension, units));
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

// Other ways to say it: "floats, hangs, no gravity".
std::string also_text(const Complaint& complaint) {
  std::string text;
  const auto add = [&text](std::string_view before, std::string_view phrase) {
    text += fmt::format("{}{}{}", text.empty() ? "" : ", ", before, phrase);
  };
  for (const std::string_view phrase : complaint.has) add("", phrase);
  for (const std::string_view phrase : complaint.lacks) add("not enough ", phrase);
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
    std::string bound_text;
    switch (bound.form) {
      case Bound::Form::at_least:
        bound_text = fmt::format("≥ {:.5g}", units.shown(dimension, bound.lo));
        break;
      case Bound::Form::at_most:
        bound_text = fmt::format("≤ {:.5g}", units.shown(dimension, bound.hi));
        break;
      default:
        bound_text = fmt::format("the same ± {:.3g}", units.shown(dimension, bound.hi));
        break;
    }
    text +=
        fmt::format("{:<8} {:<28} {:<8} {:>12}  {}\n", i < answer.asked ? "target" : "kept",
                    target.fact, units.name(dimension),
                    now ? fmt::format("{:.5g}", units.shown(dimension, *now)) : "none", bound_text);
  }
  return text;
}

std::string option_table(const Answer& answer, std::size_t number, const Units& units) {
  const AnswerOption& one = answer.options[number];
  std::string text = fmt::format("\noption {}\n", number + 1);
  for (const KnobMove& move : one.change.knobs) {
    text +=
        fmt::format("  set    {:<26} {} → {}{}\n", move.place.key(),
                    knob_text(move.place, move.from, units), knob_text(move.place, move.to, units),
                    move.at_lo || move.at_hi ? ", the end of its usual range" : "");
  }
  for (std::size_t i = 0; i < answer.targets.size(); ++i) {
    const Verdict& verdict = one.after.verdicts[i];
    text += fmt::format("  {:<6} {:<26} {}{}\n", i == 0 ? "then" : "", answer.targets[i].fact,
                        reported(verdict.measured, dimension_of(answer.targets[i]), units),
                        verdict.met ? "" : ", not kept");
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

Json option_json(const Answer& answer, const AnswerOption& one, const Units& units) {
  Json knobs = Json::array();
  for (const KnobMove& move : one.change.knobs) {
    knobs.push_back({{"knob", move.place.key()},
                     {"from", knob_text(move.place, move.from, units)},
                     {"to", knob_text(move.place, move.to, units)}});
  }
  Json targets = Json::array();
  for (std::size_t i = 0; i < answer.targets.size(); ++i) {
    const Verdict& verdict = one.after.verdicts[i];
    targets.push_back(
        {{"fact", answer.targets[i].fact},
         {"after", reported_json(verdict.measured, dimension_of(answer.targets[i]), units)},
         {"met", verdict.met}});
  }
  Json others = Json::array();
  for (const SideEffect& effect : by_share(one.others)) {
    const Dimension dimension = effect.fact->dimension;
    others.push_back({{"fact", effect.fact->name},
                      {"before", reported_json(effect.before, dimension, units)},
                      {"after", reported_json(effect.after, dimension, units)},
                      {"unit", units.name(dimension)}});
  }
  return {{"set", knobs}, {"facts", targets}, {"costs", others}};
}

}  // namespace

std::string complaints_table() {
  std::string text = fmt::format("{:<16} {}\n", "complaint", "what a player would say");
  for (const Complaint& complaint : complaints()) {
    text += fmt::format("{:<16} {}\n", complaint.word, complaint.says);
    if (const std::string also = also_text(complaint); !also.empty())
      text += fmt::format("{:<16}   also: {}\n", "", also);
    text += fmt::format("{:<16}   moves {}; keeps {}\n", "", moves_text(complaint, ""),
                        fmt::join(complaint.keeps, ", "));
  }
  return text;
}

std::string complaint_reference() {
  std::string text =
      "| complaint | what a player would say | also | moves | keeps | why |\n"
      "|---|---|---|---|---|---|\n";
  for (const Complaint& complaint : complaints()) {
    text += fmt::format("| {} | {} | {} | {} | `{}` | {} |\n", complaint.word, complaint.says,
                        also_text(complaint), moves_text(complaint, "`"),
                        fmt::join(complaint.keeps, "`, `"), complaint.reason);
  }
  return text;
}

std::string answer_table(const Tuning& tuning, const Units& units, const Answer& answer) {
  std::string text = fmt::format("{}, {}\n", character_name(tuning.name), describe_loop(tuning));
  for (const Complaint* complaint : answer.complaints) {
    text += fmt::format("\"{}\": {}\n{}\n", complaint->word, complaint->says, complaint->reason);
  }
  if (!answer.targets.empty() && !answer.before.verdicts.empty())
    text += targets_text(answer, units);
  if (!answer.why_not.empty()) text += fmt::format("\nno answer found: {}\n", answer.why_not);
  if (!answer.options.empty() && !answer.keeps_all) {
    text += "\nno change of one or two knobs keeps all of that; these keep most of it\n";
  }
  for (std::size_t i = 0; i < answer.options.size(); ++i) text += option_table(answer, i, units);
  return text;
}

std::string answer_json(const Tuning& tuning, const Units& units, const Answer& answer) {
  Json targets = Json::array();
  for (std::size_t i = 0; i < answer.before.verdicts.size(); ++i) {
    const Target& target = answer.targets[i];
    const Dimension dimension = dimension_of(target);
    targets.push_back({{"fact", target.fact},
                       {"role", i < answer.asked ? "target" : "kept"},
                       {"now", reported_json(answer.before.verdicts[i].measured, dimension, units)},
                       {"then", bound_text(target, units)},
                       {"unit", units.name(dimension)}});
  }
  Json options = Json::array();
  for (const AnswerOption& one : answer.options) options.push_back(option_json(answer, one, units));
  Json words = Json::array();
  for (const Complaint* complaint : answer.complaints) words.push_back(complaint->word);
  const Json json{{"tuning", tuning.name},
                  {"complaints", words},
                  {"targets", targets},
                  {"options", options},
                  {"keeps_all", answer.keeps_all},
                  {"why_not", answer.why_not.empty() ? Json() : Json(answer.why_not)}};
  return json_text(json);
}

}  // namespace bushbaby
