// The smallest game loop: load a tuning and a level, step the character, and print what a
// renderer would need. Links bushbaby::core and bushbaby::data, and nothing else of Bushbaby.
#include <cstdio>
#include <string>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/world/level.h>
#include <bushbaby/data/level_file.h>
#include <bushbaby/data/tuning_file.h>

namespace {

using namespace bushbaby;

void report(const std::vector<Problem>& problems) {
  for (const Problem& problem : problems) std::fprintf(stderr, "%s\n", describe(problem).c_str());
}

// Where a game would ask its devices.
Controls read_controls(std::int64_t tick) {
  Controls held;
  if (tick >= 30) held.x = 127;
  held.jump = (tick >= 50 && tick < 55) || (tick >= 78 && tick < 105);
  return held;
}

void draw(const Character& character) {
  const std::string_view stance = name_of(character.stance());
  std::printf("tick %lld at %.3f, %.3f: %.*s, faces %s\n", static_cast<long long>(character.tick),
              character.feet.x, character.feet.y, static_cast<int>(stance.size()), stance.data(),
              character.facing > 0 ? "right" : "left");
}

// Where a game would start sounds and dust.
void react(const Events& events) {
  for (const Event& event : events) {
    if (event.kind == EventKind::landed) std::printf("  landed at %.1f u/s\n", event.value);
    if (event.kind == EventKind::jumped) std::printf("  jumped at %.1f u/s\n", event.value);
  }
}

}  // namespace

int main(int count, char** values) {
  const std::string demo = count > 1 ? values[1] : "demo";
  const auto tuning = load_tuning(demo + "/pip.tuning.toml");
  const auto level = load_level(demo + "/first-limbs.level.toml");
  if (!tuning) report(tuning.error());
  if (!level) report(level.error());
  if (!tuning || !level) return 1;

  const Rules rules = compile(tuning->tuning).rules;  // `load_tuning` has checked it
  const LevelWorld world(*level, rules.tick_rate);
  Character character;
  if (!place(character, level->start, rules, world)) return 1;

  while (character.tick < 140) {
    const Events events = advance(character, read_controls(character.tick), rules, world);
    react(events);
    if (character.tick % 20 == 0) draw(character);
  }
  return 0;
}
