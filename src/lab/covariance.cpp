#include "covariance.h"

#include <Eigen/Dense>

namespace bushbaby::detail {

Eigen::MatrixXd covariance_of(const Eigen::MatrixXd& slopes) {
  // Numbers of one size, with a weight that is next to nothing, so that there is an inverse.
  constexpr double kLeastSize = 1e-9;
  constexpr double kWeight = 1e-10;
  const Eigen::Index count = slopes.cols();
  const Eigen::VectorXd sizes = slopes.colwise().norm().cwiseMax(kLeastSize);
  const Eigen::MatrixXd products = sizes * sizes.transpose();
  const Eigen::MatrixXd one = Eigen::MatrixXd::Identity(count, count);
  const Eigen::MatrixXd normal = (slopes.transpose() * slopes).cwiseQuotient(products);
  return (normal + kWeight * one).ldlt().solve(one).cwiseQuotient(products);
}

}  // namespace bushbaby::detail
