// What must be pressed or held to leave a wall, from the words of a tuning.
#pragma once

#include <string_view>

namespace bushbaby::detail {

// The buttons of a way to leave a wall.
struct ExitButtons {
  bool ok = false;  // the words made sense
  bool jump = false;
  int horizontal = 0;  // 1 away, -1 towards the wall
  int vertical = 0;    // 1 up, -1 down
};

// Reads words joined by "+". Not ok: no word, an unknown one, one twice, or both ends of an axis.
inline ExitButtons exit_buttons(std::string_view words) noexcept {
  ExitButtons buttons;
  while (true) {
    const std::size_t plus = words.find('+');
    std::string_view word = words.substr(0, plus);
    while (!word.empty() && word.front() == ' ') word.remove_prefix(1);
    while (!word.empty() && word.back() == ' ') word.remove_suffix(1);
    if (word == "jump" && !buttons.jump) {
      buttons.jump = true;
    } else if ((word == "away" || word == "towards") && buttons.horizontal == 0) {
      buttons.horizontal = word == "away" ? 1 : -1;
    } else if ((word == "up" || word == "down") && buttons.vertical == 0) {
      buttons.vertical = word == "up" ? 1 : -1;
    } else {
      return {};
    }
    if (plus == std::string_view::npos) break;
    words.remove_prefix(plus + 1);
  }
  buttons.ok = true;
  return buttons;
}

}  // namespace bushbaby::detail
