#include "bushbaby/lab/fit.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/fit_reports.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/overlay_picture.h"

#include "output.h"
#include "progress.h"
#include "targeted.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// A whole number of a call within limits, or what it is without.
int count_of(const Call& call, const char* option, int without, int least, int most,
             std::vector<Problem>& problems) {
  if (!call.has(option)) return without;
  const auto number = parse_number(call.text(option));
  if (number && *number >= least && *number <= most && *number == std::floor(*number)) {
    return static_cast<int>(*number);
  }
  problems.push_back(call_problem(option, call.text(option),
                                  fmt::format("a whole number from {} to {}", least, most)));
  return without;
}

// Strikes a knob out.
void leave(std::vector<FreeKnob>& free, const KnobPlace& place) {
  const auto is_it = [&place](const FreeKnob& knob) {
    return knob.place.knob == place.knob && knob.place.row == place.row;
  };
  free.erase(std::remove_if(free.begin(), free.end(), is_it), free.end());
}

// The knobs that the call frees, or else the targets file, without those that it leaves.
std::vector<FreeKnob> free_knobs_of(const Call& call, const TuningFile& file,
                                    const TargetsFile& targets, std::vector<Problem>& problems) {
  std::vector<FreeKnob> free;
  const auto take = [&](const Result<FreeKnob>& knob) {
    if (!knob) {
      append(problems, knob.error());
      return;
    }
    leave(free, knob->place);  // what is said last counts
    free.push_back(*knob);
  };
  for (const std::string& text : call.texts("--free")) take(parse_free(file, text));
  if (!call.has("--free")) {
    for (const FreeRow& row : targets.free) take(free_of(row, file.tuning));
  }
  if (!call.has("--leave")) return free;
  if (free.empty()) free = free_knobs(file.tuning);
  for (const std::string& text : call.texts("--leave")) {
    const auto place = find_place(text);
    if (!place) {
      take(parse_free(file, text));  // it says what is wrong with it
      continue;
    }
    leave(free, *place);
  }
  if (free.empty() && problems.empty()) {
    problems.push_back(call_problem("--leave", "every knob", "one that may be turned"));
  }
  return free;
}

// The running jump before and after, with the first curve that it is to follow.
int draw_jumps(const Call& call, const TuningFile& file, const Fit& fit,
               const std::vector<Target>& targets, const Units& units) {
  std::string name = "running_jump";
  const Curve* reference = nullptr;
  for (const Target& target : targets) {
    if (!target.follow) continue;
    name = target.fact;
    reference = &*target.follow;
    break;
  }
  std::vector<Variant> variants;
  for (const auto& [title, tuning] :
       {std::pair<const char*, const Tuning*>{"before", &file.tuning}, {"after", &fit.tuning}}) {
    auto variant =
        record_drill(CharacterSubject(compile(*tuning).rules, title), title, *find_drill(name));
    if (!variant) return fail(fmt::format("--plot: {} makes no {}", title, name));
    variants.push_back(std::move(*variant));
  }
  const OverlayPicture picture{"the drill " + name, variants, nullptr, reference, units};
  return draw_to(draw(picture), call.text("--plot"));
}

int fit(const Call& call) {
  const auto targeted = read_targeted(call);
  if (!targeted) return fail(targeted.error());
  const TuningFile& file = targeted->file;
  const Units& units = targeted->units;
  const std::vector<Target>& targets = targeted->targets.targets;
  std::vector<Problem> problems;
  FitOptions options;
  options.knobs = free_knobs_of(call, file, targeted->targets, problems);
  constexpr int kMostEvaluations = 1000000;
  constexpr int kMostStarts = 1000;
  options.most_evaluations =
      count_of(call, "--evaluations", options.most_evaluations, 1, kMostEvaluations, problems);
  options.starts = count_of(call, "--starts", options.starts, 1, kMostStarts, problems);
  options.seed =
      static_cast<std::uint64_t>(count_of(call, "--seed", 1, 0, kMostEvaluations, problems));
  if (!problems.empty()) return fail(problems);
  options.round = rounder_in(file.units());
  Fit answer;
  {
    Progress progress;
    options.progress = [&progress](const FitProgress& now) {
      progress.report(
          fmt::format("{} tunings tried, {} targets missed ", now.evaluations, now.missed));
    };
    answer = fit_targets(file.tuning, targets, options);
  }
  print(call.has("--json") ? fit_json(file.tuning, units, answer)
                           : fit_table(file.tuning, units, answer));
  if (call.has("--plot")) {
    const int code = draw_jumps(call, file, answer, targets, units);
    if (code != kDone) return code;
  }
  if (call.has("--save")) {
    const int code = save(file, answer.tuning, call.text("--save"));
    if (code != kDone) return code;
  }
  return answer.after.met() ? kDone : kFindings;
}

}  // namespace

Verb fit_verb() {
  return {"fit",
          "change knobs until the targets are met; exit code 1 if one is missed",
          {tuning_parameter(),
           {"TARGETS", "", "the targets file", Role::needs},
           {"--free", "KNOB",
            "a knob that may be changed, within its usual range or the one given: fall.factor, "
            "\"fall.factor=1.2..2\"; can be repeated. If omitted: those of the targets file, or "
            "else those in use that move what is missed",
            Role::takes, true},
           {"--leave", "KNOB", "a knob that stays as it is; can be repeated", Role::takes, true},
           {"--evaluations", "N", "most tunings to try; 6000 if omitted"},
           {"--starts", "N", "most places to start the search from; 6 if omitted"},
           {"--seed", "N", "seed of the random starts; 1 if omitted"},
           set_parameter(),
           units_parameter(),
           {"--save", "FILE",
            "write the answer: to a new file, or into TUNING; text and comments stay", Role::gives},
           knobs_parameter(),
           plot_parameter("the jump before and after, and its reference curve"),
           json_parameter()},
          "",
          "back to the targets after somebody made him heavy",
          "bushbaby fit demo/pip.tuning.toml demo/pip.targets.toml \\\n"
          "             --set fall.factor=2.2 --set jump.height=4 --plot fit.png",
          fit};
}

}  // namespace bushbaby::tool
