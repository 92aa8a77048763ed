#include "bushbaby/records/fit_reports.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/data/names.h"
#include "bushbaby/records/reports.h"

#include "data/toml_text.h"
#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::json_text;
using detail::reported_json;

// ---- which knobs are free -----------------------------------------------------------------------

constexpr const char* kFreeWords =
    "a knob, over its usual range or another: fall.factor, \"fall.factor=1.2..2\"";

tl::unexpected<std::vector<Problem>> wrong_free(const std::string& text, std::string expected,
                                                std::string_view near = {}) {
  return tl::unexpected(std::vector<Problem>{
      {ProblemCode::bad_syntax, "--free", 0, 0, "", text, std::move(expected), std::string(near)}});
}

// ---- words --------------------------------------------------------------------------------------

std::size_t met_in(const Judgement& judgement) {
  return static_cast<std::size_t>(
      std::count_if(judgement.verdicts.begin(), judgement.verdicts.end(),
                    [](const Verdict& verdict) { return verdict.met; }));
}

std::string end_text(const Fit& fit) {
  const std::size_t all = fit.before.verdicts.size();
  const std::size_t met = met_in(fit.after);
  const std::string of =
      fmt::format("{} of {} targets met, {} were before", met, all, met_in(fit.before));
  switch (fit.end) {
    case FitEnd::met_before: return "every target is met as it is: nothing is turned";
    case FitEnd::met:
      return fmt::format("all {} targets met, {} were before", all, met_in(fit.before));
    case FitEnd::musts_met: return of + "; those that are missed are no musts";
    case FitEnd::out_of_budget:
      return of + fmt::format("; looking ended after {} evaluations", fit.evaluations);
    case FitEnd::missed: break;
  }
  return of + "; this is the nearest that was found";
}

std::string_view end_name(FitEnd end) {
  switch (end) {
    case FitEnd::met_before: return "met_before";
    case FitEnd::met: return "met";
    case FitEnd::musts_met: return "musts_met";
    case FitEnd::out_of_budget: return "out_of_budget";
    case FitEnd::missed: break;
  }
  return "missed";
}

bool has_moved(const KnobMove& move) { return !(move.from == move.to); }

Dimension amount_dimension(const KnobMove& move) {
  return usual_range(*move.place.knob, move.from, move.from).dimension;
}

// A size of an amount; of a bare factor, the number alone.
std::string size_text(double amount, Dimension dimension, int digits, const Units& units) {
  const double size = std::abs(amount);
  if (dimension == Dimension::ratio) return fmt::format("{:.{}g}", size, digits);
  return units.text(dimension, size, digits);
}

std::string change_text(const KnobMove& move, const Units& units) {
  const double from = *amount_of(move.from);
  const double to = *amount_of(move.to);
  if (move.by_ratio) return fmt::format("× {:.4g}", to / from);
  return (to > from ? "+" : "-") + size_text(to - from, amount_dimension(move), 4, units);
}

std::string leeway_text(const KnobMove& move, const Units& units) {
  if (!move.leeway) return "not determined by the targets";
  if (move.by_ratio) return fmt::format("± {:.2g} %", (*move.leeway - 1) * 100);
  return "± " + size_text(*move.leeway, amount_dimension(move), 2, units);
}

std::string moves_text(const Fit& fit, const Units& units) {
  std::string text = fmt::format("\n{:<28} {:>14} {:>14} {:>14}  {}\n", "knob", "before", "after",
                                 "change", "it may be off by");
  std::string still;
  for (const KnobMove& move : fit.knobs) {
    const std::string key = move.place.key();
    if (!has_moved(move)) {
      still += (still.empty() ? "" : ", ") + key;
      continue;
    }
    text += fmt::format(
        "{:<28} {:>14} {:>14} {:>14}  {}{}\n", key, knob_text(move.place, move.from, units),
        knob_text(move.place, move.to, units), change_text(move, units), leeway_text(move, units),
        move.at_lo   ? "; held by its lower bound"
        : move.at_hi ? "; held by its upper bound"
                     : "");
  }
  if (!still.empty()) text += fmt::format("left as they were: {}\n", still);
  return text;
}

std::string plain_text(const std::optional<double>& value, Dimension dimension,
                       const Units& units) {
  return value ? fmt::format("{:.6g}", units.shown(dimension, *value)) : std::string("none");
}

std::string targets_text(const Fit& fit, const Units& units) {
  std::size_t wide = 28;
  for (const Verdict& verdict : fit.after.verdicts) {
    wide = std::max(wide, subject_of(*verdict.target).size());
  }
  std::string text = fmt::format("\n{:<{}} {:<8} {:>16} {:>12} {:>12}  {}\n", "target", wide,
                                 "unit", "aim", "before", "after", "verdict");
  for (std::size_t i = 0; i < fit.after.verdicts.size(); ++i) {
    const Verdict& verdict = fit.after.verdicts[i];
    const Target& target = *verdict.target;
    const Dimension dimension = dimension_of(target);
    const std::string missed = target.priority == Priority::should ? "missed (should)" : "MISSED";
    text += fmt::format(
        "{:<{}} {:<8} {:>16} {:>12} {:>12}  {}\n", subject_of(target), wide, units.name(dimension),
        bound_text(target, units), plain_text(fit.before.verdicts[i].measured, dimension, units),
        plain_text(verdict.measured, dimension, units), verdict.met ? "met" : missed);
  }
  return text;
}

std::string step_text(const Slope& slope, Dimension dimension, const Units& units) {
  if (slope.by_ratio) return fmt::format("× {:.3g}", slope.step);
  return (slope.step < 0 ? "-" : "+") + size_text(slope.step, dimension, 3, units);
}

// Changes that are more than rounding.
bool is_seen(const std::optional<double>& change) {
  constexpr double kRounding = 1e-9;
  return change && std::abs(*change) > kRounding;
}

std::string slopes_text(const Fit& fit, const Units& units) {
  if (fit.slopes.empty()) return "";
  std::string text = "\nfrom there, turning one knob alone would change\n";
  std::size_t wide = 0;
  for (const Verdict& verdict : fit.after.verdicts) {
    wide = std::max(wide, subject_of(*verdict.target).size());
  }
  constexpr std::size_t kBefore = 41;  // of a line, before the target
  for (std::size_t i = 0; i < fit.slopes.size(); ++i) {
    const Slope& slope = fit.slopes[i];
    std::string head = fmt::format("  {:<28} {:<10}", slope.place.key(),
                                   step_text(slope, amount_dimension(fit.knobs[i]), units));
    bool any = false;
    for (std::size_t k = 0; k < slope.change.size(); ++k) {
      if (!is_seen(slope.change[k])) continue;
      const Target& target = *fit.after.verdicts[k].target;
      const double change = *slope.change[k];
      text +=
          fmt::format("{} {:<{}} {}{}\n", head, subject_of(target), wide, change > 0 ? "+" : "-",
                      units.text(dimension_of(target), std::abs(change), 4));
      head = std::string(kBefore, ' ');
      any = true;
    }
    if (!any) text += head + " none of the targets\n";
  }
  return text;
}

std::string target_text(const Target& target, const Units& units) {
  return fmt::format("{} {}", subject_of(target), bound_text(target, units)) + " " +
         units.name(dimension_of(target));
}

std::string conflicts_text(const Fit& fit, const Units& units) {
  if (fit.conflicts.empty()) return "";
  std::string text = "\nwhat was not found to go together, with the knobs that are free\n";
  for (const Conflict& conflict : fit.conflicts) {
    std::string names;
    for (const Target* target : conflict.targets) {
      names += (names.empty() ? "" : ", with ") + target_text(*target, units);
    }
    const bool alone = conflict.targets.size() == 1;
    text += fmt::format("  {}{}\n", names, alone ? ", by itself" : "");
    for (std::size_t i = 0; i < conflict.targets.size(); ++i) {
      const Target& target = *conflict.targets[i];
      if (!conflict.nearest[i]) continue;
      const double measured = *conflict.nearest[i];
      const double off = off_by(target.bound, measured);
      text += fmt::format("    {}: {} comes nearest, off by {}{}\n",
                          alone ? "of all that was tried"
                                : "for the rest of them " + subject_of(target) + " gives way",
                          units.text(dimension_of(target), measured), off < 0 ? "-" : "+",
                          units.text(dimension_of(target), std::abs(off), 4));
    }
  }
  return text;
}

// ---- for machines -------------------------------------------------------------------------------

Json moves_json(const Fit& fit, const Units& units) {
  Json moves = Json::array();
  for (std::size_t i = 0; i < fit.knobs.size(); ++i) {
    const KnobMove& move = fit.knobs[i];
    Json item{{"knob", move.place.key()},
              {"from", knob_text(move.place, move.from, units)},
              {"to", knob_text(move.place, move.to, units)},
              {"moved", has_moved(move)},
              {"at_lower_bound", move.at_lo},
              {"at_upper_bound", move.at_hi},
              {"leeway", move.leeway ? Json(leeway_text(move, units)) : Json()}};
    if (i < fit.slopes.size()) {
      Json changes = Json::array();
      for (std::size_t k = 0; k < fit.slopes[i].change.size(); ++k) {
        changes.push_back(reported_json(fit.slopes[i].change[k],
                                        dimension_of(*fit.after.verdicts[k].target), units));
      }
      item["step"] = step_text(fit.slopes[i], amount_dimension(move), units);
      item["changes"] = changes;  // by target
    }
    moves.push_back(std::move(item));
  }
  return moves;
}

Json targets_json(const Fit& fit, const Units& units) {
  Json targets = Json::array();
  for (std::size_t i = 0; i < fit.after.verdicts.size(); ++i) {
    const Verdict& verdict = fit.after.verdicts[i];
    const Dimension dimension = dimension_of(*verdict.target);
    targets.push_back({{"target", subject_of(*verdict.target)},
                       {"aim", bound_text(*verdict.target, units)},
                       {"before", reported_json(fit.before.verdicts[i].measured, dimension, units)},
                       {"after", reported_json(verdict.measured, dimension, units)},
                       {"verdict", verdict.met ? "met" : "missed"},
                       {"unit", units.name(dimension)}});
  }
  return targets;
}

Json conflicts_json(const Fit& fit, const Units& units) {
  Json conflicts = Json::array();
  for (const Conflict& conflict : fit.conflicts) {
    Json names = Json::array();
    for (std::size_t i = 0; i < conflict.targets.size(); ++i) {
      const Target& target = *conflict.targets[i];
      names.push_back({{"target", subject_of(target)},
                       {"aim", bound_text(target, units)},
                       {"nearest", reported_json(conflict.nearest[i], dimension_of(target), units)},
                       {"unit", units.name(dimension_of(target))}});
    }
    conflicts.push_back(std::move(names));
  }
  return conflicts;
}

}  // namespace

Result<FreeKnob> parse_free(const TuningFile& file, const std::string& text) {
  const std::size_t equals = std::min(text.find('='), text.size());
  const std::string key(detail::trimmed(std::string_view(text).substr(0, equals)));
  const auto place = find_place(key);
  if (!place || !place->knob->has_row(file.tuning, place->row)) {
    std::vector<std::string_view> keys;
    for (const Knob& knob : knobs()) keys.push_back(knob.key);
    return wrong_free(text, kFreeWords, nearest_name(key, keys));
  }
  const auto usual = free_knob(file.tuning, *place);
  if (!usual) return wrong_free(text, "a knob that is set, to a number or a time");
  if (equals == text.size()) return *usual;
  const std::string range = text.substr(equals + 1);
  const std::size_t dots = range.find("..");
  if (dots == std::string::npos) return wrong_free(text, kFreeWords);
  const auto lo =
      value_for(file, key, std::string(detail::trimmed(range.substr(0, dots))), "--free");
  if (!lo) return tl::unexpected(lo.error());
  const auto hi =
      value_for(file, key, std::string(detail::trimmed(range.substr(dots + 2))), "--free");
  if (!hi) return tl::unexpected(hi.error());
  const auto free = free_knob(file.tuning, *place, *lo, *hi);
  if (!free || !(free->lo < free->hi))
    return wrong_free(text, "LOW..HIGH, two values in that order");
  return *free;
}

Result<FreeKnob> free_of(const FreeRow& row, const Tuning& tuning) {
  const bool has_row = row.place.knob->has_row(tuning, row.place.row);
  const bool is_usual = std::holds_alternative<std::monostate>(row.lo);
  const auto free = !has_row   ? std::nullopt
                    : is_usual ? free_knob(tuning, row.place)
                               : free_knob(tuning, row.place, row.lo, row.hi);
  if (free) return *free;
  return tl::unexpected(std::vector<Problem>{
      {ProblemCode::contradiction, row.path, row.line, row.column, row.place.key(),
       "a knob that the tuning has not set", "one that is a number or a time there", ""}});
}

std::string fit_table(const Tuning& before, const Units& units, const Fit& fit) {
  std::string text = fmt::format("{}, {}: {}\n", character_name(before.name), describe_loop(before),
                                 end_text(fit));
  if (fit.end != FitEnd::met_before) text += moves_text(fit, units);
  text += targets_text(fit, units);
  text += conflicts_text(fit, units);
  text += slopes_text(fit, units);
  if (fit.end != FitEnd::met_before) {
    text += fmt::format("\n{} tunings were tried, from {} start{}\n", fit.evaluations, fit.starts,
                        fit.starts == 1 ? "" : "s");
  }
  return text;
}

std::string fit_json(const Tuning& before, const Units& units, const Fit& fit) {
  const Json json{{"tuning", before.name},
                  {"end", end_name(fit.end)},
                  {"knobs", moves_json(fit, units)},
                  {"targets", targets_json(fit, units)},
                  {"conflicts", conflicts_json(fit, units)},
                  {"evaluations", fit.evaluations},
                  {"starts", fit.starts}};
  return json_text(json);
}

}  // namespace bushbaby
