// One least squares of flights: how far recorded heights are from those of constants, and the
// constants, near the ones given, from which they are least far.
#pragma once

#include <Eigen/Core>
#include <cstddef>
#include <map>
#include <optional>
#include <utility>
#include <vector>

#include "tracks.h"

namespace bushbaby::detail {

// The constants that a fit may turn.
enum class Part { launch, gravity, factor, terminal, band, band_gravity, sustain, cut };
double& part_of(FlightConstants& constants, Part part) noexcept;

// About how large the constants are.
struct Scale {
  double speed = 1;    // u/s
  double gravity = 1;  // u/s²
};

// Curves for one set of constants, run once for each way to hold the button.
class Curves {
 public:
  Curves(const FlightConstants& constants, const FlightClock& clock, double until)
      : jumps_(constants, clock), falls_(constants, FlightClock{}), until_(until) {}
  // Of constants under which jumps that are held go the same.
  Curves(const Curves& held, const FlightConstants& constants)
      : jumps_(held.jumps_, constants), falls_(constants, FlightClock{}), until_(held.until_) {}

  // Nothing if the constants make no tuning.
  const FlightCurve* of(const Track& track);

 private:
  struct Known {
    std::optional<FlightCurve> curve;
    double until = 0;  // s
  };

  FlightPlayer jumps_, falls_;
  double until_;
  std::map<std::pair<bool, double>, Known> curves_;
};

// What is left of a track's heights under a curve, with the ground at the height that leaves least.
Eigen::VectorXd misses_of(const Track& track, const FlightCurve& curve);

struct Misses {
  std::vector<Eigen::VectorXd> of;  // by track
};

// Of all tracks; nothing if the constants make no tuning. Those of falls may be known.
std::optional<Misses> misses_of(const std::vector<Track>& tracks, const FlightConstants& constants,
                                const FlightClock& clock, double until,
                                const Misses* of_falls = nullptr);

struct Solved {
  double squares = 0;          // u², what is left
  std::size_t numbers = 0;     // of the fit, the height of each ground included
  Eigen::MatrixXd covariance;  // of the parts, for a noise of 1
  bool ok = false;
};

// Goes downhill from where tracks and constants are for N rounds; both are moved there.
Solved solve_flights(std::vector<Track>& tracks, FlightConstants& constants,
                     const std::vector<Part>& parts, const FlightClock& clock, const Scale& scale,
                     int rounds);

}  // namespace bushbaby::detail
