#include "trials.h"

#include <algorithm>
#include <cmath>
#include <random>
#include <stdexcept>
#include <utility>

#include <nlopt.hpp>

#include "bushbaby/core/tuning/compile.h"

namespace bushbaby::detail {
namespace {

constexpr double kWellWithin = 0.3;  // tolerances: nearer to its aim nothing need be

bool is_well_within(const Trials& trials, const Weighed& weighed) {
  if (weighed.missed > 0) return false;
  std::size_t at = 0;
  for (const Target& target : trials.targets()) {
    const bool is_aim = !target.follow && target.bound.form == Bound::Form::aim;
    if (is_aim && std::abs(weighed.residuals[at]) > kWellWithin) return false;
    at += residuals_of(target);
  }
  return true;
}

// Some of the variables, those that are not held, on their scales.
class Turned {
 public:
  Turned(Trials& trials, Amounts from, const std::vector<bool>& held)
      : trials_(trials), from_(std::move(from)) {
    for (std::size_t i = 0; i < from_.size(); ++i) {
      if (!held[i]) which_.push_back(i);
    }
  }

  [[nodiscard]] const Variable& variable(std::size_t i) const {
    return trials_.variables()[which_[i]];
  }
  [[nodiscard]] Amounts amounts(const std::vector<double>& x) const {
    Amounts amounts = from_;
    for (std::size_t i = 0; i < which_.size(); ++i) {
      // There and back through the scale a number would change in its last bits.
      constexpr double kSame = 1e-5;
      const auto is_at = [&](double amount) {
        return std::abs(x[i] - variable(i).at(amount)) < kSame;
      };
      double& amount = amounts[which_[i]];
      const double home = trials_.home()[which_[i]];
      if (is_at(home)) {
        amount = home;
      } else if (!is_at(amount)) {
        amount = variable(i).amount(x[i]);
      }
    }
    return amounts;
  }

  [[nodiscard]] LeastSquares problem() const {
    LeastSquares problem;
    for (std::size_t i = 0; i < which_.size(); ++i) {
      problem.lo.push_back(variable(i).lo());
      problem.hi.push_back(variable(i).hi());
      problem.start.push_back(
          std::clamp(variable(i).at(from_[which_[i]]), problem.lo[i], problem.hi[i]));
    }
    problem.residuals = trials_.residuals();
    problem.evaluate = [this](const std::vector<double>& x) -> std::optional<std::vector<double>> {
      auto weighed = trials_.weigh(amounts(x));
      if (!weighed) return std::nullopt;
      return std::move(weighed->residuals);
    };
    problem.probe = [this](std::size_t i, double at) { return variable(i).beside(at); };
    return problem;
  }

 private:
  Trials& trials_;
  Amounts from_;
  std::vector<std::size_t> which_;
};

// The middle of what a target wants of a fact, if one does.
std::optional<double> aim_of(const std::vector<Target>& targets, std::string_view fact) {
  for (const Target& target : targets) {
    if (target.follow || target.run || target.fact != fact) continue;
    if (target.bound.form == Bound::Form::aim) return target.bound.lo;
    if (target.bound.form == Bound::Form::between) {
      return (target.bound.lo + target.bound.hi) / 2;
    }
  }
  return std::nullopt;
}

// The jump that targets ask for; what it leaves open is as the tuning has it.
std::optional<JumpAsk> asked_jump(const std::vector<Target>& targets, const Tuning& tuning) {
  JumpAsk ask;
  ask.height = aim_of(targets, "stand_jump.height");
  ask.apex_time = aim_of(targets, "stand_jump.apex_time");
  ask.launch_speed = aim_of(targets, "stand_jump.launch_speed");
  const int asked = (ask.height ? 1 : 0) + (ask.apex_time ? 1 : 0) + (ask.launch_speed ? 1 : 0);
  if (asked == 0) return std::nullopt;
  if (asked == 3) ask.launch_speed.reset();
  if (asked > 1) return ask;
  const JumpAsk now = jump_ask(tuning);
  if (!ask.height && now.height) {
    ask.height = now.height;
  } else if (!ask.apex_time && now.apex_time) {
    ask.apex_time = now.apex_time;
  } else {
    ask.gravity = derive_jump(now, jump_loop(tuning), jump_shape(tuning)).gravity;
  }
  return ask;
}

// A trial at random, knobs turned by up to so much each way.
Amounts amounts_by_chance(const Trials& trials, std::mt19937_64& random) {
  constexpr double kWide = 0.7;  // a factor of 2
  Amounts amounts = trials.home();
  for (std::size_t i = 0; i < amounts.size(); ++i) {
    // A share of the generator's own bits: the library's distributions are not the same everywhere.
    const double share = static_cast<double>(random() >> 11U) * 0x1p-53;
    const Variable& variable = trials.variables()[i];
    const double at = variable.at(amounts[i]) + kWide * (2 * share - 1);
    amounts[i] = variable.amount(std::clamp(at, variable.lo(), variable.hi()));
  }
  return amounts;
}

// Far and wide by controlled random search (Price, as NLopt has it): where the error has steps
// and plains, as runs have, no slope leads anywhere.
std::optional<Attempt> wander(Trials& trials, const Amounts& from, std::uint64_t seed,
                              int most_evaluations) {
  const std::vector<Variable>& variables = trials.variables();
  std::optional<Attempt> best;
  const auto amounts_at = [&variables](const std::vector<double>& x) {
    Amounts amounts;
    for (std::size_t i = 0; i < x.size(); ++i) amounts.push_back(variables[i].amount(x[i]));
    return amounts;
  };
  constexpr double kCannotBe = 1e9;
  nlopt::opt search(nlopt::GN_CRS2_LM, static_cast<unsigned>(variables.size()));
  const std::function<double(const std::vector<double>&)> cost = [&](const std::vector<double>& x) {
    const auto weighed = trials.weigh(amounts_at(x));
    if (!weighed) return kCannotBe;
    if (!best || is_better(*weighed, best->weighed)) best = Attempt{amounts_at(x), *weighed};
    if (weighed->missed == 0) search.force_stop();
    return weighed->cost();
  };
  std::vector<double> x;
  std::vector<double> lo;
  std::vector<double> hi;
  for (std::size_t i = 0; i < variables.size(); ++i) {
    lo.push_back(variables[i].lo());
    hi.push_back(variables[i].hi());
    x.push_back(std::clamp(variables[i].at(from[i]), lo[i], hi[i]));
  }
  search.set_lower_bounds(lo);
  search.set_upper_bounds(hi);
  search.set_min_objective(
      [](const std::vector<double>& at, std::vector<double>& /*slopes*/, void* what) {
        return (*static_cast<const decltype(cost)*>(what))(at);
      },
      const_cast<void*>(static_cast<const void*>(&cost)));  // NOLINT: a C interface
  search.set_maxeval(most_evaluations);
  nlopt::srand(seed);
  try {
    double least = 0;
    (void)search.optimize(x, least);
  } catch (const nlopt::forced_stop&) {  // all is met
  } catch (const std::runtime_error&) {  // it cannot go on; the best stands
  }
  return best;
}

}  // namespace

Trials::Trials(const Tuning& tuning, std::vector<Target> targets,
               const std::vector<FreeKnob>& knobs)
    : tuning_(tuning), misfit_(std::move(targets)) {
  variables_.reserve(knobs.size());
  for (const FreeKnob& knob : knobs) {
    variables_.emplace_back(tuning, knob);
    home_.push_back(*amount_of(get_knob(tuning, *knob.place.knob, knob.place.row)));
  }
}

std::optional<Tuning> Trials::tuning_at(const Amounts& amounts) const {
  return turned(tuning_, variables_, amounts);
}

std::optional<Weighed> Trials::weigh(const Amounts& amounts) {
  {
    const std::lock_guard<std::mutex> lock(mutex_);
    if (const auto known = known_.find(amounts); known != known_.end()) return known->second;
  }
  const auto tuning = tuning_at(amounts);
  auto weighed = tuning ? misfit_.weigh(*tuning) : std::nullopt;
  const std::lock_guard<std::mutex> lock(mutex_);
  if (known_.emplace(amounts, weighed).second) ++evaluations_;
  return weighed;
}

namespace {

// Downhill once, to where it ends; keeps the best of all that was tried. Whether it is near enough.
bool descend_once(Trials& trials, Amounts& amounts, const std::vector<bool>& held, int most_rounds,
                  std::optional<Attempt>& best) {
  const Turned turned(trials, amounts, held);
  LeastSquares problem = turned.problem();
  problem.most_rounds = most_rounds;
  const auto take = [&](const std::vector<double>& x) {
    amounts = turned.amounts(x);
    const auto weighed = trials.weigh(amounts);
    if (weighed && (!best || is_better(*weighed, best->weighed))) best = Attempt{amounts, *weighed};
    return weighed && is_well_within(trials, *weighed);
  };
  if (take(problem.start)) return true;
  if (!trials.weigh(amounts)) return false;  // it cannot be there
  problem.at_round = take;
  return take(minimise(problem));
}

}  // namespace

std::optional<Attempt> descend(Trials& trials, const Amounts& from, const std::vector<bool>& held,
                               int most_rounds) {
  std::optional<Attempt> best;
  Amounts here = from;
  if (descend_once(trials, here, held, most_rounds, best) || !best) return best;
  // A step that would leave the bounds is cut short, and with it what it would do to all others:
  // what stands at a bound is left there, and the others go on.
  constexpr int kMostTimes = 3;
  std::vector<bool> at_bound = held;
  for (int i = 0; i < kMostTimes; ++i) {
    bool any = false;
    for (std::size_t k = 0; k < at_bound.size(); ++k) {
      const Variable& variable = trials.variables()[k];
      if (at_bound[k] || !variable.is_at_bound(here[k])) continue;
      at_bound[k] = any = true;
    }
    const bool all = std::find(at_bound.begin(), at_bound.end(), false) == at_bound.end();
    if (!any || all) return best;
    if (descend_once(trials, here, at_bound, most_rounds, best)) return best;
  }
  return best;
}

Amounts amounts_of_formulas(const Trials& trials) {
  const Tuning& tuning = trials.tuning();
  Amounts amounts = trials.home();
  const auto ask = asked_jump(trials.targets(), tuning);
  if (!ask) return amounts;
  const JumpLoop loop = jump_loop(tuning);
  const JumpShape shape = jump_shape(tuning);
  const JumpAnswer answer = derive_jump(*ask, loop, shape);
  if (!answer.ok()) return amounts;
  const Apex apex = predict_apex(answer.launch_speed, answer.gravity, loop, shape);
  for (std::size_t i = 0; i < amounts.size(); ++i) {
    const Variable& variable = trials.variables()[i];
    const std::string_view key = variable.place().knob->key;
    std::optional<double> amount;
    if (key == "jump.height") amount = ask->height.value_or(apex.height);
    if (key == "jump.apex_time") amount = ask->apex_time.value_or(apex.time);
    if (key == "jump.launch_speed") amount = answer.launch_speed;
    if (key == "jump.gravity") amount = answer.gravity;
    if (!amount) continue;
    if (variable.dimension() == Dimension::ticks) {
      *amount = std::round(*amount * tuning.loop.tick_rate);
    }
    amounts[i] = variable.clamped(*amount);
  }
  return amounts;
}

std::vector<std::vector<double>> slopes_of(Trials& trials, const Attempt& trial) {
  const Turned turned(trials, trial.amounts, std::vector<bool>(trial.amounts.size(), false));
  const LeastSquares problem = turned.problem();
  return slopes_at(problem, problem.start, *problem.evaluate(problem.start));
}

Searched search(Trials& trials, const SearchLimits& limits) {
  const std::vector<bool> none_held(trials.home().size(), false);
  std::mt19937_64 random(limits.seed);
  // The tuning itself may be outside of what it may become.
  Amounts first = trials.home();
  for (std::size_t i = 0; i < first.size(); ++i) first[i] = trials.variables()[i].clamped(first[i]);
  const auto weighed = trials.weigh(first);
  Searched searched{{first, weighed ? *weighed : *trials.weigh(trials.home())}, 0};
  if (!weighed) searched.best.amounts = trials.home();
  const auto is_done = [&] {
    return searched.best.weighed.missed == 0 || trials.evaluations() >= limits.most_evaluations;
  };
  const auto take = [&searched](const std::optional<Attempt>& found) {
    if (found && is_better(found->weighed, searched.best.weighed)) searched.best = *found;
  };
  const auto report = [&] {
    if (limits.progress) limits.progress(trials.evaluations(), searched.best.weighed.missed);
  };
  constexpr int kRounds = 12;
  constexpr std::size_t kWide = 80;  // random trials, for each knob
  while (searched.starts < limits.starts && !is_done()) {
    const Amounts start = searched.starts == 0   ? amounts_of_formulas(trials)
                          : searched.starts == 1 ? trials.home()
                                                 : amounts_by_chance(trials, random);
    take(descend(trials, start, none_held, kRounds));
    ++searched.starts;
    report();
  }
  const auto left = limits.most_evaluations - trials.evaluations();
  const auto wide = static_cast<int>(kWide * (trials.home().size() + 1));
  if (is_done() || !limits.wanders || left <= 0 || trials.home().empty()) return searched;
  take(wander(trials, searched.best.amounts, limits.seed, std::min(left, wide)));
  if (!is_done()) take(descend(trials, searched.best.amounts, none_held, kRounds));
  report();
  return searched;
}

}  // namespace bushbaby::detail
