// Indexes over many boxes. Each calls a visitor for all boxes that a region may touch, and perhaps
// for others; what counts is for the visitor to find out.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <vector>

#include "bushbaby/core/shape/shapes.h"

#include "core/shape/arithmetic.h"

namespace bushbaby::detail {

struct Entry {
  Box box;
  std::uint32_t part = 0;  // its number among all
};

// A balanced tree of bounds, for boxes of any size and regions of any size.
class BoxTree {
 public:
  explicit BoxTree(std::vector<Entry> entries) : entries_(std::move(entries)) {
    if (entries_.empty()) return;
    nodes_.reserve(entries_.size());
    nodes_.emplace_back();
    split(0, 0, static_cast<std::uint32_t>(entries_.size()));
  }

  // Visits the boxes of the leaves whose bounds touch the region.
  template <class Visit>
  void walk(const Box& region, const Visit& visit) const {
    std::array<std::uint32_t, kMostWaiting> stack;
    std::size_t waiting = 0;
    if (!nodes_.empty()) stack[waiting++] = 0;
    while (waiting > 0) {
      const Node& node = nodes_[stack[--waiting]];
      if (!touch(node.bounds, region)) continue;
      for (std::uint32_t i = 0; i < node.count; ++i) visit(entries_[node.first + i]);
      if (node.count > 0) continue;
      stack[waiting++] = node.first;
      stack[waiting++] = node.first + 1;
    }
  }

 private:
  static constexpr std::uint32_t kLeafSize = 4;
  // Halving 2^31 boxes down to leaves of 4 is 29 levels; two entries a level wait on the stack.
  static constexpr std::size_t kMostWaiting = 64;

  struct Node {
    Box bounds;
    std::uint32_t first = 0;  // leaf: first entry; branch: left child, the right one follows
    std::uint32_t count = 0;  // entries of a leaf; 0 in a branch
  };

  static Box bounds_of(const Box& a, const Box& b) {
    return {{smaller(a.lo.x, b.lo.x), smaller(a.lo.y, b.lo.y)},
            {larger(a.hi.x, b.hi.x), larger(a.hi.y, b.hi.y)}};
  }

  // Splits at the median along the longer side of the centres' bounds: balanced whatever the
  // layout.
  void split(std::uint32_t node, std::uint32_t first, std::uint32_t count) {
    const auto centre = [](const Entry& entry) {
      return Vec{(entry.box.lo.x + entry.box.hi.x) / 2, (entry.box.lo.y + entry.box.hi.y) / 2};
    };
    Box bounds = entries_[first].box;
    Box centres{centre(entries_[first]), centre(entries_[first])};
    for (std::uint32_t i = first + 1; i < first + count; ++i) {
      bounds = bounds_of(bounds, entries_[i].box);
      centres = bounds_of(centres, {centre(entries_[i]), centre(entries_[i])});
    }
    nodes_[node].bounds = bounds;
    if (count <= kLeafSize) {
      nodes_[node].first = first;
      nodes_[node].count = count;
      return;
    }
    const bool along_x = centres.hi.x - centres.lo.x >= centres.hi.y - centres.lo.y;
    const auto before = [&](const Entry& a, const Entry& b) {
      const double ca = along_x ? centre(a).x : centre(a).y;
      const double cb = along_x ? centre(b).x : centre(b).y;
      return ca != cb ? ca < cb : a.part < b.part;
    };
    const std::uint32_t half = count / 2;
    const auto begin = entries_.begin() + first;
    std::nth_element(begin, begin + half, begin + count, before);
    const auto children = static_cast<std::uint32_t>(nodes_.size());
    nodes_.emplace_back();
    nodes_.emplace_back();
    nodes_[node].first = children;
    split(children, first, half);
    split(children + 1, first + half, count - half);
  }

  std::vector<Entry> entries_;
  std::vector<Node> nodes_;
};

// A grid of square cells for boxes that cover few of them. A region of a few cells costs the same
// whatever the number of boxes, as long as their density is.
class BoxGrid {
 public:
  // Takes the boxes that fit; `rest` gets those that cover too many cells.
  BoxGrid(const std::vector<Entry>& entries, std::vector<Entry>& rest) {
    if (entries.empty()) return;
    lay_out(entries);
    std::vector<Entry> fitting;
    for (const Entry& entry : entries) {
      const Cells cells = cells_of(entry.box);
      (cells.count() <= kMostCellsOfABox ? fitting : rest).push_back(entry);
    }
    starts_.assign(static_cast<std::size_t>((last_column_ + 1) * (last_row_ + 1)) + 1, 0);
    for (const Entry& entry : fitting) {
      visit_cells(cells_of(entry.box), [&](std::size_t cell) { ++starts_[cell + 1]; });
    }
    for (std::size_t i = 1; i < starts_.size(); ++i) starts_[i] += starts_[i - 1];
    entries_.resize(starts_.back());
    std::vector<std::uint32_t> next(starts_.begin(), starts_.end() - 1);
    for (const Entry& entry : fitting) {
      const Cells cells = cells_of(entry.box);
      visit_cells(cells, [&](std::size_t cell) {
        entries_[next[cell]++] = {entry, static_cast<std::int32_t>(cells.left),
                                  static_cast<std::int32_t>(cells.bottom)};
      });
    }
  }

  // Visits the boxes of the cells that the region touches, each once.
  // Says no, and visits none, if there are too many of them: a tree is then the better index.
  template <class Visit>
  [[nodiscard]] bool walk(const Box& region, const Visit& visit) const {
    if (entries_.empty()) return true;
    const Cells cells = cells_of(region);
    if (cells.count() > kMostCellsOfARegion) return false;
    for (std::int64_t y = cells.bottom; y <= cells.top; ++y) {
      for (std::int64_t x = cells.left; x <= cells.right; ++x) {
        const auto cell = static_cast<std::size_t>(y * (last_column_ + 1) + x);
        for (std::uint32_t i = starts_[cell]; i < starts_[cell + 1]; ++i) {
          // A box of several cells is visited in the first of them that the region touches.
          const Placed& placed = entries_[i];
          const bool is_first = (placed.left == x || (x == cells.left && placed.left < x)) &&
                                (placed.bottom == y || (y == cells.bottom && placed.bottom < y));
          if (is_first) visit(placed.entry);
        }
      }
    }
    return true;
  }

 private:
  static constexpr std::int64_t kMostCellsOfABox = 8;
  static constexpr std::int64_t kMostCellsOfARegion = 12;

  // A box, and the first column and row of its cells.
  struct Placed {
    Entry entry;
    std::int32_t left = 0;
    std::int32_t bottom = 0;
  };

  // A block of cells, both ends included.
  struct Cells {
    std::int64_t left, bottom, right, top;
    [[nodiscard]] std::int64_t count() const { return (right - left + 1) * (top - bottom + 1); }
  };

  // Cells twice as wide as the middle one of the boxes, but no more of them than four a box.
  void lay_out(const std::vector<Entry>& entries) {
    std::vector<double> sizes;
    Box all = entries[0].box;
    for (const Entry& entry : entries) {
      const Box& box = entry.box;
      sizes.push_back(larger(box.hi.x - box.lo.x, box.hi.y - box.lo.y));
      all = {{smaller(all.lo.x, box.lo.x), smaller(all.lo.y, box.lo.y)},
             {larger(all.hi.x, box.hi.x), larger(all.hi.y, box.hi.y)}};
    }
    const auto middle = sizes.begin() + static_cast<long>(sizes.size() / 2);
    std::nth_element(sizes.begin(), middle, sizes.end());
    double cell = 2 * *middle;
    const double most = 4 * static_cast<double>(entries.size()) + 64;
    const Vec extent = subtract(all.hi, all.lo);
    while ((std::floor(extent.x / cell) + 1) * (std::floor(extent.y / cell) + 1) > most) {
      cell = cell * 2;
    }
    per_cell_ = 1 / cell;
    origin_ = all.lo;
    last_column_ = static_cast<std::int64_t>(extent.x / cell);
    last_row_ = static_cast<std::int64_t>(extent.y / cell);
  }

  // The cells that a region touches, with a little to spare for rounding; cells beyond the edges
  // count as the edge's.
  [[nodiscard]] Cells cells_of(const Box& region) const {
    constexpr double kSpare = 1e-6;
    const auto at = [this](double x, double origin, double spare, std::int64_t last) {
      const double cell = (x - origin) * per_cell_ + spare;
      if (!(cell > 0)) return std::int64_t{0};
      return cell < static_cast<double>(last) ? static_cast<std::int64_t>(cell) : last;
    };
    return {at(region.lo.x, origin_.x, -kSpare, last_column_),
            at(region.lo.y, origin_.y, -kSpare, last_row_),
            at(region.hi.x, origin_.x, kSpare, last_column_),
            at(region.hi.y, origin_.y, kSpare, last_row_)};
  }

  template <class Visit>
  void visit_cells(const Cells& cells, const Visit& visit) const {
    for (std::int64_t y = cells.bottom; y <= cells.top; ++y) {
      for (std::int64_t x = cells.left; x <= cells.right; ++x) {
        visit(static_cast<std::size_t>(y * (last_column_ + 1) + x));
      }
    }
  }

  double per_cell_ = 1;  // 1 over the width of a cell
  Vec origin_{0, 0};
  std::int64_t last_column_ = 0;
  std::int64_t last_row_ = 0;
  std::vector<std::uint32_t> starts_;  // of each cell's entries
  std::vector<Placed> entries_;
};

}  // namespace bushbaby::detail
