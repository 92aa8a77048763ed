#include "settings.h"

#include <algorithm>
#include <cstdlib>
#include <filesystem>

#include <fmt/format.h>

#include "data/toml_text.h"

namespace bushbaby::live {
namespace {

using Bindings = std::map<std::string, std::vector<std::string>, std::less<>>;

std::vector<std::string> words_in(std::string_view text) {
  std::vector<std::string> words;
  while (!text.empty()) {
    const std::size_t end = std::min(text.find(','), text.size());
    words.emplace_back(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  return words;
}

std::string_view action_in(const Bindings& bindings, std::string_view name) {
  for (const auto& [action, names] : bindings) {
    if (std::find(names.begin(), names.end(), name) != names.end()) return action;
  }
  return {};
}

void bind(Bindings& bindings, const std::string& action, const std::string& name) {
  for (auto& [other, names] : bindings) {
    names.erase(std::remove(names.begin(), names.end(), name), names.end());
  }
  bindings[action] = {name};
}

void read_bindings(const toml::table& root, const char* section, Bindings& bindings,
                   detail::ProblemList& problems) {
  const toml::node* node = root.get(section);
  if (node == nullptr) return;
  const toml::table* table = node->as_table();
  if (table == nullptr) {
    problems.add(ProblemCode::wrong_type, node->source(), section, detail::shown(*node), "a table");
    return;
  }
  std::vector<std::string_view> names;
  for (const Action& action : actions()) names.push_back(action.name);
  for (const auto& [key, value] : *table) {
    const std::string name = std::string(section) + "." + std::string(key.str());
    if (find_action(key.str()) == nullptr) {
      problems.unknown(key, name, names);
      continue;
    }
    const toml::array* list = value.as_array();
    if (list == nullptr || (!list->empty() && !list->is_homogeneous(toml::node_type::string))) {
      problems.add(ProblemCode::wrong_type, value.source(), name, detail::shown(value),
                   "a list of names of keys, such as [\"Space\", \"Z\"]");
      continue;
    }
    std::vector<std::string>& bound = bindings[std::string(key.str())];
    bound.clear();
    for (const toml::node& one : *list) bound.push_back(*one.value<std::string>());
  }
}

void write_bindings(std::string& text, const char* section, const Bindings& bindings) {
  text += fmt::format("\n[{}]\n", section);
  for (const Action& action : actions()) {
    const auto bound = bindings.find(action.name);
    if (bound == bindings.end()) continue;
    std::string names;
    for (const std::string& name : bound->second) {
      names += (names.empty() ? "" : ", ") + detail::toml_text_of(KnobValue(name));
    }
    text += fmt::format("{} = [{}]\n", action.name, names);
  }
}

}  // namespace

const std::vector<Action>& actions() {
  static const std::vector<Action> all{
      {"left", "run to the left", "Left,A", "D-pad left"},
      {"right", "run to the right", "Right,D", "D-pad right"},
      {"up", "look up, climb", "Up,W", "D-pad up"},
      {"down", "look down, drop, fall faster", "Down,S", "D-pad down"},
      {"jump", "jump", "Space,Z", "A"},
      {"dash", "dash", "Left Shift,X", "X"},
      {"sprint", "sprint", "Left Ctrl,C", "right shoulder"},
      {"pause", "pause, or resume", "P", "start"},
      {"step_back", "one tick back", ",", ""},
      {"step_forward", "one tick forward", ".", ""},
      {"slow", "slow motion: 1/2, 1/4, 1/8, full speed", "M", ""},
      {"restart", "restart the level", "R", "back"},
      {"compare", "while held: the file's numbers", "Tab", "left shoulder"},
      {"amplify", "while held: selected knob × 4", "E", ""},
      {"undo", "undo the last change", "U", ""},
      {"redo", "redo it", "Y", ""},
      {"reset", "reset the selected knob to the file", "Backspace", ""},
      {"save", "save into the file", "F2", ""},
      {"save_as", "save as a new file based on it", "F5", ""},
      {"mark", "saved traces begin here; again: at the start", "B", ""},
      {"save_inputs", "save what was held, as inputs", "F6", ""},
      {"save_trace", "save what was played, as a trace", "F7", ""},
      {"screenshot", "save a screenshot", "F8", ""},
      {"quit", "close the window", "F10", ""},
      {"search", "search for a knob", "F", ""},
      {"zoom_in", "zoom in", "=", ""},
      {"zoom_out", "zoom out", "-", ""},
      {"fit", "fit the whole level", "0", ""},
      {"ghost", "show or hide the ghost", "G", ""},
      {"next_page", "the next page beside the level", "F3", ""},
  };
  return all;
}

const Action* find_action(std::string_view name) {
  const auto found = std::find_if(actions().begin(), actions().end(),
                                  [name](const Action& action) { return action.name == name; });
  return found == actions().end() ? nullptr : &*found;
}

Settings Settings::defaults() {
  Settings settings;
  for (const Action& action : actions()) {
    // A comma is a key too: it stands alone.
    settings.keys[std::string(action.name)] =
        action.keys == "," ? std::vector<std::string>{","} : words_in(action.keys);
    settings.pad[std::string(action.name)] = words_in(action.pad);
  }
  return settings;
}

std::string_view Settings::action_of_key(std::string_view key) const {
  return action_in(keys, key);
}

std::string_view Settings::action_of_button(std::string_view button) const {
  return action_in(pad, button);
}

void Settings::bind_key(const std::string& action, const std::string& key) {
  bind(keys, action, key);
}

void Settings::bind_button(const std::string& action, const std::string& button) {
  bind(pad, action, button);
}

Result<Settings> parse_settings_file(std::string_view text, const std::string& path) {
  const auto table = detail::parse_toml(text, path, kSettingsFormat);
  if (!table) return tl::unexpected(table.error());
  detail::ProblemList problems(path);
  detail::check_format(*table, kSettingsFormat, problems);
  if (!problems.empty()) return tl::unexpected(problems.take());
  Settings settings = Settings::defaults();
  for (const auto& [key, value] : *table) {
    const std::string_view name = key.str();
    if (name == "format" || name == "keys" || name == "pad") continue;
    problems.unknown(key, std::string(name), {"format", "keys", "pad"});
  }
  read_bindings(*table, "keys", settings.keys, problems);
  read_bindings(*table, "pad", settings.pad, problems);
  if (!problems.empty()) return tl::unexpected(problems.take());
  return settings;
}

std::string write_settings(const Settings& settings) {
  std::string text = fmt::format("format = \"{}\"\n", kSettingsFormat);
  write_bindings(text, "keys", settings.keys);
  write_bindings(text, "pad", settings.pad);
  return text;
}

std::string settings_path() {
  namespace fs = std::filesystem;
  const char* folder = std::getenv("XDG_CONFIG_HOME");
  const char* home = std::getenv("HOME");
  fs::path base;
  if (folder != nullptr && *folder != '\0') {
    base = folder;
  } else if (home != nullptr && *home != '\0') {
    base = fs::path(home) / ".config";
  } else {
    return {};
  }
  return (base / "bushbaby" / "settings.toml").string();
}

}  // namespace bushbaby::live
