// Sweeps: how their ranges are written, and their runs as CSV.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include <bushbaby/data/growing_file.h>
#include <bushbaby/data/problem.h>
#include <bushbaby/data/tuning_file.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/sweep.h>

namespace bushbaby {

/// Longer sweeps are not made.
inline constexpr std::size_t kMostRuns = 100000000;

/// Reads a knob and its values: "fall.factor=1..3 in 21", evenly from 1 to 3; "jump.height=1..8 in
/// 20 log", each by the same factor; "jump.coyote=0ticks, 4ticks, 7ticks". Values are meant as
/// those of --set. Whole ticks and counts are rounded, and each comes once.
[[nodiscard]] Result<SweepAxis> parse_axis(const TuningFile& file, const std::string& text);

/// The first line of a sweep's CSV: the number of the run, of how many, with a sum over all that
/// the sweep is and the version that makes it; then the knobs and the facts with their units; last
/// the sum that each row carries.
[[nodiscard]] std::string sweep_header(const KnobSweep& sweep, const Units& units);

/// The lines of runs from `first` on, counted from 0 (in the CSV, from 1). What was not measured is
/// empty.
[[nodiscard]] std::string sweep_lines(const KnobSweep& sweep, const Units& units, std::size_t first,
                                      const std::vector<SweepRun>& runs);

/// Begins the CSV of the runs from `first` on (from 0), or goes on with one that was begun: every
/// row of it must be there once, in order, and as it was written.
[[nodiscard]] Result<GrowingFile> begin_sweep(const std::string& path, const KnobSweep& sweep,
                                              const Units& units, std::size_t first);

/// What a column holds, with its unit.
struct SweepColumn {
  std::string name;
  std::string unit;
  /// "fall.factor", "stand_jump.height u".
  [[nodiscard]] std::string title() const { return unit.empty() ? name : name + " " + unit; }
};

/// A sweep as it is reported: numbers in the units. Of a knob that is no number, the place of its
/// value.
struct SweepTable {
  std::vector<SweepColumn> knobs;
  std::vector<SweepColumn> facts;
  std::vector<std::vector<double>> values;      ///< by knob: all that it goes through
  std::vector<std::vector<std::string>> texts;  ///< the same in words
  std::vector<std::optional<double>> present;   ///< by knob: its value in the tuning itself
  std::vector<std::vector<std::size_t>> kept;   ///< by knob: the places of which there are runs
  std::vector<SweepRun> runs;                   ///< of these, the last knob's changing fastest
  SweepRun now;                                 ///< of the tuning itself
};

/// The frame of a table: the tuning itself is measured, but no runs yet, and no more than `most`
/// places of each knob kept, evenly.
[[nodiscard]] SweepTable sweep_frame(const KnobSweep& sweep, const Units& units, std::size_t most);

/// Puts runs into the table, from `first` on, in order; those of places that it does not keep are
/// passed over.
void keep_runs(SweepTable& table, const KnobSweep& sweep, const Units& units, std::size_t first,
               const std::vector<SweepRun>& runs);

/// Reads the runs of a finished CSV into a frame of the same sweep.
[[nodiscard]] std::optional<Problem> read_sweep(const std::string& path, const KnobSweep& sweep,
                                                const Units& units, SweepTable& table);

/// Puts the parts of one sweep together, in whatever order they are named; nothing is written if
/// one is missing, there twice, or of another sweep, or if a row is not as it was written.
[[nodiscard]] std::optional<Problem> merge_sweeps(const std::string& out,
                                                  const std::vector<std::string>& parts);

/// The table for people, of all runs that it keeps; and for machines.
[[nodiscard]] std::string sweep_text(const SweepTable& table);
[[nodiscard]] std::string sweep_json(const SweepTable& table);

}  // namespace bushbaby
