#include "bushbaby/records/path_text.h"

#include <algorithm>

#include <fmt/format.h>

namespace bushbaby {

std::string path_text(const PlatformPath& path, const Units& units) {
  const Timetable timetable(path);
  std::string text =
      fmt::format("goes {} {} at {}, once in {}", path.loop ? "loop" : "back and forth along",
                  units.text(Dimension::length, length_of(path), 4),
                  units.text(Dimension::speed, path.speed, 3),
                  units.text(Dimension::time, timetable.period(), 4));
  const bool rests =
      std::any_of(path.waits.begin(), path.waits.end(), [](double wait) { return wait > 0; });
  if (rests) text += ", with rests";
  if (path.ease) text += ", gently";
  return text;
}

}  // namespace bushbaby
