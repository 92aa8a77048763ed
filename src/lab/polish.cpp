#include "polish.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

namespace bushbaby::detail {
namespace {

bool meets_as_much(const Weighed& weighed, const Weighed& than) {
  return weighed.missed <= than.missed && weighed.missed_musts <= than.missed_musts;
}

// How large residuals would become, to first order, if a variable went by so much and all others
// made up for it as well as they can.
double cost_without(const Eigen::MatrixXd& slopes, const std::vector<double>& residuals,
                    std::size_t variable, double by) {
  const auto i = static_cast<Eigen::Index>(variable);
  const Eigen::VectorXd now = Eigen::Map<const Eigen::VectorXd>(
      residuals.data(), static_cast<Eigen::Index>(residuals.size()));
  const Eigen::VectorXd then = now + slopes.col(i) * by;
  Eigen::MatrixXd others(slopes.rows(), slopes.cols() - 1);
  others << slopes.leftCols(i), slopes.rightCols(slopes.cols() - i - 1);
  if (others.cols() == 0) return then.squaredNorm();
  return (then - others * others.colPivHouseholderQr().solve(then)).squaredNorm();
}

// The same with smaller changes, in shorter numbers, as long as it is about as good.
class Polish {
 public:
  Polish(Trials& trials, Attempt& trial, const Rounder& round)
      : trials_(trials), trial_(trial), round_(round), cost_(trial.weighed.cost()) {}

  // Each knob as far back towards where it was as goes, the one that moved most first.
  void ease() {
    std::vector<std::size_t> order(trial_.amounts.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), [this](std::size_t a, std::size_t b) {
      return way_of(trials_, trial_, a) > way_of(trials_, trial_, b);
    });
    for (const std::size_t i : order) {
      const Variable& variable = trials_.variables()[i];
      const bool is_still = trial_.amounts[i] == trials_.home()[i];
      if (is_still || !variable.contains(trials_.home()[i])) continue;
      const double home = variable.at(trials_.home()[i]);
      constexpr int kHalvings = 5;
      double share = 0.5;  // of the way back
      for (int k = 0; k < kHalvings; ++k) {
        const double at = variable.at(trial_.amounts[i]);
        Amounts amounts = trial_.amounts;
        amounts[i] = variable.amount(at + share * (home - at));
        if (amounts[i] == trial_.amounts[i]) break;
        if (!take(std::move(amounts))) share /= 2;
      }
      // The last few whole amounts, one by one.
      const double back = trials_.home()[i] < trial_.amounts[i] ? -1 : 1;
      while (variable.whole() && trial_.amounts[i] != trials_.home()[i]) {
        Amounts amounts = trial_.amounts;
        amounts[i] += back;
        if (!take(std::move(amounts))) break;
      }
    }
  }

  // Of all knobs at once, and then of each.
  void shorten() {
    constexpr int kMostDigits = 6;
    int digits = 2;
    while (digits <= kMostDigits && !take(shorter(digits))) ++digits;
    for (std::size_t i = 0; i < trial_.amounts.size(); ++i) {
      for (int fewer = 1; fewer < digits; ++fewer) {
        Amounts amounts = trial_.amounts;
        amounts[i] = shorter(i, fewer);
        if (amounts[i] == trial_.amounts[i] || take(std::move(amounts))) break;
      }
    }
  }

 private:
  [[nodiscard]] double shorter(std::size_t i, int digits) const {
    const Variable& variable = trials_.variables()[i];
    const double amount = trial_.amounts[i];
    if (amount == trials_.home()[i] || variable.whole()) return amount;
    // A short number is not worth a change that is felt.
    constexpr double kFelt = 0.03;
    const double rounded = variable.clamped(round_(variable.dimension(), amount, digits));
    return std::abs(variable.at(rounded) - variable.at(amount)) < kFelt ? rounded : amount;
  }
  [[nodiscard]] Amounts shorter(int digits) const {
    Amounts amounts;
    for (std::size_t i = 0; i < trial_.amounts.size(); ++i) amounts.push_back(shorter(i, digits));
    return amounts;
  }

  bool take(Amounts amounts) {
    const auto weighed = trials_.weigh(amounts);
    constexpr double kMore = 1.5;
    constexpr double kLittle = 0.1;
    if (!weighed || !meets_as_much(*weighed, trial_.weighed) ||
        weighed->cost() > kMore * cost_ + kLittle) {
      return false;
    }
    trial_ = {std::move(amounts), *weighed};
    return true;
  }

  Trials& trials_;
  Attempt& trial_;
  const Rounder& round_;
  double cost_;
};

}  // namespace

double rounded_in_world(Dimension /*dimension*/, double value, int digits) {
  if (value == 0) return value;
  const double scale = std::pow(10, digits - 1 - std::floor(std::log10(std::abs(value))));
  return std::round(value * scale) / scale;
}

Eigen::MatrixXd matrix_of(const std::vector<std::vector<double>>& slopes) {
  const auto rows = slopes.empty() ? 0 : slopes.front().size();
  Eigen::MatrixXd matrix(static_cast<Eigen::Index>(rows), static_cast<Eigen::Index>(slopes.size()));
  for (std::size_t i = 0; i < slopes.size(); ++i) {
    matrix.col(static_cast<Eigen::Index>(i)) =
        Eigen::Map<const Eigen::VectorXd>(slopes[i].data(), static_cast<Eigen::Index>(rows));
  }
  return matrix;
}

double way_of(const Trials& trials, const Attempt& trial, std::size_t i) {
  const Variable& variable = trials.variables()[i];
  return std::abs(variable.at(trial.amounts[i]) - variable.at(trials.home()[i]));
}

namespace {

// The variables that were turned, those first that were turned least.
std::vector<std::size_t> turned_least_first(const Trials& trials, const Attempt& trial) {
  std::vector<std::size_t> turned;
  for (std::size_t i = 0; i < trial.amounts.size(); ++i) {
    if (trial.amounts[i] != trials.home()[i]) turned.push_back(i);
  }
  std::stable_sort(turned.begin(), turned.end(), [&](std::size_t a, std::size_t b) {
    return way_of(trials, trial, a) < way_of(trials, trial, b);
  });
  return turned;
}

// Puts a variable back too, the others making up for it if they must; false, and nothing changes,
// if they cannot.
bool put_back(Trials& trials, Attempt& trial, std::size_t variable, std::vector<bool> held) {
  Amounts amounts = trial.amounts;
  amounts[variable] = trials.home()[variable];
  if (auto weighed = trials.weigh(amounts); weighed && meets_as_much(*weighed, trial.weighed)) {
    trial = {std::move(amounts), std::move(*weighed)};
    return true;
  }
  held[variable] = true;
  constexpr int kRounds = 3;
  auto other = descend(trials, amounts, held, kRounds);
  if (!other || !meets_as_much(other->weighed, trial.weighed)) return false;
  trial = std::move(*other);
  return true;
}

}  // namespace

void put_back_few(Trials& trials, Attempt& trial, int most_evaluations) {
  // What was not turned is not turned instead of what is reset either.
  std::vector<bool> held(trial.amounts.size(), true);
  const std::vector<std::size_t> turned = turned_least_first(trials, trial);
  for (const std::size_t i : turned) held[i] = false;
  const Eigen::MatrixXd slopes = matrix_of(slopes_of(trials, trial));
  for (const std::size_t i : turned) {
    // What to first order is far from its targets is not tried.
    constexpr double kHopeless = 9;
    const Variable& variable = trials.variables()[i];
    if (!variable.contains(trials.home()[i])) continue;
    const double back = variable.at(trials.home()[i]) - variable.at(trial.amounts[i]);
    if (cost_without(slopes, trial.weighed.residuals, i, back) > kHopeless) continue;
    if (trials.evaluations() >= most_evaluations) return;
    if (put_back(trials, trial, i, held)) held[i] = true;
  }
}

KnobMove move_of(const Trials& trials, const Attempt& trial, std::size_t i,
                 const std::optional<double>& leeway) {
  const Variable& variable = trials.variables()[i];
  KnobMove move;
  move.place = variable.place();
  move.from = variable.value(trials.home()[i]);
  move.to = variable.value(trial.amounts[i]);
  const double at = variable.at(trial.amounts[i]);
  move.at_lo = variable.is_at_lo(trial.amounts[i]);
  move.at_hi = variable.is_at_hi(trial.amounts[i]);
  move.by_ratio = variable.by_ratio();
  if (!leeway) return move;
  move.leeway = variable.by_ratio() ? std::exp(*leeway)
                                    : std::abs(variable.amount_at(at + *leeway) - trial.amounts[i]);
  return move;
}

void ease(Trials& trials, Attempt& trial) {
  const Rounder none;
  Polish(trials, trial, none).ease();
}

void shorten(Trials& trials, Attempt& trial, const Rounder& round) {
  const Rounder rounder = round ? round : Rounder(rounded_in_world);
  Polish(trials, trial, rounder).shorten();
}

}  // namespace bushbaby::detail
