// Level files: TOML in.
#pragma once

#include <string>
#include <string_view>

#include <bushbaby/core/world/level.h>
#include <bushbaby/data/problem.h>

namespace bushbaby {

inline constexpr std::string_view kLevelFormat = "bushbaby-level/1";

/// Reads a level from text. `path` is used in problems only. Boxes must be finite, with left <
/// right and bottom < top.
[[nodiscard]] Result<Level> parse_level(std::string_view text, const std::string& path);

[[nodiscard]] Result<Level> load_level(const std::string& path);

/// Where a level's file says where the start is: its line and column; zeros if it cannot be read.
struct FilePlace {
  int line = 0;
  int column = 0;
};
[[nodiscard]] FilePlace place_of_start(const std::string& path);

}  // namespace bushbaby
