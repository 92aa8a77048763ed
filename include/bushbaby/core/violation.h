// What is wrong with something that was asked for.
#pragma once

#include <string>

namespace bushbaby {

/// A value, or a combination of values, that does not do. Reads as "key: found …, expected …"; the
/// two may hold values, units and reasons.
struct Violation {
  std::string key;  ///< the knob or quantity; empty if it is about several
  std::string found;
  std::string expected;  ///< never empty
};

/// "key: found …, expected …".
[[nodiscard]] std::string describe(const Violation& violation);

}  // namespace bushbaby
