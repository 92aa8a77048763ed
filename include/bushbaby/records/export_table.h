// A tuning's numbers as a table for other programs, and back.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/data/convention.h>
#include <bushbaby/data/problem.h>

namespace bushbaby {

inline constexpr std::string_view kExportFormat = "bushbaby-export/1";

/// How numbers are meant in an export.
struct ExportStyle {
  Convention convention{};
  std::optional<double>
      reference_gravity;       ///< u/s²: gravities are reported as multiples of it as well
  std::optional<double> mass;  ///< the jump is reported as an impulse on such a mass as well
  bool radians = false;        ///< angles; otherwise degrees
  bool single = false;         ///< numbers of single precision
};

/// One number, flag or word.
struct ExportRow {
  std::string key;     ///< "jump.height"; of what is worked out for the loop, "loop.launch_speed"
  std::string text;    ///< as it is written: 52, true, scale
  std::string unit;    ///< "px", "ticks"; empty: none
  bool word = false;   ///< a word, which programs write in quotes
  bool whole = false;  ///< a whole number: ticks, a count
  bool worked_out = false;  ///< it follows from the others, and is not read back
  double rounded_by = 0;    ///< how far it is from the number that is meant, in its unit
};

/// Every knob that has a value, in order, without the mechanisms that are switched off; then what a
/// loop of one's own needs:
/// gravities, launch speed and its sign along y, windows in whole ticks.
[[nodiscard]] std::vector<ExportRow> export_rows(const Tuning& tuning, const ExportStyle& style);

enum class ExportForm { toml, json, csv, cpp, c };

/// The form that a word means: toml, json, csv, cpp or c; nothing if none.
[[nodiscard]] std::optional<ExportForm> export_form_of(std::string_view word) noexcept;

[[nodiscard]] std::string write_export(const Tuning& tuning, const ExportStyle& style,
                                       ExportForm form);

/// A tuning that was read back, with how its numbers were meant.
struct Imported {
  Tuning tuning;
  ExportStyle style;
};

/// Reads what `write_export` writes, in whatever form: the tuning to the last bit, but for what is
/// rounded by its rows.
[[nodiscard]] Result<Imported> parse_export(std::string_view text, const std::string& path);
[[nodiscard]] Result<Imported> load_export(const std::string& path);

}  // namespace bushbaby
