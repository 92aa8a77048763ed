// Any valid tuning, any inputs: 200 ticks among walls, slopes, platforms, a bounce, a push,
// slippery ground and moving platforms stay finite and outside of solids, unless a moving platform
// crushes the body.
#include <cstddef>
#include <cstdint>
#include <utility>
#include <vector>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/world/level.h"

#include "fuzz/bytes.h"

namespace {

bushbaby::Level among() {
  bushbaby::Level level{"fuzz", {0, 0}, {}};
  for (const bushbaby::Box& box :
       {bushbaby::Box{{-40, -1}, {40, 0}}, bushbaby::Box{{4, 0}, {5, 9}},
        bushbaby::Box{{-6, 2}, {-2, 2.4}}, bushbaby::Box{{-3, 7}, {3, 8}}}) {
    level.solids.push_back({"", box, {}});
  }
  level.solids.push_back({"", {{-12, 0}, {-10, 0.5}}, {}});
  level.solids.back().traits.bounce_speed = 12;
  level.solids.push_back({"", {{-16, 0}, {-14, 0.5}}, {}});
  level.solids.back().traits.grip = 0.1;
  level.solids.back().traits.conveyor = 3;
  level.solids.push_back({"", {{9, 0}, {10, 4}}, {}});
  level.solids.back().traits.has_touch = level.solids.back().traits.touch.pushes = true;
  level.solids.back().traits.touch.push = {{9, 9}, bushbaby::PushFrame::source};
  const auto add = [&level](std::vector<bushbaby::Vec> corners, bushbaby::Blocks blocks) {
    bushbaby::Solid solid;
    solid.corners = std::move(corners);
    solid.blocks = blocks;
    level.solids.push_back(std::move(solid));
  };
  using bushbaby::Blocks;
  add({{1, 0}, {2, 0.6}, {2.5, 0.6}, {3, 0}}, Blocks::everything);
  add({{11, 0}, {13, 3}, {14, 1}, {15, 3}, {15.5, 0}}, Blocks::everything);  // bent inwards
  add({{-8, 1}, {-4, 1.7}}, Blocks::everything);
  add({{-3, 1.2}, {0, 1}, {3, 1.4}, {2, 1.9}}, Blocks::from_above);
  add({{-1, 2.5}, {1, 2.5}}, Blocks::from_above);
  add({{-9, 0}, {-9, 3}}, Blocks::from_left);
  const auto travel = [&level](const bushbaby::Box& box, std::vector<bushbaby::Vec> stops,
                               double speed) {
    bushbaby::Solid solid{"", box};
    solid.path = bushbaby::PlatformPath{};
    solid.path->stops = std::move(stops);
    solid.path->speed = speed;
    level.solids.push_back(std::move(solid));
  };
  travel({{-0.3, 0.02}, {0.3, 0.1}}, {{3, 0}, {3, 4}, {-8, 2}}, 9);
  travel({{20, 0.01}, {22, 3}}, {{-18, 0}}, 40);
  return level;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const bushbaby::Level level = among();
  fuzz::Bytes bytes(data, size);
  const bushbaby::Compiled compiled = compile(fuzz::tuning_from(bytes));
  if (!compiled.ok()) return 0;
  const bushbaby::LevelWorld world(level, compiled.rules.tick_rate);
  bushbaby::Character character;
  if (!place(character, {0, 0.2}, compiled.rules, world)) return 0;
  fuzz::play(
      bytes, character, world, [&](const bushbaby::Controls& held) -> const auto& {
        (void)advance(character, held, compiled.rules, world);
        return compiled.rules;
      });
  return 0;
}
