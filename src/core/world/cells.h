// A plane divided into cells of one size, some of them numbered: the others count as the nearest of
// these.
#pragma once

#include <algorithm>
#include <cstdint>
#include <vector>

#include "core/shape/arithmetic.h"
#include "core/shape/rarely.h"

namespace bushbaby::detail {

// A block of cells, both ends included.
struct Cells {
  std::int32_t left, bottom, right, top;
  [[nodiscard]] std::int64_t count() const noexcept {
    return (std::int64_t{right} - left + 1) * (std::int64_t{top} - bottom + 1);
  }
};

class CellPlan {
 public:
  // A share of a cell that is given to both its neighbours, for rounding.
  static constexpr double kSpare = 1e-6;

  CellPlan() = default;
  CellPlan(Vec origin, Vec cell, std::int32_t columns, std::int32_t rows) noexcept
      : origin_(origin),
        per_cell_{1 / cell.x, 1 / cell.y},
        last_{static_cast<double>(columns - 1), static_cast<double>(rows - 1)},
        columns_(columns),
        rows_(rows) {}

  [[nodiscard]] std::int32_t columns() const noexcept { return columns_; }
  [[nodiscard]] std::int32_t rows() const noexcept { return rows_; }
  [[nodiscard]] std::size_t count() const noexcept { return number_of(0, rows_); }
  [[nodiscard]] std::size_t number_of(std::int32_t column, std::int32_t row) const noexcept {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(column);
  }

  // The cells that a region touches, with a little to spare.
  [[nodiscard]] BUSHBABY_WITHIN Cells cells_of(const Box& region) const noexcept {
    const auto at = [](double x, double origin, double per_cell, double spare, double last) {
      const double cell = (x - origin) * per_cell + spare;
      return static_cast<std::int32_t>(smaller(larger(0, cell), last));
    };
    return {at(region.lo.x, origin_.x, per_cell_.x, -kSpare, last_.x),
            at(region.lo.y, origin_.y, per_cell_.y, -kSpare, last_.y),
            at(region.hi.x, origin_.x, per_cell_.x, kSpare, last_.x),
            at(region.hi.y, origin_.y, per_cell_.y, kSpare, last_.y)};
  }

  // What a cell covers, with what it has to spare.
  [[nodiscard]] Box box_of(std::int32_t column, std::int32_t row) const noexcept {
    const Vec cell{1 / per_cell_.x, 1 / per_cell_.y};
    const Vec lo = add(origin_, {column * cell.x, row * cell.y});
    return grown({lo, add(lo, cell)}, kSpare * larger(cell.x, cell.y));
  }

 private:
  Vec origin_{0, 0};
  Vec per_cell_{1, 1};  // 1 over the size of a cell
  Vec last_{0, 0};      // the last column and row
  std::int32_t columns_ = 0;
  std::int32_t rows_ = 0;
};

// The middle one of some sizes, which come out of order.
inline double middle_of(std::vector<double>& sizes) {
  const auto middle = sizes.begin() + static_cast<long>(sizes.size() / 2);
  std::nth_element(sizes.begin(), middle, sizes.end());
  return *middle;
}

}  // namespace bushbaby::detail
