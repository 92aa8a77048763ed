#include "bushbaby/lab/remedies.h"

#include <algorithm>
#include <cmath>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/core/tuning/compile.h"

#include "all_cores.h"
#include "polish.h"

namespace bushbaby {
namespace {

// How a value of a knob does: what is measured then, and how far that is off.
struct Try {
  KnobValue value;
  double measured = 0;
  double off = 0;
  bool met = false;
};

bool is_off(const KnobValue& value) {
  if (const auto* number = std::get_if<double>(&value)) return *number == 0;
  if (const auto* duration = std::get_if<Duration>(&value)) return duration->amount == 0;
  if (const auto* flag = std::get_if<bool>(&value)) return !*flag;
  if (const auto* name = std::get_if<std::string>(&value)) return *name == "none";
  return false;
}

// Looks for the remedies of one target.
class Search {
 public:
  Search(const Tuning& tuning, const Verdict& missed, const Rounder& round)
      : tuning_(tuning), target_(*missed.target), round_(round) {
    now_ = {{}, *missed.measured, missed.off_by, false};
  }

  // The nearest value of the knob that meets the target, or the one that comes nearest; nothing if
  // the knob does not move it.
  std::optional<Remedy> find(const KnobPlace& place) {
    place_ = place;
    from_ = get_knob(tuning_, *place.knob, place.row);
    nearest_.reset();
    const bool counts = std::holds_alternative<KnobAccess<int>>(place.knob->binding);
    const auto* duration = std::get_if<Duration>(&from_);
    const bool ticks = duration != nullptr && duration->unit == Duration::Unit::ticks;
    std::optional<Try> best;
    if (std::holds_alternative<std::monostate>(from_)) return std::nullopt;
    if (counts) {
      constexpr int kMostMore = 6;
      best = step(kMostMore, false);
    } else if (ticks || (duration != nullptr && duration->amount == 0)) {
      constexpr int kMostTicks = 60;
      best = step(kMostTicks, !ticks);
    } else if (duration != nullptr || std::holds_alternative<double>(from_)) {
      best = grow();
    } else {
      best = choose();
    }
    if (!best) best = nearest_;
    if (!best) return std::nullopt;
    Remedy remedy{place, from_, best->value, best->measured, best->met, is_off(from_), 0, {}};
    remedy.change = size_of(best->value);
    return remedy;
  }

 private:
  // Measures with the knob at a value; nothing if that cannot be, or measures nothing.
  std::optional<Try> attempt(const KnobValue& value) {
    Tuning changed = tuning_;
    if (set_knob(changed, *place_.knob, value, place_.row)) return std::nullopt;
    const Verdict verdict = judge(target_, changed);
    if (!verdict.measured) return std::nullopt;
    Try one{value, *verdict.measured, verdict.off_by, verdict.met};
    constexpr double kNoise = 1e-9;
    const bool nearer = std::abs(one.off) < std::abs(nearest_ ? nearest_->off : now_.off) - kNoise;
    if (nearer) nearest_ = one;
    return one;
  }

  [[nodiscard]] bool is_moved(const std::optional<Try>& one) const {
    constexpr double kNoise = 1e-9;
    return one && std::abs(one->measured - now_.measured) > kNoise;
  }

  // By choices and flags: any that meets it.
  std::optional<Try> choose() {
    std::vector<KnobValue> values;
    if (const auto* flag = std::get_if<bool>(&from_)) values.emplace_back(!*flag);
    if (const auto* choice = std::get_if<ChoiceBinding>(&place_.knob->binding)) {
      for (std::size_t i = 0; i < choice->count; ++i) {
        const std::string name(choice->names[i]);
        if (KnobValue(name) != from_) values.emplace_back(name);
      }
    }
    for (const KnobValue& value : values) {
      auto one = attempt(value);
      if (one && one->met) return one;
    }
    return std::nullopt;
  }

  // By whole ticks or counts, one after the other in both directions. A time in seconds that is
  // switched off is switched on in ticks.
  std::optional<Try> step(int most, bool in_seconds) {
    const double from = *amount_of(from_);
    const auto at = [&](double amount) {
      return in_seconds ? KnobValue(Duration{amount, Duration::Unit::ticks})
                        : with_amount(from_, amount);
    };
    // What a long way does not move, a short one does not.
    const double far = std::min(most, 10);
    const double least = from > 0 ? 0 : from;
    if (!is_moved(attempt(at(from + far))) && !is_moved(attempt(at(from + 1))) &&
        !is_moved(attempt(at(least)))) {
      return std::nullopt;
    }
    for (int i = 1; i <= most; ++i) {
      for (const double amount : {from + i, from - i}) {
        if (amount < 0) continue;
        auto one = attempt(at(amount));
        if (one && one->met) return one;
      }
    }
    return std::nullopt;
  }

  // By growing ratios in both directions, until the target is met or passed; then the nearest
  // place.
  std::optional<Try> grow() {
    static constexpr double kRatios[] = {1.01, 1.02, 1.04, 1.08, 1.16, 1.32, 1.7, 2.5, 4, 8};
    const double from = *amount_of(from_);
    if (from == 0) return std::nullopt;
    constexpr double kFar = 4;
    if (!is_moved(attempt_at(from * kFar)) && !is_moved(attempt_at(from / kFar)) &&
        !is_moved(attempt_at(from * kRatios[5])) && !is_moved(attempt_at(from / kRatios[5]))) {
      return std::nullopt;
    }
    std::optional<Try> best;
    for (const bool up : {true, false}) {
      Try before = now_;
      before.value = from_;
      for (const double ratio : kRatios) {
        const double amount = clamped(up ? from * ratio : from / ratio);
        const auto one = attempt_at(amount);
        if (!one) break;
        const bool passed = one->met || one->off * before.off < 0;
        if (passed) {
          const auto found = close_in(before, *one);
          if (found && (!best || size_of(found->value) < size_of(best->value))) best = found;
          break;
        }
        before = *one;
        if (amount == place_.knob->range.hi) break;
      }
    }
    return best;
  }

  [[nodiscard]] double clamped(double amount) const {
    return std::clamp(amount, place_.knob->range.lo, place_.knob->range.hi);
  }

  std::optional<Try> attempt_at(double amount) {
    return attempt(with_amount(from_, clamped(amount)));
  }

  // Between a value that misses and one that meets the target or misses it on the other side: the
  // nearest to the first that meets it, as a short number.
  std::optional<Try> close_in(Try near, Try far) {
    constexpr int kHalvings = 30;
    for (int i = 0; i < kHalvings; ++i) {
      const double middle = (*amount_of(near.value) + *amount_of(far.value)) / 2;
      const auto one = attempt_at(middle);
      if (!one) return std::nullopt;
      const bool beyond = one->met || one->off * near.off < 0;
      (beyond ? far : near) = *one;
    }
    if (!far.met) return std::nullopt;  // it is jumped over
    const double edge = *amount_of(far.value);
    for (int digits = 1; digits <= 8; ++digits) {
      const double amount = beyond_edge(edge, digits);
      const double extra = std::abs(amount - edge);
      constexpr double kMuch = 0.1;  // of the way, for the sake of a shorter number
      if (extra > kMuch * std::abs(edge - *amount_of(from_))) continue;
      auto one = attempt_at(amount);
      if (one && one->met) return one;
    }
    return far;
  }

  // The nearest number of N digits that is no nearer to where the knob is now.
  [[nodiscard]] double beyond_edge(double edge, int digits) const {
    const Dimension dimension = place_.knob->dimension;
    const double rounded = round_(dimension, edge, digits);
    const bool up = edge > *amount_of(from_);
    if (up ? rounded >= edge : rounded <= edge) return rounded;
    // The next one of that length.
    const double unit = std::pow(10, 1 - digits) * std::abs(edge);
    return round_(dimension, up ? edge + unit / 2 : edge - unit / 2, digits);
  }

  [[nodiscard]] double size_of(const KnobValue& to) const {
    const bool number = std::holds_alternative<double>(to) || std::holds_alternative<Duration>(to);
    constexpr double kChoice = 4;  // as much as a knob turned up fourfold
    if (!number) return std::log(kChoice);
    const bool counts = std::holds_alternative<KnobAccess<int>>(place_.knob->binding);
    const auto* duration = std::get_if<Duration>(&to);
    const bool ticks = duration != nullptr && duration->unit == Duration::Unit::ticks;
    const double more = counts || ticks ? 1 : 0;
    return std::abs(
        std::log((std::abs(*amount_of(to)) + more) / (std::abs(*amount_of(from_)) + more)));
  }

  const Tuning& tuning_;
  const Target& target_;
  const Rounder& round_;
  Try now_;
  KnobPlace place_;
  KnobValue from_;
  std::optional<Try> nearest_;
};

// The targets that are met with a tuning now and would not be with the remedy.
std::vector<const Target*> broken_by(const Remedy& remedy, const Tuning& tuning,
                                     const std::vector<Target>& targets, const Judgement& before) {
  Tuning changed = tuning;
  std::vector<const Target*> broken;
  if (set_knob(changed, *remedy.place.knob, remedy.to, remedy.place.row)) return broken;
  std::vector<Target> watched;
  std::vector<const Target*> owners;
  for (std::size_t i = 0; i < targets.size(); ++i) {
    const Verdict& now = before.verdicts[i];
    if (!now.met || now.ticks > kMostAdvisedTicks) continue;
    watched.push_back(targets[i]);
    owners.push_back(&targets[i]);
  }
  const Judgement after = judge(watched, changed);
  for (std::size_t i = 0; i < watched.size(); ++i) {
    if (!after.verdicts[i].met) broken.push_back(owners[i]);
  }
  return broken;
}

}  // namespace

std::vector<Remedy> find_remedies(const Tuning& tuning, const std::vector<Target>& targets,
                                  const Verdict& missed, const Rounder& round) {
  std::vector<Remedy> remedies;
  if (missed.met || !missed.measured || missed.ticks > kMostAdvisedTicks) return remedies;
  const Rounder rounder = round ? round : Rounder(detail::rounded_in_world);
  const std::vector<KnobPlace> places = places_of(tuning);
  std::vector<std::optional<Remedy>> found(places.size());
  detail::on_all_cores(places.size(), [&](std::size_t i) {
    const std::string_view mechanism = places[i].knob->mechanism();
    if (mechanism == "loop" || mechanism == "body") return;  // the user's are what they are
    found[i] = Search(tuning, missed, rounder).find(places[i]);
  });
  bool any = false;
  for (std::optional<Remedy>& remedy : found) {
    if (!remedy) continue;
    any |= remedy->meets;
    remedies.push_back(std::move(*remedy));
  }
  if (any) {
    remedies.erase(std::remove_if(remedies.begin(), remedies.end(),
                                  [](const Remedy& remedy) { return !remedy.meets; }),
                   remedies.end());
    const Judgement before = judge(targets, tuning);
    detail::on_all_cores(remedies.size(), [&](std::size_t i) {
      remedies[i].breaks = broken_by(remedies[i], tuning, targets, before);
    });
  }
  const auto off = [&missed](const Remedy& remedy) {
    return std::abs(off_by(missed.target->bound, remedy.measured));
  };
  std::stable_sort(remedies.begin(), remedies.end(), [&](const Remedy& a, const Remedy& b) {
    if (a.switches_on != b.switches_on) return b.switches_on;
    if (!a.meets) return off(a) < off(b);
    if (a.breaks.size() != b.breaks.size()) return a.breaks.size() < b.breaks.size();
    return a.change < b.change;
  });
  return remedies;
}

}  // namespace bushbaby
