// What several tests need: tunings, loops, and ways to move a character.
#pragma once

#include <cmath>
#include <random>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/motion/why.h"
#include "bushbaby/core/tuning/compile.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/core/world/level.h"

namespace bushbaby::test {

inline const std::vector<Integrator>& all_integrators() {
  static const std::vector<Integrator> all{Integrator::exact, Integrator::trapezoidal,
                                           Integrator::semi_implicit, Integrator::explicit_step};
  return all;
}

// Every loop there is: integrator and launch rule, at some tick rates.
inline std::vector<JumpLoop> all_loops(const std::vector<double>& rates) {
  std::vector<JumpLoop> loops;
  for (const double rate : rates) {
    for (const Integrator integrator : all_integrators()) {
      loops.push_back({integrator, rate, true});
      if (integrator != Integrator::exact) loops.push_back({integrator, rate, false});
    }
  }
  return loops;
}

inline std::string text_of(const JumpLoop& loop) {
  const char* names[] = {"exact", "trapezoidal", "semi_implicit", "explicit"};
  return std::string(names[static_cast<int>(loop.integrator)]) + " at " +
         std::to_string(loop.tick_rate) + " Hz" +
         (loop.gravity_on_launch_tick ? "" : ", no launch gravity");
}

// A value that differs from the default and that the knob allows.
inline KnobValue other_value(const Knob& knob) {
  const KnobValue now = get_knob(Tuning{}, knob);
  if (const auto* choice = std::get_if<ChoiceBinding>(&knob.binding)) {
    const KnobValue last{std::string(choice->names[choice->count - 1])};
    return last != now ? last : KnobValue{std::string(choice->names[0])};
  }
  if (const auto* flag = std::get_if<bool>(&now)) return !*flag;
  if (std::holds_alternative<std::string>(now)) {
    return std::string(knob.list != nullptr ? "jump + away" : "Dorro");
  }
  if (knob.dimension == Dimension::time) return Duration{9, Duration::Unit::ticks};
  if (std::holds_alternative<KnobAccess<int>>(knob.binding)) return 7.0;
  return knob.range.contains(17.25) ? 17.25 : 0.25;
}

// A tuning like Pip's, written out, so that the core's tests need no files.
inline Tuning pip() {
  Tuning tuning;
  tuning.name = "Pip";
  tuning.jump.height = 3.25;
  tuning.jump.apex_time = Duration{0.38};
  tuning.jump.cut = {CutStyle::scale, 0.45, 2, {3, Duration::Unit::ticks}};
  tuning.fall.factor = 1.7;
  tuning.fall.terminal_speed = 24;
  return tuning;
}

inline Tuning with_loop(Tuning tuning, const JumpLoop& loop) {
  tuning = at_tick_rate(std::move(tuning), loop.tick_rate);
  tuning.loop.integrator = loop.integrator;
  tuning.loop.gravity_on_launch_tick = loop.gravity_on_launch_tick;
  return tuning;
}

inline Rules rules_of(const Tuning& tuning) {
  const Compiled compiled = compile(tuning);
  for (const Violation& v : compiled.violations) {
    ADD_FAILURE() << describe(v);
  }
  return compiled.rules;
}

inline double radians(double degrees) { return degrees * 3.14159265358979323846 / 180; }

// Ground as one outline with that upper edge, from left to right, far down.
inline LevelWorld ground_below(std::vector<Vec> edge) {
  Solid ground;
  ground.corners = std::move(edge);
  ground.corners.push_back({ground.corners.back().x, -2000});
  ground.corners.push_back({ground.corners.front().x, -2000});
  Level level;
  level.solids = {ground};
  return LevelWorld(level, kNothingTravels);
}

// Whether a place lies within an outline: a ray from it crosses it an odd number of times.
inline bool is_inside(const std::vector<Vec>& outline, Vec place) {
  bool inside = false;
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Vec a = outline[i];
    const Vec b = outline[(i + 1) % outline.size()];
    if ((a.y > place.y) == (b.y > place.y)) continue;
    if (place.x < a.x + (b.x - a.x) * (place.y - a.y) / (b.y - a.y)) inside = !inside;
  }
  return inside;
}

// The upper edge of hills of all widths, no steeper than that (degrees).
inline std::vector<Vec> random_hills(std::mt19937_64& random, double steepest) {
  const auto between = [&random](double lo, double hi) {
    return std::uniform_real_distribution<double>(lo, hi)(random);
  };
  std::vector<Vec> edge{{-400, 0}, {-300, 0}};
  while (edge.back().x < 300) {
    const double wide = between(0.3, 6);
    const double slope = std::tan(radians(between(-steepest, steepest)));
    edge.emplace_back(edge.back().x + wide, edge.back().y + wide * slope);
  }
  edge.emplace_back(500, edge.back().y);
  return edge;
}

// How fast it moves, in whatever direction.
inline double ground_speed_of(const Character& character) {
  return std::hypot(character.velocity.x, character.velocity.y);
}

// The same character of another size, with its speeds and rates in proportion.
inline Tuning scaled(Tuning tuning, double scale) {
  for (const KnobPlace& place : places_of(tuning)) {
    const Dimension dimension = place.knob->dimension;
    const KnobValue value = get_knob(tuning, *place.knob, place.row);
    const auto* number = std::get_if<double>(&value);
    if (number == nullptr || (dimension != Dimension::length && dimension != Dimension::speed &&
                              dimension != Dimension::acceleration)) {
      continue;
    }
    EXPECT_FALSE(set_knob(tuning, *place.knob, *number * scale, place.row));
  }
  return tuning;
}

inline Level flat_floor() { return {"floor", {0, 0}, {{"floor", {{-1e4, -5}, {1e4, 0}}}}}; }

inline constexpr Controls kNothing{};
inline constexpr Controls kLeft{-127, 0, false, false};
inline constexpr Controls kRight{127, 0, false, false};
inline constexpr Controls kDown{0, -127, false, false};
inline constexpr Controls kJump{0, 0, true, false};
inline constexpr Controls kRightJump{127, 0, true, false};

inline LevelWorld world_of(const std::vector<Box>& boxes) { return LevelWorld(boxes); }

// How a candidate fares in the next tick, in words.
inline std::string consider_text(const Character& character, const Controls& held,
                                 const Rules& rules, const World& world, Candidate candidate) {
  const Explanation explanation = explain(character, held, rules, world);
  return describe(explanation.trials[static_cast<std::size_t>(candidate)]);
}

// A character in a world, and all the events since it was placed.
struct Mover {
  Mover(const Rules& r, const World& w, Vec feet) : rules(r), world(w) {
    EXPECT_TRUE(place(character, feet, rules, world));
  }

  Events advance(const Controls& controls, int ticks = 1) {
    Events last;
    for (int i = 0; i < ticks; ++i) {
      last = bushbaby::advance(character, controls, rules, world);
      events.insert(events.end(), last.begin(), last.end());
    }
    return last;
  }

  [[nodiscard]] std::vector<Event> all(EventKind kind) const {
    std::vector<Event> found;
    for (const Event& event : events) {
      if (event.kind == kind) found.push_back(event);
    }
    return found;
  }

  const Rules& rules;
  const World& world;
  Character character;
  std::vector<Event> events;
};

}  // namespace bushbaby::test
