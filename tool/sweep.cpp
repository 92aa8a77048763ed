#include <algorithm>
#include <chrono>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/sweep_csv.h"
#include "bushbaby/records/targets_file.h"
#include "bushbaby/views/sweep_picture.h"

#include "output.h"
#include "progress.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

constexpr std::size_t kMostPrinted = 2000;  // runs; more go into a file
constexpr std::size_t kMostDrawn = 160;     // places of a knob

// What of a call is no file: part K of N.
struct Part {
  std::size_t number = 1;
  std::size_t of = 1;
};

std::optional<Part> parse_part(const std::string& text) {
  const std::size_t slash = text.find('/');
  if (slash == std::string::npos) return std::nullopt;
  const auto number = parse_number(text.substr(0, slash));
  const auto of = parse_number(text.substr(slash + 1));
  constexpr double kMostParts = 1e6;
  if (!number || !of || *number != std::floor(*number) || *of != std::floor(*of)) {
    return std::nullopt;
  }
  if (*number < 1 || *of < *number || *of > kMostParts) return std::nullopt;
  return Part{static_cast<std::size_t>(*number), static_cast<std::size_t>(*of)};
}

// Says how far it is, where somebody watches.
class RunProgress {
 public:
  explicit RunProgress(std::size_t runs) : runs_(runs) {}

  void report(std::size_t done) {
    if (!line_.is_watched() || runs_ == 0) return;
    const double share = static_cast<double>(done) / static_cast<double>(runs_);
    const double passed =
        std::chrono::duration<double>(std::chrono::steady_clock::now() - start_).count();
    line_.report(fmt::format("{:3.0f} % of {} runs, {:.0f} s left ", 100 * share, runs_,
                             share > 0 ? passed / share - passed : 0.0));
  }

 private:
  std::size_t runs_;
  Progress line_;
  std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now();
};

// The facts that --fact names, or those of the targets.
std::vector<const FactInfo*> facts_of(const Call& call, const std::vector<Target>& targets,
                                      std::vector<Problem>& problems) {
  std::vector<std::string_view> known;
  for (const Drill& drill : drills()) {
    for (const FactInfo& info : drill.facts) known.push_back(info.name);
  }
  std::vector<std::string> names = call.texts("--fact");
  if (names.empty()) {
    for (const Target& target : targets) {
      if (!target.follow && !target.run) names.push_back(target.fact);
    }
  }
  std::vector<const FactInfo*> facts;
  for (const std::string& name : names) {
    const Drill* drill = drill_of_fact(name);
    if (drill == nullptr) {
      problems.push_back({ProblemCode::unknown_name, "--fact", 0, 0, "", name,
                          "a fact, such as stand_jump.height; drill --facts lists them",
                          std::string(nearest_name(name, known))});
      continue;
    }
    const auto info = std::find_if(drill->facts.begin(), drill->facts.end(),
                                   [&name](const FactInfo& one) { return one.name == name; });
    if (std::find(facts.begin(), facts.end(), &*info) == facts.end()) facts.push_back(&*info);
  }
  if (names.empty()) {
    problems.push_back(call_problem("", "nothing to measure", "--fact FACT or --targets TARGETS"));
  }
  return facts;
}

// What the targets want of each fact, as it is reported.
std::vector<std::optional<Range>> target_ranges_of(const KnobSweep& sweep,
                                                   const std::vector<Target>& targets,
                                                   const Units& units) {
  std::vector<std::optional<Range>> targeted(sweep.facts.size());
  for (std::size_t i = 0; i < sweep.facts.size(); ++i) {
    for (const Target& target : targets) {
      if (target.follow || target.run || target.fact != sweep.facts[i]->name) continue;
      const Dimension dimension = sweep.facts[i]->dimension;
      const Range range = range_of(target.bound);
      targeted[i] = Range{units.shown(dimension, range.lo), units.shown(dimension, range.hi)};
    }
  }
  return targeted;
}

// Runs of a part, into a file that is gone on with if it was begun.
std::optional<Problem> write_runs(const KnobSweep& sweep, const Units& units, std::size_t first,
                                  std::size_t last, const std::string& path) {
  auto file = begin_sweep(path, sweep, units, first);
  if (!file) return file.error().front();
  const std::size_t before = std::min(file->lines_before(), last - first);
  if (before > 0)
    say(fmt::format("bushbaby: goes on behind {} runs of {}", before, file->unfinished()));
  RunProgress progress(last - first);
  std::optional<Problem> problem;
  run_sweep(sweep, first + before, last, [&](std::size_t at, const std::vector<SweepRun>& runs) {
    problem = file->append(sweep_lines(sweep, units, at, runs));
    progress.report(at + runs.size() - first);
    return !problem;
  });
  return problem ? problem : file->finish();
}

std::vector<Problem> find_sweep_gaps(const Call& call, std::size_t runs) {
  std::vector<Problem> problems;
  if (runs > kMostRuns) {
    problems.push_back(
        call_problem("--over", fmt::format("{} runs", runs), fmt::format("at most {}", kMostRuns)));
  }
  if (!call.has("--out") && runs > kMostPrinted) {
    problems.push_back(call_problem("", fmt::format("{} runs to be printed", runs),
                                    fmt::format("--out FILE for more than {}", kMostPrinted)));
  }
  if (call.has("--part") && !call.has("--out")) {
    problems.push_back(call_problem("--part", "no --out", "--out FILE, where that part goes"));
  }
  if (call.has("--part") && (call.has("--plot") || call.has("--json"))) {
    problems.push_back(call_problem("--part", call.has("--plot") ? "--plot" : "--json",
                                    "the same call on the whole, after merge"));
  }
  return problems;
}

// A sweep with all that is said about it.
struct Plan {
  TuningFile file;
  Units units;
  KnobSweep sweep;
  std::vector<Target> targets;
  Part part;
};

Result<Plan> plan_of(const Call& call) {
  std::vector<Problem> problems;
  Plan plan;
  const auto file = load_tuning(call.text("TUNING"), settings_of(call));
  const auto units = units_of(call, file ? *file : TuningFile{});
  if (!file) append(problems, file.error());
  if (!units) append(problems, units.error());
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  plan.file = *file;
  plan.units = *units;
  if (call.has("--targets")) {
    auto targets = load_targets(call.text("--targets"), file->units());
    if (targets) {
      plan.targets = std::move(*targets);
    } else {
      append(problems, targets.error());
    }
  }
  plan.sweep.base = file->tuning;
  for (const std::string& text : call.texts("--over")) {
    auto axis = parse_axis(*file, text);
    if (axis) {
      plan.sweep.axes.push_back(std::move(*axis));
    } else {
      append(problems, axis.error());
    }
  }
  const std::size_t knobs = call.texts("--over").size();
  if (knobs < 1 || knobs > 2) {
    problems.push_back(call_problem("", knobs == 0 ? "no --over" : fmt::format("{} knobs", knobs),
                                    "--over \"KNOB=LOW..HIGH in N\", once or twice"));
  }
  plan.sweep.facts = facts_of(call, plan.targets, problems);
  if (call.has("--part")) {
    const auto part = parse_part(call.text("--part"));
    if (!part) problems.push_back(call_problem("--part", call.text("--part"), "K/N, such as 3/20"));
    plan.part = part.value_or(Part{});
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  append(problems, find_sweep_gaps(call, runs_of(plan.sweep)));
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return plan;
}

int sweep(const Call& call) {
  const auto clashes = find_clashes(call, {call.text("TUNING"), call.text("--targets")});
  if (!clashes.empty()) return fail(clashes);
  const auto plan = plan_of(call);
  if (!plan) return fail(plan.error());
  remark_on(plan->file);
  const KnobSweep& sweep = plan->sweep;
  const std::size_t all = runs_of(sweep);
  const std::size_t first = all * (plan->part.number - 1) / plan->part.of;
  const std::size_t last = all * plan->part.number / plan->part.of;
  SweepTable table = sweep_frame(sweep, plan->units, call.has("--out") ? kMostDrawn : all);
  if (call.has("--out")) {
    const std::string path = call.text("--out");
    if (const auto problem = write_runs(sweep, plan->units, first, last, path)) {
      return fail({*problem});
    }
    say_written(path);
    if (call.has("--part")) return kDone;
    if (call.has("--plot") || call.has("--json")) {
      if (const auto problem = read_sweep(path, sweep, plan->units, table)) return fail({*problem});
    }
  } else {
    run_sweep(sweep, 0, all, [&](std::size_t at, const std::vector<SweepRun>& runs) {
      keep_runs(table, sweep, plan->units, at, runs);
      return true;
    });
  }
  if (call.has("--json")) {
    print(sweep_json(table));
  } else if (!call.has("--out")) {
    print(sweep_text(table));
  }
  if (!call.has("--plot")) return kDone;
  const SweepPicture picture{plan->file.tuning.name, table,
                             target_ranges_of(sweep, plan->targets, plan->units)};
  return draw_to(draw(picture), call.text("--plot"));
}

int merge(const Call& call) {
  const std::vector<std::string>& parts = call.texts("PART");
  for (const std::string& part : parts) {
    if (is_same_file(part, call.text("OUT"))) {
      return fail({call_problem("OUT", call.text("OUT") + ", which is a part as well",
                                "a file of its own")});
    }
  }
  if (const auto problem = merge_sweeps(call.text("OUT"), parts)) return fail({*problem});
  say_written(call.text("OUT"));
  return kDone;
}

}  // namespace

Verb sweep_verb() {
  return {
      "sweep",
      "measure facts over a range of one knob or two, on all cores",
      {tuning_parameter(),
       {"--over", "RANGE",
        "a knob and its values: \"fall.factor=1..3 in 21\", evenly; \"jump.height=1..8 in 20 "
        "log\", by ratio; \"jump.coyote=0ticks, 4ticks\"; once or twice",
        Role::takes, true},
       {"--fact", "FACT", "a fact to measure; can be repeated. drill --facts lists all",
        Role::takes, true},
       {"--targets", "TARGETS", "measure the facts of these targets, and draw the targets in"},
       {"--part", "K/N", "run only part K of N; merge joins them"},
       set_parameter(),
       units_parameter(),
       {"--out", "FILE",
        "write the runs as CSV, a row each. If interrupted, rerun the same command to resume",
        Role::gives},
       {"--facts", "", "list every drill and the facts it measures, with their units", Role::gives},
       knobs_parameter(),
       plot_parameter("a curve for each fact, or a map of the first"),
       json_parameter()},
      "",
      "how do height and air time follow the fall factor?",
      "bushbaby sweep demo/pip.tuning.toml --over \"fall.factor=1..3 in 21\" \\\n"
      "               --fact stand_jump.air_time --fact running_jump.distance --plot sweep.png",
      sweep};
}

Verb merge_verb() {
  return {"merge",
          "join the parts of a sweep",
          {{"OUT", "", "the joined file", Role::needs},
           {"PART", "", "every part made with sweep --part, in any order", Role::needs, true}},
          "",
          "two parts, made on two machines",
          "bushbaby merge whole.csv part-1.csv part-2.csv",
          merge};
}

}  // namespace bushbaby::tool
