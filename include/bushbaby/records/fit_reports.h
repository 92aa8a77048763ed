// What a fit found, as tables for people and as JSON for machines; and which knobs are free, read
// from calls and from targets files.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/data/problem.h>
#include <bushbaby/data/tuning_file.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/fit.h>
#include <bushbaby/records/targets_file.h>

namespace bushbaby {

/// A knob that may be turned: "fall.factor", over its usual range, or "fall.factor=1.2..2". Bare
/// numbers are meant in the file's convention.
[[nodiscard]] Result<FreeKnob> parse_free(const TuningFile& file, const std::string& text);

/// The same of a row of a targets file.
[[nodiscard]] Result<FreeKnob> free_of(const FreeRow& row, const Tuning& tuning);

[[nodiscard]] std::string fit_table(const Tuning& before, const Units& units, const Fit& fit);
[[nodiscard]] std::string fit_json(const Tuning& before, const Units& units, const Fit& fit);

}  // namespace bushbaby
