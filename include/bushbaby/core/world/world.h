// What the motion step needs of a level: the solids near a place, and what a surface is like.
//
// `LevelWorld` (bushbaby/core/world/level.h) answers for a level. A game that has its own
// solids implements `World` instead and gives it to `advance`; docs/embedding.md says how.
#pragma once

#include <cstdint>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/condition.h>
#include <bushbaby/core/world/surface.h>
#include <bushbaby/core/world/zone.h>

namespace bushbaby {

/// A body on its way: `shape` moves from `from` by `move`.
struct Sweep {
  Shape shape;
  Vec from{0, 0};  ///< u, the feet at the start
  Vec move{0, 0};  ///< u, may be of any length, and zero
  Vec up{0, 1};    ///< unit vector along which the shape stands; of ties, the contact most along it
  std::int64_t tick = 0;  ///< when, for solids that travel
};

/// The first surface that a sweep meets.
struct Contact {
  double fraction = 1;             ///< share of the move at which the shape touches, 0 … 1
  Vec normal{0, 0};                ///< unit vector out of the solid
  double depth = 0;                ///< u: how deep the shape was in the solid at the start
  SurfaceId surface = kNoSurface;  ///< kNoSurface: nothing met

  [[nodiscard]] bool met() const noexcept { return surface != kNoSurface; }
};

/// How deep a body lies in the solids around it.
struct Overlap {
  double depth = 0;                ///< u along `normal` to get out; 0: the body is free
  Vec normal{0, 0};                ///< unit vector of the shortest way out
  SurfaceId surface = kNoSurface;  ///< the solid in which it lies deepest
};

/// Takes the solids that a world hands over. What it is given is copied, and may be gone when the
/// call returns.
class Solids {
 public:
  virtual void take(const Convex& part, SurfaceId surface) noexcept = 0;

  /// A box of a solid that blocks everything; valid as `Box` is.
  virtual void take_box(const Box& box, SurfaceId surface) noexcept;

  /// A box that blocks what comes from one side.
  void take_box(const Box& box, SurfaceId surface, Blocks blocks) noexcept {
    take({box, nullptr, 0, false, side_of(blocks)}, surface);
  }

  /// A convex polygon of 3 to `kMostCorners` corners, counter-clockwise, or a thin segment of 2.
  void take_polygon(const Vec* corners, std::uint32_t count, SurfaceId surface,
                    Blocks blocks = Blocks::everything) noexcept;

 protected:
  Solids() = default;
  Solids(const Solids&) = default;
  Solids& operator=(const Solids&) = default;
  ~Solids() = default;
};

/// A level as the motion step sees it. Solids are open sets: a body that touches a solid, or slides
/// along it, is not in it. Implementations must be pure: the same question gets the same answer.
class World {
 public:
  virtual ~World() = default;

  /// Hands over every solid that reaches into `region` at `tick`, in convex parts, in any order.
  /// It may hand over others as well, or the same one twice: that costs time and changes nothing.
  virtual void find_solids(const Box& region, std::int64_t tick, Solids& solids) const noexcept = 0;

  /// Whether anything ever travels; no, unless a world says so. If so, it answers the two questions
  /// that follow.
  [[nodiscard]] virtual bool has_moving_platforms() const noexcept;

  /// Hz: the tick rate by which they travel, which must be that of the rules of whoever moves
  /// there; 0, as it is unless a world says otherwise, if any will do.
  [[nodiscard]] virtual double platform_tick_rate() const noexcept;

  /// Hands over every solid that travels and, on its way from where it is at `tick` to where it is
  /// at the next, straight there, comes into `region`: where it is at `tick`. It may hand over
  /// others as well.
  virtual void find_moving_platforms(const Box& region, std::int64_t tick,
                                     Solids& solids) const noexcept;

  /// How far a surface travels from `tick` to the next, u; nowhere, if it does not.
  /// `find_solids` hands it over farther by that at the next tick.
  [[nodiscard]] virtual Vec travel(SurfaceId surface, std::int64_t tick) const noexcept;

  /// What a surface is like; plain ground unless a world says otherwise. The reference must stay
  /// good for as long as the world lives.
  [[nodiscard]] virtual const SurfaceTraits& surface(SurfaceId surface) const noexcept;

  /// When a surface is solid whose parts are handed over as conditional; always, if there is
  /// nothing of it. The condition must stay good for as long as the world lives.
  [[nodiscard]] virtual const Condition* solid_when(SurfaceId surface) const noexcept;

  /// Hands over every zone that reaches into `region` at `tick`, in convex parts, with its ZoneId
  /// instead of a surface's; none unless a world says otherwise.
  virtual void find_zones(const Box& region, std::int64_t tick, Solids& zones) const noexcept;

  /// What a zone is like. The reference must stay good for as long as the world lives.
  [[nodiscard]] virtual const ZoneTraits& zone(ZoneId zone) const noexcept;

  /// Whether all of `region` is well within the same zones at `tick`: each zone has all of it, or
  /// is farther from it than its release margin. If so, `zones` become those that have it (the
  /// eight lowest ids, if they are more). A world may always say no, as it does unless it is
  /// reported otherwise: then `find_zones` is asked, to the same effect.
  [[nodiscard]] virtual bool zones_throughout(const Box& region, std::int64_t tick,
                                              ZoneSet& zones) const noexcept;

 protected:
  World() = default;
  World(const World&) = default;
  World& operator=(const World&) = default;
};

/// The first solid into which a sweep carries its shape; of those met at once, the one facing most
/// vertically, then the one with the lower id.
///
/// A solid that holds part of the shape at the start counts as met at fraction 0 if the move has
/// a part against the normal of the shortest way out, with that normal and depth, and otherwise
/// not at all: a shape may always leave a solid, or slide along it.
[[nodiscard]] Contact cast(const World& world, const Sweep& sweep) noexcept;

/// How deep a shape with its feet there, standing along `up` (a unit vector), lies in the solids
/// around it.
[[nodiscard]] Overlap overlap(const World& world, const Shape& shape, Vec feet, std::int64_t tick,
                              Vec up = {0, 1}) noexcept;

}  // namespace bushbaby
