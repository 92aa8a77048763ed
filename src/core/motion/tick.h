// The working values of one tick, and the parts of it that `advance` goes through in order:
// decisions (deciding.cpp), motion (moving.cpp), and what surrounds the body at the end
// (surroundings.cpp).
#pragma once

#include <array>
#include <cassert>
#include <cmath>

#include "bushbaby/core/motion/advance.h"

#include "core/shape/arithmetic.h"
#include "core/shape/rarely.h"
#include "decisions.h"
#include "ends.h"
#include "riding.h"
#include "stretch.h"
#include "travel.h"

namespace bushbaby::detail {

// The surfaces that a body met in this tick and still touches: motion into them is over.
struct Bars {
  static constexpr std::size_t kMost = 4;
  static constexpr std::size_t kNone = kMost;

  std::size_t count = 0;
  std::size_t newest = kNone;  // the one that was met where the body still is
  union {                      // places that hold nothing are never written
    std::array<Vec, kMost> normals;
  };
  union {  // u/s along the normal that the body has at least: less than 0 if the surface flees
    std::array<double, kMost> least;
  };

  Bars() noexcept {}  // NOLINT(modernize-use-equals-default): the union needs a body
};

// The tick rate by which things travel in a world, in Hz; 0 if nothing does.
inline double rate_of_travel(const World& world, const Rules& rules) noexcept {
  return world.has_moving_platforms() ? rules.tick_rate : 0;
}

// The working values of one tick; what outlives it is written back to the character.
struct Tick : Moment {
  BUSHBABY_WITHIN Tick(Character& c, const Controls& controls, const Rules& r, const World& w,
                       const Frame& f, Events& happened) noexcept
      : Moment(c, controls, r, w, f),
        mover(c),
        events(happened),
        nearby(w, c.tick, f, asker(), rate_of_travel(w, r)),
        ground_normal(c.ground.normal) {
    assert(w.platform_tick_rate() == 0 || w.platform_tick_rate() == r.tick_rate);
    if (rarely(c.drop_left > 0)) nearby.let_through(dropped_from(c.drop_from, r));
  }

  Character& mover;  // the character that is looked at, to be written to
  Events& events;
  Explanation* book = nullptr;  // what each candidate came to is written into it, if there is one
  Drive drive;
  GravityPhase phase;
  Ride ride;
  Nearby nearby;
  Bars bars;
  Vec ground_normal;  // the normal of what it moves along, or moved along last
  Vec touched_normal{0, 0};
  SurfaceId touched = kNoSurface;  // a surface with a touch of its own
  SurfaceId wall_surface = kNoSurface;
  int wall = 0;  // the side of a wall that was met: -1, 0, 1
  bool dashes = false;
  bool clung = false;
  bool climbed = false;
  bool was_barred = false;     // a surface was met in this tick
  bool on_ground = false;      // moves along it: it stands, or has landed in this tick
  bool met_underfoot = false;  // a surface that gives ground
  bool met_refused = false;    // a surface underfoot that may not be stood on
  bool bounced = false;
  // What has been reported: what presses against the body is met again and again.
  bool bumped = false;
  std::uint8_t walls_reported = 0;
  // How often its foot and its head were put round corners, and how far, in u.
  std::array<std::uint8_t, 2> times_round{0, 0};
  std::array<double, 2> put_round{0, 0};

  BUSHBABY_RARE void note(EventKind kind, double fraction, std::uint8_t detail = 0,
                          double value = 0, SurfaceId surface = kNoSurface) noexcept {
    events.add({kind, detail, surface, character.tick + 1, fraction, character.feet, value});
  }
};

// A velocity, or an acceleration, by its parts along the run axis and vertically.
inline Vec in_world(const Tick& tick, double run, double rise) noexcept {
  if (tick.run_axis.y == 0) return {run, rise};
  return add(scale(tick.run_axis, run), scale(kUp, rise));
}

inline double length(Vec v) noexcept { return std::sqrt(dot(v, v)); }

inline std::uint8_t side_detail(int side) noexcept { return side > 0 ? 1 : 0; }

inline void note_apex(Tick& tick, double fraction) noexcept {
  tick.note(EventKind::apex, fraction);
}

// The bits of a character's `modes_seen`.
inline constexpr std::uint8_t kGrabSeen = 1;
inline constexpr std::uint8_t kGlideSeen = 2;
inline constexpr std::uint8_t kFastFallSeen = 4;
inline constexpr std::uint8_t kClimbSeen = 8;
inline constexpr std::uint8_t kSprintSeen = 16;

// Whether gravity leaves this tick alone, since it launches.
inline bool skips_gravity(const Tick& tick) noexcept {
  return tick.launched && !tick.rules.gravity_on_launch_tick &&
         tick.rules.integrator != Integrator::exact;
}

// A character as it is seen in its frame, and back in the world.
void see_in(const Frame& frame, Character& character) noexcept;
void see_out_of(const Frame& frame, Character& character) noexcept;

// Whose touch it is: a surface's, or a zone's.
struct Toucher {
  SurfaceId surface;
  bool zone;
};

// What a touch does to a body; `source` is where its push comes from, if it comes from anywhere.
BUSHBABY_RARE void be_touched(Character& character, const Touch& touch, Vec source,
                              const Toucher& by, const Rules& rules) noexcept;

// Notes that the body stands no more on that, and by what.
BUSHBABY_RARE void leave_ground(Tick& tick, LeaveReason reason, double fraction,
                                SurfaceId stood_on) noexcept;
inline void leave_ground(Tick& tick, LeaveReason reason) noexcept {
  leave_ground(tick, reason, 0, tick.character.ground.surface);
}

// Losing the ground other than by a jump, past the time of grace, uses an air jump up, if the
// tuning says so.
BUSHBABY_RARE void pay_for_walking_off(Tick& tick) noexcept;

// Ends a dash, if one is under way.
BUSHBABY_RARE void end_dash(Tick& tick, DashEnd how, double fraction) noexcept;

// The end of the ride, if there was one, or something is left of one.
inline void end_ride(Tick& tick) noexcept {
  const Character& character = tick.mover;
  if (rarely(tick.nearby.is_in_time() || character.platform_rise != 0)) settle_ride(tick);
}

// What came from outside since the last tick, and what the controls are seen against.
void begin(Tick& tick) noexcept;

// Everything that a tick decides, in order, and what follows from it for the motion.
void decide(Tick& tick) noexcept;

// Gathers what moves the body in this tick, now that everything is decided.
void set_forces(Tick& tick) noexcept;

// The same of what pulls alone, for a body that has bounced.
BUSHBABY_RARE void pull_anew(Tick& tick) noexcept;

// Considers a candidate for the decision, and writes into the book what it came to. Whatever is
// found possible must then be done.
Trial look(Tick& tick, Candidate candidate) noexcept;

// Writes into the book what stands in the way of each jump, before any is decided on: those that
// are possible, and are not come to, are beaten by an earlier one.
BUSHBABY_RARE void look_ahead(Tick& tick) noexcept;

// Writes into the book what moves the body in this tick.
BUSHBABY_RARE void write_down_forces(Tick& tick) noexcept;

// Moves the body, and reports what it meets on the way.
void move(Tick& tick) noexcept;

// What surrounds the body where it has come to.
void check_ground(Tick& tick) noexcept;
void see_to_wall(Tick& tick) noexcept;
inline void check_wall(Tick& tick) noexcept {
  const Character& character = tick.mover;
  const bool any = tick.wall != 0 || character.wall != 0 || character.wall_coyote_left != 0;
  if (any) see_to_wall(tick);
}

// Brings a standing body to rest distance from its ground, if there is room for it; never through
// a ceiling.
BUSHBABY_RARE void bring_to_rest(Character& character, GroundCheck& ground, const Rules& rules,
                                 Nearby& nearby) noexcept;

// The same if it stands noticeably nearer or farther.
inline void settle(Character& character, GroundCheck& ground, const Rules& rules,
                   Nearby& nearby) noexcept {
  constexpr double kNoticeable = 0.01;
  const double shift = margins_of(rules).rest - ground.gap;
  if (magnitude(shift) > kNoticeable * rules.flush_gap) {
    bring_to_rest(character, ground, rules, nearby);
  }
}

}  // namespace bushbaby::detail
