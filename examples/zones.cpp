// A world of its own with zones: letters on a map that are swum in, and a geyser that blows for
// half of every second. Links bushbaby::core alone.
#include <array>
#include <cstdint>
#include <cstdio>
#include <string_view>
#include <vector>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/tuning/zones.h>

namespace {

using namespace bushbaby;

constexpr std::array<std::string_view, 6> kMap{"..........",  //
                                               "..........",  //
                                               "###~~~~###",  //
                                               "###~~~~###",  //
                                               "###~~~~###",  //
                                               "##########"};
constexpr int kRows = 6;
constexpr int kColumns = 10;

constexpr ZoneId kPond = 0;
constexpr ZoneId kGeyser = 1;
constexpr Box kGeyserPlace{{5, 1}, {7, 9}};

// What the zones change. Their boxes report which of them can hold a body at once; where they are
// at each tick the world says.
std::vector<Zone> make_zones() {
  Zone pond;
  pond.name = "pond";
  pond.box = {{3, 1}, {7, 4}};
  pond.overrides = {{"run.top_speed", true, 0.5}};
  pond.fluid = Fluid{};
  pond.fluid->drag = 4;
  pond.fluid->buoyancy = 30;
  Zone geyser;
  geyser.name = "geyser";
  geyser.box = kGeyserPlace;
  geyser.priority = 1;
  geyser.fluid = Fluid{};
  geyser.fluid->drag = 4;
  geyser.fluid->buoyancy = 90;
  return {pond, geyser};
}

class PondWorld final : public World {
 public:
  void find_solids(const Box& /*region*/, std::int64_t /*tick*/,
                   Solids& solids) const noexcept override {
    hand_out('#', 0, solids);  // a map as small as this is handed over whole
  }
  void find_zones(const Box& /*region*/, std::int64_t tick, Solids& zones) const noexcept override {
    hand_out('~', kPond, zones);
    const bool blows = tick / 30 % 2 == 1;
    if (blows) zones.take_box(kGeyserPlace, kGeyser);
  }

 private:
  static void hand_out(char letter, std::uint32_t id, Solids& taker) noexcept {
    for (int row = 0; row < kRows; ++row) {
      for (int x = 0; x < kColumns; ++x) {
        if (kMap[static_cast<std::size_t>(row)][static_cast<std::size_t>(x)] != letter) continue;
        const Vec at{static_cast<double>(x), static_cast<double>(kRows - 1 - row)};
        taker.take_box({at, {at.x + 1, at.y + 1}}, id);
      }
    }
  }
};

}  // namespace

int main() {
  Tuning tuning;
  tuning.jump.height = 3.25;
  tuning.jump.apex_time = Duration{0.38};
  const CompiledBook compiled = compile_book(tuning, make_zones());
  if (!compiled.ok()) return 1;
  std::printf("rules of %d combinations\n", static_cast<int>(compiled.book.size()));

  const PondWorld world;
  Character character;
  if (!place(character, {1.5, 4}, compiled.book, world)) return 1;
  Controls held;
  double highest = 0;
  for (int tick = 0; tick < 240; ++tick) {
    held.x = character.feet.x < 5.8 ? 127 : 0;
    for (const Event& event : advance(character, held, compiled.book, world)) {
      if (event.kind != EventKind::entered && event.kind != EventKind::left) continue;
      std::printf("tick %3d: %s the %s\n", static_cast<int>(event.tick),
                  event.kind == EventKind::entered ? "enters" : "leaves",
                  event.surface == kPond ? "pond" : "geyser");
    }
    if (tick > 60) highest = character.feet.y > highest ? character.feet.y : highest;
  }
  std::printf("carried up to %.1f u\n", highest);
  return 0;
}
