// A character in a level with zones, for tests.
#pragma once

#include <algorithm>
#include <string>
#include <utility>
#include <vector>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/tuning/zones.h"

#include "support.h"

namespace bushbaby::test {

inline Zone zone_of(const Box& box) {
  Zone zone;
  zone.box = box;
  return zone;
}

inline Override set_to(std::string knob, double value) { return {std::move(knob), false, value}; }
inline Override scaled(std::string knob, double value) { return {std::move(knob), true, value}; }

inline Level floor_with(std::vector<Zone> zones) {
  Level level;
  level.solids.push_back({"floor", {{-100, -4}, {100, 0}}});
  level.zones = std::move(zones);
  return level;
}

// A character in a level with zones.
struct Visitor {
  Visitor(const Tuning& tuning, const Level& level, Vec feet)
      : world(level, tuning.loop.tick_rate) {
    CompiledBook compiled = compile_book(tuning, level.zones);
    EXPECT_TRUE(compiled.ok()) << (compiled.ok() ? "" : describe(compiled.violations[0].violation));
    book = std::move(compiled.book);
    EXPECT_TRUE(place(character, feet, book, world));
  }

  Events tick(const Controls& held) {
    const Events events = advance(character, held, book, world);
    all.insert(all.end(), events.begin(), events.end());
    return events;
  }
  void ticks(int count, const Controls& held) {
    for (int i = 0; i < count; ++i) tick(held);
  }
  [[nodiscard]] int count(EventKind kind) const {
    return static_cast<int>(
        std::count_if(all.begin(), all.end(), [kind](const Event& e) { return e.kind == kind; }));
  }
  [[nodiscard]] const Rules& rules() const { return book.rules(character.rules); }

  Rulebook book;
  LevelWorld world;
  Character character;
  std::vector<Event> all;
};

inline double along(Vec v, Vec way) { return v.x * way.x + v.y * way.y; }

// The height of a jump from where a visitor stands.
inline double jump_height(Visitor& visitor) {
  visitor.ticks(1, kNothing);
  const Vec from = visitor.character.feet;
  double most = 0;
  for (int i = 0; i < 600 && (i == 0 || !visitor.character.grounded()); ++i) {
    visitor.tick(kJump);
    most = std::max(most, along(visitor.character.feet - from, visitor.character.up));
  }
  return most;
}

}  // namespace bushbaby::test
