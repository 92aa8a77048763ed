#include "settling.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>

namespace bushbaby::detail {

bool has(const std::vector<Part>& parts, Part part) {
  return std::find(parts.begin(), parts.end(), part) != parts.end();
}

void strike(std::vector<Part>& parts, Part part) {
  parts.erase(std::remove(parts.begin(), parts.end(), part), parts.end());
}

void Settler::solve(FitState& state, int rounds) const {
  state.solved = solve_flights(state.tracks, state.constants, state.parts, clock_, scale_, rounds);
  state.score = score_of(state);
}

double Settler::score_of(const FitState& state) const {
  if (!state.solved.ok) return std::numeric_limits<double>::infinity();
  const auto n = static_cast<double>(count_points(state.tracks));
  // Numbers are written with N digits: what is less is no noise.
  constexpr double kLeastShare = 3e-6;
  const double least = kLeastShare * scale_.speed * scale_.speed / scale_.gravity;
  const double per_point = state.solved.squares / n + least * least;
  double numbers = static_cast<double>(state.solved.numbers);
  if (state.constants.sustain > 0 && !has(state.parts, Part::sustain)) ++numbers;  // in whole ticks
  return n * std::log(per_point) + numbers * std::log(n);
}

bool Settler::look_beside(FitState& state) const {
  if (!clock_.in_ticks) return false;
  bool moved = false;
  const double until = longest_of(state.tracks);
  const double tick = 1 / clock_.tick_rate;
  Curves curves(state.constants, clock_, until);
  for (Track& track : state.tracks) {
    Track best = track;
    const auto squares = [&](const Track& one) {
      const FlightCurve* curve = curves.of(one);
      return curve == nullptr ? std::numeric_limits<double>::infinity()
                              : misses_of(one, *curve).squaredNorm();
    };
    double least = squares(track);
    const bool held_through = track.hold == kHeldThrough;
    constexpr int kFar = 2;
    for (int off = -kFar; off <= kFar; ++off) {
      const bool fixed = moves_smoothly(track, clock_) || track.flight.begins_in_air;
      if (fixed && off != 0) continue;
      const int far = held_through || state.constants.cut == CutStyle::none ? 0 : kFar;
      for (int longer = -far; longer <= far; ++longer) {
        Track other = track;
        other.take_off += off * tick;
        if (!held_through) other.hold = std::max(tick, other.hold + longer * tick);
        const double there = squares(other);
        if (there < least * (1 - 1e-9)) {
          least = there;
          best = other;
          moved = true;
        }
      }
    }
    track = best;
  }
  return moved;
}

void Settler::settle(FitState& state, int rounds) const {
  constexpr int kMostLooks = 4;
  solve(state, rounds);
  for (int look = 0; look < kMostLooks && state.solved.ok && look_beside(state); ++look) {
    solve(state, rounds);
  }
}

std::vector<FitState> Settler::shrunk(const FitState& state) {
  std::vector<FitState> less;
  if (has(state.parts, Part::terminal)) {
    less.push_back(state);
    strike(less.back().parts, Part::terminal);
    less.back().constants.terminal_speed = 0;
  }
  if (has(state.parts, Part::band)) {
    less.push_back(state);
    strike(less.back().parts, Part::band);
    strike(less.back().parts, Part::band_gravity);
    less.back().constants.band = 0;
    less.back().constants.band_gravity = 1;
  }
  if (state.constants.cut == CutStyle::scale) {
    less.push_back(state);
    strike(less.back().parts, Part::cut);
    less.back().constants.cut = CutStyle::stop;
  }
  if (has(state.parts, Part::sustain)) {
    less.push_back(state);
    strike(less.back().parts, Part::sustain);
    less.back().constants.sustain = 0;
  }
  return less;
}

void Settler::shrink(FitState& state) const {
  for (bool smaller = true; smaller;) {
    smaller = false;
    for (FitState& other : shrunk(state)) {
      settle(other);
      if (!(other.score <= state.score + kPays)) continue;
      state = std::move(other);
      smaller = true;
      break;
    }
  }
}

Release Settler::find_hold(const Track& track, const FlightConstants& constants,
                           Curves& curves) const {
  const double tick = clock_.in_ticks ? 1 / clock_.tick_rate : 1.0 / 120;
  const double rises = constants.launch_speed / constants.gravity + constants.sustain;
  double first = tick;
  double last = 1.3 * rises + tick;
  if (track.hold_known && track.hold != kHeldThrough) {
    constexpr double kFar = 3;  // ticks
    first = std::max(tick, track.hold - kFar * tick);
    last = track.hold + (kFar + 0.5) * tick;
  }
  const bool fixed =
      clock_.in_ticks && (moves_smoothly(track, clock_) || track.flight.begins_in_air);
  const int far = fixed ? 0 : clock_.in_ticks ? 1 : 2;
  Release best{track, std::numeric_limits<double>::infinity()};
  for (double hold = first; hold < last; hold += tick) {
    for (int off = -far; off <= far; ++off) {
      Track other = track;
      other.hold = hold;
      other.take_off += off * tick;
      const FlightCurve* curve = curves.of(other);
      if (curve == nullptr) continue;
      const double squares = misses_of(other, *curve).squaredNorm();
      if (squares < best.squares) best = {std::move(other), squares};
    }
  }
  return best;
}

bool Settler::leave_out(FitState& state, double least, std::vector<std::string>& remarks) const {
  constexpr std::size_t kLeast = 3;
  constexpr double kOtherwise = 3.5;
  if (state.tracks.size() <= kLeast) return false;
  const auto misses = misses_of(state.tracks, state.constants, clock_, longest_of(state.tracks));
  if (!misses) return false;
  std::vector<double> sizes;
  for (const Eigen::VectorXd& one : misses->of) {
    sizes.push_back(std::sqrt(one.squaredNorm() / static_cast<double>(one.size())));
  }
  std::vector<double> sorted = sizes;
  std::sort(sorted.begin(), sorted.end());
  const double usual = std::max(sorted[(sorted.size() - 1) / 2], noise_);
  const double most = std::max(kOtherwise * usual, least);
  std::vector<Track> kept;
  for (std::size_t i = 0; i < sizes.size(); ++i) {
    if (sizes[i] <= most) {
      kept.push_back(state.tracks[i]);
      continue;
    }
    remarks.push_back(fmt::format("the flight at {:.4g} s does not fit the others: ignored",
                                  state.tracks[i].take_off));
  }
  const bool jumps =
      std::any_of(kept.begin(), kept.end(), [](const Track& track) { return track.flight.jumps; });
  if (kept.size() == state.tracks.size() || !jumps) return false;
  state.tracks = std::move(kept);
  return true;
}

void Settler::hand_out(const FitState& state, FlightFit& fit) {
  fit.constants = state.constants;
  fit.parts = state.parts;
  fit.tracks = state.tracks;
  fit.squares = state.solved.squares;
  fit.freedom =
      static_cast<double>(count_points(state.tracks)) - static_cast<double>(state.solved.numbers);
  fit.covariance = state.solved.covariance;
  fit.score = state.score;
  fit.ok = state.solved.ok && fit.freedom >= 1;
  for (const auto& [score, constants] : state.seen) {
    if (score <= state.score + kAsLikely) fit.others.push_back(constants);
  }
}

}  // namespace bushbaby::detail
