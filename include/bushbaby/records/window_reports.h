// Windows tick by tick, as text for people and as JSON for machines.
#pragma once

#include <string>
#include <vector>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/windows.h>

namespace bushbaby {

/// The windows of one variant.
struct WindowsOf {
  std::string name;
  std::vector<WindowStrip> strips;
  std::vector<double> heights{};  ///< u, of standing jumps by ticks held, from 1 on
  int height_step = 1;            ///< ticks from one to the next
};

/// The windows of a subject, and the heights of its jumps.
[[nodiscard]] WindowsOf measure_all_windows(Subject& subject, std::string name);

/// For each moment and each variant, what presses do: in ticks and in ms.
[[nodiscard]] std::string windows_table(const std::vector<WindowsOf>& variants, const Units& units);
[[nodiscard]] std::string windows_json(const std::vector<WindowsOf>& variants, const Units& units);

/// What a stretch of presses does: "jumps in coyote time", "waits for the ground".
[[nodiscard]] std::string words_of(const WindowStretch& stretch);

}  // namespace bushbaby
