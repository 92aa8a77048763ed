#include "bushbaby/data/inputs_file.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <optional>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"

#include "toml_text.h"

namespace bushbaby {
namespace {

using detail::shown;

constexpr std::string_view kBlank = " \t\r";
constexpr std::string_view kHeldWords =
    "nothing, or any of left right up down jump dash sprint x=SHARE y=SHARE";
constexpr std::string_view kDurationWords =
    "a length of time, more than 0: 30 ticks, 0.25 s or 250 ms";
constexpr std::string_view kCueWords =
    "a moment: landed, airborne, falling, wall, edge, still, x PLACE or y PLACE";

// The moments by name, in their order.
constexpr std::string_view kCues[] = {"landed", "airborne", "falling", "wall",
                                      "edge",   "still",    "x",       "y"};

constexpr std::size_t kMostLoops = 8;       // of loops in loops
constexpr double kMostTimes = 10000;        // of one loop
constexpr std::size_t kMostSpans = 100000;  // with what loops repeat

struct Word {
  std::string_view text;
  int column = 0;
};

// The words of a line, one after the other.
class Words {
 public:
  Words(std::string_view line, int number) : number_(number) {
    std::size_t at = 0;
    while ((at = line.find_first_not_of(kBlank, at)) != std::string_view::npos) {
      const std::size_t end = std::min(line.find_first_of(kBlank, at), line.size());
      words_.push_back({line.substr(at, end - at), static_cast<int>(at) + 1});
      end_ = static_cast<int>(end) + 1;
      at = end;
    }
  }

  [[nodiscard]] int number() const { return number_; }
  [[nodiscard]] bool done() const { return at_ == words_.size(); }
  [[nodiscard]] bool empty() const { return words_.empty(); }
  // The next one; past the last, an empty one behind the line.
  [[nodiscard]] Word next(std::size_t further = 0) const {
    return at_ + further < words_.size() ? words_[at_ + further] : Word{{}, end_};
  }
  Word take() {
    const Word word = next();
    if (!done()) ++at_;
    return word;
  }
  bool take(std::string_view text) {
    if (done() || next().text != text) return false;
    ++at_;
    return true;
  }

 private:
  std::vector<Word> words_;
  std::size_t at_ = 0;
  int number_;
  int end_ = 1;  // the column behind the last of them
};

class InputsReader {
 public:
  InputsReader(std::string path, const Units& units) : path_(std::move(path)), units_(units) {}

  Result<Inputs> read(std::string_view text) {
    text = detail::without_mark(text);
    int line_number = 0;
    bool titled = false;
    while (!text.empty()) {
      const std::size_t end = std::min(text.find('\n'), text.size());
      const std::string_view line = text.substr(0, end);
      text.remove_prefix(std::min(end + 1, text.size()));
      ++line_number;
      if (line_number == 1) titled = read_title(line);
      if (line_number == 1 && !titled) break;
      read_line(Words(line.substr(0, line.find('#')), line_number));
    }
    if (line_number == 0) (void)read_title("");
    for (const Loop& loop : loops_) {
      add(ProblemCode::bad_syntax, loop.line, 1, "repeat without an end", "a line that says end");
    }
    if (!problems_.empty()) return tl::unexpected(std::move(problems_));
    return inputs_;
  }

 private:
  // A loop whose end is still to come.
  struct Loop {
    int line = 0;
    std::size_t first = 0;  // of its spans
    std::size_t times = 1;
  };

  void add(ProblemCode code, int line, int column, std::string found, std::string_view expected,
           std::string_view suggestion = {}) {
    problems_.push_back({code, path_, line, column, "", std::move(found), std::string(expected),
                         std::string(suggestion)});
  }

  // What is wrong with the next word.
  void refuse(const Words& words, std::string_view expected, std::string_view suggestion = {},
              ProblemCode code = ProblemCode::bad_syntax) {
    add(code, words.number(), words.next().column,
        words.done() ? "the end of the line" : shown(words.next().text), expected, suggestion);
  }

  bool read_title(std::string_view line) {
    const std::size_t end = line.find_last_not_of(kBlank);
    line = end == std::string_view::npos ? "" : line.substr(0, end + 1);
    if (line == kInputsFormat) return true;
    const std::string_view kind = kInputsFormat.substr(0, kInputsFormat.rfind(' ') + 1);
    const bool other_version = line.substr(0, kind.size()) == kind;
    add(other_version ? ProblemCode::newer_format : ProblemCode::wrong_format, 1, 1,
        other_version ? shown(line) : "no format line",
        fmt::format("the format line \"{}\"", kInputsFormat));
    return false;
  }

  void read_line(Words words) {
    if (words.empty()) return;
    if (words.take("repeat")) {
      begin_loop(words);
    } else if (words.take("end")) {
      end_loop(words);
    } else {
      read_span(words);
    }
  }

  void expect_end(const Words& words) {
    if (!words.done()) refuse(words, "the end of the line");
  }

  // Loops are written out: each of their rounds has spans of its own.
  void begin_loop(Words& words) {
    Loop loop{words.number(), inputs_.spans.size(), 1};
    const auto times = parse_number(words.next().text);
    if (times && *times >= 1 && *times <= kMostTimes && *times == std::floor(*times)) {
      loop.times = static_cast<std::size_t>(*times);
      words.take();
      if (words.take("times")) {
        expect_end(words);
      } else {
        refuse(words, "times");
      }
    } else {
      refuse(words, fmt::format("how often: a whole number from 1 to {}, and times", kMostTimes),
             {}, times ? ProblemCode::out_of_range : ProblemCode::bad_syntax);
    }
    if (loops_.size() == kMostLoops) {
      add(ProblemCode::out_of_range, loop.line, 1, "a loop in too many others",
          fmt::format("at most {} in one another", kMostLoops));
    }
    loops_.push_back(loop);
  }

  void end_loop(const Words& words) {
    expect_end(words);
    if (loops_.empty()) {
      add(ProblemCode::bad_syntax, words.number(), 1, "end without a repeat",
          "repeat N times before it");
      return;
    }
    const Loop loop = loops_.back();
    loops_.pop_back();
    auto& spans = inputs_.spans;
    const std::size_t many = spans.size() - loop.first;
    if (loop.first + many * loop.times > kMostSpans) {
      add(ProblemCode::out_of_range, loop.line, 1,
          fmt::format("a loop with which there are {} spans", loop.first + many * loop.times),
          fmt::format("at most {}", kMostSpans));
      return;
    }
    spans.reserve(loop.first + many * loop.times);
    for (std::size_t i = many; i < many * loop.times; ++i) {
      spans.push_back(spans[loop.first + i % many]);
    }
  }

  void read_span(Words& words) {
    InputSpan span;
    span.line = words.number();
    const auto held = read_held(words);
    if (words.take("for")) {
      const auto lasts = read_duration(words);
      if (lasts) expect_end(words);
      if (held && lasts) span.lasts = *lasts;
      if (!held || !lasts) return;
    } else if (words.take("until")) {
      const auto wait = read_wait(words);
      if (!held || !wait) return;
      span.until = *wait;
    } else {
      refuse(words, "for and a length of time, or until and a moment");
      return;
    }
    span.held = *held;
    inputs_.spans.push_back(span);
  }

  // [DURATION before|after] MOMENT [PLACE] [within DURATION]
  std::optional<Wait> read_wait(Words& words) {
    Wait wait;
    if (!words.done() && (words.next().text[0] >= '0' && words.next().text[0] <= '9')) {
      const auto shift = read_duration(words);
      if (!shift) return std::nullopt;
      wait.shift = *shift;
      if (words.take("before")) {
        wait.shift.amount = -wait.shift.amount;
      } else if (!words.take("after")) {
        refuse(words, "before or after");
        return std::nullopt;
      }
    }
    const auto* const cue = std::find(std::begin(kCues), std::end(kCues), words.next().text);
    if (cue == std::end(kCues)) {
      const bool none = words.done();
      refuse(words, kCueWords,
             none ? std::string_view{}
                  : nearest_name(words.next().text, {std::begin(kCues), std::end(kCues)}),
             none ? ProblemCode::bad_syntax : ProblemCode::unknown_name);
      return std::nullopt;
    }
    words.take();
    wait.cue = static_cast<Cue>(cue - std::begin(kCues));
    if (wait.cue == Cue::x || wait.cue == Cue::y) {
      const auto place = read_place(words, wait.cue == Cue::y);
      if (!place) return std::nullopt;
      wait.place = *place;
    }
    if (words.take("within")) {
      const auto limit = read_duration(words);
      if (!limit) return std::nullopt;
      wait.limit = *limit;
    }
    if (words.done()) return wait;
    refuse(words, "within and a length of time, or the end of the line");
    return std::nullopt;
  }

  // A place on one axis: a number, or one with its unit, as one word or as two.
  std::optional<double> read_place(Words& words, bool vertical) {
    const Word first = words.next();
    const std::string together = fmt::format("{} {}", first.text, words.next(1).text);
    const bool apart = parse_number(first.text) && words.next(1).text != "within" &&
                       parse_quantity(together, Dimension::length, units_);
    const auto length =
        parse_quantity(apart ? together : std::string(first.text), Dimension::length, units_);
    constexpr double kMostPlace = 1e9;  // u
    if (words.done() || !length || !(std::abs(*length) <= kMostPlace)) {
      refuse(words, describe_quantity(Dimension::length, units_), {},
             length ? ProblemCode::out_of_range : ProblemCode::bad_syntax);
      return std::nullopt;
    }
    words.take();
    if (apart) words.take();
    return vertical && units_.convention.vertical_down ? 0 - *length : *length;
  }

  // A number and its unit, as one word or as two; a bare number could be either.
  std::optional<Duration> read_duration(Words& words) {
    if (words.done()) {
      refuse(words, kDurationWords);
      return std::nullopt;
    }
    const Word first = words.take();
    const bool apart = parse_number(first.text) && !words.done();
    const std::string text = fmt::format("{}{}{}", first.text, apart ? " " : "",
                                         apart ? words.take().text : std::string_view{});
    const auto duration = parse_number(text) ? std::nullopt : parse_duration(text);
    if (duration && std::isfinite(duration->amount) && duration->amount > 0) return duration;
    add(duration ? ProblemCode::out_of_range : ProblemCode::bad_syntax, words.number(),
        first.column, shown(text), kDurationWords);
    return std::nullopt;
  }

  // Directions add up, so that left + right is nothing.
  std::optional<Controls> read_held(Words& words) {
    Controls held;
    int x = 0;
    int y = 0;
    bool fine = true;
    const bool alone = words.next(1).text == "for" || words.next(1).text == "until";
    if (words.next().text == "for" || words.next().text == "until") {
      refuse(words, kHeldWords);
      return std::nullopt;
    }
    for (; !words.done() && words.next().text != "for" && words.next().text != "until";
         words.take()) {
      const Word word = words.next();
      if (word.text == "left") {
        x -= 127;
      } else if (word.text == "right") {
        x += 127;
      } else if (word.text == "up") {
        y += 127;
      } else if (word.text == "down") {
        y -= 127;
      } else if (word.text == "jump") {
        held.jump = true;
      } else if (word.text == "dash") {
        held.dash = true;
      } else if (word.text == "sprint") {
        held.sprint = true;
      } else if (word.text.substr(0, 2) == "x=" || word.text.substr(0, 2) == "y=") {
        const auto share = parse_number(word.text.substr(2));
        if (!share || !(std::abs(*share) <= 1)) {
          refuse(words, fmt::format("{} and a number from -1 to 1", word.text.substr(0, 2)), {},
                 ProblemCode::out_of_range);
          fine = false;
        } else {
          (word.text[0] == 'x' ? x : y) += direction_from(*share);
        }
      } else if (word.text == "nothing") {
        if (alone) continue;
        add(ProblemCode::bad_syntax, words.number(), word.column, "nothing among other words",
            kHeldWords);
        fine = false;
      } else {
        refuse(words, kHeldWords,
               nearest_name(word.text, {"nothing", "left", "right", "up", "down", "jump", "dash",
                                        "sprint", "for", "until", "repeat", "end"}),
               ProblemCode::unknown_name);
        fine = false;
      }
    }
    const auto clamp = [](int sum) {
      return static_cast<std::int8_t>(std::min(127, std::max(-127, sum)));
    };
    held.x = clamp(x);
    held.y = clamp(y);
    return fine ? std::optional(held) : std::nullopt;
  }

  std::string path_;
  const Units& units_;
  std::vector<Problem> problems_;
  std::vector<Loop> loops_;  // that are not closed yet
  Inputs inputs_;
};

// The shortest decimal share that means this step.
std::string share_text(std::int8_t step) {
  for (int digits = 1; digits < 17; ++digits) {
    std::string text = fmt::format("{:.{}g}", direction_share(step), digits);
    if (direction_from(*parse_number(text)) == step) return text;
  }
  return fmt::format("{}", direction_share(step));
}

std::string axis_text(std::int8_t step, char axis, std::string_view low, std::string_view high) {
  if (step == 0) return "";
  if (step == -127) return fmt::format("{} ", low);
  if (step == 127) return fmt::format("{} ", high);
  return fmt::format("{}={} ", axis, share_text(step));
}

// "3 ticks before x 15.8", the place in the units.
std::string wait_words(const Wait& wait, const Units& units) {
  std::string text;
  if (wait.shift.amount != 0) {
    const Duration away{std::abs(wait.shift.amount), wait.shift.unit};
    text += fmt::format("{} {} ", duration_text(away), wait.shift.amount < 0 ? "before" : "after");
  }
  text += kCues[static_cast<std::size_t>(wait.cue)];
  if (wait.cue == Cue::x || wait.cue == Cue::y) {
    const bool turned = wait.cue == Cue::y && units.convention.vertical_down;
    text +=
        fmt::format(" {}", units.shown(Dimension::length, turned ? 0 - wait.place : wait.place));
  }
  return text;
}

}  // namespace

Result<Inputs> parse_inputs(std::string_view text, const std::string& path, const Units& units) {
  return InputsReader(path, units).read(text);
}

Result<Inputs> load_inputs(const std::string& path, const Units& units) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_inputs(*text, path, units);
}

std::string held_text(const Controls& held) {
  std::string text = axis_text(held.x, 'x', "left", "right") + axis_text(held.y, 'y', "down", "up");
  if (held.jump) text += "jump ";
  if (held.dash) text += "dash ";
  if (held.sprint) text += "sprint ";
  if (text.empty()) return "nothing";
  text.pop_back();
  return text;
}

std::string wait_text(const Wait& wait, const Units& units) {
  const std::string words = wait_words(wait, units);
  const bool placed = wait.cue == Cue::x || wait.cue == Cue::y;
  return placed ? fmt::format("{} {}", words, units.name(Dimension::length)) : words;
}

std::string write_inputs(const Inputs& inputs, const Units& units) {
  std::string text = fmt::format("{}\n", kInputsFormat);
  for (const InputSpan& span : inputs.spans) {
    const std::string lasts =
        span.until ? fmt::format("until {} within {}", wait_words(*span.until, units),
                                 duration_text(span.until->limit))
                   : fmt::format("for {}", duration_text(span.lasts));
    text += fmt::format("{:<12} {}\n", held_text(span.held), lasts);
  }
  return text;
}

}  // namespace bushbaby
