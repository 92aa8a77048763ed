// Values of knobs as they stand in files and calls.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/problem.h"
#include "bushbaby/data/units.h"

#include "toml_text.h"

namespace bushbaby::detail {

// The key of every knob.
const std::vector<std::string_view>& knob_keys();

// The value that a text is for a knob, which is not meant in quotes for its own sake: a time, or a
// number with a unit. Nothing if it is neither.
std::optional<KnobValue> read_quantity(std::string_view text, const Knob& knob, const Units& units);

// Reads the knob value that a TOML node stands for; false if no knob takes such a node.
bool read_value(const toml::node& node, const Knob& knob, const Units& units, KnobValue& value);

// The choice that a text which is none was probably meant to be.
std::string suggestion_for(const KnobValue& value, const Knob& knob);

// What to write instead of a negative amount, if a knob would take it without its sign; else empty.
std::string sign_hint(const Tuning& tuning, const KnobPlace& place, const KnobValue& value,
                      std::string_view written);

// The key of what other programs call so: "fps" is loop.tick_rate. Nothing if nobody does.
std::optional<std::string> key_meant_by(std::string_view name);

// What is wrong with a value that a knob does not take.
ProblemCode code_of(const KnobValue& value, const Knob& knob);

}  // namespace bushbaby::detail
