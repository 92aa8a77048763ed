// Splitting CSV into rows of fields.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/core/motion/controls.h"
#include "bushbaby/data/problem.h"

namespace bushbaby::detail {

using CsvRow = std::vector<std::string>;

// The rows of a text, blank lines as empty rows, so that row i stands on line i + 1.
Result<std::vector<CsvRow>> split_rows(std::string_view text, const std::string& path);

// A cell of a header: a name, then the unit of the column, if it says one: "time s", "x px",
// "y px down", "x (px)".
struct Heading {
  std::string name;
  std::string unit;
  bool down = false;
};
using Header = std::vector<Heading>;
Header header_of(const CsvRow& row);

// What a cell says is held, in the words of inputs; nothing if it is none of them.
std::optional<Controls> held_in(std::string_view cell);

// The place of a column in a header, by its name alone.
std::optional<std::size_t> column_of(const Header& header, std::string_view name);

}  // namespace bushbaby::detail
