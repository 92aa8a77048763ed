// Windows, tick by tick: what a press of the jump button does, the sooner or later it comes, and
// what releasing it does.
//
//     for (const WindowStrip& strip : measure_windows(pip)) print(strip);
#pragma once

#include <cstdint>
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

/// What releasing the button does to a jump.
enum class ReleaseEffect : std::uint8_t {
  nothing,  ///< it rises as if the button were held on
  cuts,     ///< it rises less
  jumps,    ///< it was charged, and leaves the ground now
};
[[nodiscard]] std::string_view name_of(ReleaseEffect effect) noexcept;  ///< "cuts", …

/// What came of releasing once.
struct ReleaseOutcome {
  ReleaseEffect effect = ReleaseEffect::nothing;
  int waited = 0;     ///< ticks from the release to the cut: what is left of the least hold
  double height = 0;  ///< u, of the jump
};

/// A standing jump again and again, the button held one rung longer each time.
struct ReleaseStrip {
  double tick_rate = 60;  ///< Hz
  int rung = 1;           ///< ticks
  std::vector<ReleaseOutcome> releases{};
  std::string why_not{};  ///< why there are none

  /// For how many ticks the button was held before one of them.
  [[nodiscard]] int held_for(std::size_t release) const noexcept {
    return rung * (static_cast<int>(release) + 1);
  }
};

/// Some of them next to one another that did alike and whose heights are the same, or all differ.
struct ReleaseStretch {
  int first = 0;  ///< ticks held
  int last = 0;
  ReleaseEffect effect = ReleaseEffect::nothing;
  int longest_wait = 0;                 ///< ticks; 0: none of them waited
  double first_height = 0;              ///< u
  double last_height = 0;               ///< u
  double largest_step = 0;              ///< u, from one to the next, or from the one before them
  [[nodiscard]] bool is_level() const;  ///< the heights are the same
};
[[nodiscard]] std::vector<ReleaseStretch> stretches_of(const ReleaseStrip& strip);

/// Through the rise of a jump, or until the gauge of one that charges is full. What a cut is shows
/// in the path: the first tick that is not as if the button were held on.
[[nodiscard]] ReleaseStrip measure_releases(Subject& subject);

/// The windows of one variant.
struct WindowsOf {
  std::string name;
  std::vector<WindowStrip> strips;
  ReleaseStrip released{};
};
[[nodiscard]] WindowsOf windows_of(Subject& subject, std::string name);

}  // namespace bushbaby
