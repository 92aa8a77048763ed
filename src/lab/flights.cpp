#include "flights.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace bushbaby::detail {
namespace {

// Of the standing before a flight N points count, s.
constexpr double kStandingCounts = 0.2;

double median(std::vector<double> values) {
  if (values.empty()) return 0;
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

// What is read off the heights around each point.
struct Climb {
  std::vector<double> speed;  // u/s vertically
  std::vector<double> error;  // its standard error
  double fastest = 0;         // the largest magnitude
};

class FlightFinder {
 public:
  explicit FlightFinder(const Recording& recording) : recording_(recording) {
    for (const RecordedPoint& point : recording.points) {
      times_.push_back(point.time);
      heights_.push_back(point.feet.y);
    }
    const auto [low, high] = std::minmax_element(heights_.begin(), heights_.end());
    // What is smaller than this is no motion, be there noise or not.
    constexpr double kNoMotion = 2e-4;
    found_.scatter = noise_of(times_, heights_);
    found_.noise = std::max(found_.scatter, kNoMotion * (*high - *low));
    read_climb();
  }

  Flights find() {
    find_standing();
    const std::size_t count = times_.size();
    std::size_t i = 0;
    while (i < count) {
      if (found_.standing[i]) {
        ++i;
        continue;
      }
      std::size_t end = i;
      while (end < count && !found_.standing[end]) ++end;
      add_flight(i, end);
      i = end;
    }
    return std::move(found_);
  }

 private:
  void read_climb() {
    for (const LocalFit& fit : fit_around_each(times_, heights_, kReach)) {
      climb_.speed.push_back(fit.slope);
      climb_.error.push_back(fit.slope_error * found_.noise);
      climb_.fastest = std::max(climb_.fastest, std::abs(fit.slope));
    }
  }

  void find_standing() {
    const std::size_t count = times_.size();
    found_.standing.assign(count, false);
    if (recording_.has_ground) {
      for (std::size_t i = 0; i < count; ++i) {
        found_.standing[i] = recording_.points[i].grounded;
      }
      return;
    }
    // What hardly moves up or down stands, unless it rose before: then that is an apex.
    constexpr double kStill = 0.06;
    constexpr double kAtMost = 0.3;
    std::vector<bool> still(count);
    for (std::size_t i = 0; i < count; ++i) {
      const double least =
          std::clamp(4 * climb_.error[i], kStill * climb_.fastest, kAtMost * climb_.fastest);
      still[i] = std::abs(climb_.speed[i]) <= least;
    }
    constexpr std::size_t kLeast = 3;
    for (std::size_t i = 0; i < count; ++i) {
      if (!still[i]) continue;
      std::size_t end = i;
      while (end < count && still[end]) ++end;
      const bool rose = i > 0 && climb_.speed[i - 1] > 0;
      if (!rose && end - i >= kLeast) stand(i, end);
      i = end;
    }
  }

  // Marks points as standing, and those beside them at the same height.
  void stand(std::size_t first, std::size_t end) {
    const double level = level_of(first, end);
    constexpr double kSame = 3.5;
    const auto is_level = [&](std::size_t i) {
      return std::abs(heights_[i] - level) <= kSame * found_.noise;
    };
    while (first > 0 && is_level(first - 1)) --first;
    while (end < times_.size() && is_level(end)) ++end;
    for (std::size_t i = first; i < end; ++i) found_.standing[i] = is_level(i);
  }

  [[nodiscard]] double level_of(std::size_t first, std::size_t end) const {
    return median({heights_.begin() + static_cast<std::ptrdiff_t>(first),
                   heights_.begin() + static_cast<std::ptrdiff_t>(end)});
  }

  // The flight of the points from `first` to before `end`, none of which stands.
  void add_flight(std::size_t first, std::size_t end) {
    constexpr std::size_t kLeast = 3;
    if (end - first < kLeast) return;
    Flight flight;
    flight.begins_in_air = first == 0;
    flight.leaves = first == 0 ? 0 : first - 1;
    flight.first = first_standing(flight.leaves);
    flight.ground = level_of(flight.first, flight.leaves + 1);
    flight.last = end - 1;
    cut_short(flight, first);
    const auto from = heights_.begin();
    const double top = *std::max_element(from + static_cast<std::ptrdiff_t>(first),
                                         from + static_cast<std::ptrdiff_t>(flight.last) + 1);
    constexpr double kRises = 5;
    flight.jumps = top > flight.ground + kRises * found_.noise;
    if (flight.last < first + kLeast - 1) return;
    if (flight.begins_in_air &&
        !(climb_.speed[0] > 0 && found_.flights.empty() && end == times_.size())) {
      found_.begun.push_back(times_[0]);
      return;
    }
    // Nothing that is tuned flies for so long, and each trial would.
    constexpr double kLongest = 10;  // s
    if (times_[flight.last] - times_[flight.leaves] > kLongest) {
      found_.endless.push_back(times_[flight.leaves]);
      return;
    }
    read_button(flight);
    found_.flights.push_back(flight);
  }

  // The first of the points before a flight that count as standing: those at one height. The last
  // of them may have been taken just after the take-off.
  [[nodiscard]] std::size_t first_standing(std::size_t leaves) const {
    constexpr double kLevel = 4;
    std::size_t first = leaves;
    while (first > 0 && found_.standing[first - 1] &&
           times_[leaves] - times_[first - 1] <= kStandingCounts) {
      --first;
    }
    const double level = level_of(first, leaves + 1);
    while (first < leaves && std::abs(heights_[first] - level) > kLevel * found_.noise) ++first;
    return first;
  }

  // Ends a flight where its vertical speed grows: gravity does not do that.
  void cut_short(Flight& flight, std::size_t first) {
    constexpr std::size_t kApart = 4;
    constexpr double kGrows = 6;
    constexpr double kShare = 0.12;
    // Not where it leaves and lands, which the speeds beside it are read off as well.
    for (std::size_t i = first + kApart; i + kApart <= flight.last; ++i) {
      if (times_[i] - kReach <= times_[flight.leaves]) continue;
      if (times_[i + kApart - 1] + kReach >= times_[flight.last]) return;
      const double grows = climb_.speed[i + kApart - 1] - climb_.speed[i];
      const double error = std::hypot(climb_.error[i + kApart - 1], climb_.error[i]);
      if (grows <= kGrows * error + kShare * climb_.fastest) continue;
      flight.last = i - 2;
      found_.lifted.push_back(times_[i]);
      return;
    }
  }

  void read_button(Flight& flight) {
    if (!recording_.has_jump || !flight.jumps) return;
    const auto& points = recording_.points;
    // It may be reported a point early or late, or with the tick that it moves, which is drawn from
    // its start on.
    constexpr double kTick = 0.025;  // s
    std::size_t down = std::min(flight.leaves + 2, flight.last);
    while (down < flight.last && times_[down + 1] <= times_[flight.leaves] + kTick) ++down;
    while (down > flight.first && !points[down].jump) --down;
    if (!points[down].jump) return;
    std::size_t up = down;
    while (up < flight.last && points[up + 1].jump) ++up;
    flight.released = up >= flight.last ? kHeldThrough : times_[up];
    while (down > 0 && points[down - 1].jump) --down;
    flight.pressed = down > 0 ? times_[down - 1] : times_[0];
  }

  const Recording& recording_;
  std::vector<double> times_;
  std::vector<double> heights_;
  Climb climb_;
  Flights found_;
};

}  // namespace

LocalFit fit_parabola(const std::vector<double>& times, const std::vector<double>& values,
                      std::size_t first, std::size_t end, double at) {
  const auto n = static_cast<Eigen::Index>(end - first);
  // Around `at`, and in spans of the points, so that no power is small or large.
  const double span = std::max(times[end - 1] - times[first], 1e-12);
  Eigen::MatrixX3d powers(n, 3);
  Eigen::VectorXd heights(n);
  for (Eigen::Index i = 0; i < n; ++i) {
    const double t = (times[first + static_cast<std::size_t>(i)] - at) / span;
    powers.row(i) << 1, t, t * t;
    heights(i) = values[first + static_cast<std::size_t>(i)];
  }
  const auto solver = powers.colPivHouseholderQr();
  const Eigen::Vector3d found = solver.solve(heights);
  LocalFit fit;
  fit.slope = found(1) / span;
  fit.curvature = 2 * found(2) / (span * span);
  fit.squares = (powers * found - heights).squaredNorm();
  const Eigen::Matrix3d normal = powers.transpose() * powers;
  fit.slope_error = std::sqrt(std::max(0.0, normal.inverse()(1, 1))) / span;
  return fit;
}

double spacing_of(const std::vector<double>& times) {
  std::vector<double> spacings;
  for (std::size_t i = 1; i < times.size(); ++i) spacings.push_back(times[i] - times[i - 1]);
  return median(std::move(spacings));
}

double noise_of(const std::vector<double>& times, const std::vector<double>& values) {
  constexpr std::size_t kWindow = 5;
  constexpr double kGap = 3;
  const double gap = kGap * spacing_of(times);
  std::vector<double> squares;
  for (std::size_t i = 0; i + kWindow <= times.size(); ++i) {
    bool whole = true;
    for (std::size_t k = i + 1; k < i + kWindow; ++k) {
      whole = whole && times[k] - times[k - 1] <= gap;
    }
    if (!whole) continue;
    squares.push_back(fit_parabola(times, values, i, i + kWindow, times[i + 2]).squares);
  }
  // Five points less three numbers: chi-squared of two, whose median is 2 ln 2.
  return std::sqrt(median(std::move(squares)) / (2 * std::log(2.0)));
}

namespace {

// The fit around point i; what lies more than `gap` s apart is omitted.
LocalFit fit_around(const std::vector<double>& times, const std::vector<double>& values,
                    std::size_t i, double reach, double gap) {
  constexpr std::size_t kBeside = 2;
  std::size_t first = i;
  while (first > 0 && times[first] - times[first - 1] <= gap &&
         (i - first < kBeside || times[i] - times[first - 1] <= reach)) {
    --first;
  }
  std::size_t end = i + 1;
  while (end < times.size() && times[end] - times[end - 1] <= gap &&
         (end - i <= kBeside || times[end] - times[i] <= reach)) {
    ++end;
  }
  // Beside a gap, or an end, it is the points on the other side that make it whole.
  constexpr std::size_t kLeast = 4;
  while (end - first < kLeast && (first > 0 || end < times.size())) {
    if (first > 0) --first;
    if (end - first < kLeast && end < times.size()) ++end;
  }
  return fit_parabola(times, values, first, end, times[i]);
}

}  // namespace

std::vector<LocalFit> fit_around_each(const std::vector<double>& times,
                                      const std::vector<double>& values, double reach) {
  constexpr double kGap = 3;
  const double gap = kGap * spacing_of(times);
  std::vector<LocalFit> fits;
  fits.reserve(times.size());
  for (std::size_t i = 0; i < times.size(); ++i) {
    fits.push_back(fit_around(times, values, i, reach, gap));
  }
  return fits;
}

Flights find_flights(const Recording& recording) { return FlightFinder(recording).find(); }

}  // namespace bushbaby::detail
