// Nonlinear least squares within bounds.
#pragma once

#include <cstddef>
#include <functional>
#include <optional>
#include <vector>

namespace bushbaby::detail {

struct LeastSquares {
  std::vector<double> start, lo, hi;
  std::size_t residuals = 0;
  /// The residuals at a place; nothing if there are none. Called from several threads at once.
  std::function<std::optional<std::vector<double>>(const std::vector<double>&)> evaluate;
  /// Where along one variable its slope is looked for: another value of it, within the bounds.
  std::function<double(std::size_t variable, double at)> probe;
  /// Reported the best place after each round; whether that is good enough to end.
  std::function<bool(const std::vector<double>&)> at_round;
  int most_rounds = 12;
};

/// The best place that was found; the start if it has no residuals. The same on any number of
/// cores.
[[nodiscard]] std::vector<double> minimise(const LeastSquares& problem);

/// The slopes of all residuals at a place, by variable; those of a variable that cannot be moved
/// are 0.
[[nodiscard]] std::vector<std::vector<double>> slopes_at(const LeastSquares& problem,
                                                         const std::vector<double>& x,
                                                         const std::vector<double>& residuals);

}  // namespace bushbaby::detail
