// Flights as they are fitted to.
#pragma once

#include <cstddef>
#include <memory>
#include <vector>

#include "flight_model.h"
#include "flights.h"

namespace bushbaby::detail {

// The points of a flight: s and u.
struct TrackPoints {
  std::vector<double> times, heights;
};

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

std::vector<Track> tracks_of(const Recording& recording, const Flights& flights);

// How many of each kind at most: jumps held to the top, jumps released early, and falls.
struct MostTracks {
  std::size_t full = 0;
  std::size_t early = 0;
  std::size_t falls = 0;
};
// To search with, and to settle what was found.
inline constexpr MostTracks kSearched{6, 5, 3};
inline constexpr MostTracks kSettled{40, 30, 10};
// This many of them, from all over the recording.
std::vector<Track> some_of(const std::vector<Track>& tracks, const MostTracks& at_most);

// How high it comes, u.
double rise_of(const Track& track);
// Whether the button was certainly down when the body was highest. What lets go there may be the
// reason that it was.
bool held_past_top(const Track& track);
// Whether a take-off is a number of a fit; otherwise it is on a tick, or is known.
bool moves_smoothly(const Track& track, const FlightClock& clock);

std::size_t count_points(const std::vector<Track>& tracks);
// How long the longest lasts, with room for take-offs to move, s.
double longest_of(const std::vector<Track>& tracks);

}  // namespace bushbaby::detail
