// A tuning beside what is wanted of it.
#pragma once

#include "bushbaby/core/motion/rules.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/targets_file.h"

#include "verb.h"

namespace bushbaby::tool {

struct Wanted {
  TuningFile file;
  Units units;  ///< in which numbers are told
  TargetsFile targets;
  Rules rules;
};

/// Reads TUNING, as --set changes it, and TARGETS of a call, and says what looks like a mistake in
/// them.
[[nodiscard]] Result<Wanted> read_wanted(const Call& call);

}  // namespace bushbaby::tool
