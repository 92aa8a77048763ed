// Windows, tick by tick.
#pragma once

#include <vector>

#include <bushbaby/data/units.h>
#include <bushbaby/records/window_reports.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

/// Up to four variants, whose windows are drawn beneath one another.
struct WindowsPicture {
  const std::vector<WindowsOf>& variants;
  Units units{};  ///< in which numbers are reported
};

/// A cell for each tick in which a press could come, around each moment, in the colour of what it
/// does; what releasing does after each number of ticks; and how high the jump is then.
[[nodiscard]] Picture draw(const WindowsPicture& windows);

}  // namespace bushbaby
