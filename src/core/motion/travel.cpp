#include "travel.h"

#include <cmath>

#include "core/shape/arithmetic.h"

namespace bushbaby::detail {
namespace {

constexpr double kNotReached = -1;

// The time at which a gap that starts at `gap`, changes at `speed` and is accelerated by
// `acceleration` has shrunk to `rest`; kNotReached if it does not shrink to it.
double time_until(double rest, double gap, double speed, double acceleration) noexcept {
  const bool closing = speed < 0 || (speed == 0 && acceleration < 0);
  const double excess = gap - rest;
  if (excess <= 0) return closing ? 0 : kNotReached;
  if (speed < 0) {
    const double discriminant = speed * speed - 2 * acceleration * excess;
    if (discriminant < 0) return kNotReached;
    return 2 * excess / (std::sqrt(discriminant) - speed);
  }
  if (acceleration >= 0) return kNotReached;
  return (speed + std::sqrt(speed * speed - 2 * acceleration * excess)) / -acceleration;
}

// The straight move from `from` to `to`, made longer by `ahead`; zero if the two are the same.
Vec move_ahead(Vec from, Vec to, double ahead) noexcept {
  const Vec move = subtract(to, from);
  const double length = std::sqrt(dot(move, move));
  return length > 0 ? scale(move, 1 + ahead / length) : move;
}

// How many chords follow a curve of that depth (the farthest it leaves its single chord) closely
// enough. The depth falls with the square of their number.
int chords_for(double depth, double allowed) noexcept {
  constexpr double kMostChords = 1024;
  return static_cast<int>(smaller(std::ceil(std::sqrt(depth / allowed)), kMostChords));
}

}  // namespace

Vec place_at(const Path& path, double time) noexcept {
  return add(path.from, add(scale(path.velocity, time), scale(path.acceleration, time * time / 2)));
}

Vec velocity_at(const Path& path, double time) noexcept {
  return add(path.velocity, scale(path.acceleration, time));
}

Meeting first_meeting(const Path& path, const Rules& rules, const World& world,
                      std::int64_t tick) noexcept {
  // A body at rest meets nothing, wherever it is.
  if (path.velocity == Vec{0, 0} && path.acceleration == Vec{0, 0}) return {};
  const Margins margins = margins_of(rules);
  const double bend = std::sqrt(dot(path.acceleration, path.acceleration));
  const double depth = bend * path.duration * path.duration / 8;
  int chords = 1;
  if (depth > margins.curve) {
    // One wide cast tells whether anything is near enough for the curve to matter.
    const Box wide = grown(rules.body, margins.rest + depth);
    const Vec move = move_ahead(path.from, place_at(path, path.duration), margins.ahead);
    if (!world.cast({wide, path.from, move, kUp, tick}).met()) return {};
    chords = chords_for(depth, margins.curve);
  }
  const Box shape = grown(rules.body, margins.guard);
  const double step = path.duration / chords;
  Vec from = path.from;
  for (int i = 0; i < chords; ++i) {
    const double start = i * step;
    const Vec to = place_at(path, i + 1 < chords ? (i + 1) * step : path.duration);
    const Vec move = move_ahead(from, to, margins.ahead);
    const Contact contact = world.cast({shape, from, move, kUp, tick});
    if (contact.met()) {
      const double gap =
          margins.guard - contact.depth - contact.fraction * dot(move, contact.normal);
      const double time =
          time_until(margins.rest, gap, dot(velocity_at(path, start), contact.normal),
                     dot(path.acceleration, contact.normal));
      if (time != kNotReached && time <= step) {
        return {smaller(start + time, path.duration), contact};
      }
    }
    from = to;
  }
  return {};
}

Probe probe(Vec feet, Vec direction, const Rules& rules, const World& world,
            std::int64_t tick) noexcept {
  const Margins margins = margins_of(rules);
  const Vec move = scale(direction, margins.probe - margins.guard);
  Probe result;
  result.contact = world.cast({grown(rules.body, margins.guard), feet, move, kUp, tick});
  if (result.contact.met()) {
    result.gap = margins.guard - result.contact.depth -
                 result.contact.fraction * dot(move, result.contact.normal);
  }
  return result;
}

}  // namespace bushbaby::detail
