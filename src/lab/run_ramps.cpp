#include "run_ramps.h"

#include <Eigen/Core>
#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

#include "covariance.h"
#include "least_squares.h"

namespace bushbaby::detail {
namespace {

// A stretch of one speed.
struct Steady {
  std::size_t first = 0;
  std::size_t end = 0;  // past its last point
  double speed = 0;     // u/s
  double error = 0;
};

struct Line {
  double slope = 0;
  double error = 0;  // of the slope, for a noise of 1
};

Line fit_line(const std::vector<double>& times, const std::vector<double>& values,
              std::size_t first, std::size_t end) {
  const auto n = static_cast<double>(end - first);
  double mean_time = 0;
  double mean_value = 0;
  for (std::size_t i = first; i < end; ++i) {
    mean_time += times[i] / n;
    mean_value += values[i] / n;
  }
  double spread = 0;
  double product = 0;
  for (std::size_t i = first; i < end; ++i) {
    spread += (times[i] - mean_time) * (times[i] - mean_time);
    product += (times[i] - mean_time) * (values[i] - mean_value);
  }
  return {product / spread, 1 / std::sqrt(spread)};
}

// How a speed goes from one value to another.
enum class RampShape { rate, lag };

// The numbers of a ramp: where it is at its begin, both speeds, when it begins, and how fast it
// goes; in a turn, how fast after it has come to rest as well.
struct Ramp {
  double place, from, to, begin, speed, speed_after;
  bool turns;  // comes to rest between the two
};

// The way covered from `begin` on.
double way_at(const Ramp& ramp, RampShape shape, double time) {
  const double t = time - ramp.begin;
  if (t <= 0) return ramp.place + ramp.from * t;
  if (shape == RampShape::lag) {
    // v = to + (from − to)·e^(−t/lag)
    const double lag = ramp.speed;
    return ramp.place + ramp.to * t + (ramp.from - ramp.to) * lag * -std::expm1(-t / lag);
  }
  const auto towards = [](double place, double from, double to, double rate, double after) {
    const double lasts = std::abs(to - from) / rate;
    const double sign = to > from ? 1 : -1;
    const double within = std::min(after, lasts);
    return place + from * within + sign * rate * within * within / 2 + to * (after - within);
  };
  if (!ramp.turns) return towards(ramp.place, ramp.from, ramp.to, ramp.speed, t);
  const double stops = std::abs(ramp.from) / ramp.speed;
  const double stopped = std::min(t, stops);
  const double there = towards(ramp.place, ramp.from, 0, ramp.speed, stopped);
  return t <= stops ? there : towards(there, 0, ramp.to, ramp.speed_after, t - stops);
}

struct RampFit {
  Ramp ramp{};
  double squares = 0;
  std::size_t points = 0;
  std::size_t numbers = 0;
  double speed_error = 0;
  double speed_after_error = 0;
  bool ok = false;
};

RampFit fit_ramp(const std::vector<double>& times, const std::vector<double>& places,
                 std::size_t first, std::size_t end, const Ramp& guess, RampShape shape) {
  const bool turns = shape == RampShape::rate && guess.turns;
  LeastSquares problem;
  problem.start = {guess.place, guess.from, guess.to, guess.begin, guess.speed};
  if (turns) problem.start.push_back(guess.speed_after);
  const double far = std::numeric_limits<double>::max();
  problem.lo.assign(problem.start.size(), -far);
  problem.hi.assign(problem.start.size(), far);
  const double span = times[end - 1] - times[first];
  problem.lo[3] = times[first] - span;
  problem.hi[3] = times[end - 1];
  constexpr double kFar = 1000;
  for (std::size_t i = 4; i < problem.start.size(); ++i) {
    problem.lo[i] = problem.start[i] / kFar;
    problem.hi[i] = problem.start[i] * kFar;
  }
  const auto ramp_of = [turns](const std::vector<double>& x) {
    return Ramp{x[0], x[1], x[2], x[3], x[4], turns ? x[5] : x[4], turns};
  };
  problem.residuals = end - first;
  problem.evaluate = [&](const std::vector<double>& x) -> std::optional<std::vector<double>> {
    std::vector<double> left;
    const Ramp ramp = ramp_of(x);
    for (std::size_t i = first; i < end; ++i) {
      left.push_back(places[i] - way_at(ramp, shape, times[i]));
    }
    return left;
  };
  const double speed = std::abs(guess.to) + std::abs(guess.from);
  problem.probe = [&](std::size_t i, double at) {
    constexpr double kStep = 1e-6;
    const double size = i == 3 ? span : i < 3 ? std::max(speed, std::abs(at)) : at;
    return at + kStep * size;
  };
  constexpr int kRounds = 60;
  problem.most_rounds = kRounds;
  const std::vector<double> x = minimise(problem);
  RampFit fit;
  const auto left = problem.evaluate(x);
  fit.ramp = ramp_of(x);
  fit.points = end - first;
  fit.numbers = x.size();
  for (const double one : *left) fit.squares += one * one;
  if (fit.points <= fit.numbers) return fit;
  const std::vector<std::vector<double>> by_number = slopes_at(problem, x, *left);
  Eigen::MatrixXd slopes(static_cast<Eigen::Index>(fit.points),
                         static_cast<Eigen::Index>(fit.numbers));
  for (std::size_t i = 0; i < fit.numbers; ++i) {
    slopes.col(static_cast<Eigen::Index>(i)) =
        Eigen::Map<const Eigen::VectorXd>(by_number[i].data(), slopes.rows());
  }
  const Eigen::MatrixXd covariance = covariance_of(slopes);
  const double noise = std::sqrt(fit.squares / static_cast<double>(fit.points - fit.numbers));
  const auto error_of = [&](Eigen::Index i) {
    return noise * std::sqrt(std::max(0.0, covariance(i, i)));
  };
  fit.speed_error = error_of(4);
  if (turns) fit.speed_after_error = error_of(5);
  fit.ok = std::isfinite(fit.speed_error);
  return fit;
}

class RunReader {
 public:
  RunReader(const Recording& recording, const std::vector<bool>& standing)
      : recording_(recording), standing_(standing) {
    for (const RecordedPoint& point : recording.points) {
      times_.push_back(point.time);
      places_.push_back(point.feet.x);
    }
    for (const LocalFit& fit : fit_around_each(times_, places_, kReach)) {
      found_.fastest = std::max(found_.fastest, std::abs(fit.slope));
    }
    const double span = times_.back() - times_.front();
    constexpr double kLeast = 1e-6;
    noise_ = std::max(noise_of(times_, places_), kLeast * found_.fastest * span);
  }

  RunReadings read() {
    find_steady();
    for (const Steady& steady : steady_) {
      if (std::abs(steady.speed) >= kTop * top() && full(steady)) {
        found_.top_speed.push_back({std::abs(steady.speed), steady.error});
      }
    }
    for (std::size_t i = 1; i < steady_.size(); ++i) read_ramp(steady_[i - 1], steady_[i]);
    return std::move(found_);
  }

 private:
  static constexpr double kTop = 0.96;
  static constexpr double kRest = 0.12;

  [[nodiscard]] double top() const {
    double top = 0;
    for (const Steady& steady : steady_) top = std::max(top, std::abs(steady.speed));
    return top;
  }

  // Whether the whole direction was held, as far as that is known.
  [[nodiscard]] bool full(const Steady& steady) const {
    if (!recording_.has_run) return true;
    constexpr double kWhole = 0.99;
    return std::abs(recording_.points[(steady.first + steady.end) / 2].run) > kWhole;
  }

  // Whether the speed changes by so little from `first` to before `end` that it is one.
  [[nodiscard]] bool is_steady(std::size_t first, std::size_t end) const {
    constexpr double kShare = 0.2;
    constexpr double kErrors = 3;
    const std::size_t n = end - first;
    const double lasts = times_[end - 1] - times_[first];
    const LocalFit fit = fit_parabola(times_, places_, first, end, times_[first]);
    // Of n even points over that time, the error of a second derivative.
    const double error = noise_ * std::sqrt(720.0 / static_cast<double>(n)) / (lasts * lasts);
    const double bends = std::abs(fit.curvature);
    return bends <= kErrors * error + 1e-9 * found_.fastest / lasts &&
           (bends + 2 * error) * lasts <= kShare * found_.fastest &&
           fit.squares <= kErrors * kErrors * noise_ * noise_ * static_cast<double>(n);
  }

  void find_steady() {
    constexpr std::size_t kLeast = 4;
    constexpr double kGap = 4;
    const double gap = kGap * spacing_of(times_);
    std::size_t first = 0;
    while (first + kLeast <= times_.size()) {
      // The shortest stretch from here that shows that it is one, then as far as it goes.
      std::size_t end = first + kLeast;
      constexpr double kLongest = 0.5;  // s, for the shortest
      bool steady = false;
      for (; end <= times_.size() && times_[end - 1] - times_[end - 2] <= gap; ++end) {
        steady = is_steady(first, end);
        if (steady || times_[end - 1] - times_[first] > kLongest) break;
      }
      if (!steady) {
        ++first;
        continue;
      }
      while (end < times_.size() && times_[end] - times_[end - 1] <= gap &&
             is_steady(first, end + 1)) {
        ++end;
      }
      add_steady(first, end);
      first = end;
    }
  }

  void add_steady(std::size_t first, std::size_t end) {
    // What it reaches into beside it is omitted.
    constexpr std::size_t kTrim = 2;
    const std::size_t trim = std::min(kTrim, (end - first - 2) / 2);
    const std::size_t from = first == 0 ? first : first + trim;
    const std::size_t to = end == times_.size() ? end : end - trim;
    const Line line = fit_line(times_, places_, from, to);
    const double error = line.error * noise_;
    // The same speed as before, with a bit of noise between, is the same stretch.
    if (!steady_.empty()) {
      Steady& last = steady_.back();
      const double apart = std::abs(last.speed - line.slope);
      if (apart < 4 * std::hypot(error, last.error) + 0.02 * found_.fastest &&
          last.end + 4 >= from) {
        const Line whole = fit_line(times_, places_, last.first, to);
        last = {last.first, to, whole.slope, whole.error * noise_};
        return;
      }
    }
    steady_.push_back({from, to, line.slope, error});
  }

  void read_ramp(const Steady& before, const Steady& after) {
    const double rest = kRest * top();
    const double from = before.speed;
    const double to = after.speed;
    const bool from_rest = std::abs(from) < rest;
    const bool to_rest = std::abs(to) < rest;
    if (from_rest && to_rest) return;
    const bool turns = !from_rest && !to_rest && from * to < 0;
    if (!from_rest && !to_rest && !turns) return;  // between Sprint
    // On the ground or in the air, all of it.
    const auto there = [this](std::size_t i) { return standing_[i]; };
    std::size_t grounded = 0;
    for (std::size_t i = before.end - 1; i <= after.first; ++i) {
      if (there(i)) ++grounded;
    }
    const std::size_t all = after.first - before.end + 2;
    if (grounded != 0 && grounded != all) return;
    constexpr std::size_t kBeside = 12;
    const std::size_t first =
        std::max(before.first, before.end > kBeside ? before.end - kBeside : 0);
    const std::size_t end = std::min(after.end, after.first + kBeside);
    const double lasts =
        std::max(times_[after.first] - times_[before.end - 1], 0.5 * spacing_of(times_));
    RampKind kind = turns ? RampKind::turn : to_rest ? RampKind::brake : RampKind::accelerate;
    RampReadings& readings =
        (grounded != 0 ? found_.ground : found_.air)[static_cast<std::size_t>(kind)];
    const RampFit by_rate = best_fit(first, end, before, from, to, lasts, turns, RampShape::rate);
    const RampFit by_lag = best_fit(first, end, before, from, to, lasts, turns, RampShape::lag);
    if (!by_rate.ok) return;
    const double took = std::abs(turns ? from : to - from) / by_rate.ramp.speed;
    if (took < spacing_of(times_)) {
      ++readings.at_once;
      return;
    }
    // Where speeds are given at points alone, a ramp ends within the last part of one.
    const double points = took / spacing_of(times_);
    const double partly = 0.5 / (points * points);
    const auto error_of = [partly](double speed, double error) {
      return std::hypot(error, partly * speed);
    };
    readings.rate.push_back(
        {by_rate.ramp.speed, error_of(by_rate.ramp.speed, by_rate.speed_error)});
    if (by_lag.ok) readings.lag.push_back({by_lag.ramp.speed, by_lag.speed_error});
    found_.rate_score += score_of(by_rate);
    found_.lag_score += by_lag.ok ? score_of(by_lag) : 1e6;
    if (turns) {
      RampReadings& onward =
          (grounded != 0 ? found_.ground
                         : found_.air)[static_cast<std::size_t>(RampKind::accelerate)];
      onward.rate.push_back({by_rate.ramp.speed_after,
                             error_of(by_rate.ramp.speed_after, by_rate.speed_after_error)});
    }
  }

  [[nodiscard]] double score_of(const RampFit& fit) const {
    const auto n = static_cast<double>(fit.points);
    const double least = 1e-5 * found_.fastest;
    return n * std::log(fit.squares / n + least * least * 1e-4) +
           static_cast<double>(fit.numbers) * std::log(n);
  }

  // From the best few of many places where it may begin, and times that it may take.
  [[nodiscard]] RampFit best_fit(std::size_t first, std::size_t end, const Steady& before,
                                 double from, double to, double lasts, bool turns,
                                 RampShape shape) const {
    struct Start {
      Ramp ramp;
      double squares;
    };
    std::vector<Start> starts;
    const double earliest = times_[before.end - 1];
    constexpr int kBegins = 9;
    for (int i = -2; i < kBegins; ++i) {
      const double begin = earliest + lasts * i / kBegins;
      for (double took = 0.5 * spacing_of(times_); took < 2.5 * lasts; took *= 1.4) {
        const double speed = shape == RampShape::lag ? took / 3 : std::abs(to - from) / took;
        Ramp ramp{places_[before.end - 1] + from * (begin - earliest),
                  from,
                  to,
                  begin,
                  speed,
                  turns ? speed : 0,
                  turns && shape == RampShape::rate};
        Start start{ramp, 0};
        for (std::size_t k = first; k < end; ++k) {
          const double off = places_[k] - way_at(ramp, shape, times_[k]);
          start.squares += off * off;
        }
        starts.push_back(start);
      }
    }
    std::sort(starts.begin(), starts.end(),
              [](const Start& a, const Start& b) { return a.squares < b.squares; });
    constexpr std::size_t kTries = 6;
    RampFit best;
    for (std::size_t i = 0; i < std::min(kTries, starts.size()); ++i) {
      const RampFit fit = fit_ramp(times_, places_, first, end, starts[i].ramp, shape);
      if (fit.ok && (!best.ok || fit.squares < best.squares)) best = fit;
    }
    return best;
  }

  const Recording& recording_;
  const std::vector<bool>& standing_;
  std::vector<double> times_, places_;
  double noise_ = 0;
  std::vector<Steady> steady_;
  RunReadings found_;
};

}  // namespace

RunReadings read_run(const Recording& recording, const std::vector<bool>& standing) {
  return RunReader(recording, standing).read();
}

Reading pooled(const std::vector<Reading>& readings) {
  double weights = 0;
  double sum = 0;
  constexpr double kLeast = 1e-7;
  const auto error_of = [](const Reading& one) {
    return std::max(one.error, kLeast * std::abs(one.value));
  };
  for (const Reading& one : readings) {
    const double weight = 1 / (error_of(one) * error_of(one));
    weights += weight;
    sum += weight * one.value;
  }
  Reading mean{sum / weights, 1 / std::sqrt(weights)};
  if (readings.size() < 2) return mean;
  double scatter = 0;
  for (const Reading& one : readings) {
    const double off = (one.value - mean.value) / error_of(one);
    scatter += off * off / static_cast<double>(readings.size() - 1);
  }
  mean.error *= std::sqrt(std::max(1.0, scatter));
  return mean;
}

}  // namespace bushbaby::detail
