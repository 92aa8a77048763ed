// Targets files (TOML) and reference curves (CSV) in.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/data/problem.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/targets.h>

namespace bushbaby {

inline constexpr std::string_view kTargetsFormat = "bushbaby-targets/1";

/// A row of a targets file that frees a knob for searches.
struct FreeRow {
  KnobPlace place;
  /// The bounds; nothing in both: the usual range.
  KnobValue lo{}, hi{};
  std::string path;
  int line = 0;
  int column = 0;
};

/// All of a targets file.
struct TargetsFile {
  std::vector<Target> targets;
  std::vector<FreeRow> free;
};

/// Reads targets and the curves that they name, relative to the file's folder. Numbers are meant in
/// `units`, those of the tuning that is judged, unless the file has a `[convention]` of its own or
/// a number its unit.
[[nodiscard]] Result<std::vector<Target>> load_targets(const std::string& path,
                                                       const Units& units = {});
/// The same with what else the file says.
[[nodiscard]] Result<TargetsFile> load_targets_file(const std::string& path,
                                                    const Units& units = {});

/// Reads targets from text; `path` is used in problems, and its folder to find curves.
[[nodiscard]] Result<std::vector<Target>> parse_targets(std::string_view text,
                                                        const std::string& path,
                                                        const Units& units = {});
[[nodiscard]] Result<TargetsFile> parse_targets_file(std::string_view text, const std::string& path,
                                                     const Units& units = {});

/// Reads a curve: a header with the columns `x` or `time`, and `y`, then at least two rows of
/// finite numbers, the first column growing. Other columns are passed over. Numbers are meant in
/// `units` unless a heading names its own: "x px,y px", "time ms,y u", "y px down".
[[nodiscard]] Result<Curve> parse_curve(std::string_view text, const std::string& path,
                                        const Units& units = {});
[[nodiscard]] Result<Curve> load_curve(const std::string& path, const Units& units = {});

}  // namespace bushbaby
