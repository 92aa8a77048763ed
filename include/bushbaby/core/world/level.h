// A level: a piece of terrain made of solids, and the world that hands them to the motion step.
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/platform_path.h>
#include <bushbaby/core/world/world.h>
#include <bushbaby/core/world/zone.h>

namespace bushbaby {

namespace detail {
class ZoneMap;
}

struct Solid {
  std::string name;  ///< may be empty
  Box box;           ///< u; counts if there are no corners
  SurfaceTraits traits{};
  /// u, of a polygon: a simple outline, either way round (see `find_fault`); or of a line.
  std::vector<Vec> corners{};
  bool is_line = false;  ///< the corners are those of a line without thickness; two always are
  Blocks blocks = Blocks::everything;
  Condition solid_when{};              ///< always, if it is empty; well formed
  std::optional<PlatformPath> path{};  ///< how it travels, if it does; without fault
};

/// What a solid where it is drawn, or a zone, reaches over, u.
[[nodiscard]] Box bounds_of(const Solid& solid) noexcept;
[[nodiscard]] Box bounds_of(const Zone& zone) noexcept;

/// Whether a solid is a line.
[[nodiscard]] bool is_thin(const Solid& solid) noexcept;

/// The corners of a box or a polygon, counter-clockwise; the points of a line as they are drawn.
[[nodiscard]] std::vector<Vec> corners_of(const Solid& solid);

/// A level as it is written down. Surface ids of a level are indices into `solids`.
struct Level {
  std::string name;
  Vec start{0, 0};  ///< feet, u
  std::vector<Solid> solids;
  std::vector<Zone> zones{};  ///< the id of a zone is its index
};

/// A tick rate with which moving platforms stay where they are drawn.
inline constexpr double kNothingTravels = 0;

/// A level's solids under an index, so that finding some among many costs little more than among
/// few: small regions look into the cells of a grid, large ones walk a tree of bounds. Those that
/// travel stand in a tree of their own, by all the places they come to. Keeps its own copy of the
/// solids, shared between copies of the world. Surface ids are indices into the solids it was made
/// of.
class LevelWorld final : public World {
 public:
  /// Boxes must be valid (see `Box`); at most 2^31. `tick_rate` (Hz) is that of the rules in force
  /// there: moving platforms travel by it. With `kNothingTravels` they stay where they are drawn.
  LevelWorld(const Level& level, double tick_rate);
  explicit LevelWorld(const std::vector<Box>& solids);

  void find_solids(const Box& region, std::int64_t tick, Solids& solids) const noexcept override;
  [[nodiscard]] bool has_moving_platforms() const noexcept override {
    return moving_platforms_ != nullptr;
  }
  [[nodiscard]] double platform_tick_rate() const noexcept override;
  void find_moving_platforms(const Box& region, std::int64_t tick,
                             Solids& solids) const noexcept override;
  [[nodiscard]] Vec travel(SurfaceId surface, std::int64_t tick) const noexcept override;
  [[nodiscard]] const SurfaceTraits& surface(SurfaceId surface) const noexcept override;
  [[nodiscard]] const Condition* solid_when(SurfaceId surface) const noexcept override;
  void find_zones(const Box& region, std::int64_t tick, Solids& zones) const noexcept override;
  [[nodiscard]] const ZoneTraits& zone(ZoneId zone) const noexcept override;
  [[nodiscard]] bool zones_throughout(const Box& region, std::int64_t tick,
                                      ZoneSet& zones) const noexcept override;

 private:
  struct Index;
  struct MovingPlatforms;
  std::shared_ptr<const Index> index_;
  std::shared_ptr<const MovingPlatforms> moving_platforms_;   // none if nothing travels
  std::shared_ptr<const std::vector<SurfaceTraits>> traits_;  // none if all surfaces are plain
  std::shared_ptr<const std::vector<Condition>> conditions_;  // none if no surface has any
  std::shared_ptr<const Index> zones_;                        // none if there are none
  std::shared_ptr<const std::vector<ZoneTraits>> zone_traits_;
  std::shared_ptr<const detail::ZoneMap> zone_map_;
};

}  // namespace bushbaby
