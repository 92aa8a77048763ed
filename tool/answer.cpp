#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/lab/complaints.h"
#include "bushbaby/records/answer_reports.h"
#include "bushbaby/records/fit_reports.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/overlay_picture.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

// By how much: "20%", or "3 ticks" where ticks are counted.
std::optional<double> step_of(const Call& call, const Complaint& complaint,
                              std::vector<Problem>& problems) {
  if (!call.has("--by")) return std::nullopt;
  const std::string text = call.text("--by");
  const bool in_ticks = complaint.step >= 1;
  std::optional<double> step;
  if (in_ticks) {
    const auto time = parse_duration(text);
    if (time && time->unit == Duration::Unit::ticks) step = time->amount;
  } else if (!text.empty() && text.back() == '%') {
    constexpr double kPercent = 100;
    const auto number = parse_number(std::string_view(text).substr(0, text.size() - 1));
    if (number) step = *number / kPercent;
  }
  constexpr double kMostShare = 10;
  constexpr double kMostTicks = 1000;
  if (step && *step > 0 && *step <= (in_ticks ? kMostTicks : kMostShare)) return step;
  problems.push_back(call_problem(
      "--by", text,
      in_ticks ? fmt::format("a number of ticks for \"{}\": \"3 ticks\"", complaint.word)
               : fmt::format("a share for \"{}\": 20%", complaint.word)));
  return std::nullopt;
}

std::vector<std::string> facts_of(const Call& call, const char* option,
                                  std::vector<Problem>& problems) {
  std::vector<std::string_view> known;
  for (const Drill& drill : drills()) {
    for (const FactInfo& info : drill.facts) known.push_back(info.name);
  }
  for (const std::string& name : call.texts(option)) {
    if (drill_of_fact(name) != nullptr) continue;
    problems.push_back({ProblemCode::unknown_name, option, 0, 0, "", name,
                        "a fact, such as stand_jump.height; drill --facts lists them",
                        std::string(nearest_name(name, known))});
  }
  return call.texts(option);
}

const Complaint* complaint_of(const Call& call, std::vector<Problem>& problems) {
  const std::string word = call.text("WORD");
  const Complaint* complaint = find_complaint(word);
  if (complaint != nullptr) return complaint;
  std::vector<std::string_view> known;
  for (const Complaint& one : complaints()) {
    known.push_back(one.word);
    known.insert(known.end(), one.also.begin(), one.also.end());
  }
  problems.push_back({ProblemCode::unknown_name, "WORD", 0, 0, "", word,
                      "a word for what is wrong; answer --words lists them",
                      std::string(nearest_name(word, known))});
  return nullptr;
}

// The jump that is complained of, as it is and as each way makes it.
int draw_ways(const Call& call, const TuningFile& file, const Answer& answer, const Units& units) {
  const std::string_view fact = answer.complaint->facts.front().fact;
  const Drill* drill = drill_of_fact(fact);
  if (drill->record == nullptr) drill = find_drill("running_jump");
  std::vector<Variant> variants;
  const auto add = [&](const std::string& name, const Tuning& tuning) {
    auto variant = record_drill(CharacterSubject(compile(tuning).rules, name), name, *drill);
    if (variant) variants.push_back(std::move(*variant));
    return variant.has_value();
  };
  bool all = add(file.tuning.name, file.tuning);
  for (std::size_t i = 0; i < answer.ways.size(); ++i) {
    all = add(fmt::format("way {}", i + 1), answer.ways[i].way.tuning) && all;
  }
  if (!all) return fail(fmt::format("--plot: not every way makes a {}", drill->name));
  const OverlayPicture picture{fmt::format("the drill {}", drill->name), variants, nullptr, nullptr,
                               units};
  return draw_to(draw(picture), call.text("--plot"));
}

AnswerOptions options_of(const Call& call, const TuningFile& file, const Complaint& complaint,
                         std::vector<Problem>& problems) {
  AnswerOptions options;
  options.step = step_of(call, complaint, problems);
  options.holds = facts_of(call, "--hold", problems);
  options.lets_go = facts_of(call, "--let-go", problems);
  for (const std::string& text : call.texts("--free")) {
    const auto knob = parse_free(file, text);
    if (knob) {
      options.knobs.push_back(*knob);
    } else {
      append(problems, knob.error());
    }
  }
  options.round = rounder_in(file.units());
  return options;
}

// The way that is to be kept; null, with the reason, if there is no such way.
const Way* chosen_way(const Call& call, const Answer& found, std::vector<Problem>& problems) {
  const std::string text = call.has("--way") ? call.text("--way") : "1";
  const auto number = parse_number(text);
  const auto count = static_cast<double>(found.ways.size());
  if (number && *number >= 1 && *number <= count && *number == std::floor(*number)) {
    return &found.ways[static_cast<std::size_t>(*number) - 1].way;
  }
  problems.push_back(call_problem("--way", text,
                                  found.ways.empty() ? "no --save, since no way was found"
                                                     : fmt::format("a way from 1 to {}", count)));
  return nullptr;
}

int answer(const Call& call) {
  if (const auto clashes = find_clashes(call, {call.text("TUNING")}); !clashes.empty()) {
    return fail(clashes);
  }
  const auto file = load_tuning(call.text("TUNING"), settings_of(call));
  const auto units = units_of(call, file ? *file : TuningFile{});
  std::vector<Problem> problems;
  if (!file) append(problems, file.error());
  if (!units) append(problems, units.error());
  const Complaint* complaint = complaint_of(call, problems);
  if (!file || !units || complaint == nullptr) return fail(problems);
  const AnswerOptions options = options_of(call, *file, *complaint, problems);
  if (!problems.empty()) return fail(problems);
  if (const auto compiled = check_tuning(*file); !compiled) return fail(compiled.error());
  remark_on(*file);

  const Answer found = answer_complaint(file->tuning, *complaint, options);
  const bool chooses = call.has("--way") || call.has("--save");
  const Way* chosen = chooses ? chosen_way(call, found, problems) : nullptr;
  if (!problems.empty()) return fail(problems);
  print(call.has("--json") ? answer_json(file->tuning, *units, found)
                           : answer_table(file->tuning, *units, found));
  int code = kDone;
  if (call.has("--plot") && !found.ways.empty()) code = draw_ways(call, *file, found, *units);
  if (code == kDone && call.has("--save")) code = save(*file, chosen->tuning, call.text("--save"));
  if (code != kDone) return code;
  return found.ways.empty() || !found.keeps_held ? kFindings : kDone;
}

}  // namespace

Verb answer_verb() {
  return {
      "answer",
      "the smallest changes that answer a complaint, in the words that people use",
      {tuning_parameter(),
       {"WORD", "", "what is wrong, in a word: floaty, \"tap too high\"", Role::needs},
       {"--by", "STEP", "by how much: 20%, or \"3 ticks\" where ticks are counted"},
       {"--hold", "FACT", "a fact that is to stay as well; can be repeated", Role::takes, true},
       {"--let-go", "FACT", "a fact that need not stay; can be repeated", Role::takes, true},
       {"--free", "KNOB",
        "a knob that may be turned, over its usual range or another; can be repeated. If none is "
        "named: those in use",
        Role::takes, true},
       set_parameter(),
       units_parameter(),
       {"--way", "N", "the way that --save keeps; 1 if not given"},
       {"--save", "FILE",
        "keep a way: as a new file or in the place of TUNING; text and comments stay", Role::gives},
       {"--words", "", "list every word: what it means, what it moves, what it holds", Role::gives},
       knobs_parameter(),
       plot_parameter("the jump as it is and as each way makes it"),
       json_parameter()},
      "The exit code is 1 if no way is found that keeps what is held.",
      "less floaty, and just as high",
      "bushbaby answer demo/pip.tuning.toml floaty --plot less-floaty.png",
      answer};
}

}  // namespace bushbaby::tool
