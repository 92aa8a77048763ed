// What the readers of level files share: lists of numbers, outlines, and surfaces.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/core/world/level.h"
#include "bushbaby/data/convention.h"
#include "bushbaby/data/level_file.h"

#include "toml_text.h"

namespace bushbaby::detail {

// Farther out than this, the flush gap drowns in rounding. World units.
inline constexpr double kFarthest = 1e7;

// More corners than these are no outline that somebody drew: every edge is compared with every
// other.
inline constexpr std::size_t kMostOutlineCorners = 1000;

// Reads a list of exactly `count` lengths or speeds; notes what is wrong with it.
std::optional<std::vector<double>> read_numbers(const toml::node& node, std::size_t count,
                                                const std::string& key, const std::string& expected,
                                                Dimension dimension, const Convention& convention,
                                                ProblemList& problems);

std::optional<std::string> read_text(const toml::node& node, const std::string& key,
                                     ProblemList& problems);

// Notes what is wrong with a solid's outline or line; `where` is its place.
void check_corners(const Solid& solid, const toml::source_region& where, const std::string& key,
                   const Convention& convention, ProblemList& problems);

// What a solid stops, in words: "everything", "from above", …
inline constexpr std::array<std::string_view, 5> kBlocksNames{
    "everything", "from above", "from below", "from left", "from right"};

// Read the tables of one solid's surface and touch; note what is wrong with them.
void read_surface(const toml::node& node, const Convention& convention, SurfaceTraits& traits,
                  ProblemList& problems);
void read_touch(const toml::node& node, const Convention& convention, SurfaceTraits& traits,
                ProblemList& problems);

// Reads a level drawn as SVG.
Result<LevelFile> parse_drawing(std::string_view text, const std::string& path);

}  // namespace bushbaby::detail
