// Scripts: what a person would do in the window, as text; for pictures and tests.
//
//     # bushbaby script 1
//     play right jump for 12 ticks
//     set fall.factor=2.4
//     picture drag.png
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/core/motion/controls.h"
#include "bushbaby/data/problem.h"
#include "bushbaby/data/units.h"

namespace bushbaby::live {

inline constexpr std::string_view kScriptFormat = "# bushbaby script 1";

/// A line of a script.
struct ScriptLine {
  std::string action;            ///< "play", "set", …
  std::string text{};            ///< what follows it
  std::vector<Controls> held{};  ///< of "play"
  double number = 0;             ///< of those that take one
  int line = 0;
};

/// What a script can say.
struct ScriptAction {
  std::string_view name;
  std::string_view takes;  ///< "HELD for 12 ticks", "KNOB=VALUE"; empty: nothing
  std::string_view help;
};
[[nodiscard]] const std::vector<ScriptAction>& script_actions();

/// Reads a script. `units` are those of the tuning that is played.
[[nodiscard]] Result<std::vector<ScriptLine>> parse_script(std::string_view text,
                                                           const std::string& path,
                                                           const Units& units);

}  // namespace bushbaby::live
