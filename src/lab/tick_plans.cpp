#include "tick_plans.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <utility>

namespace bushbaby::detail {
namespace {

// The first tick that a gravity holds for: that of the rise after what is sustained, that of the
// band before and after the top, that of the fall.
struct Plan {
  int rises = 0;
  int enters = 0;
  int tops = 0;
  int leaves = 0;
};

struct Planned {
  FlightConstants constants;
  double squares = 0;
};

// Launch speed, and the accelerations of rise, band rising, band falling and fall.
using Vector5 = Eigen::Matrix<double, 5, 1>;
using Matrix5 = Eigen::Matrix<double, 5, 5>;

// How heights depend on the launch speed and on the acceleration of each tick, over all points,
// each track over its own ground; and how far along its curve, where its take-off is a number of
// the fit.
class Normals {
 public:
  Normals(const std::vector<Track>& full, const FlightConstants& near, const FlightClock& clock)
      : clock_(clock), later_(later_share(clock.integrator)) {
    Curves curves(near, clock, longest_of(full));
    for (const Track& track : full) {
      if (!track.flight.jumps) continue;
      if (const FlightCurve* curve = curves.of(track)) count_ticks(track, *curve, near);
    }
    // Files come from anybody: what is longer than any jump is not planned.
    constexpr int kMostTicks = 1000;
    constexpr std::size_t kMostPoints = 20000;
    if (ticks_ > kMostTicks || count_points(full) > kMostPoints) ticks_ = 0;
    if (ticks_ == 0) return;
    sums_ = Eigen::MatrixXd::Zero(ticks_ + 1, ticks_ + 1);
    right_ = Eigen::VectorXd::Zero(ticks_ + 1);
    for (const Track& track : full) {
      if (!track.flight.jumps) continue;
      if (const FlightCurve* curve = curves.of(track)) add(track, *curve);
    }
    accumulate();
  }

  [[nodiscard]] int ticks() const noexcept { return ticks_; }
  // What is left if accelerations change as planned, and the best ones, near those given.
  [[nodiscard]] double solve(const Plan& plan, Vector5& numbers) const {
    Matrix5 matrix;
    Vector5 right;
    const std::array<std::pair<int, int>, 5> ranges = {{{0, 1},
                                                        {plan.rises + 1, plan.enters + 1},
                                                        {plan.enters + 1, plan.tops + 1},
                                                        {plan.tops + 1, plan.leaves + 1},
                                                        {plan.leaves + 1, ticks_ + 1}}};
    for (int i = 0; i < 5; ++i) {
      const auto& [from, to] = ranges[static_cast<std::size_t>(i)];
      right(i) = right_sums_(to) - right_sums_(from);
      for (int j = 0; j <= i; ++j) {
        const auto& [left, end] = ranges[static_cast<std::size_t>(j)];
        matrix(i, j) = matrix(j, i) =
            sums_(to, end) - sums_(from, end) - sums_(to, left) + sums_(from, left);
      }
    }
    // The acceleration of the band falling follows from the others.
    constexpr int kRounds = 3;
    for (int round = 0; round < kRounds; ++round) {
      const double g = numbers(1);
      const double u = numbers(2);
      const double w = numbers(4);
      Eigen::Matrix<double, 5, 4> slopes = Eigen::Matrix<double, 5, 4>::Zero();
      slopes(0, 0) = slopes(1, 1) = slopes(2, 2) = slopes(4, 3) = 1;
      slopes(3, 1) = -u * w / (g * g);
      slopes(3, 2) = w / g;
      slopes(3, 3) = u / g;
      Eigen::Matrix4d normal = slopes.transpose() * matrix * slopes;
      const Eigen::Vector4d down = slopes.transpose() * (right - matrix * numbers);
      // What no tick reports stays as it is.
      normal.diagonal().array() += 1e-12 * normal.trace();
      const Eigen::Vector4d step = normal.ldlt().solve(down);
      numbers(0) += step(0);
      numbers(1) += step(1);
      numbers(2) += step(2);
      numbers(4) += step(3);
      if (!(numbers(0) > 0 && numbers(1) > 0 && numbers(2) > 0 && numbers(4) > 0)) {
        return std::numeric_limits<double>::infinity();
      }
      numbers(3) = numbers(2) * numbers(4) / numbers(1);
    }
    return squares_ - 2 * right.dot(numbers) + numbers.dot(matrix * numbers);
  }

 private:
  // Up to terminal speed, from which on nothing changes any more.
  [[nodiscard]] double lasts(const FlightCurve& curve, const FlightConstants& near) const {
    const double rate = clock_.tick_rate;
    if (near.terminal_speed > 0) {
      const std::vector<double>& heights = curve.heights();
      for (std::size_t i = 1; i < heights.size(); ++i) {
        if ((heights[i] - heights[i - 1]) * rate < -0.9 * near.terminal_speed) {
          return curve.times()[i - 1];
        }
      }
    }
    return std::numeric_limits<double>::infinity();
  }

  void count_ticks(const Track& track, const FlightCurve& curve, const FlightConstants& near) {
    end_ = std::min(end_, lasts(curve, near));
    const double last = std::min(track.times().back() - track.take_off, end_);
    ticks_ = std::max(ticks_, static_cast<int>(std::ceil(last * clock_.tick_rate - 1e-6)));
  }

  // How the height after N ticks depends on the acceleration of tick i, counted from 1.
  [[nodiscard]] double share(int tick, int after) const {
    const double dt = 1 / clock_.tick_rate;
    return after < tick ? 0 : -dt * dt * (after - tick + later_);
  }

  void add(const Track& track, const FlightCurve& curve) {
    std::vector<double> times;
    std::vector<double> heights;
    for (std::size_t i = 0; i < track.times().size(); ++i) {
      const double time = track.times()[i] - track.take_off;
      if (time > end_ + 1e-9) break;
      times.push_back(time);
      heights.push_back(track.heights()[i]);
    }
    const auto n = static_cast<Eigen::Index>(times.size());
    if (n < 3) return;
    Eigen::MatrixXd slopes = Eigen::MatrixXd::Zero(n, ticks_ + 1);
    Eigen::VectorXd tangent(n);
    Eigen::VectorXd height(n);
    for (Eigen::Index p = 0; p < n; ++p) {
      const double time = times[static_cast<std::size_t>(p)];
      height(p) = heights[static_cast<std::size_t>(p)];
      constexpr double kBeside = 1e-4;
      tangent(p) =
          (curve.height_at(time + kBeside) - curve.height_at(time - kBeside)) / (2 * kBeside);
      if (!(time > 0)) continue;
      slopes(p, 0) = time;
      const double ticks = time * clock_.tick_rate;
      const int before = static_cast<int>(ticks + 1e-6);
      const double part = std::max(0.0, ticks - before);
      for (int tick = 1; tick <= std::min(before + 1, ticks_); ++tick) {
        slopes(p, tick) = (1 - part) * share(tick, before) + part * share(tick, before + 1);
      }
    }
    const auto project = [&](auto&& column) {
      column.array() -= column.mean();
      if (moves_smoothly(track, clock_) && tangent.squaredNorm() > 0) {
        column -= tangent * (tangent.dot(column) / tangent.squaredNorm());
      }
    };
    tangent.array() -= tangent.mean();
    project(height);
    for (Eigen::Index k = 0; k <= ticks_; ++k) project(slopes.col(k));
    sums_ += slopes.transpose() * slopes;
    right_ += slopes.transpose() * height;
    squares_ += height.squaredNorm();
  }

  // Sums over ticks, so that those of a stretch of them are differences.
  void accumulate() {
    const Eigen::Index n = ticks_ + 1;
    Eigen::MatrixXd sums = Eigen::MatrixXd::Zero(n + 1, n + 1);
    right_sums_ = Eigen::VectorXd::Zero(n + 1);
    for (Eigen::Index i = 0; i < n; ++i) {
      right_sums_(i + 1) = right_sums_(i) + right_(i);
      for (Eigen::Index j = 0; j < n; ++j) {
        sums(i + 1, j + 1) = sums_(i, j) + sums(i, j + 1) + sums(i + 1, j) - sums(i, j);
      }
    }
    sums_ = std::move(sums);
  }

  FlightClock clock_;
  double later_;                                          // see later_share
  double end_ = std::numeric_limits<double>::infinity();  // s, up to which points count
  int ticks_ = 0;
  Eigen::MatrixXd sums_;
  Eigen::VectorXd right_, right_sums_;
  double squares_ = 0;
};

class Planner {
 public:
  Planner(const std::vector<Track>& full, const FlightConstants& near, const FlightClock& clock)
      : normals_(full, near, clock), near_(near), clock_(clock) {}

  std::vector<Planned> all() {
    if (normals_.ticks() < 4) return {};
    const double tick = near_.gravity / clock_.tick_rate;
    const int sustained = static_cast<int>(std::round(near_.sustain * clock_.tick_rate));
    const double slow = near_.band > 0 ? near_.band_gravity : 1;
    const double fast = std::max(0.0, near_.launch_speed - near_.band);
    const int tops =
        sustained + static_cast<int>((fast + (near_.launch_speed - fast) / slow) / tick);
    constexpr int kFar = 3;
    for (const int rises : starts_about(sustained)) {
      for (int top = std::max(rises + 1, tops - kFar); top <= tops + kFar + 1; ++top) {
        if (top + 1 < normals_.ticks()) with_top({rises, top, top, top});
      }
    }
    return std::move(planned_);
  }

 private:
  // The ticks that a launch may be sustained for: none, or about this many.
  static std::vector<int> starts_about(int sustained) {
    std::vector<int> starts{0};
    if (sustained == 0) return starts;
    constexpr int kFewer = 8;
    constexpr int kMore = 2;
    for (int ticks = std::max(1, sustained - kFewer); ticks <= sustained + kMore; ++ticks) {
      starts.push_back(ticks);
    }
    return starts;
  }

  void with_top(const Plan& plan) {
    if (!(near_.band > 0)) {
      take(plan);
      return;
    }
    for (int enters = plan.rises; enters <= plan.tops; ++enters) {
      // As long in the band on the way down, by what gravity there is.
      constexpr int kFar = 2;
      const double down = (plan.tops - enters) / near_.fall_factor;
      const int first = plan.tops + std::max(0, static_cast<int>(down) - kFar);
      for (int leaves = first; leaves <= first + 2 * kFar + 1 && leaves < normals_.ticks();
           ++leaves) {
        take({plan.rises, enters, plan.tops, leaves});
      }
    }
  }

  void take(const Plan& plan) {
    Vector5 numbers;
    const double band_gravity = near_.band > 0 ? near_.band_gravity : 1;
    numbers << near_.launch_speed, near_.gravity, near_.gravity * band_gravity,
        near_.gravity * band_gravity * near_.fall_factor, near_.gravity * near_.fall_factor;
    const double squares = normals_.solve(plan, numbers);
    if (!std::isfinite(squares)) return;
    Planned one{near_, squares};
    one.constants.launch_speed = numbers(0);
    one.constants.gravity = numbers(1);
    one.constants.fall_factor = numbers(4) / numbers(1);
    one.constants.sustain = plan.rises / clock_.tick_rate;
    if (near_.band > 0) one.constants.band_gravity = numbers(2) / numbers(1);
    if (agrees(plan, numbers, one.constants)) planned_.push_back(one);
  }

  // Whether gravity changes on those ticks, or nearly, under such speeds; sets the band.
  [[nodiscard]] bool agrees(const Plan& plan, const Vector5& numbers,
                            FlightConstants& constants) const {
    const double dt = 1 / clock_.tick_rate;
    const double slack = 0.3 * numbers(1) * dt;
    const double before_enters = numbers(0) - (plan.enters - plan.rises - 1) * numbers(1) * dt;
    const double enters = before_enters - numbers(1) * dt;
    const double tops = enters - (plan.tops - plan.enters) * numbers(2) * dt;
    const double before_tops = tops + (plan.tops > plan.enters ? numbers(2) : numbers(1)) * dt;
    if (tops > slack || before_tops < -slack) return false;
    if (!(near_.band > 0)) return true;
    const double leaves = tops - (plan.leaves - plan.tops) * numbers(3) * dt;
    const double before_leaves = leaves + numbers(3) * dt;
    double lo = plan.leaves > plan.enters ? std::max(0.0, enters) : 0;
    if (plan.leaves > plan.tops) lo = std::max(lo, -before_leaves);
    double hi = -leaves;
    if (plan.enters > plan.rises) hi = std::min(hi, before_enters);
    constexpr double kNone = 0.25;
    if (!(lo < hi + slack) || !(lo + hi > 2 * kNone * slack)) return false;
    constants.band = (lo + hi) / 2;
    return true;
  }

  Normals normals_;
  FlightConstants near_;
  FlightClock clock_;
  std::vector<Planned> planned_;
};

}  // namespace

std::vector<FlightConstants> plan_ticks(const std::vector<Track>& full, const FlightConstants& near,
                                        const FlightClock& clock, std::size_t most) {
  std::vector<Planned> planned = Planner(full, near, clock).all();
  std::stable_sort(planned.begin(), planned.end(),
                   [](const Planned& a, const Planned& b) { return a.squares < b.squares; });
  if (planned.size() > most) planned.resize(most);
  std::vector<FlightConstants> constants;
  constants.reserve(planned.size());
  for (const Planned& one : planned) constants.push_back(one.constants);
  return constants;
}

}  // namespace bushbaby::detail
