// Any valid tuning, any inputs: 200 ticks among walls, slopes, platforms, a bounce, a push,
// slippery ground and ferries stay finite and outside of solids, unless a ferry crushes the body.
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <utility>
#include <vector>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/core/world/level.h"

namespace {

// Takes bytes one after another; zeros when there are none left.
class Bytes {
 public:
  Bytes(const std::uint8_t* data, std::size_t size) : data_(data), size_(size) {}
  [[nodiscard]] bool empty() const { return at_ >= size_; }
  std::uint8_t next() { return at_ < size_ ? data_[at_++] : 0; }
  // A number of any size, small ones and ends of ranges more often than not.
  double number(const bushbaby::Range& range) {
    const std::uint8_t kind = next();
    switch (kind % 6) {
      case 0: return range.lo;
      case 1: return range.hi;
      case 2: return next() / 16.0;
      case 3: return next() * 4.0;
      case 4: return std::ldexp(1.0 + next() / 256.0, static_cast<int>(next()) - 128);
      default: break;
    }
    return next() / 256.0;
  }

 private:
  const std::uint8_t* data_;
  std::size_t size_;
  std::size_t at_ = 0;
};

bushbaby::KnobValue value_for(const bushbaby::Knob& knob, Bytes& bytes) {
  if (const auto* choice = std::get_if<bushbaby::ChoiceBinding>(&knob.binding)) {
    return std::string(choice->names[bytes.next() % choice->count]);
  }
  if (std::holds_alternative<bushbaby::KnobAccess<bool>>(knob.binding))
    return bytes.next() % 2 == 0;
  if (std::holds_alternative<bushbaby::KnobAccess<std::string>>(knob.binding)) {
    constexpr const char* kWords[] = {"jump", "jump + towards", "away",
                                      "up",   "down",           "towards + up"};
    return std::string(kWords[bytes.next() % 6]);
  }
  const double number = bytes.number(knob.range);
  if (std::holds_alternative<bushbaby::KnobAccess<int>>(knob.binding)) return std::floor(number);
  if (knob.dimension != bushbaby::Dimension::time) return number;
  const bool ticks = bytes.next() % 2 == 0;
  return bushbaby::Duration{
      number, ticks ? bushbaby::Duration::Unit::ticks : bushbaby::Duration::Unit::seconds};
}

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
  level.solids.back().traits.belt = 3;
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
    solid.ferry = bushbaby::Ferry{};
    solid.ferry->stops = std::move(stops);
    solid.ferry->speed = speed;
    level.solids.push_back(std::move(solid));
  };
  travel({{-0.3, 0.02}, {0.3, 0.1}}, {{3, 0}, {3, 4}, {-8, 2}}, 9);
  travel({{20, 0.01}, {22, 3}}, {{-18, 0}}, 40);
  return level;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  constexpr double kTicksASecond = 60;  // of the ferries, whatever the character's are
  static const bushbaby::LevelWorld world(among(), kTicksASecond);
  Bytes bytes(data, size);
  bushbaby::Tuning tuning;
  tuning.jump.height = 3;
  tuning.jump.apex_time = bushbaby::Duration{0.4};
  for (int changes = bytes.next() % 24; changes > 0; --changes) {
    const std::size_t index = bytes.next() * 256U + bytes.next();
    const bushbaby::Knob& knob = bushbaby::knobs()[index % bushbaby::knobs().size()];
    const std::size_t row = knob.list != nullptr ? bytes.next() % (knob.list->rows(tuning) + 1) : 0;
    if (row >= bushbaby::kMostWallExits) continue;
    (void)set_knob(tuning, knob, value_for(knob, bytes), row);
  }
  const bushbaby::Compiled compiled = compile(tuning);
  if (!compiled.ok()) return 0;
  bushbaby::Character character;
  if (!place(character, {0, 0.2}, compiled.rules, world)) return 0;
  bushbaby::Controls held;
  for (int tick = 0; tick < 200; ++tick) {
    if (!bytes.empty() && tick % 4 == 0) {
      const std::uint8_t buttons = bytes.next();
      held = {static_cast<std::int8_t>(static_cast<int>(buttons % 3) * 127 - 127),
              static_cast<std::int8_t>(static_cast<int>(buttons / 4 % 3) * 127 - 127),
              (buttons & 0x40U) != 0, (buttons & 0x80U) != 0};
    }
    (void)advance(character, held, compiled.rules, world);
    const auto is_finite = [](bushbaby::Vec v) { return std::isfinite(v.x) && std::isfinite(v.y); };
    if (!is_finite(character.feet) || !is_finite(character.velocity)) __builtin_trap();
    constexpr double kRounding = 1e-9;
    const double depth = overlap(world, compiled.rules.body, character.feet, character.tick).depth;
    if (!character.crushed &&
        depth > kRounding * (1 + std::abs(character.feet.x) + std::abs(character.feet.y))) {
      __builtin_trap();
    }
  }
  return 0;
}
