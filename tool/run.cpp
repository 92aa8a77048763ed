#include "bushbaby/data/files.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/playing.h"
#include "bushbaby/records/level_reports.h"
#include "bushbaby/records/run_reports.h"
#include "bushbaby/records/trace_csv.h"
#include "bushbaby/records/zone_words.h"
#include "bushbaby/views/level_map.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {

namespace {

int write_run(const Call& call, const Trace& trace, const Units& units) {
  const std::string path = call.text("--trace");
  if (const auto problem = write_file(path, write_trace(trace, units))) return fail({*problem});
  say_written(units.convention.is_default() ? path : path + " in " + units.describe());
  return kDone;
}

// Looks through the level instead of running on it.
int check(const Call& call) {
  const auto file = load_tuning(call.text("TUNING"), settings_of(call));
  const auto level = load_level_file(call.text("--level"));
  const auto units = units_of(call, file ? *file : TuningFile{});
  std::vector<Problem> problems;
  if (!units) append(problems, units.error());
  if (!file) append(problems, file.error());
  if (!level) append(problems, level.error());
  if (!problems.empty()) return fail(problems);
  const auto book = compile_for(*file, *level, call.text("--level"), *units);
  if (!book) return fail(book.error());
  const LevelReport report{file->tuning.name, call.text("--level"), *level,
                           check_level(level->level, *book), *units};
  print(call.has("--json") ? level_json(report) : level_text(report));
  return report.check.findings.empty() ? kDone : kFindings;
}

std::vector<Problem> find_run_gaps(const Call& call) {
  std::vector<Problem> problems;
  if (call.has("--check")) {
    for (const char* other : {"--inputs", "--trace", "--plot", "--save"}) {
      if (call.has(other)) {
        problems.push_back(call_problem("--check", other, "--check without it: nothing is run"));
      }
    }
  } else if (!call.has("--inputs")) {
    problems.push_back(
        call_problem("", "no --inputs", "--inputs INPUTS, the inputs file, or --check"));
  }
  return problems;
}

int run(const Call& call) {
  const auto gaps = find_run_gaps(call);
  if (!gaps.empty()) return fail(gaps);
  if (call.has("--check")) return check(call);
  const auto clashes =
      find_clashes(call, {call.text("TUNING"), call.text("--level"), call.text("--inputs")});
  if (!clashes.empty()) return fail(clashes);
  // All three are read before anything is reported: what is wrong comes out in one go.
  const auto file = load_tuning(call.text("TUNING"), settings_of(call));
  const auto read = load_level_file(call.text("--level"));
  const auto inputs = load_inputs(call.text("--inputs"), file ? file->units() : Units{});
  const auto units = units_of(call, file ? *file : TuningFile{});
  std::vector<Problem> problems;
  if (!units) append(problems, units.error());
  if (!file) append(problems, file.error());
  if (!read) append(problems, read.error());
  if (!inputs) append(problems, inputs.error());
  if (!problems.empty()) return fail(problems);
  const auto book = compile_for(*file, *read, call.text("--level"), *units);
  if (!book) return fail(book.error());
  remark_on(*file);
  const Level* const level = &read->level;
  const Rules& rules = book->rules(0);
  const double rate = rules.tick_rate;
  if (const auto excess = find_excess(*inputs, rate, call.text("--inputs")); !excess.empty()) {
    return fail(excess);
  }

  CharacterSubject subject(*book, file->tuning.name);
  const SubjectTraits traits = subject.traits();
  const auto played = play(subject, level_stage(*level), *inputs);
  if (!played) return fail(no_room(call.text("--level"), *level, rules, *units));
  const Trace& trace = played->trace;
  const RunReport report{file->tuning.name,  level->name,  trace, *units,
                         zone_names(*level), played->stall};
  print(call.has("--json") ? run_json(report) : run_table(report));
  if (call.has("--trace")) {
    if (const int code = write_run(call, trace, *units); code != kDone) return code;
  }
  if (call.has("--plot")) {
    const RunMap map{
        file->tuning.name, *level, trace, traits.body_width, traits.body_height, *units,
        traits.body_radius};
    if (const int code = draw_to(draw(map), call.text("--plot")); code != kDone) return code;
  }
  if (const int code = save_if_asked(call, *file); code != kDone) return code;
  return played->stall ? kFindings : kDone;
}

}  // namespace

Verb run_verb() {
  return {"run",
          "run inputs on a level: every arc and event, as a table, a trace or a map",
          {tuning_parameter(),
           {"--level", "LEVEL", "the level file, or a drawing (*.svg)", Role::needs},
           {"--inputs", "INPUTS",
            "the inputs file: what is held, and for how long or until when; exit code 1 if that "
            "never comes"},
           {"--check", "",
            "do not run: describe the level, and what in it looks like a mistake for this "
            "character; exit code 1 if anything does"},
           set_parameter(),
           save_parameter(),
           units_parameter(),
           {"--trace", "FILE", "write the trace as CSV, a row per tick", Role::gives},
           knobs_parameter(),
           plot_parameter("the path through the level, events marked"),
           json_parameter()},
          "Give --inputs INPUTS, or --check.",
          "Pip on the first limbs",
          "bushbaby run demo/pip.tuning.toml --level demo/first-limbs.level.toml \\\n"
          "             --inputs demo/first-leaps.inputs --trace pip.csv --plot pip.png",
          run};
}

}  // namespace bushbaby::tool
