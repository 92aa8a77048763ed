// Sessions of the demo, for tests.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/targets_file.h"

#include "session/session.h"

namespace bushbaby::live::test {

inline std::string demo(const std::string& name) {
  return std::string(BUSHBABY_SOURCE_DIR) + "/demo/" + name;
}

inline TuningFile pip_file() { return *load_tuning(demo("pip.tuning.toml")); }

inline Opening setup_of(TuningFile file, const std::string& level) {
  Opening setup;
  const auto read = load_level_file(demo(level));
  setup.book = *compile_for(file, *read, level, file.units());
  setup.level = read->level;
  setup.file = std::move(file);
  return setup;
}

inline Session session_on(const std::string& level = "first-limbs.level.toml") {
  return Session(setup_of(pip_file(), level));
}

inline KnobPlace knob(const char* key) { return *find_place(key); }

inline void play(Session& session, const Controls& held, int ticks) {
  for (int i = 0; i < ticks; ++i) session.play(held);
}

inline constexpr Controls kNone{};
inline constexpr Controls kRight{127, 0, false, false, false};
inline constexpr Controls kLeft{-127, 0, false, false, false};
inline constexpr Controls kJump{0, 0, true, false, false};
inline constexpr Controls kRightJump{127, 0, true, false, false};

}  // namespace bushbaby::live::test
