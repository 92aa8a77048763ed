#include "bushbaby/lab/fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdint>
#include <memory>
#include <numeric>
#include <utility>

#include "bushbaby/core/tuning/compile.h"

#include "all_cores.h"
#include "conflicts.h"
#include "polish.h"
#include "trials.h"

namespace bushbaby {
namespace {

using detail::Amounts;
using detail::Attempt;
using detail::Trials;
using detail::Variable;

// ---- which knobs --------------------------------------------------------------------------------

// Whether turning a knob by much changes what some targets are measured at: a little may change
// nothing of what is counted in ticks.
class Movers {
 public:
  Movers(const Tuning& tuning, std::vector<Target> targets)
      : tuning_(tuning), targets_(std::move(targets)), now_(judge(targets_, tuning)) {}

  [[nodiscard]] int evaluations() const noexcept { return evaluations_; }

  // Those of some knobs that move any of the targets.
  [[nodiscard]] std::vector<bool> among(const std::vector<FreeKnob>& knobs) {
    std::vector<std::uint8_t> moves(knobs.size(), 0);
    if (!targets_.empty()) {
      detail::on_all_cores(knobs.size(),
                           [&](std::size_t i) { moves[i] = moves_any(knobs[i]) ? 1 : 0; });
    }
    return {moves.begin(), moves.end()};
  }

 private:
  [[nodiscard]] bool moves_any(const FreeKnob& knob) {
    const Variable variable(tuning_, knob);
    const double from = *amount_of(get_knob(tuning_, *knob.place.knob, knob.place.row));
    constexpr double kFar = 0.3;
    for (const double direction : {1.0, -1.0}) {
      const double far = variable.whole() ? from + direction * std::max(1.0, std::round(from / 4))
                                          : variable.amount(variable.at(from) + direction * kFar);
      const double amount = variable.clamped(far);
      const auto changed = detail::turned(tuning_, {variable}, {amount});
      if (amount == from || !changed || !compile(*changed).ok()) continue;
      ++evaluations_;
      const Judgement then = judge(targets_, *changed);
      for (std::size_t i = 0; i < targets_.size(); ++i) {
        if (is_other(now_.verdicts[i].measured, then.verdicts[i].measured)) return true;
      }
    }
    return false;
  }

  static bool is_other(const std::optional<double>& a, const std::optional<double>& b) {
    constexpr double kNoise = 1e-9;
    if (!a || !b) return a.has_value() != b.has_value();
    return std::abs(*a - *b) > kNoise * std::max(1.0, std::abs(*a));
  }

  const Tuning& tuning_;
  std::vector<Target> targets_;
  Judgement now_;
  std::atomic<int> evaluations_{0};
};

// The targets that are met, or those that are not.
std::vector<Target> targets_that_are(bool met, const Judgement& judgement) {
  std::vector<Target> targets;
  for (const Verdict& verdict : judgement.verdicts) {
    if (verdict.met == met) targets.push_back(*verdict.target);
  }
  return targets;
}

// ---- what is reported the answer
// -----------------------------------------------------------------

double amount_beside(const Variable& variable, double from) {
  constexpr double kTenth = 0.1;
  if (variable.whole()) return from + 1;
  if (variable.by_ratio()) return from * (1 + kTenth);
  const double up = variable.amount(variable.at(from) + kTenth);
  return up > from ? up : variable.amount(variable.at(from) - kTenth);
}

Slope slope_of(const Trials& trials, const Attempt& trial, const Judgement& now, std::size_t i) {
  const Variable& variable = trials.variables()[i];
  const double from = trial.amounts[i];
  const double to = amount_beside(variable, from);
  Slope slope{variable.place(), variable.by_ratio() ? to / from : to - from, variable.by_ratio(),
              std::vector<std::optional<double>>(now.verdicts.size())};
  Amounts amounts = trial.amounts;
  amounts[i] = to;
  const auto changed = trials.tuning_at(amounts);
  if (!changed || !compile(*changed).ok()) return slope;
  const Judgement then = judge(trials.targets(), *changed);
  for (std::size_t k = 0; k < now.verdicts.size(); ++k) {
    const auto& a = now.verdicts[k].measured;
    const auto& b = then.verdicts[k].measured;
    if (a && b) slope.change[k] = *b - *a;
  }
  return slope;
}

// How far each knob may be off while the others make up for it: the spread of a least squares whose
// residuals may be 1 each. Nothing for knobs that nothing reports, or only together with others.
std::vector<std::optional<double>> leeways_of(const std::vector<std::vector<double>>& slopes) {
  const auto n = static_cast<Eigen::Index>(slopes.size());
  std::vector<std::optional<double>> leeways(slopes.size());
  if (n == 0 || slopes.front().empty()) return leeways;
  const Eigen::MatrixXd jacobian = detail::matrix_of(slopes);
  const Eigen::JacobiSVD<Eigen::MatrixXd> svd(jacobian, Eigen::ComputeFullV);
  const Eigen::VectorXd& sizes = svd.singularValues();
  // A knob turned by a factor of e that moves everything by no more than this is not reported.
  constexpr double kNothing = 0.2;
  for (Eigen::Index i = 0; i < n; ++i) {
    double squared = 0;
    bool is_reported = true;
    for (Eigen::Index s = 0; s < n; ++s) {
      const double share = svd.matrixV()(i, s);
      constexpr double kShare = 1e-3;
      if (s >= sizes.size() || sizes(s) < kNothing) {
        is_reported = is_reported && std::abs(share) < kShare;
      } else {
        squared += share * share / (sizes(s) * sizes(s));
      }
    }
    if (is_reported) leeways[static_cast<std::size_t>(i)] = std::sqrt(squared);
  }
  return leeways;
}

// Searches with one set of knobs after another, and what is reported the best answer.
class Fitter {
 public:
  Fitter(const Tuning& tuning, const std::vector<Target>& targets, const FitOptions& options,
         Fit& fit)
      : tuning_(tuning), targets_(targets), options_(options), fit_(fit) {}

  [[nodiscard]] bool is_met() const { return trials_ && best_.weighed.missed == 0; }

  void look(const std::vector<FreeKnob>& knobs) {
    auto trials = std::make_unique<Trials>(tuning_, targets_, knobs);
    const detail::SearchLimits limits{options_.starts, budget_left(), options_.seed, true,
                                      progress_from(fit_.evaluations)};
    detail::Searched searched = detail::search(*trials, limits);
    Attempt& trial = searched.best;
    if (trial.weighed.missed == 0) detail::put_back_few(*trials, trial, limits.most_evaluations);
    detail::ease(*trials, trial);
    detail::shorten(*trials, trial, options_.round);
    fit_.starts += searched.starts;
    fit_.evaluations += trials->evaluations();
    if (trials_ && !is_better(trial.weighed, best_.weighed)) return;
    knobs_ = knobs;
    trials_ = std::move(trials);
    best_ = std::move(trial);
  }

  void report() {
    fit_.tuning = *trials_->tuning_at(best_.amounts);
    fit_.after = judge(targets_, fit_.tuning);
    if (best_.weighed.missed == 0) {
      fit_.end = FitEnd::met;
    } else if (best_.weighed.missed_musts == 0) {
      fit_.end = FitEnd::musts_met;
    } else {
      fit_.end = budget_left() > 0 ? FitEnd::missed : FitEnd::out_of_budget;
    }
    report_knobs();
    if (!options_.explains || is_met()) return;
    // What is reported it may take as long again.
    detail::Conflicts conflicts(tuning_, targets_, knobs_, best_, options_.most_evaluations);
    fit_.conflicts = conflicts.find();
    fit_.evaluations += conflicts.evaluations();
  }

 private:
  [[nodiscard]] int budget_left() const { return options_.most_evaluations - fit_.evaluations; }

  [[nodiscard]] std::function<void(int, std::size_t)> progress_from(int spent) const {
    if (!options_.progress) return nullptr;
    return [this, spent](int evaluations, std::size_t missed) {
      options_.progress({spent + evaluations, missed});
    };
  }

  // Those that moved most come first.
  void report_knobs() {
    std::vector<std::size_t> order(best_.amounts.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), [this](std::size_t a, std::size_t b) {
      return detail::way_of(*trials_, best_, a) > detail::way_of(*trials_, best_, b);
    });
    std::vector<std::optional<double>> leeways(order.size());
    if (options_.explains) leeways = leeways_of(detail::slopes_of(*trials_, best_));
    for (const std::size_t i : order) {
      fit_.knobs.push_back(detail::move_of(*trials_, best_, i, leeways[i]));
    }
    if (!options_.explains) return;
    fit_.slopes.resize(order.size());
    detail::on_all_cores(order.size(), [&](std::size_t k) {
      fit_.slopes[k] = slope_of(*trials_, best_, fit_.after, order[k]);
    });
    fit_.evaluations += static_cast<int>(order.size());
  }

  const Tuning& tuning_;
  const std::vector<Target>& targets_;
  const FitOptions& options_;
  Fit& fit_;
  std::vector<FreeKnob> knobs_;  // of the best answer
  std::unique_ptr<Trials> trials_;
  Attempt best_;
};

// The knobs to turn where none are named: those that move what is missed; if they are not enough,
// those too that can make up for what breaks.
void look_widely(Fitter& fitter, const Tuning& tuning, Fit& fit) {
  const std::vector<FreeKnob> all = free_knobs(tuning);
  std::vector<FreeKnob> chosen;
  std::vector<FreeKnob> others;
  Movers of_missed(tuning, targets_that_are(false, fit.before));
  const std::vector<bool> move_missed = of_missed.among(all);
  for (std::size_t i = 0; i < all.size(); ++i) (move_missed[i] ? chosen : others).push_back(all[i]);
  fit.evaluations += of_missed.evaluations();
  if (!chosen.empty()) fitter.look(chosen);
  if (fitter.is_met()) return;
  const std::size_t enough = chosen.size();
  Movers of_met(tuning, targets_that_are(true, fit.before));
  const std::vector<bool> move_met = of_met.among(others);
  for (std::size_t i = 0; i < others.size(); ++i) {
    if (move_met[i]) chosen.push_back(others[i]);
  }
  fit.evaluations += of_met.evaluations();
  if (chosen.size() > enough || chosen.empty()) fitter.look(chosen);
}

}  // namespace

Fit fit_targets(const Tuning& tuning, const std::vector<Target>& targets,
                const FitOptions& options) {
  Fit fit;
  fit.tuning = tuning;
  fit.before = judge(targets, tuning);
  fit.evaluations = 1;
  const bool all_met = std::all_of(fit.before.verdicts.begin(), fit.before.verdicts.end(),
                                   [](const Verdict& verdict) { return verdict.met; });
  if (all_met) {
    fit.after = fit.before;
    fit.end = FitEnd::met_before;
    return fit;
  }
  Fitter fitter(tuning, targets, options, fit);
  if (options.knobs.empty()) {
    look_widely(fitter, tuning, fit);
  } else {
    fitter.look(options.knobs);
  }
  fitter.report();
  return fit;
}

}  // namespace bushbaby
