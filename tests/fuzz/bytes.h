// Numbers, knobs and inputs from a stranger's bytes.
#pragma once

#include <cmath>
#include <cstddef>
#include <cstdint>
#include <string>
#include <variant>

#include "bushbaby/core/motion/character.h"
#include "bushbaby/core/motion/rules.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/core/world/world.h"

namespace fuzz {

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

inline const bushbaby::Knob& knob_from(Bytes& bytes) {
  const std::size_t index = bytes.next() * 256U + bytes.next();
  return bushbaby::knobs()[index % bushbaby::knobs().size()];
}

inline bushbaby::KnobValue value_for(const bushbaby::Knob& knob, Bytes& bytes) {
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

// A tuning with a few of its knobs turned anywhere within their ranges.
inline bushbaby::Tuning tuning_from(Bytes& bytes) {
  bushbaby::Tuning tuning;
  tuning.jump.height = 3;
  tuning.jump.apex_time = bushbaby::Duration{0.4};
  for (int changes = bytes.next() % 24; changes > 0; --changes) {
    const bushbaby::Knob& knob = knob_from(bytes);
    const std::size_t row = knob.list != nullptr ? bytes.next() % (knob.list->rows(tuning) + 1) : 0;
    if (row >= bushbaby::kMostWallExits) continue;
    (void)set_knob(tuning, knob, value_for(knob, bytes), row);
  }
  return tuning;
}

inline bushbaby::Controls held_from(Bytes& bytes) {
  const std::uint8_t buttons = bytes.next();
  return {static_cast<std::int8_t>(static_cast<int>(buttons % 3) * 127 - 127),
          static_cast<std::int8_t>(static_cast<int>(buttons / 4 % 3) * 127 - 127),
          (buttons & 0x40U) != 0, (buttons & 0x80U) != 0};
}

// What no stranger's numbers may do: leave a number that is none, or a body in a solid.
inline void check(const bushbaby::Character& character, const bushbaby::Rules& rules,
                  const bushbaby::World& world) {
  const auto is_finite = [](bushbaby::Vec v) { return std::isfinite(v.x) && std::isfinite(v.y); };
  if (!is_finite(character.feet) || !is_finite(character.velocity)) __builtin_trap();
  constexpr double kRounding = 1e-9;
  const double depth =
      overlap(world, rules.body, character.feet, character.tick, character.up).depth;
  if (!character.crushed &&
      depth > kRounding * (1 + std::abs(character.feet.x) + std::abs(character.feet.y))) {
    __builtin_trap();
  }
}

// 200 ticks of whatever is held; `step` makes one of them and gives the rules that are in force
// after it.
template <class Step>
void play(Bytes& bytes, bushbaby::Character& character, const bushbaby::World& world,
          const Step& step) {
  bushbaby::Controls held;
  for (int tick = 0; tick < 200; ++tick) {
    if (!bytes.empty() && tick % 4 == 0) held = held_from(bytes);
    check(character, step(held), world);
  }
}

}  // namespace fuzz
