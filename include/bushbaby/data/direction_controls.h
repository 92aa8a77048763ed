// Signs that turn the direction of a text: in a name from a stranger's file they make what is read
// another thing than what is there. See Unicode Technical Report 36, "Bidirectional Text Spoofing".
#pragma once

#include <algorithm>
#include <cstdio>
#include <string>
#include <string_view>

namespace bushbaby {

/// The code point of a direction control (U+202A to U+202E, U+2066 to U+2069) that a UTF-8 text has
/// at a place; 0 if there is none. Each is three bytes long.
[[nodiscard]] inline unsigned direction_control_at(std::string_view text, std::size_t at) noexcept {
  const std::string_view start = text.substr(std::min(at, text.size()), 2);
  if (at + 3 > text.size() || (start != "\xE2\x80" && start != "\xE2\x81")) return 0;
  const auto last = static_cast<unsigned char>(text[at + 2]);
  if (start[1] == '\x80' && last >= 0xAA && last <= 0xAE) return 0x2000U + (last - 0x80U);
  if (start[1] == '\x81' && last >= 0xA6 && last <= 0xA9) return 0x2040U + (last - 0x80U);
  return 0;
}

/// A direction control as it is shown, which is also how JSON escapes it: "\u202e".
[[nodiscard]] inline std::string shown_direction_control(unsigned code) {
  char shown[8];
  (void)std::snprintf(shown, sizeof shown, "\\u%04x", code);
  return shown;
}

/// A text with its direction controls shown instead of being followed.
[[nodiscard]] inline std::string with_directions_shown(std::string_view text) {
  std::string result;
  result.reserve(text.size());
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (const unsigned code = direction_control_at(text, i)) {
      result += shown_direction_control(code);
      i += 2;
    } else {
      result += text[i];
    }
  }
  return result;
}

}  // namespace bushbaby
