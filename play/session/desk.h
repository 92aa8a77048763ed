// The tuning under a person's hands: what the file says, what was changed, what is in force.
//
//     Desk desk(file, level);
//     if (const auto refusal = desk.set(*find_place("fall.factor"), 2.2)) say(*refusal);
//     advance(pip, held, desk.book(InForce::present), world);
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bushbaby/core/motion/rulebook.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

namespace bushbaby::live {

/// Whose numbers a tick is moved by.
enum class InForce : std::uint8_t {
  present,    ///< those set now
  file,       ///< the file's, while they are held up against them
  amplified,  ///< those set now, one of them far too large
};

/// A step of what was changed, to be undone.
struct Step {
  Tuning tuning;
  std::string what;  ///< "fall.factor 1.7 to 2.2"
};

class Desk {
 public:
  /// The file must be one that `compile_for` has compiled for the level.
  Desk(TuningFile file, Level level, const Rulebook& book);

  [[nodiscard]] const TuningFile& file() const noexcept { return file_; }
  [[nodiscard]] Units units() const { return {file_.convention, present_.loop.tick_rate}; }
  [[nodiscard]] const Level& level() const noexcept { return level_; }

  /// What is set now, whether or not it can be.
  [[nodiscard]] const Tuning& present() const noexcept { return present_; }
  /// The last of it that could be: what moves the character.
  [[nodiscard]] const Tuning& good() const noexcept { return good_; }
  [[nodiscard]] const Rulebook& book(InForce whose) const noexcept;
  /// The tuning that a book was compiled from.
  [[nodiscard]] const Tuning& tuning(InForce whose) const noexcept;
  /// Counts the changes of what is in force.
  [[nodiscard]] std::uint64_t version() const noexcept { return version_; }

  /// Sets a knob from the next tick on. Several changes of one knob without `settle` between them
  /// are one step. A value that the knob cannot have changes nothing; one that does not go together
  /// with the others is kept, while what was good before stays in force. Why, in words.
  std::optional<std::string> set(const KnobPlace& place, const KnobValue& value);
  /// The same from what a person typed: "2.2", "7 ticks", "60 px".
  std::optional<std::string> type(const KnobPlace& place, const std::string& text);
  /// Puts a knob back to what the file says.
  void reset_knob(const KnobPlace& place);
  void put_all_back();
  /// Takes another whole tuning, such as one tried before.
  void take(const Tuning& tuning, const std::string& what);
  /// The change under way is done: the next is a step of its own.
  void settle() noexcept { open_.clear(); }

  [[nodiscard]] bool can_undo() const noexcept { return !done_.empty(); }
  [[nodiscard]] bool can_redo() const noexcept { return !undone_.empty(); }
  [[nodiscard]] const std::vector<Step>& steps() const noexcept { return done_; }
  void undo();
  void redo();

  /// Why what is set cannot be: by key of a knob, or by nothing if it is about several.
  [[nodiscard]] const std::map<std::string, std::string>& refusals() const noexcept {
    return refusals_;
  }

  /// The knobs that are set otherwise than in the file.
  [[nodiscard]] std::vector<KnobPlace> changed() const;
  [[nodiscard]] bool is_changed(const KnobPlace& place) const;

  /// Makes a knob four times as large, or as large as it can be, until `end_amplifying`; false if
  /// it is no number, or nothing larger goes together with the rest.
  bool amplify(const KnobPlace& place);
  void end_amplifying();

  /// Writes what is set into the file, or to another place. It is the file from then on.
  std::optional<Problem> save(const std::string& path);
  /// Writes a new file that is based on this one, with what is set otherwise; this file stays.
  [[nodiscard]] std::optional<Problem> save_based(const std::string& path) const;

  /// Reads the file again. What was set otherwise stays so, on top of it.
  std::optional<Problem> reload();
  /// The same, and what was set is dropped.
  std::optional<Problem> reload_and_drop();

 private:
  void begin_step(const std::string& what, const std::string& open);
  void check();
  std::optional<Problem> read_again(TuningFile& into) const;

  TuningFile file_;
  Level level_;
  Tuning present_;
  Tuning good_;
  Tuning amplified_;
  Rulebook book_;
  Rulebook file_book_;
  Rulebook amplified_book_;
  bool amplifies_ = false;
  std::uint64_t version_ = 0;
  std::vector<Step> done_;
  std::vector<Step> undone_;
  std::string open_;  // the knob whose change is under way
  std::map<std::string, std::string> refusals_;
};

}  // namespace bushbaby::live
