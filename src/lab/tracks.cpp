#include "tracks.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace bushbaby::detail {

std::vector<Track> tracks_of(const Recording& recording, const Flights& flights) {
  std::vector<Track> tracks;
  for (const Flight& flight : flights.flights) {
    // What rises without the button was launched by something else, or later.
    if (recording.has_jump && flight.jumps && !flight.pressed) continue;
    Track track;
    TrackPoints points;
    track.flight = flight;
    // The last points in the air may have been drawn on the way to the ground, within a tick of it.
    constexpr double kTick = 0.022;  // s
    constexpr std::size_t kEnough = 5;
    const std::size_t in_air = flight.last - flight.leaves + (flight.begins_in_air ? 1 : 0);
    const bool lands = flight.last + 1 < recording.points.size();
    std::size_t spare = lands && !recording.tick_rate && in_air > kEnough ? 1 : 0;
    while (lands && in_air - spare > kEnough &&
           recording.points[flight.last - spare].time >
               recording.points[flight.last + 1].time - kTick) {
      ++spare;
    }
    // A fall's parabola reports where it began; in ticks, that is beside the height of the ground.
    const std::size_t first = flight.jumps ? flight.first : flight.leaves + 1;
    for (std::size_t i = first; i + spare <= flight.last; ++i) {
      points.times.push_back(recording.points[i].time);
      points.heights.push_back(recording.points[i].feet.y);
    }
    track.points = std::make_shared<const TrackPoints>(std::move(points));
    track.in_air = in_air - spare;
    track.take_off = recording.points[flight.leaves].time;
    if (flight.jumps) {
      track.hold_known = flight.released.has_value();
      const bool through = !flight.released || *flight.released == kHeldThrough;
      track.hold = through ? kHeldThrough : std::max(1e-3, *flight.released - track.take_off);
    }
    tracks.push_back(std::move(track));
  }
  return tracks;
}

std::vector<Track> some_of(const std::vector<Track>& tracks, const MostTracks& at_most) {
  std::array<std::vector<const Track*>, 3> kinds;
  double highest = 0;
  for (const Track& track : tracks) highest = std::max(highest, rise_of(track));
  for (const Track& track : tracks) {
    constexpr double kAsHigh = 0.95;
    const bool full = track.hold_known ? held_past_top(track) : rise_of(track) > kAsHigh * highest;
    kinds[!track.flight.jumps ? 2 : full ? 0 : 1].push_back(&track);
  }
  std::vector<Track> some;
  const std::array<std::size_t, 3> most{at_most.full, at_most.early, at_most.falls};
  for (std::size_t k = 0; k < kinds.size(); ++k) {
    const std::size_t count = std::min(kinds[k].size(), most[k]);
    for (std::size_t i = 0; i < count; ++i) {
      some.push_back(*kinds[k][i * kinds[k].size() / count]);
    }
  }
  return some;
}

double rise_of(const Track& track) {
  return *std::max_element(track.heights().begin(), track.heights().end()) - track.flight.ground;
}

bool held_past_top(const Track& track) {
  constexpr double kPoints = 1.5;
  const double past = kPoints * spacing_of(track.times());
  const auto top = std::max_element(track.heights().begin(), track.heights().end());
  const double time = track.times()[static_cast<std::size_t>(top - track.heights().begin())];
  return track.take_off + track.hold > time + past;
}

bool moves_smoothly(const Track& track, const FlightClock& clock) {
  return !track.flight.begins_in_air && (!clock.points_on_ticks || !track.flight.jumps);
}

std::size_t count_points(const std::vector<Track>& tracks) {
  std::size_t points = 0;
  for (const Track& track : tracks) points += track.times().size();
  return points;
}

double longest_of(const std::vector<Track>& tracks) {
  double longest = 0;
  for (const Track& track : tracks) {
    longest = std::max(longest, track.times().back() - track.take_off);
  }
  // Take-offs move in the search.
  constexpr double kMore = 0.15;
  return longest + kMore;
}

}  // namespace bushbaby::detail
