// Any valid tuning, zones with any numbers in them, any inputs: a book is made or refused, and 200
// ticks within it stay finite, outside of solids, and with the rules of the zones that they are in.
#include "bushbaby/core/tuning/zones.h"

#include <cstddef>
#include <cstdint>
#include <limits>
#include <utility>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/world/level.h"

#include "fuzz/bytes.h"

namespace {

// Of what a level's file lets a number be.
constexpr bushbaby::Range kAny{-1e6, 1e6};
constexpr bushbaby::Range kAmount{0, 1e6};

bushbaby::Override override_from(fuzz::Bytes& bytes) {
  const bushbaby::Knob& knob = fuzz::knob_from(bytes);
  bushbaby::Override change;
  change.knob = std::string(knob.key);
  change.scales = bytes.next() % 2 == 0;
  if (change.scales) {
    change.value = bytes.number(kAmount);
  } else {
    std::visit(
        [&change](const auto& value) {
          using Value = std::decay_t<decltype(value)>;
          if constexpr (std::is_same_v<Value, int>) {
            change.value = static_cast<double>(value);
          } else {
            change.value = value;
          }
        },
        fuzz::value_for(knob, bytes));
  }
  return change;
}

bushbaby::Fluid fluid_from(fuzz::Bytes& bytes) {
  bushbaby::Fluid fluid;
  fluid.buoyancy = bytes.number(kAmount);
  fluid.drag = bytes.number(kAmount);
  fluid.current = {bytes.number(kAny), bytes.number(kAny)};
  fluid.dive = fluid.drag > 0 ? bytes.number(kAmount) : 0;
  fluid.stroke = bytes.number(kAmount);
  fluid.stroke_every = bushbaby::Duration{bytes.number(kAmount)};
  fluid.exit_jump = bytes.number(kAmount);
  fluid.restores = bytes.next() % 2 == 0;
  return fluid;
}

bushbaby::Turning turning_from(fuzz::Bytes& bytes) {
  bushbaby::Turning turning;
  turning.to =
      bytes.next() % 2 == 0 ? bushbaby::Turning::To::direction : bushbaby::Turning::To::point;
  turning.down = bushbaby::way_from_down(bytes.next() * 3.0 - 360);
  turning.point = {bytes.number(kAny), bytes.number(kAny)};
  turning.rate =
      bytes.next() % 4 == 0 ? std::numeric_limits<double>::infinity() : bytes.number(kAmount) + 1;
  turning.speed_turns = bytes.next() % 2 == 0;
  turning.by_screen = bytes.next() % 2 == 0;
  return turning;
}

bushbaby::Zone zone_from(fuzz::Bytes& bytes) {
  bushbaby::Zone zone;
  const bushbaby::Vec lo{bytes.next() / 8.0 - 16, bytes.next() / 16.0 - 6};
  zone.box = {lo, lo + bushbaby::Vec{(1 + bytes.next()) / 16.0, (1 + bytes.next()) / 16.0}};
  zone.priority = bytes.next() % 3;
  zone.traits.contains = static_cast<bushbaby::Contains>(bytes.next() % 3);
  if (bytes.next() % 2 == 0) zone.traits.exit_margin = bytes.number(kAmount);
  if (bytes.next() % 2 == 0) zone.traits.keep_vertical = bytes.number(kAmount);
  if (bytes.next() % 2 == 0) zone.traits.keep_horizontal = bytes.number(kAmount);
  for (int left = bytes.next() % 4; left > 0; --left) {
    zone.overrides.push_back(override_from(bytes));
  }
  const std::uint8_t kinds = bytes.next();
  if ((kinds & 1U) != 0) zone.turning = turning_from(bytes);
  if ((kinds & 2U) != 0) zone.fluid = fluid_from(bytes);
  if ((kinds & 4U) != 0) {
    zone.traits.has_touch = zone.traits.touch.pushes = true;
    zone.traits.touch.push.velocity = {bytes.number(kAny), bytes.number(kAny)};
  }
  return zone;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  fuzz::Bytes bytes(data, size);
  const bushbaby::Tuning tuning = fuzz::tuning_from(bytes);
  bushbaby::Level level;
  level.solids = {{"floor", {{-40, -1}, {40, 0}}},
                  {"trunk", {{6, 0}, {7, 9}}},
                  {"limb", {{-6, 2}, {-2, 2.4}}},
                  {"lid", {{-40, 12}, {40, 13}}}};
  level.solids[0].traits.bounce = bytes.next() % 2;
  for (int left = bytes.next() % 4; left >= 0; --left) level.zones.push_back(zone_from(bytes));
  const bushbaby::CompiledBook compiled = compile_book(tuning, level.zones);
  if (!compiled.ok()) return 0;
  const bushbaby::LevelWorld world(level, bushbaby::kNothingTravels);
  bushbaby::Character character;
  if (!place(character, {0, 0.2}, compiled.book, world)) return 0;
  fuzz::play(
      bytes, character, world, [&](const bushbaby::Controls& held) -> const auto& {
        (void)advance(character, held, compiled.book, world);
        if (compiled.book.entry(character.rules).zones != character.zones) __builtin_trap();
        return compiled.book.rules(character.rules);
      });
  return 0;
}
