// Where the borders of a level's zones are, so that a body that is far from all of them is known to
// be in the zones that it was in without a look at each.
#pragma once

#include <cstdint>
#include <vector>

#include "bushbaby/core/world/level.h"

namespace bushbaby::detail {

// A grid of square cells over all zones. A cell is in some zones throughout, or a border is in it:
// of a zone, or of the places from which a body that was in it would still count as in it.
class ZoneMap {
 public:
  explicit ZoneMap(const std::vector<Zone>& zones);

  // Whether no border comes into a region; if so, `zones` become those that it is in.
  [[nodiscard]] bool find(const Box& region, ZoneSet& zones) const noexcept;

 private:
  // A block of cells, both ends included.
  struct Cells {
    std::int32_t left, bottom, right, top;
  };

  // Lays the cells out; says no if there are no zones, or they would need too many.
  bool lay_out(const std::vector<Zone>& zones);
  void draw(const std::vector<Zone>& zones);
  void count_borders();

  [[nodiscard]] Cells cells_of(const Box& region) const noexcept;
  [[nodiscard]] Box box_of(std::int32_t column, std::int32_t row) const noexcept;
  [[nodiscard]] std::size_t at(std::int32_t column, std::int32_t row) const noexcept {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(column);
  }

  double per_cell_ = 1;  // 1 over the width of a cell
  Vec origin_{0, 0};
  Vec last_cell_{0, 0};
  std::int32_t columns_ = 0;
  std::int32_t rows_ = 0;
  // By cell: the number of its set of zones. By corner of cells: how many cells to the left of it
  // and below have a border in them.
  std::vector<std::uint32_t> set_of_;
  std::vector<std::uint32_t> borders_;
  std::vector<ZoneSet> sets_;
};

}  // namespace bushbaby::detail
