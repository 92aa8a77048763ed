// The first solid of many that a path meets, and how a body lies among them.
#pragma once

#include "core/shape/meeting.h"
#include "nearby.h"

namespace bushbaby::detail {

struct FirstMeeting : Meeting {
  SurfaceId surface = kNoSurface;
  Vec speed{0, 0};  // u/s, of a surface that travels
};

// The first solid that a body meets on its path: of those met at once, the one whose face is most
// along `up`, then the one with the lower id.
FirstMeeting first_meeting(const Path& path, const Shape& body, const Berth& berth, Vec up,
                           Nearby& nearby) noexcept;

// The same for a short path whose components keep their signs, among faces that are at least so
// much along `up`. It is that of a look: what travels stays where it has come to.
FirstMeeting first_on_short(const Path& path, const Shape& body, const Berth& berth, Vec up,
                            Nearby& nearby, double least_up = -2) noexcept;

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

// `cast` with what is near known, in the frame in which that is told.
Contact cast(Nearby& nearby, const Sweep& sweep) noexcept;

// Everything that a body passes on a path whose components keep their signs.
inline Box region_of(const Path& path, const Box& body) noexcept {
  const Vec to = place_at(path, path.duration);
  return {add({smaller(path.from.x, to.x), smaller(path.from.y, to.y)}, body.lo),
          add({larger(path.from.x, to.x), larger(path.from.y, to.y)}, body.hi)};
}

}  // namespace bushbaby::detail
