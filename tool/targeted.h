// A tuning beside its targets.
#pragma once

#include "bushbaby/core/motion/rules.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/targets_file.h"

#include "verb.h"

namespace bushbaby::tool {

struct Targeted {
  TuningFile file;
  Units units;  ///< in which numbers are reported
  TargetsFile targets;
  Rules rules;
};

/// Reads TUNING, as --set changes it, and TARGETS of a call, and says what looks like a mistake in
/// them.
[[nodiscard]] Result<Targeted> read_targeted(const Call& call);

}  // namespace bushbaby::tool
