// Derive: the constants for a jump, together with what a character that has them does.
#pragma once

#include <optional>
#include <string>

#include <tl/expected.hpp>

#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/lab/arc.h>
#include <bushbaby/lab/drills.h>

namespace bushbaby {

struct Derivation {
  ArcConstants constants;
  ArcShape continuous;  ///< closed form, in continuous time, of the jump asked for
  Tuning tuning;        ///< the base with the answer in it

  /// What a character with that tuning did, in simulation.
  struct Achieved {
    double height = 0;               ///< u
    double apex_time = 0;            ///< s
    double air_time = 0;             ///< s
    double landing_speed = 0;        ///< u/s
    std::optional<double> distance;  ///< u, of a jump at top speed; absent without a top speed
  } achieved;
};

/// Solves `ask` for the loop of `base`, puts the answer into a copy of it, and jumps with it. Fall
/// factor, terminal speed and hang band are those of `base`; a top speed in the ask becomes the
/// tuning's. The tuning keeps the two quantities asked for where a tuning has knobs for them, and
/// gravity instead of an air time or a distance. Returns the reason if there is no answer.
[[nodiscard]] tl::expected<Derivation, Violation> derive(const Tuning& base, ArcAsk ask);

}  // namespace bushbaby
