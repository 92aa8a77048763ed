// Ferries in words.
#pragma once

#include <string>

#include <bushbaby/core/world/ferry.h>
#include <bushbaby/data/units.h>

namespace bushbaby {

/// How a ferry travels: "goes to and fro over 6 u at 3 u/s, once in 4 s".
[[nodiscard]] std::string way_text(const Ferry& ferry, const Units& units);

}  // namespace bushbaby
