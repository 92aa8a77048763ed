// How well the numbers of a least squares are known.
#pragma once

#include <Eigen/Core>

namespace bushbaby::detail {

// The covariance of the numbers for a noise of 1, (JᵀJ)⁻¹, from the slopes J of residuals (rows) by
// numbers (columns). What nothing reports gets a variance next to without bound.
Eigen::MatrixXd covariance_of(const Eigen::MatrixXd& slopes);

}  // namespace bushbaby::detail
