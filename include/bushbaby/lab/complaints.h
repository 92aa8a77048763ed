// Complaints: what people say of how a character feels, as facts, and the smallest changes that
// answer it.
//
//     const Answer answer = answer_complaint(pip, *find_complaint("floaty"), {});
//     for (const AnswerWay& way : answer.ways) print(way);
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/lab/ways.h>

namespace bushbaby {

/// A fact that a complaint is about, and which way it should go.
struct ComplaintFact {
  std::string_view fact;
  bool more = true;  ///< false: less
};

struct Complaint {
  std::string_view word;                ///< "floaty"
  std::string_view says;                ///< in the words of who complains
  std::vector<std::string_view> also;   ///< other words for it
  std::vector<ComplaintFact> facts;     ///< all of them change
  double step = 0.12;                   ///< by this share; what is counted in ticks, by so many
  std::vector<std::string_view> holds;  ///< facts that stay as they are
  std::string_view reason;              ///< why it is these facts
  std::vector<std::string_view> switches{};  ///< knobs that may be switched on for it
};

/// Every complaint that is known, those about the jump first.
[[nodiscard]] const std::vector<Complaint>& complaints();

/// The complaint of a word, its own or another for it; null if nobody says so.
[[nodiscard]] const Complaint* find_complaint(std::string_view word);

/// A fact that another tuning has otherwise.
struct SideEffect {
  const FactInfo* fact = nullptr;
  std::optional<double> before, after;
};

struct AnswerWay {
  Way way;
  Judgement after;                 ///< on the targets of the answer
  std::vector<SideEffect> others;  ///< other facts that change by more than a hundredth
};

struct AnswerOptions {
  std::optional<double> step{};        ///< in the place of the complaint's own
  std::vector<std::string> holds{};    ///< facts that stay as well
  std::vector<std::string> lets_go{};  ///< facts that need not stay
  std::vector<FreeKnob> knobs{};       ///< that may be turned; none: those in use
  Rounder round{};
};

struct Answer {
  const Complaint* complaint = nullptr;
  std::vector<Target> targets;  ///< what is wanted, and then what is held
  std::size_t wanted = 0;       ///< how many of them are wanted
  Judgement before;
  /// Up to three, the smallest change first.
  std::vector<AnswerWay> ways;
  bool keeps_held = true;  ///< false: no way was found but such that let go of what is held
  std::string why_not;     ///< why there is none
};

/// Looks for the smallest changes of one knob or two that move the facts of a complaint by its step
/// while the facts that it holds stay within 3 %, half a tick where ticks are counted, or a tick
/// where times are. The tuning must be one that can be. Facts must exist.
[[nodiscard]] Answer answer_complaint(const Tuning& tuning, const Complaint& complaint,
                                      const AnswerOptions& options);

}  // namespace bushbaby
