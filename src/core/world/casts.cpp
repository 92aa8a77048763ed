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

// Whether a meeting with a part counts before the first of those found so far.
bool counts_before(const Meeting& a, const Nearby::Part& part, const FirstMeeting& b) noexcept {
  constexpr double kAtOnce = 1e-12;  // s
  if (magnitude(a.time - b.time) > kAtOnce) return a.time < b.time;
  if (a.normal.y != b.normal.y) return a.normal.y > b.normal.y;
  if (rarely(part.speed != b.speed)) {
    const double difference = dot(part.speed, part.speed) - dot(b.speed, b.speed);
    if (difference != 0) return difference < 0;
    return part.speed.x != b.speed.x ? part.speed.x < b.speed.x : part.speed.y < b.speed.y;
  }
  return part.surface < b.surface;
}

// Of a part that reaches to a corner, the direction to a corner of its own which leads most along a
// normal, if any leads along it.
struct LeadingEdge {
  Vec corner;
  double reach;
  double radius;
  double most = 0;
  Vec edge{0, 0};

  void look_at(const Convex& part, Vec normal) noexcept {
    const Box& box = part.bounds;
    const Vec of_box[] = {box.lo, {box.hi.x, box.lo.y}, box.hi, {box.lo.x, box.hi.y}};
    const Vec* corners = part.is_box() ? of_box : part.corners;
    const std::uint32_t count = part.is_box() ? 4 : part.count;
    static constexpr Shape kPoint{Box{}, 0};
    if (lie_of(corner, part, kPoint, 0).gap > reach) return;
    for (std::uint32_t i = 0; i < count; ++i) {
      const Vec off = subtract(corners[i], corner);
      const double length = std::sqrt(dot(off, off));
      if (!(length > reach)) continue;
      const double along = dot(off, normal) / length;
      constexpr double kRounding = 1e-12;
      if (!(along > most) || along <= kRounding) continue;
      // Of one that ends before it comes to where the body is, another corner counts.
      if (along * radius > length) continue;
      most = along;
      edge = scale(off, 1 / length);
    }
  }
};

// Keeps the meeting with a part, which `meet` finds, if it counts before the first so far.
template <class Meet>
void take_earlier(const Nearby::Part& part, const Meet& meet, FirstMeeting& first) noexcept {
  if (!first.met()) {
    if (!meet(first)) return;
  } else {
    Meeting meeting;
    if (!meet(meeting) || !counts_before(meeting, part, first)) return;
    static_cast<Meeting&>(first) = meeting;
  }
  first.surface = part.surface;
  first.speed = part.speed;
}

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

// Slower than this into a face, u/s, a body that moving platforms move goes along it, but for a
// rounding.
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
    const Passage piece(turns.part_from(seen, start, end));
    if (meet(piece, part.shape, body, berth, meeting) && !goes_along(piece, meeting)) {
      meeting.time = smaller(start + meeting.time, path.duration);
      return true;
    }
    start = end;
  }
  return false;
}

// The first meeting in a region of a world where things travel.
BUSHBABY_APART void find_first_among_moving_platforms(const Box& region, const Passage& passage,
                                                      const Shape& body, const Berth& berth,
                                                      Nearby& nearby,
                                                      FirstMeeting& first) noexcept {
  nearby.visit(region, [&](const Nearby::Part& part) {
    const auto meets = [&](Meeting& meeting) {
      if (part.travels()) return meet_on_its_way(passage, part, body, berth, meeting);
      return touch(region, part.shape.bounds) && meet(passage, part.shape, body, berth, meeting) &&
             !goes_along(passage, meeting);
    };
    take_earlier(part, meets, first);
  });
}

// Whether a path stays where it is.
struct Still {
  bool x;
  bool y;

  explicit Still(const Path& path) noexcept
      : x(stays(path.velocity.x, path.acceleration.x)),
        y(stays(path.velocity.y, path.acceleration.y)) {}
};

// What a passage comes by, and of that, the boxes: one that it goes along it does not meet, unless
// it is nearer than what it may pass.
struct Regions {
  Box all;
  Box boxes;

  Regions(const Passage& passage, Still still, const Shape& body, const Berth& berth) noexcept
      : all(grown(region_of(passage, body.box), berth.rest)) {
    const Vec along{still.x ? berth.slack : 0, still.y ? berth.slack : 0};
    boxes = {add(all.lo, along), subtract(all.hi, along)};
  }
};

void find_first_in(const Box& region, const Box& boxes, const Passage& passage, const Shape& body,
                   const Berth& berth, Nearby& nearby, FirstMeeting& first,
                   double least_up) noexcept {
  nearby.visit(region, [&](const Nearby::Part& part) {
    const Box& bounds = part.shape.bounds;
    if (!touch(boxes, bounds) && (part.shape.is_box() || !touch(region, bounds))) return;
    const auto meets = [&](Meeting& meeting) {
      return meet(passage, part.shape, body, berth, meeting) && meeting.normal.y >= least_up;
    };
    take_earlier(part, meets, first);
  });
}

// Whether a body touches something with that normal, to a share of the slack.
bool touches(Vec feet, Vec normal, double share, const Shape& body, const Berth& berth,
             Nearby& nearby) noexcept {
  const double noticeable = share * berth.slack;
  const Box region = grown(Box{add(feet, body.box.lo), add(feet, body.box.hi)}, 2 * berth.rest);
  bool any = false;
  nearby.visit(region, [&](const Nearby::Part& part) {
    if (any || !touch(region, part.shape.bounds)) return;
    const double gap = gap_along(normal, feet, part.shape, body, berth.rest);
    if (magnitude(gap) > noticeable) return;
    const Lie lie = lie_of(feet, part.shape, body, berth.rest, &nearby);
    any = magnitude(lie.gap) <= noticeable;
  });
  return any;
}

// How far a path is from the surface that it meets first, after some time.
double gap_after(double time, const Path& path, const FirstMeeting& first) noexcept {
  const double speed = dot(subtract(path.velocity, first.speed), first.normal);
  const double bend = dot(path.acceleration, first.normal);
  return first.gap + (speed + bend * time / 2) * time;
}

// Less than this share of the slack is a rounding.
constexpr double kNoticeable = 1e-6;

// A surface of several pieces is one: a path that comes to it at one piece, and would go in farther
// than may be passed at the next, meets it where it came to it.
BUSHBABY_APART void set_back(const Path& path, const Shape& body, const Berth& berth,
                             Nearby& nearby, FirstMeeting& first) noexcept {
  const double speed = dot(subtract(path.velocity, first.speed), first.normal);
  const double bend = dot(path.acceleration, first.normal);
  double came = 0;
  if (first.gap > 0) {
    const double root = std::sqrt(larger(speed * speed - 2 * bend * first.gap, 0));
    came = smaller(larger(-2 * first.gap / (speed - root), 0), first.time);
  }
  const Vec place = place_at(path, came);
  if (touches(place, first.normal, kNoticeable, body, berth, nearby)) first.time = came;
}

// The same as `find_first_in_sight` while time passes: what travels does so.
BUSHBABY_WITHIN void find_first_in_time(const Passage& passage, Still still, const Shape& body,
                                        const Berth& berth, Nearby& nearby,
                                        FirstMeeting& first) noexcept {
  const Regions near(passage, still, body, berth);
  if (rarely(nearby.is_in_time())) {
    find_first_among_moving_platforms(near.all, passage, body, berth, nearby, first);
  } else {
    find_first_in(near.all, near.boxes, passage, body, berth, nearby, first, kFacingAnyWay);
  }
  if (!first.met() || first.time == 0 || berth.slack == 0) return;
  const double gap = gap_after(first.time, passage, first);
  if (rarely(gap < -kNoticeable * berth.slack)) set_back(passage, body, berth, nearby, first);
}

}  // namespace

void detail::find_first_in_sight(const Passage& passage, const Shape& body, double rest,
                                 Nearby& nearby, FirstMeeting& first, double least_up) noexcept {
  const Box region = grown(region_of(passage, body.box), rest);
  // Who looks for what can be stood on wants no corner that is in the midst of a slope.
  const bool of_all_together = least_up > kFacingAnyWay;
  find_first_in(region, region, passage, body, {rest, 0, 0, &nearby, of_all_together}, nearby,
                first, least_up);
}

namespace {

// How far a path may go to be looked at in one part: of a long way, what stands around the whole of
// it would be far too much.
Vec farthest_at_once(const Box& body) noexcept {
  constexpr double kMostBodies = 16;
  return scale(subtract(body.hi, body.lo), kMostBodies);
}

// How long a part of a path lasts that is looked at in parts.
double longest_part(const Path& path, Vec most) noexcept {
  constexpr double kMostParts = 4096;
  const Vec last = velocity_at(path, path.duration);
  // The farthest that each coordinate may get.
  const Vec way{larger(magnitude(path.velocity.x), magnitude(last.x)) * path.duration,
                larger(magnitude(path.velocity.y), magnitude(last.y)) * path.duration};
  if (way.x <= most.x && way.y <= most.y) return path.duration;
  const double parts = smaller(larger(way.x / most.x, way.y / most.y), kMostParts);
  return path.duration / std::ceil(parts);
}

// A path that turns, or that goes far.
BUSHBABY_APART void find_first_by_parts(const Path& path, Vec most, const Shape& body,
                                        const Berth& berth, Nearby& nearby,
                                        FirstMeeting& first) noexcept {
  const double longest = longest_part(path, most);
  const Turns turning(path);
  const double passed = nearby.passed();
  double start = 0;
  while (start < path.duration) {
    const double end = smaller(start + longest, turning.next(start));
    if (!(end > start)) break;
    const Passage part(turning.part_from(path, start, end));
    nearby.pass_to(passed + start);
    find_first_in_time(part, Still(part), body, berth, nearby, first);
    if (first.met()) {
      first.time = smaller(start + first.time, path.duration);
      break;
    }
    start = end;
  }
  nearby.pass_to(passed);
}

bool turns(const Path& path) noexcept {
  const Vec last = velocity_at(path, path.duration);
  return path.velocity.x * last.x < 0 || path.velocity.y * last.y < 0;
}

}  // namespace

void detail::find_first(const Passage& path, const Shape& body, const Berth& berth, Nearby& nearby,
                        FirstMeeting& first) noexcept {
  // A body at rest meets nothing, wherever it is, but what comes to it.
  const Still still(path);
  if (still.x && still.y) {
    const Box here{add(path.from, body.box.lo), add(path.from, body.box.hi)};
    if (!nearby.has_moving_platforms_in(grown(here, berth.rest))) return;
  }
  const Vec most = farthest_at_once(body.box);
  const Vec way = subtract(path.to, path.from);
  const bool is_far = magnitude(way.x) > most.x || magnitude(way.y) > most.y;
  if (rarely(is_far || turns(path))) {
    find_first_by_parts(path, most, body, berth, nearby, first);
  } else {
    find_first_in_time(path, still, body, berth, nearby, first);
  }
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

bool Nearby::see_at(Vec corner, double reach, double radius, Vec& normal) const noexcept {
  const Box here = grown(Box{corner, corner}, reach);
  if (!covers(here)) return true;  // too far off to be touched
  // Nearer to neither of two edges than to the other: twice is enough.
  for (int i = 0; i < 2; ++i) {
    LeadingEdge leading{corner, reach, radius};
    visit_known(here, [&](const Part& part) {
      if (!touch(here, part.shape.bounds) || part.shape.is_one_sided()) return;
      leading.look_at(part.shape, normal);
    });
    if (!(leading.most > 0)) return true;
    const Vec turned = subtract(normal, scale(leading.edge, dot(normal, leading.edge)));
    const double length = std::sqrt(dot(turned, turned));
    constexpr double kNone = 0.1;  // it would turn it to the other side
    if (!(length > kNone)) return false;
    normal = scale(turned, 1 / length);
  }
  return true;
}

NearestLie detail::nearest_lie(Vec feet, const Shape& body, double rest, double reach,
                               Nearby& nearby) noexcept {
  NearestLie nearest;
  nearest.gap = std::numeric_limits<double>::infinity();
  const Box here{add(feet, body.box.lo), add(feet, body.box.hi)};
  const Box region = grown(here, reach);
  nearby.visit(region, [&](const Nearby::Part& part) {
    if (!touch(region, part.shape.bounds)) return;
    const Lie lie = lie_of(feet, part.shape, body, rest, &nearby);
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
  const Passage path(Path{sweep.from, sweep.move, {0, 0}, 1});
  FirstMeeting first;
  find_first(path, sweep.shape, {0, 0, 0, &nearby}, nearby, first);
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

void Solids::take_box(const Box& box, SurfaceId surface) noexcept {
  take({box, nullptr, 0, false, {0, 0}}, surface);
}

void Solids::take_polygon(const Vec* corners, std::uint32_t count, SurfaceId surface,
                          Blocks blocks) noexcept {
  take({bounds_of(corners, count), corners, count, false, side_of(blocks)}, surface);
}

}  // namespace bushbaby
