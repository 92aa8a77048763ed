// A game that has its own level format brings its own `World`. Here it is a map of letters; the
// core asks it for the solids near the body and never sees the map. Links bushbaby::core alone.
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <string_view>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/core/world/check_world.h>
#include <bushbaby/core/world/world.h>

namespace {

using namespace bushbaby;

constexpr std::array<std::string_view, 8> kMap{"................",  //
                                               "................",  //
                                               "................",  //
                                               "..P.......###...",  //
                                               ".#####..........",  //
                                               "................",  //
                                               "#......./##x...#",  //
                                               "################"};

// Every '#' is a solid of one by one unit, every '/' a slope that rises to the right, every 'x' one
// that falls; row 0 is the top row.
class LetterWorld final : public World {
 public:
  void find_solids(const Box& region, std::int64_t /*tick*/,
                   Solids& solids) const noexcept override {
    const auto clamp = [](double value, int most) {
      return static_cast<int>(std::clamp(std::floor(value), 0.0, static_cast<double>(most)));
    };
    for (int y = clamp(region.lo.y, kRows - 1); y <= clamp(region.hi.y, kRows - 1); ++y) {
      for (int x = clamp(region.lo.x, kColumns - 1); x <= clamp(region.hi.x, kColumns - 1); ++x) {
        const int row = kRows - 1 - y;
        const char letter = kMap[static_cast<std::size_t>(row)][static_cast<std::size_t>(x)];
        const Vec at{static_cast<double>(x), static_cast<double>(y)};
        const auto id = static_cast<SurfaceId>(row * kColumns + x);
        const Vec corners[] = {at, {at.x + 1, at.y}, {at.x + (letter == '/' ? 1 : 0), at.y + 1}};
        if (letter == '#') solids.take_box({at, {at.x + 1, at.y + 1}}, id);
        if (letter == '/' || letter == 'x') solids.take_polygon(corners, 3, id);
      }
    }
  }

 private:
  static constexpr int kRows = static_cast<int>(kMap.size());
  static constexpr int kColumns = static_cast<int>(kMap[0].size());
};

}  // namespace

int main() {
  Tuning tuning;
  tuning.jump.height = 3.25;
  tuning.jump.apex_time = Duration{0.38};
  const Compiled compiled = compile(tuning);
  if (!compiled.ok()) return 1;

  const LetterWorld world;
  // Once, in a test of yours: does it answer as the core needs it?
  const std::vector<std::string> faults = check_world(world, {{0, 0}, {16, 8}});
  for (const std::string& fault : faults) std::printf("%s\n", fault.c_str());
  std::printf("the map answers %s\n", faults.empty() ? "as it should" : "wrongly");

  Character character;
  if (!place(character, {2.5, 4.0}, compiled.rules, world)) return 1;
  std::printf("row 3 of the map: %s\n", character.grounded() ? "stands" : "hangs in the air");

  const double floor = character.feet.y;
  double highest = floor;
  bool bumped = false;
  for (int tick = 0; tick < 60; ++tick) {
    Controls held;
    held.jump = true;
    for (const Event& event : advance(character, held, compiled.rules, world)) {
      if (event.kind == EventKind::apex) highest = event.place.y;
      if (event.kind == EventKind::bumped_head) bumped = true;
    }
  }
  std::printf("jumps %.2f u and bumps into %s\n", highest - floor,
              bumped ? "something" : "nothing");

  // Over the mound in the hollow, and never off the ground.
  if (!place(character, {6.5, 1.0}, compiled.rules, world)) return 1;
  double top = 0;
  int in_air = 0;
  Controls right;
  right.x = 127;
  while (character.feet.x < 13) {
    advance(character, right, compiled.rules, world);
    top = std::max(top, character.feet.y);
    in_air += character.grounded() ? 0 : 1;
  }
  std::printf("runs over a mound of %.2f u, %d ticks in the air\n", top - 1, in_air);
  return 0;
}
