// The style of an export as rows, which stand before those of the numbers in every form.
#pragma once

#include <string>
#include <vector>

#include "bushbaby/records/export_table.h"

namespace bushbaby::detail {

// Degrees and radians.
inline constexpr double kHalfTurn = 180;
inline constexpr double kPi = 3.14159265358979323846;

// "convention.one_unit" = "16 px", …
std::vector<ExportRow> style_rows(const ExportStyle& style);

// Takes in a row of the style; the reason if its value is none: what was expected.
std::string read_style(ExportStyle& style, std::string_view key, const std::string& text);

}  // namespace bushbaby::detail
