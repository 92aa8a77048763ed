// A world of its own in which things travel: four baskets on a wheel, where a game's clock has
// them. Links bushbaby::core alone.
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <string>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/core/world/check_world.h>

namespace {

using namespace bushbaby;

constexpr SurfaceId kFloor = 0;  // the baskets have the ids 1 to 4
constexpr int kBaskets = 4;
constexpr double kRadius = 5;           // u
constexpr int kTicksOfARound = 60 * 8;  // 8 s at 60 Hz

class WheelWorld final : public World {
 public:
  void find_solids(const Box& /*region*/, std::int64_t tick,
                   Solids& solids) const noexcept override {
    solids.take_box({{-20, -1}, {20, 0}}, kFloor);
    find_moving_platforms({}, tick, solids);
  }

  [[nodiscard]] bool has_moving_platforms() const noexcept override { return true; }

  // As few as these are handed over whatever the region.
  void find_moving_platforms(const Box& /*region*/, std::int64_t tick,
                             Solids& solids) const noexcept override {
    for (int i = 0; i < kBaskets; ++i) {
      const Vec place = place_of(i, tick);
      solids.take_box({{place.x - 1, place.y}, {place.x + 1, place.y + 0.4}},
                      static_cast<SurfaceId>(i + 1));
    }
  }

  [[nodiscard]] Vec travel(SurfaceId surface, std::int64_t tick) const noexcept override {
    if (surface < 1 || surface > kBaskets) return {0, 0};
    const int basket = static_cast<int>(surface) - 1;
    const Vec now = place_of(basket, tick);
    const Vec next = place_of(basket, tick + 1);
    return {next.x - now.x, next.y - now.y};
  }

 private:
  // The place of a basket follows from the tick alone.
  static Vec place_of(int basket, std::int64_t tick) noexcept {
    constexpr double kTurn = 6.283185307179586;
    const auto within = static_cast<double>(tick % kTicksOfARound);
    const double angle = kTurn * (within / kTicksOfARound + basket / double{kBaskets});
    return {-kRadius * std::cos(angle), 6 + kRadius * std::sin(angle)};
  }
};

}  // namespace

int main() {
  Tuning tuning;
  tuning.jump.height = 3.25;
  tuning.jump.apex_time = Duration{0.38};
  const Compiled compiled = compile(tuning);
  if (!compiled.ok()) return 1;
  const WheelWorld world;
  for (const std::string& fault : check_world(world, {{-10, -2}, {10, 13}})) {
    std::printf("%s\n", fault.c_str());
  }

  // Up with the first basket, which is at the left to begin with, and off it at the top.
  Character character;
  if (!place(character, {-5, 6.4}, compiled.rules, world)) return 1;
  double highest = 0;
  for (int tick = 0; tick < 240; ++tick) {
    Controls held;
    held.jump = tick >= kTicksOfARound / 8;
    for (const Event& event : advance(character, held, compiled.rules, world)) {
      if (event.kind == EventKind::jumped) {
        std::printf("tick %d: leaves the basket at y %.2f u\n", static_cast<int>(event.tick),
                    event.place.y);
      } else if (event.kind == EventKind::landed) {
        std::printf("tick %d: lands on %s\n", static_cast<int>(event.tick),
                    event.surface == kFloor ? "the floor" : "a basket");
      }
    }
    highest = character.feet.y > highest ? character.feet.y : highest;
  }
  std::printf("came up to %.2f u\n", highest);
  return 0;
}
