#include "bushbaby/records/ferry_words.h"

#include <algorithm>

#include <fmt/format.h>

namespace bushbaby {

std::string way_text(const Ferry& ferry, const Units& units) {
  const Timetable timetable(ferry);
  std::string text =
      fmt::format("goes {} {} at {}, once in {}", ferry.round ? "round" : "to and fro over",
                  units.text(Dimension::length, length_of(ferry), 4),
                  units.text(Dimension::speed, ferry.speed, 3),
                  units.text(Dimension::time, timetable.period(), 4));
  const bool rests =
      std::any_of(ferry.waits.begin(), ferry.waits.end(), [](double wait) { return wait > 0; });
  if (rests) text += ", with rests";
  if (ferry.gentle) text += ", gently";
  return text;
}

}  // namespace bushbaby
