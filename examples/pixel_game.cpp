// A game in pixels, y down, per tick, with a tile map. Its tuning says so under [convention], and
// `Units` does all conversion, both ways. Links bushbaby::core and bushbaby::data.
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <string>
#include <string_view>
#include <utility>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/motion/pose.h>
#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/data/tuning_file.h>

namespace {

using namespace bushbaby;

constexpr int kTile = 16;  // px

constexpr std::array<std::string_view, 6> kMap{"....................",  //
                                               "....................",  //
                                               "..........###.......",  //
                                               "....................",  //
                                               "......##............",  //
                                               "####################"};

// The tiles as the core asks for them. Row 0 is the top row and starts at y = 0 px.
class TileWorld final : public World {
 public:
  explicit TileWorld(Units units) : units_(std::move(units)) {}

  void find_solids(const Box& region, std::int64_t /*tick*/,
                   Solids& solids) const noexcept override {
    const Vec a = units_.shown(Dimension::length, region.lo);  // px, y down: the lower left
    const Vec b = units_.shown(Dimension::length, region.hi);  // the upper right
    for (int row = tile_of(b.y, kRows); row <= tile_of(a.y, kRows); ++row) {
      for (int column = tile_of(a.x, kColumns); column <= tile_of(b.x, kColumns); ++column) {
        if (kMap[static_cast<std::size_t>(row)][static_cast<std::size_t>(column)] != '#') continue;
        const Vec left_bottom{kTile * column * 1.0, kTile * (row + 1) * 1.0};
        const Vec right_top{kTile * (column + 1) * 1.0, kTile * row * 1.0};
        solids.take_box({units_.meant(Dimension::length, left_bottom),
                         units_.meant(Dimension::length, right_top)},
                        static_cast<SurfaceId>(row * kColumns + column));
      }
    }
  }

 private:
  static constexpr int kRows = static_cast<int>(kMap.size());
  static constexpr int kColumns = static_cast<int>(kMap[0].size());

  static int tile_of(double px, int count) {
    return static_cast<int>(std::clamp(std::floor(px / kTile), 0.0, count - 1.0));
  }

  Units units_;
};

// Where a game would blit its sprite: whole pixels, rounded, never floored.
void draw(const Character& moth, const Units& units) {
  const Vec feet = units.shown(Dimension::length, visible_feet(moth));
  const Vec speed = units.shown(Dimension::speed, moth.velocity);
  const std::string_view stance = name_of(moth.stance());
  std::printf("tick %3d: feet at %ld, %ld px, %.2f, %.2f px/tick, %.*s\n",
              static_cast<int>(moth.tick), std::lround(feet.x), std::lround(feet.y), speed.x,
              speed.y, static_cast<int>(stance.size()), stance.data());
}

}  // namespace

int main(int count, char** values) {
  const std::string demo = count > 1 ? values[1] : "demo";
  const auto file = load_tuning(demo + "/moth.tuning.toml");
  if (!file) {
    for (const Problem& problem : file.error())
      std::fprintf(stderr, "%s\n", describe(problem).c_str());
    return 1;
  }
  const Units units = file->units();  // 16 px to the unit, y down, per tick
  const Rules rules = compile(file->tuning).rules;
  const TileWorld world(units);

  Character moth;
  const Vec start = units.meant(Dimension::length, Vec{24, 80});  // on the floor, 5 tiles down
  if (!place(moth, start, rules, world)) return 1;
  draw(moth, units);
  double highest = 80;  // px, y down
  while (moth.tick < 100) {
    Controls held;
    held.x = 127;
    held.jump = moth.tick >= 20 && moth.tick < 45;
    for (const Event& event : advance(moth, held, rules, world)) {
      if (event.kind == EventKind::landed) {
        const Vec place = units.shown(Dimension::length, event.place);
        std::printf("landed in row %ld\n", std::lround(place.y) / kTile);
      }
    }
    highest = std::min(highest, units.shown(Dimension::length, moth.feet).y);
    if (moth.tick % 25 == 0) draw(moth, units);
  }
  std::printf("jumped to y %.1f px\n", highest);
  return 0;
}
