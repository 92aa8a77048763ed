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
  if (number == nullptr || !place || change.scales) return describe(value);
  const Dimension dimension = place->knob->dimension;
  return dimension == Dimension::number ? describe(value) : units.text(dimension, *number);
}

std::string down_text(const Turning& turning, const Units& units) {
  if (turning.to == Turning::To::point) {
    const Vec point = units.shown(Dimension::length, turning.point);
    return fmt::format("down is towards [{:.6g}, {:.6g}]", point.x, point.y);
  }
  const Vec down = turning.down;
  if (down == Vec{0, -1}) return "down is down";
  if (down == Vec{0, 1}) return "down is up";
  if (down == Vec{-1, 0}) return "down is left";
  if (down == Vec{1, 0}) return "down is right";
  const Vec reported = units.shown(Dimension::speed, down);
  return fmt::format("down is along [{:.3g}, {:.3g}]",
                     reported.x / std::hypot(reported.x, reported.y),
                     reported.y / std::hypot(reported.x, reported.y));
}

void add_fluid(const Fluid& fluid, const Units& units, std::vector<std::string>& deeds) {
  deeds.emplace_back("fluid");
  if (fluid.buoyancy != 0) {
    deeds.push_back("buoyancy " + units.text(Dimension::acceleration, fluid.buoyancy, 4));
  }
  if (fluid.drag != 0) {
    deeds.push_back(fmt::format("drag {:.4g} 1/{}", fluid.drag / units.shown(Dimension::time, 1.0),
                                units.convention.per_tick ? "tick" : "s"));
  }
  if (fluid.current != Vec{0, 0}) {
    const Vec current = units.shown(Dimension::speed, fluid.current);
    deeds.push_back(fmt::format("current [{:.4g}, {:.4g}] {}", current.x, current.y,
                                units.name(Dimension::speed)));
  }
  if (fluid.dive > 0) deeds.push_back("dive " + units.text(Dimension::speed, fluid.dive, 4));
  if (fluid.stroke > 0) {
    deeds.push_back("stroke " + units.text(Dimension::length, fluid.stroke, 4));
  }
  if (fluid.exit_jump > 0)
    deeds.push_back("exit jump " + units.text(Dimension::length, fluid.exit_jump, 4));
  if (fluid.restores) deeds.emplace_back("restores jumps and dashes");
}

// The changes of a knob, one after the other as they are made.
std::string changes_of(std::string_view knob, const std::vector<ZoneId>& in_order,
                       const Level& level, const Units& units) {
  std::string text;
  for (const ZoneId id : in_order) {
    for (const Override& change : level.zones[id].overrides) {
      if (change.knob != knob) continue;
      text += fmt::format(", {}{} by {}", change.scales ? "times " : "", value_text(change, units),
                          zone_name(level, id));
    }
  }
  return text;
}

}  // namespace

std::string describe(const Override& change, const Units& units) {
  return fmt::format("{}{} {}", change.knob, change.scales ? " times" : "",
                     value_text(change, units));
}

std::vector<std::string> deeds_of(const Zone& zone, const Units& units) {
  std::vector<std::string> deeds;
  for (const Override& change : zone.overrides) deeds.push_back(describe(change, units));
  if (zone.turning.to != Turning::To::nothing) deeds.push_back(down_text(zone.turning, units));
  if (zone.fluid) add_fluid(*zone.fluid, units, deeds);
  const ZoneTraits& traits = zone.traits;
  if (traits.keep_vertical != 1)
    deeds.push_back(fmt::format("keeps {:.3g} of vertical speed", traits.keep_vertical));
  if (traits.keep_horizontal != 1) {
    deeds.push_back(fmt::format("keeps {:.3g} of horizontal speed", traits.keep_horizontal));
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
    return level.zones[a].priority < level.zones[b].priority;
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
    case Stated::speed_horizontal:
    case Stated::speed_vertical: return units.text(Dimension::speed, value, 4);
    case Stated::held_horizontal: return word("left", "right");
    case Stated::held_vertical: return word("down", "up");
    case Stated::stance: return std::string(name_of(static_cast<Stance>(static_cast<int>(value))));
    case Stated::zone: break;
  }
  return zone_name(level, static_cast<ZoneId>(value));
}

std::string_view quantity_text(Stated of) {
  switch (of) {
    case Stated::height: return "height over it";
    case Stated::speed_horizontal: return "horizontal speed";
    case Stated::speed_vertical: return "vertical speed";
    case Stated::held_horizontal:
    case Stated::held_vertical: return "held";
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
