// Tuning files: TOML in, TOML out.
//
//     const auto tuning = load_tuning("pip.tuning.toml");
//     if (!tuning) for (const Problem& problem : tuning.error()) print(describe(problem));
//
// The keys, their units, defaults and ranges are the table of knobs; docs/formats.md lists them.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/core/tuning/knobs.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/data/convention.h>
#include <bushbaby/data/problem.h>
#include <bushbaby/data/units.h>

namespace bushbaby {

inline constexpr std::string_view kTuningFormat = "bushbaby-tuning/1";

/// Where something stands in a text: bytes from `begin` up to `end`, starting at line and column.
struct TextSpan {
  std::size_t begin = 0;
  std::size_t end = 0;
  int line = 0;
  int column = 0;
};

/// A tuning together with the text it came from.
struct TuningFile {
  Tuning tuning;
  Convention convention;  ///< how the numbers of the text are meant
  std::string path;
  std::string text;

  struct Place {
    TextSpan key;
    TextSpan value;
  };
  std::map<std::string, Place, std::less<>> places;  ///< by knob key: what the file sets
  std::set<std::string_view> lists;                  ///< of which it has rows of its own
  std::string based_on;     ///< the path of the tuning it inherits from; empty if none
  TextSpan based_on_value;  ///< where the text says so

  /// What its numbers are in.
  [[nodiscard]] Units units() const { return {convention, tuning.loop.tick_rate}; }
};

/// A knob that is changed on top of what a file says: "run.top_speed=8", "jump.coyote=7ticks",
/// "jump.height=60 px". Bare numbers are meant in the file's convention. An empty value leaves an
/// optional knob unset.
struct Setting {
  Setting(const char* assignment) : text(assignment) {}             // NOLINT: a text is a setting
  Setting(std::string assignment) : text(std::move(assignment)) {}  // NOLINT: the same
  Setting(std::string assignment, std::string reported_of)
      : text(std::move(assignment)), option(std::move(reported_of)) {}

  std::string text;
  std::string option;  ///< what problems are reported; empty: "--set" with the text
};

/// Settings on one line, with commas between them: "fall.factor = 2.2, jump.coyote=4ticks". What is
/// wrong with one is reported `option`.
[[nodiscard]] std::vector<Setting> parse_settings(std::string_view text, const std::string& option);

/// Reads a tuning from text, and the files that it is based on, which are looked for beside `path`;
/// then applies settings in their order, as if each were written in the file: another tick rate
/// counts for every number per tick. A key of the file takes the place of an inherited one,
/// `[[wall.exit]]` rows that of all of them; what is inherited in ticks keeps its length at another
/// tick rate. Every value is checked against its own knob; whether they fit together is for
/// `check_tuning`.
[[nodiscard]] Result<TuningFile> parse_tuning(std::string text, const std::string& path,
                                              const std::vector<Setting>& settings = {});

/// Applies one more setting to a file that was read; the reason if it cannot be, and nothing
/// changes.
[[nodiscard]] std::optional<Problem> apply_setting(TuningFile& file, const Setting& setting);

/// The value that a text means for a knob of a file, as in a setting; what is wrong with it is
/// reported of `option`.
[[nodiscard]] Result<KnobValue> value_for(const TuningFile& file, const std::string& key,
                                          const std::string& text, const std::string& option);

/// Compiles the tuning; what does not fit together is reported where it stands in the file.
[[nodiscard]] Result<Compiled> check_tuning(const TuningFile& file);

/// Reads a file, applies settings, and checks the result.
[[nodiscard]] Result<TuningFile> load_tuning(const std::string& path,
                                             const std::vector<Setting>& settings = {});

/// A new tuning file: every knob that differs from its default, by section, in the convention.
[[nodiscard]] std::string write_tuning(const Tuning& tuning, const Convention& convention = {});

/// The file's text with the knobs in which `changed` differs from `file.tuning` rewritten, added
/// or taken out. Everything else, comments and order included, stays as it is; only when rows of a
/// list are taken out is the text written again.
[[nodiscard]] std::string rewrite_tuning(const TuningFile& file, const Tuning& changed);

/// Writes `meant` to `path`, as the text of `source` with what differs rewritten; a source without
/// text gives a new file. A base is found from the new place too. Nothing is written unless the new
/// text reads back as what is meant.
[[nodiscard]] std::optional<Problem> save_tuning(const TuningFile& source, const Tuning& meant,
                                                 const std::string& path);

/// Writes a new file to `path` that is based on `base`, as that is on the disk, in its convention,
/// with what is meant otherwise. Nothing is written unless it reads back as what is meant.
[[nodiscard]] std::optional<Problem> save_as_file(const TuningFile& base, const Tuning& meant,
                                                  const std::string& path);

/// The key of the first knob in which two tunings differ by more than the rounding of a number
/// there and back in a convention; empty if none does.
[[nodiscard]] std::string first_difference(const Tuning& a, const Tuning& b);

/// What in a tuning is allowed but looks like a mix-up of units, each as a sentence: times of more
/// than 10 s, and numbers without a convention that can hardly be u and s.
[[nodiscard]] std::vector<std::string> unit_remarks(const TuningFile& file);

}  // namespace bushbaby
