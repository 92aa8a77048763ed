#include "bushbaby/records/zone_words.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/core/tuning/knobs.h"

namespace bushbaby {
namespace {

// The value of a change, in the units.
std::string value_text(const Override& change, const Units& units) {
  const KnobValue value = change.value;
  const auto place = find_place(change.knob);
  const auto* number = std::get_if<double>(&value);
  if (std::holds_alternative<std::monostate>(value)) return "none";
  if (number == nullptr || !place || change.times) return describe(value);
  const Dimension dimension = place->knob->dimension;
  return dimension == Dimension::number ? describe(value) : units.text(dimension, *number);
}

std::string down_text(const Turning& turning, const Units& units) {
  if (turning.to == Turning::To::point) {
    const Vec point = units.told(Dimension::length, turning.point);
    return fmt::format("down is towards [{:.6g}, {:.6g}]", point.x, point.y);
  }
  const Vec down = turning.down;
  if (down == Vec{0, -1}) return "down is down";
  if (down == Vec{0, 1}) return "down is up";
  if (down == Vec{-1, 0}) return "down is left";
  if (down == Vec{1, 0}) return "down is right";
  const Vec told = units.told(Dimension::speed, down);
  return fmt::format("down is along [{:.3g}, {:.3g}]", told.x / std::hypot(told.x, told.y),
                     told.y / std::hypot(told.x, told.y));
}

void add_medium(const Medium& medium, const Units& units, std::vector<std::string>& deeds) {
  deeds.emplace_back("is swum in");
  if (medium.buoyancy != 0) {
    deeds.push_back("buoyancy " + units.text(Dimension::acceleration, medium.buoyancy, 4));
  }
  if (medium.drag != 0) deeds.push_back(fmt::format("drag {:.4g} 1/s", medium.drag));
  if (medium.stream != Vec{0, 0}) {
    const Vec stream = units.told(Dimension::speed, medium.stream);
    deeds.push_back(fmt::format("stream [{:.4g}, {:.4g}] {}", stream.x, stream.y,
                                units.name(Dimension::speed)));
  }
  if (medium.dive > 0) deeds.push_back("dive " + units.text(Dimension::speed, medium.dive, 4));
  if (medium.paddle > 0) {
    deeds.push_back("paddle " + units.text(Dimension::length, medium.paddle, 4));
  }
  if (medium.leap > 0) deeds.push_back("leap " + units.text(Dimension::length, medium.leap, 4));
  if (medium.restores) deeds.emplace_back("restores jumps and dashes");
}

// The changes of a knob, one after the other as they are made.
std::string changes_of(std::string_view knob, const std::vector<ZoneId>& in_order,
                       const Level& level, const Units& units) {
  std::string text;
  for (const ZoneId id : in_order) {
    for (const Override& change : level.zones[id].overrides) {
      if (change.knob != knob) continue;
      text += fmt::format(", {}{} by {}", change.times ? "times " : "", value_text(change, units),
                          zone_name(level, id));
    }
  }
  return text;
}

}  // namespace

std::string zone_name(const Level& level, ZoneId zone) {
  const bool named = zone < level.zones.size() && !level.zones[zone].name.empty();
  return named ? fmt::format("\"{}\"", level.zones[zone].name) : fmt::format("zone {}", zone + 1);
}

std::vector<std::string> zone_names(const Level& level) {
  std::vector<std::string> names;
  for (ZoneId zone = 0; zone < level.zones.size(); ++zone) names.push_back(zone_name(level, zone));
  return names;
}

std::string describe(const Override& change, const Units& units) {
  return fmt::format("{}{} {}", change.knob, change.times ? " times" : "",
                     value_text(change, units));
}

std::vector<std::string> deeds_of(const Zone& zone, const Units& units) {
  std::vector<std::string> deeds;
  for (const Override& change : zone.overrides) deeds.push_back(describe(change, units));
  if (zone.turning.to != Turning::To::nothing) deeds.push_back(down_text(zone.turning, units));
  if (zone.medium) add_medium(*zone.medium, units, deeds);
  const ZoneTraits& traits = zone.traits;
  if (traits.keep_along != 1)
    deeds.push_back(fmt::format("keeps {:.3g} along up", traits.keep_along));
  if (traits.keep_across != 1) {
    deeds.push_back(fmt::format("keeps {:.3g} across", traits.keep_across));
  }
  if (traits.has_touch) deeds.emplace_back(traits.touch.pushes ? "pushes" : "has a touch");
  return deeds;
}

std::string said_by_zones(std::string_view knob, const ZoneSet& zones, const Level& level,
                          const Units& units) {
  std::vector<ZoneId> in_order;
  for (const ZoneId zone : zones) {
    if (zone < level.zones.size()) in_order.push_back(zone);
  }
  std::stable_sort(in_order.begin(), in_order.end(), [&level](ZoneId a, ZoneId b) {
    return level.zones[a].rank < level.zones[b].rank;
  });
  std::string text = changes_of(knob, in_order, level, units);
  // What gravity is while falling follows from what it is while rising.
  if (knob == "fall.factor") text += changes_of("jump.gravity", in_order, level, units);
  return text;
}

}  // namespace bushbaby
