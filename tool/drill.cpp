#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/drills.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/charts.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// The zones that --in names, on the level of the call.
Result<std::vector<ZoneId>> zones_named(const Call& call, const Level& level) {
  std::vector<std::string_view> known;
  for (const Zone& zone : level.zones) known.emplace_back(zone.name);
  std::vector<ZoneId> zones;
  std::vector<Problem> problems;
  for (const std::string& name : call.texts("--in")) {
    const auto at = std::find(known.begin(), known.end(), name);
    if (at != known.end() && !name.empty()) {
      zones.push_back(static_cast<ZoneId>(at - known.begin()));
      continue;
    }
    problems.push_back(
        {ProblemCode::unknown_name, "--in", 0, 0, "", name,
         known.empty() ? "a level with zones" : fmt::format("one of {}", fmt::join(known, ", ")),
         std::string(nearest_name(name, known))});
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return zones;
}

// What is measured: by the rules of the zones that --in names, if it names any; where it names one,
// across its border as well.
Result<CharacterSubject> subject_of(const Call& call, const TuningFile& file, const Units& units,
                                    const Rules& rules, const std::string& name) {
  if (call.has("--in") != call.has("--level")) {
    const bool zone = call.has("--in");
    return tl::unexpected(std::vector<Problem>{
        call_problem(zone ? "--in" : "--level", zone ? "no --level" : "no --in",
                     "--in ZONE --level LEVEL, a zone and the level that it is on")});
  }
  if (!call.has("--in")) return CharacterSubject(rules, name);
  const auto level = load_level_file(call.text("--level"));
  if (!level) return tl::unexpected(level.error());
  const auto zones = zones_named(call, level->level);
  if (!zones) return tl::unexpected(zones.error());
  const auto book = compile_in(file, *level, *zones, call.text("--level"), units);
  if (!book) return tl::unexpected(book.error());
  CharacterSubject subject(*book, name);
  // Whoever can be had in it can be had in it alone, or is measured without.
  if (zones->size() == 1) (void)subject.know(file.tuning, level->level.zones[zones->front()]);
  return subject;
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
  Tuning reported = file->tuning;
  for (const std::string& zone : call.texts("--in"))
    reported.name += fmt::format(" in \"{}\"", zone);
  auto found = subject_of(call, *file, *units, compiled->rules, reported.name);
  if (!found) return fail(found.error());
  remark_on(*file);
  CharacterSubject& subject = *found;
  const auto reports = run_drills(subject, only);
  print(call.has("--json") ? drill_json(reported, *units, compiled->roundings, reports)
                           : drill_table(reported, *units, compiled->roundings, reports));
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
      "measure what a tuning really does, with standard test moves",
      {tuning_parameter(),
       {"--only", "DRILL", "run this drill only; can be repeated", Role::takes, true},
       {"--in", "ZONE", "measure inside this zone of a level; can be repeated", Role::takes, true},
       {"--level", "LEVEL", "the level that --in is on"},
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
