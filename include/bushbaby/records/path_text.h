// Paths of moving platforms in words.
#pragma once

#include <string>

#include <bushbaby/core/world/platform_path.h>
#include <bushbaby/data/units.h>

namespace bushbaby {

/// How a moving platform travels: "goes back and forth over 6 u at 3 u/s, once in 4 s".
[[nodiscard]] std::string path_text(const PlatformPath& path, const Units& units);

}  // namespace bushbaby
