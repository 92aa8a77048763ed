// Windows, tick by tick: what a press of the jump button does, the sooner or later it comes.
//
//     for (const WindowStrip& strip : measure_windows(pip)) print(strip);
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/lab/overlay.h>
#include <bushbaby/lab/subject.h>

namespace bushbaby {

/// What came of one press.
struct PressOutcome {
  Chance jump = Chance::nothing;  ///< it gave, at once or later
  int waited = 0;                 ///< ticks for which it was remembered before

  [[nodiscard]] bool operator==(const PressOutcome& other) const noexcept {
    return jump == other.jump && waited == other.waited;
  }
};

/// A row of presses around a moment, one for each tick in which they could come.
struct WindowStrip {
  std::string_view name;    ///< "edge"
  std::string_view moment;  ///< what ticks count from: "after the tick in which the ground ended"
  double tick_rate = 60;    ///< Hz
  int first = 0;            ///< tick of the first press, counted from that; negative: before it
  std::vector<PressOutcome> presses{};
  bool open_before = false;  ///< earlier presses do as the first one does
  bool open_after = false;   ///< later ones as the last one
  std::string why_not{};     ///< why there are none
};

/// Some presses next to one another that did alike: jumped at once from the same, waited, or did
/// nothing.
struct WindowStretch {
  int first = 0;  ///< counted from the moment
  int last = 0;
  Chance jump = Chance::nothing;
  int longest_wait = 0;  ///< ticks; 0: none of them waited
};
[[nodiscard]] std::vector<WindowStretch> stretches_of(const WindowStrip& strip);

/// The strips of a subject that gives events: off an edge, before a landing, before a wall, and
/// after one was lost. In each, the same approach is made again for every press, which is let
/// go in the next tick. A strip goes on as long as what presses do changes, and a little farther.
[[nodiscard]] std::vector<WindowStrip> measure_windows(Subject& subject);

}  // namespace bushbaby
