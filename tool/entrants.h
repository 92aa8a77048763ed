// The tunings of a call that compares several: TUNING itself, and its variants.
#pragma once

#include <string>
#include <vector>

#include "bushbaby/data/tuning_file.h"

#include "verb.h"

namespace bushbaby::tool {

struct Entrant {
  std::string name;  ///< the tuning's own, or what was tried
  TuningFile file;
};

/// TUNING with --set, then what --try, --without and --with say; adds what is wrong with them.
[[nodiscard]] std::vector<Entrant> entrants_of(const Call& call, std::vector<Problem>& problems);

/// For each, in which knobs it differs from the first; nothing for those that say it by their name.
[[nodiscard]] std::vector<std::vector<std::string>> differences_of(
    const Call& call, const std::vector<Entrant>& entrants, const Units& units);

[[nodiscard]] Parameter try_parameter();
[[nodiscard]] Parameter without_parameter();
[[nodiscard]] Parameter with_parameter();

}  // namespace bushbaby::tool
