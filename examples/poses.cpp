// Which pose is shown when two modes meet: an attack while the body could hold on to a wall. The
// game has an attack of its own, which Bushbaby knows nothing of; a status keeps the wall from
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

// What the game's attack does to holding on to a wall.
enum class AttackAtWall {
  forbids,    // no hold before it is over
  delays,     // no hold before its blow has been struck
  gives_way,  // a hold ends it
};

struct Attack {
  static constexpr int kBlow = 10;  // ticks until the blow is struck
  static constexpr int kEnd = 24;   // ticks until it is over
  int tick = kEnd;

  [[nodiscard]] bool under_way() const { return tick < kEnd; }
  [[nodiscard]] bool before_blow() const { return tick < kBlow; }
};

constexpr std::uint32_t kAttacking = 1;  // our number for the reason of the status

void start(Attack& attack, AttackAtWall kind, Character& pip) {
  attack.tick = 0;
  const Ticks without_walls = kind == AttackAtWall::forbids  ? Attack::kEnd
                              : kind == AttackAtWall::delays ? Attack::kBlow
                                                             : 0;
  set_status(pip, StatusKind::no_cling, {without_walls, kAttacking});
}

// The first that fits.
const char* pose_of(const Character& pip, const Attack& attack) {
  if (pip.has(StatusKind::stun) || pip.has(StatusKind::no_control)) return "hurt";
  if (attack.before_blow()) return "strike";
  if (pip.stance() == Stance::dashing) return "dash";
  if (pip.climbing) return pip.velocity.y > 0 ? "climb" : "hang";
  if (pip.at_wall) return "slide";
  if (attack.under_way()) return "recover";
  switch (pip.stance()) {
    case Stance::standing: return pip.velocity.x != 0 ? "run" : "stand";
    case Stance::rising: return "rise";
    case Stance::gliding: return "glide";
    default: return "fall";
  }
}

void play(const Rules& rules, const World& world, AttackAtWall kind) {
  Character pip;
  if (!place(pip, {3.5, 12}, rules, world)) return;
  Attack attack;
  std::string shown;
  constexpr int kPress = 8;
  for (int tick = 1; tick <= 70; ++tick) {
    if (tick == kPress) start(attack, kind, pip);
    Controls held;
    held.x = 127;  // towards the wall
    if (tick > 55) held.y = 127;
    for (const Event& event : advance(pip, held, rules, world)) {
      // The hold comes with an event of its own, so that the game need not compare states.
      if (event.kind == EventKind::hold_started && kind == AttackAtWall::gives_way) {
        attack.tick = Attack::kEnd;
      }
    }
    const char* pose = pose_of(pip, attack);
    if (shown != pose) std::printf(" %d %s", tick, pose);
    shown = pose;
    if (attack.under_way()) ++attack.tick;
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
  play(rules, world, AttackAtWall::forbids);
  std::printf("delays:");
  play(rules, world, AttackAtWall::delays);
  std::printf("gives way:");
  play(rules, world, AttackAtWall::gives_way);
  return 0;
}
