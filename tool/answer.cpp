#include "bushbaby/lab/answer.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/answer_reports.h"
#include "bushbaby/records/fit_reports.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/views/overlay_picture.h"

#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

bool counts_ticks(const Complaint& complaint) { return complaint.step >= 1; }

// By how much: "20%" of facts that are amounts, "3 ticks" where ticks are counted.
void read_step(const Call& call, const std::vector<const Complaint*>& about, AnswerRequest& request,
               std::vector<Problem>& problems) {
  if (!call.has("--by")) return;
  const std::string text = call.text("--by");
  const bool any_ticks = std::any_of(about.begin(), about.end(), [](const Complaint* complaint) {
    return counts_ticks(*complaint);
  });
  const bool any_share = std::any_of(about.begin(), about.end(), [](const Complaint* complaint) {
    return !counts_ticks(*complaint);
  });
  constexpr double kMostShare = 10;
  constexpr double kMostTicks = 1000;
  const auto is_within = [](double step, double most) { return step > 0 && step <= most; };
  if (any_share && !text.empty() && text.back() == '%') {
    constexpr double kPercent = 100;
    const auto number = parse_number(std::string_view(text).substr(0, text.size() - 1));
    if (number && is_within(*number / kPercent, kMostShare)) {
      request.share = *number / kPercent;
      return;
    }
  }
  const auto time = any_ticks ? parse_duration(text) : std::nullopt;
  if (time && time->unit == Duration::Unit::ticks && is_within(time->amount, kMostTicks)) {
    request.ticks = time->amount;
    return;
  }
  const char* expected = "a share, such as 20%";
  if (any_ticks) {
    expected = any_share ? "20%, or \"3 ticks\"" : "a number of ticks, such as \"3 ticks\"";
  }
  problems.push_back(call_problem("--by", text, expected));
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

// What a complaint is probably meant to be: by the words it shares, or else by its letters.
std::string suggestion_for(const std::string& text, const ComplaintReading& read) {
  std::vector<std::string_view> words;
  for (const Complaint* complaint : read.near) words.push_back(complaint->word);
  if (!words.empty()) return fmt::format("{}", fmt::join(words, ", "));
  std::vector<std::string_view> known;
  for (const Complaint& one : complaints()) {
    known.push_back(one.word);
    known.insert(known.end(), one.has.begin(), one.has.end());
  }
  return std::string(nearest_name(text, known));
}

std::vector<const Complaint*> complaints_of(const Call& call, std::vector<Problem>& problems) {
  std::vector<const Complaint*> about;
  for (const std::string& text : call.texts("COMPLAINT")) {
    const ComplaintReading read = read_complaint(text);
    if (read.complaint != nullptr) {
      about.push_back(read.complaint);
      continue;
    }
    problems.push_back({ProblemCode::unknown_name, "COMPLAINT", 0, 0, "", text,
                        "a complaint, such as \"too floaty\"; answer --words lists all",
                        suggestion_for(text, read)});
  }
  return about;
}

// The jump that is complained of, as it is and as each option makes it.
int draw_options(const Call& call, const TuningFile& file, const Answer& answer,
                 const Units& units) {
  const std::string_view fact = answer.complaints.front()->facts.front().fact;
  const Drill* drill = drill_of_fact(fact);
  if (drill->record == nullptr) drill = find_drill("running_jump");
  std::vector<Variant> variants;
  const auto add = [&](const std::string& name, const Tuning& tuning) {
    auto variant = record_drill(CharacterSubject(compile(tuning).rules, name), name, *drill);
    if (variant) variants.push_back(std::move(*variant));
    return variant.has_value();
  };
  bool all = add(file.tuning.name, file.tuning);
  for (std::size_t i = 0; i < answer.options.size(); ++i) {
    all = add(fmt::format("option {}", i + 1), answer.options[i].change.tuning) && all;
  }
  if (!all) return fail(fmt::format("--plot: not every option makes the drill {}", drill->name));
  const OverlayPicture picture{fmt::format("the drill {}", drill->name), variants, nullptr, nullptr,
                               units};
  return draw_to(draw(picture), call.text("--plot"));
}

AnswerRequest request_of(const Call& call, const TuningFile& file,
                         const std::vector<const Complaint*>& about,
                         std::vector<Problem>& problems) {
  AnswerRequest request;
  if (!about.empty()) read_step(call, about, request, problems);
  request.keeps = facts_of(call, "--keep", problems);
  request.allows = facts_of(call, "--allow", problems);
  for (const std::string& text : call.texts("--free")) {
    const auto knob = parse_free(file, text);
    if (knob) {
      request.knobs.push_back(*knob);
    } else {
      append(problems, knob.error());
    }
  }
  request.round = rounder_in(file.units());
  return request;
}

// The option that is to be saved; null, with the reason, if there is none.
const Change* chosen_change(const Call& call, const Answer& found, std::vector<Problem>& problems) {
  const std::string text = call.has("--option") ? call.text("--option") : "1";
  const auto number = parse_number(text);
  const auto count = static_cast<double>(found.options.size());
  if (number && *number >= 1 && *number <= count && *number == std::floor(*number)) {
    return &found.options[static_cast<std::size_t>(*number) - 1].change;
  }
  problems.push_back(call_problem("--option", text,
                                  found.options.empty()
                                      ? "no --save, since no answer was found"
                                      : fmt::format("an option from 1 to {}", count)));
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
  const std::vector<const Complaint*> about = complaints_of(call, problems);
  if (!file || !units) return fail(problems);
  const AnswerRequest request = request_of(call, *file, about, problems);
  if (!problems.empty()) return fail(problems);
  if (const auto compiled = check_tuning(*file); !compiled) return fail(compiled.error());
  remark_on(*file);

  const Answer found = answer_complaints(file->tuning, about, request);
  const bool chooses = call.has("--option") || call.has("--save");
  const Change* chosen = chooses ? chosen_change(call, found, problems) : nullptr;
  if (!problems.empty()) return fail(problems);
  print(call.has("--json") ? answer_json(file->tuning, *units, found)
                           : answer_table(file->tuning, *units, found));
  int code = kDone;
  if (call.has("--plot") && !found.options.empty()) code = draw_options(call, *file, found, *units);
  if (code == kDone && call.has("--save")) code = save(*file, chosen->tuning, call.text("--save"));
  if (code != kDone) return code;
  return found.options.empty() || !found.keeps_all ? kFindings : kDone;
}

}  // namespace

Verb answer_verb() {
  return {"answer",
          "the smallest changes that answer complaints, in the words players use",
          {tuning_parameter(),
           {"COMPLAINT", "",
            "what is wrong: floaty, \"not high enough\", \"eats my jump\"; one or more",
            Role::needs, true},
           {"--by", "STEP", "by how much: 20%, or \"3 ticks\" where ticks are counted"},
           {"--keep", "FACT", "a fact that must stay as well; can be repeated", Role::takes, true},
           {"--allow", "FACT", "a fact that may change; can be repeated", Role::takes, true},
           {"--free", "KNOB",
            "a knob that may be changed, within its usual range or the one given: "
            "\"fall.factor=1.2..2\"; can be repeated. If omitted: those in use",
            Role::takes, true},
           set_parameter(),
           units_parameter(),
           {"--option", "N", "the option that --save writes; 1 if omitted"},
           {"--save", "FILE",
            "write an option: to a new file, or into TUNING; text and comments stay", Role::gives},
           {"--words", "", "list every complaint: what it means, moves and keeps", Role::gives},
           knobs_parameter(),
           plot_parameter("the jump as it is and as each option makes it"),
           json_parameter()},
          "The exit code is 1 if no answer is found, or none that keeps everything.",
          "less floaty, and just as high",
          "bushbaby answer demo/pip.tuning.toml floaty --plot less-floaty.png",
          answer};
}

}  // namespace bushbaby::tool
