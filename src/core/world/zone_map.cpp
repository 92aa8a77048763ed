#include "zone_map.h"

#include <cmath>
#include <limits>
#include <map>
#include <utility>

namespace bushbaby::detail {
namespace {

constexpr std::uint32_t kBorder = 0xffffffffU;  // instead of a set, while the map is drawn

// The places in which a body may be in a zone.
Box reach_of(const Zone& zone) { return grown(bounds_of(zone), zone.traits.exit_margin); }

bool holds_all_of(const Zone& zone, const Box& cell) {
  const Box& box = zone.box;
  return zone.corners.empty() && cell.lo.x > box.lo.x && cell.hi.x < box.hi.x &&
         cell.lo.y > box.lo.y && cell.hi.y < box.hi.y;
}

// A set with one more zone, of a higher id than all of its own; what there is no room for is left
// out.
ZoneSet with(ZoneSet set, ZoneId zone) {
  for (ZoneId& each : set) {
    if (each != kNoZone) continue;
    each = zone;
    break;
  }
  return set;
}

}  // namespace

ZoneMap::ZoneMap(const std::vector<Zone>& zones) {
  if (!lay_out(zones)) return;
  draw(zones);
  count_borders();
}

bool ZoneMap::lay_out(const std::vector<Zone>& zones) {
  if (zones.empty()) return false;
  std::vector<double> sizes;
  Box all = reach_of(zones[0]);
  for (const Zone& zone : zones) {
    const Box bounds = bounds_of(zone);
    sizes.push_back(smaller(bounds.hi.x - bounds.lo.x, bounds.hi.y - bounds.lo.y));
    const Box reach = reach_of(zone);
    const Vec ends[] = {all.lo, all.hi, reach.lo, reach.hi};
    all = detail::bounds_of(ends, 4);
  }
  constexpr double kCellsOfAZone = 16;
  double cell = middle_of(sizes) / kCellsOfAZone;
  const Vec extent = subtract(all.hi, all.lo);
  if (!(cell > 0) || !(extent.x < std::numeric_limits<double>::infinity()) ||
      !(extent.y < std::numeric_limits<double>::infinity())) {
    return false;
  }
  // How many cells there are, and how often one is looked at while the map is drawn.
  const double most = 64 * static_cast<double>(zones.size()) + 4096;
  const auto cells_across = [&cell](Vec size) {
    return (std::floor(size.x / cell) + 3) * (std::floor(size.y / cell) + 3);
  };
  const auto looks = [&] {
    double sum = cells_across(extent);
    for (const Zone& zone : zones) {
      const Box reach = reach_of(zone);
      sum = sum + cells_across(subtract(reach.hi, reach.lo));
    }
    return sum;
  };
  constexpr double kMostLooks = 16;
  while (cells_across(extent) > most || looks() > kMostLooks * most) {
    if (cell > larger(extent.x, extent.y)) return false;  // too many zones for a map
    cell = cell * 2;
  }
  // A row and a column of nothing all round: what lies beyond them is like them.
  plan_ = CellPlan(subtract(all.lo, {cell, cell}), {cell, cell},
                   static_cast<std::int32_t>(extent.x / cell) + 3,
                   static_cast<std::int32_t>(extent.y / cell) + 3);
  return true;
}

void ZoneMap::draw(const std::vector<Zone>& zones) {
  set_of_.assign(plan_.count(), 0);
  sets_ = {no_zones()};
  std::map<std::pair<std::uint32_t, ZoneId>, std::uint32_t> joined;
  for (ZoneId id = 0; id < zones.size(); ++id) {
    const Zone& zone = zones[id];
    const Cells cells = plan_.cells_of(reach_of(zone));
    // Most cells of a zone are in the same others: what was joined last is joined again.
    std::uint32_t last_set = kBorder;
    std::uint32_t last_joined = kBorder;
    for (std::int32_t y = cells.bottom; y <= cells.top; ++y) {
      for (std::int32_t x = cells.left; x <= cells.right; ++x) {
        std::uint32_t& set = set_of_[plan_.number_of(x, y)];
        if (set == kBorder) continue;
        if (!holds_all_of(zone, plan_.box_of(x, y))) {
          set = kBorder;
          continue;
        }
        if (set != last_set) {
          const auto [place, is_new] =
              joined.try_emplace({set, id}, static_cast<std::uint32_t>(sets_.size()));
          if (is_new) sets_.push_back(with(sets_[set], id));
          last_set = set;
          last_joined = place->second;
        }
        set = last_joined;
      }
    }
  }
}

void ZoneMap::count_borders() {
  const auto width = static_cast<std::size_t>(plan_.columns()) + 1;
  borders_.assign(width * (static_cast<std::size_t>(plan_.rows()) + 1), 0);
  for (std::size_t y = 0; y < static_cast<std::size_t>(plan_.rows()); ++y) {
    std::uint32_t in_row = 0;
    for (std::size_t x = 0; x + 1 < width; ++x) {
      in_row += set_of_[y * (width - 1) + x] == kBorder ? 1U : 0U;
      borders_[(y + 1) * width + x + 1] = borders_[y * width + x + 1] + in_row;
    }
  }
}

bool ZoneMap::find(const Box& region, ZoneSet& zones) const noexcept {
  if (set_of_.empty()) return false;
  const Cells cells = plan_.cells_of(region);
  const auto width = static_cast<std::size_t>(plan_.columns()) + 1;
  const auto left = static_cast<std::size_t>(cells.left);
  const auto right = static_cast<std::size_t>(cells.right) + 1;
  const std::uint32_t* below = &borders_[static_cast<std::size_t>(cells.bottom) * width];
  const std::uint32_t* above = &borders_[(static_cast<std::size_t>(cells.top) + 1) * width];
  // Unsigned sums may wrap; their difference is right all the same.
  if (above[right] - above[left] - below[right] + below[left] != 0) return false;
  zones = sets_[set_of_[plan_.number_of(cells.left, cells.bottom)]];
  return true;
}

}  // namespace bushbaby::detail
