// What readers and writers of tunings that are based on others share.
#pragma once

#include <string_view>
#include <vector>

#include "bushbaby/core/tuning/knobs.h"

namespace bushbaby::detail {

// How a file says that an optional knob is not set, whatever it inherits.
inline constexpr std::string_view kUnset = "none";

inline bool is_optional(const Knob& knob) {
  return std::holds_alternative<KnobAccess<std::optional<double>>>(knob.binding) ||
         std::holds_alternative<KnobAccess<std::optional<Duration>>>(knob.binding);
}

// Knobs of which two determine the others: they are inherited and rewritten together.

inline const std::vector<std::vector<const char*>>& determining_groups() {
  static const std::vector<std::vector<const char*>> groups{
      {"jump.height", "jump.apex_time", "jump.launch_speed", "jump.gravity"},
      {"dash.distance", "dash.time", "dash.speed"}};
  return groups;
}

}  // namespace bushbaby::detail
