#include <algorithm>

#include "bushbaby/core/world/level.h"

#include "box_index.h"

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

namespace {

std::vector<Box> boxes_of(const Level& level) {
  std::vector<Box> boxes;
  boxes.reserve(level.solids.size());
  for (const Solid& solid : level.solids) boxes.push_back(solid.box);
  return boxes;
}

std::vector<Entry> entries_of(const std::vector<Box>& boxes) {
  std::vector<Entry> entries;
  entries.reserve(boxes.size());
  for (const Box& box : boxes) entries.push_back({box, static_cast<SurfaceId>(entries.size())});
  return entries;
}

// Everything that the shape passes on its way.
Box swept_region(const Sweep& sweep) noexcept {
  const Vec to = add(sweep.from, sweep.move);
  return {add({smaller(sweep.from.x, to.x), smaller(sweep.from.y, to.y)}, sweep.shape.lo),
          add({larger(sweep.from.x, to.x), larger(sweep.from.y, to.y)}, sweep.shape.hi)};
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

bool reaches(const Box& box, Vec point) noexcept {
  return point.x >= box.lo.x && point.x <= box.hi.x && point.y >= box.lo.y && point.y <= box.hi.y;
}

}  // namespace

struct LevelWorld::Index {
  explicit Index(const std::vector<Entry>& entries) : Index(entries, {}) {}
  Index(const std::vector<Entry>& entries, std::vector<Entry> rest)
      : grid(entries, rest), large(std::move(rest)), all(entries) {}

  // Visits all boxes that the region may touch; `reaches` is as for a tree.
  template <class Reaches, class Visit>
  void walk(const Box& region, const Reaches& reaches, const Visit& visit) const {
    if (grid.walk(region, visit)) {
      large.walk(reaches, visit);
    } else {
      all.walk(reaches, visit);
    }
  }

  BoxGrid grid;   // the boxes of ordinary size, for short casts
  BoxTree large;  // the others, for short casts
  BoxTree all;    // every box, for long casts
};

LevelWorld::LevelWorld(const Level& level) : LevelWorld(boxes_of(level)) {
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

Contact LevelWorld::cast(const Sweep& sweep) const noexcept {
  Contact best;
  const Box reach = reach_of(sweep);
  // The ray costs divisions, and most sweeps pass everything by.
  Ray ray{};
  bool has_ray = false;
  const auto aim = [&] {
    if (!has_ray) ray = ray_of(sweep);
    has_ray = true;
  };
  const auto visit = [&](const Entry& entry) {
    const Box places = places_inside(entry.box, sweep.shape);
    if (passes_by(reach, sweep.from, places)) return;
    aim();
    const Contact contact = cast_ray_against(sweep, ray, places, entry.surface);
    if (contact.met() && comes_before(contact, best, sweep.up)) best = contact;
  };
  // Where the ray enters a tree's bounds, unless it does so later than it met something.
  const auto enters = [&](const Box& bounds) {
    const Box places = places_inside(bounds, sweep.shape);
    if (passes_by(reach, sweep.from, places)) return BoxTree::kNever;
    aim();
    const Within within = ray_within(ray, places);
    const bool counts =
        within.enter <= within.exit && within.exit >= 0 && within.enter <= best.fraction;
    return counts ? within.enter : BoxTree::kNever;
  };
  index_->walk(swept_region(sweep), enters, visit);
  return best;
}

Overlap LevelWorld::overlap(const Box& shape, Vec feet, std::int64_t /*tick*/) const noexcept {
  Overlap deepest;
  const auto visit = [&](const Entry& entry) {
    const Overlap overlap = overlap_with(shape, feet, entry.box, entry.surface);
    const bool deeper = overlap.depth > deepest.depth ||
                        (overlap.depth == deepest.depth && overlap.surface < deepest.surface);
    if (overlap.depth > 0 && deeper) deepest = overlap;
  };
  const auto holds = [&](const Box& bounds) {
    return reaches(places_inside(bounds, shape), feet) ? 0 : BoxTree::kNever;
  };
  index_->walk({add(shape.lo, feet), add(shape.hi, feet)}, holds, visit);
  return deepest;
}

}  // namespace bushbaby
