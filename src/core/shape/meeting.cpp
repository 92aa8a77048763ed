#include "meeting.h"

#include <array>
#include <cmath>
#include <limits>
#include <utility>

#include "rarely.h"

namespace bushbaby::detail {
namespace {

constexpr double kInfinite = std::numeric_limits<double>::infinity();

// ---- boxes --------------------------------------------------------------------------------------

// The places of the feet at which `body` comes nearer to a box than `rest`.
Box places_near(const Box& solid, const Box& body, double rest) noexcept {
  return grown({subtract(solid.lo, body.hi), subtract(solid.hi, body.lo)}, rest);
}

// A coordinate on its way, in one direction or at rest.
struct Way {
  double from, to, speed, acceleration, duration;

  [[nodiscard]] int direction() const noexcept {
    if (speed != 0) return speed > 0 ? 1 : -1;
    if (acceleration != 0) return acceleration > 0 ? 1 : -1;
    return 0;
  }
  // When it comes to a place that lies between its ends.
  [[nodiscard]] double time_of(double place) const noexcept {
    const double ahead = place - from;
    if (ahead == 0) return 0;
    if (acceleration == 0) return smaller(larger(ahead / speed, 0), duration);
    const double root = std::sqrt(larger(speed * speed + 2 * acceleration * ahead, 0));
    const double time = 2 * ahead / (speed + (ahead < 0 ? -root : root));
    return smaller(larger(time, 0), duration);
  }
};

// When a coordinate is between two bounds: from `enter` on, until `leave`; never if it enters no
// sooner than it leaves.
struct Between {
  static constexpr double kFromStart = -1;
  double enter = kInfinite;
  double leave = kInfinite;
};

Between between(const Way& way, double lo, double hi) noexcept {
  const int direction = way.direction();
  if (direction == 0) {
    return way.from > lo && way.from < hi ? Between{Between::kFromStart, kInfinite} : Between{};
  }
  const double near = direction > 0 ? lo : hi;
  const double far = direction > 0 ? hi : lo;
  const auto beyond = [direction](double place, double bound) {
    return direction > 0 ? place > bound : place < bound;
  };
  if (!beyond(far, way.from) || !beyond(way.to, near)) return {};
  return {beyond(way.from, near) ? Between::kFromStart : way.time_of(near),
          beyond(far, way.to) ? kInfinite : way.time_of(far)};
}

// When a coordinate comes to one of two bounds from outside, to go on to `slack` behind it, or to
// end before that on the way in; infinite if it does neither, kWithin if it starts farther in.
constexpr double kWithin = -1;

double comes_to(const Way& way, double lo, double hi, double slack) noexcept {
  const int direction = way.direction();
  if (way.from > lo + slack && way.from < hi - slack) return kWithin;
  if (direction == 0) return kInfinite;
  const double bound = direction > 0 ? lo : hi;
  const double end = direction * (way.to - bound);
  if (end < 0 || direction * (way.from - bound) > slack) return kInfinite;
  if (end <= slack) {
    const double last = way.speed + way.acceleration * way.duration;
    if (!closes(-direction * last, -direction * way.acceleration)) return kInfinite;
  }
  return direction * (way.from - bound) >= 0 ? 0 : way.time_of(bound);
}

// The face of a region that is nearest to a place; its gap is negative for places within.
Lie lie_in(const Box& places, Vec place) noexcept {
  Lie best{place.y - places.hi.y, {0, 1}};
  const auto consider = [&best](double gap, Vec normal) {
    if (gap > best.gap) best = {gap, normal};
  };
  consider(places.lo.y - place.y, {0, -1});
  consider(places.lo.x - place.x, {-1, 0});
  consider(place.x - places.hi.x, {1, 0});
  return best;
}

// A unit vector along an axis.
const Vec& along_axis(bool by_y, bool forward) noexcept {
  static constexpr Vec kWays[] = {{-1, 0}, {1, 0}, {0, -1}, {0, 1}};
  return kWays[(by_y ? 2 : 0) + (forward ? 1 : 0)];
}

// A path against a box.
struct BoxApproach {
  const Passage& path;
  Box places;  // nearer than rest
  Box inner;   // nearer than what is passed
  bool wants_aside;

  [[nodiscard]] Way way_x() const noexcept {
    return {path.from.x, path.to.x, path.velocity.x, path.acceleration.x, path.duration};
  }
  [[nodiscard]] Way way_y() const noexcept {
    return {path.from.y, path.to.y, path.velocity.y, path.acceleration.y, path.duration};
  }

  [[nodiscard]] bool is_beside_x(Vec place) const noexcept {
    return place.y > inner.lo.y && place.y < inner.hi.y;
  }
  [[nodiscard]] bool is_beside_y(Vec place) const noexcept {
    return place.x > inner.lo.x && place.x < inner.hi.x;
  }

  // The normal of the face that it comes to along an axis.
  [[nodiscard]] const Vec& normal_of(bool by_y) const noexcept {
    return by_y ? along_axis(true, way_y().direction() <= 0)
                : along_axis(false, way_x().direction() <= 0);
  }

  void write(double time, const Vec& normal, Meeting& meeting) const noexcept {
    const bool by_y = normal.y != 0;
    meeting.time = time;
    meeting.normal = normal;
    meeting.gap = by_y ? (normal.y > 0 ? path.from.y - places.hi.y : places.lo.y - path.from.y)
                       : (normal.x > 0 ? path.from.x - places.hi.x : places.lo.x - path.from.x);
    if (!wants_aside) return;
    const Vec at = place_at(path, time);
    const double to_hi = by_y ? places.hi.x - at.x : places.hi.y - at.y;
    const double to_lo = by_y ? at.x - places.lo.x : at.y - places.lo.y;
    meeting.aside = along_axis(!by_y, to_hi <= to_lo);
    meeting.aside_by = smaller(to_hi, to_lo);
  }

  // The meeting with a face, at the time at which it comes to rest distance from it.
  void write_entry(bool by_y, Meeting& meeting) const noexcept {
    const Between near_x = between(way_x(), places.lo.x, places.hi.x);
    const Between near_y = between(way_y(), places.lo.y, places.hi.y);
    const double enter = larger(larger(near_x.enter, near_y.enter), 0);
    write(smaller(enter, path.duration), normal_of(by_y), meeting);
  }
};

// A path that begins or ends beyond a corner, or within the box.
BUSHBABY_APART bool meet_box_anyhow(const BoxApproach& approach, Meeting& meeting) noexcept {
  const Passage& path = approach.path;
  const Box& inner = approach.inner;
  const Between in_x = between(approach.way_x(), inner.lo.x, inner.hi.x);
  const Between in_y = between(approach.way_y(), inner.lo.y, inner.hi.y);
  if (in_x.enter < 0 && in_y.enter < 0) {
    const Lie lie = lie_in(approach.places, path.from);
    if (!closes(dot(path.velocity, lie.normal), dot(path.acceleration, lie.normal))) return false;
    approach.write(0, lie.normal, meeting);
    return true;
  }
  const double enter = larger(in_x.enter, in_y.enter);
  if (enter < smaller(in_x.leave, in_y.leave)) {
    // Of a corner, the side that faces up.
    const bool is_corner = in_x.enter == in_y.enter;
    approach.write_entry(is_corner ? approach.normal_of(true).y > 0 : in_y.enter > in_x.enter,
                         meeting);
    return true;
  }
  // It may end between the two distances, head on against one face.
  const Lie last = lie_in(approach.places, path.to);
  const bool by_y = last.normal.y != 0;
  const bool beside = by_y ? approach.is_beside_y(path.to) : approach.is_beside_x(path.to);
  if (!beside || last.gap > 0 || last.normal != approach.normal_of(by_y)) return false;
  if (!closes(dot(velocity_at(path, path.duration), last.normal),
              dot(path.acceleration, last.normal))) {
    return false;
  }
  approach.write_entry(by_y, meeting);
  return true;
}

bool meet_box(const Passage& path, const Box& solid, const Box& body, const Berth& berth,
              Meeting& meeting) noexcept {
  const Box places = places_near(solid, body, berth.rest);
  const BoxApproach approach{path, places, grown(places, -berth.slack), berth.step > 0};
  // Most bodies are beside a face all along, and come to it head on or not at all.
  const bool beside_y = approach.is_beside_y(path.from) && approach.is_beside_y(path.to);
  const bool beside_x = approach.is_beside_x(path.from) && approach.is_beside_x(path.to);
  if (beside_y != beside_x) {
    const double time = beside_y
                            ? comes_to(approach.way_y(), places.lo.y, places.hi.y, berth.slack)
                            : comes_to(approach.way_x(), places.lo.x, places.hi.x, berth.slack);
    if (time == kInfinite) return false;
    if (time != kWithin) {
      approach.write(time, approach.normal_of(beside_y), meeting);
      return true;
    }
  }
  return meet_box_anyhow(approach, meeting);
}

// ---- polygons -----------------------------------------------------------------------------------

// A face of the region of places at which a body reaches into a solid: within, its normal times the
// place is less than its offset.
struct Face {
  Vec normal{0, 0};
  double offset = 0;
};

// The faces of a solid's region: those of the solid, the four of the body, and, of a round body,
// tangents of its corners where they count.
constexpr std::size_t kMostTangents = 16;
constexpr std::size_t kMostFaces = kMostCorners + 4 + kMostTangents;

struct Faces {
  std::array<Face, kMostFaces> list;
  std::size_t count = 0;

  [[nodiscard]] const Face* begin() const noexcept { return list.data(); }
  [[nodiscard]] const Face* end() const noexcept { return list.data() + count; }
  [[nodiscard]] const Face* face_with(Vec normal) const noexcept {
    for (const Face& face : *this) {
      if (face.normal == normal) return &face;
    }
    return nullptr;
  }
};

double farthest(const Convex& solid, Vec normal) noexcept {
  if (solid.is_box()) {
    return dot({normal.x > 0 ? solid.bounds.hi.x : solid.bounds.lo.x,
                normal.y > 0 ? solid.bounds.hi.y : solid.bounds.lo.y},
               normal);
  }
  double most = dot(solid.corners[0], normal);
  for (std::uint32_t i = 1; i < solid.count; ++i)
    most = larger(most, dot(solid.corners[i], normal));
  return most;
}

Vec farthest_corner(const Convex& solid, Vec way) noexcept {
  if (solid.is_box()) {
    return {way.x > 0 ? solid.bounds.hi.x : solid.bounds.lo.x,
            way.y > 0 ? solid.bounds.hi.y : solid.bounds.lo.y};
  }
  Vec best = solid.corners[0];
  for (std::uint32_t i = 1; i < solid.count; ++i) {
    if (dot(solid.corners[i], way) > dot(best, way)) best = solid.corners[i];
  }
  return best;
}

// How far the body reaches against a normal from its feet.
double reach_against(const Box& body, Vec normal) noexcept {
  return -(normal.x > 0 ? normal.x * body.lo.x : normal.x * body.hi.x) -
         (normal.y > 0 ? normal.y * body.lo.y : normal.y * body.hi.y);
}

Faces faces_of(const Convex& solid, const Box& body) noexcept {
  Faces faces;
  const auto add_face = [&](Vec normal, double offset) {
    faces.list[faces.count++] = {normal, offset + reach_against(body, normal)};
  };
  add_face({0, 1}, solid.bounds.hi.y);
  add_face({0, -1}, -solid.bounds.lo.y);
  add_face({-1, 0}, -solid.bounds.lo.x);
  add_face({1, 0}, solid.bounds.hi.x);
  for (std::uint32_t i = 0; i < solid.count; ++i) {
    const Vec edge = subtract(solid.corners[i + 1 < solid.count ? i + 1 : 0], solid.corners[i]);
    // What is along an axis but for rounding is one of the body's.
    constexpr double kRounding = 1e-10;
    const bool along_axis = magnitude(edge.x) <= kRounding * magnitude(edge.y) ||
                            magnitude(edge.y) <= kRounding * magnitude(edge.x);
    if (along_axis) continue;
    const double length = std::sqrt(dot(edge, edge));
    const Vec normal{edge.y / length, -edge.x / length};
    add_face(normal, farthest(solid, normal));
  }
  return faces;
}

// The times at which a quadratic of time is negative: until the end of the one, and from the
// beginning of the other.
struct Negative {
  struct Span {
    double begin = kInfinite, end = kInfinite;
  };
  std::array<Span, 2> spans{};

  // The first time no sooner than `time` at which it is.
  [[nodiscard]] double next(double time) const noexcept {
    for (const Span& span : spans) {
      if (time < span.end) return larger(time, span.begin);
    }
    return kInfinite;
  }
  // When the span that holds `time` begins.
  [[nodiscard]] double begin_of(double time) const noexcept {
    return time < spans[0].end ? spans[0].begin : spans[1].begin;
  }
  // When the span that holds `time` ends.
  [[nodiscard]] double end_from(double time) const noexcept {
    return time < spans[0].end ? spans[0].end : spans[1].end;
  }
};

Negative negative_times(double start, double speed, double bend) noexcept {
  Negative result;
  const double discriminant = speed * speed - 4 * bend * start;
  if (bend == 0 || !(discriminant > 0)) {
    if (bend != 0 || speed == 0) {
      // It keeps its sign, but for a moment.
      if (bend < 0 || (bend == 0 && start < 0)) result.spans[0] = {-kInfinite, kInfinite};
      return result;
    }
    const double zero = -start / speed;
    if (speed < 0) {
      result.spans[0] = {zero, kInfinite};
    } else {
      result.spans[0] = {-kInfinite, zero};
    }
    return result;
  }
  const double root = std::sqrt(discriminant);
  const double q = -(speed + (speed < 0 ? -root : root)) / 2;
  const double a = q / bend;
  const double b = q != 0 ? start / q : a;
  const double first = smaller(a, b);
  const double last = larger(a, b);
  if (bend > 0) {
    result.spans[0] = {first, last};
  } else {
    result.spans[0] = {-kInfinite, first};
    result.spans[1] = {last, kInfinite};
  }
  return result;
}

// A path against a region: for each face, how far the path starts beyond it, and when it is within.
struct Approach {
  const Path& path;
  const Faces& faces;
  double rest;
  std::array<Negative, kMostFaces> times;

  Approach(const Path& p, const Faces& f, double r) noexcept : path(p), faces(f), rest(r) {
    for (std::size_t i = 0; i < faces.count; ++i) {
      const Face& face = faces.list[i];
      times[i] = negative_times(gap_at(face, path.from), dot(path.velocity, face.normal),
                                dot(path.acceleration, face.normal) / 2);
    }
  }

  [[nodiscard]] double gap_at(const Face& face, Vec place) const noexcept {
    return dot(face.normal, place) - face.offset - rest;
  }

  // The face that a place is nearest to.
  [[nodiscard]] Lie lie_at(Vec place) const noexcept {
    Lie best{-kInfinite, {0, 1}};
    for (const Face& face : faces) {
      const double gap = gap_at(face, place);
      if (gap > best.gap || (gap == best.gap && face.normal.y > best.normal.y)) {
        best = {gap, face.normal};
      }
    }
    return best;
  }

  // When it is within all faces, from `time` on: until the first of them is left.
  [[nodiscard]] double leaves(double time) const noexcept {
    double end = kInfinite;
    for (std::size_t i = 0; i < faces.count; ++i) end = smaller(end, times[i].end_from(time));
    return end;
  }

  // The first time no sooner than `time` from which on it is within all faces, and the face that it
  // passed last.
  struct Entry {
    double time;
    std::size_t face;
  };
  [[nodiscard]] Entry enters(double time) const noexcept {
    std::size_t face = faces.count;
    while (time <= path.duration) {
      double latest = time;
      for (std::size_t i = 0; i < faces.count; ++i) {
        const double next = times[i].next(time);
        if (next > latest || (next == latest && next > time && face < faces.count &&
                              faces.list[i].normal.y > faces.list[face].normal.y)) {
          latest = next;
          face = i;
        }
      }
      if (latest == time) {
        const double end = leaves(time);
        if (end > time) return {time, face};
        time = end;  // a corner that is touched for a moment
      } else {
        time = latest;
      }
    }
    return {kInfinite, faces.count};
  }
};

// When a path that goes away from a face is back where it started; infinite if it goes on.
double comes_back_at(const Path& path, Vec normal) noexcept {
  const double bend = dot(path.acceleration, normal);
  return bend < 0 ? -2 * dot(path.velocity, normal) / bend : kInfinite;
}

// The way aside from a place within the region, along a face that is well turned against the one
// that is met: aside by that, the body stays flush with both. A face that a neighbour covers is
// none: there the way is along the neighbour's.
void find_way_aside(const Approach& approach, Vec place, const Convex& solid, const Shape& body,
                    const Berth& berth, Meeting& meeting) noexcept {
  const auto is_well_turned = [&meeting](Vec normal) {
    constexpr double kCosine = 0.5;  // of 60 degrees
    return dot(normal, meeting.normal) <= kCosine;
  };
  meeting.aside_by = kInfinite;
  for (const Face& face : approach.faces) {
    if (!is_well_turned(face.normal)) continue;
    const double by = -approach.gap_at(face, place);
    if (by < meeting.aside_by) {
      meeting.aside_by = by;
      meeting.aside = face.normal;
    }
  }
  if (berth.neighbours == nullptr || !(meeting.aside_by <= berth.step)) return;
  const Vec tip = farthest_corner(solid, add(meeting.normal, meeting.aside));
  Vec aside = meeting.aside;
  if (!berth.neighbours->see_at(tip, 2 * berth.rest, berth.rest, aside) || aside == meeting.aside)
    return;
  meeting.aside = aside;
  meeting.aside_by =
      is_well_turned(aside) ? -gap_along(aside, place, solid, body, berth.rest) : kInfinite;
}

// When, and by which face, a path goes in farther than what may be passed.
struct Entrance {
  double time = kInfinite;
  Vec normal{0, 0};
  bool starts_near = false;  // it was nearer than rest all the time until then
};

// Whether a place lies beside a face, and not beyond a corner of the region.
bool is_beside(const Faces& faces, Vec normal, Vec place) noexcept {
  Vec foot = place;
  if (const Face* face = faces.face_with(normal)) {
    foot = subtract(place, scale(normal, dot(normal, place) - face->offset));
  }
  constexpr double kRounding = 1e-12;
  for (const Face& face : faces) {
    const double beyond = dot(face.normal, foot) - face.offset;
    if (beyond > kRounding * (1 + magnitude(face.offset)) && face.normal != normal) return false;
  }
  return true;
}

// A path that ends between the two distances, head on against one face, goes in by that.
Entrance end_of(const Approach& near, const Approach& inner, double slack) noexcept {
  const Path& path = near.path;
  const Vec to = place_at(path, path.duration);
  const Lie lie = near.lie_at(to);
  int outside_of = 0;
  for (const Face& face : inner.faces) outside_of += inner.gap_at(face, to) >= 0 ? 1 : 0;
  if (lie.gap > 0 || outside_of == 0) return {};
  if (outside_of > 1 && !is_beside(near.faces, lie.normal, to)) return {};
  constexpr double kNoticeable = 1e-6;  // by more than rounding may do
  if (!(dot(subtract(path.from, to), lie.normal) > kNoticeable * slack)) return {};
  const Vec last = velocity_at(path, path.duration);
  if (!closes(dot(last, lie.normal), dot(path.acceleration, lie.normal))) return {};
  return {path.duration, lie.normal, false};
}

// `counts` says of a face, and a time at which it is passed or a body lies beside it, whether it
// stops anything.
template <class Counts>
Entrance entrance_of(const Approach& near, const Approach& inner, double slack,
                     const Counts& counts) noexcept {
  const Path& path = near.path;
  const Lie start = inner.lie_at(path.from);
  double from = 0;
  if (start.gap < 0) {
    const bool stops = counts(start, 0);
    if (stops && closes(dot(path.velocity, start.normal), dot(path.acceleration, start.normal))) {
      return {0, start.normal, true};
    }
    // It goes out, or turns back first.
    from = inner.leaves(0);
    const double back_at = comes_back_at(path, start.normal);
    if (stops && back_at < from) return {back_at, start.normal, true};
  }
  while (from <= path.duration) {
    const Approach::Entry entry = inner.enters(from);
    if (entry.time > path.duration) break;
    const bool passes_face = entry.face < inner.faces.count;
    const Vec normal = passes_face ? inner.faces.list[entry.face].normal : start.normal;
    if (counts(Lie{0, normal}, entry.time)) return {entry.time, normal, false};
    from = inner.leaves(entry.time);
  }
  const Entrance end = end_of(near, inner, slack);
  if (end.time > path.duration || !counts(Lie{0, end.normal}, end.time)) return {};
  return end;
}

// From when on a path is nearer than rest, until `time`.
double near_since(const Approach& near, double time) noexcept {
  double since = near.enters(0).time;
  while (since < time && near.leaves(since) < time) since = near.enters(near.leaves(since)).time;
  return smaller(since, time);
}

// Whether the edge or the corner of a part that lies farthest along a normal is an outside of the
// whole solid.
BUSHBABY_RARE bool is_outside(const Convex& solid, Vec normal) noexcept {
  const double most = farthest(solid, normal);
  const double noticeable = 1e-12 * (1 + magnitude(most));
  const auto is_there = [&](std::uint32_t i) {
    return dot(solid.corners[i], normal) >= most - noticeable;
  };
  const auto is_inner = [&](std::uint32_t bit) { return (unsigned{solid.inner} >> bit & 1U) != 0; };
  std::uint32_t tip = 0;
  for (std::uint32_t i = 0; i < solid.count; ++i) {
    if (!is_there(i)) continue;
    if (is_there(i + 1 < solid.count ? i + 1 : 0)) return !is_inner(i);
    tip = i;
  }
  return !is_inner(kMostCorners + tip);
}

// Whether a face of a solid stops what comes to it.
bool stops(const Convex& solid, Vec normal) noexcept {
  constexpr double kNoticeable = 1e-9;
  if (!solid.is_one_sided()) return true;
  return dot(normal, solid.side) > kNoticeable && (solid.inner == 0 || is_outside(solid, normal));
}

// Whether a solid of one side holds what lies beside its nearest face like that: from inside, by
// more than half the distance of rest, it holds nothing.
bool holds(const Convex& solid, const Lie& lie, double nearer_than, double rest) noexcept {
  return stops(solid, lie.normal) && lie.gap + nearer_than >= -rest / 2;
}

// Whether a place lies so little below a platform's top that a body is lifted over it.
bool is_step(const Approach& near, const Convex& solid, Vec place, double step) noexcept {
  constexpr double kMostlyUp = 0.5;
  if (!(solid.side.y > kMostlyUp)) return false;
  for (const Face& face : near.faces) {
    const double gap = near.gap_at(face, place);
    if (stops(solid, face.normal) && gap < 0 && gap >= -step) return true;
  }
  return false;
}

// The same for the one face of a solid that may be passed otherwise; `time` for a path that was
// nearer than rest all along, since it comes from inside.
double near_face_since(const Approach& near, Vec normal, double time) noexcept {
  for (std::size_t i = 0; i < near.faces.count; ++i) {
    if (near.faces.list[i].normal != normal) continue;
    const double since = near.times[i].begin_of(time);
    return since > 0 ? smaller(since, time) : time;
  }
  return time;
}

// What stops a path at a region with these faces, and when the path comes to rest distance.
struct Stop {
  Entrance entrance;
  double time = kInfinite;
};

Stop stop_at(const Approach& near, const Approach& inner, const Convex& solid,
             const Berth& berth) noexcept {
  const Path& path = near.path;
  const bool one_sided = solid.is_one_sided();
  Stop stop;
  if (!one_sided) {
    stop.entrance = entrance_of(near, inner, berth.slack, [](const Lie&, double) { return true; });
  } else {
    stop.entrance = entrance_of(near, inner, berth.slack, [&](const Lie& lie, double time) {
      if (stops(solid, lie.normal)) return holds(solid, lie, berth.rest - berth.slack, berth.rest);
      return lie.gap + berth.rest - berth.slack >= 0 &&
             is_step(near, solid, place_at(path, time), berth.step);
    });
  }
  const Entrance& entrance = stop.entrance;
  stop.time = entrance.time;
  if (!entrance.starts_near && entrance.time <= path.duration) {
    stop.time = one_sided ? near_face_since(near, entrance.normal, entrance.time)
                          : near_since(near, entrance.time);
  }
  return stop;
}

// The normal of a face of the body that meets a corner. Where a neighbour's edge goes on from there
// and the body lies flush with that as well, it is the edge's.
Vec beside_next_edge(Vec normal, Vec place, const Convex& solid, const Shape& body,
                     const Berth& berth) noexcept {
  if (berth.neighbours == nullptr || (normal.x != 0 && normal.y != 0)) return normal;
  const Vec tip = farthest_corner(solid, normal);
  constexpr double kRounding = 1e-10;  // of an edge along one of the body's axes
  const Vec size = subtract(solid.bounds.hi, solid.bounds.lo);
  const double noticeable = kRounding * (size.x + size.y);
  int corners = 0;
  for (std::uint32_t i = 0; i < solid.count; ++i) {
    corners += dot(subtract(tip, solid.corners[i]), normal) <= noticeable ? 1 : 0;
  }
  if (corners != 1) return normal;
  Vec turned = normal;
  if (!berth.neighbours->see_at(tip, 2 * berth.rest, berth.rest, turned)) return normal;
  const double gap = gap_along(turned, place, solid, body, berth.rest);
  return magnitude(gap) <= berth.slack ? turned : normal;
}

void write_stop(const Approach& near, const Stop& stop, const Convex& solid, const Shape& body,
                const Berth& berth, Meeting& meeting) noexcept {
  const Path& path = near.path;
  const Vec place = place_at(path, stop.time);
  meeting.time = stop.time;
  meeting.normal = beside_next_edge(stop.entrance.normal, place, solid, body, berth);
  const Face* const face = near.faces.face_with(meeting.normal);
  meeting.gap = face != nullptr ? near.gap_at(*face, path.from)
                                : gap_along(meeting.normal, path.from, solid, body, berth.rest);
  if (!(berth.step > 0)) return;
  find_way_aside(near, place, solid, body, berth, meeting);
}

// The corner of a solid whose two edges lie along the body's own axes, as those of a box do, if a
// place lies beyond one: there the faces moved out make a corner for themselves.
const Vec* square_corner(const Convex& solid, const Box& body, Vec place) noexcept {
  const Box bare{subtract(solid.bounds.lo, body.hi), subtract(solid.bounds.hi, body.lo)};
  const bool right = place.x > bare.hi.x;
  const bool above = place.y > bare.hi.y;
  if ((!right && !(place.x < bare.lo.x)) || (!above && !(place.y < bare.lo.y))) return nullptr;
  const Vec corner{right ? solid.bounds.hi.x : solid.bounds.lo.x,
                   above ? solid.bounds.hi.y : solid.bounds.lo.y};
  const Vec size = subtract(solid.bounds.hi, solid.bounds.lo);
  constexpr double kRounding = 1e-10;
  for (std::uint32_t i = 0; i < solid.count; ++i) {
    const Vec off = subtract(solid.corners[i], corner);
    if (magnitude(off.x) <= kRounding * size.x && magnitude(off.y) <= kRounding * size.y) {
      return &solid.corners[i];
    }
  }
  return nullptr;
}

bool meet_round(const Passage& path, const Convex& solid, const Shape& body, const Berth& berth,
                Meeting& meeting) noexcept;

// Whether a corner is as square in all solids together as it is by itself: nothing that adjoins
// there reaches farther along either axis.
bool stands_alone(const Vec* corner, const Convex& solid, const Box& body,
                  const Neighbours* neighbours) noexcept {
  if (corner == nullptr) return false;
  if (neighbours == nullptr) return true;
  constexpr double kFlush = 1e-3;  // of the body's width: nearer than that, solids adjoin
  const double flush = kFlush * (body.hi.x - body.lo.x);
  const Vec middle = scale(add(solid.bounds.lo, solid.bounds.hi), 0.5);
  for (const Vec& axis :
       {along_axis(false, corner->x > middle.x), along_axis(true, corner->y > middle.y)}) {
    Vec normal = axis;
    const bool sees = neighbours->see_at(*corner, flush, flush / 2, normal);
    if (!sees || normal != axis) return false;
  }
  return true;
}

// The faces moved out make a sharp corner where what is as far from the solid makes a round one:
// what is met there is looked at again.
BUSHBABY_APART bool meet_polygon(const Passage& path, const Convex& solid, const Box& body,
                                 const Berth& berth, Meeting& meeting) noexcept {
  const Faces faces = faces_of(solid, body);
  const Approach near(path, faces, berth.rest);
  const Approach inner(path, faces, berth.rest - berth.slack);
  const Stop stop = stop_at(near, inner, solid, berth);
  if (stop.time > path.duration) return false;
  const auto is_beside_at = [&](double time) {
    return is_beside(faces, stop.entrance.normal, place_at(path, time));
  };
  const Vec place = place_at(path, stop.time);
  const bool is_sharp =
      solid.is_box() || berth.rest == 0 ||
      (is_beside_at(stop.time) && is_beside_at(stop.entrance.time)) ||
      stands_alone(square_corner(solid, body, place), solid, body, berth.neighbours);
  if (!is_sharp) return meet_round(path, solid, body, berth, meeting);
  write_stop(near, stop, solid, body, berth, meeting);
  return true;
}

// ---- round bodies -------------------------------------------------------------------------------

// A body with round corners is a smaller box, its core, grown by a radius: its region is that of
// the core, grown by the radius too, which rounds every corner. A corner's arc is known by its
// tangents: the region lies within all of them, so that a path is first held against the region
// with square corners, and then, where it came into a corner that it does not really reach, against
// the tangent there as well: Newton's method on the distance from the corner, which nears the time
// from before. See docs/model.md, "Contact".

Box core_of(const Shape& body) noexcept { return grown(body.box, -body.radius); }

double cross(Vec a, Vec b) noexcept { return a.x * b.y - a.y * b.x; }

// The faces in order of their angle, and the corners between them: corner i follows face i.
struct RoundRegion {
  struct Corner {
    Vec place;  // of the region
    Vec tip;    // of the solid
  };

  Faces faces;
  std::size_t sides = 0;  // faces that are no tangents
  std::array<Corner, kMostCorners + 4> corners;
  const Berth* berth;   // of who looks at what adjoins; none: nobody does
  double distance = 0;  // at which the body is from a corner that it touches

  RoundRegion(const Convex& solid, const Box& core, const Berth* with = nullptr,
              double radius = 0) noexcept
      : faces(faces_of(solid, core)), sides(faces.count), berth(with), distance(radius) {
    sort();
    for (std::size_t i = 0; i < sides; ++i) {
      const Vec between = add(faces.list[i].normal, faces.list[i + 1 < sides ? i + 1 : 0].normal);
      const Vec tip = farthest_corner(solid, between);
      corners[i] = {subtract(tip, {between.x > 0 ? core.lo.x : core.hi.x,
                                   between.y > 0 ? core.lo.y : core.hi.y}),
                    tip};
    }
  }

  // Whether a place lies beyond a corner, so that the corner is what is nearest to it.
  [[nodiscard]] const Corner* corner_before(Vec place) const noexcept {
    for (std::size_t i = 0; i < sides; ++i) {
      const Vec off = subtract(place, corners[i].place);
      const Vec next = faces.list[i + 1 < sides ? i + 1 : 0].normal;
      const bool beyond = cross(faces.list[i].normal, off) > 0 && cross(off, next) > 0 &&
                          dot(off, add(faces.list[i].normal, next)) > 0;
      if (beyond) return &corners[i];
    }
    return nullptr;
  }

  // The distance of a place from the region, and the way to it: of a corner, straight to it.
  [[nodiscard]] Lie lie_at(Vec place) const noexcept {
    if (const Corner* corner = corner_before(place)) {
      const Vec off = subtract(place, corner->place);
      const double length = std::sqrt(dot(off, off));
      return {length, scale(off, 1 / length)};
    }
    Lie best{-kInfinite, {0, 1}};
    for (std::size_t i = 0; i < sides; ++i) {
      const Face& face = faces.list[i];
      const double gap = dot(face.normal, place) - face.offset;
      if (gap > best.gap || (gap == best.gap && face.normal.y > best.normal.y)) {
        best = {gap, face.normal};
      }
    }
    return best;
  }

  [[nodiscard]] bool has_side(Vec normal) const noexcept {
    for (std::size_t i = 0; i < sides; ++i) {
      if (faces.list[i].normal == normal) return true;
    }
    return false;
  }

  // Adds the tangent of a corner that faces a place, if one does; false if that makes no
  // difference.
  bool add_tangent(Vec place) noexcept {
    const Corner* corner = corner_before(place);
    if (corner == nullptr || faces.count == kMostFaces) return false;
    const Vec off = subtract(place, corner->place);
    const Vec alone = scale(off, 1 / std::sqrt(dot(off, off)));
    const Vec normal = beside_neighbours(*corner, alone);
    if (normal != alone && is_known(normal)) return false;
    for (const Face& face : faces) {
      if (face.normal == normal) return false;
    }
    faces.list[faces.count++] = {normal, dot(normal, corner->place)};
    return true;
  }

  // The normal with which a body at a place touches the region there.
  [[nodiscard]] Lie touch_at(Vec place) const noexcept {
    Lie lie = lie_at(place);
    const Corner* corner = corner_before(place);
    if (corner == nullptr) return lie;
    if (rarely(berth != nullptr && berth->of_all_together)) {
      if (!sees(*corner, lie.normal)) lie.normal = {0, -1};
    } else {
      lie.normal = beside_neighbours(*corner, lie.normal);
    }
    return lie;
  }

 private:
  // Of the normals with which a body may touch a corner, the one nearest to `normal` with which it
  // touches nothing else; false if there is none.
  [[nodiscard]] bool sees(const Corner& corner, Vec& normal) const noexcept {
    const Neighbours* neighbours = berth->neighbours;
    return neighbours == nullptr ||
           neighbours->see_at(corner.tip, 2 * berth->rest, distance, normal);
  }

  // The normal of a corner's tangent. One that touches a neighbour a little sooner than the corner,
  // by less than the distance of rest, is that with which it touches both.
  [[nodiscard]] Vec beside_neighbours(const Corner& corner, Vec alone) const noexcept {
    Vec normal = alone;
    if (berth == nullptr || !sees(corner, normal)) return alone;
    return distance * (1 - dot(normal, alone)) < berth->rest ? normal : alone;
  }

  // Whether there is a face with that normal, but for a rounding.
  [[nodiscard]] bool is_known(Vec normal) const noexcept {
    constexpr double kRounding = 1e-12;
    for (const Face& face : faces) {
      if (dot(face.normal, normal) > 1 - kRounding) return true;
    }
    return false;
  }

  static bool is_lower_half(Vec v) noexcept { return v.y < 0 || (v.y == 0 && v.x < 0); }
  static bool turns_before(Vec a, Vec b) noexcept {
    const bool a_low = is_lower_half(a);
    const bool b_low = is_lower_half(b);
    return a_low != b_low ? b_low : cross(a, b) > 0;
  }
  void sort() noexcept {
    for (std::size_t i = 1; i < sides; ++i) {
      for (std::size_t k = i; k > 0 && turns_before(faces.list[k].normal, faces.list[k - 1].normal);
           --k) {
        std::swap(faces.list[k], faces.list[k - 1]);
      }
    }
  }
};

BUSHBABY_APART bool meet_round(const Passage& path, const Convex& solid, const Shape& body,
                               const Berth& berth, Meeting& meeting) noexcept {
  const double rest = body.radius + berth.rest;
  RoundRegion region(solid, core_of(body), &berth, rest);
  // How much farther off than it should be a body may come to lie: nothing that anybody sees.
  constexpr double kClose = 1e-9;
  const double close = kClose * (berth.slack + body.radius);
  region.add_tangent(path.from);
  region.add_tangent(path.to);
  for (;;) {
    const Approach near(path, region.faces, rest);
    const Approach inner(path, region.faces, rest - berth.slack);
    const Stop stop = stop_at(near, inner, solid, berth);
    if (stop.time > path.duration) return false;
    const Vec inside = place_at(path, stop.entrance.time);
    const Vec place = place_at(path, stop.time);
    const bool reaches = region.lie_at(inside).gap <= rest - berth.slack + close ||
                         stop.entrance.starts_near || stop.time == path.duration;
    const bool lies_flush = region.lie_at(place).gap <= rest + close;
    // Where there is no further tangent to distinguish them, next to nothing is left to report.
    const bool differs = !(reaches && lies_flush) && region.add_tangent(reaches ? place : inside);
    if (differs) continue;
    write_stop(near, stop, solid, body, berth, meeting);
    if (!region.has_side(stop.entrance.normal)) {
      meeting.normal = region.touch_at(place).normal;
      meeting.gap = gap_along(meeting.normal, path.from, solid, body, berth.rest);
    }
    return true;
  }
}

// How a body lies to a solid, around whose corners distances are round.
BUSHBABY_APART Lie lie_around(Vec feet, const Convex& solid, const Shape& body,
                              double rest) noexcept {
  Lie lie = RoundRegion(solid, core_of(body)).lie_at(feet);
  lie.gap = lie.gap - (body.radius + rest);
  return lie;
}

// How a box body lies to a polygon.
BUSHBABY_APART Lie lie_to_polygon(Vec feet, const Convex& solid, const Shape& body, double rest,
                                  const Neighbours* neighbours) noexcept {
  const Faces faces = faces_of(solid, body.box);
  const Path still{feet};
  const Lie lie = Approach(still, faces, rest).lie_at(feet);
  const bool is_sharp =
      lie.gap + rest <= 0 || is_beside(faces, lie.normal, feet) ||
      stands_alone(square_corner(solid, body.box, feet), solid, body.box, neighbours);
  return is_sharp ? lie : lie_around(feet, solid, body, rest);
}

BUSHBABY_APART double leaves_round(const Path& path, const Convex& solid, const Shape& body,
                                   double rest) noexcept {
  RoundRegion region(solid, core_of(body));
  const double out = body.radius + rest;
  region.add_tangent(path.from);
  for (;;) {
    const double time = Approach(path, region.faces, out).leaves(0);
    const Vec place = place_at(path, smaller(time, path.duration));
    if (region.lie_at(place).gap <= out + 1e-9 * (body.radius + rest)) return time;
    if (!region.add_tangent(place)) return time;
  }
}

}  // namespace

bool meet(const Passage& passage, const Convex& solid, const Shape& body, const Berth& berth,
          Meeting& meeting) noexcept {
  if (body.radius > 0) return meet_round(passage, solid, body, berth, meeting);
  return solid.is_box() && !solid.is_one_sided()
             ? meet_box(passage, solid.bounds, body.box, berth, meeting)
             : meet_polygon(passage, solid, body.box, berth, meeting);
}

Lie lie_of(Vec feet, const Convex& solid, const Shape& body, double rest,
           const Neighbours* neighbours) noexcept {
  Lie lie = body.radius > 0   ? lie_around(feet, solid, body, rest)
            : !solid.is_box() ? lie_to_polygon(feet, solid, body, rest, neighbours)
                              : lie_in(places_near(solid.bounds, body.box, rest), feet);
  if (rarely(solid.is_one_sided()) && !holds(solid, lie, rest, rest)) lie.gap = kInfinite;
  return lie;
}

double gap_along(Vec normal, Vec feet, const Convex& solid, const Shape& body,
                 double rest) noexcept {
  const Box core = body.radius > 0 ? core_of(body) : body.box;
  return dot(normal, feet) - farthest(solid, normal) - reach_against(core, normal) -
         (body.radius + rest);
}

double leaves_at(const Path& path, const Convex& solid, const Shape& body, double rest,
                 const Neighbours* neighbours) noexcept {
  if (body.radius > 0) return leaves_round(path, solid, body, rest);
  if (!solid.is_box()) {
    const Faces faces = faces_of(solid, body.box);
    const double time = Approach(path, faces, rest).leaves(0);
    const Vec place = place_at(path, smaller(time, path.duration));
    const Path still{place};
    const Lie lie = Approach(still, faces, rest).lie_at(place);
    const bool is_sharp =
        is_beside(faces, lie.normal, place) ||
        stands_alone(square_corner(solid, body.box, place), solid, body.box, neighbours);
    return is_sharp ? time : leaves_round(path, solid, body, rest);
  }
  const Box places = places_near(solid.bounds, body.box, rest);
  const Vec to = place_at(path, path.duration);
  const auto& [from, v, a, duration] = path;
  return smaller(between({from.x, to.x, v.x, a.x, duration}, places.lo.x, places.hi.x).leave,
                 between({from.y, to.y, v.y, a.y, duration}, places.lo.y, places.hi.y).leave);
}

Vec slide_along(Vec vector, Vec normal) noexcept {
  const double into = dot(vector, normal);
  if (!(into < 0)) return vector;
  Vec slid = subtract(vector, scale(normal, into));
  // Rounding may leave a little of it.
  for (double push = -dot(slid, normal); dot(slid, normal) < 0; push = 2 * push) {
    slid = add(slid, scale(normal, push));
  }
  return slid;
}

}  // namespace bushbaby::detail
