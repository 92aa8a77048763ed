#include "bushbaby/lab/answer.h"

#include <algorithm>
#include <cmath>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/core/tuning/compile.h"

namespace bushbaby {
namespace {

using Targets = std::vector<Target>;

constexpr std::size_t kMostOptions = 3;

const FactInfo& info_of(std::string_view fact) {
  const Drill& drill = *drill_of_fact(fact);
  return *std::find_if(drill.facts.begin(), drill.facts.end(),
                       [fact](const FactInfo& info) { return info.name == fact; });
}

bool counts_ticks(const FactInfo& info) { return info.dimension == Dimension::ticks; }

bool is_about(const Targets& targets, std::string_view fact) {
  return std::any_of(targets.begin(), targets.end(),
                     [fact](const Target& target) { return target.fact == fact; });
}

// A target for a fact: more or less than now by a step.
Target target_for(const ComplaintFact& fact, double now, double step, double body_height) {
  const FactInfo& info = info_of(fact.fact);
  Target target;
  target.fact = fact.fact;
  double size = std::abs(now);
  // Heights may be negative, or near 0: more by a share of nothing would be nothing.
  constexpr double kOfBody = 0.5;
  if (fact.more && info.dimension == Dimension::length)
    size = std::max(size, kOfBody * body_height);
  const double by = counts_ticks(info) ? step : step * size;
  target.bound = fact.more ? Bound{Bound::Form::at_least, now + by, 0}
                           : Bound{Bound::Form::at_most, 0, now - by};
  if (counts_ticks(info) && !fact.more) target.bound.hi = std::max(target.bound.hi, 1.0);
  return target;
}

Target kept_target(std::string_view fact, double now, const Tuning& tuning) {
  constexpr double kWithin = 0.03;
  constexpr double kHalfTick = 0.5;
  constexpr double kLeast = 1e-6;
  Target target;
  target.fact = fact;
  const FactInfo& info = info_of(fact);
  double within = counts_ticks(info) ? kHalfTick : std::max(kWithin * std::abs(now), kLeast);
  // Times that are counted in ticks have none in between.
  constexpr double kOneTick = 1.001;
  if (info.dimension == Dimension::time) {
    within = std::max(within, kOneTick / tuning.loop.tick_rate);
  }
  target.bound = {Bound::Form::aim, now, within};
  return target;
}

// Adds what a complaint asks for; false, with the reason, if that cannot be.
bool ask(Answer& answer, const Complaint& complaint, const Tuning& tuning,
         const AnswerRequest& request, const std::vector<DrillReport>& reports) {
  for (const ComplaintFact& fact : complaint.facts) {
    const auto now = value_of(reports, fact.fact);
    if (!now) {
      answer.why_not =
          std::string(fact.fact) + " cannot be measured: the character does not do that";
      return false;
    }
    const auto& asked = counts_ticks(info_of(fact.fact)) ? request.ticks : request.share;
    Target target = target_for(fact, *now, asked.value_or(complaint.step), tuning.body.height);
    for (const Target& other : answer.targets) {
      if (other.fact != target.fact || other.bound.form == target.bound.form) continue;
      answer.why_not = "these complaints pull " + target.fact + " both ways";
      return false;
    }
    if (!is_about(answer.targets, target.fact)) answer.targets.push_back(std::move(target));
  }
  return true;
}

void keep(Answer& answer, const Tuning& tuning, const AnswerRequest& request,
          const std::vector<DrillReport>& reports) {
  const auto keep_one = [&](std::string_view fact) {
    const auto& allows = request.allows;
    if (std::find(allows.begin(), allows.end(), fact) != allows.end()) return;
    const auto now = value_of(reports, fact);
    if (now && !is_about(answer.targets, fact))
      answer.targets.push_back(kept_target(fact, *now, tuning));
  };
  for (const Complaint* complaint : answer.complaints) {
    for (const std::string_view fact : complaint->keeps) keep_one(fact);
  }
  for (const std::string& fact : request.keeps) keep_one(fact);
}

// Builds the targets of an answer; false, with the reason, if there can be no answer.
bool set_targets(Answer& answer, const Tuning& tuning, const AnswerRequest& request,
                 const std::vector<DrillReport>& reports) {
  for (const Complaint* complaint : answer.complaints) {
    if (!ask(answer, *complaint, tuning, request, reports)) {
      answer.targets.clear();
      return false;
    }
  }
  answer.asked = answer.targets.size();
  keep(answer, tuning, request, reports);
  return true;
}

std::vector<FreeKnob> knobs_for(const Tuning& tuning, const std::vector<const Complaint*>& about,
                                const std::vector<FreeKnob>& asked) {
  if (!asked.empty()) return asked;
  std::vector<FreeKnob> knobs = free_knobs(tuning);
  for (const Complaint* complaint : about) {
    for (const std::string_view key : complaint->switches) {
      const auto is_it = [key](const FreeKnob& knob) { return knob.place.knob->key == key; };
      if (std::any_of(knobs.begin(), knobs.end(), is_it)) continue;
      if (const auto knob = free_knob(tuning, *find_place(key))) knobs.push_back(*knob);
    }
  }
  return knobs;
}

// Choices, and what is switched off: those that meet the targets and break none.
std::vector<Change> changes_by_switches(const Tuning& tuning, const Targets& targets,
                                        const Rounder& round) {
  std::vector<Change> changes;
  const Judgement now = judge(targets, tuning);
  const auto missed = std::find_if(now.verdicts.begin(), now.verdicts.end(),
                                   [](const Verdict& verdict) { return !verdict.met; });
  if (missed == now.verdicts.end()) return changes;
  for (const Remedy& remedy : find_remedies(tuning, targets, *missed, round)) {
    if (!remedy.meets || !remedy.breaks.empty() || changes.size() == kMostOptions) continue;
    KnobMove move;
    move.place = remedy.place;
    move.from = remedy.from;
    move.to = remedy.to;
    Change change{{std::move(move)}, tuning, remedy.change};
    if (set_knob(change.tuning, *remedy.place.knob, remedy.to, remedy.place.row)) continue;
    if (judge(targets, change.tuning).met()) changes.push_back(std::move(change));
  }
  return changes;
}

// One change after another, as one.
Change joined(const Change& first, const Change& then) {
  Change both = then;
  both.size += first.size;
  for (const KnobMove& move : first.knobs) {
    const std::string key = move.place.key();
    const auto again = std::find_if(both.knobs.begin(), both.knobs.end(),
                                    [&key](const KnobMove& m) { return m.place.key() == key; });
    if (again == both.knobs.end()) {
      both.knobs.push_back(move);
    } else {
      again->from = move.from;
    }
  }
  return both;
}

// What answers complaints one after another: each from where those before it led.
class Steps {
 public:
  Steps(const Answer& answer, const AnswerRequest& request) : answer_(answer), request_(request) {}

  std::vector<Change> find(const Tuning& tuning) {
    std::vector<Change> found{{{}, tuning, 0}};
    for (std::size_t i = 1; i <= answer_.complaints.size(); ++i) {
      std::vector<Change> next;
      for (const Change& change : found) {
        for (Change& then : step(change.tuning, i)) {
          next.push_back(joined(change, then));
          if (next.back().knobs.empty()) next.back() = change;
        }
      }
      if (next.empty()) return {};
      found = best(std::move(next));
    }
    return found;
  }

 private:
  // What the first of the complaints ask for, and what all of them keep.
  [[nodiscard]] Targets targets(std::size_t complaints, bool keeps) const {
    Targets some;
    for (std::size_t k = 0; k < answer_.asked; ++k) {
      for (std::size_t i = 0; i < complaints; ++i) {
        const auto& facts = answer_.complaints[i]->facts;
        const bool asks = std::any_of(facts.begin(), facts.end(), [&](const ComplaintFact& fact) {
          return fact.fact == answer_.targets[k].fact;
        });
        if (asks && !is_about(some, answer_.targets[k].fact)) some.push_back(answer_.targets[k]);
      }
    }
    const auto asked = static_cast<std::ptrdiff_t>(answer_.asked);
    if (keeps) some.insert(some.end(), answer_.targets.begin() + asked, answer_.targets.end());
    return some;
  }

  [[nodiscard]] std::vector<Change> step(const Tuning& from, std::size_t complaints) const {
    const Targets all = targets(complaints, true);
    if (judge(all, from).met()) return {{{}, from, 0}};
    const std::vector<const Complaint*> about(
        answer_.complaints.begin(),
        answer_.complaints.begin() + static_cast<std::ptrdiff_t>(complaints));
    ChangeSearch search;
    search.knobs = knobs_for(from, about, request_.knobs);
    search.round = request_.round;
    std::vector<Change> found = find_changes(from, all, search);
    if (found.empty() && request_.knobs.empty())
      found = changes_by_switches(from, all, request_.round);
    if (found.empty()) found = find_changes(from, targets(complaints, false), search);
    return found;
  }

  // Those that keep most and turn least.
  [[nodiscard]] std::vector<Change> best(std::vector<Change> changes) const {
    if (answer_.complaints.size() == 1) return changes;
    std::vector<std::pair<std::size_t, Change>> ranked;
    for (Change& change : changes) {
      const Judgement after = judge(answer_.targets, change.tuning);
      const auto missed = std::count_if(after.verdicts.begin(), after.verdicts.end(),
                                        [](const Verdict& verdict) { return !verdict.met; });
      ranked.emplace_back(static_cast<std::size_t>(missed), std::move(change));
    }
    std::stable_sort(ranked.begin(), ranked.end(), [](const auto& a, const auto& b) {
      return a.first != b.first ? a.first < b.first : a.second.size < b.second.size;
    });
    std::vector<Change> best;
    for (auto& [missed, change] : ranked) {
      if (best.size() < kMostOptions) best.push_back(std::move(change));
    }
    return best;
  }

  const Answer& answer_;
  const AnswerRequest& request_;
};

std::vector<SideEffect> others_of(const std::vector<DrillReport>& before, const Tuning& after,
                                  const Targets& targets) {
  CharacterSubject subject(compile(after).rules);
  const std::vector<DrillReport> reports = run_drills(subject);
  std::vector<SideEffect> others;
  for (std::size_t d = 0; d < before.size(); ++d) {
    for (std::size_t f = 0; f < before[d].facts.size(); ++f) {
      const Fact& a = before[d].facts[f];
      if (f >= reports[d].facts.size()) continue;
      const Fact& b = reports[d].facts[f];
      constexpr double kSeen = 0.01;
      const bool same =
          a.value && b.value && std::abs(*a.value - *b.value) <= kSeen * std::abs(*a.value) + 1e-9;
      if (is_about(targets, a.info->name) || same || (!a.value && !b.value)) continue;
      others.push_back({a.info, a.value, b.value});
    }
  }
  return others;
}

bool does_what_was_asked(const Answer& answer, const Judgement& after) {
  const auto asked = static_cast<std::ptrdiff_t>(answer.asked);
  return std::all_of(after.verdicts.begin(), after.verdicts.begin() + asked,
                     [](const Verdict& verdict) { return verdict.met; });
}

}  // namespace

Answer answer_complaints(const Tuning& tuning, const std::vector<const Complaint*>& complaints,
                         const AnswerRequest& request) {
  Answer answer;
  for (const Complaint* complaint : complaints) {
    auto& all = answer.complaints;
    if (std::find(all.begin(), all.end(), complaint) == all.end()) all.push_back(complaint);
  }
  CharacterSubject subject(compile(tuning).rules, tuning.name);
  const std::vector<DrillReport> reports = run_drills(subject);
  if (!set_targets(answer, tuning, request, reports)) return answer;
  answer.before = judge(answer.targets, tuning);
  for (Change& change : Steps(answer, request).find(tuning)) {
    AnswerOption one;
    one.after = judge(answer.targets, change.tuning);
    if (!does_what_was_asked(answer, one.after)) continue;
    one.others = others_of(reports, change.tuning, answer.targets);
    one.change = std::move(change);
    answer.keeps_all = answer.keeps_all && one.after.met();
    answer.options.push_back(std::move(one));
  }
  if (answer.options.empty()) {
    answer.why_not =
        answer.complaints.size() > 1
            ? "answering one undoes another, whatever is turned of the knobs in use"
            : "no one or two of the knobs in use move " + answer.targets.front().fact + " that far";
  }
  return answer;
}

}  // namespace bushbaby
