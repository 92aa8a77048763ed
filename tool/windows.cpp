#include "bushbaby/lab/windows.h"

#include <fmt/format.h>

#include "bushbaby/records/window_reports.h"
#include "bushbaby/views/windows_picture.h"

#include "entrants.h"
#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

constexpr std::size_t kMostStrips = 4;  // so that their strips can be read beneath one another

Result<WindowsOf> measured(const Entrant& entrant) {
  const auto compiled = check_tuning(entrant.file);
  if (!compiled) return tl::unexpected(compiled.error());
  CharacterSubject subject(compiled->rules, entrant.name);
  return windows_of(subject, entrant.name);
}

int windows(const Call& call) {
  std::vector<std::string> read{call.text("TUNING")};
  const auto& others = call.texts("--with");
  read.insert(read.end(), others.begin(), others.end());
  if (const auto clashes = find_clashes(call, read); !clashes.empty()) return fail(clashes);
  std::vector<Problem> problems;
  const std::vector<Entrant> entrants = entrants_of(call, problems);
  if (entrants.size() > kMostStrips) {
    problems.push_back(call_problem("", fmt::format("{} variants", entrants.size()),
                                    fmt::format("at most {}", kMostStrips)));
  }
  if (!problems.empty()) return fail(problems);
  const auto units = units_of(call, entrants.front().file);
  if (!units) return fail(units.error());
  remark_on(entrants.front().file);
  std::vector<WindowsOf> all;
  for (const Entrant& entrant : entrants) {
    auto windows = measured(entrant);
    if (!windows) return fail(windows.error());
    all.push_back(std::move(*windows));
  }
  print(call.has("--json") ? windows_json(all, *units) : windows_table(all, *units));
  if (!call.has("--plot")) return kDone;
  return draw_to(draw(WindowsPicture{all, *units}), call.text("--plot"));
}

}  // namespace

Verb windows_verb() {
  return {"windows",
          "try a jump press on every tick around an edge, a landing and a wall, and a release "
          "after every number of ticks",
          {tuning_parameter(), try_parameter(), without_parameter(), with_parameter(),
           set_parameter(), units_parameter(), knobs_parameter(),
           plot_parameter(
               "a cell for each press and release; the height for each number of ticks held"),
           json_parameter()},
          "",
          "which presses does a coyote time of 4 ticks lose?",
          "bushbaby windows demo/pip.tuning.toml --try jump.coyote=4ticks --plot windows.png",
          windows};
}

}  // namespace bushbaby::tool
