// Why a tick decided as it did, and what a press would do now.
//
//     const Availability now = available(pip, held, rules, world);
//     icon.show(now.possible ? now.kind : nothing, now.trial.hurdle);
//
//     const Explanation why = explain(pip, controls, rules, world);
//     for (const Trial& trial : why.trials) print(describe(trial));
//
// All of it is reported by `advance` itself, which writes down what it decides if it is given a
// book:
//
//     Explanation book;
//     advance(pip, controls, rules, world, &book);
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <string_view>

#include <bushbaby/core/motion/character.h>
#include <bushbaby/core/motion/rulebook.h>
#include <bushbaby/core/motion/rules.h>
#include <bushbaby/core/world/world.h>

namespace bushbaby {

/// What a tick may decide, in the order in which it is tried.
enum class Candidate : std::uint8_t {
  drop,
  ground_jump,
  coyote_jump,
  wall_exit,
  exit_jump,
  stroke,
  air_jump,
  cut,
  fast_fall,
  dash,
  climb,
};
inline constexpr std::size_t kCandidates = 11;

/// What stands in a candidate's way. In brackets what `have` and `need` of a trial count.
enum class Hurdle : std::uint8_t {
  none,           ///< nothing: it happens
  not_asked,      ///< nothing that is pressed, held or remembered asks for it
  still_held,     ///< the button is held since an earlier press, which is not remembered any more
  beaten,         ///< another candidate came first
  locked,         ///< by a status [have: ticks left; need: StatusKind], set by a touch of `surface`
  not_allowed,    ///< by the tuning
  off,            ///< the tuning has no such thing
  standing,       ///< the body stands
  not_standing,   ///< it does not
  surface,        ///< `surface` does not let it
  dashing,        ///< dashing
  charging,       ///< the press charges first
  left_by,        ///< the ground was left in another way than by walking off [have: LeaveReason]
  shut,           ///< the time of grace is over [have: ticks ago; need: its length]
  no_wall,        ///< no wall is touched
  wall_released,  ///< the wall was released
  not_pushed,     ///< the direction towards the wall is not held
  spent,          ///< a wall on this side was already used
  no_row,         ///< no row of wall.exit fits
  releases,       ///< the row that fits releases the wall instead of jumping
  used_up,        ///< [have: used; need: how many there are]
  too_soon,       ///< [have: ticks since; need: the least]
  near_ground,    ///< the press waits for the landing
  held,           ///< the button is held
  rising,         ///< the body rises
  not_rising,     ///< it does not
  not_armed,      ///< no jump to cut
  under_way,      ///< it is already
  on_wall,        ///< the body slides down a wall
  launching,      ///< the body jumps in this tick; the press waits for the next
  drops,          ///< the press drops through the platform
  swimming,       ///< swimming
  not_swimming,   ///< it does not
  under_water,    ///< its head is not out of the fluid
};

/// How a candidate fared.
struct Trial {
  Candidate candidate = Candidate::ground_jump;
  Hurdle hurdle = Hurdle::not_asked;
  std::int64_t have = 0;
  std::int64_t need = 0;
  int row = -1;                    ///< of wall.exit, counted from 0
  bool remembered = false;         ///< it was asked for by an earlier press
  std::string_view knob{};         ///< the knob that decided, if one did
  SurfaceId surface = kNoSurface;  ///< that stands in the way, if one does
  bool by_zone = false;            ///< it is a zone: then it is its id
};

/// "ground jump", "air jump", …
[[nodiscard]] std::string_view name_of(Candidate candidate) noexcept;

/// A trial in words: "no coyote jump: its window of 7 ticks closed 2 ticks ago (jump.coyote)".
/// `surface` is what the trial's surface, or zone, is called; "the surface" if nothing is given.
[[nodiscard]] std::string describe(const Trial& trial, std::string_view surface = {});

/// Everything that one tick decides. A candidate whose hurdle is `none` happens; so do all that
/// do: what is reported here is what the tick does.
struct Explanation {
  std::array<Trial, kCandidates> trials{};  ///< by Candidate
  bool driven = false;                      ///< whether anything moves the run speed
  std::string_view drive{};                 ///< the knob that moves it, or keeps it from moving
  double drive_target = 0;                  ///< u/s that the run speed goes towards
  std::string_view gravity{};               ///< the knob that decides gravity; empty: none pulls
  double gravity_pull = 0;       ///< u/s² at the speed with which the motion of the tick begins
  SurfaceId rides = kNoSurface;  ///< what carries the body, if that travels in the tick
  Vec ride_speed{0, 0};          ///< u/s of it: to the right as the body stands, and along its up
  std::int64_t looks = 0;        ///< at what is near the body: what a tick costs goes with them

  [[nodiscard]] const Trial& of(Candidate candidate) const noexcept {
    return trials[static_cast<std::size_t>(candidate)];
  }
  [[nodiscard]] bool happens(Candidate candidate) const noexcept {
    return of(candidate).hurdle == Hurdle::none;
  }
};

/// What the tick from `character` under `controls` decides, and why, without making it.
[[nodiscard]] Explanation explain(const Character& character, const Controls& controls,
                                  const Rules& rules, const World& world) noexcept;

/// The same with the zones of the world.
[[nodiscard]] Explanation explain(const Character& character, const Controls& controls,
                                  const Rulebook& book, const World& world) noexcept;

/// Whether a surface that is solid at times is so in the tick from `character` under `controls`,
/// and what decided; of any other surface, that it is.
[[nodiscard]] Solidity solidity_of(SurfaceId surface, const Character& character,
                                   const Controls& controls, const Rules& rules,
                                   const World& world) noexcept;
/// The same with the zones of the world.
[[nodiscard]] Solidity solidity_of(SurfaceId surface, const Character& character,
                                   const Controls& controls, const Rulebook& book,
                                   const World& world) noexcept;

/// What a press of the jump button would do now.
struct Availability {
  bool possible = false;
  JumpKind kind = JumpKind::ground;  ///< which jump, if one is possible
  Trial trial;  ///< of that jump; otherwise of the last candidate that got nearer than `off`
};

/// Which jump a press in the next tick would give, with `held` directions held, or why none.
[[nodiscard]] Availability available(const Character& character, const Controls& held,
                                     const Rules& rules, const World& world) noexcept;
[[nodiscard]] Availability available(const Character& character, const Controls& held,
                                     const Rulebook& book, const World& world) noexcept;

/// How full the gauge of a charge is, 0 … 1; 0 when it does not charge.
[[nodiscard]] double charge_of(const Character& character, const Rules& rules) noexcept;

}  // namespace bushbaby
