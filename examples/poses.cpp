// Which pose is shown when two modes meet: Pip throws a fig while he could hold on to a wall. The
// throw is the game's own; Bushbaby knows nothing of it. A status keeps the wall from
// holding the body for as long as the game wants, and a list of poses, the first that fits counts,
// does the rest.
#include <cstdio>
#include <string>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/motion/outside.h>
#include <bushbaby/core/world/level.h>
#include <bushbaby/data/tuning_file.h>

namespace {

using namespace bushbaby;

// What a throw does to holding on to a wall.
enum class ThrowAtWall {
  forbids,    // no hold before it is over
  delays,     // no hold before the fig flies
  gives_way,  // a hold ends it
};

struct Throw {
  static constexpr int kFlies = 10;  // ticks until the fig flies
  static constexpr int kEnd = 24;    // ticks until it is over
  int tick = kEnd;

  [[nodiscard]] bool under_way() const { return tick < kEnd; }
  [[nodiscard]] bool before_flight() const { return tick < kFlies; }
};

constexpr std::uint32_t kThrowing = 1;  // our number for the reason of the status

void start(Throw& throwing, ThrowAtWall kind, Character& pip) {
  throwing.tick = 0;
  const Ticks without_walls = kind == ThrowAtWall::forbids  ? Throw::kEnd
                              : kind == ThrowAtWall::delays ? Throw::kFlies
                                                            : 0;
  set_status(pip, StatusKind::no_cling, {without_walls, kThrowing});
}

// The first that fits.
const char* pose_of(const Character& pip, const Throw& throwing) {
  if (pip.has(StatusKind::stun) || pip.has(StatusKind::no_control)) return "hurt";
  if (throwing.before_flight()) return "throw";
  if (pip.stance() == Stance::dashing) return "dash";
  if (pip.climbing) return pip.velocity.y > 0 ? "climb" : "hang";
  if (pip.on_wall) return "slide";
  if (throwing.under_way()) return "recover";
  switch (pip.stance()) {
    case Stance::standing: return pip.velocity.x != 0 ? "run" : "stand";
    case Stance::rising: return "rise";
    case Stance::gliding: return "glide";
    default: return "fall";
  }
}

void play(const Rules& rules, const World& world, ThrowAtWall kind) {
  Character pip;
  if (!place(pip, {3.5, 12}, rules, world)) return;
  Throw throwing;
  std::string shown;
  constexpr int kPress = 8;
  for (int tick = 1; tick <= 70; ++tick) {
    if (tick == kPress) start(throwing, kind, pip);
    Controls held;
    held.x = 127;  // towards the wall
    if (tick > 55) held.y = 127;
    for (const Event& event : advance(pip, held, rules, world)) {
      // The hold comes with an event of its own, so that the game need not compare states.
      if (event.kind == EventKind::wall_grabbed && kind == ThrowAtWall::gives_way) {
        throwing.tick = Throw::kEnd;
      }
    }
    const char* pose = pose_of(pip, throwing);
    if (shown != pose) std::printf(" %d %s", tick, pose);
    shown = pose;
    if (throwing.under_way()) ++throwing.tick;
  }
  std::printf("\n");
}

}  // namespace

int main(int count, char** values) {
  if (count != 2) {
    std::fprintf(stderr, "usage: poses DEMO_FOLDER\n");
    return 2;
  }
  const auto tuning = load_tuning(std::string(values[1]) + "/pip.tuning.toml");
  if (!tuning) {
    for (const Problem& problem : tuning.error()) {
      std::fprintf(stderr, "%s\n", describe(problem).c_str());
    }
    return 1;
  }
  const Rules rules = compile(tuning->tuning).rules;
  const LevelWorld world(std::vector<Box>{{{-9, -1}, {9, 0}}, {{5, 0}, {6, 30}}});
  std::printf("forbids:");
  play(rules, world, ThrowAtWall::forbids);
  std::printf("delays:");
  play(rules, world, ThrowAtWall::delays);
  std::printf("gives way:");
  play(rules, world, ThrowAtWall::gives_way);
  return 0;
}
