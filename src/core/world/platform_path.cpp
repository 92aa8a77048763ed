#include "bushbaby/core/world/platform_path.h"

#include <algorithm>
#include <cmath>

#include "core/shape/arithmetic.h"

namespace bushbaby {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

namespace {

// The share of a run's length that lies behind after a share of its time: it speeds up for half of
// it and slows down for the other, as a cubic does that begins and ends at rest.
double gentle_share(double x) noexcept { return x * x * (3 - 2 * x); }

double distance(Vec a, Vec b) noexcept {
  const Vec way = subtract(b, a);
  return std::sqrt(dot(way, way));
}

// A place where a moving platform changes its way.
struct Node {
  double at;     // u along the way
  double rests;  // s
  bool turns;    // back the way it came
};

}  // namespace

double length_of(const PlatformPath& path) noexcept {
  double length = 0;
  Vec before{0, 0};
  for (const Vec stop : path.stops) {
    length = length + distance(before, stop);
    before = stop;
  }
  return path.loop ? length + distance(before, {0, 0}) : length;
}

double wait_at(const PlatformPath& path, std::size_t stop) noexcept {
  const std::vector<double>& waits = path.waits;
  const std::size_t last = path.stops.size();
  if (waits.empty()) return 0;
  if (waits.size() == 1) return waits[0];
  if (waits.size() == last + 1) return waits[stop];
  return stop == 0 ? waits[0] : stop == last ? waits[1] : 0;
}

std::optional<PathFault> find_fault(const PlatformPath& path) noexcept {
  constexpr double kNearest = 1e-9;  // u
  constexpr double kLongest = 1e12;  // s
  if (path.stops.empty()) return PathFault::no_stops;
  Vec before{0, 0};
  for (const Vec stop : path.stops) {
    if (!std::isfinite(stop.x) || !std::isfinite(stop.y)) return PathFault::bad_place;
    if (!(distance(before, stop) >= kNearest)) return PathFault::stop_twice;
    before = stop;
  }
  if (path.loop && !(distance(before, {0, 0}) >= kNearest)) return PathFault::stop_twice;
  const double lasts = length_of(path) / path.speed;
  if (!(path.speed > 0) || !(lasts > 0) || !(lasts <= kLongest)) return PathFault::bad_speed;
  const std::size_t waits = path.waits.size();
  const bool of_ends = waits == 2 && !path.loop;
  if (waits > 1 && !of_ends && waits != path.stops.size() + 1) return PathFault::wrong_waits;
  for (const double wait : path.waits) {
    if (!(wait >= 0) || !std::isfinite(wait)) return PathFault::bad_wait;
  }
  return std::isfinite(path.offset) ? std::nullopt : std::optional{PathFault::bad_wait};
}

Timetable::Timetable(const PlatformPath& path) {
  const std::size_t last = path.stops.size();  // the stop where it is drawn has number 0
  std::vector<std::size_t> stops;
  for (std::size_t i = 0; i <= last; ++i) stops.push_back(i);
  for (std::size_t i = last; !path.loop && i-- > 1;) stops.push_back(i);

  std::vector<Node> nodes;
  double length = 0;
  for (const std::size_t stop : stops) {
    const Vec place = stop == 0 ? Vec{0, 0} : path.stops[stop - 1];
    if (!way_.empty()) length = length + distance(way_.back(), place);
    way_.push_back(place);
    lengths_.push_back(length);
    nodes.push_back({length, wait_at(path, stop), !path.loop && (stop == 0 || stop == last)});
  }
  bounds_ = bounds_of(way_.data(), way_.size());
  length = length + distance(way_.back(), {0, 0});
  way_.emplace_back(0, 0);
  lengths_.push_back(length);

  // From rest to rest, beginning with the first place of rest, if there is one.
  nodes.erase(std::remove_if(nodes.begin(), nodes.end(),
                             [](const Node& node) { return !node.turns && node.rests == 0; }),
              nodes.end());
  eases_ = path.ease && !nodes.empty();
  if (nodes.empty()) nodes.push_back({0, 0, false});
  for (std::size_t i = 0; i < nodes.size(); ++i) {
    const double to = i + 1 < nodes.size() ? nodes[i + 1].at : nodes[0].at + length;
    const double lasts = (to - nodes[i].at) / path.speed;
    runs_.push_back({period_, nodes[i].rests, lasts, nodes[i].at, to});
    period_ = period_ + (nodes[i].rests + lasts);
  }
  ahead_ = time_at_start() + path.offset;
}

double Timetable::length_in(const Run& run, double time) const noexcept {
  const double on_the_way = larger(time - run.begins - run.rests, 0);
  const double share = smaller(on_the_way / run.lasts, 1);
  return run.from + (run.to - run.from) * (eases_ ? gentle_share(share) : share);
}

// When it comes by the place where it is drawn. If it does not rest there, that is within the last
// run, and found by halving.
double Timetable::time_at_start() const noexcept {
  if (runs_.front().from == 0) return 0;
  const Run& run = runs_.back();
  const double length = lengths_.back();
  double before = run.begins + run.rests;
  double after = before + run.lasts;
  for (;;) {
    const double middle = before + (after - before) / 2;
    if (!(middle > before && middle < after)) return after;
    (length_in(run, middle) < length ? before : after) = middle;
  }
}

Vec Timetable::place_along(double length) const noexcept {
  if (length >= lengths_.back()) length = length - lengths_.back();
  const auto next = std::upper_bound(lengths_.begin(), lengths_.end() - 1, length);
  const auto i = static_cast<std::size_t>(next - lengths_.begin());
  const double share = (length - lengths_[i - 1]) / (lengths_[i] - lengths_[i - 1]);
  return add(way_[i - 1], scale(subtract(way_[i], way_[i - 1]), share));
}

Vec Timetable::place_at(double time) const noexcept {
  double now = std::fmod(time + ahead_, period_);
  if (now < 0) now = now + period_;
  const auto later = std::upper_bound(runs_.begin(), runs_.end(), now,
                                      [](double t, const Run& run) { return t < run.begins; });
  const Run& run = later == runs_.begin() ? runs_.front() : *(later - 1);
  return place_along(length_in(run, now));
}

}  // namespace bushbaby
