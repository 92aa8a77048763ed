#include "bushbaby/data/convention.h"

#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"

#include "number_text.h"
#include "toml_text.h"

namespace bushbaby {
namespace {

// How often a length, and how often a time, stands in a dimension.
struct Powers {
  int length;
  int time;
};

Powers powers_of(Dimension dimension) noexcept {
  switch (dimension) {
    case Dimension::length: return {1, 0};
    case Dimension::time: return {0, 1};
    case Dimension::speed: return {1, -1};
    case Dimension::acceleration: return {1, -2};
    default: return {0, 0};
  }
}

KnobValue scaled(const Knob& knob, const KnobValue& value, double factor) {
  const auto* number = std::get_if<double>(&value);
  if (number == nullptr || knob.dimension == Dimension::time) return value;
  return *number * factor;
}

// The shortest number that means the same to the last bit, if one does: 7, not 7.000000000000001.
double tidied(double reported, double meant, double factor) {
  constexpr int kSure = 15;  // digits that survive it
  constexpr int kAll = 17;
  const auto at = [reported](int digits) {
    return parse_number(fmt::format("{:.{}g}", reported, digits)).value_or(reported);
  };
  for (int digits = kSure; digits <= kAll; ++digits) {
    if (at(digits) * factor == meant) return at(digits);
  }
  return reported;
}

// A y between up and the convention's; a difference, so that 0 does not become -0.
double turned(const Convention& convention, double y) noexcept {
  return convention.vertical_down ? 0 - y : y;
}

// "16 px" or "16px": a number and a name.
bool read_one_unit(Convention& convention, std::string_view text) {
  double number = 0;
  if (!detail::take_number(text, number)) return false;
  constexpr double kMost = 1e6;
  if (!(number >= 1 / kMost) || !(number <= kMost)) return false;
  const std::string_view name = detail::trimmed(text);
  // What is called u is one of the world's.
  if (!is_length_name(name) || (name == "u" && number != 1)) return false;
  convention.lengths_per_unit = number;
  convention.length_name = name;
  return true;
}

}  // namespace

bool is_length_name(std::string_view name) noexcept {
  constexpr std::size_t kLongest = 12;
  if (name.empty() || name.size() > kLongest) return false;
  for (const char c : name) {
    const auto byte = static_cast<unsigned char>(c);
    const bool letter =
        (byte >= 'a' && byte <= 'z') || (byte >= 'A' && byte <= 'Z') || byte >= 0x80;
    if (!letter) return false;
  }
  return name != "s" && name != "ms" && name != "tick" && name != "ticks";
}

double factor_of(const Convention& convention, Dimension dimension, double tick_rate) noexcept {
  const Powers powers = powers_of(dimension);
  double factor = 1;
  if (powers.length > 0) factor /= convention.lengths_per_unit;
  if (!convention.per_tick) return factor;
  for (int i = 0; i < powers.time; ++i) factor /= tick_rate;
  for (int i = 0; i > powers.time; --i) factor *= tick_rate;
  return factor;
}

KnobValue from_convention(const Convention& convention, const Knob& knob, const KnobValue& written,
                          double tick_rate) {
  const auto* number = std::get_if<double>(&written);
  if (number != nullptr && knob.dimension == Dimension::time && convention.per_tick) {
    return Duration{*number, Duration::Unit::ticks};
  }
  return scaled(knob, written, factor_of(convention, knob.dimension, tick_rate));
}

KnobValue to_convention(const Convention& convention, const Knob& knob, const KnobValue& meant,
                        double tick_rate) {
  if (const auto* duration = std::get_if<Duration>(&meant);
      duration != nullptr && convention.per_tick && duration->unit == Duration::Unit::seconds) {
    // A bare number would be ticks there.
    const double ticks = duration->amount * tick_rate;
    return Duration{tidied(ticks, duration->amount, 1 / tick_rate), Duration::Unit::ticks};
  }
  const double factor = factor_of(convention, knob.dimension, tick_rate);
  KnobValue reported = scaled(knob, meant, 1 / factor);
  if (auto* number = std::get_if<double>(&reported); number != nullptr && factor != 1) {
    *number = tidied(*number, std::get<double>(meant), factor);
  }
  return reported;
}

Vec to_convention(const Convention& convention, Vec meant, Dimension dimension,
                  double tick_rate) noexcept {
  const double factor = factor_of(convention, dimension, tick_rate);
  return {meant.x / factor, turned(convention, meant.y) / factor};
}

Vec from_convention(const Convention& convention, Vec written, Dimension dimension,
                    double tick_rate) noexcept {
  const double factor = factor_of(convention, dimension, tick_rate);
  return {written.x * factor, turned(convention, written.y) * factor};
}

std::string set_convention(Convention& convention, std::string_view key, std::string_view value) {
  if (key == "one_unit") {
    return read_one_unit(convention, value)
               ? ""
               : "a number from 1e-6 to 1e6 and a name of letters, such as \"16 px\"";
  }
  if (key == "vertical") {
    convention.vertical_down = value == "down";
    return value == "down" || value == "up" ? "" : "\"up\" or \"down\"";
  }
  convention.per_tick = value == "tick";
  return value == "tick" || value == "second" ? "" : "\"second\" or \"tick\"";
}

Result<Convention> parse_convention(std::string_view text, const std::string& where) {
  Convention convention;
  std::vector<Problem> problems;
  while (!text.empty()) {
    const std::size_t end = std::min(text.find(','), text.size());
    const std::string_view part = detail::trimmed(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
    const std::size_t equals = std::min(part.find('='), part.size());
    const std::string_view key = detail::trimmed(part.substr(0, equals));
    const std::string_view value = detail::trimmed(part.substr(std::min(equals + 1, part.size())));
    const std::vector<std::string_view> keys{"one_unit", "vertical", "time"};
    if (std::find(keys.begin(), keys.end(), key) == keys.end()) {
      problems.push_back({ProblemCode::unknown_name, where, 0, 0, "", detail::shown(part),
                          "one_unit=NUMBER NAME, vertical=up|down or time=second|tick",
                          std::string(nearest_name(key, keys))});
    } else if (const std::string expected = set_convention(convention, key, value);
               !expected.empty()) {
      problems.push_back({ProblemCode::out_of_range, where, 0, 0, std::string(key),
                          detail::shown(value), expected, ""});
    }
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return convention;
}

std::string unit_in(const Convention& convention, Dimension dimension) {
  const Powers powers = powers_of(dimension);
  const std::string time = convention.per_tick ? "tick" : "s";
  std::string unit = powers.length > 0 ? convention.length_name : "";
  if (powers.time > 0) return convention.per_tick ? "ticks" : time;
  if (powers.time == -1) unit += "/" + time;
  if (powers.time == -2) unit += "/" + time + "²";
  return unit.empty() ? std::string(unit_of(dimension)) : unit;
}

}  // namespace bushbaby
