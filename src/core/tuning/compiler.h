// How a tuning is compiled, alone and in zones.
#pragma once

#include <set>
#include <string>
#include <string_view>

#include "bushbaby/core/tuning/compile.h"

namespace bushbaby::detail {

// What a tuning is in some zones: made concrete and overridden, and by which knobs. Speeds at
// launch are those outside, but for the jumps whose knobs were overridden.
struct Within {
  Tuning tuning;
  Rules outside;
  std::set<std::string, std::less<>> overridden;  // keys of knobs, without rows

  [[nodiscard]] bool has(std::string_view key) const { return overridden.count(key) > 0; }
};

Compiled compile_within(const Within& within);

}  // namespace bushbaby::detail
