#include "bushbaby/data/quantities.h"

#include <array>

#include <fmt/format.h>

#include "number_text.h"

namespace bushbaby {
namespace {

struct TimeUnit {
  std::string_view name;
  Duration::Unit unit;
  double per_unit;  // the amount is divided by it
};

// Longer names first: "ms" ends in "s".
constexpr std::array<TimeUnit, 4> kTimeUnits{{{"ticks", Duration::Unit::ticks, 1},
                                              {"tick", Duration::Unit::ticks, 1},
                                              {"ms", Duration::Unit::seconds, 1000},
                                              {"s", Duration::Unit::seconds, 1}}};

}  // namespace

std::optional<double> parse_number(std::string_view text) {
  double number = 0;
  if (!text.empty() && text.front() == '+') text.remove_prefix(1);
  if (!detail::take_number(text, number) || !text.empty()) return std::nullopt;
  return number;
}

std::optional<Duration> parse_duration(std::string_view text) {
  for (const TimeUnit& unit : kTimeUnits) {
    if (text.size() <= unit.name.size()) continue;
    const std::size_t begin = text.size() - unit.name.size();
    if (text.substr(begin) != unit.name) continue;
    const std::string_view amount = text.substr(0, text.find_last_not_of(' ', begin - 1) + 1);
    const auto number = parse_number(amount);
    if (!number) return std::nullopt;
    return Duration{*number / unit.per_unit, unit.unit};
  }
  const auto number = parse_number(text);
  if (!number) return std::nullopt;
  return Duration{*number};
}

std::string duration_text(const Duration& duration) {
  const bool ticks = duration.unit == Duration::Unit::ticks;
  return fmt::format("{} {}", duration.amount,
                     !ticks                 ? "s"
                     : duration.amount == 1 ? "tick"
                                            : "ticks");
}

}  // namespace bushbaby
