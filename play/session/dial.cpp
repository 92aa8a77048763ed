#include "dial.h"

#include <algorithm>
#include <cctype>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/core/tuning/amounts.h"

namespace bushbaby::live {
namespace {

double rounded_to(double value, int digits) noexcept {
  if (value == 0) return 0;
  const double scale = std::pow(10, digits - 1 - std::floor(std::log10(std::abs(value))));
  return std::round(value * scale) / scale;
}

std::string lowered(std::string_view text) {
  std::string lower(text);
  for (char& c : lower) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return lower;
}

}  // namespace

Dial dial_of(const Tuning& tuning, const KnobPlace& place, const Tuning& file) {
  const Knob& knob = *place.knob;
  Dial dial;
  const KnobValue value = get_knob(tuning, knob, place.row);
  if (std::holds_alternative<ChoiceBinding>(knob.binding)) dial.kind = DialKind::choice;
  if (std::holds_alternative<KnobAccess<bool>>(knob.binding)) dial.kind = DialKind::flag;
  if (std::holds_alternative<KnobAccess<std::string>>(knob.binding)) dial.kind = DialKind::text;
  if (dial.kind != DialKind::number) return dial;
  dial.is_set = !std::holds_alternative<std::monostate>(value);
  dial.amount = amount_of(value).value_or(0);
  // Around what the file says, so that the dial stays as it is while it is turned.
  const UsualRange usual = usual_range(knob, get_knob(file, knob, place.row), value);
  dial.dimension = usual.dimension;
  dial.lo = usual.lo;
  dial.hi = usual.hi;
  dial.by_ratio = usual.by_ratio;
  dial.whole = usual.whole;
  return dial;
}

double share_of(const Dial& dial, double amount) noexcept {
  if (!(dial.hi > dial.lo)) return 0;
  const double at = std::clamp(amount, dial.lo, dial.hi);
  if (dial.by_ratio) return std::log(at / dial.lo) / std::log(dial.hi / dial.lo);
  return (at - dial.lo) / (dial.hi - dial.lo);
}

double amount_at(const Dial& dial, double share, const Units& units) noexcept {
  const double at = std::clamp(share, 0.0, 1.0);
  double amount = dial.by_ratio ? dial.lo * std::pow(dial.hi / dial.lo, at)
                                : dial.lo + (dial.hi - dial.lo) * at;
  if (dial.whole) return std::clamp(std::round(amount), std::ceil(dial.lo), std::floor(dial.hi));
  // As short as a person would write it, but no step longer than a hundredth of the way.
  const double reported = units.shown(dial.dimension, amount);
  const double hundredth =
      std::abs(units.shown(dial.dimension, dial.by_ratio ? amount : dial.hi - dial.lo)) / 100;
  constexpr int kMostDigits = 4;
  for (int digits = 1; digits <= kMostDigits; ++digits) {
    const double shorter = rounded_to(reported, digits);
    if (std::abs(shorter - reported) > hundredth / 2 && digits < kMostDigits) continue;
    amount = units.meant(dial.dimension, shorter);
    break;
  }
  return std::clamp(amount, dial.lo, dial.hi);
}

double nudged(const Dial& dial, int direction, const Units& units) noexcept {
  if (dial.whole) return dial.amount + direction;
  // From where it is, even beyond the ends of the dial.
  constexpr double kStep = 0.01;
  if (dial.by_ratio && dial.amount > 0) {
    const double reported = units.shown(dial.dimension, dial.amount);
    const double scale = std::pow(10, std::floor(std::log10(std::abs(reported))) - 2);
    const double step = std::max(rounded_to(std::abs(reported) * kStep, 1), scale);
    const double next = (std::round(reported / step) + direction * (reported < 0 ? -1 : 1)) * step;
    return units.meant(dial.dimension, rounded_to(next, 4));
  }
  const double step =
      rounded_to(std::abs(units.shown(dial.dimension, dial.hi - dial.lo)) * kStep, 1);
  const double reported = units.shown(dial.dimension, dial.amount);
  const double next = (std::round(reported / step) + direction) * step;
  return units.meant(dial.dimension, std::abs(next) < step / 2 ? 0 : rounded_to(next, 6));
}

double first_amount(const Knob& knob) noexcept {
  const UsualRange usual = usual_range(knob, {}, {});
  const double half = typical_amount(usual.dimension) / 2;
  return std::clamp(half, std::max(knob.range.lo, 0.0), knob.range.hi);
}

std::string value_text(const KnobValue& value, const Knob& knob, const Units& units) {
  if (std::holds_alternative<std::monostate>(value)) return "not set";
  if (const auto* flag = std::get_if<bool>(&value)) return *flag ? "yes" : "no";
  if (const auto* duration = std::get_if<Duration>(&value)) {
    if (duration->unit == Duration::Unit::ticks) {
      return fmt::format("{:.6g} tick{}", duration->amount, duration->amount == 1 ? "" : "s");
    }
    return units.text(Dimension::time, duration->amount, 4);
  }
  if (const auto* number = std::get_if<double>(&value)) {
    return units.text(has_amount(knob) ? knob.dimension : Dimension::number, *number, 5);
  }
  return std::get<std::string>(value);
}

std::vector<std::string_view> mechanisms_in_order() {
  std::vector<std::string_view> order{"jump", "run",  "fall", "wall", "dash",
                                      "drop", "push", "body", "loop"};
  // What is added to the table later comes last, and is not lost.
  for (const Knob& knob : knobs()) {
    if (knob.key.find('.') == std::string_view::npos) continue;
    if (std::find(order.begin(), order.end(), knob.mechanism()) == order.end()) {
      order.push_back(knob.mechanism());
    }
  }
  return order;
}

bool is_about(const KnobPlace& place, std::string_view words) {
  const std::string text = lowered(place.key() + " " + std::string(place.knob->help));
  std::string_view rest = words;
  while (!rest.empty()) {
    const std::size_t end = std::min(rest.find(' '), rest.size());
    const std::string word = lowered(rest.substr(0, end));
    if (text.find(word) == std::string::npos) return false;
    rest.remove_prefix(std::min(end + 1, rest.size()));
  }
  return true;
}

}  // namespace bushbaby::live
