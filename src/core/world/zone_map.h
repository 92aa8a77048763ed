// Where the borders of a level's zones are, so that a body that is far from all of them is known to
// be in the zones that it was in without a look at each.
#pragma once

#include <cstdint>
#include <vector>

#include "bushbaby/core/world/level.h"

#include "cells.h"

namespace bushbaby::detail {

// A grid of square cells over all zones. A cell is in some zones throughout, or a border is in it:
// of a zone, or of the places from which a body that was in it would still count as in it.
class ZoneMap {
 public:
  explicit ZoneMap(const std::vector<Zone>& zones);

  // Whether no border comes into a region; if so, `zones` become those that it is in.
  [[nodiscard]] bool find(const Box& region, ZoneSet& zones) const noexcept;

 private:
  // Lays the cells out; says no if there are no zones, or they would need too many.
  bool lay_out(const std::vector<Zone>& zones);
  void draw(const std::vector<Zone>& zones);
  void count_borders();

  CellPlan plan_;
  // By cell: the number of its set of zones. By corner of cells: how many cells to the left of it
  // and below have a border in them.
  std::vector<std::uint32_t> set_of_;
  std::vector<std::uint32_t> borders_;
  std::vector<ZoneSet> sets_;
};

}  // namespace bushbaby::detail
