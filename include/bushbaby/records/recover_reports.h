// What was recovered from a recording, as a table for people and as JSON for machines; and the
// curve of the full jump as a reference for targets.
#pragma once

#include <string>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/recover.h>

namespace bushbaby {

[[nodiscard]] std::string recovered_table(const std::string& title, const Units& units,
                                          const Recovered& recovered);
[[nodiscard]] std::string recovered_json(const std::string& title, const Units& units,
                                         const Recovered& recovered);

/// The full jump as a curve file: `time` since take-off and `y` over it, in the units. Empty if no
/// jump was recovered.
[[nodiscard]] std::string recovered_curve_csv(const Recovered& recovered, const Units& units);

}  // namespace bushbaby
