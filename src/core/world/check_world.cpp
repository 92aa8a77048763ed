#include "bushbaby/core/world/check_world.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <sstream>

#include "core/shape/arithmetic.h"

namespace bushbaby {
namespace {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

// A part as it was handed over, with corners of its own: none if it is a box.
struct HandedOver {
  Box bounds;
  std::vector<Vec> corners;
  SurfaceId surface = kNoSurface;
  Vec side{0, 0};
  bool conditional = false;

  bool operator==(const HandedOver& other) const {
    return surface == other.surface && bounds == other.bounds && corners == other.corners &&
           side == other.side && conditional == other.conditional;
  }
};

class Collected final : public Solids {
 public:
  void take(const Convex& part, SurfaceId surface) noexcept override {
    parts.push_back({part.bounds, {}, surface, part.side, part.conditional});
    if (part.corners != nullptr && part.count <= kMostCorners) {
      parts.back().corners.assign(part.corners, part.corners + part.count);
    }
    parts.back().corners.resize(part.count > kMostCorners ? kMostCorners + 1 : part.count);
  }

  std::vector<HandedOver> parts;
};

std::string text_of(const Box& box) {
  std::ostringstream text;
  text << "[" << box.lo.x << ", " << box.lo.y << ", " << box.hi.x << ", " << box.hi.y << "]";
  return text.str();
}

bool all_finite(Vec v) { return std::isfinite(v.x) && std::isfinite(v.y); }

// What is wrong with a part; empty if nothing is.
std::string fault_of(const HandedOver& part) {
  if (part.surface == kNoSurface) return "has no surface";
  constexpr double kRounding = 1e-9;
  const double side = dot(part.side, part.side);
  if (!(side == 0 || std::abs(side - 1) < kRounding)) return "has a side that is no unit vector";
  if (!all_finite(part.bounds.lo) || !all_finite(part.bounds.hi)) return "has bounds not finite";
  const std::vector<Vec>& corners = part.corners;
  if (corners.empty()) {
    const bool valid = part.bounds.lo.x < part.bounds.hi.x && part.bounds.lo.y < part.bounds.hi.y;
    return valid ? "" : "is a box without an inside";
  }
  if (corners.size() < 2) return "is a polygon of one corner";
  if (corners.size() > kMostCorners) return "is a polygon of too many corners";
  for (const Vec corner : corners) {
    if (!all_finite(corner)) return "has a corner that is not finite";
  }
  for (std::size_t i = 0; i < corners.size(); ++i) {
    const Vec a = corners[i];
    const Vec b = corners[(i + 1) % corners.size()];
    const Vec c = corners[(i + 2) % corners.size()];
    if (a == b) return "has the same corner twice";
    const bool inside = a.x >= part.bounds.lo.x && a.x <= part.bounds.hi.x &&
                        a.y >= part.bounds.lo.y && a.y <= part.bounds.hi.y;
    if (!inside) return "has a corner beyond its bounds";
    const Vec ab = subtract(b, a);
    const Vec bc = subtract(c, b);
    const double turn = ab.x * bc.y - ab.y * bc.x;
    if (corners.size() > 2 && !(turn >= 0)) return "is not convex and counter-clockwise";
  }
  return "";
}

// Numbers between 0 and 1 that are the same at every call.
class Numbers {
 public:
  double next() {
    state_ = state_ * 6364136223846793005u + 1442695040888963407u;
    return static_cast<double>(state_ >> 11) / 9007199254740992.0;
  }

 private:
  std::uint64_t state_ = 20;
};

// Asks one world, and collects what is wrong.
class Examiner {
 public:
  Examiner(const World& world, const Box& where, std::size_t most)
      : world_(world), where_(where), most_(most) {}

  [[nodiscard]] bool is_done() const { return faults_.size() >= most_; }
  [[nodiscard]] std::vector<std::string> faults() const { return faults_; }

  // Asks for solids and for zones, which are handed over alike.
  void ask(Numbers& numbers) {
    for (const bool zones : {false, true}) {
      zones_ = zones;
      tick_ = static_cast<std::int64_t>(numbers.next() * kMostTicks);
      ask_for_parts(numbers);
    }
    ask_for_moving_platforms(some_region(numbers));
  }

 private:
  // What travels is found on its way, and is farther by what it travels at the next tick.
  void ask_for_moving_platforms(const Box& region) {
    zones_ = false;
    std::vector<HandedOver> moving_platforms = moving_platforms_in(region);
    const std::vector<HandedOver> before = parts_in(region);
    ++tick_;
    const std::vector<HandedOver> after = parts_in(region);
    --tick_;
    for (const HandedOver& part : before) {
      const bool travels = world_.travel(part.surface, tick_) != Vec{0, 0};
      if (travels && touch(part.bounds, region) && !has_near(moving_platforms, part, {0, 0})) {
        report(name_of(part) + " travels, and is no moving platform in " + text_of(region) +
               ", which it is in");
      }
    }
    for (const HandedOver& part : after) {
      const Vec travel = world_.travel(part.surface, tick_);
      if (travel == Vec{0, 0} || !touch(part.bounds, region)) continue;
      if (!has_near(moving_platforms, part, travel)) {
        report(name_of(part) + " has come to " + text_of(region) +
               " by the next tick, and was not there less what it travels");
      }
    }
  }

  // Whether one of them, moved, is that part but for rounding.
  [[nodiscard]] bool has_near(const std::vector<HandedOver>& parts, const HandedOver& part,
                              Vec moved) const {
    const double rounding = 1e-9 * (1 + length_of(where_));
    return std::any_of(parts.begin(), parts.end(), [&](const HandedOver& each) {
      const Vec off = subtract(add(each.bounds.lo, moved), part.bounds.lo);
      return each.surface == part.surface && each.corners.size() == part.corners.size() &&
             magnitude(off.x) <= rounding && magnitude(off.y) <= rounding;
    });
  }

  static double length_of(const Box& box) {
    return magnitude(box.lo.x) + magnitude(box.lo.y) + magnitude(box.hi.x) + magnitude(box.hi.y);
  }

  void ask_for_parts(Numbers& numbers) {
    const Box region = some_region(numbers);
    const std::vector<HandedOver> parts = parts_in(region);
    for (const HandedOver& part : parts) {
      const std::string fault = fault_of(part);
      if (!fault.empty()) report(name_of(part) + " " + fault);
      if (!has_one_answer(part.surface)) {
        report(name_of(part) + " has other traits each time it is asked for");
      }
      const Condition* when = part.conditional ? world_.solid_when(part.surface) : nullptr;
      if (when != nullptr && !is_well_formed(*when)) {
        report(name_of(part) + " has a condition that is no tree");
      }
    }
    if (parts_in(region) != parts)
      report("asked again for " + text_of(region) + ", it answers again with other ones");
    const Box inner = part_of(region, numbers);
    compare(parts, region, parts_in(inner), inner);
    if (zones_) ask_for_zones_throughout(region);
  }

  // Where it says that a region is in the same zones throughout, that must be so.
  void ask_for_zones_throughout(const Box& region) {
    ZoneSet reported;
    if (!world_.zones_throughout(region, tick_, reported)) return;
    double margin = 0;
    for (const HandedOver& part : parts_in(where_)) {
      margin = larger(margin, world_.zone(part.surface).exit_margin);
    }
    std::vector<ZoneId> near;
    for (const HandedOver& part : parts_in(grown(region, margin))) {
      const bool has_all = holds_all_of(part, region);
      if (has_all) near.push_back(part.surface);
      const bool is_reported =
          reported.back() != kNoZone ||  // there is no room for all
          std::find(reported.begin(), reported.end(), part.surface) != reported.end();
      const double reach = world_.zone(part.surface).exit_margin;
      if (touch(grown(part.bounds, reach), region) && !(is_reported && has_all)) {
        report("it says that " + text_of(region) +
               " is well within the same zones, but a border of " + name_of(part) +
               " is there, or near");
      }
    }
    for (const ZoneId zone : reported) {
      if (zone == kNoZone || std::find(near.begin(), near.end(), zone) != near.end()) continue;
      report("it says that all of " + text_of(region) + " is in zone " + std::to_string(zone) +
             ", which is not handed over there");
    }
  }

  static bool holds_all_of(const HandedOver& part, const Box& region) {
    const Box& box = part.bounds;
    if (part.corners.empty()) {
      return region.lo.x > box.lo.x && region.hi.x < box.hi.x && region.lo.y > box.lo.y &&
             region.hi.y < box.hi.y;
    }
    const Vec ends[] = {
        region.lo, {region.hi.x, region.lo.y}, region.hi, {region.lo.x, region.hi.y}};
    for (std::size_t i = 0; i < part.corners.size(); ++i) {
      const Vec corner = part.corners[i];
      const Vec edge = subtract(part.corners[(i + 1) % part.corners.size()], corner);
      for (const Vec end : ends) {
        const Vec off = subtract(end, corner);
        if (!(edge.x * off.y - edge.y * off.x > 0)) return false;
      }
    }
    return true;
  }

  [[nodiscard]] bool has_one_answer(std::uint32_t id) const {
    return zones_ ? &world_.zone(id) == &world_.zone(id)
                  : &world_.surface(id) == &world_.surface(id);
  }

  [[nodiscard]] std::string name_of(const HandedOver& part) const {
    return (zones_ ? "zone " : "surface ") + std::to_string(part.surface) + " at " +
           text_of(part.bounds);
  }

  void report(std::string fault) {
    const bool is_new = std::find(faults_.begin(), faults_.end(), fault) == faults_.end();
    if (is_new && !is_done()) faults_.push_back(std::move(fault));
  }

  [[nodiscard]] std::vector<HandedOver> parts_in(const Box& region) const {
    Collected collected;
    if (zones_) {
      world_.find_zones(region, tick_, collected);
    } else {
      world_.find_solids(region, tick_, collected);
    }
    return std::move(collected.parts);
  }
  [[nodiscard]] std::vector<HandedOver> moving_platforms_in(const Box& region) const {
    Collected collected;
    world_.find_moving_platforms(region, tick_, collected);
    return std::move(collected.parts);
  }

  // From a hundred-thousandth of the whole to all of it, and beyond its edges.
  [[nodiscard]] Box some_region(Numbers& numbers) const {
    const Vec extent = subtract(where_.hi, where_.lo);
    const auto size = [&numbers] { return std::pow(10.0, -5 * numbers.next()); };
    const Vec half{extent.x * size() / 2, extent.y * size() / 2};
    const Vec centre{where_.lo.x + extent.x * (1.2 * numbers.next() - 0.1),
                     where_.lo.y + extent.y * (1.2 * numbers.next() - 0.1)};
    return {subtract(centre, half), add(centre, half)};
  }

  [[nodiscard]] static Box part_of(const Box& region, Numbers& numbers) {
    const Vec extent = subtract(region.hi, region.lo);
    const double left = numbers.next();
    const double bottom = numbers.next();
    const Vec lo{region.lo.x + extent.x * left * 0.7, region.lo.y + extent.y * bottom * 0.7};
    return {lo, {lo.x + extent.x * 0.3, lo.y + extent.y * 0.3}};
  }

  // What either answer has within the smaller region must be in the other.
  void compare(const std::vector<HandedOver>& large, const Box& region,
               const std::vector<HandedOver>& small, const Box& inner) {
    const auto has = [](const std::vector<HandedOver>& parts, const HandedOver& part) {
      return std::find(parts.begin(), parts.end(), part) != parts.end();
    };
    for (const HandedOver& part : large) {
      if (touch(part.bounds, inner) && !has(small, part)) {
        report(name_of(part) + " is handed over for " + text_of(region) + ", but not for " +
               text_of(inner) + " within it, which it reaches");
      }
    }
    for (const HandedOver& part : small) {
      if (touch(part.bounds, inner) && !has(large, part)) {
        report(name_of(part) + " is handed over for " + text_of(inner) + ", but not for " +
               text_of(region) + " around it");
      }
    }
  }

  const World& world_;
  Box where_;
  std::size_t most_;
  static constexpr double kMostTicks = 1e5;
  bool zones_ = false;  // what is asked for
  std::int64_t tick_ = 0;
  std::vector<std::string> faults_;
};

}  // namespace

std::vector<std::string> check_world(const World& world, const Box& where, int questions,
                                     std::size_t most) {
  Examiner examiner(world, where, most);
  Numbers numbers;
  for (int i = 0; i < questions && !examiner.is_done(); ++i) examiner.ask(numbers);
  return examiner.faults();
}

}  // namespace bushbaby
