#include "flight_problem.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include <ceres/ceres.h>

#include "covariance.h"

namespace bushbaby::detail {
namespace {

// Bounds of a part, by the scale of the flights: their height (u) and the launch speed (u/s).
std::pair<double, double> bounds_of(Part part, CutStyle cut, const Scale& scale) {
  constexpr double kFar = 50;
  constexpr double kNear = 1e-3;
  switch (part) {
    case Part::launch: return {kNear * scale.speed, kFar * scale.speed};
    case Part::gravity: return {kNear * scale.gravity, kFar * scale.gravity};
    case Part::factor: return {0.02, kFar};
    case Part::terminal: return {0.02 * scale.speed, kFar * scale.speed};
    case Part::band: return {kNear * scale.speed, 2 * scale.speed};
    case Part::band_gravity: return {0.02, 5};
    case Part::sustain: return {0.004, 2};
    case Part::cut: break;
  }
  return cut == CutStyle::scale ? std::pair{0.0, 1.0} : std::pair{1.0, kFar};
}

// How far a part is moved to look for slopes.
double step_of(Part part, double value, const Scale& scale) {
  constexpr double kStep = 1e-6;
  switch (part) {
    case Part::launch:
    case Part::terminal:
    case Part::band: return kStep * scale.speed;
    case Part::gravity: return kStep * scale.gravity;
    default: return kStep * std::max(1.0, std::abs(value));
  }
}

// The numbers of one least squares: the parts, then what each track has of its own.
class FlightProblem {
 public:
  FlightProblem(std::vector<Track>& tracks, FlightConstants& constants,
                const std::vector<Part>& parts, const FlightClock& clock, const Scale& scale)
      : tracks_(tracks),
        constants_(constants),
        parts_(parts),
        clock_(clock),
        scale_(scale),
        until_(longest_of(tracks)) {
    for (const Part part : parts_) x_.push_back(part_of(constants_, part));
    for (std::size_t i = 0; i < tracks_.size(); ++i) {
      if (moves_smoothly(tracks_[i], clock_)) own_.push_back({i, false});
      if (tracks_[i].hold_free) own_.push_back({i, true});
    }
    for (const Own& own : own_) x_.push_back(value_of(own, tracks_));
  }

  [[nodiscard]] std::size_t size() const { return x_.size(); }
  [[nodiscard]] std::vector<double>& numbers() { return x_; }
  [[nodiscard]] std::size_t residuals() const { return count_points(tracks_); }

  [[nodiscard]] std::pair<double, double> bounds(std::size_t k) const {
    if (k < parts_.size()) return bounds_of(parts_[k], constants_.cut, scale_);
    const Own& own = own_[k - parts_.size()];
    const Track& track = tracks_[own.track];
    if (own.is_hold) return {0.002, 2};
    // The ground was left about there.
    constexpr double kBeside = 0.12;
    const double at = track.times()[track.times().size() - track.in_air];
    return {at - kBeside - 2 * (at - value_of(own, tracks_)), at + kBeside};
  }

  // Writes numbers back to where they belong.
  void take(const double* x) { set(x, tracks_, constants_); }

  bool evaluate(const double* x, double* residuals, double* slopes) const {
    std::vector<Track> tracks = tracks_;
    FlightConstants constants = constants_;
    set(x, tracks, constants);
    const auto here = misses_of(tracks, constants, clock_, until_);
    if (!here) return false;
    const auto n = static_cast<Eigen::Index>(count_points(tracks_));
    Eigen::Map<Eigen::VectorXd> all(residuals, n);
    fill(*here, all);
    if (slopes == nullptr) return true;
    using Slopes = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
    Eigen::Map<Slopes> slope(slopes, n, static_cast<Eigen::Index>(x_.size()));
    slope.setZero();
    for (std::size_t k = 0; k < parts_.size(); ++k) {
      if (!slope_of_part(k, *here, tracks, constants, slope.col(static_cast<Eigen::Index>(k))))
        return false;
    }
    return slopes_of_own(x, tracks, constants, slope);
  }

 private:
  struct Own {
    std::size_t track;
    bool is_hold;
  };

  static double value_of(const Own& own, const std::vector<Track>& tracks) {
    return own.is_hold ? tracks[own.track].hold : tracks[own.track].take_off;
  }
  static void set_own(const Own& own, double value, Track& track) {
    (own.is_hold ? track.hold : track.take_off) = value;
  }

  void set(const double* x, std::vector<Track>& tracks, FlightConstants& constants) const {
    for (std::size_t k = 0; k < parts_.size(); ++k) part_of(constants, parts_[k]) = x[k];
    for (std::size_t k = 0; k < own_.size(); ++k) {
      set_own(own_[k], x[parts_.size() + k], tracks[own_[k].track]);
    }
  }

  template <class Column>
  void fill(const Misses& misses, Column&& column) const {
    Eigen::Index at = 0;
    for (const Eigen::VectorXd& one : misses.of) {
      column.segment(at, one.size()) = one;
      at += one.size();
    }
  }

  // The slopes of all heights by a part, to one side; nothing if there is no tuning.
  [[nodiscard]] std::optional<Eigen::VectorXd> slopes_to(std::size_t k, double way,
                                                         const Misses& here,
                                                         const std::vector<Track>& tracks,
                                                         FlightConstants constants) const {
    double& value = part_of(constants, parts_[k]);
    const auto [lo, hi] = bounds_of(parts_[k], constants.cut, scale_);
    if (value + way < lo || value + way > hi) return std::nullopt;
    value += way;
    // What falls off an edge knows gravity and terminal speed alone.
    const bool moves_falls =
        parts_[k] == Part::gravity || parts_[k] == Part::factor || parts_[k] == Part::terminal;
    const auto there = misses_of(tracks, constants, clock_, until_, moves_falls ? nullptr : &here);
    if (!there) return std::nullopt;
    Eigen::VectorXd slopes(static_cast<Eigen::Index>(count_points(tracks)));
    fill(*there, slopes);
    Eigen::VectorXd before(slopes.size());
    fill(here, before);
    return (slopes - before) / way;
  }

  template <class Column>
  bool slope_of_part(std::size_t k, const Misses& here, const std::vector<Track>& tracks,
                     const FlightConstants& constants, Column&& column) const {
    FlightConstants copy = constants;
    const double step = step_of(parts_[k], part_of(copy, parts_[k]), scale_);
    auto slopes = slopes_to(k, step, here, tracks, constants);
    // Ticks make jumps in the heights, where a constant decides on another tick what happens. A
    // slope across one is none: of the two sides, the one that changes less counts.
    constexpr double kJump = 3e-5;
    const double jump = kJump * scale_.speed * scale_.speed / scale_.gravity;
    const bool jumps = slopes && clock_.in_ticks && slopes->cwiseAbs().maxCoeff() * step > jump;
    if (!slopes || jumps) {
      const auto others = slopes_to(k, -step, here, tracks, constants);
      if (!slopes && !others) return false;
      if (!slopes) {
        slopes = others;
      } else if (others) {
        Eigen::Index at = 0;
        for (const Eigen::VectorXd& one : here.of) {
          const auto other = others->segment(at, one.size());
          if (other.squaredNorm() < slopes->segment(at, one.size()).squaredNorm()) {
            slopes->segment(at, one.size()) = other;
          }
          at += one.size();
        }
      }
    }
    column = *slopes;
    return true;
  }

  // What a track has of its own moves its own heights alone.
  template <class Slope>
  bool slopes_of_own(const double* x, const std::vector<Track>& tracks,
                     const FlightConstants& constants, Slope&& slope) const {
    std::vector<Eigen::Index> begins;
    Eigen::Index begin = 0;
    for (const Track& track : tracks) {
      begins.push_back(begin);
      begin += static_cast<Eigen::Index>(track.times().size());
    }
    Curves curves(constants, clock_, until_);
    for (std::size_t k = 0; k < own_.size(); ++k) {
      constexpr double kStep = 1e-5;  // s
      const std::size_t number = parts_.size() + k;
      Track low = tracks[own_[k].track];
      Track high = low;
      set_own(own_[k], x[number] - kStep, low);
      set_own(own_[k], x[number] + kStep, high);
      const FlightCurve* below = curves.of(low);
      const FlightCurve* above = curves.of(high);
      if (below == nullptr || above == nullptr) return false;
      slope.col(static_cast<Eigen::Index>(number))
          .segment(begins[own_[k].track], static_cast<Eigen::Index>(low.times().size())) =
          (misses_of(high, *above) - misses_of(low, *below)) / (2 * kStep);
    }
    return true;
  }

  std::vector<Track>& tracks_;
  FlightConstants& constants_;
  const std::vector<Part>& parts_;
  FlightClock clock_;
  Scale scale_;
  double until_;
  std::vector<Own> own_;
  std::vector<double> x_;
};

class FlightCost : public ceres::CostFunction {
 public:
  explicit FlightCost(const FlightProblem& problem, std::size_t numbers) : problem_(problem) {
    set_num_residuals(static_cast<int>(problem.residuals()));
    mutable_parameter_block_sizes()->push_back(static_cast<int>(numbers));
  }
  bool Evaluate(const double* const* parameters, double* residuals,
                double** jacobians) const override {
    return problem_.evaluate(parameters[0], residuals,
                             jacobians == nullptr ? nullptr : jacobians[0]);
  }

 private:
  const FlightProblem& problem_;
};

}  // namespace

double& part_of(FlightConstants& constants, Part part) noexcept {
  switch (part) {
    case Part::launch: return constants.launch_speed;
    case Part::gravity: return constants.gravity;
    case Part::factor: return constants.fall_factor;
    case Part::terminal: return constants.terminal_speed;
    case Part::band: return constants.band;
    case Part::band_gravity: return constants.band_gravity;
    case Part::sustain: return constants.sustain;
    case Part::cut: break;
  }
  return constants.cut_amount;
}

const FlightCurve* Curves::of(const Track& track) {
  const bool jumps = track.flight.jumps;
  const double hold = jumps ? std::min(track.hold, until_ + 1) : 0;
  // By steps, so that a curve is the same while its take-off moves a little.
  constexpr double kStep = 0.05;
  const double lasts = track.times().back() - track.take_off + kStep;
  const double until = std::min(until_, std::ceil(lasts / kStep) * kStep);
  Known& known = curves_[std::pair(jumps, hold)];
  if (known.until < until) {
    // A fall begins wherever an edge is crossed; under one gravity, every loop's is a part of the
    // same parabola.
    known = {(jumps ? jumps_ : falls_).fly({jumps, hold, until}), until};
  }
  return known.curve ? &*known.curve : nullptr;
}

Eigen::VectorXd misses_of(const Track& track, const FlightCurve& curve) {
  const auto n = static_cast<Eigen::Index>(track.times().size());
  Eigen::VectorXd misses(n);
  std::size_t from = 0;
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto k = static_cast<std::size_t>(i);
    const double time = track.times()[k] - track.take_off;
    // All points of a fall are in the air: what is before a beginning that was set too late lies on
    // the same parabola, or nothing would report to set it sooner.
    const bool is_before = time < 0 && !track.flight.jumps;
    misses(i) =
        track.heights()[k] - (is_before ? curve.height_at(-time) : curve.height_at(time, from));
  }
  misses.array() -= misses.mean();
  return misses;
}

std::optional<Misses> misses_of(const std::vector<Track>& tracks, const FlightConstants& constants,
                                const FlightClock& clock, double until, const Misses* of_falls) {
  Curves curves(constants, clock, until);
  Misses misses;
  for (const Track& track : tracks) {
    if (of_falls != nullptr && !track.flight.jumps) {
      misses.of.push_back(of_falls->of[misses.of.size()]);
      continue;
    }
    const FlightCurve* curve = curves.of(track);
    if (curve == nullptr) return std::nullopt;
    misses.of.push_back(misses_of(track, *curve));
  }
  return misses;
}

Solved solve_flights(std::vector<Track>& tracks, FlightConstants& constants,
                     const std::vector<Part>& parts, const FlightClock& clock, const Scale& scale,
                     int rounds) {
  FlightProblem problem(tracks, constants, parts, clock, scale);
  Solved solved;
  solved.numbers = problem.size() + tracks.size();  // each has a ground of its own
  std::vector<double>& x = problem.numbers();
  const auto n = static_cast<Eigen::Index>(problem.residuals());
  Eigen::VectorXd residuals(n);
  for (std::size_t k = 0; k < x.size(); ++k) {
    const auto [lo, hi] = problem.bounds(k);
    x[k] = std::clamp(x[k], lo, hi);
  }
  // Constants that make no tuning: the solver would complain of them on standard error.
  if (!problem.evaluate(x.data(), residuals.data(), nullptr)) return solved;
  if (x.empty()) {
    solved.squares = residuals.squaredNorm();
    solved.ok = residuals.allFinite();
    return solved;
  }
  FlightCost cost(problem, x.size());
  ceres::Problem::Options ownership;
  ownership.cost_function_ownership = ceres::DO_NOT_TAKE_OWNERSHIP;
  ceres::Problem model(ownership);
  model.AddResidualBlock(&cost, nullptr, x.data());
  for (std::size_t k = 0; k < x.size(); ++k) {
    const auto [lo, hi] = problem.bounds(k);
    model.SetParameterLowerBound(x.data(), static_cast<int>(k), lo);
    model.SetParameterUpperBound(x.data(), static_cast<int>(k), hi);
  }
  ceres::Solver::Options options;
  options.linear_solver_type = ceres::DENSE_QR;
  options.max_num_iterations = rounds;
  options.num_threads = 1;
  options.logging_type = ceres::SILENT;
  options.function_tolerance = 1e-7;
  options.gradient_tolerance = 1e-14;
  options.parameter_tolerance = 1e-8;
  ceres::Solver::Summary summary;
  ceres::Solve(options, &model, &summary);
  problem.take(x.data());
  const auto count = static_cast<Eigen::Index>(x.size());
  Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor> slopes(n, count);
  solved.ok = summary.IsSolutionUsable() &&
              problem.evaluate(x.data(), residuals.data(), slopes.data()) &&
              residuals.allFinite() && slopes.allFinite();
  if (!solved.ok) return solved;
  solved.squares = residuals.squaredNorm();
  const auto part_count = static_cast<Eigen::Index>(parts.size());
  solved.covariance = covariance_of(slopes).topLeftCorner(part_count, part_count);
  return solved;
}

}  // namespace bushbaby::detail
