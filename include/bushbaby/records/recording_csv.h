// Recordings as CSV: from a game's log, a film, or points that were read off a picture.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/data/problem.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/recording.h>

namespace bushbaby {

/// Two of these on each axis turn the points of a picture into times and lengths: "x 130 = 0 s",
/// "y 640 = 0 u".
struct Pin {
  bool on_y = false;
  double at = 0;  ///< on the picture
  double is = 0;  ///< s or u
  bool is_time = false;
  std::string text;
};

struct RecordingOptions {
  /// In what numbers are meant that name no unit; nothing: in s, and in the lengths that headings
  /// name.
  std::optional<Units> units{};
  std::optional<double> tick_rate{};  ///< Hz, for columns that count ticks
  std::vector<Pin> pins{};
  /// u/s across, of a picture whose x is a way: then time is way by speed.
  std::optional<double> speed{};
};

/// A recording with what its numbers were in.
struct RecordingFile {
  Recording recording;  ///< in world units and s
  Units units;
  /// Nothing said how many of the file's lengths make a world unit: that many were taken, so that a
  /// body of usual size does what was recorded.
  bool scale_is_guessed = false;
  std::size_t left_out = 0;  ///< rows without a place
};

/// Reads a pin; lengths may be in the convention of `units`.
[[nodiscard]] Result<Pin> parse_pin(const std::string& text, const Units& units);

/// Reads a recording: the columns `time` (s, ms or ticks) or `tick`, `x` and `y` must be there;
/// `vx` and `vy`, `grounded`, `jump`, `left`, `right`, `run` or `held` may be, others are passed
/// over. Headings may name units: "time ms", "x px", "y px down". A row without a place is a gap.
/// With pins, a picture's `x` and `y` are enough. Lists every problem, with its row.
[[nodiscard]] Result<RecordingFile> parse_recording(std::string_view text, const std::string& path,
                                                    const RecordingOptions& options = {});
[[nodiscard]] Result<RecordingFile> load_recording(const std::string& path,
                                                   const RecordingOptions& options = {});

}  // namespace bushbaby
