#include "bushbaby/data/inputs_file.h"

#include <cmath>
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
    "nothing, or any of left right up down jump dash pace x=SHARE y=SHARE";
constexpr std::string_view kDurationWords =
    "a length of time, more than 0: 30 ticks, 0.25 s or 250 ms";

struct Word {
  std::string_view text;
  int column = 0;
};

std::vector<Word> words_of(std::string_view line) {
  std::vector<Word> words;
  std::size_t at = 0;
  while ((at = line.find_first_not_of(kBlank, at)) != std::string_view::npos) {
    const std::size_t end = std::min(line.find_first_of(kBlank, at), line.size());
    words.push_back({line.substr(at, end - at), static_cast<int>(at) + 1});
    at = end;
  }
  return words;
}

class InputsReader {
 public:
  explicit InputsReader(std::string path) : path_(std::move(path)) {}

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
      read_line(line.substr(0, line.find('#')), line_number);
    }
    if (line_number == 0) (void)read_title("");
    if (!problems_.empty()) return tl::unexpected(std::move(problems_));
    return inputs_;
  }

 private:
  void add(ProblemCode code, int line, int column, std::string found, std::string_view expected,
           std::string_view suggestion = {}) {
    problems_.push_back({code, path_, line, column, "", std::move(found), std::string(expected),
                         std::string(suggestion)});
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

  void read_line(std::string_view line, int number) {
    const std::vector<Word> words = words_of(line);
    if (words.empty()) return;
    std::size_t at = 0;
    while (at < words.size() && words[at].text != "for") ++at;
    const int line_end = static_cast<int>(line.find_last_not_of(kBlank)) + 2;
    if (at == words.size()) {
      add(ProblemCode::bad_syntax, number, line_end, "the end of the line",
          "for and a length of time");
      return;
    }
    const auto held = read_held({words.begin(), words.begin() + static_cast<long>(at)}, number);
    if (at == 0) add(ProblemCode::bad_syntax, number, words[0].column, "for", kHeldWords);
    if (at + 1 == words.size()) {
      add(ProblemCode::bad_syntax, number, line_end, "the end of the line", kDurationWords);
      return;
    }
    const auto lasts =
        read_duration({words.begin() + static_cast<long>(at) + 1, words.end()}, number);
    if (held && lasts) inputs_.spans.push_back({*held, *lasts});
  }

  // A number and its unit, as one word or as two; a bare number could be either.
  std::optional<Duration> read_duration(const std::vector<Word>& words, int line) {
    const bool apart = parse_number(words[0].text) && words.size() > 1;
    const std::string text = fmt::format("{}{}{}", words[0].text, apart ? " " : "",
                                         apart ? words[1].text : std::string_view{});
    const auto duration = parse_number(text) ? std::nullopt : parse_duration(text);
    const bool fine = duration && std::isfinite(duration->amount) && duration->amount > 0;
    if (!fine) {
      add(duration ? ProblemCode::out_of_range : ProblemCode::bad_syntax, line, words[0].column,
          shown(text), kDurationWords);
    }
    const std::size_t used = apart ? 2 : 1;
    if (words.size() > used) {
      add(ProblemCode::bad_syntax, line, words[used].column, shown(words[used].text),
          "the end of the line");
    }
    return fine ? duration : std::nullopt;
  }

  // Directions add up, so that left + right is nothing.
  std::optional<Controls> read_held(const std::vector<Word>& words, int line) {
    Controls held;
    int x = 0;
    int y = 0;
    bool fine = true;
    for (const Word& word : words) {
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
      } else if (word.text == "pace") {
        held.pace = true;
      } else if (word.text.substr(0, 2) == "x=" || word.text.substr(0, 2) == "y=") {
        const auto share = parse_number(word.text.substr(2));
        if (!share || !(std::abs(*share) <= 1)) {
          add(ProblemCode::out_of_range, line, word.column, shown(word.text),
              fmt::format("{} and a number from -1 to 1", word.text.substr(0, 2)));
          fine = false;
        } else {
          (word.text[0] == 'x' ? x : y) += direction_from(*share);
        }
      } else if (word.text == "nothing") {
        if (words.size() == 1) continue;
        add(ProblemCode::bad_syntax, line, word.column, "nothing among other words", kHeldWords);
        fine = false;
      } else {
        add(ProblemCode::unknown_name, line, word.column, shown(word.text), kHeldWords,
            nearest_name(word.text, {"nothing", "left", "right", "up", "down", "jump", "dash",
                                     "pace", "for"}));
        fine = false;
      }
    }
    const auto clamp = [](int sum) {
      return static_cast<std::int8_t>(std::min(127, std::max(-127, sum)));
    };
    held.x = clamp(x);
    held.y = clamp(y);
    if (!fine || words.empty()) return std::nullopt;
    return held;
  }

  std::string path_;
  std::vector<Problem> problems_;
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

}  // namespace

Result<Inputs> parse_inputs(std::string_view text, const std::string& path) {
  return InputsReader(path).read(text);
}

Result<Inputs> load_inputs(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_inputs(*text, path);
}

std::string held_text(const Controls& held) {
  std::string text = axis_text(held.x, 'x', "left", "right") + axis_text(held.y, 'y', "down", "up");
  if (held.jump) text += "jump ";
  if (held.dash) text += "dash ";
  if (held.pace) text += "pace ";
  if (text.empty()) return "nothing";
  text.pop_back();
  return text;
}

std::string write_inputs(const Inputs& inputs) {
  std::string text = fmt::format("{}\n", kInputsFormat);
  for (const InputSpan& span : inputs.spans) {
    text += fmt::format("{:<12} for {}\n", held_text(span.held), duration_text(span.lasts));
  }
  return text;
}

}  // namespace bushbaby
