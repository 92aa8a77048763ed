// Indexes over many boxes. Each calls a visitor for all boxes that a region may touch, and perhaps
// for others; what counts is for the visitor to find out.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <vector>

#include "bushbaby/core/shape/shapes.h"

#include "cells.h"

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

// Cells as long as the boxes are, or as high and as wide: boxes of which one side is nothing, as
// level segments have, want the first.
enum class CellShape : std::uint8_t { square, as_boxes };

// A grid of cells for boxes that cover few of them. A region of a few cells costs the same
// whatever the number of boxes, as long as their density is.
class BoxGrid {
 public:
  // Takes the boxes that fit; `rest` gets those that cover too many cells.
  BoxGrid(const std::vector<Entry>& entries, std::vector<Entry>& rest, CellShape shape) {
    if (entries.empty()) return;
    lay_out(entries, shape);
    std::vector<Entry> fitting;
    for (const Entry& entry : entries) {
      const Cells cells = plan_.cells_of(entry.box);
      (cells.count() <= kMostCellsOfABox ? fitting : rest).push_back(entry);
    }
    starts_.assign(plan_.count() + 1, 0);
    for (const Entry& entry : fitting) {
      const Cells cells = plan_.cells_of(entry.box);
      for (std::int32_t y = cells.bottom; y <= cells.top; ++y) {
        for (std::int32_t x = cells.left; x <= cells.right; ++x)
          ++starts_[plan_.number_of(x, y) + 1];
      }
    }
    for (std::size_t i = 1; i < starts_.size(); ++i) starts_[i] += starts_[i - 1];
    entries_.resize(starts_.back());
    std::vector<std::uint32_t> next(starts_.begin(), starts_.end() - 1);
    for (const Entry& entry : fitting) {
      const Cells cells = plan_.cells_of(entry.box);
      for (std::int32_t y = cells.bottom; y <= cells.top; ++y) {
        for (std::int32_t x = cells.left; x <= cells.right; ++x) {
          entries_[next[plan_.number_of(x, y)]++] = {entry, x == cells.left, y == cells.bottom};
        }
      }
    }
  }

  // Visits the boxes of the cells that the region touches, each once.
  // Says no, and visits none, if there are too many of them: a tree is then the better index.
  template <class Visit>
  [[nodiscard]] bool walk(const Box& region, const Visit& visit) const {
    if (entries_.empty()) return true;
    const Cells cells = plan_.cells_of(region);
    if (cells.count() > kMostCellsOfARegion) return false;
    const Placed* all = entries_.data();
    for (std::int32_t y = cells.bottom; y <= cells.top; ++y) {
      // What is in the cells of a row stands in a row.
      const std::uint32_t* row = &starts_[plan_.number_of(cells.left, y)];
      const std::uint32_t first_cell_end = row[1];
      const std::uint32_t end = row[cells.right - cells.left + 1];
      for (std::uint32_t i = row[0]; i < end; ++i) {
        // A box of several cells is visited in the first of them that the region touches.
        const Placed& placed = all[i];
        const bool is_first =
            (placed.at_left || i < first_cell_end) && (placed.at_bottom || y == cells.bottom);
        if (is_first) visit(placed.entry);
      }
    }
    return true;
  }

 private:
  static constexpr std::int64_t kMostCellsOfABox = 8;
  static constexpr std::int64_t kMostCellsOfARegion = 12;

  // A box in one of its cells, and whether that is in the first column and row of them.
  struct Placed {
    Entry entry;
    bool at_left = false;
    bool at_bottom = false;
  };

  // Cells twice as large as the middle one of the boxes, but no more of them than four a box.
  void lay_out(const std::vector<Entry>& entries, CellShape shape) {
    std::vector<double> widths;
    std::vector<double> heights;
    Box all = entries[0].box;
    for (const Entry& entry : entries) {
      const Box& box = entry.box;
      const Vec size = subtract(box.hi, box.lo);
      const double longer = larger(size.x, size.y);
      widths.push_back(shape == CellShape::square ? longer : size.x);
      heights.push_back(shape == CellShape::square ? longer : size.y);
      all = {{smaller(all.lo.x, box.lo.x), smaller(all.lo.y, box.lo.y)},
             {larger(all.hi.x, box.hi.x), larger(all.hi.y, box.hi.y)}};
    }
    Vec cell = scale({middle_of(widths), middle_of(heights)}, 2);
    // What has no size in one way is given some.
    constexpr double kNarrowest = 1e-3;
    const double longer = larger(cell.x, cell.y);
    const double least = longer > 0 ? kNarrowest * longer : 1;
    cell = {larger(cell.x, least), larger(cell.y, least)};
    // A place among the cells is a whole number of 32 bits.
    constexpr double kMostCells = 1 << 30;
    const double most = smaller(4 * static_cast<double>(entries.size()) + 64, kMostCells);
    const Vec extent = subtract(all.hi, all.lo);
    while ((std::floor(extent.x / cell.x) + 1) * (std::floor(extent.y / cell.y) + 1) > most) {
      cell = scale(cell, 2);
    }
    plan_ = CellPlan(all.lo, cell, static_cast<std::int32_t>(extent.x / cell.x) + 1,
                     static_cast<std::int32_t>(extent.y / cell.y) + 1);
  }

  CellPlan plan_;
  std::vector<std::uint32_t> starts_;  // of each cell's entries
  std::vector<Placed> entries_;
};

}  // namespace bushbaby::detail
