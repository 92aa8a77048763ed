// A world that is another one, turned, made apart from the core.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "bushbaby/core/motion/character.h"
#include "bushbaby/core/world/world.h"

namespace bushbaby::test {

// A turn about the origin.
struct Turn {
  double cosine, sine;

  static Turn by(double angle) { return {std::cos(angle), std::sin(angle)}; }
  static Turn by_quarters(int quarters) {
    constexpr std::array<Turn, 4> kTurns{{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}};
    return kTurns[static_cast<std::size_t>(quarters)];
  }
  [[nodiscard]] Vec of(Vec v) const {
    return {cosine * v.x - sine * v.y, sine * v.x + cosine * v.y};
  }
  [[nodiscard]] Vec back(Vec v) const { return Turn{cosine, -sine}.of(v); }
  [[nodiscard]] bool is_quarter() const { return cosine == 0 || sine == 0; }

  // What a turned box covers.
  [[nodiscard]] Box bounds(const Box& box) const {
    Box covered{of(box.lo), of(box.lo)};
    for (const Vec corner : {Vec{box.hi.x, box.lo.y}, box.hi, Vec{box.lo.x, box.hi.y}}) {
      const Vec there = of(corner);
      covered = {{std::min(covered.lo.x, there.x), std::min(covered.lo.y, there.y)},
                 {std::max(covered.hi.x, there.x), std::max(covered.hi.y, there.y)}};
    }
    return covered;
  }
  [[nodiscard]] Character of(Character character) const {
    character.feet = of(character.feet);
    character.velocity = of(character.velocity);
    character.ground.normal = of(character.ground.normal);
    character.drop_from = of(character.drop_from);
    character.up = of(character.up);
    return character;
  }
};

// A world that is another one, turned.
class TurnedWorld final : public World {
 public:
  TurnedWorld(const World& inner, Turn turn, std::size_t zones = 0) : inner_(inner), turn_(turn) {
    for (ZoneId zone = 0; zone < zones; ++zone) {
      zones_.push_back(inner.zone(zone));
      zones_.back().middle = turn.of(zones_.back().middle);
    }
  }

  void find_solids(const Box& region, std::int64_t tick, Solids& solids) const noexcept override {
    Turning turning(solids, turn_);
    inner_.find_solids(Turn{turn_.cosine, -turn_.sine}.bounds(region), tick, turning);
  }
  [[nodiscard]] bool has_moving_platforms() const noexcept override {
    return inner_.has_moving_platforms();
  }
  void find_moving_platforms(const Box& region, std::int64_t tick,
                             Solids& solids) const noexcept override {
    Turning turning(solids, turn_);
    inner_.find_moving_platforms(Turn{turn_.cosine, -turn_.sine}.bounds(region), tick, turning);
  }
  [[nodiscard]] Vec travel(SurfaceId surface, std::int64_t tick) const noexcept override {
    return turn_.of(inner_.travel(surface, tick));
  }
  [[nodiscard]] const SurfaceTraits& surface(SurfaceId surface) const noexcept override {
    return inner_.surface(surface);
  }
  void find_zones(const Box& region, std::int64_t tick, Solids& zones) const noexcept override {
    Turning turning(zones, turn_);
    inner_.find_zones(Turn{turn_.cosine, -turn_.sine}.bounds(region), tick, turning);
  }
  [[nodiscard]] const ZoneTraits& zone(ZoneId zone) const noexcept override { return zones_[zone]; }

 private:
  class Turning final : public Solids {
   public:
    Turning(Solids& solids, Turn turn) : solids_(solids), turn_(turn) {}
    void take(const Convex& part, SurfaceId surface) noexcept override {
      const Box& box = part.bounds;
      Convex turned;
      turned.side = turn_.of(part.side);
      turned.bounds = turn_.bounds(box);
      std::vector<Vec> corners(part.corners, part.corners + part.count);
      if (part.is_box() && !turn_.is_quarter()) {
        corners = {box.lo, {box.hi.x, box.lo.y}, box.hi, {box.lo.x, box.hi.y}};
      }
      for (Vec& corner : corners) corner = turn_.of(corner);
      turned.corners = corners.empty() ? nullptr : corners.data();
      turned.count = static_cast<std::uint32_t>(corners.size());
      if (turned.count > 0) turned.bounds = bounds_of(corners);
      solids_.take(turned, surface);
    }

   private:
    static Box bounds_of(const std::vector<Vec>& corners) {
      Box bounds{corners[0], corners[0]};
      for (const Vec corner : corners) {
        bounds.lo = {std::min(bounds.lo.x, corner.x), std::min(bounds.lo.y, corner.y)};
        bounds.hi = {std::max(bounds.hi.x, corner.x), std::max(bounds.hi.y, corner.y)};
      }
      return bounds;
    }
    Solids& solids_;
    Turn turn_;
  };
  const World& inner_;
  Turn turn_;
  std::vector<ZoneTraits> zones_;
};

}  // namespace bushbaby::test
