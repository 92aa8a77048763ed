// Level files: TOML, or a drawing in SVG, in.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/core/world/level.h>
#include <bushbaby/data/problem.h>

namespace bushbaby {

inline constexpr std::string_view kLevelFormat = "bushbaby-level/1";

/// A place in a file: line and column count from 1.
struct FilePlace {
  int line = 0;
  int column = 0;
};

/// A level, and where its file says what.
struct LevelFile {
  Level level;
  FilePlace start;
  std::vector<FilePlace> solids;  ///< one for each solid
};

/// Reads a level from a file: a drawing if its name ends in ".svg", else TOML. Everything in it is
/// finite; boxes have an inside, outlines are simple.
[[nodiscard]] Result<LevelFile> load_level_file(const std::string& path);
[[nodiscard]] Result<Level> load_level(const std::string& path);

/// Reads a level from text: TOML. `path` is used in problems only.
[[nodiscard]] Result<Level> parse_level(std::string_view text, const std::string& path);

/// Reads a level from text: a drawing.
[[nodiscard]] Result<Level> parse_level_drawing(std::string_view text, const std::string& path);

}  // namespace bushbaby
