// The table of verbs, and what several of them are given.
#include "verb.h"

namespace bushbaby::tool {

const std::vector<Verb>& verbs() {
  static const std::vector<Verb> table{
      derive_verb(), drill_verb(),   judge_verb(),   fit_verb(),   answer_verb(), recover_verb(),
      run_verb(),    overlay_verb(), windows_verb(), sweep_verb(), merge_verb(),  rates_verb(),
      report_verb(), export_verb(),  import_verb(),  why_verb(),   play_verb(),   demo_verb()};
  return table;
}

Parameter tuning_parameter() { return {"TUNING", "", "the tuning file", Role::needs}; }

Parameter set_parameter() {
  return {"--set", "KNOB=VALUE",
          "try a knob without touching the file: run.top_speed=8, jump.coyote=7ticks; can be "
          "repeated",
          Role::takes, true};
}

Parameter save_parameter() {
  return {
      "--save", "FILE",
      "save the tuning with --set applied: to a new file, or into TUNING; text and comments stay",
      Role::gives};
}

Parameter units_parameter() {
  return {"--units", "UNITS",
          "show numbers in these units: file (those of the tuning, the default), world (u, s, y "
          "up), or your own, such as \"one_unit=16 px, vertical=down, time=tick\"",
          Role::takes};
}

Parameter knobs_parameter() {
  return {"--knobs", "", "list every knob: its value, unit, default, range and what it does",
          Role::gives};
}

Parameter json_parameter() {
  return {"--json", "", "print one JSON object instead, for machines", Role::gives};
}

Parameter plot_parameter(const std::string& what) {
  return {"--plot", "FILE", what + ", as a picture: .png or .svg", Role::gives};
}

std::string Call::text(const std::string& name) const {
  const std::vector<std::string>& all = texts(name);
  return all.empty() ? std::string() : all.back();
}

const std::vector<std::string>& Call::texts(const std::string& name) const {
  static const std::vector<std::string> none;
  const auto at = given_.find(name);
  return at == given_.end() ? none : at->second;
}

void Call::give(const std::string& name, std::vector<std::string> values) {
  given_[name] = std::move(values);
}

}  // namespace bushbaby::tool
