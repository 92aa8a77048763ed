// The way of a body's feet at a constant acceleration.
#pragma once

#include "arithmetic.h"

namespace bushbaby::detail {

// The feet's path: from + velocity·t + acceleration·t²/2 for 0 ≤ t ≤ duration.
struct Path {
  Vec from{0, 0};          // u
  Vec velocity{0, 0};      // u/s
  Vec acceleration{0, 0};  // u/s²
  double duration = 0;     // s
};

inline Vec place_at(const Path& path, double time) noexcept {
  return add(path.from, add(scale(path.velocity, time), scale(path.acceleration, time * time / 2)));
}

inline Vec velocity_at(const Path& path, double time) noexcept {
  return add(path.velocity, scale(path.acceleration, time));
}

// A path, and where it ends.
struct Passage : Path {
  Vec to;  // u

  Passage(Vec feet, Vec speed, Vec change, double lasts) noexcept
      : Path{feet, speed, change, lasts}, to(place_at(*this, lasts)) {}
  explicit Passage(const Path& path) noexcept : Path(path), to(place_at(path, path.duration)) {}
};

// The part of a path from `start` on, for `duration`.
inline Path part_of(const Path& path, double start, double duration) noexcept {
  return {place_at(path, start), velocity_at(path, start), path.acceleration, duration};
}

// Whether something with that speed and acceleration along a normal comes nearer at once.
inline bool closes(double speed, double acceleration) noexcept {
  return speed < 0 || (speed == 0 && acceleration < 0);
}

}  // namespace bushbaby::detail
