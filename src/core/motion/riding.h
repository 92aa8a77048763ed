// What moving platforms do to a body: they carry it, push it, and crush it where there is no way
// out. A body moves by what it does itself and, besides, by a speed that moving platforms give it;
// see docs/model.md, "Moving platforms".
#pragma once

#include <array>

#include "core/shape/rarely.h"
#include "core/world/casts.h"

namespace bushbaby::detail {

struct Tick;

// A surface that a body is held against: it moves into it no faster than the surface gives way.
struct Hold {
  Vec normal;
  Vec speed;  // u/s, of the surface
  SurfaceId surface;
};

struct Ride {
  static constexpr std::size_t kMostHolds = 8;

  SurfaceId surface = kNoSurface;  // that the body keeps to, standing or held by a wall, now
  Vec begun_with{0, 0};            // u/s at which that travels which it keeps to at first
  Vec intended{0, 0};              // u/s of what it keeps to now
  Vec speed{0, 0};                 // u/s that the body is given
  bool squeezed = false;           // there was no way out
  double held_at = 0;              // s into the tick: the holds are those of that moment
  std::size_t hold_count = 0;
  union {  // places that hold nothing are never written
    std::array<Hold, kMostHolds> holds;
  };

  Ride() noexcept {}  // NOLINT(modernize-use-equals-default): the union needs a body
};

// The body goes along with what it keeps to.
void begin_ride(Tick& tick) noexcept;

// From now on it goes along with what it has landed on.
void board(Tick& tick, SurfaceId surface, Vec speed) noexcept;

// What a body that moves by itself with that velocity is given once it has met a surface. What it
// met at an earlier moment it may have left: if it has not, it meets it again at once.
void be_held(Tick& tick, const FirstMeeting& meeting, Vec own) noexcept;

// The body has left something that it met: it is given what it wants until it meets something.
void be_released(Tick& tick) noexcept;

// Finds out whether a body is crushed that was squeezed, or crushed before, and reports it.
BUSHBABY_RARE void find_crushed(Tick& tick) noexcept;

// Takes over speeds between the body and what it has come to keep to, or left, in this tick.
void settle_ride(Tick& tick) noexcept;

// What of the speed of a surface that travels a body takes along that leaves it, u/s: across its
// up, and vertically, not less than 0.
Vec inherited_from(const Tick& tick, SurfaceId surface) noexcept;

}  // namespace bushbaby::detail
