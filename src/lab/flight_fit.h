// The constants of a jump from flights that were recorded, by least squares through the code that
// moves.
#pragma once

#include <Eigen/Core>
#include <array>
#include <string>
#include <vector>

#include "flight_problem.h"

namespace bushbaby::detail {

struct FlightFit {
  FlightClock clock;
  Scale scale;
  FlightConstants constants;
  std::vector<Part> parts;     // those that were turned
  Eigen::MatrixXd covariance;  // of those, in their order
  // Other constants that the points go with as well, found on the way.
  std::vector<FlightConstants> others;
  std::vector<Track> tracks;  // those that were used
  double squares = 0;         // u², what is left
  double freedom = 0;         // degrees of freedom
  double score = 0;           // the smaller the better: Bayesian information, -2 log-likelihood
  bool ok = false;
  std::vector<std::string> remarks;

  [[nodiscard]] double noise() const noexcept;  // u
  // Where a part stands among those that were turned; -1 if it was not.
  [[nodiscard]] int place_of(Part part) const noexcept;
};

// An answer of some flights settled over all of them.
FlightFit with_all(const FlightFit& fit, const std::vector<Track>& tracks);

// By how much the launch speed of a clock's loop is more than that of the parabola on which its
// ticks lie: half a tick of gravity, one way or the other.
double launch_offset(const FlightClock& clock, const FlightConstants& constants);

// Fits flights as curves of the exact loop, whenever what happens does: with as many constants as
// pay for themselves.
FlightFit fit_flights(const std::vector<Track>& tracks, double noise);

// Fits the same flights in ticks, at that rate, of every loop in the order of kLoops, be the points
// on ticks or between them.
inline constexpr std::array<Integrator, 4> kLoops = {Integrator::exact, Integrator::trapezoidal,
                                                     Integrator::semi_implicit,
                                                     Integrator::explicit_step};
std::vector<FlightFit> fit_loops(const FlightFit& smooth, double tick_rate, bool points_on_ticks);

}  // namespace bushbaby::detail
