// Windows tick by tick, as text for people and as JSON for machines.
#pragma once

#include <string>
#include <vector>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/windows.h>

namespace bushbaby {

/// For each moment and each variant, what presses do: in ticks and in ms.
[[nodiscard]] std::string windows_table(const std::vector<WindowsOf>& variants, const Units& units);
[[nodiscard]] std::string windows_json(const std::vector<WindowsOf>& variants, const Units& units);

/// What a stretch of presses does: "jumps in coyote time", "waits for the ground".
[[nodiscard]] std::string words_of(const WindowStretch& stretch);

/// "cuts the jump", "waits for the least hold, 2 ticks at most, and cuts the jump".
[[nodiscard]] std::string words_of(const ReleaseStretch& stretch);

}  // namespace bushbaby
