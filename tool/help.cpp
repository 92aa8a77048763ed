// Help pages, made from the table of verbs.
#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/version.h"

#include "verb.h"

namespace bushbaby::tool {
namespace {

constexpr std::size_t kPageWidth = 92;
constexpr std::size_t kMargin = 11;  // where the words of the left margin end

std::string shown(const Parameter& parameter) {
  std::string text = parameter.name;
  if (!parameter.value.empty()) text += " " + parameter.value;
  return text;
}

// Breaks a text into lines that end before the page does, each but the first indented.
std::string wrapped(std::string_view text, std::size_t indent) {
  std::string page;
  std::size_t column = indent;
  while (!text.empty()) {
    const std::size_t end = std::min(text.find(' '), text.size());
    const std::string_view word = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    if (column > indent && column + 1 + word.size() > kPageWidth) {
      page += "\n" + std::string(indent, ' ');
      column = indent;
    }
    if (column > indent) {
      page += ' ';
      ++column;
    }
    page += word;
    column += word.size();
  }
  return page;
}

// A line of the page with a word in the left margin.
std::string line(std::string_view margin, std::string_view text) {
  return fmt::format("{:<{}}{}\n", margin, kMargin, wrapped(text, kMargin));
}

std::string call_line(const Verb& verb) {
  std::string text = "bushbaby " + verb.name;
  bool more = false;
  for (const Parameter& parameter : verb.parameters) {
    if (parameter.role == Role::needs) {
      text += " " + shown(parameter);
    } else {
      more = true;
    }
  }
  return more ? text + " ..." : text;
}

std::string parameter_lines(const Verb& verb, Role role, std::string_view margin) {
  std::size_t widest = 0;
  for (const Parameter& p : verb.parameters) widest = std::max(widest, shown(p).size());
  const std::size_t column = kMargin + widest + 2;
  std::string text;
  for (const Parameter& parameter : verb.parameters) {
    if (parameter.role != role) continue;
    text += fmt::format("{:<{}}{:<{}}{}\n", text.empty() ? margin : "", kMargin, shown(parameter),
                        widest + 2, wrapped(parameter.help, column));
  }
  return text;
}

}  // namespace

std::string help_page() {
  std::string text =
      fmt::format("Bushbaby {}: tunes a platformer character's run, jump and fall\n\n", kVersion);
  for (const Verb& verb : verbs()) text += line(verb.name, verb.does);
  text += "\n" + line("usage", "bushbaby VERB ...");
  text += line("help", "bushbaby VERB --help");
  text += line("start", "bushbaby demo");
  text += line("exit code", "0 done, targets met; 1 targets missed; 2 bad arguments or input file");
  return text;
}

std::string help_page(const Verb& verb) {
  std::string text = line(verb.name, verb.does) + "\n" + line("usage", call_line(verb));
  text += parameter_lines(verb, Role::needs, "arguments");
  text += parameter_lines(verb, Role::takes, "options");
  text += parameter_lines(verb, Role::gives, "output");
  if (!verb.more.empty()) text += "\n" + line("note", verb.more);
  // An example stands as it is typed: its lines are broken where the shell lets them be.
  text += "\n" + line("example", verb.example_for);
  std::string_view example = verb.example;
  while (!example.empty()) {
    const std::size_t end = std::min(example.find('\n'), example.size());
    text += fmt::format("{:<{}}{}\n", "", kMargin, example.substr(0, end));
    example.remove_prefix(std::min(end + 1, example.size()));
  }
  return text;
}

}  // namespace bushbaby::tool
