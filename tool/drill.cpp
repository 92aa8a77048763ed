#include <fmt/format.h>

#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/drills.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/charts.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

std::vector<Problem> unknown_drills(const std::vector<std::string>& names) {
  std::vector<std::string_view> known;
  for (const Drill& drill : drills()) known.push_back(drill.name);
  std::vector<Problem> problems;
  for (const std::string& name : names) {
    if (find_drill(name) != nullptr) continue;
    problems.push_back({ProblemCode::unknown_name, "--only", 0, 0, "", name,
                        fmt::format("one of {}", fmt::join(known, ", ")),
                        std::string(nearest_name(name, known))});
  }
  return problems;
}

int drill(const Call& call) {
  const std::vector<std::string>& only = call.texts("--only");
  if (const auto problems = unknown_drills(only); !problems.empty()) return fail(problems);
  if (const auto clashes = find_clashes(call, {call.text("TUNING")}); !clashes.empty()) {
    return fail(clashes);
  }
  const auto file = load_tuning(call.text("TUNING"), settings_of(call));
  if (!file) return fail(file.error());
  const auto units = units_of(call, *file);
  if (!units) return fail(units.error());
  const auto compiled = check_tuning(*file);
  if (!compiled) return fail(compiled.error());
  remark_on(*file);

  CharacterSubject subject(compiled->rules, file->tuning.name);
  const auto reports = run_drills(subject, only);
  print(call.has("--json") ? drill_json(file->tuning, *units, compiled->roundings, reports)
                           : drill_table(file->tuning, *units, compiled->roundings, reports));
  if (call.has("--plot")) {
    const int code = draw_to(draw(record_jump_chart(subject, describe_loop(file->tuning), *units)),
                             call.text("--plot"));
    if (code != kDone) return code;
  }
  return save_if_asked(call, *file);
}

}  // namespace

Verb drill_verb() {
  return {
      "drill",
      "measure what a tuning really does, by standard manoeuvres",
      {tuning_parameter(),
       {"--only", "DRILL", "run this drill only; can be repeated", Role::takes, true},
       set_parameter(),
       save_parameter(),
       units_parameter(),
       {"--facts", "", "list every drill and the facts it measures, with their units", Role::gives},
       knobs_parameter(),
       plot_parameter("full jumps, hops and running jumps"),
       json_parameter()},
      "",
      "how high and how far would Pip jump with a longer rise?",
      "bushbaby drill demo/pip.tuning.toml --set jump.apex_time=0.45 --plot jumps.png",
      drill};
}

}  // namespace bushbaby::tool
