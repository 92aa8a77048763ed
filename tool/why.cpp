#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/explain.h"
#include "bushbaby/lab/playing.h"
#include "bushbaby/records/explanations.h"
#include "bushbaby/records/run_reports.h"
#include "bushbaby/records/trace_csv.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// What of a call is no file.
struct Request {
  std::vector<std::int64_t> ticks;
  std::optional<std::string> within;
  bool full = false;
  bool json = false;
  std::string level;  // its path
};

// A tuning on its level with its inputs.
struct Run {
  std::string name;
  Tuning tuning;
  Units units;  // in which numbers are reported
  CharacterSubject subject;
  Stage stage;
  Trace trace;
  std::vector<Controls> controls;  // of its ticks
  bool stalled = false;            // it ended before its inputs
};

// How far numbers may lie apart and still be the same, in u and u/s.
Result<double> margin_of(const Request& ask, const Units& units) {
  if (!ask.within) return 0.0;
  const auto within = parse_quantity(*ask.within, Dimension::length, units);
  if (within && std::isfinite(*within) && *within >= 0) return *within;
  return tl::unexpected(std::vector<Problem>{call_problem(
      "--within", *ask.within, describe_quantity(Dimension::length, units) + ", 0 or more")});
}

int report_parting(const PartingReport& report, bool json) {
  print(json ? parting_json(report) : parting_text(report));
  return kDone;
}

// Where two recorded traces part.
int compare_traces(const std::string& path_a, const std::string& path_b, const Request& ask) {
  const auto a = load_trace(path_a);
  const auto b = load_trace(path_b);
  std::vector<Problem> problems;
  if (!a) append(problems, a.error());
  if (!b) append(problems, b.error());
  if (!problems.empty()) return fail(problems);
  if (a->trace.tick_rate != b->trace.tick_rate) {
    return fail({call_problem(
        "--traces", fmt::format("{} Hz and {} Hz", a->trace.tick_rate, b->trace.tick_rate),
        "two traces of one tick rate")});
  }
  if (a->units.describe() != b->units.describe()) {
    return fail({call_problem("--traces",
                              fmt::format("{}; and {}", a->units.describe(), b->units.describe()),
                              "two traces in the same units")});
  }
  if (shared_samples(a->trace, b->trace) == 0) {
    const auto ticks_of = [](const Trace& trace) {
      return fmt::format("{} to {}", trace.samples.front().tick, trace.samples.back().tick);
    };
    return fail({call_problem(
        "--traces", fmt::format("ticks {} and {}", ticks_of(a->trace), ticks_of(b->trace)),
        "two traces that have ticks in common")});
  }
  const auto within = margin_of(ask, a->units);
  if (!within) return fail(within.error());
  PartingReport report{path_a, path_b, a->trace, b->trace,
                       find_parting(a->trace, b->trace, *within)};
  report.units = a->units;
  return report_parting(report, ask.json);
}

// Where the runs of two tunings on the same inputs part, and why.
int compare_runs(Run& a, Run& b, const Request& ask) {
  const auto within = margin_of(ask, a.units);
  if (!within) return fail(within.error());
  PartingReport report{a.name,
                       b.name,
                       a.trace,
                       b.trace,
                       find_parting(a.trace, b.trace, *within),
                       a.units,
                       &a.stage.level,
                       differing_knobs(a.tuning, b.tuning, a.units)};
  if (report.parting) {
    const std::vector<std::int64_t> tick{report.parting->tick};
    report.why_a = *explain_ticks(a.subject, a.stage, a.controls, tick);
    report.why_b = *explain_ticks(b.subject, b.stage, b.controls, tick);
    report.tuning_a = a.tuning;
    report.tuning_b = b.tuning;
  }
  const int code = report_parting(report, ask.json);
  return code == kDone && (a.stalled || b.stalled) ? kFindings : code;
}

int explain_run(Run& run, const Request& ask) {
  const auto most = static_cast<std::int64_t>(run.controls.size());
  std::vector<std::int64_t> ticks = ask.ticks;
  for (const std::int64_t tick : ticks) {
    if (tick >= 1 && tick <= most) continue;
    return fail({call_problem("--tick", fmt::format("{}", tick),
                              fmt::format("a tick of the inputs, 1 to {}", most))});
  }
  WhyReport report{run.name, run.stage.level, run.units, {}, {}, run.tuning};
  const bool in_brief = ticks.empty() && !ask.full;
  if (in_brief) {
    report.presses = *follow_presses(run.subject, run.stage, run.controls);
  } else {
    if (ticks.empty()) ticks = presses_of(run.controls);
    report.ticks = *explain_ticks(run.subject, run.stage, run.controls, ticks);
  }
  if (in_brief) {
    print(ask.json ? presses_json(report) : presses_text(report));
  } else {
    print(ask.json ? why_json(report) : why_text(report));
  }
  return run.stalled ? kFindings : kDone;
}

// Plays the inputs; says where they end early.
Result<Run> prepare_run(const TuningFile& file, const LevelFile& level, const Inputs& inputs,
                        const Units& units, const Request& ask) {
  const auto book = compile_for(file, level, ask.level, units);
  if (!book) return tl::unexpected(book.error());
  Run run{file.tuning.name,         file.tuning, units, CharacterSubject(*book, file.tuning.name),
          level_stage(level.level), {},          {}};
  auto played = play(run.subject, run.stage, inputs);
  if (!played) {
    return tl::unexpected(no_room(ask.level, level.level, book->rules(0), units));
  }
  if (played->stall) {
    run.stalled = true;
    say(fmt::format("bushbaby: {}: {}", run.name, describe(*played->stall, units)));
  }
  run.trace = std::move(played->trace);
  run.controls = controls_of(run.trace);
  return run;
}

// Reads what is no file; collects what is wrong with it.
Request read_request(const Call& call, std::vector<Problem>& problems) {
  Request ask;
  ask.json = call.has("--json");
  ask.level = call.text("--level");
  for (const std::string& text : call.texts("--tick")) {
    const auto number = parse_number(text);
    constexpr double kMost = 1e15;
    if (number && *number == std::floor(*number) && std::abs(*number) <= kMost) {
      ask.ticks.push_back(static_cast<std::int64_t>(*number));
    } else {
      problems.push_back(call_problem("--tick", text, "a whole number"));
    }
  }
  if (call.has("--within")) ask.within = call.text("--within");
  ask.full = call.has("--full");
  return ask;
}

// The files of a run must be given whole, and not beside two traces.
std::vector<Problem> find_why_gaps(const Call& call) {
  const bool has_any = call.has("TUNING") || call.has("--level") || call.has("--inputs");
  if (call.has("--traces")) {
    if (!has_any) return {};
    return {call_problem("--traces", "a tuning, a level or inputs beside it", "two traces alone")};
  }
  if (!has_any) {
    return {call_problem("", "nothing to explain",
                         "TUNING --level LEVEL --inputs INPUTS, or --traces A B")};
  }
  std::vector<Problem> problems;
  for (const char* needed : {"TUNING", "--level", "--inputs"}) {
    if (call.has(needed)) continue;
    problems.push_back(
        call_problem("", fmt::format("no {}", needed), "TUNING --level LEVEL --inputs INPUTS"));
  }
  return problems;
}

int why(const Call& call) {
  std::vector<Problem> problems = find_why_gaps(call);
  const Request ask = read_request(call, problems);
  if (!problems.empty()) return fail(problems);
  if (call.has("--traces")) {
    const auto& traces = call.texts("--traces");
    return compare_traces(traces[0], traces[1], ask);
  }
  const bool two = call.has("--against") || call.has("--against-set");
  if (two && call.has("--tick")) {
    return fail({call_problem("--tick", "a second run to compare with",
                              "--tick without --against and --against-set: where two runs part is "
                              "found, not asked")});
  }
  const auto file = load_tuning(call.text("TUNING"), settings_of(call));
  const auto other = load_tuning(call.text(call.has("--against") ? "--against" : "TUNING"),
                                 settings_of(call, two ? "--against-set" : ""));
  const auto units = units_of(call, file ? *file : TuningFile{});
  const auto read = load_level_file(ask.level);
  const auto inputs = load_inputs(call.text("--inputs"), file ? file->units() : Units{});
  if (!file) append(problems, file.error());
  if (!units) append(problems, units.error());
  if (!other && two) append(problems, other.error());
  if (!read) append(problems, read.error());
  if (!inputs) append(problems, inputs.error());
  if (!problems.empty()) return fail(problems);
  remark_on(*file);
  const double fastest =
      std::max(file->tuning.loop.tick_rate, two ? other->tuning.loop.tick_rate : 0);
  if (const auto excess = find_excess(*inputs, fastest, call.text("--inputs")); !excess.empty()) {
    return fail(excess);
  }

  const auto prepare = [&](const TuningFile& tuning) {
    return prepare_run(tuning, *read, *inputs, *units, ask);
  };
  auto first = prepare(*file);
  if (!first) return fail(first.error());
  Run& run = *first;
  if (!two) return explain_run(run, ask);
  auto prepared = prepare(*other);
  if (!prepared) return fail(prepared.error());
  Run& second = *prepared;
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
  return compare_runs(run, second, ask);
}

}  // namespace

Verb why_verb() {
  return {"why",
          "explain every press of a run, any tick, or where two runs diverge",
          {{"TUNING", "", "the tuning file"},
           {"--level", "LEVEL", "the level file"},
           {"--inputs", "INPUTS", "the inputs file"},
           set_parameter(),
           {"--tick", "TICK",
            "everything this tick decided, instead of a line per press of jump, dash and down; can "
            "be repeated. Tick k leads to row k of a trace",
            Role::takes, true},
           {"--full", "", "everything that the tick of each press decided", Role::takes},
           {"--against", "TUNING", "also run this tuning, and show where the two diverge and why"},
           {"--against-set", "KNOB=VALUE", "try a knob in the second run only; can be repeated",
            Role::takes, true},
           {"--traces", "A B", "compare two recorded traces: show where they diverge", Role::takes,
            false, 2},
           {"--within", "LENGTH",
            "how far apart numbers may be and still count as equal; 0 if omitted"},
           units_parameter(),
           knobs_parameter(),
           json_parameter()},
          "Give TUNING --level LEVEL --inputs INPUTS, or --traces A B.",
          "what would a shorter coyote time change, and why?",
          "bushbaby why demo/pip.tuning.toml --level demo/hollow-trunk.level.toml \\\n"
          "             --inputs demo/moonlit-climb.inputs --against-set jump.coyote=4ticks",
          why};
}

}  // namespace bushbaby::tool
