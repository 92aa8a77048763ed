#include "knob_reading.h"

#include <map>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"

#include "inheritance.h"

namespace bushbaby::detail {

const std::vector<std::string_view>& knob_keys() {
  static const std::vector<std::string_view> keys = [] {
    std::vector<std::string_view> all;
    for (const Knob& knob : knobs()) all.push_back(knob.key);
    return all;
  }();
  return keys;
}

namespace {

bool takes_duration(const Knob& knob) { return knob.dimension == Dimension::time; }

}  // namespace

// The value that a text is for a knob, which is not meant in quotes for its own sake: a time, or a
// number with a unit. Nothing if it is neither.
std::optional<KnobValue> read_quantity(std::string_view text, const Knob& knob,
                                       const Units& units) {
  if (takes_duration(knob)) {
    if (const auto duration = parse_duration(text)) return *duration;
  } else if (std::holds_alternative<KnobAccess<double>>(knob.binding) ||
             std::holds_alternative<KnobAccess<std::optional<double>>>(knob.binding)) {
    if (parse_number(text)) return std::nullopt;
    if (const auto number = parse_quantity(text, knob.dimension, units)) return *number;
  }
  return std::nullopt;
}

// Reads the knob value that a TOML node stands for; false if no knob takes such a node.
bool read_value(const toml::node& node, const Knob& knob, const Units& units, KnobValue& value) {
  if (const auto number = number_in(node)) {
    value = from_convention(units.convention, knob, *number, units.tick_rate);
  } else if (const auto flag = node.value_exact<bool>()) {
    value = *flag;
  } else if (const auto text = node.value_exact<std::string>()) {
    if (*text == kUnset && is_optional(knob)) {
      value = std::monostate{};
    } else if (const auto quantity = read_quantity(*text, knob, units)) {
      value = *quantity;
    } else if (!takes_duration(knob)) {
      value = *text;
    } else {
      return false;
    }
  } else {
    return false;
  }
  return true;
}

// The choice that a text which is none was probably meant to be.
std::string suggestion_for(const KnobValue& value, const Knob& knob) {
  const auto* choice = std::get_if<ChoiceBinding>(&knob.binding);
  const auto* text = std::get_if<std::string>(&value);
  if (choice == nullptr || text == nullptr) return {};
  return std::string(nearest_name(*text, {choice->names, choice->names + choice->count}));
}

std::string sign_hint(const Tuning& tuning, const KnobPlace& place, const KnobValue& value,
                      std::string_view written) {
  const auto* number = std::get_if<double>(&value);
  if (number == nullptr || !(*number < 0) || written.empty() || written.front() != '-') return {};
  Tuning trial = tuning;
  if (set_knob(trial, *place.knob, -*number, place.row)) return {};
  const auto has = [&place](std::string_view part) {
    return place.knob->key.find(part) != std::string_view::npos;
  };
  std::string_view rule;
  if (has("height")) rule = "heights are positive here";
  if (has("launch")) rule = "speeds upward are positive here";
  if (has("gravity")) rule = "gravity is positive and pulls down here";
  if (has("fall.")) rule = "falling speeds are positive here";
  if (rule.empty()) return {};
  return fmt::format("; {}, also with vertical = \"down\": write {}", rule, written.substr(1));
}

std::optional<std::string> key_meant_by(std::string_view name) {
  // By the last part of the name, so that it does not matter where it was put.
  static const std::map<std::string_view, std::string_view> meant{
      {"fps", "loop.tick_rate"},
      {"framerate", "loop.tick_rate"},
      {"frame_rate", "loop.tick_rate"},
      {"frames_per_second", "loop.tick_rate"},
      {"ticks_per_second", "loop.tick_rate"},
      {"tickrate", "loop.tick_rate"},
      {"hz", "loop.tick_rate"},
      {"delta", "loop.tick_rate"},
      {"delta_time", "loop.tick_rate"},
      {"dt", "loop.tick_rate"},
      {"timestep", "loop.tick_rate"},
      {"time_step", "loop.tick_rate"},
      {"jump_height", "jump.height"},
      {"jump_speed", "jump.launch_speed"},
      {"jump_velocity", "jump.launch_speed"},
      {"jump_force", "jump.launch_speed"},
      {"jump_impulse", "jump.launch_speed"},
      {"jump_power", "jump.launch_speed"},
      {"jump_time", "jump.apex_time"},
      {"time_to_apex", "jump.apex_time"},
      {"gravity", "jump.gravity"},
      {"coyote_time", "jump.coyote"},
      {"coyote_frames", "jump.coyote"},
      {"jump_buffer", "jump.buffer"},
      {"buffer_time", "jump.buffer"},
      {"buffer_frames", "jump.buffer"},
      {"double_jump", "jump.air_jumps.count"},
      {"double_jumps", "jump.air_jumps.count"},
      {"extra_jumps", "jump.air_jumps.count"},
      {"max_jumps", "jump.air_jumps.count"},
      {"speed", "run.top_speed"},
      {"max_speed", "run.top_speed"},
      {"run_speed", "run.top_speed"},
      {"walk_speed", "run.top_speed"},
      {"move_speed", "run.top_speed"},
      {"movement_speed", "run.top_speed"},
      {"acceleration", "run.ground.accelerate"},
      {"accel", "run.ground.accelerate"},
      {"deceleration", "run.ground.brake"},
      {"decel", "run.ground.brake"},
      {"friction", "run.ground.brake"},
      {"terminal_velocity", "fall.terminal_speed"},
      {"terminal_speed", "fall.terminal_speed"},
      {"max_fall_speed", "fall.terminal_speed"},
      {"fall_speed", "fall.terminal_speed"},
      {"fall_gravity", "fall.factor"},
      {"max_slope", "run.steepest_ground"},
      {"slope_limit", "run.steepest_ground"},
      {"units", "convention.one_unit"},
      {"unit", "convention.one_unit"},
      {"pixels_per_unit", "convention.one_unit"},
      {"y_axis", "convention.vertical"},
      {"y", "convention.vertical"},
  };
  const std::size_t dot = name.rfind('.');
  const auto found = meant.find(dot == std::string_view::npos ? name : name.substr(dot + 1));
  if (found == meant.end()) return std::nullopt;
  return std::string(found->second);
}

ProblemCode code_of(const KnobValue& value, const Knob& knob) {
  const bool numeric =
      std::holds_alternative<double>(value) || std::holds_alternative<Duration>(value);
  const bool choice = std::holds_alternative<ChoiceBinding>(knob.binding);
  const bool words = choice || knob.list != nullptr;
  if (words && std::holds_alternative<std::string>(value)) return ProblemCode::unknown_name;
  return numeric && knob.dimension != Dimension::number ? ProblemCode::out_of_range
                                                        : ProblemCode::wrong_type;
}

}  // namespace bushbaby::detail
