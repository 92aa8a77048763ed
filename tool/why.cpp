#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/course_file.h"
#include "bushbaby/data/tape_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/explain.h"
#include "bushbaby/records/explanations.h"
#include "bushbaby/records/trace_csv.h"

#include "output.h"
#include "verbs.h"

namespace bushbaby::tool {
namespace {

Problem call_problem(std::string option, std::string found, std::string expected) {
  return {ProblemCode::contradiction, std::move(option),   0, 0, "",
          std::move(found),           std::move(expected), ""};
}

// A tuning on its course with its tape.
struct Run {
  std::string name;
  Tuning tuning;
  CharacterSubject subject;
  Stage stage;
  std::vector<Controls> controls;
};

int report_parting(const PartingReport& report, bool json) {
  print(json ? parting_json(report) : parting_text(report));
  return kDone;
}

// Where two recorded traces part.
int compare_traces(const WhyCall& call) {
  const auto a = load_trace(call.traces[0]);
  const auto b = load_trace(call.traces[1]);
  std::vector<Problem> problems;
  if (!a) append(problems, a.error());
  if (!b) append(problems, b.error());
  if (!problems.empty()) return fail(problems);
  if (a->tick_rate != b->tick_rate) {
    return fail(
        {call_problem("--traces", fmt::format("{} Hz and {} Hz", a->tick_rate, b->tick_rate),
                      "two traces of one tick rate")});
  }
  return report_parting({call.traces[0], call.traces[1], *a, *b, find_parting(*a, *b, call.within)},
                        call.json);
}

// Where the runs of two tunings on one tape part, and why.
int compare_runs(Run& a, Run& b, const WhyCall& call) {
  const auto trace_a = run_tape(a.subject, a.stage, a.controls);
  const auto trace_b = run_tape(b.subject, b.stage, b.controls);
  if (!trace_a || !trace_b) {
    return fail({call_problem(call.course, "a start inside a solid", "room for the body")});
  }
  PartingReport report{a.name,
                       b.name,
                       *trace_a,
                       *trace_b,
                       find_parting(*trace_a, *trace_b, call.within),
                       differing_knobs(a.tuning, b.tuning)};
  if (report.parting) {
    const std::vector<std::int64_t> tick{report.parting->tick};
    report.why_a = *explain_ticks(a.subject, a.stage, a.controls, tick);
    report.why_b = *explain_ticks(b.subject, b.stage, b.controls, tick);
  }
  return report_parting(report, call.json);
}

int explain_run(Run& run, const std::string& course, const WhyCall& call) {
  const auto most = static_cast<std::int64_t>(run.controls.size()) - 1;
  std::vector<std::int64_t> ticks = call.ticks;
  for (const std::int64_t tick : ticks) {
    if (tick >= 0 && tick <= most) continue;
    return fail({call_problem("--tick", fmt::format("{}", tick),
                              fmt::format("a tick of the tape, 0 to {}", most))});
  }
  if (ticks.empty()) ticks = presses_of(run.controls);
  const auto explained = explain_ticks(run.subject, run.stage, run.controls, ticks);
  if (!explained) {
    return fail({call_problem(call.course, "a start inside a solid", "room for the body")});
  }
  const WhyReport report{run.name, course, run.subject.traits().tick_rate, *explained};
  print(call.json ? why_json(report) : why_text(report));
  return kDone;
}

}  // namespace

int why(const WhyCall& call) {
  if (!(call.within >= 0) || !std::isfinite(call.within)) {
    return fail({call_problem("--within", fmt::format("{}", call.within), "a number, 0 or more")});
  }
  if (!call.traces.empty()) {
    if (!call.tuning.empty()) {
      return fail({call_problem("--traces", "a tuning as well",
                                "traces alone, or a tuning with "
                                "--course and --tape")});
    }
    return compare_traces(call);
  }
  if (call.tuning.empty() || call.course.empty() || call.tape.empty()) {
    return fail({call_problem("why", "too little to go on",
                              "TUNING --course COURSE --tape TAPE, or --traces A B")});
  }
  const bool two = !call.against.empty() || !call.other_settings.empty();
  const auto file = load_tuning(call.tuning, call.settings);
  auto other_settings = call.settings;
  other_settings.insert(other_settings.end(), call.other_settings.begin(),
                        call.other_settings.end());
  const auto other = load_tuning(call.against.empty() ? call.tuning : call.against,
                                 two ? other_settings : call.settings);
  const auto course = load_course(call.course);
  const auto tape = load_tape(call.tape);
  std::vector<Problem> problems;
  if (!file) append(problems, file.error());
  if (!other && two) append(problems, other.error());
  if (!course) append(problems, course.error());
  if (!tape) append(problems, tape.error());
  if (!problems.empty()) return fail(problems);

  const auto prepare = [&](const TuningFile& tuning) {
    const Rules rules = compile(tuning.tuning).rules;  // loading has checked it
    return Run{tuning.tuning.name, tuning.tuning, CharacterSubject(rules, tuning.tuning.name),
               course_stage(*course), controls_of(*tape, rules.tick_rate)};
  };
  Run run = prepare(*file);
  if (!two) return explain_run(run, course->name, call);
  Run second = prepare(*other);
  if (run.subject.traits().tick_rate != second.subject.traits().tick_rate) {
    return fail({call_problem("--against",
                              fmt::format("{} Hz and {} Hz", run.subject.traits().tick_rate,
                                          second.subject.traits().tick_rate),
                              "two tunings of one tick rate")});
  }
  if (run.name == second.name) {
    run.name += " (first)";
    second.name += " (second)";
  }
  return compare_runs(run, second, call);
}

}  // namespace bushbaby::tool
