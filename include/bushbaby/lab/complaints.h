// Complaints: what people say of how a character feels, and the facts that it is about.
//
//     const ComplaintReading read = read_complaint("jumps aren't high enough");
//     if (read.complaint != nullptr) print(read.complaint->word);  // "low"
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace bushbaby {

/// A fact that a complaint is about, and which way it should go.
struct ComplaintFact {
  std::string_view fact;
  bool more = true;  ///< false: less
};

struct Complaint {
  std::string_view word;                ///< "floaty"
  std::string_view says;                ///< what a player would say
  std::string_view opposite;            ///< the word of the complaint about the other extreme
  std::vector<std::string_view> has;    ///< what there is too much of: "slides far"
  std::vector<std::string_view> lacks;  ///< what there is too little of: "air control"
  std::vector<ComplaintFact> facts;     ///< all of them change
  double step = 0.12;                   ///< by this share; what is counted in ticks, by this many
  std::vector<std::string_view> keeps;  ///< facts that stay as they are
  std::string_view reason;              ///< why it is these facts
  std::vector<std::string_view> switches{};  ///< knobs that may be switched on for it
};

/// Every complaint that is known, those about the jump first.
[[nodiscard]] const std::vector<Complaint>& complaints();

/// The complaint with exactly this word, or null.
[[nodiscard]] const Complaint* find_complaint(std::string_view word);

/// What was made of somebody's words.
struct ComplaintReading {
  const Complaint* complaint = nullptr;  ///< null: not understood
  /// If not understood: those that share words with what was said, the nearest first; three at
  /// most.
  std::vector<const Complaint*> near;
};

/// Reads a complaint in somebody's own words: "too floaty", "less floaty", "not high enough",
/// "eats my jump", "no control in the air". Every word that says something must belong to the
/// complaint; otherwise it is not understood. Texts of any length are read in linear time.
[[nodiscard]] ComplaintReading read_complaint(std::string_view text);

}  // namespace bushbaby
