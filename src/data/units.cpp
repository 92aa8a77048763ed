#include "bushbaby/data/units.h"

#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"

#include "toml_text.h"

namespace bushbaby {
namespace {

using detail::trimmed;

// A unit that was written out: which powers, and the convention in which a number with it is meant.
struct Unit {
  Convention convention{};
  bool milliseconds = false;
  int length_power = 0;
  int time_power = 0;
};

bool read_time(std::string_view name, Unit& unit) {
  unit.milliseconds = name == "ms";
  unit.convention.per_tick = name == "tick" || name == "ticks";
  return name == "s" || unit.milliseconds || unit.convention.per_tick;
}

// "px", "ticks", "px/tick", "u/s²": nothing if it is no such unit.
std::optional<Unit> read_unit(std::string_view text, const Convention& own) {
  Unit unit;
  if (read_time(text, unit)) {
    unit.time_power = 1;
    return unit;
  }
  const std::size_t slash = std::min(text.find('/'), text.size());
  const std::string_view length = trimmed(text.substr(0, slash));
  const bool is_tile = length == "tile" || length == "tiles";  // one_unit
  if (length != "u" && length != own.length_name && !is_tile) return std::nullopt;
  unit.length_power = 1;
  if (length == own.length_name) unit.convention.lengths_per_unit = own.lengths_per_unit;
  if (slash == text.size()) return unit;
  std::string_view time = trimmed(text.substr(slash + 1));
  unit.time_power = -1;
  for (const std::string_view square : {"²", "^2", "2"}) {
    const bool squared =
        time.size() > square.size() && time.substr(time.size() - square.size()) == square;
    if (!squared) continue;
    time = trimmed(time.substr(0, time.size() - square.size()));
    unit.time_power = -2;
    break;
  }
  if (!read_time(time, unit)) return std::nullopt;
  return unit;
}

bool fits(const Unit& unit, Dimension dimension) {
  const auto powers = [&unit](int length, int time) {
    return unit.length_power == length && unit.time_power == time;
  };
  switch (dimension) {
    case Dimension::length: return powers(1, 0);
    case Dimension::time: return powers(0, 1);
    case Dimension::speed: return powers(1, -1);
    case Dimension::acceleration: return powers(1, -2);
    default: return false;
  }
}

// Units that no convention changes.
bool is_plain_unit(std::string_view name, Dimension dimension) {
  switch (dimension) {
    case Dimension::angle: return name == "°" || name == "degrees" || name == "degree";
    case Dimension::frequency: return name == "Hz";
    case Dimension::milliseconds: return name == "ms";
    case Dimension::ticks: return name == "ticks" || name == "tick";
    default: return false;
  }
}

}  // namespace

double Units::shown(Dimension dimension, double meant) const noexcept {
  return meant / factor_of(convention, dimension, tick_rate);
}

double Units::meant(Dimension dimension, double reported) const noexcept {
  return reported * factor_of(convention, dimension, tick_rate);
}

Vec Units::shown(Dimension dimension, Vec meant) const noexcept {
  return to_convention(convention, meant, dimension, tick_rate);
}

Vec Units::meant(Dimension dimension, Vec reported) const noexcept {
  return from_convention(convention, reported, dimension, tick_rate);
}

std::string Units::name(Dimension dimension) const { return unit_in(convention, dimension); }

std::string Units::text(Dimension dimension, double meant, int digits) const {
  std::string number = fmt::format("{:.{}g}", shown(dimension, meant), digits);
  std::string unit = name(dimension);
  if (unit.empty()) return number;
  if (unit == "ticks" && number == "1") unit = "tick";
  return number + " " + unit;
}

std::string Units::describe() const {
  return fmt::format("{}, {}, y {}", name(Dimension::length), name(Dimension::speed),
                     convention.vertical_down ? "down" : "up");
}

std::optional<double> parse_quantity(std::string_view text, Dimension dimension,
                                     const Units& units) {
  text = trimmed(text);
  if (const auto number = parse_number(text)) return units.meant(dimension, *number);
  // A number may hold letters (an exponent), a unit no digits but its square.
  const std::size_t end = text.find_last_of("0123456789.", text.find_last_not_of("²^2"));
  if (end == std::string_view::npos) return std::nullopt;
  const auto number = parse_number(text.substr(0, end + 1));
  const std::string_view name = trimmed(text.substr(end + 1));
  if (!number || name.empty()) return std::nullopt;
  if (is_plain_unit(name, dimension)) return number;
  const auto unit = read_unit(name, units.convention);
  if (!unit || !fits(*unit, dimension)) return std::nullopt;
  double meant = *number * factor_of(unit->convention, dimension, units.tick_rate);
  constexpr double kPerSecond = 1000;
  if (unit->milliseconds) {
    for (int i = 0; i < unit->time_power; ++i) meant /= kPerSecond;
    for (int i = 0; i > unit->time_power; --i) meant *= kPerSecond;
  }
  return meant;
}

std::string describe_quantity(Dimension dimension, const Units& units) {
  const Units world;
  const auto forms = [&](const char* noun, double meant) {
    const std::string own = units.name(dimension);
    std::string text = fmt::format("{}: a number (in {})", noun, own);
    if (own != world.name(dimension))
      text += fmt::format(", \"{}\"", units.text(dimension, meant, 3));
    return text + fmt::format(" or \"{}\"", world.text(dimension, meant, 3));
  };
  switch (dimension) {
    case Dimension::length: return forms("a length", 3.25);
    case Dimension::speed: return forms("a speed", 7.5);
    case Dimension::acceleration: return forms("an acceleration", 45);
    case Dimension::time:
      return fmt::format("a time: a number (in {}), \"380 ms\", \"0.38 s\" or \"23 ticks\"",
                         units.name(dimension));
    default: break;
  }
  return "a number";
}

std::string describe(const Phrase& phrase, const Units& units) {
  if (units.convention.is_default()) return describe(phrase);
  std::string text;
  for (const Phrase::Part& part : phrase.parts()) {
    if (const auto* words = std::get_if<std::string>(&part)) {
      text += *words;
    } else if (const auto* unit = std::get_if<Dimension>(&part)) {
      text += units.name(*unit);
    } else {
      const auto& quantity = std::get<Quantity>(part);
      constexpr int kShort = 6;
      constexpr int kWhole = 12;  // no exponents for what is whole
      const double reported = units.shown(quantity.dimension, quantity.value);
      const std::string full = units.text(quantity.dimension, quantity.value,
                                          reported == std::round(reported) ? kWhole : kShort);
      text += quantity.bare ? full.substr(0, full.find(' ')) : full;
    }
  }
  return text;
}

std::string describe(const Violation& violation, const Units& units) {
  return (violation.key.empty() ? "" : violation.key + ": ") + "found " +
         describe(violation.found, units) + ", expected " + describe(violation.expected, units);
}

}  // namespace bushbaby
