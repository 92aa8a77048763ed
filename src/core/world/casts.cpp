#include "casts.h"

#include <cmath>
#include <limits>

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

namespace {

// When a speed becomes 0 on the way, or the end of the way.
double turns_at(double speed, double acceleration, double duration) noexcept {
  if (!((speed > 0 && acceleration < 0) || (speed < 0 && acceleration > 0))) return duration;
  return smaller(-speed / acceleration, duration);
}

// Whether a meeting counts before the first of those found so far.
bool counts_before(const Meeting& a, SurfaceId surface, const FirstMeeting& b, Vec up) noexcept {
  if (!b.met()) return true;
  if (a.time != b.time) return a.time < b.time;
  const double a_up = dot(a.normal, up);
  const double b_up = dot(b.normal, up);
  if (a_up != b_up) return a_up > b_up;
  return surface < b.surface;
}

}  // namespace

FirstMeeting detail::first_on_short(const Path& path, const Shape& body, const Berth& berth, Vec up,
                                    Nearby& nearby, double least_up) noexcept {
  FirstMeeting first;
  const Box region = grown(region_of(path, body.box), berth.rest);
  nearby.visit(region, [&](const Nearby::Part& part) {
    if (!touch(region, part.shape.bounds)) return;
    Meeting meeting;
    if (!meet(path, part.shape, body, berth, meeting)) return;
    if (dot(meeting.normal, up) < least_up) return;
    if (!counts_before(meeting, part.surface, first, up)) return;
    static_cast<Meeting&>(first) = meeting;
    first.surface = part.surface;
  });
  return first;
}

namespace {

// How long a path may be looked at in one part: of a long way, what stands around the whole of it
// would be far too much.
double longest_part(const Path& path, const Box& body) noexcept {
  constexpr double kMostBodies = 16;
  constexpr double kMostParts = 4096;
  const Vec most = scale(subtract(body.hi, body.lo), kMostBodies);
  const Vec last = velocity_at(path, path.duration);
  const double x = larger(magnitude(path.velocity.x), magnitude(last.x)) * path.duration;
  const double y = larger(magnitude(path.velocity.y), magnitude(last.y)) * path.duration;
  if (x <= most.x && y <= most.y) return path.duration;
  const double parts = smaller(larger(x / most.x, y / most.y), kMostParts);
  return path.duration / std::ceil(parts);
}

}  // namespace

FirstMeeting detail::first_meeting(const Path& path, const Shape& body, const Berth& berth, Vec up,
                                   Nearby& nearby) noexcept {
  // A body at rest meets nothing, wherever it is.
  if (path.velocity == Vec{0, 0} && path.acceleration == Vec{0, 0}) return {};
  const double longest = longest_part(path, body.box);
  const double turn_x = turns_at(path.velocity.x, path.acceleration.x, path.duration);
  const double turn_y = turns_at(path.velocity.y, path.acceleration.y, path.duration);
  if (longest == path.duration && turn_x == path.duration && turn_y == path.duration) {
    return first_on_short(path, body, berth, up, nearby);
  }
  double start = 0;
  while (start < path.duration) {
    double end = smaller(start + longest, path.duration);
    for (const double turn : {turn_x, turn_y}) {
      if (turn > start) end = smaller(end, turn);
    }
    if (!(end > start)) break;
    Path part = part_of(path, start, end - start);
    // A speed that has turned goes the other way from there on, and what rounding left of it too.
    if (start == turn_x) part.velocity.x = 0;
    if (start == turn_y) part.velocity.y = 0;
    FirstMeeting first = first_on_short(part, body, berth, up, nearby);
    if (first.met()) {
      first.time = smaller(start + first.time, path.duration);
      return first;
    }
    start = end;
  }
  return {};
}

NearestLie detail::nearest_lie(Vec feet, const Shape& body, double rest, double reach,
                               Nearby& nearby) noexcept {
  NearestLie nearest;
  nearest.gap = std::numeric_limits<double>::infinity();
  const Box here{add(feet, body.box.lo), add(feet, body.box.hi)};
  const Box region = grown(here, reach);
  nearby.visit(region, [&](const Nearby::Part& part) {
    if (!touch(region, part.shape.bounds)) return;
    const Lie lie = lie_of(feet, part.shape, body, rest);
    if (lie.gap > nearest.gap || (lie.gap == nearest.gap && part.surface >= nearest.surface)) {
      return;
    }
    static_cast<Lie&>(nearest) = lie;
    nearest.surface = part.surface;
  });
  return nearest;
}

Contact cast(const World& world, const Sweep& sweep) noexcept {
  Nearby nearby(world, sweep.tick);
  return detail::cast(nearby, sweep);
}

Contact detail::cast(Nearby& nearby, const Sweep& sweep) noexcept {
  const Path path{sweep.from, sweep.move, {0, 0}, 1};
  const FirstMeeting first = first_meeting(path, sweep.shape, {}, sweep.up, nearby);
  if (!first.met()) return {};
  return {first.time, first.normal, larger(-first.gap, 0), first.surface};
}

Overlap overlap(const World& world, const Shape& shape, Vec feet, std::int64_t tick) noexcept {
  Nearby nearby(world, tick);
  const NearestLie nearest = nearest_lie(feet, shape, 0, 0, nearby);
  if (nearest.surface == kNoSurface || !(nearest.gap < 0)) return {};
  return {-nearest.gap, nearest.normal, nearest.surface};
}

void Solids::take_polygon(const Vec* corners, std::uint32_t count, SurfaceId surface,
                          Blocks blocks) noexcept {
  take({bounds_of(corners, count), corners, count, blocks}, surface);
}

}  // namespace bushbaby
