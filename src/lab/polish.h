// From an answer to a better one: fewer knobs, smaller changes, shorter numbers.
#pragma once

#include <cstddef>
#include <vector>

#include <Eigen/Dense>

#include "trials.h"

namespace bushbaby::detail {

/// Slopes by variable as the columns of a matrix.
[[nodiscard]] Eigen::MatrixXd matrix_of(const std::vector<std::vector<double>>& slopes);

/// How far a variable was turned, along its scale.
[[nodiscard]] double way_of(const Trials& trials, const Trial& trial, std::size_t variable);

/// Puts knobs back that need not have moved, those first that moved least.
void put_back_few(Trials& trials, Trial& trial, int most_evaluations);

/// Turns each knob as far back towards where it was as goes, the one that moved most first.
void ease(Trials& trials, Trial& trial);

/// The same in numbers that are as short as they can be: of all knobs, and then of each. `round`
/// chooses them; none: short ones in world units.
void shorten(Trials& trials, Trial& trial, const Rounder& round);

}  // namespace bushbaby::detail
