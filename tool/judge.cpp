#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/targets.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/views/verdict_chart.h"

#include "output.h"
#include "verbs.h"

namespace bushbaby::tool {

int judge(const JudgeCall& call) {
  const auto file = load_tuning(call.tuning, call.settings);
  const auto targets = load_targets(call.targets);
  std::vector<Problem> problems;
  if (!file) append(problems, file.error());
  if (!targets) append(problems, targets.error());
  if (!problems.empty()) return fail(problems);
  const auto compiled = check_tuning(*file);
  if (!compiled) return fail(compiled.error());

  CharacterSubject subject(compiled->rules, file->tuning.name);
  const Judgement judgement = bushbaby::judge(*targets, subject);
  std::vector<MissAdvice> advice;
  for (const Verdict& verdict : judgement.verdicts) {
    if (verdict.met || !verdict.measured) continue;
    advice.push_back({&verdict, find_effects(file->tuning, *verdict.target)});
  }
  print(call.json ? judgement_json(file->tuning, judgement, advice)
                  : judgement_table(file->tuning, judgement, advice));
  if (!call.plot.empty()) {
    const int code = draw_if_asked(
        draw(record_verdict_chart(judgement, subject, describe_loop(file->tuning))), call.plot);
    if (code != kDone) return code;
  }
  return judgement.met() ? kDone : kFindings;
}

}  // namespace bushbaby::tool
