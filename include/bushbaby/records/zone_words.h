// What zones do, and when solids are solid, in words.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/core/motion/rulebook.h>
#include <bushbaby/core/world/level.h>
#include <bushbaby/data/names.h>
#include <bushbaby/data/units.h>

namespace bushbaby {

/// A change of a knob: "jump.gravity times 0.4", "run.top_speed 3 u/s".
[[nodiscard]] std::string describe(const Override& change, const Units& units);

/// All that a zone does, each in a few words: its changes, which way is down, what fills it.
[[nodiscard]] std::vector<std::string> deeds_of(const Zone& zone, const Units& units);

/// What zones make of a knob: ", times 0.4 by \"sap pool\""; empty if they leave it alone.
[[nodiscard]] std::string said_by_zones(std::string_view knob, const ZoneSet& zones,
                                        const Level& level, const Units& units);

/// When a solid is solid: "vertical speed at least -8 u/s"; "all of: …; …".
[[nodiscard]] std::string describe(const Condition& condition, const Level& level,
                                   const Units& units);

/// What decided: "vertical speed -12.3 u/s, asked for at least -8 u/s".
[[nodiscard]] std::string describe(const Decision& decision, const Condition& condition,
                                   const Level& level, const Units& units);

}  // namespace bushbaby
