#include "least_squares.h"

#include <algorithm>

#include <ceres/ceres.h>

#include "all_cores.h"

namespace bushbaby::detail {
namespace {

// Residuals and their slopes, as the solver asks for them.
class Cost : public ceres::CostFunction {
 public:
  explicit Cost(const LeastSquares& problem) : problem_(problem) {
    set_num_residuals(static_cast<int>(problem.residuals));
    mutable_parameter_block_sizes()->push_back(static_cast<int>(problem.start.size()));
  }

  bool Evaluate(const double* const* parameters, double* residuals,
                double** jacobians) const override {
    const std::size_t n = problem_.start.size();
    const std::vector<double> x(parameters[0], parameters[0] + n);
    // It asks for slopes where it has just asked for residuals.
    if (x != known_at_ || !known_) {
      known_ = problem_.evaluate(x);
      known_at_ = x;
    }
    if (!known_) return false;
    std::copy(known_->begin(), known_->end(), residuals);
    if (jacobians == nullptr || jacobians[0] == nullptr) return true;
    const std::vector<std::vector<double>> slopes = slopes_at(problem_, x, *known_);
    for (std::size_t i = 0; i < n; ++i) {
      for (std::size_t k = 0; k < problem_.residuals; ++k) jacobians[0][k * n + i] = slopes[i][k];
    }
    return true;
  }

 private:
  const LeastSquares& problem_;
  mutable std::vector<double> known_at_;
  mutable std::optional<std::vector<double>> known_;
};

// Ends the search where it is good enough.
class EndsWhenEnough : public ceres::IterationCallback {
 public:
  EndsWhenEnough(const LeastSquares& problem, const std::vector<double>& x)
      : problem_(problem), x_(x) {}

  ceres::CallbackReturnType operator()(const ceres::IterationSummary& summary) override {
    if (!summary.step_is_successful && summary.iteration > 0) return ceres::SOLVER_CONTINUE;
    const bool ends = problem_.at_round && problem_.at_round(x_);
    return ends ? ceres::SOLVER_TERMINATE_SUCCESSFULLY : ceres::SOLVER_CONTINUE;
  }

 private:
  const LeastSquares& problem_;
  const std::vector<double>& x_;
};

}  // namespace

std::vector<std::vector<double>> slopes_at(const LeastSquares& problem,
                                           const std::vector<double>& x,
                                           const std::vector<double>& residuals) {
  std::vector<std::vector<double>> slopes(x.size());
  on_all_cores(x.size(), [&](std::size_t i) {
    std::vector<double>& slope = slopes[i];
    slope.assign(residuals.size(), 0);
    std::vector<double> beside = x;
    beside[i] = problem.probe(i, x[i]);
    if (beside[i] == x[i]) return;
    auto there = problem.evaluate(beside);
    if (!there) {  // on the other side, if it is there
      beside[i] = std::clamp(2 * x[i] - beside[i], problem.lo[i], problem.hi[i]);
      if (beside[i] == x[i]) return;
      there = problem.evaluate(beside);
    }
    if (!there) return;
    for (std::size_t k = 0; k < residuals.size(); ++k) {
      slope[k] = ((*there)[k] - residuals[k]) / (beside[i] - x[i]);
    }
  });
  return slopes;
}

std::vector<double> minimise(const LeastSquares& problem) {
  std::vector<double> x = problem.start;
  if (x.empty()) return x;
  ceres::Problem::Options ownership;
  ownership.cost_function_ownership = ceres::DO_NOT_TAKE_OWNERSHIP;
  Cost cost(problem);
  ceres::Problem model(ownership);
  model.AddResidualBlock(&cost, nullptr, x.data());
  for (std::size_t i = 0; i < x.size(); ++i) {
    model.SetParameterLowerBound(x.data(), static_cast<int>(i), problem.lo[i]);
    model.SetParameterUpperBound(x.data(), static_cast<int>(i), problem.hi[i]);
  }
  ceres::Solver::Options options;
  options.linear_solver_type = ceres::DENSE_QR;
  options.max_num_iterations = problem.most_rounds;
  options.num_threads = 1;
  options.logging_type = ceres::SILENT;
  options.function_tolerance = 1e-4;
  options.parameter_tolerance = 1e-6;
  options.update_state_every_iteration = true;
  EndsWhenEnough ends(problem, x);
  options.callbacks.push_back(&ends);
  ceres::Solver::Summary summary;
  ceres::Solve(options, &model, &summary);
  return x;
}

}  // namespace bushbaby::detail
