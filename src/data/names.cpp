#include "bushbaby/data/names.h"

#include <algorithm>

#include <fmt/format.h>

namespace bushbaby {
namespace {

// Where the character begins to which a byte of a UTF-8 text belongs.
std::size_t begin_of_character(std::string_view text, std::size_t at) {
  constexpr std::size_t kMostBytes = 4;
  constexpr unsigned kIsRest = 0xC0;
  constexpr unsigned kRest = 0x80;
  for (std::size_t back = 0; back < kMostBytes && back <= at; ++back) {
    const auto byte = static_cast<unsigned char>(text[at - back]);
    if ((byte & kIsRest) != kRest) return at - back;
  }
  return at;  // no UTF-8
}

std::string quoted_or_counted(const std::string& name, std::string_view kind, std::size_t index) {
  return name.empty() ? fmt::format("{} {}", kind, index + 1)
                      : fmt::format("\"{}\"", shortened(name));
}

}  // namespace

std::string shortened(std::string_view name, std::size_t most) {
  constexpr std::size_t kMostOfPath = 250;
  constexpr std::string_view kBetween = "...";
  if (name.find('/') != std::string_view::npos) most = std::max(most, kMostOfPath);
  if (name.size() <= most) return std::string(name);
  const std::size_t end = most / 4;
  const std::size_t begins = begin_of_character(name, most - end - kBetween.size());
  const std::size_t ends = begin_of_character(name, name.size() - end);
  return fmt::format("{}{}{}", name.substr(0, begins), kBetween, name.substr(ends));
}

std::string character_name(std::string_view name, std::size_t most) {
  return name.empty() ? std::string("the character") : shortened(name, most);
}

std::string solid_name(const Level& level, std::size_t solid) {
  const bool known = solid < level.solids.size();
  return quoted_or_counted(known ? level.solids[solid].name : std::string(), "solid", solid);
}

std::string zone_name(const Level& level, ZoneId zone) {
  const bool known = zone < level.zones.size();
  return quoted_or_counted(known ? level.zones[zone].name : std::string(), "zone", zone);
}

std::vector<std::string> zone_names(const Level& level) {
  std::vector<std::string> names;
  for (ZoneId zone = 0; zone < level.zones.size(); ++zone) names.push_back(zone_name(level, zone));
  return names;
}

}  // namespace bushbaby
