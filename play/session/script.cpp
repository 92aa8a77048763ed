#include "script.h"

#include <algorithm>
#include <cmath>
#include <filesystem>

#include <fmt/format.h>

#include "bushbaby/core/tuning/inputs.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/quantities.h"

#include "data/toml_text.h"

namespace bushbaby::live {
namespace {

// Which actions take a number, and which take nothing.
bool takes_number(std::string_view action) {
  return action == "step_back" || action == "step_forward" || action == "wait" || action == "speed";
}

Problem problem_in(const std::string& path, int line, std::string found, std::string expected,
                   std::string suggestion = {}) {
  return {ProblemCode::bad_syntax, path, line, 1, {}, std::move(found), std::move(expected),
          std::move(suggestion)};
}

std::optional<Problem> read_held(ScriptLine& line, const std::string& path, const Units& units) {
  const std::string text = fmt::format("{}\n{}\n", kInputsFormat, line.text);
  auto inputs = parse_inputs(text, path, units);
  if (!inputs) {
    Problem problem = inputs.error().front();
    problem.line = line.line;
    problem.column = 0;
    return problem;
  }
  if (has_waits(*inputs)) {
    return problem_in(path, line.line, "inputs that wait", "a time: play right for 20 ticks");
  }
  if (ticks_in(*inputs, units.tick_rate) > kMostRunTicks) {
    return problem_in(path, line.line, "a very long time",
                      fmt::format("at most {} ticks", kMostRunTicks));
  }
  line.held = controls_of(*inputs, units.tick_rate);
  return std::nullopt;
}

// What is wrong with what an action takes, if it names something.
std::optional<Problem> check_names(const ScriptLine& line, const std::string& path) {
  if (line.action == "page") {
    const std::vector<std::string_view> pages{"knobs", "facts", "history", "keys"};
    if (std::find(pages.begin(), pages.end(), line.text) != pages.end()) return std::nullopt;
    return problem_in(path, line.line, "unknown page " + detail::shown(std::string_view(line.text)),
                      "knobs, facts, history or keys", std::string(nearest_name(line.text, pages)));
  }
  if (line.action == "screenshot") {
    // A script may be anybody's: it writes pictures, and only below where it is played.
    const std::filesystem::path name(line.text);
    const bool leads_out = std::find(name.begin(), name.end(), "..") != name.end();
    if (!name.is_absolute() && !leads_out && name.extension() == ".png") return std::nullopt;
    return problem_in(path, line.line, detail::shown(std::string_view(line.text)),
                      "a file that ends in .png, in this folder or one below");
  }
  const bool sets = line.action == "set";
  if (!sets && line.action != "choose" && line.action != "reset") return std::nullopt;
  const std::size_t equals = std::min(line.text.find('='), line.text.size());
  if (sets && equals == line.text.size()) {
    return problem_in(path, line.line, "no '='", "set KNOB=VALUE, such as set run.top_speed=8");
  }
  const std::string_view key = std::string_view(line.text).substr(0, equals);
  if (find_place(key)) return std::nullopt;
  std::vector<std::string_view> keys;
  keys.reserve(knobs().size());
  for (const Knob& knob : knobs()) keys.push_back(knob.key);
  return problem_in(path, line.line, "unknown key " + detail::shown(key), {},
                    std::string(nearest_name(key, keys)));
}

// How many ticks a line makes.
double ticks_of(const ScriptLine& line) {
  if (line.action == "play") return static_cast<double>(line.held.size());
  return line.action == "wait" || line.action == "step_forward" ? line.number : 0;
}

// Takes a line apart; what is wrong with it goes to the problems.
void read_line(std::string_view text, int number, const std::string& path, const Units& units,
               std::vector<ScriptLine>& lines, std::vector<Problem>& problems) {
  ScriptLine line;
  const std::size_t blank = std::min(text.find(' '), text.size());
  line.action = text.substr(0, blank);
  line.text = detail::trimmed(text.substr(blank));
  line.line = number;
  const std::string reported = detail::shown(std::string_view(line.text));
  const auto& all = script_actions();
  const auto action = std::find_if(
      all.begin(), all.end(), [&line](const ScriptAction& one) { return one.name == line.action; });
  if (action == all.end()) {
    std::vector<std::string_view> names;
    names.reserve(all.size());
    for (const ScriptAction& one : all) names.push_back(one.name);
    problems.push_back(problem_in(path, number,
                                  "unknown action " + detail::shown(std::string_view(line.action)),
                                  {}, std::string(nearest_name(line.action, names))));
    return;
  }
  if (action->takes.empty() != line.text.empty()) {
    problems.push_back(problem_in(path, number, line.text.empty() ? "nothing behind it" : reported,
                                  action->takes.empty()
                                      ? fmt::format("\"{}\" alone", action->name)
                                      : fmt::format("{} {}", action->name, action->takes)));
    return;
  }
  std::optional<Problem> problem = check_names(line, path);
  if (line.action == "play") problem = read_held(line, path, units);
  if (takes_number(line.action)) {
    constexpr double kMost = 1e6;
    const double amount = parse_number(line.text).value_or(-1);
    line.number = amount;
    if (!(amount >= 0 && amount <= kMost)) {
      problem = problem_in(path, number, reported, "a number from 0 to 1000000");
    }
  }
  if (action->takes == "on or off" && line.text != "on" && line.text != "off") {
    problem = problem_in(path, number, reported, "on or off");
  }
  if (problem) problems.push_back(*problem);
  lines.push_back(std::move(line));
}

}  // namespace

const std::vector<ScriptAction>& script_actions() {
  static const std::vector<ScriptAction> all{
      {"play", "HELD for TIME", "hold keys for a time, as a line of inputs says it"},
      {"wait", "TICKS", "let N ticks pass: with the rest of --inputs, then with nothing held"},
      {"set", "KNOB=VALUE", "set a knob"},
      {"reset", "KNOB", "reset a knob to the value in the file"},
      {"choose", "KNOB", "choose a knob, as a click on it does"},
      {"undo", "", "undo the last change"},
      {"redo", "", "redo it"},
      {"compare", "on or off", "use the file's numbers, or stop"},
      {"amplify", "on or off", "multiply the selected knob by 4, or stop"},
      {"pause", "", "pause"},
      {"resume", "", "resume playing"},
      {"step_back", "TICKS", "go back N ticks, and pause"},
      {"step_forward", "TICKS", "advance N ticks, and stay paused"},
      {"speed", "SHARE", "slow motion: 0.25 is a quarter of full speed"},
      {"restart", "", "restart the level"},
      {"ghost", "on or off", "show or hide the ghost"},
      {"page", "NAME", "open a page beside the level: knobs, facts, history or keys"},
      {"search", "WORDS", "search for knobs"},
      {"measure", "", "wait until facts are measured"},
      {"fit", "", "show the whole level"},
      {"screenshot", "FILE", "save a screenshot of the window: .png"},
      {"save", "", "save into the tuning file"},
      {"save_as", "", "save as a new file based on the tuning file"},
      {"mark", "", "saved traces begin at the tick shown; again: at the start"},
      {"save_inputs", "", "save what was held since the start, as inputs"},
      {"save_trace", "", "save what was played, as a trace"},
  };
  return all;
}

Result<std::vector<ScriptLine>> parse_script(std::string_view text, const std::string& path,
                                             const Units& units) {
  std::vector<ScriptLine> lines;
  std::vector<Problem> problems;
  const auto next_line = [&text] {
    const std::size_t end = std::min(text.find('\n'), text.size());
    const std::string_view line = detail::trimmed(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
    return line;
  };
  if (next_line() != kScriptFormat) {
    Problem problem =
        problem_in(path, 1, "another first line", fmt::format("\"{}\"", kScriptFormat));
    problem.code = ProblemCode::wrong_format;
    return tl::unexpected(std::vector<Problem>{problem});
  }
  double ticks = 0;
  for (int number = 2; !text.empty(); ++number) {
    const std::string_view line = next_line();
    if (line.empty() || line.front() == '#') continue;
    read_line(line, number, path, units, lines, problems);
    if (!lines.empty() && lines.back().line == number) ticks += ticks_of(lines.back());
    if (ticks > static_cast<double>(kMostRunTicks)) {
      problems.push_back(problem_in(path, number, "more ticks than that in all",
                                    fmt::format("at most {} ticks", kMostRunTicks)));
      break;
    }
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return lines;
}

}  // namespace bushbaby::live
