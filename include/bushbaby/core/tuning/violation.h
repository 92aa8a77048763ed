// What is wrong with something that was asked for, in words whose numbers can be reported in the
// reader's own units.
#pragma once

#include <string>
#include <utility>
#include <variant>
#include <vector>

#include <bushbaby/core/tuning/dimension.h>

namespace bushbaby {

/// A number with its unit, in world units and seconds.
struct Quantity {
  double value = 0;
  Dimension dimension = Dimension::number;
  bool rounded = false;  ///< worked out: six digits will do; otherwise as it was given
  bool bare = false;     ///< the unit is named elsewhere
};

/// Words with quantities, and names of units, among them.
class Phrase {
 public:
  using Part = std::variant<std::string, Quantity, Dimension>;

  Phrase() = default;
  Phrase(const char* words) : parts_{std::string(words)} {}  // NOLINT: words are a phrase
  Phrase(std::string words) : parts_{std::move(words)} {}    // NOLINT
  Phrase(const Quantity& quantity) : parts_{quantity} {}     // NOLINT
  explicit Phrase(Dimension unit) : parts_{unit} {}

  Phrase& operator+=(const Phrase& more) {
    parts_.insert(parts_.end(), more.parts_.begin(), more.parts_.end());
    return *this;
  }
  [[nodiscard]] friend Phrase operator+(Phrase a, const Phrase& b) { return a += b; }

  [[nodiscard]] bool empty() const noexcept { return parts_.empty(); }
  [[nodiscard]] const std::vector<Part>& parts() const noexcept { return parts_; }

 private:
  std::vector<Part> parts_;
};

/// The phrase in world units and seconds.
[[nodiscard]] std::string describe(const Phrase& phrase);

/// A value, or a combination of values, that does not do. Reads as "key: found …, expected …"; the
/// two may hold values, units and reasons.
struct Violation {
  std::string key;  ///< the knob or quantity; empty if it is about several
  Phrase found;
  Phrase expected;  ///< never empty
};

/// "key: found …, expected …", in world units and seconds.
[[nodiscard]] std::string describe(const Violation& violation);

}  // namespace bushbaby
