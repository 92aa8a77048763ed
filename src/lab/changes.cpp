#include "bushbaby/lab/changes.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "all_cores.h"
#include "polish.h"
#include "trials.h"

namespace bushbaby {
namespace {

using detail::Attempt;
using detail::Trials;

constexpr int kRounds = 8;

// Some of the knobs, and what is left of the misfit to first order when they do what they can.
struct Choice {
  std::vector<std::size_t> knobs;
  double left = 0;  // a share of it
  double size = 0;  // how far they are turned
};

class Finder {
 public:
  Finder(Trials& trials, const ChangeSearch& options)
      : trials_(trials),
        options_(options),
        home_{trials.home(), *trials.weigh(trials.home())},
        slopes_(detail::matrix_of(far_slopes())) {}

  std::vector<Change> find() {
    std::vector<std::size_t> movers;
    for (std::size_t i = 0; i < trials_.home().size(); ++i) {
      if (!slopes_.col(static_cast<Eigen::Index>(i)).isZero(0)) movers.push_back(i);
    }
    std::vector<Choice> ones;
    ones.reserve(movers.size());
    for (const std::size_t i : movers) ones.push_back(choice_of({i}));
    try_all(std::move(ones));
    if (changes_.size() < options_.most && options_.most_knobs > 1) {
      std::vector<Choice> twos;
      for (auto i = movers.begin(); i != movers.end(); ++i) {
        for (auto k = i + 1; k != movers.end(); ++k) {
          if (!is_way(*i) && !is_way(*k)) twos.push_back(choice_of({*i, *k}));
        }
      }
      try_all(std::move(twos));
    }
    // One knob more is worth a quarter of a turn less.
    const auto weight = [](const Change& change) {
      constexpr double kQuarter = 0.22;
      return change.size + kQuarter * static_cast<double>(change.knobs.size());
    };
    std::stable_sort(changes_.begin(), changes_.end(),
                     [&weight](const Change& a, const Change& b) { return weight(a) < weight(b); });
    if (changes_.size() > options_.most) changes_.resize(options_.most);
    return std::move(changes_);
  }

 private:
  // A knob turned so far along its scale, or by N thirds of a whole amount; nothing if it
  // cannot be.
  [[nodiscard]] std::optional<detail::Amounts> turned(std::size_t knob, double far) const {
    const detail::Variable& variable = trials_.variables()[knob];
    const double home = trials_.home()[knob];
    const double place =
        variable.whole()
            ? variable.clamped(home + (far > 0 ? 1 : -1) * std::ceil(std::abs(far) * 3))
            : variable.amount(variable.at(home) + far);
    if (place == home) return std::nullopt;
    detail::Amounts amounts = trials_.home();
    amounts[knob] = place;
    return amounts;
  }

  // What is counted in ticks does not change by a little: who moves nothing when it is turned by
  // much has no slope; of the others it is that of a little, if that changes anything.
  std::vector<std::vector<double>> far_slopes() {
    static constexpr double kTurns[] = {0.35, -0.35, 0.08};
    std::vector<std::vector<double>> slopes(trials_.home().size());
    detail::on_all_cores(slopes.size(), [&](std::size_t i) {
      slopes[i].assign(trials_.residuals(), 0);
      const detail::Variable& variable = trials_.variables()[i];
      bool moves = false;
      for (const double turn : kTurns) {
        if (turn == kTurns[1] && moves) continue;
        if (turn == kTurns[2] && !moves) return;
        const auto amounts = turned(i, turn);
        const auto there = amounts ? trials_.weigh(*amounts) : std::nullopt;
        if (!there || there->residuals == home_.weighed.residuals) continue;
        moves = true;
        const double by = variable.at((*amounts)[i]) - variable.at(trials_.home()[i]);
        for (std::size_t k = 0; k < slopes[i].size(); ++k) {
          slopes[i][k] = (there->residuals[k] - home_.weighed.residuals[k]) / by;
        }
      }
    });
    return slopes;
  }

  // The nearest that some knobs come to; from farther away, if a little of one moves nothing.
  std::optional<Attempt> descend(const Choice& choice) {
    static constexpr double kFar[] = {0.35, -0.35, 0.9, -0.9};
    std::vector<bool> held(trials_.home().size(), true);
    for (const std::size_t i : choice.knobs) held[i] = false;
    auto found = detail::descend(trials_, trials_.home(), held, kRounds);
    if (found && found->weighed.missed == 0) return found;
    if (choice.knobs.size() > 1) return std::nullopt;
    for (const double far : kFar) {
      const auto from = turned(choice.knobs.front(), far);
      auto other = from ? detail::descend(trials_, *from, held, kRounds) : std::nullopt;
      if (other && other->weighed.missed == 0) return other;
    }
    return std::nullopt;
  }

  [[nodiscard]] bool is_way(std::size_t knob) const { return alone_[knob]; }

  [[nodiscard]] Choice choice_of(std::vector<std::size_t> knobs) const {
    const Eigen::VectorXd now = Eigen::Map<const Eigen::VectorXd>(
        home_.weighed.residuals.data(), static_cast<Eigen::Index>(home_.weighed.residuals.size()));
    Eigen::MatrixXd some(slopes_.rows(), static_cast<Eigen::Index>(knobs.size()));
    for (std::size_t i = 0; i < knobs.size(); ++i) {
      some.col(static_cast<Eigen::Index>(i)) = slopes_.col(static_cast<Eigen::Index>(knobs[i]));
    }
    const Eigen::VectorXd turns = some.completeOrthogonalDecomposition().solve(now);
    const double left = (now - some * turns).squaredNorm() / now.squaredNorm();
    return {std::move(knobs), left, turns.lpNorm<1>()};
  }

  // Those first that promise most; what promises nothing is not tried.
  void try_all(std::vector<Choice> choices) {
    constexpr std::size_t kMostTried = 16;
    constexpr double kSome = 0.9;
    // A turn by a factor of e is as bad as half of the misfit.
    const auto badness = [](const Choice& choice) { return choice.left + choice.size / 2; };
    std::stable_sort(choices.begin(), choices.end(),
                     [&](const Choice& a, const Choice& b) { return badness(a) < badness(b); });
    std::size_t tried = 0;
    for (const Choice& choice : choices) {
      if (tried == kMostTried) return;
      if (choice.left > kSome) continue;
      ++tried;
      try_one(choice);
    }
  }

  void try_one(const Choice& choice) {
    auto found = descend(choice);
    if (!found) return;
    detail::ease(trials_, *found);
    detail::shorten(trials_, *found, options_.round);
    Change change;
    std::vector<std::pair<double, std::size_t>> turned;
    for (const std::size_t i : choice.knobs) {
      if (found->amounts[i] == trials_.home()[i]) return;  // it would do without
      turned.emplace_back(-detail::way_of(trials_, *found, i), i);
    }
    std::sort(turned.begin(), turned.end());
    for (const auto& [size, i] : turned) {
      change.size -= size;
      change.knobs.push_back(detail::move_of(trials_, *found, i, std::nullopt));
    }
    change.tuning = *trials_.tuning_at(found->amounts);
    if (choice.knobs.size() == 1) alone_[choice.knobs.front()] = true;
    changes_.push_back(std::move(change));
  }

  Trials& trials_;
  const ChangeSearch& options_;
  Attempt home_;
  Eigen::MatrixXd slopes_;
  std::vector<bool> alone_ = std::vector<bool>(trials_.home().size(), false);
  std::vector<Change> changes_;
};

}  // namespace

std::vector<Change> find_changes(const Tuning& tuning, const std::vector<Target>& targets,
                                 const ChangeSearch& options) {
  const std::vector<FreeKnob> knobs = options.knobs.empty() ? free_knobs(tuning) : options.knobs;
  if (knobs.empty() || targets.empty()) return {};
  Trials trials(tuning, targets, knobs);
  const auto now = trials.weigh(trials.home());
  if (!now || now->missed == 0) return {};
  return Finder(trials, options).find();
}

std::vector<Change> find_quiet_changes(const Tuning& tuning, const Judgement& before,
                                       const Verdict& missed, const ChangeSearch& options) {
  std::vector<Target> targets;
  std::int64_t ticks = 0;
  for (const Verdict& verdict : before.verdicts) {
    if (!verdict.met && &verdict != &missed) continue;
    ticks += verdict.ticks;
    targets.push_back(*verdict.target);
  }
  if (ticks > kMostQuietTicks) return {};
  return find_changes(tuning, targets, options);
}

}  // namespace bushbaby
