// The lists that a verb can give instead of its work: knobs and facts.
#pragma once

#include "verb.h"

namespace bushbaby::tool {

/// Whether the call asks for a list alone, and so needs nothing else.
[[nodiscard]] bool lists_only(const Call& call);

int print_lists(const Call& call);

}  // namespace bushbaby::tool
