#include "turning.h"

#include <algorithm>
#include <cmath>

namespace bushbaby {
namespace {

// The value of a knob as a search turns it: a time that is switched off is switched on in ticks.
KnobValue value_to_turn(const Tuning& tuning, const KnobPlace& place) {
  KnobValue value = get_knob(tuning, *place.knob, place.row);
  auto* duration = std::get_if<Duration>(&value);
  if (duration != nullptr && duration->amount == 0) duration->unit = Duration::Unit::ticks;
  return value;
}

}  // namespace

std::optional<FreeKnob> free_knob(const Tuning& tuning, const KnobPlace& place) {
  const KnobValue value = value_to_turn(tuning, place);
  if (!has_amount(*place.knob) || !amount_of(value)) return std::nullopt;
  const UsualRange usual = usual_range(*place.knob, value, value);
  // What the tuning says is usual enough.
  return FreeKnob{place, std::min(usual.lo, *amount_of(value)),
                  std::max(usual.hi, *amount_of(value))};
}

std::optional<FreeKnob> free_knob(const Tuning& tuning, const KnobPlace& place, const KnobValue& lo,
                                  const KnobValue& hi) {
  const KnobValue value = value_to_turn(tuning, place);
  if (!amount_of(value) || !amount_of(lo) || !amount_of(hi)) return std::nullopt;
  const double rate = tuning.loop.tick_rate;
  const auto reported = [&](const KnobValue& bound) {
    const double amount = *amount_of(bound);
    if (is_in_ticks(bound) == is_in_ticks(value)) return amount;
    return is_in_ticks(bound) ? amount / rate : std::round(amount * rate);
  };
  return FreeKnob{place, reported(lo), reported(hi)};
}

std::vector<FreeKnob> free_knobs(const Tuning& tuning) {
  std::vector<FreeKnob> all;
  for (const KnobPlace& place : places_of(tuning)) {
    const std::string_view mechanism = place.knob->mechanism();
    if (mechanism == "loop" || mechanism == "body") continue;
    const auto free = free_knob(tuning, place);
    const bool is_used = free && amount_of(get_knob(tuning, *place.knob, place.row)) != 0.0;
    if (is_used) all.push_back(*free);
  }
  return all;
}

namespace detail {

Variable::Variable(const Tuning& tuning, const FreeKnob& free)
    : free_(free), like_(value_to_turn(tuning, free.place)) {
  const UsualRange usual = usual_range(*free.place.knob, like_, like_);
  dimension_ = usual.dimension;
  by_ratio_ = usual.by_ratio && free.lo > 0;
  whole_ = usual.whole;
  constexpr double kSmall = 0.1;
  soft_ = whole_ ? 1 : kSmall * typical_amount(dimension_);
  const double now = std::abs(*amount_of(like_));
  if (!whole_ && now > 0) soft_ = std::min(soft_, now / 2);
}

double Variable::at(double amount) const {
  return by_ratio_ ? std::log(amount) : std::asinh(amount / soft_);
}

double Variable::amount_at(double at) const {
  return by_ratio_ ? std::exp(at) : soft_ * std::sinh(at);
}

double Variable::amount(double at) const {
  const double amount = amount_at(at);
  return clamped(whole_ ? std::round(amount) : amount);
}

double Variable::clamped(double amount) const { return std::clamp(amount, free_.lo, free_.hi); }

double Variable::beside(double at) const {
  // Wider than the stairs of what is measured in whole ticks.
  constexpr double kStep = 0.08;
  const double now = amount(at);
  const auto next = [&](double direction) {
    const double there = whole_ ? this->at(now + direction) : at + direction * kStep;
    return std::clamp(there, lo(), hi());
  };
  const double up = next(1);
  return up > at ? up : next(-1);
}

std::optional<Tuning> turned(const Tuning& tuning, const std::vector<Variable>& variables,
                             const Amounts& amounts) {
  Tuning changed = tuning;
  for (std::size_t i = 0; i < variables.size(); ++i) {
    const KnobPlace& place = variables[i].place();
    // What stays is not written again.
    if (amount_of(get_knob(tuning, *place.knob, place.row)) == amounts[i]) continue;
    const KnobValue value = variables[i].value(amounts[i]);
    if (set_knob(changed, *place.knob, value, place.row)) return std::nullopt;
  }
  return changed;
}

}  // namespace detail
}  // namespace bushbaby
