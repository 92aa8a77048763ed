#include "sheet.h"

#include <cctype>

#include <fmt/format.h>

namespace bushbaby::detail {

std::string quoted(std::string_view text) {
  std::string result = "\"";
  for (const char c : text) {
    if (c == '"' || c == '\\') result += '\\';
    result += std::iscntrl(static_cast<unsigned char>(c)) != 0 ? ' ' : c;
  }
  return result + '"';
}

std::string sheet_head() {
  return fmt::format(
      "set encoding utf8\n"
      "set border 3 lc rgb '{ink}' lw 1.2\n"
      "set tics nomirror out textcolor rgb '{ink}'\n"
      "set grid lc rgb '{faint}' lw 1 dt 1\n"
      "set format '%g'\n"
      "set key off\n"
      "set title tc rgb '{ink}'\n"
      "set xlabel tc rgb '{ink}'\n"
      "set ylabel tc rgb '{ink}'\n",
      fmt::arg("ink", colour::kInk), fmt::arg("faint", colour::kInkFaint));
}

std::string heading(std::string_view text) {
  return fmt::format("set label {} at screen 0.5,0.955 center font ',16' tc rgb '{}'\n",
                     quoted(text), colour::kInk);
}

std::string data_block(std::string_view name, const std::string& rows) {
  return fmt::format("${} << EOD\n{}EOD\n", name, rows);
}

std::string label(std::string_view text, Vec at, Align align, Vec shift, bool upright) {
  constexpr std::string_view kWords[] = {"left", "center", "right"};
  return fmt::format("set label {} at {},{} {} offset character {},{}{} tc rgb '{}' front\n",
                     quoted(text), at.x, at.y, kWords[static_cast<int>(align)], shift.x, shift.y,
                     upright ? " rotate by 90" : "", colour::kInk);
}

}  // namespace bushbaby::detail
