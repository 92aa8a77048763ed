#include "conflicts.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <numeric>
#include <utility>

namespace bushbaby::detail {
namespace {

std::vector<std::size_t> without(const std::vector<std::size_t>& set, std::size_t one) {
  std::vector<std::size_t> less;
  std::copy_if(set.begin(), set.end(), std::back_inserter(less),
               [one](std::size_t other) { return other != one; });
  return less;
}

// A bound that lets by so much more through on each of its sides.
Bound widened(const Bound& bound, double by) {
  switch (bound.form) {
    case Bound::Form::aim: return {Bound::Form::between, bound.lo - by, bound.lo + by};
    case Bound::Form::between: return {Bound::Form::between, bound.lo - by, bound.hi + by};
    case Bound::Form::at_least: return {Bound::Form::at_least, bound.lo - by, 0};
    case Bound::Form::at_most: break;
  }
  return {Bound::Form::at_most, 0, bound.hi + by};
}

}  // namespace

Conflicts::Conflicts(const Tuning& tuning, const std::vector<Target>& targets,
                     const std::vector<FreeKnob>& knobs, const Attempt& nearest,
                     int most_evaluations)
    : tuning_(tuning),
      targets_(targets),
      knobs_(knobs),
      nearest_(nearest),
      budget_(most_evaluations) {}

std::vector<Conflict> Conflicts::find() {
  std::vector<Set> sets;
  Set rest(targets_.size());
  std::iota(rest.begin(), rest.end(), std::size_t{0});
  // Each missed target alone, within the bounds.
  for (std::size_t i = 0; i < targets_.size(); ++i) {
    if (nearest_.weighed.met[i] || can_be({i})) continue;
    sets.push_back({i});
    rest = without(rest, i);
  }
  constexpr std::size_t kMost = 4;
  std::vector<Set> open{rest};
  while (!open.empty() && sets.size() < kMost && evaluations_ < budget_) {
    const Set among = std::move(open.back());
    open.pop_back();
    if (can_be(among)) continue;
    const Set set = smallest_in(among);
    if (evaluations_ >= budget_) break;
    if (std::find(sets.begin(), sets.end(), set) == sets.end()) sets.push_back(set);
    // Another one lacks at least one of this one's.
    for (const std::size_t one : set) open.insert(open.begin(), without(among, one));
  }
  std::stable_sort(sets.begin(), sets.end(),
                   [](const Set& a, const Set& b) { return a.size() < b.size(); });
  std::vector<Conflict> conflicts;
  for (const Set& set : sets) {
    Conflict conflict;
    for (const std::size_t one : set) {
      conflict.targets.push_back(&targets_[one]);
      conflict.nearest.push_back(nearest_beside(without(set, one), one));
    }
    conflicts.push_back(std::move(conflict));
  }
  return conflicts;
}

std::vector<Target> Conflicts::targets_of(const Set& set) const {
  std::vector<Target> targets;
  targets.reserve(set.size());
  for (const std::size_t i : set) targets.push_back(targets_[i]);
  return targets;
}

// The nearest to some targets: from a place near by, and as the search for all of them began.
std::optional<Attempt> Conflicts::look_for(std::vector<Target> targets, const Amounts& from) {
  // Few targets are weighed sooner than all.
  const double share = static_cast<double>(targets.size()) / static_cast<double>(targets_.size());
  Trials trials(tuning_, std::move(targets), knobs_);
  constexpr int kRounds = 8;
  // What a few of them are said not to be able to do must be looked for with care.
  constexpr std::size_t kFew = 3;
  const int starts = trials.targets().size() <= kFew ? 6 : 2;
  const std::vector<bool> none_held(knobs_.size(), false);
  auto found = descend(trials, from, none_held, kRounds);
  if (!found || found->weighed.missed > 0) {
    auto other = search(trials, {starts, budget_, 1, false, nullptr}).best;
    if (!found || is_better(other.weighed, found->weighed)) found = std::move(other);
  }
  evaluations_ += static_cast<int>(std::ceil(share * trials.evaluations()));
  return found;
}

bool Conflicts::can_be(const Set& set) {
  if (set.empty()) return true;
  if (const auto known = known_.find(set); known != known_.end()) return known->second;
  const auto found = look_for(targets_of(set), nearest_.amounts);
  const bool can = found && found->weighed.missed == 0;
  known_.emplace(set, can);
  return can;
}

// Takes one after the other away, as long as what is left cannot be.
Conflicts::Set Conflicts::smallest_in(Set set) {
  const Set all = set;
  for (const std::size_t one : all) {
    Set less = without(set, one);
    if (!less.empty() && !can_be(less)) set = std::move(less);
  }
  return set;
}

std::optional<double> Conflicts::measured_at(const Attempt& trial, std::size_t target) const {
  const auto tuning = Trials(tuning_, {}, knobs_).tuning_at(trial.amounts);
  return tuning ? judge(targets_[target], *tuning).measured : std::nullopt;
}

// What a target is measured at when others are met, as near as it can be then: the way that it is
// off by is halved as long as they still can be met.
std::optional<double> Conflicts::nearest_beside(const Set& others, std::size_t one) {
  std::vector<Target> targets = targets_of(others);
  auto found = look_for(targets, nearest_.amounts);
  if (!found || found->weighed.missed > 0) return std::nullopt;
  auto measured = measured_at(*found, one);
  if (!measured) return std::nullopt;
  targets.push_back(targets_[one]);
  const Bound& bound = targets_[one].bound;
  double can = std::abs(off_by(bound, *measured));
  double cannot = 0;
  constexpr int kHalvings = 6;
  for (int i = 0; i < kHalvings && can > cannot && evaluations_ < budget_; ++i) {
    const double off = (can + cannot) / 2;
    targets.back().bound = widened(bound, off);
    const auto nearer = look_for(targets, found->amounts);
    if (!nearer || nearer->weighed.missed > 0) {
      cannot = off;
      continue;
    }
    found = nearer;
    measured = measured_at(*found, one);
    can = std::abs(off_by(bound, *measured));
  }
  return measured;
}

}  // namespace bushbaby::detail
