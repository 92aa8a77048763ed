// A game that has its own level format brings its own `World`. Here it is a map of letters; the
// core asks it for the solids near the body and never sees the map. Links bushbaby::core alone.
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <string_view>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/core/world/world.h>

namespace {

using namespace bushbaby;

constexpr std::array<std::string_view, 8> kMap{"................",  //
                                               "................",  //
                                               "................",  //
                                               "..P.......###...",  //
                                               ".#####..........",  //
                                               "........##......",  //
                                               "#..............#",  //
                                               "################"};

// Every '#' is a solid of one by one unit; row 0 is the top row.
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
        if (kMap[static_cast<std::size_t>(row)][static_cast<std::size_t>(x)] != '#') continue;
        const Vec corner{static_cast<double>(x), static_cast<double>(y)};
        solids.take_box({corner, {corner.x + 1, corner.y + 1}},
                        static_cast<SurfaceId>(row * kColumns + x));
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
  return 0;
}
