// What a person's keys do, kept in a file of the person's own.
//
//     format = "bushbaby-settings/1"
//     [keys]
//     jump = ["Space", "Z"]
//     [pad]
//     jump = ["A"]
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/data/problem.h"

namespace bushbaby::live {

inline constexpr std::string_view kSettingsFormat = "bushbaby-settings/1";

/// Something that a key or a button can do: what is held, or a command of the window.
struct Action {
  std::string_view name;  ///< "jump", "step_back"
  std::string_view help;
  std::string_view keys;  ///< of a keyboard by default, with blanks between them
  std::string_view pad;   ///< buttons of a pad by default
};

/// Every action, those that are held first.
[[nodiscard]] const std::vector<Action>& actions();
[[nodiscard]] const Action* find_action(std::string_view name);

/// What does what. Keys and buttons are called as the window system calls them.
struct Settings {
  std::map<std::string, std::vector<std::string>, std::less<>> keys;  ///< by action
  std::map<std::string, std::vector<std::string>, std::less<>> pad;

  [[nodiscard]] static Settings defaults();
  /// The action of a key, or empty.
  [[nodiscard]] std::string_view action_of_key(std::string_view key) const;
  [[nodiscard]] std::string_view action_of_button(std::string_view button) const;
  /// Gives a key, or a button, to an action alone, instead of those it had.
  void bind_key(const std::string& action, const std::string& key);
  void bind_button(const std::string& action, const std::string& button);
};

/// Reads settings; actions that the text does not name keep what they have by default.
[[nodiscard]] Result<Settings> parse_settings_file(std::string_view text, const std::string& path);
[[nodiscard]] std::string write_settings(const Settings& settings);

/// Where a person's settings are: in the configuration folder of the system.
[[nodiscard]] std::string settings_path();

}  // namespace bushbaby::live
