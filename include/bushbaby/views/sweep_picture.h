// A sweep as curves, or as a map.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/records/sweep_csv.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

struct SweepPicture {
  std::string character;
  const SweepTable& table;
  std::vector<std::optional<Range>> targets{};  ///< by fact, in the numbers of the table
};

/// Of one knob, a curve for each fact, up to four; of two, a map of the first fact with lines of
/// equal value. A target is a band, or the part of the map in which it is met; the present
/// value is marked.
[[nodiscard]] Picture draw(const SweepPicture& sweep);

}  // namespace bushbaby
