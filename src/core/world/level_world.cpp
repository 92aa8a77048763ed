#include <algorithm>

#include "bushbaby/core/world/level.h"

#include "box_index.h"

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

namespace {

std::vector<Box> boxes_of(const Level& level) {
  std::vector<Box> boxes;
  boxes.reserve(level.solids.size());
  for (const Solid& solid : level.solids) {
    const std::vector<Vec>& corners = solid.corners;
    boxes.push_back(corners.empty() ? solid.box : bounds_of(corners.data(), corners.size()));
  }
  return boxes;
}

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
    return t.grip == 1 && t.belt == 0 && !t.bounces() && t.footing && t.cling && t.jump &&
           !t.has_touch;
  };
  if (std::all_of(level.solids.begin(), level.solids.end(), is_plain)) return nullptr;
  std::vector<SurfaceTraits> traits;
  traits.reserve(level.solids.size());
  for (const Solid& solid : level.solids) traits.push_back(solid.traits);
  return std::make_shared<const std::vector<SurfaceTraits>>(std::move(traits));
}

}  // namespace

struct LevelWorld::Index {
  // The corners of a part: of none if it is a box.
  struct Corners {
    std::uint32_t first = 0;
    std::uint32_t count = 0;
  };

  explicit Index(const std::vector<Entry>& entries) : Index(entries, {}) {}
  Index(const std::vector<Entry>& entries, std::vector<Entry> rest)
      : grid(entries, rest), large(std::move(rest)), all(entries) {}

  void keep_corners(const Level& level) {
    const auto has_corners = [](const Solid& solid) { return !solid.corners.empty(); };
    if (std::none_of(level.solids.begin(), level.solids.end(), has_corners)) return;
    for (const Solid& solid : level.solids) {
      polygons.push_back({static_cast<std::uint32_t>(corners.size()),
                          static_cast<std::uint32_t>(solid.corners.size())});
      corners.insert(corners.end(), solid.corners.begin(), solid.corners.end());
    }
  }

  // Visits all boxes that the region touches.
  template <class Visit>
  void walk(const Box& region, const Visit& visit) const {
    if (grid.walk(region, visit)) {
      large.walk(region, visit);
    } else {
      all.walk(region, visit);
    }
  }

  [[nodiscard]] Convex shape_of(const Entry& entry) const noexcept {
    if (polygons.empty() || polygons[entry.part].count == 0) return {entry.box};
    const Corners& polygon = polygons[entry.part];
    return {entry.box, &corners[polygon.first], polygon.count};
  }

  BoxGrid grid;                   // the boxes of ordinary size, for small regions
  BoxTree large;                  // the others, for small regions
  BoxTree all;                    // every box, for large regions
  std::vector<Corners> polygons;  // by part; none if all are boxes
  std::vector<Vec> corners;
};

LevelWorld::LevelWorld(const Level& level) {
  auto index = std::make_shared<Index>(entries_of(boxes_of(level)));
  index->keep_corners(level);
  index_ = std::move(index);
  traits_ = traits_of(level);
}

LevelWorld::LevelWorld(const std::vector<Box>& solids)
    : index_(std::make_shared<const Index>(entries_of(solids))) {}

const SurfaceTraits& World::surface(SurfaceId /*surface*/) const noexcept {
  static constexpr SurfaceTraits kPlain{};
  return kPlain;
}

const SurfaceTraits& LevelWorld::surface(SurfaceId surface) const noexcept {
  return traits_ != nullptr && surface < traits_->size() ? (*traits_)[surface]
                                                         : World::surface(surface);
}

void LevelWorld::find_solids(const Box& region, std::int64_t /*tick*/,
                             Solids& solids) const noexcept {
  index_->walk(region, [&](const Entry& entry) {
    if (touch(entry.box, region)) solids.take(index_->shape_of(entry), entry.part);
  });
}

}  // namespace bushbaby
