#include "entrants.h"

#include <algorithm>
#include <filesystem>
#include <set>

#include <fmt/format.h>

#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/names.h"
#include "bushbaby/records/explanations.h"

#include "output.h"

namespace bushbaby::tool {
namespace {

// The keys that --without knows: every knob and every group of them.
std::vector<std::string_view> switchable_keys() {
  std::set<std::string_view> keys;
  for (const Knob& knob : knobs()) {
    for (std::size_t dot = knob.key.find('.'); dot != std::string_view::npos;
         dot = knob.key.find('.', dot + 1)) {
      keys.insert(knob.key.substr(0, dot));
    }
    keys.insert(knob.key);
  }
  return {keys.begin(), keys.end()};
}

// Whoever is called like another goes by the name of the file as well; of one file, by number.
void tell_apart(std::vector<Entrant>& entrants) {
  const auto count = [&entrants](const std::string& name) {
    return std::count_if(entrants.begin(), entrants.end(),
                         [&name](const Entrant& entrant) { return entrant.name == name; });
  };
  std::vector<std::string> names;
  for (const Entrant& entrant : entrants) {
    const std::string file = std::filesystem::path(entrant.file.path).filename().string();
    names.push_back(count(entrant.name) == 1 ? entrant.name
                    : entrant.name.empty()   ? shortened(file)
                                           : fmt::format("{} ({})", entrant.name, shortened(file)));
  }
  for (std::size_t i = 0; i < entrants.size(); ++i) entrants[i].name = names[i];
  for (std::size_t i = 0; i < entrants.size(); ++i) {
    if (count(names[i]) > 1) entrants[i].name = fmt::format("{} [{}]", names[i], i + 1);
  }
}

}  // namespace

std::vector<Entrant> entrants_of(const Call& call, std::vector<Problem>& problems) {
  std::vector<Entrant> entrants;
  const auto add = [&](const std::string& name, const std::string& path,
                       const std::vector<Setting>& settings) {
    auto file = load_tuning(path, settings);
    if (file) {
      entrants.push_back({shortened(name.empty() ? file->tuning.name : name), std::move(*file)});
    } else {
      append(problems, file.error());
    }
    return file.has_value();
  };
  const std::string path = call.text("TUNING");
  const std::vector<Setting> base = settings_of(call);
  if (!add("", path, base)) return entrants;
  for (const std::string& text : call.texts("--try")) {
    std::vector<Setting> settings = base;
    const auto more = parse_settings(text, "--try");
    if (more.empty()) {
      problems.push_back(call_problem("--try", text, "settings: \"fall.factor=2.2\""));
    }
    settings.insert(settings.end(), more.begin(), more.end());
    add(text, path, settings);
  }
  for (const std::string& key : call.texts("--without")) {
    Entrant entrant{"without " + key, entrants.front().file};
    if (reset_knobs(entrant.file.tuning, key)) {
      entrants.push_back(std::move(entrant));
    } else {
      problems.push_back({ProblemCode::unknown_name, "--without", 0, 0, "", key,
                          "a knob or a group of knobs: jump.coyote, dash, wall.exit",
                          std::string(nearest_name(key, switchable_keys()))});
    }
  }
  for (const std::string& other : call.texts("--with")) add("", other, {});
  tell_apart(entrants);
  return entrants;
}

std::vector<std::vector<std::string>> differences_of(const Call& call,
                                                     const std::vector<Entrant>& entrants,
                                                     const Units& units) {
  std::vector<std::vector<std::string>> differences;
  for (const Entrant& entrant : entrants) {
    const bool reports = entrant.file.path != call.text("TUNING");
    differences.push_back(
        reports ? differing_knobs(entrants.front().file.tuning, entrant.file.tuning, units)
                : std::vector<std::string>{});
  }
  return differences;
}

Parameter try_parameter() {
  return {"--try", "SETTINGS",
          "a variant: the tuning with these knobs, separated by commas: "
          "\"fall.factor=2.2, jump.coyote=4ticks\"; can be repeated",
          Role::takes, true};
}

Parameter without_parameter() {
  return {"--without", "KNOB",
          "a variant: the tuning with this knob or group switched off: jump.coyote, "
          "dash, wall.exit; can be repeated",
          Role::takes, true};
}

Parameter with_parameter() {
  return {"--with", "TUNING", "a variant: another tuning; can be repeated", Role::takes, true};
}

}  // namespace bushbaby::tool
