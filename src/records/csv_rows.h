// Splitting CSV into rows of fields.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/data/problem.h"

namespace bushbaby::detail {

using CsvRow = std::vector<std::string>;

// The rows of a text, blank lines as empty rows, so that row i stands on line i + 1.
Result<std::vector<CsvRow>> split_rows(std::string_view text, const std::string& path);

// The place of a column in a header.
std::optional<std::size_t> column_of(const CsvRow& header, std::string_view name);

}  // namespace bushbaby::detail
