// The look that everything drawn shares, and the words of the plotting program for it.
#pragma once

#include <string>
#include <string_view>

#include "bushbaby/core/shapes.h"

namespace bushbaby::detail {

namespace colour {
inline constexpr std::string_view kPaper = "#fbf4e4";      // the ground
inline constexpr std::string_view kInk = "#2d2a55";        // lines and text
inline constexpr std::string_view kInkFaint = "#ddd3c4";   // grid
inline constexpr std::string_view kAmber = "#c47a00";      // what was measured
inline constexpr std::string_view kAmberSoft = "#efc987";  // the same, as the line between dots
inline constexpr std::string_view kMoss = "#6f8f3c";       // what is wanted
inline constexpr std::string_view kMossSoft = "#d3dcb2";   // the same, as a band
inline constexpr std::string_view kClay = "#a8432f";       // a miss
inline constexpr std::string_view kBark = "#b3a799";       // terrain
inline constexpr std::string_view kBarkDark = "#5b4f45";   // its top edge
}  // namespace colour

// A text in quotes, with nothing in it that the plotting program would take for its own.
std::string quoted(std::string_view text);

// The head of every script but for the output, which `render` adds.
std::string sheet_head();

// The sheet's title: the finding.
std::string heading(std::string_view text);

// A named block of data; `rows` are whole lines.
std::string data_block(std::string_view name, const std::string& rows);

enum class Align { left, centre, right };

// A text at a place, shifted by so many characters across and up; upright, it reads upward.
std::string label(std::string_view text, Vec at, Align align, Vec shift = {0, 0},
                  bool upright = false);

}  // namespace bushbaby::detail
