#include <cstdio>
#include <string>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/data/level_file.h>
#include <bushbaby/data/tuning_file.h>

int main(int count, char** values) {
  if (count != 2) return 2;
  const std::string demo = values[1];
  const auto file = bushbaby::load_tuning(demo + "/pip.tuning.toml");
  const auto level = bushbaby::load_level(demo + "/first-limbs.level.toml");
  if (!file || !level) return 1;
  const auto rules = bushbaby::compile(file->tuning).rules;
  const bushbaby::LevelWorld world(*level, rules.tick_rate);
  bushbaby::Character character;
  if (!bushbaby::place(character, level->start, rules, world) || !character.grounded()) return 1;
  std::printf("%s stands at %g u\n", file->tuning.name.c_str(), character.feet.x);
  return 0;
}
