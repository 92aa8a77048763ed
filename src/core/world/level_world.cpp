#include <algorithm>

#include "bushbaby/core/world/level.h"
#include "bushbaby/core/world/outline.h"

#include "box_index.h"
#include "zone_map.h"

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

namespace {

std::vector<Entry> entries_of(const std::vector<Box>& boxes) {
  std::vector<Entry> entries;
  entries.reserve(boxes.size());
  for (const Box& box : boxes) entries.push_back({box, static_cast<std::uint32_t>(entries.size())});
  return entries;
}

// The traits of a level's surfaces; null if all are plain, as most are.
std::shared_ptr<const std::vector<SurfaceTraits>> traits_of(const Level& level) {
  const auto is_plain = [](const Solid& solid) {
    const SurfaceTraits& t = solid.traits;
    return t.grip == 1 && t.conveyor == 0 && !t.bounces() && t.inherit_horizontal == 1 &&
           t.inherit_vertical == 1 && t.ground && t.cling && t.jump && !t.has_touch;
  };
  if (std::all_of(level.solids.begin(), level.solids.end(), is_plain)) return nullptr;
  std::vector<SurfaceTraits> traits;
  traits.reserve(level.solids.size());
  for (const Solid& solid : level.solids) traits.push_back(solid.traits);
  return std::make_shared<const std::vector<SurfaceTraits>>(std::move(traits));
}

// The conditions of a level's surfaces; none if there are none.
std::shared_ptr<const std::vector<Condition>> conditions_of(const Level& level) {
  const bool any = std::any_of(level.solids.begin(), level.solids.end(),
                               [](const Solid& solid) { return !solid.solid_when.nodes.empty(); });
  if (!any) return nullptr;
  std::vector<Condition> conditions;
  for (const Solid& solid : level.solids) conditions.push_back(solid.solid_when);
  return std::make_shared<const std::vector<Condition>>(std::move(conditions));
}

// What of a convex part is no outside of the outline that it is of: edges that another part has the
// other way round, and corners where the outline turns inward.
std::uint16_t inner_of(const std::vector<Vec>& part, const std::vector<std::vector<Vec>>& all,
                       const std::vector<Vec>& outline) {
  const auto next_to = [](const std::vector<Vec>& loop, std::size_t i) {
    return loop[(i + 1) % loop.size()];
  };
  const auto is_shared = [&](Vec from, Vec to) {
    for (const std::vector<Vec>& other : all) {
      for (std::size_t i = 0; i < other.size(); ++i) {
        if (other[i] == to && next_to(other, i) == from) return true;
      }
    }
    return false;
  };
  const auto turns_inward = [&](Vec corner) {
    for (std::size_t i = 0; i < outline.size(); ++i) {
      if (next_to(outline, i) != corner) continue;
      const Vec before = subtract(corner, outline[i]);
      const Vec after = subtract(next_to(outline, (i + 1) % outline.size()), corner);
      return before.x * after.y - before.y * after.x < 0;
    }
    return false;
  };
  unsigned inner = 0;
  for (std::size_t i = 0; i < part.size(); ++i) {
    if (is_shared(part[i], next_to(part, i))) inner |= 1U << i;
    if (turns_inward(part[i])) inner |= 1U << (kMostCorners + i);
  }
  return static_cast<std::uint16_t>(inner);
}

}  // namespace

// The convex parts of a level's solids, in order.
struct LevelWorld::Index {
  // What a part is besides its bounds; a level of nothing but ordinary boxes keeps none.
  struct Part {
    SurfaceId surface = 0;
    std::uint32_t first_corner = 0;
    std::uint8_t corner_count = 0;  // 0: a box
    Blocks blocks = Blocks::everything;
    bool conditional = false;
    std::uint16_t inner = 0;  // see `Convex`
  };

  // The parts of some solids, as they are gathered.
  struct Parts {
    std::vector<Entry> entries;
    std::vector<Part> parts;
    std::vector<Vec> corners;

    void take(const Vec* first, std::size_t count, SurfaceId surface, const Solid& solid,
              std::uint16_t inner = 0) {
      add(bounds_of(first, count),
          {surface, static_cast<std::uint32_t>(corners.size()), static_cast<std::uint8_t>(count),
           solid.blocks, !solid.solid_when.nodes.empty(), inner});
      corners.insert(corners.end(), first, first + count);
    }
    void add(const Box& bounds, const Part& part) {
      entries.push_back({bounds, static_cast<std::uint32_t>(entries.size())});
      parts.push_back(part);
    }
    void take(const Solid& solid, SurfaceId surface);
  };

  Index(Parts&& gathered, CellShape cells) : Index(std::move(gathered), cells, {}) {}
  Index(Parts&& gathered, CellShape cells, std::vector<Entry> rest)
      : grid(gathered.entries, rest, cells),
        large(std::move(rest)),
        all(std::move(gathered.entries)),
        parts(std::move(gathered.parts)),
        corners(std::move(gathered.corners)) {}

  // Visits all parts whose bounds the region touches.
  template <class Visit>
  void walk(const Box& region, const Visit& visit) const {
    if (grid.walk(region, visit)) {
      large.walk(region, visit);
    } else {
      all.walk(region, visit);
    }
  }

  void hand_out(const Entry& entry, Solids& solids) const noexcept {
    if (parts.empty()) {
      solids.take_box(entry.box, entry.part);
    } else {
      solids.take(shape_of(parts[entry.part], entry.box, corners), parts[entry.part].surface);
    }
  }

  static Convex shape_of(const Part& part, const Box& bounds, const std::vector<Vec>& corners) {
    const Vec* first = part.corner_count > 0 ? &corners[part.first_corner] : nullptr;
    return {bounds, first, part.corner_count, part.conditional, side_of(part.blocks), part.inner};
  }

  BoxGrid grid;             // the parts of ordinary size, for small regions
  BoxTree large;            // the others, for small regions
  BoxTree all;              // every part, for large regions
  std::vector<Part> parts;  // by number; none if every solid is a box that blocks everything
  std::vector<Vec> corners;
};

void LevelWorld::Index::Parts::take(const Solid& solid, SurfaceId surface) {
  const std::vector<Vec>& outline = solid.corners;
  if (outline.empty()) {
    add(solid.box, {surface, 0, 0, solid.blocks, !solid.solid_when.nodes.empty(), 0});
  } else if (is_thin(solid)) {
    for (std::size_t i = 0; i + 1 < outline.size(); ++i) take(&outline[i], 2, surface, solid);
  } else {
    const std::vector<std::vector<Vec>> convex = convex_parts(outline);
    const bool has_inside = convex.size() > 1 && solid.blocks != Blocks::everything;
    for (const std::vector<Vec>& part : convex) {
      take(part.data(), part.size(), surface, solid,
           has_inside ? inner_of(part, convex, corners_of(solid)) : std::uint16_t{0});
    }
  }
}

// The solids that travel.
struct LevelWorld::MovingPlatforms {
  MovingPlatforms(const Level& level, double rate) : tick_rate(rate) {
    Index::Parts gathered;
    number_of.assign(level.solids.size(), kNone);
    for (std::size_t i = 0; i < level.solids.size(); ++i) {
      const Solid& solid = level.solids[i];
      if (!solid.path) continue;
      number_of[i] = static_cast<std::uint32_t>(timetables.size());
      timetables.emplace_back(*solid.path);
      gathered.take(solid, static_cast<SurfaceId>(i));
    }
    parts = std::move(gathered.parts);
    corners = std::move(gathered.corners);
    std::vector<Entry> ways;
    for (const Entry& entry : gathered.entries) {
      drawn.push_back(entry.box);
      const Box& places = timetable_of(parts[entry.part].surface).bounds();
      const Box way{add(entry.box.lo, places.lo), add(entry.box.hi, places.hi)};
      constexpr double kRounding = 1e-9;
      const Vec size = subtract(way.hi, way.lo);
      ways.push_back({grown(way, kRounding * (1 + size.x + size.y)), entry.part});
    }
    tree = BoxTree(std::move(ways));
  }

  [[nodiscard]] const Timetable& timetable_of(SurfaceId surface) const {
    return timetables[number_of[surface]];
  }
  [[nodiscard]] bool travels(SurfaceId surface) const {
    return surface < number_of.size() && number_of[surface] != kNone;
  }
  [[nodiscard]] Vec place_of(SurfaceId surface, std::int64_t tick) const {
    return timetable_of(surface).place_at(static_cast<double>(tick) / tick_rate);
  }

  // Hands over the parts that touch a region where they are at a tick, or on their way to the next.
  void hand_out(const Box& region, std::int64_t tick, bool on_their_way, Solids& solids) const {
    tree.walk(region, [&](const Entry& entry) {
      if (!touch(entry.box, region)) return;
      const SurfaceId surface = parts[entry.part].surface;
      const Vec place = place_of(surface, tick);
      const Box& box = drawn[entry.part];
      const Box here{add(box.lo, place), add(box.hi, place)};
      Box reach = here;
      if (on_their_way) {
        const Vec next = place_of(surface, tick + 1);
        const Vec ends[] = {here.lo, here.hi, add(box.lo, next), add(box.hi, next)};
        reach = detail::bounds_of(ends, 4);
      }
      if (touch(reach, region)) take(entry.part, place, here, solids);
    });
  }

  void take(std::uint32_t number, Vec place, const Box& here, Solids& solids) const {
    const Index::Part& part = parts[number];
    Convex shape = Index::shape_of(part, here, corners);
    Vec moved[kMostCorners];
    for (std::uint32_t i = 0; i < shape.count; ++i) moved[i] = add(shape.corners[i], place);
    if (shape.count > 0) {
      shape.corners = moved;
      shape.bounds = detail::bounds_of(moved, shape.count);
    }
    solids.take(shape, part.surface);
  }

  static constexpr std::uint32_t kNone = 0xffffffffU;
  double tick_rate;
  std::vector<std::uint32_t> number_of;  // by surface: that of its timetable
  std::vector<Timetable> timetables;
  std::vector<Index::Part> parts;
  std::vector<Vec> corners;
  std::vector<Box> drawn;  // bounds of the parts where they are drawn
  BoxTree tree{{}};        // by all the places they come to
};

namespace {

// The shape of a zone.
Solid outline_of(const Zone& zone) {
  Solid outline;
  outline.box = zone.box;
  outline.corners = zone.corners;
  return outline;
}

}  // namespace

Box bounds_of(const Zone& zone) noexcept {
  const std::vector<Vec>& corners = zone.corners;
  return corners.empty() ? zone.box : bounds_of(corners.data(), corners.size());
}

Box bounds_of(const Solid& solid) noexcept {
  const std::vector<Vec>& corners = solid.corners;
  return corners.empty() ? solid.box : bounds_of(corners.data(), corners.size());
}

bool is_thin(const Solid& solid) noexcept { return solid.is_line || solid.corners.size() == 2; }

std::vector<Vec> corners_of(const Solid& solid) {
  const Box& box = solid.box;
  std::vector<Vec> corners = solid.corners;
  if (corners.empty()) return {box.lo, {box.hi.x, box.lo.y}, box.hi, {box.lo.x, box.hi.y}};
  if (!is_thin(solid) && area_of(corners) < 0) std::reverse(corners.begin(), corners.end());
  return corners;
}

LevelWorld::LevelWorld(const Level& level, double tick_rate) {
  const auto travels = [&](const Solid& solid) { return tick_rate > 0 && solid.path; };
  const auto is_plain = [&](const Solid& solid) {
    return solid.corners.empty() && solid.blocks == Blocks::everything &&
           solid.solid_when.nodes.empty() && !travels(solid);
  };
  Index::Parts parts;
  for (std::size_t i = 0; i < level.solids.size(); ++i) {
    if (!travels(level.solids[i])) parts.take(level.solids[i], static_cast<SurfaceId>(i));
  }
  if (std::any_of(level.solids.begin(), level.solids.end(), travels)) {
    moving_platforms_ = std::make_shared<const MovingPlatforms>(level, tick_rate);
  }
  if (std::all_of(level.solids.begin(), level.solids.end(), is_plain)) parts.parts.clear();
  index_ = std::make_shared<const Index>(std::move(parts), CellShape::square);
  traits_ = traits_of(level);
  conditions_ = conditions_of(level);
  if (level.zones.empty()) return;
  Index::Parts areas;
  std::vector<ZoneTraits> zone_traits;
  for (const Zone& zone : level.zones) {
    areas.take(outline_of(zone), static_cast<SurfaceId>(zone_traits.size()));
    const Box bounds = bounds_of(zone);
    zone_traits.push_back(zone.traits);
    zone_traits.back().middle = scale(add(bounds.lo, bounds.hi), 0.5);
    zone_traits.back().is_fluid = zone.fluid.has_value();
  }
  const bool all_boxes = std::all_of(level.zones.begin(), level.zones.end(),
                                     [](const Zone& zone) { return zone.corners.empty(); });
  if (all_boxes) areas.parts.clear();
  zones_ = std::make_shared<const Index>(std::move(areas), CellShape::as_boxes);
  zone_traits_ = std::make_shared<const std::vector<ZoneTraits>>(std::move(zone_traits));
  zone_map_ = std::make_shared<const ZoneMap>(level.zones);
}

LevelWorld::LevelWorld(const std::vector<Box>& solids)
    : index_(std::make_shared<const Index>(Index::Parts{entries_of(solids), {}, {}},
                                           CellShape::square)) {}

const Condition* World::solid_when(SurfaceId /*surface*/) const noexcept { return nullptr; }

const Condition* LevelWorld::solid_when(SurfaceId surface) const noexcept {
  if (conditions_ == nullptr || surface >= conditions_->size()) return nullptr;
  return &(*conditions_)[surface];
}

void World::find_zones(const Box& /*region*/, std::int64_t /*tick*/,
                       Solids& /*zones*/) const noexcept {}

bool World::zones_throughout(const Box& /*region*/, std::int64_t /*tick*/,
                             ZoneSet& /*zones*/) const noexcept {
  return false;
}

bool LevelWorld::zones_throughout(const Box& region, std::int64_t /*tick*/,
                                  ZoneSet& zones) const noexcept {
  if (zones_ == nullptr) {
    zones = no_zones();
    return true;
  }
  return zone_map_->find(region, zones);
}

const ZoneTraits& World::zone(ZoneId /*zone*/) const noexcept {
  static constexpr ZoneTraits kPlain{};
  return kPlain;
}

void LevelWorld::find_zones(const Box& region, std::int64_t /*tick*/,
                            Solids& zones) const noexcept {
  if (zones_ == nullptr) return;
  zones_->walk(region, [&](const Entry& entry) {
    if (touch(entry.box, region)) zones_->hand_out(entry, zones);
  });
}

const ZoneTraits& LevelWorld::zone(ZoneId zone) const noexcept {
  return zone_traits_ != nullptr && zone < zone_traits_->size() ? (*zone_traits_)[zone]
                                                                : World::zone(zone);
}

bool World::has_moving_platforms() const noexcept { return false; }

double World::platform_tick_rate() const noexcept { return 0; }

double LevelWorld::platform_tick_rate() const noexcept {
  return moving_platforms_ != nullptr ? moving_platforms_->tick_rate : 0;
}

void World::find_moving_platforms(const Box& /*region*/, std::int64_t /*tick*/,
                                  Solids& /*solids*/) const noexcept {}

void LevelWorld::find_moving_platforms(const Box& region, std::int64_t tick,
                                       Solids& solids) const noexcept {
  if (moving_platforms_ != nullptr) moving_platforms_->hand_out(region, tick, true, solids);
}

Vec World::travel(SurfaceId /*surface*/, std::int64_t /*tick*/) const noexcept { return {0, 0}; }

Vec LevelWorld::travel(SurfaceId surface, std::int64_t tick) const noexcept {
  if (moving_platforms_ == nullptr || !moving_platforms_->travels(surface)) return {0, 0};
  return subtract(moving_platforms_->place_of(surface, tick + 1),
                  moving_platforms_->place_of(surface, tick));
}

const SurfaceTraits& World::surface(SurfaceId /*surface*/) const noexcept {
  static constexpr SurfaceTraits kPlain{};
  return kPlain;
}

const SurfaceTraits& LevelWorld::surface(SurfaceId surface) const noexcept {
  return traits_ != nullptr && surface < traits_->size() ? (*traits_)[surface]
                                                         : World::surface(surface);
}

void LevelWorld::find_solids(const Box& region, std::int64_t tick, Solids& solids) const noexcept {
  index_->walk(region, [&](const Entry& entry) {
    if (touch(entry.box, region)) index_->hand_out(entry, solids);
  });
  if (moving_platforms_ != nullptr) moving_platforms_->hand_out(region, tick, false, solids);
}

}  // namespace bushbaby
