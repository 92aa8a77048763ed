// What answers a complaint, as a table for people and as JSON for machines.
#pragma once

#include <string>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/complaints.h>

namespace bushbaby {

/// Every word, with what it means.
[[nodiscard]] std::string complaints_table();

[[nodiscard]] std::string answer_table(const Tuning& tuning, const Units& units,
                                       const Answer& answer);
[[nodiscard]] std::string answer_json(const Tuning& tuning, const Units& units,
                                      const Answer& answer);

/// A way in a few words: "fall.factor=2.6", "run.top_speed=8.1 u/s, jump.height=3 u".
[[nodiscard]] std::string way_text(const Way& way, const Units& units);

}  // namespace bushbaby
