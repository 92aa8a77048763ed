// Where in a recording the body stood, and where it flew.
#pragma once

#include <cstddef>
#include <limits>
#include <optional>
#include <vector>

#include "bushbaby/lab/recording.h"

namespace bushbaby::detail {

// A stretch of points that is one flight, with some of the standing before it.
struct Flight {
  std::size_t first = 0;            // the first point that counts; it stands, if any before it does
  std::size_t leaves = 0;           // the last point on the ground
  std::size_t last = 0;             // the last point in the air
  bool jumps = false;               // it rises; otherwise it only falls
  bool begins_in_air = false;       // no ground was seen before it: it begins with its first point
  double ground = 0;                // u, the height that it leaves
  std::optional<double> pressed{};  // s, when the button went down for it, if that is known
  std::optional<double> released{};  // s; infinity if it was held to the end
};

struct Flights {
  double scatter = 0;  // u, standard deviation of heights beside smooth curves
  double noise = 0;    // u, the same, or what is too little to be any motion
  std::vector<Flight> flights;
  std::vector<bool> standing;  // for each point
  // What was omitted, s: flights without a take-off, flights of more than 10 s, and what comes
  // after a lift in the air.
  std::vector<double> begun, endless, lifted;
};

// Speeds are read off points within this time to either side, s.
inline constexpr double kReach = 0.06;

inline constexpr double kHeldThrough = std::numeric_limits<double>::infinity();

// A parabola through points next to one another, by least squares: of `values` at `times`.
struct LocalFit {
  double slope = 0;
  double curvature = 0;    // the second derivative
  double squares = 0;      // sum of squares of what is left
  double slope_error = 0;  // standard error of the slope, for a noise of 1
};
LocalFit fit_parabola(const std::vector<double>& times, const std::vector<double>& values,
                      std::size_t first, std::size_t end, double at);

// The standard deviation of noise in values, from how far they lie off smooth curves.
double noise_of(const std::vector<double>& times, const std::vector<double>& values);

// The middling spacing of times.
double spacing_of(const std::vector<double>& times);

// The fits around each of the points that slopes are read off: of what lies within `reach` s, or at
// least two points on each side; points beyond a gap are omitted. In linear time.
std::vector<LocalFit> fit_around_each(const std::vector<double>& times,
                                      const std::vector<double>& values, double reach);

Flights find_flights(const Recording& recording);

}  // namespace bushbaby::detail
