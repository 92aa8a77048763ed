// What there is to turn and to measure: the tables of knobs and of drills, for people, for machines
// and for the docs.
#pragma once

#include <string>

#include <bushbaby/data/tuning_file.h>

namespace bushbaby {

/// Every knob with its default and range; with a tuning, also its value there, all in the
/// convention of that tuning's file.
[[nodiscard]] std::string knob_list(const TuningFile* file);
[[nodiscard]] std::string knob_list_json(const TuningFile* file);

/// Every drill and the facts that it measures, with units: those of a tuning, if there is one.
[[nodiscard]] std::string fact_list(const TuningFile* file = nullptr);
[[nodiscard]] std::string fact_list_json(const TuningFile* file = nullptr);

/// The references of knobs and of events in docs/formats.md, and of facts in docs/facts.md.
[[nodiscard]] std::string knob_reference();
[[nodiscard]] std::string event_reference();
[[nodiscard]] std::string fact_reference();

}  // namespace bushbaby
