#include "knob_reading.h"

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
