// Following a path of constant acceleration until it meets a surface.
#pragma once

#include "bushbaby/core/motion/rules.h"
#include "bushbaby/core/world/world.h"

namespace bushbaby::detail {

// Up, as long as nothing turns it.
inline constexpr Vec kUp{0, 1};

// The distances that keep a body flush, all in u and all shares of the flush gap:
//   a body comes to rest at `rest` from a surface, half the gap;
//   the shape that is cast is grown by `guard`, so that rounding never brings the body closer;
//   a curve is cast as chords that leave it by at most `curve`, less than the guard;
//   each cast looks `ahead`, so that the moment at which `rest` is reached is found even when the
//   guard is not reached in the same stretch;
//   the ground check and the wall check reach as far as `probe`.
struct Margins {
  double rest;
  double guard;
  double curve;
  double ahead;
  double probe;
};

inline Margins margins_of(const Rules& rules) noexcept {
  const double gap = rules.flush_gap;
  return {gap / 2, gap / 4, gap / 8, gap * 8, gap * 2};
}

// The feet's path: from + velocity·t + acceleration·t²/2 for 0 ≤ t ≤ duration. Neither component
// of the velocity changes its sign on the way.
struct Path {
  Vec from{0, 0};
  Vec velocity{0, 0};
  Vec acceleration{0, 0};
  double duration = 0;
};

Vec place_at(const Path& path, double time) noexcept;
Vec velocity_at(const Path& path, double time) noexcept;

// Where a path first comes to rest distance from a surface while moving into it.
struct Meeting {
  double time = 0;  // s from the start of the path
  Contact contact;

  [[nodiscard]] bool met() const noexcept { return contact.met(); }
};

Meeting first_meeting(const Path& path, const Rules& rules, const World& world,
                      std::int64_t tick) noexcept;

// The surface that the body would touch if it went `direction` (a unit vector) by at most the
// probe distance; `gap` is its distance from the body along the normal.
struct Probe {
  Contact contact;
  double gap = 0;
};

Probe probe(Vec feet, Vec direction, const Rules& rules, const World& world,
            std::int64_t tick) noexcept;

}  // namespace bushbaby::detail
