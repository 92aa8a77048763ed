// Zones of level files.
#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"

#include "knob_reading.h"
#include "level_reading.h"

namespace bushbaby::detail {
namespace {

constexpr double kMostRate = 1e9;
constexpr double kMostPriority = 1e6;
constexpr double kMostAngle = 3600;

constexpr std::array<NumberField<Fluid>, 4> kFluidNumbers{
    {{"buoyancy", &Fluid::buoyancy, {0, kMostAmount}, Dimension::acceleration},
     {"drag", &Fluid::drag, {0, kMostAmount}, Dimension::number},
     {"dive", &Fluid::dive, {0, kMostAmount}, Dimension::speed},
     {"exit_jump", &Fluid::exit_jump, {0, kMostAmount}, Dimension::length}}};
constexpr std::array<FlagField<Fluid>, 1> kFluidFlags{{{"restores", &Fluid::restores}}};

struct NamedWay {
  std::string_view name;
  Vec way;
};
constexpr std::array<NamedWay, 4> kWays{
    {{"down", {0, -1}}, {"up", {0, 1}}, {"left", {-1, 0}}, {"right", {1, 0}}}};

class ZoneReader : private FieldReader {
 public:
  ZoneReader(const Convention& convention, ZonePlaces& places, ProblemList& problems)
      : FieldReader(convention, problems), places_(places) {}

  void read(const toml::table& table, Zone& zone) {
    for (const auto& [key, value] : table) {
      if (!read_key(std::string(key.str()), value, zone)) {
        problems_.unknown(
            key, std::string(key.str()),
            {"name", "box", "polygon", "circle", "contains", "priority", "set", "scale", "down",
             "down_towards", "turn_rate", "keeps", "exit_margin", "inputs", "fluid", "touch"});
      }
    }
    // Values are set before they are scaled, in whatever order the keys are written.
    for (const std::string key : {"set", "scale"}) {
      const toml::node* changes = table.get(key);
      if (changes != nullptr) read_overrides("zone." + key, *changes, key == "scale", "", zone);
    }
    if (table.contains("down") && table.contains("down_towards")) {
      problems_.add(ProblemCode::contradiction, table.source(), "zone", "down and down_towards",
                    "one of them");
    }
    for (const char* of_turning : {"turn_rate", "inputs"}) {
      if (!table.contains(of_turning) || zone.turning.to != Turning::To::nothing) continue;
      problems_.add(ProblemCode::contradiction, table.get(of_turning)->source(),
                    fmt::format("zone.{}", of_turning), "a zone without a down of its own",
                    "down or down_towards as well");
    }
  }

 private:
  bool read_key(const std::string& key, const toml::node& value, Zone& zone) {
    const std::string name = "zone." + key;
    if (key == "name") {
      zone.name = read_text(value, name, problems_).value_or("");
    } else if (key == "box" || key == "polygon" || key == "circle") {
      read_shape(key, value, zone);
    } else if (key == "contains") {
      const auto choice = read_choice(value, name, {"feet", "centre", "any part"}, problems_);
      if (choice) zone.traits.contains = static_cast<Contains>(*choice);
    } else if (key == "priority") {
      double priority = 0;
      set_number(value, name, {-kMostPriority, kMostPriority}, Dimension::number, priority);
      if (priority != std::floor(priority)) {
        problems_.add(ProblemCode::wrong_type, value.source(), name, shown(value),
                      "a whole number");
      }
      zone.priority = static_cast<int>(priority);
    } else if (key == "set" || key == "scale") {
      // read together, further on
    } else if (key == "exit_margin") {
      set_number(value, name, {0, kMostAmount}, Dimension::length, zone.traits.exit_margin);
    } else if (key == "keeps") {
      read_keeps(name, value, zone);
    } else if (key == "fluid") {
      read_fluid(name, value, zone);
    } else if (key == "touch") {
      read_touch(value, convention_, zone.traits.has_touch, zone.traits.touch, problems_);
    } else {
      return read_turning(key, name, value, zone.turning);
    }
    return true;
  }

  bool read_turning(const std::string& key, const std::string& name, const toml::node& value,
                    Turning& turning) {
    if (key == "down") {
      read_down(name, value, turning);
    } else if (key == "down_towards") {
      turning.to = Turning::To::point;
      const auto point =
          read_numbers(value, 2, name, fmt::format("[x, y] in {}", convention_.length_name),
                       Dimension::length, convention_, problems_);
      if (point) {
        turning.point =
            from_convention(convention_, Vec{(*point)[0], (*point)[1]}, Dimension::length, 1);
      }
    } else if (key == "turn_rate") {
      if (value.value_exact<std::string>() == "at once") {
        turning.rate = std::numeric_limits<double>::infinity();
      } else if (number_in(value)) {
        set_number(value, name, {0, kMostAmount, true}, Dimension::number, turning.rate);
      } else {
        problems_.add(ProblemCode::wrong_type, value.source(), name, shown(value),
                      "degrees in a second, more than 0, or \"at once\"");
      }
    } else if (key == "inputs") {
      const auto choice = read_choice(value, name, {"body", "screen"}, problems_);
      if (choice) turning.by_screen = *choice == 1;
    } else {
      return false;
    }
    return true;
  }

  void read_down(const std::string& name, const toml::node& value, Turning& turning) {
    turning.to = Turning::To::direction;
    if (const auto degrees = number_in(value)) {
      if (std::abs(*degrees) <= kMostAngle) {
        turning.down = way_from_down(*degrees);
        return;
      }
    } else if (const auto text = value.value_exact<std::string>()) {
      for (const NamedWay& way : kWays) {
        if (way.name != *text) continue;
        turning.down = way.way;
        return;
      }
    }
    problems_.add(ProblemCode::wrong_type, value.source(), name, shown(value),
                  "down, up, left or right, or degrees against the clock from straight down");
  }

  void read_keeps(const std::string& name, const toml::node& value, Zone& zone) {
    const toml::table* table = as_table(value, name);
    if (table == nullptr) return;
    for (const auto& [key, share] : *table) {
      const std::string full = name + "." + std::string(key.str());
      if (key.str() == "vertical") {
        set_number(share, full, {0, kMostAmount}, Dimension::ratio, zone.traits.keep_vertical);
      } else if (key.str() == "horizontal") {
        set_number(share, full, {0, kMostAmount}, Dimension::ratio, zone.traits.keep_horizontal);
      } else if (key.str() == "turns") {
        set_flag(share, full, zone.turning.speed_turns);
      } else {
        problems_.unknown(key, std::string(key.str()), {"vertical", "horizontal", "turns"});
      }
    }
  }

  void read_fluid(const std::string& name, const toml::node& value, Zone& zone) {
    Fluid& fluid = zone.fluid.emplace();
    const toml::table* table = as_table(value, name);
    if (table == nullptr) return;
    for (const auto& [key, part] : *table) {
      const std::string full = name + "." + std::string(key.str());
      if (read_number(kFluidNumbers, key.str(), part, full, fluid)) continue;
      if (read_flag(kFluidFlags, key.str(), part, full, fluid)) continue;
      if (key.str() == "current") {
        const auto current = read_numbers(part, 2, full, "[speed to the right, speed along y]",
                                          Dimension::speed, convention_, problems_);
        if (current && has_rate(part, full, Dimension::speed)) {
          fluid.current =
              from_convention(convention_, Vec{(*current)[0], (*current)[1]}, Dimension::speed, 1);
        }
      } else if (key.str() == "stroke") {
        read_stroke(full, part, fluid);
      } else {
        problems_.unknown(
            key, std::string(key.str()),
            {"buoyancy", "drag", "current", "dive", "exit_jump", "stroke", "restores"});
      }
    }
  }

  void read_stroke(const std::string& name, const toml::node& value, Fluid& fluid) {
    const toml::table* table = as_table(value, name);
    if (table == nullptr) return;
    for (const auto& [key, part] : *table) {
      const std::string full = name + "." + std::string(key.str());
      if (key.str() == "height") {
        set_number(part, full, {0, kMostAmount}, Dimension::length, fluid.stroke);
      } else if (key.str() == "every") {
        read_duration(full, part, fluid.stroke_every);
      } else {
        problems_.unknown(key, std::string(key.str()), {"height", "every"});
      }
    }
  }

  void read_duration(const std::string& name, const toml::node& value, Duration& target) {
    const auto text = value.value_exact<std::string>();
    const auto number = number_in(value);
    const auto duration = text     ? parse_duration(*text)
                          : number ? std::optional(Duration{*number})
                                   : std::nullopt;
    if (duration && duration->amount >= 0 && duration->amount <= kMostAmount) {
      target = *duration;
      return;
    }
    problems_.add(ProblemCode::wrong_type, value.source(), name, shown(value),
                  "a time, 0 or more: 0.2 (seconds), \"200 ms\" or \"12 ticks\"");
  }

  // Knobs by their keys, as tables in tables.
  void read_overrides(const std::string& name, const toml::node& value, bool scales,
                      const std::string& prefix, Zone& zone) {
    const toml::table* table =
        as_table(value, prefix.empty() ? name : fmt::format("{}.{}", name, prefix));
    if (table == nullptr) return;
    for (const auto& [key, part] : *table) {
      const std::string knob =
          prefix.empty() ? std::string(key.str()) : fmt::format("{}.{}", prefix, key.str());
      if (const auto place = find_place(knob)) {
        read_override(fmt::format("{}.{}", name, knob), part, {knob, scales, 0.0}, *place->knob,
                      zone);
      } else if (part.is_table()) {
        read_overrides(name, part, scales, knob, zone);
      } else {
        add_unknown(key, name, knob);
      }
    }
  }

  // Notes a key that no knob has.
  void add_unknown(const toml::key& key, const std::string& name, const std::string& knob) {
    std::vector<std::string> known;
    for (const std::string_view each : knob_keys()) {
      known.push_back(fmt::format("{}.{}", name, each));
    }
    problems_.unknown(key, fmt::format("{}.{}", name, knob), {known.begin(), known.end()});
  }

  void read_override(const std::string& name, const toml::node& node, Override change,
                     const Knob& knob, Zone& zone) {
    if (change.scales) {
      double factor = 1;
      set_number(node, name, {-kMostRate, kMostRate}, Dimension::ratio, factor);
      change.value = factor;
    } else {
      KnobValue value;
      if (!read_value(node, knob, {convention_, 1}, value)) {
        problems_.add(ProblemCode::wrong_type, node.source(), name, shown(node),
                      describe(describe_expected(knob), Units{convention_, 1}));
        return;
      }
      if (!has_rate(node, name, knob.dimension)) return;
      change.value = value;
    }
    zone.overrides.push_back(std::move(change));
    places_.overrides.push_back(place_of(node.source()));
  }

  void read_shape(const std::string& key, const toml::node& value, Zone& zone) {
    if (key == "box") {
      read_box(value, "zone.box", convention_, zone.box, problems_);
    } else if (key == "polygon") {
      Solid outline;
      read_corners(value, "zone.polygon", convention_, outline, problems_);
      zone.corners = std::move(outline.corners);
    } else {
      read_circle(value, "zone.circle", convention_, zone.corners, problems_);
    }
  }

  ZonePlaces& places_;
};

}  // namespace

void read_zone(const toml::table& table, const Convention& convention, Zone& zone,
               ZonePlaces& places, ProblemList& problems) {
  ZoneReader(convention, places, problems).read(table, zone);
}

void check_zone_shape(const toml::table& table, ProblemList& problems) {
  std::vector<std::string_view> shapes;
  for (const std::string_view shape : {"box", "polygon", "circle"}) {
    if (table.contains(shape)) shapes.push_back(shape);
  }
  if (shapes.size() == 1) return;
  problems.add(ProblemCode::contradiction, table.source(), "zone",
               shapes.empty() ? "no shape" : fmt::format("{}", fmt::join(shapes, " and ")),
               "one of box, polygon or circle");
}

}  // namespace bushbaby::detail
