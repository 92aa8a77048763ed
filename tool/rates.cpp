#include "bushbaby/lab/rates.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/playing.h"
#include "bushbaby/records/rates_reports.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

constexpr std::size_t kMostRates = 12;

std::vector<double> rates_of(const Call& call, std::vector<Problem>& problems) {
  std::vector<double> rates;
  for (const std::string& text : call.texts("--rate")) {
    const auto rate = parse_quantity(text, Dimension::frequency, {});
    Tuning trial;
    if (rate && !set_knob(trial, *find_knob("loop.tick_rate"), *rate)) {
      rates.push_back(*rate);
    } else {
      problems.push_back(call_problem("--rate", text, "a tick rate, such as 120"));
    }
  }
  if (rates.size() > kMostRates) {
    problems.push_back(call_problem("--rate", fmt::format("{} rates", rates.size()),
                                    fmt::format("at most {}", kMostRates)));
  }
  if (call.has("--rate")) return rates;
  return {30, 50, 120, 144};
}

// How far the runs of all loops are from the first one's.
Result<std::vector<Drift>> run_all(const Call& call, const TuningFile& file,
                                   const std::vector<LoopVariant>& loops, const Units& units,
                                   double within) {
  const std::string path = call.text("--level");
  const auto level = load_level_file(path);
  const auto inputs = load_inputs(call.text("--inputs"), file.units());
  std::vector<Problem> problems;
  if (!level) append(problems, level.error());
  if (!inputs) append(problems, inputs.error());
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  std::optional<Trace> first;
  std::vector<Drift> drifts;
  for (const LoopVariant& loop : loops) {
    append(problems, find_excess(*inputs, loop.tuning.loop.tick_rate, call.text("--inputs")));
    TuningFile changed = file;
    changed.tuning = loop.tuning;
    const auto book = compile_for(changed, *level, path, units);
    if (!book) append(problems, book.error());
    if (!problems.empty()) return tl::unexpected(std::move(problems));
    CharacterSubject subject(*book, loop.name);
    const auto played = play(subject, level_stage(level->level), *inputs);
    if (!played) return tl::unexpected(no_room(path, level->level, book->rules(0), units));
    if (!first) first = played->trace;
    drifts.push_back(find_drift(*first, played->trace, within));
  }
  return drifts;
}

int rates(const Call& call) {
  std::vector<Problem> problems;
  const std::vector<double> asked = rates_of(call, problems);
  if (call.has("--level") != call.has("--inputs")) {
    problems.push_back(call_problem("", call.has("--level") ? "no --inputs" : "no --level",
                                    "--level LEVEL --inputs INPUTS"));
  }
  append(problems, unknown_drills(call.texts("--only")));
  const auto file = load_tuning(call.text("TUNING"), settings_of(call));
  const auto units = units_of(call, file ? *file : TuningFile{});
  if (!file) append(problems, file.error());
  if (!units) append(problems, units.error());
  if (!problems.empty()) return fail(problems);
  double within = 0.05 * file->tuning.body.width;
  if (call.has("--within")) {
    const auto given = parse_quantity(call.text("--within"), Dimension::length, *units);
    if (!given || !(*given >= 0)) {
      return fail({call_problem("--within", call.text("--within"),
                                describe_quantity(Dimension::length, *units) + ", 0 or more")});
    }
    within = *given;
  }
  remark_on(*file);
  const std::vector<LoopVariant> loops = loop_variants(file->tuning, asked);
  RatesReport report{file->tuning.name, *units, loops, compare_loops(loops, call.texts("--only"))};
  report.within = within;
  for (const LoopVariant& loop : loops) report.kept.push_back(keep_jump(file->tuning, loop.tuning));
  if (call.has("--level")) {
    auto drifts = run_all(call, *file, loops, *units, within);
    if (!drifts) return fail(drifts.error());
    report.drifts = std::move(*drifts);
  }
  print(call.has("--json") ? rates_json(report) : rates_table(report));
  return kDone;
}

}  // namespace

Verb rates_verb() {
  return {"rates",
          "show what changes with the tick rate and the loop, and how to prevent it",
          {tuning_parameter(),
           {"--rate", "RATE", "a tick rate, in Hz; can be repeated. 30, 50, 120 and 144 if omitted",
            Role::takes, true},
           {"--only", "DRILL", "measure the facts of this drill only; can be repeated", Role::takes,
            true},
           {"--level", "LEVEL", "also run inputs on this level"},
           {"--inputs", "INPUTS", "the inputs to run; shows when the runs diverge"},
           {"--within", "LENGTH",
            "how far apart runs may be; a twentieth of the body's width if omitted"},
           set_parameter(),
           units_parameter(),
           knobs_parameter(),
           json_parameter()},
          "",
          "what would change at 30 and at 144 ticks per second?",
          "bushbaby rates demo/pip.tuning.toml --rate 30 --rate 144 --only stand_jump --only hop",
          rates};
}

}  // namespace bushbaby::tool
