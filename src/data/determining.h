// Knobs of which two determine the others: they are inherited and rewritten together.
#pragma once

#include <array>
#include <vector>

namespace bushbaby::detail {

inline const std::vector<std::vector<const char*>>& determining_groups() {
  static const std::vector<std::vector<const char*>> groups{
      {"jump.height", "jump.apex_time", "jump.launch_speed", "jump.gravity"},
      {"dash.distance", "dash.time", "dash.speed"}};
  return groups;
}

}  // namespace bushbaby::detail
