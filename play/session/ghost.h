// A second character that is played on the same inputs, to be seen beside the first.
#pragma once

#include <cstdint>
#include <optional>
#include <string>

#include "bushbaby/core/motion/character.h"
#include "bushbaby/core/motion/rulebook.h"
#include "bushbaby/core/world/world.h"
#include "bushbaby/lab/trace.h"

namespace bushbaby::live {

class Ghost {
 public:
  enum class Kind : std::uint8_t {
    none,
    file,    ///< the character with the file's numbers
    tuning,  ///< another tuning
    trace,   ///< a recorded run
  };

  Ghost() = default;
  static Ghost of_file();
  static Ghost of_tuning(std::string name, Rulebook book);
  static Ghost of_trace(std::string name, Trace trace);

  [[nodiscard]] Kind kind() const noexcept { return kind_; }
  [[nodiscard]] const std::string& name() const noexcept { return name_; }

  /// Stands where the character does, and does what it does from then on. `file` has the file's
  /// numbers; both outlive no call.
  void join(const Character& character, const Rulebook& file, const World& world);
  /// One tick, in which the first character came to `other`.
  void advance(const Controls& held, const Character& other, const Rulebook& file,
               const World& world);

  /// Where it went since it joined; a recorded run, since its start.
  [[nodiscard]] const Trace& trail() const noexcept { return trail_; }
  /// The first tick in which its feet were somewhere else.
  [[nodiscard]] std::optional<std::int64_t> parted() const noexcept { return parted_; }
  /// How it is at the end of a tick; nothing if it has none then.
  [[nodiscard]] std::optional<Sample> at(std::int64_t tick) const;
  /// The same so much of the way to it from the tick before, 0 … 1.
  [[nodiscard]] std::optional<Sample> between(std::int64_t tick, double share) const;
  /// u, and of its corners.
  [[nodiscard]] Box body() const noexcept { return body_; }
  [[nodiscard]] double radius() const noexcept { return radius_; }

 private:
  [[nodiscard]] const Rulebook& book(const Rulebook& file) const noexcept {
    return kind_ == Kind::file ? file : book_;
  }
  void note(const Character& other);

  Kind kind_ = Kind::none;
  std::string name_;
  Rulebook book_;
  Trace recorded_;
  Character character_;
  Trace trail_;
  std::optional<std::int64_t> parted_;
  Box body_;
  double radius_ = 0;
};

}  // namespace bushbaby::live
