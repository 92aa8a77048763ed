// What things are called in messages, tables and pictures. Names come from strangers' files: they
// may be missing, or longer than any line.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/core/world/level.h>

namespace bushbaby {

/// A name as it is shown: of one that is longer than `most` bytes (characters, in most names), its
/// beginning and its end. Paths may have 250 at least.
[[nodiscard]] std::string shortened(std::string_view name, std::size_t most = 60);

/// What a character is called: its name, or "the character".
[[nodiscard]] std::string character_name(std::string_view name, std::size_t most = 60);

/// What a solid, or a zone, of a level is called: its name in quotes, or "solid 3", counted from 1.
[[nodiscard]] std::string solid_name(const Level& level, std::size_t solid);
[[nodiscard]] std::string zone_name(const Level& level, ZoneId zone);

/// What all zones of a level are called, in order.
[[nodiscard]] std::vector<std::string> zone_names(const Level& level);

}  // namespace bushbaby
