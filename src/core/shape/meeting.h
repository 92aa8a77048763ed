// When a body on its path meets a convex solid, and where it comes to lie at it.
//
// The feet of a body that reaches into a solid lie in a convex region, the Minkowski sum of the
// solid and the reflected body; the region is known by its faces. A body at a distance from the
// solid has its feet outside the region of faces moved out by that distance. See docs/model.md,
// "Contact".
#pragma once

#include "bushbaby/core/shape/shapes.h"

#include "path.h"

namespace bushbaby::detail {

// What else lies at the corners of a solid. Where solids adjoin, a corner of one may be in the
// midst of an edge of all of them together, or stand out less than by itself.
class Neighbours {
 public:
  // Of the normals with which a round body may touch a corner, the one nearest to `normal` with
  // which it touches none of the solids that reach as near to the corner as `reach`. `radius` is
  // how far from the corner the body is then. False if there is no such corner of all together.
  virtual bool see_at(Vec corner, double reach, double radius, Vec& normal) const noexcept = 0;

 protected:
  Neighbours() = default;
  Neighbours(const Neighbours&) = default;
  Neighbours& operator=(const Neighbours&) = default;
  ~Neighbours() = default;
};

// The distance at which a body comes to lie at a solid, along the normal of a face; by how much
// less it passes the solid without meeting it; and how high a step it is lifted over. All in u.
struct Berth {
  double rest = 0;
  double slack = 0;
  double step = 0;
  const Neighbours* neighbours = nullptr;  // none: the solid stands alone
  // Of a corner that a neighbour covers, the normal is that with which the body touches both,
  // however far it is from that of the corner alone: down if there is none.
  bool of_all_together = false;
};

// Where a path first meets a solid: it comes to the distance of rest while it goes into it. Its
// values are written where they are used: a copy would wait for them.
struct Meeting {
  double time;  // s from the start of the path
  Vec normal;   // of the face that is met, out of the solid
  double gap;   // u along the normal at the start of the path, beyond rest; negative: within
  // How far it would have to go, and which way, to pass the solid at rest distance from another
  // face, well turned against this one: the shortest such way. Known if the berth has steps.
  Vec aside;
  double aside_by;  // u
};

// Whether it meets it; `meeting` is written to only then, but for what only steps want if there are
// none. Neither component of the velocity may change its sign on the way.
bool meet(const Passage& passage, const Convex& solid, const Shape& body, const Berth& berth,
          Meeting& meeting) noexcept;

// How a body lies to a solid: the face nearest to it.
struct Lie {
  // u along the normal, beyond `rest`; negative: within it, or in the solid; infinite for a solid
  // that lets the body through where it is.
  double gap = 0;
  Vec normal{0, 0};  // of ties, the one that faces up most
};

// `neighbours`, if there are any, are what adjoins the solid.
Lie lie_of(Vec feet, const Convex& solid, const Shape& body, double rest,
           const Neighbours* neighbours = nullptr) noexcept;

// How far a body is from a solid along a normal, beyond `rest`.
double gap_along(Vec normal, Vec feet, const Convex& solid, const Shape& body,
                 double rest) noexcept;

// When a path that starts in the region of places nearer to a solid than `rest` leaves it; infinite
// if it does not.
double leaves_at(const Path& path, const Convex& solid, const Shape& body, double rest,
                 const Neighbours* neighbours = nullptr) noexcept;

// A vector without its part into a face: the result never points into it, not by a rounding.
Vec slide_along(Vec vector, Vec normal) noexcept;

}  // namespace bushbaby::detail
