// What a level is found to be, as text for people and as JSON for machines.
#pragma once

#include <string>

#include <bushbaby/data/level_file.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/level_check.h>

namespace bushbaby {

/// A level that was looked through for a character.
struct LevelReport {
  std::string character;
  std::string path;
  LevelFile file;
  LevelCheck check;
  Units units{};
};

[[nodiscard]] std::string level_text(const LevelReport& report);
[[nodiscard]] std::string level_json(const LevelReport& report);

}  // namespace bushbaby
