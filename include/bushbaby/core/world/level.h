// A level: a piece of level made of solids, and the world that answers casts against it.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/world.h>

namespace bushbaby {

struct Solid {
  std::string name;  ///< may be empty
  Box box;           ///< u
  SurfaceTraits traits{};
};

/// A level as it is written down. Surface ids of a level are indices into `solids`.
struct Level {
  std::string name;
  Vec start{0, 0};  ///< feet, u
  std::vector<Solid> solids;
};

/// The contact of a swept shape with one solid box: a ray cast against their Minkowski difference.
/// `surface` becomes the contact's surface. Offered for worlds that keep boxes of their own.
[[nodiscard]] Contact cast_against(const Sweep& sweep, const Box& solid,
                                   SurfaceId surface) noexcept;

/// Whether contact `a` of a sweep counts before `b`: met earlier; of ties, facing most along up;
/// then the lower surface id.
[[nodiscard]] bool comes_before(const Contact& a, const Contact& b, Vec up) noexcept;

/// A shape's overlap with one solid box; of equal ways out, the one along +y, then -y.
[[nodiscard]] Overlap overlap_with(const Box& shape, Vec feet, const Box& solid,
                                   SurfaceId surface) noexcept;

/// A level's solids under an index, so that a cast among many costs little more than among few:
/// short casts look into the cells of a grid, long ones walk a tree of bounds. Both find exactly
/// what looking at every box would. Keeps its own copy of the boxes, shared between copies of the
/// world. Surface ids are indices into the solids it was made of.
class LevelWorld final : public World {
 public:
  /// Boxes must be valid (see `Box`); at most 2^31.
  explicit LevelWorld(const Level& level);
  explicit LevelWorld(const std::vector<Box>& solids);

  [[nodiscard]] Contact cast(const Sweep& sweep) const noexcept override;
  [[nodiscard]] Overlap overlap(const Box& shape, Vec feet,
                                std::int64_t tick) const noexcept override;
  [[nodiscard]] const SurfaceTraits& surface(SurfaceId surface) const noexcept override;

 private:
  struct Index;
  std::shared_ptr<const Index> index_;
  std::shared_ptr<const std::vector<SurfaceTraits>> traits_;  // none if all surfaces are plain
};

}  // namespace bushbaby
