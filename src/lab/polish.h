// From an answer to a better one: fewer knobs, smaller changes, shorter numbers.
#pragma once

#include <Eigen/Dense>
#include <cstddef>
#include <optional>
#include <vector>

#include "trials.h"

namespace bushbaby::detail {

/// A number of N digits, in world units.
[[nodiscard]] double rounded_in_world(Dimension dimension, double value, int digits);

/// Slopes by variable as the columns of a matrix.
[[nodiscard]] Eigen::MatrixXd matrix_of(const std::vector<std::vector<double>>& slopes);

/// How far a variable was turned, along its scale.
[[nodiscard]] double way_of(const Trials& trials, const Attempt& trial, std::size_t variable);

/// What became of a variable; `leeway` is along its scale.
[[nodiscard]] KnobMove move_of(const Trials& trials, const Attempt& trial, std::size_t variable,
                               const std::optional<double>& leeway);

/// Puts knobs back that need not have moved, those first that moved least.
void put_back_few(Trials& trials, Attempt& trial, int most_evaluations);

/// Turns each knob as far back towards where it was as goes, the one that moved most first.
void ease(Trials& trials, Attempt& trial);

/// The same in numbers that are as short as they can be: of all knobs, and then of each. `round`
/// chooses them; none: short ones in world units.
void shorten(Trials& trials, Attempt& trial, const Rounder& round);

}  // namespace bushbaby::detail
