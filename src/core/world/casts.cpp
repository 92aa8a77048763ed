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

bool stays(double speed, double acceleration) noexcept { return speed == 0 && acceleration == 0; }

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

namespace {

// The times at which a path changes the sign of a component of its speed, or its end.
struct Turns {
  double x;
  double y;
  double end;

  explicit Turns(const Path& path) noexcept
      : x(turns_at(path.velocity.x, path.acceleration.x, path.duration)),
        y(turns_at(path.velocity.y, path.acceleration.y, path.duration)),
        end(path.duration) {}

  // The first of them after `start`.
  [[nodiscard]] double next(double start) const noexcept {
    double first = end;
    if (x > start) first = smaller(first, x);
    if (y > start) first = smaller(first, y);
    return first;
  }

  // The part of a path from one of them on. A speed that has turned goes the other way from there
  // on, and what rounding left of it too.
  [[nodiscard]] Path part_from(const Path& path, double start, double until) const noexcept {
    Path part = part_of(path, start, until - start);
    if (start == x) part.velocity.x = 0;
    if (start == y) part.velocity.y = 0;
    return part;
  }
};

// Slower than this into a face, u/s, a body that ferries move goes along it, but for a rounding.
constexpr double kAlong = 1e-9;

bool goes_along(const Path& path, const Meeting& meeting) noexcept {
  return meeting.time == 0 && dot(path.velocity, meeting.normal) > -kAlong &&
         !(dot(path.acceleration, meeting.normal) < 0);
}

// The meeting with a part that travels, as it is seen from there: on the way the speeds may turn.
bool meet_on_its_way(const Path& path, const Nearby::Part& part, const Shape& body,
                     const Berth& berth, Meeting& meeting) noexcept {
  Path seen = path;
  seen.velocity = subtract(path.velocity, part.speed);
  if (seen.velocity == Vec{0, 0} && seen.acceleration == Vec{0, 0}) return false;
  const Turns turns(seen);
  for (double start = 0; start < seen.duration;) {
    const double end = turns.next(start);
    if (!(end > start)) break;
    const Path piece = turns.part_from(seen, start, end);
    if (meet(piece, part.shape, body, berth, meeting) && !goes_along(piece, meeting)) {
      meeting.time = smaller(start + meeting.time, path.duration);
      return true;
    }
    start = end;
  }
  return false;
}

// The first meeting in a region of a world where things travel.
FirstMeeting first_among_ferries(const Path& path, const Shape& body, const Berth& berth, Vec up,
                                 const Box& region, Nearby& nearby) noexcept {
  FirstMeeting first;
  nearby.visit(region, [&](const Nearby::Part& part) {
    Meeting meeting;
    if (part.travels()) {
      if (!meet_on_its_way(path, part, body, berth, meeting)) return;
    } else {
      if (!touch(region, part.shape.bounds)) return;
      if (!meet(path, part.shape, body, berth, meeting) || goes_along(path, meeting)) return;
    }
    if (!counts_before(meeting, part.surface, first, up)) return;
    static_cast<Meeting&>(first) = meeting;
    first.surface = part.surface;
    first.speed = part.speed;
  });
  return first;
}

// What a path comes by.
Box region_near(const Path& path, const Shape& body, const Berth& berth) noexcept {
  const Box way = region_of(path, body.box);
  // What it goes along it does not meet, unless it is nearer than what it may pass.
  const Vec margin{berth.rest - (stays(path.velocity.x, path.acceleration.x) ? berth.slack : 0),
                   berth.rest - (stays(path.velocity.y, path.acceleration.y) ? berth.slack : 0)};
  return {subtract(way.lo, margin), add(way.hi, margin)};
}

FirstMeeting first_in(const Box& region, const Path& path, const Shape& body, const Berth& berth,
                      Vec up, Nearby& nearby, double least_up) noexcept {
  FirstMeeting first;
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

// The same as `first_on_short` while time passes: what travels does so.
FirstMeeting first_in_time(const Path& path, const Shape& body, const Berth& berth, Vec up,
                           Nearby& nearby) noexcept {
  const Box region = region_near(path, body, berth);
  if (nearby.is_in_time()) {
    return first_among_ferries(path, body, berth, up, region, nearby);
  }
  constexpr double kAny = -2;
  return first_in(region, path, body, berth, up, nearby, kAny);
}

}  // namespace

FirstMeeting detail::first_on_short(const Path& path, const Shape& body, const Berth& berth, Vec up,
                                    Nearby& nearby, double least_up) noexcept {
  return first_in(region_near(path, body, berth), path, body, berth, up, nearby, least_up);
}

namespace {

// How far a path may go to be looked at in one part: of a long way, what stands around the whole of
// it would be far too much.
Vec farthest_at_once(const Box& body) noexcept {
  constexpr double kMostBodies = 16;
  return scale(subtract(body.hi, body.lo), kMostBodies);
}

// The farthest that each coordinate may get.
Vec most_way(const Path& path, Vec last) noexcept {
  return {larger(magnitude(path.velocity.x), magnitude(last.x)) * path.duration,
          larger(magnitude(path.velocity.y), magnitude(last.y)) * path.duration};
}

// How long a part of it lasts.
double longest_part(const Path& path, Vec way, Vec most) noexcept {
  constexpr double kMostParts = 4096;
  if (way.x <= most.x && way.y <= most.y) return path.duration;
  const double parts = smaller(larger(way.x / most.x, way.y / most.y), kMostParts);
  return path.duration / std::ceil(parts);
}

}  // namespace

FirstMeeting detail::first_meeting(const Path& path, const Shape& body, const Berth& berth, Vec up,
                                   Nearby& nearby) noexcept {
  // A body at rest meets nothing, wherever it is, but what comes to it.
  if (path.velocity == Vec{0, 0} && path.acceleration == Vec{0, 0}) {
    const Box here{add(path.from, body.box.lo), add(path.from, body.box.hi)};
    if (!nearby.has_ferries_in(grown(here, berth.rest))) return {};
  }
  const Vec last = velocity_at(path, path.duration);
  const Vec way = most_way(path, last);
  const Vec most = farthest_at_once(body.box);
  const bool turns = path.velocity.x * last.x < 0 || path.velocity.y * last.y < 0;
  if (!turns && way.x <= most.x && way.y <= most.y) {
    return first_in_time(path, body, berth, up, nearby);
  }
  const double longest = longest_part(path, way, most);
  const Turns turning(path);
  const double passed = nearby.passed();
  double start = 0;
  FirstMeeting first;
  while (start < path.duration) {
    const double end = smaller(start + longest, turning.next(start));
    if (!(end > start)) break;
    const Path part = turning.part_from(path, start, end);
    nearby.pass_to(passed + start);
    first = first_in_time(part, body, berth, up, nearby);
    if (first.met()) {
      first.time = smaller(start + first.time, path.duration);
      break;
    }
    start = end;
  }
  nearby.pass_to(passed);
  return first;
}

namespace {

// What of one surface is near a body: how high it reaches there, and whether the body is in it.
class OneSurface final : public Solids {
 public:
  OneSurface(SurfaceId surface, const Frame& frame, const Shape& shape, Vec feet,
             double top) noexcept
      : top_(top), surface_(surface), frame_(frame), shape_(shape), feet_(feet) {}

  void take(const Convex& part, SurfaceId surface) noexcept override {
    if (surface != surface_ || part.count > kMostCorners) return;
    if (frame_.turned) {
      look_at(PartInFrame(part, frame_).shape());
    } else {
      look_at(part);
    }
  }

  [[nodiscard]] double top() const noexcept { return top_; }
  [[nodiscard]] bool holds_body() const noexcept { return holds_body_; }

 private:
  void look_at(const Convex& part) noexcept {
    top_ = larger(top_, part.bounds.hi.y);
    Convex bare = part;  // from whatever side it came, a body that is in it is
    bare.side = {0, 0};
    holds_body_ = holds_body_ || lie_of(feet_, bare, shape_, 0).gap < 0;
  }

  double top_;
  bool holds_body_ = false;
  SurfaceId surface_;
  const Frame& frame_;
  const Shape& shape_;
  Vec feet_;
};

}  // namespace

Solidity detail::solidity_of(const World& world, SurfaceId surface, std::int64_t tick,
                             const Frame& frame, const Shape& shape, const BodyState& body,
                             double top) noexcept {
  const Condition* condition = world.solid_when(surface);
  if (condition == nullptr) return {};
  OneSurface near(surface, frame, shape, body.feet, top);
  const Box here{add(body.feet, shape.box.lo), add(body.feet, shape.box.hi)};
  world.find_solids(frame.turned ? frame.bounds_out_of(here) : here, tick, near);
  Solidity solidity;
  solidity.decision = decide(*condition, body, body.feet.y - near.top());
  solidity.inside = near.holds_body();
  solidity.solid = solidity.decision.holds && !solidity.inside;
  return solidity;
}

bool Nearby::is_solid_now(const Convex& part, SurfaceId surface) const noexcept {
  return solidity_of(world_, surface, tick_, frame_, *asker_.shape, asker_.state(asker_.from),
                     part.bounds.hi.y)
      .solid;
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
  const Frame frame = Frame::of(sweep.up, sweep.from);
  Nearby nearby(world, sweep.tick, frame);
  if (!frame.turned) return detail::cast(nearby, sweep);
  const Sweep seen{
      sweep.shape, frame.place_into(sweep.from), frame.tidy_into(sweep.move), {0, 1}, sweep.tick};
  Contact contact = detail::cast(nearby, seen);
  contact.normal = frame.out_of(contact.normal);
  return contact;
}

Contact detail::cast(Nearby& nearby, const Sweep& sweep) noexcept {
  const Path path{sweep.from, sweep.move, {0, 0}, 1};
  const FirstMeeting first = first_meeting(path, sweep.shape, {}, sweep.up, nearby);
  if (!first.met()) return {};
  return {first.time, first.normal, larger(-first.gap, 0), first.surface};
}

Overlap overlap(const World& world, const Shape& shape, Vec feet, std::int64_t tick,
                Vec up) noexcept {
  const Frame frame = Frame::of(up, feet);
  Nearby nearby(world, tick, frame);
  const NearestLie nearest =
      nearest_lie(frame.turned ? frame.place_into(feet) : feet, shape, 0, 0, nearby);
  if (nearest.surface == kNoSurface || !(nearest.gap < 0)) return {};
  return {-nearest.gap, frame.turned ? frame.out_of(nearest.normal) : nearest.normal,
          nearest.surface};
}

void Solids::take_polygon(const Vec* corners, std::uint32_t count, SurfaceId surface,
                          Blocks blocks) noexcept {
  take({bounds_of(corners, count), corners, count, false, side_of(blocks)}, surface);
}

}  // namespace bushbaby
