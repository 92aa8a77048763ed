#include <fmt/format.h>

#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/drills.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/charts.h"

#include "output.h"
#include "verbs.h"

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

}  // namespace

int drill(const DrillCall& call) {
  if (const auto problems = unknown_drills(call.only); !problems.empty()) return fail(problems);
  const auto file = load_tuning(call.tuning, call.settings);
  if (!file) return fail(file.error());
  const auto compiled = check_tuning(*file);
  if (!compiled) return fail(compiled.error());

  CharacterSubject subject(compiled->rules, file->tuning.name);
  const auto reports = run_drills(subject, call.only);
  print(call.json ? drill_json(file->tuning, compiled->roundings, reports)
                  : drill_table(file->tuning, compiled->roundings, reports));
  if (call.plot.empty()) return kDone;
  return draw_if_asked(draw(record_jump_chart(subject, describe_loop(file->tuning))), call.plot);
}

}  // namespace bushbaby::tool
