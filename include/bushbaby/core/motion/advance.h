// The heart: one tick of a character's motion.
//
//     Character character;
//     place(character, level.start, rules, world);
//     while (playing) {
//       const Events events = advance(character, controls, rules, world);
//       draw(character.feet, character.stance());
//     }
//
// A pure function of its arguments: no allocation, no clock, no globals, no randomness; only
// + - * / and square roots on doubles, so the same bits come from every compiler. The order within
// a tick and the meaning of each mechanism are in docs/model.md.
#pragma once

#include <bushbaby/core/motion/character.h>
#include <bushbaby/core/motion/controls.h>
#include <bushbaby/core/motion/events.h>
#include <bushbaby/core/motion/rulebook.h>
#include <bushbaby/core/motion/rules.h>
#include <bushbaby/core/world/world.h>

namespace bushbaby {

struct Explanation;  // bushbaby/core/motion/why.h

/// Moves the character on by one tick under `controls` and returns what happened in it.
/// `rules` must come from a `compile` that succeeded; position and velocity must be finite.
/// `book`, if there is one, becomes the explanation of what the tick decided; it changes nothing.
Events advance(Character& character, const Controls& controls, const Rules& rules,
               const World& world, Explanation* book = nullptr) noexcept;

/// The same with the zones of the world: the character moves by the rules of the zones it is in at
/// the start of the tick, and is reported which it has entered and left by its end. A zone that it
/// only passed through is entered and left, and does what its touch does. `book` must come from a
/// `compile_book` that succeeded.
Events advance(Character& character, const Controls& controls, const Rulebook& book,
               const World& world, Explanation* explanation = nullptr) noexcept;

/// Puts a character at rest at `feet`: forgets its history, keeps its tick, facing and up, lifts it
/// clear of a solid that it touches or overlaps by no more than the flush gap, and makes it stand
/// if there is ground within reach. Returns false, and leaves the body where it was asked for, if
/// it lies deeper than that in a solid, or has no room between two.
bool place(Character& character, Vec feet, const Rules& rules, const World& world) noexcept;

/// The same where there are zones: it is in those of the place from the start, and stands as down
/// is there.
bool place(Character& character, Vec feet, const Rulebook& book, const World& world) noexcept;

}  // namespace bushbaby
