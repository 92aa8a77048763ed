// The constants of a jump from flights that were recorded, by least squares through the code that
// moves.
#pragma once

#include <Eigen/Core>
#include <array>
#include <cstddef>
#include <memory>
#include <string>
#include <vector>

#include "flight_model.h"
#include "flights.h"

namespace bushbaby::detail {

// The constants that a fit may turn.
enum class Part { launch, gravity, factor, terminal, band, band_gravity, sustain, cut };
double& part_of(FlightConstants& constants, Part part) noexcept;

// The points of a flight: s and u.
struct TrackPoints {
  std::vector<double> times, heights;
};

// A flight as it is fitted.
struct Track {
  Flight flight;
  std::shared_ptr<const TrackPoints> points;  // searches make many copies
  double take_off = 0;                        // s
  double hold = kHeldThrough;                 // s after it
  bool hold_known = true;                     // the button was recorded
  bool hold_free = false;                     // it is a number of the fit, which is not in ticks
  std::size_t in_air = 0;                     // points in the air

  [[nodiscard]] const std::vector<double>& times() const noexcept { return points->times; }
  [[nodiscard]] const std::vector<double>& heights() const noexcept { return points->heights; }
};

struct FlightFit {
  FlightClock clock;
  FlightConstants constants;
  std::vector<Part> parts;     // those that were turned
  Eigen::MatrixXd covariance;  // of those, in their order
  /// Other constants that the points go with as well, found on the way.
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

// Flights as they are fitted.
std::vector<Track> tracks_of(const Recording& recording, const Flights& flights);

// Enough of the flights to search with; all of them if they are few.
std::vector<Track> some_of(const std::vector<Track>& tracks);
// An answer of some flights settled over all of them.
FlightFit with_all(const FlightFit& fit, const std::vector<Track>& tracks);

// Fits flights as curves of the exact loop, whenever what happens does: with as many constants as
// pay for themselves.
FlightFit fit_flights(const std::vector<Track>& tracks, double noise);

// Fits the same flights in ticks, at that rate, of every loop in the order of kLoops, be the points
// on ticks or between them.
inline constexpr std::array<Integrator, 4> kLoops = {
    Integrator::exact, Integrator::averaged, Integrator::semi_implicit, Integrator::explicit_step};
// By how much the launch speed of a clock's loop is more than that of the parabola on which its
// ticks lie: half a tick of gravity, one way or the other.
double launch_offset(const FlightClock& clock, const FlightConstants& constants);

std::vector<FlightFit> fit_loops(const FlightFit& smooth, double tick_rate, bool points_on_ticks);

}  // namespace bushbaby::detail
