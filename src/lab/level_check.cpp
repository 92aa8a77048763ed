#include "bushbaby/lab/level_check.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <string>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/world/outline.h"

namespace bushbaby {
namespace {

// An edge that faces up, from left to right.
struct UpperEdge {
  Vec from;
  Vec to;
  std::size_t solid;
};

class Checker {
 public:
  Checker(const Level& level, const Rules& rules) : level_(level), rules_(rules) {}

  LevelCheck check() {
    for (std::size_t i = 0; i < level_.solids.size(); ++i) count(i);
    find_twins();
    find_steps();
    look_at_start();
    return std::move(check_);
  }

 private:
  void count(std::size_t index) {
    const Solid& solid = level_.solids[index];
    const bool line = is_thin(solid);
    ++(line ? check_.lines : solid.corners.empty() ? check_.boxes : check_.polygons);
    if (solid.blocks != Blocks::everything) ++check_.one_sided;
    check_.parts += line                    ? solid.corners.size() - 1
                    : solid.corners.empty() ? 1
                                            : convex_parts(solid.corners).size();
    const Box bounds = bounds_of(solid);
    if (index == 0) check_.bounds = bounds;
    Box& all = check_.bounds;
    all = {{std::min(all.lo.x, bounds.lo.x), std::min(all.lo.y, bounds.lo.y)},
           {std::max(all.hi.x, bounds.hi.x), std::max(all.hi.y, bounds.hi.y)}};
    look_at_edges(index);
  }

  // Lines are stood on from either end to the other; outlines face up where they run leftward.
  void look_at_edges(std::size_t index) {
    const Solid& solid = level_.solids[index];
    const bool line = is_thin(solid);
    const std::vector<Vec> outline = corners_of(solid);
    const Blocks blocks = solid.blocks;
    if (blocks != Blocks::everything && blocks != Blocks::from_above) return;
    for (std::size_t i = 0; i + (line ? 1 : 0) < outline.size(); ++i) {
      Vec from = outline[i];
      Vec to = outline[(i + 1) % outline.size()];
      if (from.x == to.x || (!line && from.x < to.x)) continue;
      if (from.x > to.x) std::swap(from, to);
      const Vec way = to - from;
      const double steepness = way.x / std::hypot(way.x, way.y);
      if (steepness < rules_.footing_slope) {
        ++check_.too_steep;
      } else {
        check_.slopes += way.y != 0 ? 1 : 0;
        if (solid.traits.footing) footing_.push_back({from, to, index});
      }
    }
  }

  void find_twins() {
    std::map<std::string, std::size_t> names;
    std::map<std::vector<double>, std::size_t> shapes;
    for (std::size_t i = 0; i < level_.solids.size(); ++i) {
      const Solid& solid = level_.solids[i];
      if (!solid.name.empty()) {
        const auto [named, is_new] = names.emplace(solid.name, i);
        if (!is_new) add({LevelSlip::name_twice, i, named->second});
      }
      std::vector<double> numbers{static_cast<double>(is_thin(solid))};
      // From the leftmost corner on, wherever the drawing began.
      std::vector<Vec> corners = corners_of(solid);
      const auto first = std::min_element(corners.begin(), corners.end(), [](Vec a, Vec b) {
        return a.x != b.x ? a.x < b.x : a.y < b.y;
      });
      if (!is_thin(solid)) std::rotate(corners.begin(), first, corners.end());
      for (const Vec& corner : corners) numbers.insert(numbers.end(), {corner.x, corner.y});
      const auto [placed, is_new] = shapes.emplace(std::move(numbers), i);
      if (!is_new) add({LevelSlip::same_place, i, placed->second});
    }
  }

  // The right end of one top and the left end of another, side by side.
  void find_steps() {
    const double least = rules_.flush_gap;
    const double most = 0.1 * (rules_.body.box.hi.x - rules_.body.box.lo.x);
    std::multimap<double, const UpperEdge*> left_ends;
    for (const UpperEdge& edge : footing_) left_ends.emplace(edge.from.x, &edge);
    for (const UpperEdge& edge : footing_) {
      const double x = edge.to.x;
      auto at = left_ends.lower_bound(x - least);
      for (; at != left_ends.end() && at->first <= x + least; ++at) {
        const double step = std::abs(at->second->from.y - edge.to.y);
        if (step > least && step <= most) {
          add({LevelSlip::step, edge.solid, at->second->solid, step, edge.to});
        }
      }
    }
  }

  void look_at_start() {
    const LevelWorld world(level_);
    Character character;
    if (!place(character, level_.start, rules_, world)) {
      const Overlap inside = overlap(world, rules_.body, level_.start, 0);
      add({LevelSlip::start_in_solid, inside.surface, 0, inside.depth});
      return;
    }
    if (character.grounded()) {
      check_.under_start = character.ground.surface;
      return;
    }
    const double depth = level_.start.y - check_.bounds.lo.y + 1;
    const Contact below =
        cast(world, {rules_.body, level_.start, {0, -std::max(depth, 1.0)}, {0, 1}, 0});
    if (!below.met()) {
      add({LevelSlip::start_in_air});
      return;
    }
    check_.under_start = below.surface;
    check_.drop = below.fraction * std::max(depth, 1.0);
  }

  void add(const LevelFinding& finding) { check_.findings.push_back(finding); }

  const Level& level_;
  const Rules& rules_;
  LevelCheck check_;
  std::vector<UpperEdge> footing_;
};

}  // namespace

LevelCheck check_level(const Level& level, const Rules& rules) {
  return Checker(level, rules).check();
}

}  // namespace bushbaby
