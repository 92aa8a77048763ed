#include "bushbaby/records/trace_csv.h"

#include <cmath>
#include <iterator>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/quantities.h"

#include "csv_rows.h"
#include "data/toml_text.h"

namespace bushbaby {
namespace {

using detail::column_of;
using detail::CsvRow;
using detail::Header;
using detail::shown;

// A place as a trace writes it: "8.35;1.1".
std::optional<Vec> place_of(std::string_view text) {
  const std::size_t between = text.find(';');
  if (between == std::string_view::npos) return std::nullopt;
  const auto x = parse_number(text.substr(0, between));
  const auto y = parse_number(text.substr(between + 1));
  if (!x || !y || !std::isfinite(*x) || !std::isfinite(*y)) return std::nullopt;
  return Vec{*x, *y};
}

// Where an event is that does not say it: so far on the way of its tick.
Vec place_between(Vec before, Vec after, double fraction) {
  if (fraction <= 0) return before;
  return fraction >= 1 ? after : before + (after - before) * fraction;
}

// The event that a text such as "jumped:air=14.2@0.5" or "landed=18.2@0.63:8.35;1.1" stands for,
// with its place if it says that; nothing if none does.
std::optional<std::pair<Event, std::optional<Vec>>> event_of(std::string_view text) {
  Event event;
  std::optional<Vec> place;
  const std::size_t at = text.rfind('@');
  if (at == std::string_view::npos) return std::nullopt;
  std::string_view when = text.substr(at + 1);
  if (const std::size_t colon = when.find(':'); colon != std::string_view::npos) {
    place = place_of(when.substr(colon + 1));
    if (!place) return std::nullopt;
    when = when.substr(0, colon);
  }
  const auto fraction = parse_number(when);
  if (!fraction) return std::nullopt;
  event.fraction = *fraction;
  text = text.substr(0, at);
  if (const std::size_t equals = text.find('='); equals != std::string_view::npos) {
    const auto value = parse_number(text.substr(equals + 1));
    if (!value) return std::nullopt;
    event.value = *value;
    text = text.substr(0, equals);
  }
  const std::size_t colon = std::min(text.find(':'), text.size());
  const std::string_view detail = text.substr(std::min(colon + 1, text.size()));
  for (const EventMeaning& meaning : event_meanings()) {
    if (meaning.name != text.substr(0, colon)) continue;
    event.kind = meaning.kind;
    for (event.detail = 0; event.detail < kEventDetails; ++event.detail) {
      if (meaning.words[event.detail] == detail) return std::pair(event, place);
    }
  }
  return std::nullopt;
}

// Reads the rows of one trace; collects what is wrong with them.
class TraceReader {
 public:
  TraceReader(const std::vector<CsvRow>& rows, const std::string& path)
      : rows_(rows), path_(path), header_(rows.empty() ? Header{} : detail::header_of(rows[0])) {}

  Result<TraceFile> read() {
    const bool timed = column_of(header_, "tick") || column_of(header_, "time");
    if (!timed || !column_of(header_, "x") || !column_of(header_, "y")) {
      add(ProblemCode::wrong_format, 1, "",
          header_.empty() ? "an empty file"
          : !timed        ? "no column tick or time"
                          : "no columns x and y",
          "a header with tick or time (s), x and y");
      return tl::unexpected(std::move(problems_));
    }
    read_units();
    for (std::size_t i = 1; i < rows_.size(); ++i) {
      if (!rows_[i].empty()) read_row(i);
    }
    if (problems_.empty() && trace_.samples.size() < 2) {
      add(ProblemCode::contradiction, rows_.size(), "",
          fmt::format("{} rows", trace_.samples.size()), "at least 2 rows of numbers");
    }
    if (!problems_.empty()) return tl::unexpected(std::move(problems_));
    find_tick_rate();
    fill_speeds();
    return TraceFile{std::move(trace_), units_};
  }

 private:
  void add(ProblemCode code, std::size_t line, std::string key, std::string found,
           std::string expected, std::string_view suggestion = {}) {
    problems_.push_back({code, path_, static_cast<int>(line), 0, std::move(key), std::move(found),
                         std::move(expected), std::string(suggestion)});
  }

  // What the numbers are in, from the headings; they must be of one kind.
  void read_units() {
    const auto heading = [this](std::string_view name) {
      const auto column = column_of(header_, name);
      return column ? header_[*column] : detail::Heading{};
    };
    const auto expect = [this](std::string_view name, const std::string& found,
                               const std::string& expected) {
      if (found.empty() || found == expected) return;
      add(ProblemCode::unknown_name, 1, std::string(name), shown(found), expected);
    };
    const auto x = heading("x");
    const auto y = heading("y");
    const std::string time = heading("time").unit;
    Convention& convention = units_.convention;
    if (is_length_name(x.unit)) {
      convention.length_name = x.unit;
    } else {
      expect("x", x.unit, "the name of a length, such as px");
    }
    convention.vertical_down = y.down;
    convention.per_tick = time == "tick" || time == "ticks";
    milliseconds_ = time == "ms";
    if (!convention.per_tick && !milliseconds_) expect("time", time, "s");
    expect("y", y.unit, convention.length_name);
    const std::string speed =
        fmt::format("{}/{}", convention.length_name, convention.per_tick ? "tick" : "s");
    expect("vx", heading("vx").unit, speed);
    expect("vy", heading("vy").unit, speed);
  }

  void read_row(std::size_t i) {
    const CsvRow& row = rows_[i];
    if (row.size() != header_.size()) {
      add(ProblemCode::bad_syntax, i + 1, "", fmt::format("{} fields", row.size()),
          fmt::format("{}, as in the header", header_.size()));
      return;
    }
    Sample sample;
    sample.tick = read_tick(i);
    constexpr double kPerSecond = 1000;
    times_.push_back(number(i, "time").value_or(0) / (milliseconds_ ? kPerSecond : 1));
    // Numbers per tick are kept at one tick a second.
    const auto point = [&](const char* x, const char* y, Dimension dimension) {
      return from_convention(units_.convention,
                             Vec{number(i, x).value_or(0), number(i, y).value_or(0)}, dimension, 1);
    };
    sample.feet = point("x", "y", Dimension::length);
    sample.velocity = point("vx", "vy", Dimension::speed);
    sample.grounded = number(i, "grounded").value_or(0) != 0;
    if (const auto degrees = number(i, "up")) sample.up = -way_from_down(*degrees);
    if (const auto stance = column_of(header_, "stance")) read_stance(i, row[*stance], sample);
    if (const auto held = column_of(header_, "held")) read_held(i, row[*held], sample);
    if (const auto events = column_of(header_, "events")) read_events(i, row[*events], sample);
    trace_.samples.push_back(sample);
  }

  // Whole ticks, each later than the one above it.
  std::int64_t read_tick(std::size_t i) {
    constexpr double kMost = 1e15;
    const bool first = trace_.samples.empty();
    const std::int64_t next = first ? 0 : trace_.samples.back().tick + 1;
    const auto tick = number(i, "tick");
    if (!tick) return next;
    if (*tick != std::floor(*tick) || std::abs(*tick) > kMost) {
      add(ProblemCode::wrong_type, i + 1, "tick", fmt::format("{}", *tick), "a whole number");
      return next;
    }
    const auto whole = static_cast<std::int64_t>(*tick);
    if (!first && whole < next) {
      add(ProblemCode::out_of_range, i + 1, "tick", fmt::format("{}", whole),
          fmt::format("more than {}, which stands in the row above", next - 1));
      // The rows after it are held against this one: a row that was moved is reported once.
      return whole;
    }
    return whole;
  }

  std::optional<double> number(std::size_t i, std::string_view name) {
    const auto column = column_of(header_, name);
    if (!column) return std::nullopt;
    const auto value = parse_number(rows_[i][*column]);
    if (value && std::isfinite(*value)) return value;
    add(ProblemCode::wrong_type, i + 1, std::string(name), shown(rows_[i][*column]),
        "a finite number");
    return std::nullopt;
  }

  void read_stance(std::size_t i, std::string_view text, Sample& sample) {
    std::vector<std::string_view> names;
    for (int stance = 0; stance <= static_cast<int>(Stance::swimming); ++stance) {
      sample.stance = static_cast<Stance>(stance);
      names.push_back(name_of(sample.stance));
      if (names.back() == text) return;
    }
    add(ProblemCode::unknown_name, i + 1, "stance", shown(text),
        fmt::format("one of {}", fmt::join(names, ", ")), nearest_name(text, names));
  }

  void read_held(std::size_t i, const std::string& text, Sample& sample) {
    if (const auto held = detail::held_in(text)) {
      sample.held = *held;
    } else {
      add(ProblemCode::bad_syntax, i + 1, "held", shown(text), "what is held, as in inputs");
    }
  }

  void read_events(std::size_t i, std::string_view text, const Sample& sample) {
    while (!text.empty()) {
      const std::size_t end = std::min(text.find(' '), text.size());
      if (const auto read = event_of(text.substr(0, end))) {
        Event event = read->first;
        event.tick = sample.tick;
        if (meaning_of(event.kind).value == EventValue::zone && event.value >= 1) {
          event.surface = static_cast<SurfaceId>(event.value) - 1;
        }
        const Vec before = trace_.samples.empty() ? sample.feet : trace_.samples.back().feet;
        event.place = read->second
                          ? from_convention(units_.convention, *read->second, Dimension::length, 1)
                          : place_between(before, sample.feet, event.fraction);
        trace_.events.push_back(event);
      } else {
        add(ProblemCode::unknown_name, i + 1, "events", shown(text.substr(0, end)),
            "an event of a trace, such as landed=18.2@0.63");
      }
      text.remove_prefix(std::min(end + 1, text.size()));
    }
  }

  void find_tick_rate() {
    const double time = times_.back() - times_.front();
    const auto ticks =
        static_cast<double>(trace_.samples.back().tick - trace_.samples.front().tick);
    // Written times are rounded; a rate is a whole number, or nearly so.
    const double rate = time > 0 && ticks > 0 ? ticks / time : trace_.tick_rate;
    const double whole = std::round(rate);
    trace_.tick_rate = std::abs(rate - whole) < 1e-6 * rate ? whole : rate;
    units_.tick_rate = trace_.tick_rate;
  }

  void fill_speeds() {
    if (column_of(header_, "vx") && column_of(header_, "vy")) return;
    for (std::size_t i = 1; i < trace_.samples.size(); ++i) {
      const Vec way = trace_.samples[i].feet - trace_.samples[i - 1].feet;
      trace_.samples[i].velocity = way * trace_.tick_rate;
    }
  }

  const std::vector<CsvRow>& rows_;
  const std::string& path_;
  Header header_;
  std::vector<double> times_;
  bool milliseconds_ = false;
  Trace trace_;
  Units units_;
  std::vector<Problem> problems_;
};

}  // namespace

std::string event_text(const Event& event, const Units& units) {
  std::string text(name_of(event.kind));
  if (const std::string_view detail = detail_of(event); !detail.empty()) {
    text += fmt::format(":{}", detail);
  }
  const bool is_speed = meaning_of(event.kind).value == EventValue::speed;
  const double value = is_speed ? units.shown(Dimension::speed, event.value) : event.value;
  if (event.value != 0) text += fmt::format("={}", value);
  return text + fmt::format("@{}", event.fraction);
}

namespace {

// How far an up is turned against the clock, in degrees.
double degrees_of(Vec up) {
  constexpr double kHalfTurn = 180;
  return std::atan2(-up.x, up.y) * kHalfTurn / std::acos(-1.0);
}

}  // namespace

std::string trace_header(const Units& units) {
  const std::string length = units.name(Dimension::length);
  const std::string speed = units.name(Dimension::speed);
  const char* down = units.convention.vertical_down ? " down" : "";
  return fmt::format("tick,time {},x {},y {}{},vx {},vy {}{},stance,grounded,held,events",
                     units.name(Dimension::time), length, length, down, speed, speed, down);
}

std::string write_trace(const Trace& trace, const Units& units) {
  fmt::memory_buffer out;
  const auto to = std::back_inserter(out);
  const bool turns =
      std::any_of(trace.samples.begin(), trace.samples.end(), [](const Sample& sample) {
        return sample.up != Vec{0, 1};
      });
  fmt::format_to(to, "{}{}\n", trace_header(units), turns ? ",up degrees" : "");
  auto event = trace.events.begin();
  Vec before = trace.samples.empty() ? Vec{0, 0} : trace.samples.front().feet;
  for (const Sample& sample : trace.samples) {
    const Vec feet = units.shown(Dimension::length, sample.feet);
    const Vec velocity = units.shown(Dimension::speed, sample.velocity);
    // In ticks, time is the tick itself, without the rounding there and back.
    const double time =
        units.convention.per_tick ? static_cast<double>(sample.tick) : trace.time_of(sample);
    fmt::format_to(to, "{},{},{},{},{},{},{},{},{},", sample.tick, time, feet.x, feet.y, velocity.x,
                   velocity.y, name_of(sample.stance), sample.grounded ? 1 : 0,
                   held_text(sample.held));
    bool first = true;
    for (; event != trace.events.end() && event->tick <= sample.tick; ++event) {
      fmt::format_to(to, "{}{}", first ? "" : " ", event_text(*event, units));
      first = false;
      if (event->place == place_between(before, sample.feet, event->fraction)) continue;
      const Vec place = units.shown(Dimension::length, event->place);
      fmt::format_to(to, ":{};{}", place.x, place.y);
    }
    before = sample.feet;
    if (turns) fmt::format_to(to, ",{}", degrees_of(sample.up));
    fmt::format_to(to, "\n");
  }
  return fmt::to_string(out);
}

std::string write_trace(const Trace& trace) { return write_trace(trace, {{}, trace.tick_rate}); }

Result<TraceFile> parse_trace(std::string_view text, const std::string& path) {
  const auto rows = detail::split_rows(text, path);
  if (!rows) return tl::unexpected(rows.error());
  return TraceReader(*rows, path).read();
}

Result<TraceFile> load_trace(const std::string& path) {
  constexpr std::size_t kLargestTrace = std::size_t{1} << 30;
  const auto text = read_file(path, kLargestTrace);
  if (!text) return tl::unexpected(text.error());
  return parse_trace(*text, path);
}

std::optional<Trace> in_world_units(const TraceFile& file, const Units& units) {
  Trace trace = file.trace;
  const Convention& own = file.units.convention;
  double length = 1;
  if (own.length_name != "u") {
    if (own.length_name != units.convention.length_name) return std::nullopt;
    length = own.lengths_per_unit / units.convention.lengths_per_unit;
  }
  // What counts in ticks is kept at one tick a second.
  if (own.per_tick) trace.tick_rate = units.tick_rate;
  const double speed = length * (own.per_tick ? units.tick_rate : 1);
  for (Sample& sample : trace.samples) {
    sample.feet *= length;
    sample.velocity *= speed;
  }
  for (Event& event : trace.events) {
    event.place *= length;
    if (meaning_of(event.kind).value == EventValue::speed) event.value *= speed;
  }
  return trace;
}

}  // namespace bushbaby
