// Answers: the smallest changes to a tuning that answer complaints about it.
//
//     const Answer answer = answer_complaints(pip, {find_complaint("floaty")}, {});
//     for (const AnswerOption& option : answer.options) print(option.change);
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include <bushbaby/lab/changes.h>
#include <bushbaby/lab/complaints.h>

namespace bushbaby {

/// A fact that changes along with the others.
struct SideEffect {
  const FactInfo* fact = nullptr;
  std::optional<double> before, after;
};

struct AnswerOption {
  Change change;
  Judgement after;                 ///< on the targets of the answer
  std::vector<SideEffect> others;  ///< other facts that change by more than a hundredth
};

struct AnswerRequest {
  std::optional<double> share{};      ///< by which facts change, instead of each complaint's own
  std::optional<double> ticks{};      ///< the same for facts that are counted in ticks
  std::vector<std::string> keeps{};   ///< facts that stay as well
  std::vector<std::string> allows{};  ///< facts that may change
  std::vector<FreeKnob> knobs{};      ///< that may be turned; none: those in use
  Rounder round{};
};

struct Answer {
  std::vector<const Complaint*> complaints;
  std::vector<Target> targets;  ///< what is asked for, then what is kept
  std::size_t asked = 0;        ///< how many of them are asked for
  Judgement before;
  /// Up to three, the smallest change first.
  std::vector<AnswerOption> options;
  bool keeps_all = true;  ///< false: every option that was found changes something that is kept
  std::string why_not;    ///< why there is none
};

/// Looks for the smallest changes that move the facts of all complaints by their steps while the
/// facts that they keep stay within 3 %, half a tick where ticks are counted, or a tick where times
/// are. One complaint is answered with one knob or two; several with what answers each, put
/// together, or where that does not do, one after another. What one complaint asks for, another
/// does not keep. The tuning must be one that compiles; facts must exist; two complaints that pull
/// one fact both ways have no answer, and `why_not` says so.
[[nodiscard]] Answer answer_complaints(const Tuning& tuning,
                                       const std::vector<const Complaint*>& complaints,
                                       const AnswerRequest& request);

}  // namespace bushbaby
