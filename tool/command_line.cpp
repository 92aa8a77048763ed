// From a command line to a call of a verb, and what is wrong with it. The only file that knows
// CLI11.
#include <algorithm>

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include "bushbaby/data/problem.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/version.h"

#include "lists.h"
#include "output.h"
#include "verb.h"

namespace bushbaby::tool {
namespace {

std::string nearest(const std::string& word, const std::vector<std::string>& names) {
  return std::string(nearest_name(word, {names.begin(), names.end()}));
}

std::vector<std::string> verb_names() {
  std::vector<std::string> names;
  for (const Verb& verb : verbs()) names.push_back(verb.name);
  return names;
}

// Where a call can be read up on.
int with_hint(int code, const std::string& verb) {
  say(fmt::format("bushbaby {}--help shows more", verb.empty() ? "" : verb + " "));
  return code;
}

const Verb* find_verb(const std::string& name) {
  const auto& table = verbs();
  const auto at = std::find_if(table.begin(), table.end(),
                               [&name](const Verb& verb) { return verb.name == name; });
  return at == table.end() ? nullptr : &*at;
}

// The option parser's reading of a command line: every option's values as they were typed.
class Parser {
 public:
  explicit Parser(const Verb& verb) : verb_(verb) {
    app_.set_help_flag();
    app_.allow_extras();
    help_ = app_.add_flag("--help,-h");
    for (const Parameter& parameter : verb.parameters) {
      if (parameter.by_place()) continue;
      options_[parameter.name] = add(parameter);
    }
  }

  // What is wrong with the call; nothing if it can be made.
  std::vector<Problem> read(const std::vector<std::string>& arguments, Call& call) {
    try {
      app_.parse(std::vector<std::string>(arguments.rbegin(), arguments.rend()));
    } catch (const CLI::ParseError& error) {
      // The options take any text; what is left to go wrong is the parser's own.
      add_problem("", "a call that cannot be read", error.what());
      return problems_;
    }
    if (help_->count() > 0) {
      call.give("--help", {});
      return {};
    }
    read_options(call);
    read_places(call);
    if (problems_.empty() && !lists_only(call)) check_needs(call);
    return problems_;
  }

 private:
  CLI::Option* add(const Parameter& parameter) {
    if (parameter.value.empty()) return app_.add_flag(parameter.name);
    return app_.add_option(parameter.name)
        ->expected(0, parameter.values)
        ->allow_extra_args(false)
        ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
  }

  void add_problem(std::string option, std::string found, std::string expected,
                   std::string suggestion = {}) {
    problems_.push_back({ProblemCode::bad_syntax, std::move(option), 0, 0, "", std::move(found),
                         std::move(expected), std::move(suggestion)});
  }

  void read_options(Call& call) {
    for (const Parameter& parameter : verb_.parameters) {
      if (parameter.by_place()) continue;
      const CLI::Option* option = options_[parameter.name];
      if (option->count() == 0) continue;
      std::vector<std::string> values = option->results();
      if (parameter.value.empty()) {
        if (values.front() != "true") {
          add_problem(parameter.name, "=" + values.front(), parameter.name + " alone");
        }
        values.clear();
      } else {
        check_values(parameter, values);
      }
      call.give(parameter.name, std::move(values));
    }
  }

  void check_values(const Parameter& parameter, const std::vector<std::string>& values) {
    const auto most = static_cast<std::size_t>(parameter.values);
    if (std::any_of(values.begin(), values.end(), [](const auto& text) { return text.empty(); })) {
      add_problem(parameter.name, "nothing behind it", parameter.value);
    } else if (values.size() < most) {
      add_problem(parameter.name, fmt::format("{} alone", values.front()), parameter.value);
    } else if (values.size() > most && !parameter.repeats) {
      add_problem(parameter.name, fmt::format("it {} times", values.size() / most), "it once");
    }
  }

  // What stands alone is given by its place.
  void read_places(Call& call) {
    std::vector<std::string> names;
    for (const Parameter& parameter : verb_.parameters) names.push_back(parameter.name);
    const std::vector<std::string> alone = app_.remaining();
    auto parameter = verb_.parameters.begin();
    for (const std::string& word : alone) {
      if (word.size() > 1 && word.front() == '-' && !parse_number(word)) {
        const std::string name = word.substr(0, word.find('='));
        add_problem("", "unknown option " + name, "", nearest(name, names));
        return;
      }
      parameter = std::find_if(parameter, verb_.parameters.end(),
                               [](const Parameter& p) { return p.by_place(); });
      if (parameter == verb_.parameters.end()) {
        add_problem("", fmt::format("{}, which belongs to nothing before it", word),
                    "the end of the call, or an option in front of it");
        return;
      }
      if (word.empty()) add_problem(parameter->name, "an empty name", parameter->help);
      std::vector<std::string> words = call.texts(parameter->name);
      words.push_back(word);
      call.give(parameter->name, std::move(words));
      if (!parameter->repeats) ++parameter;  // one that repeats takes all that follow
    }
  }

  void check_needs(const Call& call) {
    for (const Parameter& parameter : verb_.parameters) {
      if (parameter.role != Role::needs || call.has(parameter.name)) continue;
      std::string expected = parameter.name;
      if (!parameter.value.empty()) expected += " " + parameter.value;
      add_problem("", "no " + parameter.name, fmt::format("{}, {}", expected, parameter.help));
    }
  }

  const Verb& verb_;
  CLI::App app_;
  CLI::Option* help_ = nullptr;
  std::map<std::string, CLI::Option*> options_;
  std::vector<Problem> problems_;
};

int run_verb_call(const Verb& verb, const std::vector<std::string>& arguments,
                  const std::string& program) {
  Call call(program);
  Parser parser(verb);
  const std::vector<Problem> problems = parser.read(arguments, call);
  if (!problems.empty()) return with_hint(fail(problems), verb.name);
  if (call.has("--help")) {
    print(help_page(verb));
    return kDone;
  }
  return lists_only(call) ? print_lists(call) : verb.run(call);
}

}  // namespace

int run_command(const std::vector<std::string>& arguments, const std::string& program) {
  const std::string first = arguments.empty() ? "" : arguments.front();
  if (first == "--help" || first == "-h") {
    print(help_page());
    return kDone;
  }
  if (first == "--version") {
    print(fmt::format("bushbaby {}\n", kVersion));
    return kDone;
  }
  if (const Verb* verb = find_verb(first)) {
    return run_verb_call(*verb, {arguments.begin() + 1, arguments.end()}, program);
  }
  const Problem problem{ProblemCode::unknown_name,
                        "",
                        0,
                        0,
                        "",
                        first.empty() ? "no verb" : "unknown verb " + first,
                        fmt::format("one of {}", fmt::join(verb_names(), ", ")),
                        nearest(first, verb_names())};
  return with_hint(fail({problem}), "");
}

}  // namespace bushbaby::tool
