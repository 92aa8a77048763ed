#include "bushbaby/lab/level_check.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>
#include <string>
#include <utility>

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

// What a convex outline covers on its way from one place to another, straight there.
class Swept final : private Solids {
 public:
  Swept(const std::vector<Vec>& outline, Vec from, Vec to) {
    for (const Vec place : {from, to}) {
      for (const Vec corner : outline) corners_.push_back(corner + place);
    }
    normals_ = normals_of(outline.data(), outline.size());
    if (from != to) normals_.push_back(normal_of(to - from));
  }

  // The surfaces that it reaches into by more than that, u.
  [[nodiscard]] std::set<SurfaceId> meets(const World& world, double more_than) const {
    Swept asking = *this;
    asking.more_than_ = more_than;
    Box bounds{corners_[0], corners_[0]};
    for (const Vec corner : corners_) {
      bounds.lo = {std::min(bounds.lo.x, corner.x), std::min(bounds.lo.y, corner.y)};
      bounds.hi = {std::max(bounds.hi.x, corner.x), std::max(bounds.hi.y, corner.y)};
    }
    world.find_solids(bounds, 0, asking);
    return asking.met_;
  }

 private:
  void take(const Convex& part, SurfaceId surface) noexcept override {
    const Box& box = part.bounds;
    const Vec of_box[] = {box.lo, {box.hi.x, box.lo.y}, box.hi, {box.lo.x, box.hi.y}};
    const Vec* other = part.is_box() ? of_box : part.corners;
    const std::size_t count = part.is_box() ? 4 : part.count;
    // The least way out of each other, across an edge of either (separating axes).
    double least = std::numeric_limits<double>::infinity();
    std::vector<Vec> normals = normals_of(other, count);
    normals.insert(normals.end(), normals_.begin(), normals_.end());
    for (const Vec normal : normals) {
      const auto [lo, hi] = reach_along(normal, corners_.data(), corners_.size());
      const auto [other_lo, other_hi] = reach_along(normal, other, count);
      least = std::min({least, hi - other_lo, other_hi - lo});
    }
    if (least > more_than_) met_.insert(surface);
  }

  static Vec normal_of(Vec edge) {
    const double length = std::hypot(edge.x, edge.y);
    return {edge.y / length, -edge.x / length};
  }

  static std::vector<Vec> normals_of(const Vec* corners, std::size_t count) {
    std::vector<Vec> normals;
    for (std::size_t i = 0; i < count; ++i) {
      normals.push_back(normal_of(corners[(i + 1) % count] - corners[i]));
    }
    return normals;
  }

  static std::pair<double, double> reach_along(Vec normal, const Vec* corners, std::size_t count) {
    double lo = std::numeric_limits<double>::infinity();
    double hi = -lo;
    for (std::size_t i = 0; i < count; ++i) {
      const double at = corners[i].x * normal.x + corners[i].y * normal.y;
      lo = std::min(lo, at);
      hi = std::max(hi, at);
    }
    return {lo, hi};
  }

  std::vector<Vec> corners_;  // at both places
  std::vector<Vec> normals_;  // of its edges, and across its way
  double more_than_ = 0;
  std::set<SurfaceId> met_;
};

class Checker {
 public:
  Checker(const Level& level, const Rulebook& book)
      : level_(level), book_(book), rules_(book.rules(0)), world_(level, book.rules(0).tick_rate) {}

  LevelCheck check() {
    for (std::size_t i = 0; i < level_.solids.size(); ++i) count(i);
    if (ground_.empty() && !level_.solids.empty()) add({LevelSlip::no_ground});
    find_twins();
    find_steps();
    look_at_moving_platforms();
    check_.zones = level_.zones.size();
    check_.combinations = book_.size();
    look_at_zones();
    look_at_start();
    return std::move(check_);
  }

 private:
  void count(std::size_t index) {
    const Solid& solid = level_.solids[index];
    const bool line = is_thin(solid);
    ++(line ? check_.lines : solid.corners.empty() ? check_.boxes : check_.polygons);
    if (solid.blocks != Blocks::everything) ++check_.one_sided;
    if (solid.path) ++check_.moving_platforms;
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
      if (steepness < rules_.ground_slope) {
        ++check_.too_steep;
      } else {
        check_.slopes += way.y != 0 ? 1 : 0;
        if (solid.traits.ground) ground_.push_back({from, to, index});
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
    for (const UpperEdge& edge : ground_) left_ends.emplace(edge.from.x, &edge);
    for (const UpperEdge& edge : ground_) {
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

  // Moving platforms against what stays, stops everything, and is always there.
  void look_at_moving_platforms() {
    Level lasting;
    std::vector<std::size_t> owners;
    for (std::size_t i = 0; i < level_.solids.size(); ++i) {
      const Solid& solid = level_.solids[i];
      if (solid.path || solid.blocks != Blocks::everything || !solid.solid_when.nodes.empty()) {
        continue;
      }
      lasting.solids.push_back(solid);
      owners.push_back(i);
    }
    if (check_.moving_platforms == 0) return;
    const LevelWorld world(lasting, kNothingTravels);
    for (std::size_t i = 0; i < level_.solids.size(); ++i) {
      if (level_.solids[i].path) follow_path(i, world, owners);
    }
  }

  // What it sweeps over is looked at step by step, once round.
  void follow_path(std::size_t index, const LevelWorld& world,
                   const std::vector<std::size_t>& owners) {
    const Solid& solid = level_.solids[index];
    const Timetable timetable(*solid.path);
    const double step = 0.1 * (rules_.body.box.hi.x - rules_.body.box.lo.x);
    constexpr double kMostSteps = 2000;
    const double steps = std::clamp(std::ceil(2 * length_of(*solid.path) / step), 16.0, kMostSteps);
    const std::vector<std::vector<Vec>> parts = parts_of(solid);
    std::set<SurfaceId> met;
    for (double i = 0; i < steps; ++i) {
      const double time = timetable.period() * (i + 1) / steps;  // by when it is met
      const Vec from = timetable.place_at(timetable.period() * i / steps);
      const Vec to = timetable.place_at(time);
      for (const std::vector<Vec>& part : parts) {
        const Swept swept(part, from, to);
        for (const SurfaceId surface : swept.meets(world, rules_.flush_gap)) {
          if (!met.insert(surface).second) continue;
          add({LevelSlip::platform_in_solid, index, owners[surface], time, to});
        }
      }
    }
  }

  // The convex parts of a solid, each by its corners.
  static std::vector<std::vector<Vec>> parts_of(const Solid& solid) {
    if (solid.corners.empty()) return {corners_of(solid)};
    if (!is_thin(solid)) return convex_parts(solid.corners);
    std::vector<std::vector<Vec>> parts;
    for (std::size_t i = 0; i + 1 < solid.corners.size(); ++i) {
      parts.push_back({solid.corners[i], solid.corners[i + 1]});
    }
    return parts;
  }

  void look_at_zones() {
    std::map<std::string, std::size_t> names;
    for (std::size_t i = 0; i < level_.zones.size(); ++i) {
      const Zone& zone = level_.zones[i];
      if (!zone.name.empty()) {
        const auto [named, is_new] = names.emplace(zone.name, i);
        if (!is_new) add({LevelSlip::zone_name_twice, i, named->second});
      }
      if (!has_room(i)) add({LevelSlip::zone_shut, i});
    }
  }

  // Whether a body that stands upright has room somewhere in a zone, by trying places of it: those
  // of a grid over the zone, and those beside the solids there.
  [[nodiscard]] bool has_room(std::size_t zone) const {
    const Box& body = rules_.body.box;
    const Contains contains = level_.zones[zone].traits.contains;
    const double counts = contains == Contains::feet ? 0 : (body.lo.y + body.hi.y) / 2;
    Box bounds = bounds_of(level_.zones[zone]);
    bounds = {bounds.lo - Vec{0, counts}, bounds.hi - Vec{0, counts}};
    if (contains == Contains::any_part) {
      bounds = {bounds.lo - Vec{body.hi.x, body.hi.y - counts}, bounds.hi + Vec{body.hi.x, counts}};
    }
    std::vector<double> across = grid_between(bounds.lo.x, bounds.hi.x);
    std::vector<double> along = grid_between(bounds.lo.y, bounds.hi.y);
    for (const Solid& solid : level_.solids) {
      constexpr std::size_t kMostPlaces = 96;
      if (across.size() > kMostPlaces) break;
      const Box box = bounds_of(solid);
      if (box.lo.x > bounds.hi.x + body.hi.x || box.hi.x < bounds.lo.x - body.hi.x ||
          box.lo.y > bounds.hi.y + body.hi.y || box.hi.y < bounds.lo.y) {
        continue;
      }
      const double gap = rules_.flush_gap;
      across.insert(across.end(), {box.lo.x - body.hi.x - gap, box.hi.x - body.lo.x + gap});
      along.insert(along.end(), {box.hi.y + gap, box.lo.y - body.hi.y - gap});
    }
    for (const double y : along) {
      for (const double x : across) {
        Character visitor;
        if (place(visitor, {x, y}, book_, world_) && is_in(visitor, zone)) return true;
      }
    }
    return false;
  }

  static std::vector<double> grid_between(double lo, double hi) {
    constexpr int kPlaces = 32;
    std::vector<double> places(kPlaces);
    for (int i = 0; i < kPlaces; ++i) {
      places[static_cast<std::size_t>(i)] = lo + (hi - lo) * (i + 0.5) / kPlaces;
    }
    return places;
  }

  static bool is_in(const Character& visitor, std::size_t zone) {
    return std::find(visitor.zones.begin(), visitor.zones.end(), zone) != visitor.zones.end();
  }

  void look_at_start() {
    Character character;
    if (!place(character, level_.start, book_, world_)) {
      const Overlap inside = overlap(world_, rules_.body, level_.start, 0, character.up);
      add({LevelSlip::start_in_solid, inside.surface, 0, inside.depth});
      return;
    }
    if (character.grounded()) {
      check_.under_start = character.ground.surface;
      return;
    }
    const double depth = level_.start.y - check_.bounds.lo.y + 1;
    const Contact below =
        cast(world_, {rules_.body, level_.start, {0, -std::max(depth, 1.0)}, {0, 1}, 0});
    if (!below.met()) {
      add({LevelSlip::start_in_air});
      return;
    }
    check_.under_start = below.surface;
    check_.drop = below.fraction * std::max(depth, 1.0);
  }

  void add(const LevelFinding& finding) { check_.findings.push_back(finding); }

  const Level& level_;
  const Rulebook& book_;
  const Rules& rules_;
  LevelWorld world_;
  LevelCheck check_;
  std::vector<UpperEdge> ground_;
};

}  // namespace

LevelCheck check_level(const Level& level, const Rulebook& book) {
  return Checker(level, book).check();
}

}  // namespace bushbaby
