#include "bushbaby/records/zone_words.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/core/motion/character.h"
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
  if (medium.drag != 0) {
    deeds.push_back(fmt::format("drag {:.4g} 1/{}", medium.drag / units.told(Dimension::time, 1.0),
                                units.convention.per_tick ? "tick" : "s"));
  }
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

namespace {

// A number of a statement with its unit, or the word that it stands for.
std::string value_text(Stated of, double value, const Level& level, const Units& units) {
  const auto word = [value](const char* less, const char* more) {
    return std::string(value < 0 ? less : value > 0 ? more : "nothing");
  };
  switch (of) {
    case Stated::height: return units.text(Dimension::length, value, 4);
    case Stated::speed_across:
    case Stated::speed_along: return units.text(Dimension::speed, value, 4);
    case Stated::held_across: return word("left", "right");
    case Stated::held_along: return word("down", "up");
    case Stated::stance: return std::string(name_of(static_cast<Stance>(static_cast<int>(value))));
    case Stated::zone: break;
  }
  return zone_name(level, static_cast<ZoneId>(value));
}

std::string_view quantity_text(Stated of) {
  switch (of) {
    case Stated::height: return "height over it";
    case Stated::speed_across: return "speed across";
    case Stated::speed_along: return "speed along up";
    case Stated::held_across:
    case Stated::held_along: return "held";
    case Stated::stance: return "stance";
    case Stated::zone: break;
  }
  return "in";
}

std::string bounds_text(const Statement& statement, const Level& level, const Units& units) {
  const auto text = [&](double value) { return value_text(statement.of, value, level, units); };
  if (statement.at_least == statement.at_most) return text(statement.at_least);
  if (std::isinf(statement.at_most)) return "at least " + text(statement.at_least);
  if (std::isinf(statement.at_least)) return "at most " + text(statement.at_most);
  return fmt::format("between {} and {}", text(statement.at_least), text(statement.at_most));
}

// NOLINTNEXTLINE(misc-no-recursion): conditions are as deep as somebody wrote them
std::string node_text(const Condition& condition, std::size_t index, const Level& level,
                      const Units& units) {
  const Condition::Node& node = condition.nodes[index];
  if (node.kind == Condition::Kind::statement) {
    return fmt::format("{} {}", quantity_text(node.statement.of),
                       bounds_text(node.statement, level, units));
  }
  if (node.kind == Condition::Kind::no) {
    return fmt::format("not ({})", node_text(condition, index + 1, level, units));
  }
  std::vector<std::string> parts;
  for (std::size_t at = index + 1; at < index + node.size; at += condition.nodes[at].size) {
    const bool group = condition.nodes[at].kind == Condition::Kind::all ||
                       condition.nodes[at].kind == Condition::Kind::any;
    const std::string part = node_text(condition, at, level, units);
    parts.push_back(group ? fmt::format("({})", part) : part);
  }
  return fmt::format("{}", fmt::join(parts, node.kind == Condition::Kind::all ? " and " : " or "));
}

}  // namespace

std::string describe(const Condition& condition, const Level& level, const Units& units) {
  return condition.nodes.empty() ? "" : node_text(condition, 0, level, units);
}

std::string describe(const Decision& decision, const Condition& condition, const Level& level,
                     const Units& units) {
  const Statement& statement = condition.nodes[decision.node].statement;
  if (statement.of == Stated::zone) {
    return fmt::format("{}in {}", decision.value == 1 ? "" : "not ",
                       bounds_text(statement, level, units));
  }
  return fmt::format("{} {}, asked for {}", quantity_text(statement.of),
                     value_text(statement.of, decision.value, level, units),
                     bounds_text(statement, level, units));
}

}  // namespace bushbaby
