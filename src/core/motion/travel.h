// Following a path until it meets a surface, and looking for surfaces close by.
#pragma once

#include "bushbaby/core/motion/character.h"
#include "bushbaby/core/motion/rules.h"
#include "bushbaby/core/world/world.h"

#include "core/world/casts.h"

namespace bushbaby::detail {

// Up, as long as nothing turns it.
inline constexpr Vec kUp{0, 1};

// The distances that keep a body flush, all in u and all shares of the flush gap:
//   a body comes to rest at `rest` from a surface, half the gap;
//   what it passes by at no less than `slack` below that, `pass`, it does not meet;
//   what leaves less than `guard` is no room for a body;
//   the ground check and the wall check reach as far as `probe`;
//   a step of at most `step` stops nothing.
struct Margins {
  double rest;
  double slack;
  double pass;
  double guard;
  double probe;
  double step;
};

inline Margins margins_of(const Rules& rules) noexcept {
  const double gap = rules.flush_gap;
  return {gap / 2, gap / 8, gap / 2 - gap / 8, gap / 4, gap * 2, gap};
}

// The platforms that let a body through which dropped from there.
inline Nearby::Drop dropped_from(Vec feet, const Rules& rules) noexcept {
  const Margins margins = margins_of(rules);
  return {feet, rules.body, margins.rest, margins.probe - margins.rest};
}

// Finds where a path first comes to rest distance from a surface while moving into it; `first`
// comes in fresh.
void find_first(const Passage& path, const Rules& rules, Nearby& nearby,
                FirstMeeting& first) noexcept;

// Finds the surface that the body would touch if it went `direction` (a unit vector) by at most the
// probe distance: its gap is its distance from the body along the normal, its time how far the body
// would go.
void probe(Vec feet, Vec direction, const Rules& rules, Nearby& nearby,
           FirstMeeting& touched) noexcept;

// Finds what lies under a body within the probe's reach, and `farther` (u): a surface that gives
// ground, if there is one, be it that the corner where it begins belongs to a steeper one as well.
void look_underfoot(Vec feet, const Rules& rules, Nearby& nearby, GroundCheck& ground,
                    double farther = 0) noexcept;

}  // namespace bushbaby::detail
