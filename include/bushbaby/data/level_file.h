// Level files: TOML, or a drawing in SVG, in.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/core/tuning/zones.h>
#include <bushbaby/core/world/level.h>
#include <bushbaby/data/problem.h>
#include <bushbaby/data/tuning_file.h>
#include <bushbaby/data/units.h>

namespace bushbaby {

inline constexpr std::string_view kLevelFormat = "bushbaby-level/1";

/// A place in a file: line and column count from 1.
struct FilePlace {
  int line = 0;
  int column = 0;
};

/// Where a file says what a zone is.
struct ZonePlaces {
  FilePlace zone;
  std::vector<FilePlace> overrides;  ///< one for each
};

/// A level, and where its file says what.
struct LevelFile {
  Level level;
  FilePlace start;
  std::vector<FilePlace> solids;  ///< one for each solid
  std::vector<ZonePlaces> zones;  ///< one for each zone
};

/// Reads a level from a file: a drawing if its name ends in ".svg", else TOML. Everything in it is
/// finite; boxes have an inside, outlines are simple.
[[nodiscard]] Result<LevelFile> load_level_file(const std::string& path);
[[nodiscard]] Result<Level> load_level(const std::string& path);

/// A tuning compiled for a level's zones; problems name the file that they are in. `path` is that
/// of the level; `units` are those in which numbers are reported.
[[nodiscard]] Result<Rulebook> compile_for(const TuningFile& tuning, const LevelFile& level,
                                           const std::string& path, const Units& units);

/// The same for measuring within some of its zones: the rules there, everywhere.
[[nodiscard]] Result<Rulebook> compile_in(const TuningFile& tuning, const LevelFile& level,
                                          const std::vector<ZoneId>& within,
                                          const std::string& path, const Units& units);

/// Reads a level from text: TOML. `path` is used in problems only.
[[nodiscard]] Result<Level> parse_level(std::string_view text, const std::string& path);

/// Reads a level from text: a drawing.
[[nodiscard]] Result<Level> parse_level_drawing(std::string_view text, const std::string& path);

}  // namespace bushbaby
