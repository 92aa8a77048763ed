#include "bushbaby/records/recording_csv.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"

#include "csv_rows.h"
#include "data/toml_text.h"

namespace bushbaby {
namespace {

using detail::column_of;
using detail::CsvRow;
using detail::Header;
using detail::shown;

// Logs are longer than what people write by hand.
constexpr std::size_t kLargestRecording = std::size_t{256} << 20;
// After N problems the rest of the file is not looked at.
constexpr std::size_t kMostProblems = 50;

// From places on a picture to times and lengths, by two pins.
struct Scale {
  double factor = 1;
  double offset = 0;
  [[nodiscard]] double of(double at) const { return offset + factor * at; }
};

class RecordingReader {
 public:
  RecordingReader(const std::vector<CsvRow>& rows, const std::string& path,
                  const RecordingOptions& options)
      : rows_(rows),
        path_(path),
        options_(options),
        header_(rows.empty() ? Header{} : detail::header_of(rows[0])),
        units_(options.units.value_or(Units{})) {
    if (options.tick_rate) units_.tick_rate = *options.tick_rate;
  }

  Result<RecordingFile> read() {
    if (!find_columns()) return tl::unexpected(std::move(problems_));
    read_units();
    for (std::size_t i = 1; i < rows_.size() && problems_.size() < kMostProblems; ++i) {
      if (!rows_[i].empty()) read_row(i);
    }
    std::vector<RecordedPoint>& points = recording_.points;
    if (problems_.empty() && points.size() < 2) {
      add(ProblemCode::contradiction, rows_.size(), "",
          fmt::format("{} rows with a place", points.size()), "at least 2");
    }
    if (!problems_.empty()) return tl::unexpected(std::move(problems_));
    const bool guessed = guess_scale();
    return RecordingFile{std::move(recording_), units_, guessed, left_out_};
  }

 private:
  void add(ProblemCode code, std::size_t line, std::string key, std::string found,
           std::string expected, std::string_view near = {}) {
    problems_.push_back({code, path_, static_cast<int>(line), 0, std::move(key), std::move(found),
                         std::move(expected), std::string(near)});
  }

  [[nodiscard]] bool has(std::string_view name) const {
    return column_of(header_, name).has_value();
  }
  [[nodiscard]] detail::Heading heading(std::string_view name) const {
    const auto column = column_of(header_, name);
    return column ? header_[*column] : detail::Heading{};
  }

  bool find_columns() {
    const bool pinned = !options_.pins.empty();
    const bool timed = has("time") || has("tick") || pinned;
    if (!timed || !has("x") || !has("y")) {
      std::vector<std::string_view> names;
      for (const detail::Heading& one : header_) names.push_back(one.name);
      std::string_view near;
      for (const std::string_view required : {"time", "x", "y"}) {
        if (!has(required) && near.empty()) near = nearest_name(required, names);
      }
      add(ProblemCode::wrong_format, 1, "",
          header_.empty() ? "an empty file"
          : !timed        ? "no column time or tick"
                          : "no columns x and y",
          near.empty()
              ? "a header with time or tick, x and y; for points of a picture x, y and --pin"
              : fmt::format("a header with time or tick, x and y (of what stands there, {} "
                            "is the nearest)",
                            shown(near)));
      return false;
    }
    if (!has("time") && !pinned && !options_.tick_rate) {
      add(ProblemCode::contradiction, 1, "tick", "ticks and no times",
          "a column time, or how long a tick is: --tick-rate");
      return false;
    }
    recording_.has_speeds = has("vy") && !pinned;
    recording_.has_ground = has("grounded") && !pinned;
    const bool held = has("held") && !pinned;
    recording_.has_jump = (has("jump") || held) && !pinned;
    recording_.has_run = (has("run") || held || (has("left") && has("right"))) && !pinned;
    return pinned ? find_scales() : true;
  }

  // ---- pins ----

  bool find_scales() {
    for (const bool on_y : {false, true}) {
      std::vector<const Pin*> pins;
      for (const Pin& pin : options_.pins) {
        if (pin.on_y == on_y) pins.push_back(&pin);
      }
      const char* axis = on_y ? "y" : "x";
      const auto wrong = [&](std::string found, std::string expected) {
        problems_.push_back({ProblemCode::contradiction, "--pin", 0, 0, "", std::move(found),
                             std::move(expected), ""});
      };
      if (pins.size() != 2) {
        wrong(fmt::format("{} on {}", pins.size(), axis),
              fmt::format("two on each axis, such as \"{} 130 = 0 {}\"", axis, on_y ? "u" : "s"));
        continue;
      }
      const Pin& a = *pins[0];
      const Pin& b = *pins[1];
      if (a.is_time != b.is_time || (on_y && a.is_time)) {
        wrong(shown(b.text),
              on_y ? "a length" : "a time like the other, or a length like the other");
        continue;
      }
      if (a.at == b.at || a.is == b.is) {
        wrong(shown(b.text), "another place, and another number, than that of the other");
        continue;
      }
      const double factor = (b.is - a.is) / (b.at - a.at);
      (on_y ? y_scale_ : x_scale_) = {factor, a.is - factor * a.at};
      if (!on_y) x_is_time_ = a.is_time;
    }
    if (problems_.empty() && !x_is_time_ && !options_.speed) {
      problems_.push_back({ProblemCode::contradiction, "--pin", 0, 0, "", "a way on x, and no time",
                           "--at-speed with the horizontal speed, such as \"7 u/s\"", ""});
    }
    return problems_.empty();
  }

  // ---- units ----

  void read_units() {
    if (!options_.pins.empty()) return;
    const auto x = heading("x");
    const auto y = heading("y");
    Convention& convention = units_.convention;
    const bool reported = options_.units.has_value();
    if (!reported && is_length_name(x.unit) && x.unit != "u") {
      convention.length_name = x.unit;
      guesses_ = true;
    }
    if (!reported) convention.vertical_down = y.down;
    turned_ = y.down || convention.vertical_down;
    length_factor_ = factor_of("x", Dimension::length);
    const bool same = !guesses_ || y.unit.empty() || y.unit == x.unit;
    if (factor_of("y", Dimension::length) != length_factor_ || !same) {
      add(ProblemCode::contradiction, 1, "y", shown(y.unit), "the length of x");
    }
    if (has("time")) {
      const std::string unit = heading("time").unit;
      const bool ticks = unit == "tick" || unit == "ticks";
      if (ticks && !options_.tick_rate) {
        add(ProblemCode::contradiction, 1, "time", "ticks", "s or ms, or --tick-rate");
      }
      // Bare times are in s, whatever the convention counts in.
      time_factor_ = unit.empty() ? 1 : factor_of("time", Dimension::time);
    }
    if (recording_.has_speeds) {
      speed_factor_ = factor_of("vy", Dimension::speed);
      if (has("vx")) (void)factor_of("vx", Dimension::speed);
    }
  }

  // A column whose heading names a unit is in that one.
  double factor_of(std::string_view name, Dimension dimension) {
    const detail::Heading one = heading(name);
    if (one.unit.empty()) return units_.meant(dimension, 1);
    if (const auto factor = parse_quantity("1 " + one.unit, dimension, units_)) return *factor;
    const std::string own = units_.name(Dimension::length);
    add(ProblemCode::unknown_name, 1, std::string(name), shown(one.unit),
        dimension == Dimension::time    ? "s, ms or ticks"
        : dimension == Dimension::speed ? fmt::format("{0}/s or {0}/tick", own)
        : own == "u"                    ? own
                                        : own + " or u");
    return 1;
  }

  // ---- rows ----

  void read_row(std::size_t i) {
    const CsvRow& row = rows_[i];
    if (row.size() != header_.size()) {
      add(ProblemCode::bad_syntax, i + 1, "", fmt::format("{} fields", row.size()),
          fmt::format("{}, as in the header", header_.size()));
      return;
    }
    if (is_gap(row, "x") || is_gap(row, "y")) {
      ++left_out_;
      return;
    }
    RecordedPoint point;
    const auto x = number(i, "x");
    const auto y = number(i, "y");
    if (!x || !y) return;
    if (options_.pins.empty()) {
      point.feet = {*x * length_factor_, (turned_ ? 0 - *y : *y) * length_factor_};
      if (!read_time(i, point) || !read_rest(i, point)) return;
    } else {
      const double across = x_scale_.of(*x);
      point.time = x_is_time_ ? across : across / *options_.speed;
      point.feet = {x_is_time_ ? 0 : across, y_scale_.of(*y)};
    }
    if (!recording_.points.empty() && !(point.time > recording_.points.back().time)) {
      const bool pinned = !options_.pins.empty();
      add(ProblemCode::out_of_range, i + 1,
          pinned        ? "x"
          : has("time") ? "time"
                        : "tick",
          pinned ? rows_[i][*column_of(header_, "x")]
                 : rows_[i][*column_of(header_, has("time") ? "time" : "tick")],
          "later than the row above");
      return;
    }
    // Pins and speeds may be of any size.
    if (!std::isfinite(point.time) || !std::isfinite(point.feet.x) ||
        !std::isfinite(point.feet.y)) {
      add(ProblemCode::out_of_range, i + 1, "", "a place or a time without end", "finite ones");
      return;
    }
    recording_.points.push_back(point);
  }

  bool is_gap(const CsvRow& row, std::string_view name) const {
    const std::string_view text = detail::trimmed(row[*column_of(header_, name)]);
    return text.empty() || text == "nan" || text == "NaN";
  }

  bool read_time(std::size_t i, RecordedPoint& point) {
    const bool timed = has("time");
    const auto time = number(i, timed ? "time" : "tick");
    if (!time) return false;
    point.time = timed ? *time * time_factor_ : *time / units_.tick_rate;
    return true;
  }

  bool read_rest(std::size_t i, RecordedPoint& point) {
    if (recording_.has_speeds) {
      const auto vy = number(i, "vy");
      const auto vx = has("vx") ? number(i, "vx") : 0.0;
      if (!vy || !vx) return false;
      point.velocity = {*vx * speed_factor_, (turned_ ? 0 - *vy : *vy) * speed_factor_};
    }
    const auto flag = [&](const char* name, bool& to) {
      if (!has(name)) return true;
      const std::string& text = rows_[i][*column_of(header_, name)];
      if (text == "true" || text == "false") {
        to = text == "true";
        return true;
      }
      const auto value = number(i, name);
      to = value.value_or(0) != 0;
      return value.has_value();
    };
    bool left = false;
    bool right = false;
    if (!flag("grounded", point.grounded) || !flag("jump", point.jump) || !flag("left", left) ||
        !flag("right", right)) {
      return false;
    }
    point.run = (right ? 1 : 0) - (left ? 1 : 0);
    if (has("run")) {
      const auto run = number(i, "run");
      if (!run) return false;
      point.run = *run;
    }
    return !has("held") || read_held(i, point);
  }

  bool read_held(std::size_t i, RecordedPoint& point) {
    const std::string& text = rows_[i][*column_of(header_, "held")];
    const auto held = detail::held_in(text);
    if (!held) {
      add(ProblemCode::bad_syntax, i + 1, "held", shown(text), "what is held, as in inputs");
      return false;
    }
    point.jump = point.jump || held->jump;
    if (!has("run")) point.run = direction_share(held->x);
    return true;
  }

  std::optional<double> number(std::size_t i, std::string_view name) {
    const std::string_view text = detail::trimmed(rows_[i][*column_of(header_, name)]);
    const auto value = parse_number(text);
    constexpr double kMost = 1e12;
    if (value && std::abs(*value) <= kMost) return value;
    add(ProblemCode::wrong_type, i + 1, std::string(name), shown(text),
        value ? "a number of no more than 1e12" : "a number");
    return std::nullopt;
  }

  // Of lengths with a name of their own, that many make a unit that the way up and down is about
  // three of, by a power of two.
  bool guess_scale() {
    if (!guesses_) return false;
    // The way up and down within what a jump lasts, in all but the calmest parts.
    constexpr double kJumpLasts = 0.8;  // s
    std::vector<double> ways;
    double low = recording_.points[0].feet.y;
    double high = low;
    double since = recording_.points[0].time;
    for (const RecordedPoint& point : recording_.points) {
      low = std::min(low, point.feet.y);
      high = std::max(high, point.feet.y);
      if (point.time - since < kJumpLasts) continue;
      ways.push_back(high - low);
      low = high = point.feet.y;
      since = point.time;
    }
    ways.push_back(high - low);
    std::sort(ways.begin(), ways.end());
    constexpr double kMostOf = 0.8;
    const double way =
        ways[static_cast<std::size_t>(kMostOf * static_cast<double>(ways.size() - 1))];
    if (!(way > 0)) return false;
    constexpr double kUnits = 3;
    const double per_unit = std::exp2(std::round(std::log2(way / kUnits)));
    units_.convention.lengths_per_unit = per_unit;
    for (RecordedPoint& point : recording_.points) {
      point.feet = {point.feet.x / per_unit, point.feet.y / per_unit};
      point.velocity = {point.velocity.x / per_unit, point.velocity.y / per_unit};
    }
    return true;
  }

  const std::vector<CsvRow>& rows_;
  const std::string& path_;
  const RecordingOptions& options_;
  Header header_;
  Units units_;
  Scale x_scale_, y_scale_;
  bool x_is_time_ = true;
  bool turned_ = false;
  bool guesses_ = false;
  double length_factor_ = 1;
  double time_factor_ = 1;
  double speed_factor_ = 1;
  std::size_t left_out_ = 0;
  Recording recording_;
  std::vector<Problem> problems_;
};

}  // namespace

Result<Pin> parse_pin(const std::string& text, const Units& units) {
  const auto wrong = [&text] {
    return tl::unexpected(std::vector<Problem>{
        {ProblemCode::bad_syntax, "--pin", 0, 0, "", shown(text),
         "an axis, a place on the picture and what it is: \"x 130 = 0 s\", \"y 640 = 0 u\"", ""}});
  };
  const std::size_t equals = text.find('=');
  if (equals == std::string::npos) return wrong();
  std::string_view left = detail::trimmed(std::string_view(text).substr(0, equals));
  const std::string_view right = detail::trimmed(std::string_view(text).substr(equals + 1));
  if (left.size() < 2 || (left[0] != 'x' && left[0] != 'y')) return wrong();
  Pin pin;
  pin.text = text;
  pin.on_y = left[0] == 'y';
  left = detail::trimmed(left.substr(1));
  if (left.size() > 2 && left.substr(left.size() - 2) == "px") left.remove_suffix(2);
  const auto at = parse_number(detail::trimmed(left));
  if (!at || !std::isfinite(*at)) return wrong();
  pin.at = *at;
  const auto time = pin.on_y ? std::nullopt : parse_quantity(right, Dimension::time, units);
  const auto length = parse_quantity(right, Dimension::length, units);
  // A bare number on x is a time; with a unit only one of the two reads it.
  if (!time && !length) return wrong();
  pin.is_time = time.has_value();
  pin.is = time ? *time : *length;
  if (!std::isfinite(pin.is)) return wrong();
  return pin;
}

Result<RecordingFile> parse_recording(std::string_view text, const std::string& path,
                                      const RecordingOptions& options) {
  const auto rows = detail::split_rows(text, path);
  if (!rows) return tl::unexpected(rows.error());
  return RecordingReader(*rows, path, options).read();
}

Result<RecordingFile> load_recording(const std::string& path, const RecordingOptions& options) {
  const auto text = read_file(path, kLargestRecording);
  if (!text) return tl::unexpected(text.error());
  return parse_recording(*text, path, options);
}

}  // namespace bushbaby
