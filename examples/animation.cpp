// What an animation layer receives during a run: the stance when it changes, the events of each
// tick as cues for clips and sounds, and poses between ticks for frames that are not ticks.
#include <cstdio>
#include <string>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/motion/pose.h>
#include <bushbaby/core/motion/why.h>
#include <bushbaby/core/world/level.h>
#include <bushbaby/data/inputs_file.h>
#include <bushbaby/data/level_file.h>
#include <bushbaby/data/tuning_file.h>

namespace {

using namespace bushbaby;

void report(const std::vector<Problem>& problems) {
  for (const Problem& problem : problems) std::fprintf(stderr, "%s\n", describe(problem).c_str());
}

std::string text_of(std::string_view view) { return std::string(view); }

// Where a game would start clips and sounds.
void cue(const Events& events) {
  for (const Event& event : events) {
    std::printf("  cue %s %s %.1f\n", text_of(name_of(event.kind)).c_str(),
                text_of(detail_of(event)).c_str(), event.value);
  }
}

// What a prompt on the screen would show: the jump that a press gives now.
std::string prompt(const Availability& now) {
  static constexpr const char* kNames[] = {"jump", "air jump", "wall jump", "charge"};
  return now.possible ? kNames[static_cast<int>(now.kind)] : "-";
}

}  // namespace

int main(int count, char** values) {
  if (count != 2) {
    std::fprintf(stderr, "usage: animation DEMO_FOLDER\n");
    return 2;
  }
  const std::string folder = values[1];
  const auto tuning = load_tuning(folder + "/pip.tuning.toml");
  const auto level = load_level(folder + "/hollow-trunk.level.toml");
  const auto inputs = load_inputs(folder + "/moonlit-climb.inputs");
  if (!tuning) report(tuning.error());
  if (!level) report(level.error());
  if (!inputs) report(inputs.error());
  if (!tuning || !level || !inputs) return 1;

  const Rules rules = compile(tuning->tuning).rules;  // load_tuning has checked it
  const LevelWorld world(*level, rules.tick_rate);
  Character pip;
  if (!place(pip, level->start, rules, world)) return 1;

  // A screen of 144 Hz over a game of 60 ticks: frames fall between ticks.
  constexpr double kFrame = 1.0 / 144;
  double time = 0;
  Stance stance = Stance::falling;
  for (const Controls& held : controls_of(*inputs, rules.tick_rate)) {
    const Character before = pip;
    const Events events = advance(pip, held, rules, world);
    cue(events);
    for (; time < static_cast<double>(pip.tick) * rules.dt; time += kFrame) {
      const double share = time / rules.dt - static_cast<double>(before.tick);
      const Pose pose = pose_between(before, pip, share);
      if (pose.stance == stance) continue;
      stance = pose.stance;
      std::printf("%.3f s: clip %s, facing %s, at %.2f, %.2f; a press now: %s\n", time,
                  text_of(name_of(stance)).c_str(), pose.facing > 0 ? "right" : "left", pose.feet.x,
                  pose.feet.y, prompt(available(pip, held, rules, world)).c_str());
    }
  }
  return 0;
}
