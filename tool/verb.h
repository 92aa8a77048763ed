// The verbs of the command: one table that parsing, help pages and docs/commands.md are made from.
//
// Every verb prints its report on standard output and what is wrong on standard error, and returns
// the exit code: 0 done, 1 findings, 2 the call or an input file is wrong.
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace bushbaby::tool {

inline constexpr int kDone = 0;
inline constexpr int kFindings = 1;
inline constexpr int kWrong = 2;

/// What a parameter of a verb is for; help pages group by it.
enum class Role {
  needs,  ///< the call is wrong without it
  takes,  ///< changes what is done
  gives,  ///< asks for an output
};

/// Something that a verb can be given.
struct Parameter {
  std::string name;   ///< "--level"; what is given by its place alone has no dashes: "TUNING"
  std::string value;  ///< what help calls its value: "LEVEL"; empty: it is said or not
  std::string help;
  Role role = Role::takes;
  bool repeats = false;
  int values = 1;  ///< how many belong to it

  [[nodiscard]] bool by_place() const { return name.front() != '-'; }
};

/// What was typed behind a verb.
class Call {
 public:
  explicit Call(std::string program) : program_(std::move(program)) {}

  [[nodiscard]] bool has(const std::string& name) const { return given_.count(name) > 0; }
  /// Its value, the last if there are several; empty if it was not given.
  [[nodiscard]] std::string text(const std::string& name) const;
  [[nodiscard]] const std::vector<std::string>& texts(const std::string& name) const;
  /// How the program was started.
  [[nodiscard]] const std::string& program() const { return program_; }

  void give(const std::string& name, std::vector<std::string> values);

 private:
  std::string program_;
  std::map<std::string, std::vector<std::string>> given_;
};

struct Verb {
  std::string name;
  std::string does;  ///< what it does, as a line: "run inputs on a level …"
  std::vector<Parameter> parameters;
  std::string more;  ///< what else a caller should know; may be empty
  std::string example_for;
  std::string example;
  int (*run)(const Call& call);
};

/// All of them, in the order in which people work.
[[nodiscard]] const std::vector<Verb>& verbs();

[[nodiscard]] Verb derive_verb();
[[nodiscard]] Verb drill_verb();
[[nodiscard]] Verb judge_verb();
[[nodiscard]] Verb fit_verb();
[[nodiscard]] Verb answer_verb();
[[nodiscard]] Verb recover_verb();
[[nodiscard]] Verb run_verb();
[[nodiscard]] Verb windows_verb();
[[nodiscard]] Verb sweep_verb();
[[nodiscard]] Verb merge_verb();
[[nodiscard]] Verb rates_verb();
[[nodiscard]] Verb export_verb();
[[nodiscard]] Verb import_verb();
[[nodiscard]] Verb report_verb();
[[nodiscard]] Verb why_verb();
[[nodiscard]] Verb overlay_verb();
[[nodiscard]] Verb play_verb();
[[nodiscard]] Verb demo_verb();

// What several verbs are given.
[[nodiscard]] Parameter tuning_parameter();
[[nodiscard]] Parameter set_parameter();
[[nodiscard]] Parameter save_parameter();
[[nodiscard]] Parameter units_parameter();
[[nodiscard]] Parameter knobs_parameter();
[[nodiscard]] Parameter json_parameter();
[[nodiscard]] Parameter plot_parameter(const std::string& what);

/// The page of `bushbaby --help`, and that of a verb.
[[nodiscard]] std::string help_page();
[[nodiscard]] std::string help_page(const Verb& verb);

/// Reads a command line, without the program's name, and does what it says.
int run_command(const std::vector<std::string>& arguments, const std::string& program);

}  // namespace bushbaby::tool
