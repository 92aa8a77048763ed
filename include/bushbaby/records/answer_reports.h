// What answers a complaint, as a table for people and as JSON for machines.
#pragma once

#include <string>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/answer.h>

namespace bushbaby {

/// Every complaint, with what it means: for people, and for docs/complaints.md.
[[nodiscard]] std::string complaints_table();
[[nodiscard]] std::string complaint_reference();

[[nodiscard]] std::string answer_table(const Tuning& tuning, const Units& units,
                                       const Answer& answer);
[[nodiscard]] std::string answer_json(const Tuning& tuning, const Units& units,
                                      const Answer& answer);

}  // namespace bushbaby
