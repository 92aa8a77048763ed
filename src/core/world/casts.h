// The first solid of many that a path meets, and how a body lies among them.
#pragma once

#include "core/shape/meeting.h"
#include "nearby.h"

namespace bushbaby::detail {

struct FirstMeeting : Meeting {
  SurfaceId surface = kNoSurface;  // nothing else is known unless there is one
  Vec speed;                       // u/s, of a surface that travels

  [[nodiscard]] bool met() const noexcept { return surface != kNoSurface; }
};

// Finds the first solid that a body meets on its path, which may turn: of those met at once, the
// one that faces up most, then the slower one if things travel, then the one with the
// lower id. `first` comes in fresh.
void find_first(const Passage& path, const Shape& body, const Berth& berth, Nearby& nearby,
                FirstMeeting& first) noexcept;

// Faces up less than any face.
inline constexpr double kFacingAnyWay = -2;

// The same of a look: a short passage that does not turn, to a distance `rest` from solids, among
// faces that face up at least so much. What travels stays where it has come to.
void find_first_in_sight(const Passage& passage, const Shape& body, double rest, Nearby& nearby,
                         FirstMeeting& first, double least_up = kFacingAnyWay) noexcept;

// The solid nearest to a body among those within `reach` of it; its gap is beyond `rest`.
struct NearestLie : Lie {
  SurfaceId surface = kNoSurface;
};
NearestLie nearest_lie(Vec feet, const Shape& body, double rest, double reach,
                       Nearby& nearby) noexcept;

// Whether a surface that is solid at times is so for a body, and what decided; `top` is a height up
// to which it is known to reach.
Solidity solidity_of(const World& world, SurfaceId surface, std::int64_t tick, const Frame& frame,
                     const Shape& shape, const BodyState& body, double top) noexcept;

// `cast` with what is near known, in the frame in which that is reported.
Contact cast(Nearby& nearby, const Sweep& sweep) noexcept;

// Everything that a body passes on a passage that does not turn.
inline Box region_of(const Passage& passage, const Box& body) noexcept {
  const Vec from = passage.from;
  const Vec to = passage.to;
  return {add({smaller(from.x, to.x), smaller(from.y, to.y)}, body.lo),
          add({larger(from.x, to.x), larger(from.y, to.y)}, body.hi)};
}

}  // namespace bushbaby::detail
