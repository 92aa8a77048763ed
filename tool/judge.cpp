#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/remedies.h"
#include "bushbaby/lab/run_targets.h"
#include "bushbaby/lab/targets.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/views/level_map.h"
#include "bushbaby/views/verdict_chart.h"

#include "output.h"
#include "targeted.h"
#include "verb.h"

namespace bushbaby::tool {

namespace {

// The run of the first target that a run misses, or of the first one.
int draw_run(const Call& call, const TuningFile& file, const Units& units,
             const Judgement& judgement) {
  const Verdict* shown = nullptr;
  for (const Verdict& verdict : judgement.verdicts) {
    if (!verdict.target->run) continue;
    if (shown == nullptr || (shown->met && !verdict.met)) shown = &verdict;
  }
  if (shown == nullptr) {
    return fail({call_problem("--map", "no target with a run", "targets that say run = { … }")});
  }
  const RunAsk& ask = *shown->target->run;
  const RunOutcome outcome = measure_run(ask, file.tuning);
  if (!outcome.run) return fail(outcome.reported);
  const SubjectTraits& traits = outcome.run->traits;
  RunMap map{file.tuning.name,  ask.stage->level,   outcome.run->trace,
             traits.body_width, traits.body_height, units,
             traits.body_radius};
  if (!shown->met) {
    map.missed = outcome.place;
    map.missed_text = fmt::format("{}: {}", shown->target->fact, outcome.reported);
  }
  return draw_to(draw(map), call.text("--map"));
}

// What may be done about each target that is missed.
std::vector<MissAdvice> advice_on(const Judgement& judgement, const Tuning& tuning,
                                  const std::vector<Target>& targets, const Units& units) {
  std::vector<MissAdvice> advice;
  const Rounder round = rounder_in(units);
  for (const Verdict& verdict : judgement.verdicts) {
    if (verdict.met || !verdict.measured) continue;
    if (verdict.ticks > kMostAdvisedTicks) {
      say(fmt::format(
          "bushbaby: {}: a run of {} ticks is not tried with other values, one of up to "
          "{} is",
          verdict.target->fact, verdict.ticks, kMostAdvisedTicks));
      continue;
    }
    MissAdvice miss{&verdict, find_remedies(tuning, targets, verdict, round), {}};
    // Where every single knob breaks something, two may not.
    const bool quiet =
        std::any_of(miss.remedies.begin(), miss.remedies.end(),
                    [](const Remedy& remedy) { return remedy.meets && remedy.breaks.empty(); });
    std::vector<Change> changes;
    if (!quiet) changes = find_quiet_changes(tuning, judgement, verdict, {{}, 2, 2, round});
    for (Change& change : changes) {
      if (change.knobs.size() == 2) miss.pairs.push_back(std::move(change));
    }
    advice.push_back(std::move(miss));
  }
  return advice;
}

int judge(const Call& call) {
  const auto targeted = read_targeted(call);
  if (!targeted) return fail(targeted.error());
  const TuningFile& file = targeted->file;
  const Units& units = targeted->units;
  const std::vector<Target>& targets = targeted->targets.targets;
  CharacterSubject subject(targeted->rules, file.tuning.name);
  const Judgement judgement = bushbaby::judge(targets, file.tuning);
  const std::vector<MissAdvice> advice = advice_on(judgement, file.tuning, targets, units);
  print(call.has("--json") ? judgement_json(file.tuning, units, judgement, advice)
                           : judgement_table(file.tuning, units, judgement, advice));
  if (call.has("--plot")) {
    const int code =
        draw_to(draw(record_verdict_chart(judgement, subject, describe_loop(file.tuning), units)),
                call.text("--plot"));
    if (code != kDone) return code;
  }
  if (call.has("--map")) {
    if (const int code = draw_run(call, file, units, judgement); code != kDone) return code;
  }
  if (const int code = save_if_asked(call, file); code != kDone) return code;
  return judgement.met() ? kDone : kFindings;
}

}  // namespace

Verb judge_verb() {
  return {"judge",
          "compare what a tuning does with targets; exit code 1 if one is missed",
          {tuning_parameter(),
           {"TARGETS", "", "the targets file", Role::needs},
           set_parameter(),
           save_parameter(),
           units_parameter(),
           knobs_parameter(),
           plot_parameter("arcs against their references, and every target"),
           {"--map", "FILE",
            "where the first run that misses a target does so, as a picture: .png or .svg",
            Role::gives},
           json_parameter()},
          "",
          "which targets would a heavier fall miss, and by how much?",
          "bushbaby judge demo/pip.tuning.toml demo/pip.targets.toml \\\n"
          "               --set fall.factor=2.2 --plot verdict.png",
          judge};
}

}  // namespace bushbaby::tool
