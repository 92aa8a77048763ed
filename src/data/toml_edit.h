// Edits of a TOML text that keep everything else: comments, order, style and line ends.
//
// The text must be TOML. Tables may be written in any way that TOML has: under a heading, with
// dotted or quoted keys, in braces, rows under headings or in a list. A path names a key from the
// root on; rows of lists are counted from 0: {"wall", "exit", "1", "away"}.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace bushbaby::detail {

using TomlPath = std::vector<std::string>;

// "wall.exit" → {"wall", "exit"}.
TomlPath path_of(std::string_view dotted);

// The text with a key set to a value, as TOML writes it: instead of what it has, else where
// its table stands, else in a new section at the end.
std::string with_value(std::string text, const TomlPath& path, const std::string& value);

// The text without a key.
std::string without_key(std::string text, const TomlPath& path);

// The text with another row at the end of a list of tables; keys and values as TOML writes them.
std::string with_row(std::string text, const TomlPath& list,
                     const std::vector<std::pair<std::string, std::string>>& row);

}  // namespace bushbaby::detail
