// What the motion step needs of a level: two questions about a box among solids, and what a surface
// is like.
//
// `LevelWorld` (bushbaby/core/world/level.h) answers them for a level. A game that has its own
// collision implements `World` instead and gives it to `advance`; docs/embedding.md says how.
#pragma once

#include <cstdint>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/surface.h>

namespace bushbaby {

/// A body on its way: the box `shape`, given relative to the feet, moves from `from` by `move`.
struct Sweep {
  Box shape;       ///< u, relative to the feet
  Vec from{0, 0};  ///< u, the feet at the start
  Vec move{0, 0};  ///< u, may be of any length, and zero
  Vec up{0, 1};    ///< unit vector; of contacts that tie, the one facing most along up counts
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

/// How deep a box lies in the solids around it.
struct Overlap {
  double depth = 0;                ///< u along `normal` to get out; 0: the box is free
  Vec normal{0, 0};                ///< unit vector of the shortest way out
  SurfaceId surface = kNoSurface;  ///< the solid in which it lies deepest
};

/// A level as the motion step sees it. Solids are open sets: a box that touches a solid, or slides
/// along it, is not in it. Implementations must be pure: the same question gets the same answer.
class World {
 public:
  virtual ~World() = default;

  /// The first solid into which the sweep would carry the shape.
  ///
  /// A solid that holds part of the shape at the start counts as met at fraction 0 if the move has
  /// a part against the normal of the shortest way out, with that normal and depth, and otherwise
  /// not at all: a shape may always leave a solid, or slide along it.
  [[nodiscard]] virtual Contact cast(const Sweep& sweep) const noexcept = 0;

  /// How deep the shape lies in solids, its feet at `feet`.
  [[nodiscard]] virtual Overlap overlap(const Box& shape, Vec feet,
                                        std::int64_t tick) const noexcept = 0;

  /// What a surface is like; plain ground unless a world says otherwise. The reference must stay
  /// good for as long as the world lives.
  [[nodiscard]] virtual const SurfaceTraits& surface(SurfaceId surface) const noexcept;

 protected:
  World() = default;
  World(const World&) = default;
  World& operator=(const World&) = default;
};

}  // namespace bushbaby
