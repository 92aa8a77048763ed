#include <algorithm>
#include <cstdio>
#include <vector>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/core/world/level.h>

int main() {
  bushbaby::Tuning tuning;
  tuning.jump.height = 3.25;
  tuning.jump.apex_time = bushbaby::Duration{0.38};
  const auto rules = bushbaby::compile(tuning).rules;
  const std::vector<bushbaby::Box> floor{{{-5, -1}, {5, 0}}};
  const bushbaby::LevelWorld world(floor);
  bushbaby::Character character;
  if (!bushbaby::place(character, {0, 0}, rules, world)) return 1;
  const double ground = character.feet.y;
  double highest = 0;
  bushbaby::Controls held;
  held.jump = true;
  for (int i = 0; i < 60; ++i) {
    for (const bushbaby::Event& event : bushbaby::advance(character, held, rules, world)) {
      highest = std::max(highest, event.place.y - ground);
    }
  }
  std::printf("jumps %.6g u\n", highest);
  return 0;
}
