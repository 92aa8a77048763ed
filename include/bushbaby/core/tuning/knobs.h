// The table of knobs: every constant of a tuning, described once.
//
// Loading, validation, writing, `--set` and the key reference of docs/formats.md are all driven by
// this table; a new constant is added to `Tuning` and here, and nowhere else.
//
//     Tuning tuning;
//     const Knob* knob = find_knob("run.top_speed");
//     if (auto fault = set_knob(tuning, *knob, 8.0)) report(*fault);
#pragma once

#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include <bushbaby/core/tuning/dimension.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/core/tuning/violation.h>

namespace bushbaby {

/// The values a number may take. NaN and the infinities are outside every range.
struct Range {
  double lo = -std::numeric_limits<double>::max();
  double hi = std::numeric_limits<double>::max();
  bool above_lo = false;  ///< `lo` itself is excluded

  [[nodiscard]] bool contains(double value) const noexcept;
};

/// A range in words: "more than 0", "0 to 1", "0 or more".
[[nodiscard]] std::string describe(const Range& range);

/// A knob's value: nothing (an optional knob omitted), a number, a flag, a duration, or the name
/// of a choice or of the character.
using KnobValue = std::variant<std::monostate, double, bool, Duration, std::string>;

/// The value as it would be written in a tuning file, without the key: `7`, `"7 ticks"`, `true`.
[[nodiscard]] std::string describe(const KnobValue& value);

/// Reaches the value of a knob in a tuning; `row` counts for knobs of lists only.
template <class T>
using KnobAccess = T& (*)(Tuning& tuning, std::size_t row);

/// A choice among named values, bound to an enumeration of the tuning.
struct ChoiceBinding {
  const std::string_view* names;
  std::size_t count;
  int (*get)(const Tuning& tuning, std::size_t row);
  void (*set)(Tuning& tuning, std::size_t row, int choice);
};

/// Where in a tuning a knob lives; the alternative also says what type it has.
using KnobBinding =
    std::variant<KnobAccess<double>, KnobAccess<std::optional<double>>, KnobAccess<Duration>,
                 KnobAccess<std::optional<Duration>>, KnobAccess<bool>, KnobAccess<int>,
                 KnobAccess<std::string>, ChoiceBinding>;

/// A list of rows of knobs, headed `[[key]]` in a tuning file. Its knobs stand in the table once,
/// with the key of the list and a name: "wall.exit.away".
struct KnobList {
  std::string_view key;    ///< "wall.exit"
  std::string_view words;  ///< what its texts take
  bool (*takes)(std::string_view text);
  std::size_t (*rows)(const Tuning& tuning);
  void (*resize)(Tuning& tuning, std::size_t rows);  ///< new rows are fresh ones

  /// The name of a knob in a row: "away".
  [[nodiscard]] std::string_view name_of(std::string_view key_of_knob) const noexcept {
    return key_of_knob.substr(key.size() + 1);
  }
  /// Whether a key is that of one of its knobs.
  [[nodiscard]] bool has(std::string_view key_of_knob) const noexcept {
    return key_of_knob.size() > key.size() && key_of_knob.substr(0, key.size()) == key &&
           key_of_knob[key.size()] == '.';
  }
};

/// Every list of a tuning, in the order in which a tuning file is written.
[[nodiscard]] const std::vector<KnobList>& knob_lists();

/// The list of that key, or null.
[[nodiscard]] const KnobList* find_list(std::string_view key);

struct Knob {
  std::string_view key;  ///< dotted, as in a tuning file: "jump.cut.keep"
  Dimension dimension;
  Range range;  ///< of numbers and of the amount of durations
  KnobBinding binding;
  std::string_view help;           ///< one sentence
  const KnobList* list = nullptr;  ///< each row of which has it, if it is one of a list

  /// The mechanism the knob belongs to: the part of its key before the first dot.
  [[nodiscard]] std::string_view mechanism() const noexcept;
  /// Whether a tuning has that row of it; the row 0 of what is in no list.
  [[nodiscard]] bool has_row(const Tuning& tuning, std::size_t row) const {
    return row < (list == nullptr ? 1 : list->rows(tuning));
  }
};

/// A knob of a tuning; of a list, that of the row counted from 0.
struct KnobPlace {
  const Knob* knob = nullptr;
  std::size_t row = 0;

  /// The key; of a list, with the row counted from 1: "wall.exit.2.away".
  [[nodiscard]] std::string key() const;
};

/// Every knob, in the order in which a tuning file is written.
[[nodiscard]] const std::vector<Knob>& knobs();

/// The knob of that key, or null; of a list, the key without a row.
[[nodiscard]] const Knob* find_knob(std::string_view key);

/// The knob that a key with or without a row means: "run.top_speed", "wall.exit.2.away".
[[nodiscard]] std::optional<KnobPlace> find_place(std::string_view key);

/// Every knob that a tuning has, those of lists once for each row.
[[nodiscard]] std::vector<KnobPlace> places_of(const Tuning& tuning);

/// The value of a knob; in a row that a list does not have, that of a fresh one.
[[nodiscard]] KnobValue get_knob(const Tuning& tuning, const Knob& knob, std::size_t row = 0);

/// Sets a knob, or says why the value does not fit and leaves the tuning as it was. A number given
/// for a duration is in seconds. The row behind the last of a list is added to it; rows
/// beyond that one are a broken precondition.
[[nodiscard]] std::optional<Violation> set_knob(Tuning& tuning, const Knob& knob,
                                                const KnobValue& value, std::size_t row = 0);

/// Sets the knob of that key, or every knob below it ("jump.coyote", "dash", "wall.exit"), to its
/// default, which switches a mechanism off; a list loses its rows. False if there is no such knob.
[[nodiscard]] bool reset_knobs(Tuning& tuning, std::string_view key);

/// What a knob takes, in words: "a length in u, more than 0", "one of none, stop, scale, weight".
[[nodiscard]] Phrase describe_expected(const Knob& knob);

/// Every knob whose own range is violated; combinations are checked by `compile`.
[[nodiscard]] std::vector<Violation> check_ranges(const Tuning& tuning);

}  // namespace bushbaby
