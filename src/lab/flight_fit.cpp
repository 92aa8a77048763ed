#include "flight_fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "all_cores.h"
#include "settling.h"

namespace bushbaby::detail {
namespace {

// As curves of the exact loop: grows from full jumps of one gravity to all that pays.
class Grower {
 public:
  Grower(const FlightConstants& guess, double noise)
      : settler_({}, noise, {guess.launch_speed, guess.gravity}), guess_(guess) {}

  FlightFit fit(const std::vector<Track>& tracks) const;

 private:
  [[nodiscard]] static std::vector<std::vector<FitState>> grown(const FitState& state);
  [[nodiscard]] FitState best_of(std::vector<std::vector<FitState>> kinds) const;
  void grow(FitState& state) const;
  bool exchange(FitState& state) const;
  bool move_early(FitState& state, std::vector<Track>& early) const;
  [[nodiscard]] std::vector<FitState> with_cuts(const FitState& state,
                                                const std::vector<Track>& cut) const;
  void drop_unknown(FitState& state) const;

  Settler settler_;
  FlightConstants guess_;
};

// The constants that parabolas through rises and falls report.
FlightConstants first_guess(const std::vector<Track>& tracks, double noise) {
  FlightConstants guess;
  const Track* highest = nullptr;
  for (const Track& track : tracks) {
    if (!track.flight.jumps) continue;
    const auto top = [](const Track& one) {
      return *std::max_element(one.heights().begin(), one.heights().end()) - one.flight.ground;
    };
    if (highest == nullptr || top(track) > top(*highest)) highest = &track;
  }
  if (highest == nullptr) return guess;
  const std::vector<double>& t = highest->times();
  const auto peak = static_cast<std::size_t>(
      std::max_element(highest->heights().begin(), highest->heights().end()) -
      highest->heights().begin());
  const double height = std::max(highest->heights()[peak] - highest->flight.ground, 2 * noise);
  const double rise = std::max(t[peak] - highest->take_off, 1e-3);
  guess.gravity = 2 * height / (rise * rise);
  guess.launch_speed = 2 * height / rise;
  const std::size_t off = t.size() - highest->in_air;
  constexpr std::size_t kEnough = 5;
  if (peak >= off + kEnough) {
    const LocalFit up = fit_parabola(t, highest->heights(), off, peak, highest->take_off);
    if (up.curvature < 0 && up.slope > 0) {
      guess.gravity = -up.curvature;
      guess.launch_speed = up.slope;
    }
  }
  if (t.size() >= peak + 1 + kEnough) {
    const LocalFit down = fit_parabola(t, highest->heights(), peak + 1, t.size(), t[peak]);
    if (down.curvature < 0) {
      constexpr double kMost = 8;
      guess.fall_factor = std::clamp(-down.curvature / guess.gravity, 1 / kMost, kMost);
    }
  }
  return guess;
}

// The state with one thing more, each from a few places.
std::vector<std::vector<FitState>> Grower::grown(const FitState& state) {
  std::vector<std::vector<FitState>> kinds;
  const auto add = [&kinds, &state](std::initializer_list<std::pair<Part, double>> parts) {
    FitState one = state;
    for (const auto& [part, value] : parts) {
      one.parts.push_back(part);
      part_of(one.constants, part) = value;
    }
    kinds.back().push_back(std::move(one));
  };
  const double launch = state.constants.launch_speed;
  if (!has(state.parts, Part::terminal)) {
    kinds.emplace_back();
    for (const double share : {0.6, 0.9, 1.3}) add({{Part::terminal, share * launch}});
  }
  if (!has(state.parts, Part::band)) {
    kinds.emplace_back();
    for (const double band : {0.15, 0.4}) {
      for (const double gravity : {0.4, 0.7}) {
        add({{Part::band, band * launch}, {Part::band_gravity, gravity}});
      }
    }
  }
  if (!has(state.parts, Part::sustain)) {
    kinds.emplace_back();
    for (const double time : {0.05, 0.12}) {
      add({{Part::sustain, time}});
      // As high with less launch speed.
      kinds.back().back().constants.launch_speed -= 0.4 * time * state.constants.gravity;
    }
  }
  return kinds;
}

// The best of some kinds, each begun from a few places.
FitState Grower::best_of(std::vector<std::vector<FitState>> kinds) const {
  std::vector<FitState> best(kinds.size());
  on_all_cores(kinds.size(), [&](std::size_t i) {
    for (FitState& one : kinds[i]) settler_.settle(one, Settler::kFewRounds);
    best[i] = std::move(*std::min_element(kinds[i].begin(), kinds[i].end(), by_score));
    settler_.settle(best[i]);
  });
  return std::move(*std::min_element(best.begin(), best.end(), by_score));
}

// Adds what pays most, as long as something does; what came first may be there instead of
// something better.
void Grower::grow(FitState& state) const {
  do {
    for (;;) {
      std::vector<std::vector<FitState>> kinds = grown(state);
      if (kinds.empty()) break;
      FitState more = best_of(std::move(kinds));
      if (!(more.score + Settler::kPays < state.score)) break;
      state = std::move(more);
    }
  } while (exchange(state));
}

// Puts something else instead of what was added, if that goes better: whether it does.
bool Grower::exchange(FitState& state) const {
  std::vector<std::vector<FitState>> kinds;
  for (FitState& less : Settler::shrunk(state)) {
    // What was taken out may have led the others astray.
    less.constants.launch_speed = guess_.launch_speed;
    less.constants.gravity = guess_.gravity;
    less.constants.fall_factor = guess_.fall_factor;
    settler_.settle(less, Settler::kFewRounds);
    for (std::vector<FitState>& kind : grown(less)) {
      const std::vector<Part>& parts = kind.front().parts;
      const bool same = std::all_of(parts.begin(), parts.end(),
                                    [&](Part part) { return has(state.parts, part); });
      if (!same) kinds.push_back(std::move(kind));
    }
  }
  if (kinds.empty()) return false;
  FitState other = best_of(std::move(kinds));
  if (!(other.score + Settler::kPays < state.score)) return false;
  state = std::move(other);
  return true;
}

// Jumps taken for full ones that are lower, and go otherwise: their button, which nobody recorded,
// was released on the way. Whether there were any.
bool Grower::move_early(FitState& state, std::vector<Track>& early) const {
  double highest = 0;
  for (const Track& track : state.tracks) highest = std::max(highest, rise_of(track));
  const auto misses =
      misses_of(state.tracks, state.constants, settler_.clock(), longest_of(state.tracks));
  if (!misses) return false;
  std::vector<Track> kept;
  for (std::size_t i = 0; i < state.tracks.size(); ++i) {
    const Track& track = state.tracks[i];
    const Eigen::VectorXd& miss = misses->of[i];
    const double noise = settler_.noise();
    constexpr double kOtherwise = 2;
    constexpr double kLower = 3;
    // The highest point is beside the top by half a spacing at most.
    const double spacing = spacing_of(track.times());
    const double lower = kLower * noise + state.constants.gravity * spacing * spacing / 8;
    const bool is_early = track.flight.jumps && !track.hold_known &&
                          rise_of(track) < highest - lower &&
                          miss.squaredNorm() > kOtherwise * kOtherwise * noise * noise *
                                                   static_cast<double>(miss.size());
    (is_early ? early : kept).push_back(track);
  }
  const bool any = kept.size() < state.tracks.size();
  state.tracks = std::move(kept);
  return any;
}

std::vector<FitState> Grower::with_cuts(const FitState& state,
                                        const std::vector<Track>& cut) const {
  struct Start {
    CutStyle style;
    double amount;
  };
  // Each style from a few places, and buttons that do nothing, if that is what they may do.
  std::vector<Start> starts = {{CutStyle::stop, 0},     {CutStyle::scale, 0.25},
                               {CutStyle::scale, 0.5},  {CutStyle::scale, 0.75},
                               {CutStyle::weight, 1.7}, {CutStyle::weight, 3},
                               {CutStyle::weight, 5}};
  if (std::all_of(cut.begin(), cut.end(), [](const Track& track) { return track.hold_known; })) {
    starts.push_back({CutStyle::none, 0});
  }
  std::vector<FitState> all(starts.size(), state);
  const double until = longest_of(cut);
  on_all_cores(starts.size(), [&](std::size_t i) {
    FitState& one = all[i];
    one.constants.cut = starts[i].style;
    if (starts[i].amount > 0) {
      one.constants.cut_amount = starts[i].amount;
      one.parts.push_back(Part::cut);
    }
    Curves curves(one.constants, settler_.clock(), until);
    for (Track track : cut) {
      if (!track.hold_known) track = settler_.find_hold(track, one.constants, curves).track;
      track.hold_free = starts[i].style != CutStyle::none;
      one.tracks.push_back(std::move(track));
    }
    settler_.settle(one);
  });
  return all;
}

// Takes out what hardly pays and is known no better than that it is there.
void Grower::drop_unknown(FitState& state) const {
  constexpr double kErrors = 2;
  const auto unknown = [&state](Part part) {
    const auto at = std::find(state.parts.begin(), state.parts.end(), part);
    if (at == state.parts.end()) return false;
    const auto i = static_cast<Eigen::Index>(at - state.parts.begin());
    const double freedom = std::max(1.0, static_cast<double>(count_points(state.tracks)) -
                                             static_cast<double>(state.solved.numbers));
    const double error = std::sqrt(state.solved.squares / freedom * state.solved.covariance(i, i));
    return kErrors * error > 0.5 * part_of(state.constants, part);
  };
  for (FitState& less : Settler::shrunk(state)) {
    for (const Part part : {Part::terminal, Part::band, Part::sustain}) {
      if (has(less.parts, part) || !unknown(part)) continue;
      settler_.settle(less);
      constexpr double kMuch = 12;
      if (!(less.score < state.score + kMuch)) continue;
      state = std::move(less);
      drop_unknown(state);
      return;
    }
  }
}

FlightFit Grower::fit(const std::vector<Track>& tracks) const {
  FlightFit fit;
  fit.scale = {guess_.launch_speed, guess_.gravity};
  FitState state;
  state.constants = guess_;
  // The full jumps first, and falls; what was released early comes after.
  double highest = 0;
  for (const Track& track : tracks) highest = std::max(highest, rise_of(track));
  constexpr double kAsHigh = 0.03;
  constexpr double kNoise = 4;
  const auto as_high = [&](const Track& track) {
    return rise_of(track) > highest * (1 - kAsHigh) - kNoise * settler_.noise();
  };
  const bool any_held = std::any_of(tracks.begin(), tracks.end(), [](const Track& track) {
    return track.flight.jumps && track.hold_known && held_past_top(track);
  });
  std::vector<Track> cut;
  for (const Track& track : tracks) {
    const bool by_button = track.hold_known && any_held;
    const bool full = !track.flight.jumps || (by_button ? held_past_top(track) : as_high(track));
    (full ? state.tracks : cut).push_back(track);
  }
  if (!any_held && std::any_of(tracks.begin(), tracks.end(), [](const Track& track) {
        return track.flight.jumps && track.hold_known;
      })) {
    fit.remarks.emplace_back(
        "no jump was held past its top: the highest ones are taken for full jumps");
  }
  state.parts = {Part::launch, Part::gravity};
  settler_.settle(state);
  FitState falls_otherwise = state;
  falls_otherwise.parts.push_back(Part::factor);
  settler_.settle(falls_otherwise);
  state = std::move(falls_otherwise);
  if (!state.solved.ok) return fit;
  // There may be more to the jumps than one gravity for each way: so far, only what is far off.
  const double rise =
      state.constants.launch_speed * state.constants.launch_speed / (2 * state.constants.gravity);
  constexpr double kFarOff = 0.15;
  if (settler_.leave_out(state, kFarOff * rise, fit.remarks)) settler_.settle(state);
  grow(state);
  settler_.shrink(state);
  if (move_early(state, cut)) {
    settler_.settle(state);
    grow(state);
    settler_.shrink(state);
  }
  if (!cut.empty()) {
    std::vector<FitState> all = with_cuts(state, cut);
    state = std::move(*std::min_element(all.begin(), all.end(), by_score));
    settler_.settle(state);
    settler_.shrink(state);
  }
  if (settler_.leave_out(state, 0, fit.remarks)) {
    settler_.settle(state);
    grow(state);
    settler_.shrink(state);
  }
  drop_unknown(state);
  Settler::hand_out(state, fit);
  return fit;
}

}  // namespace

double launch_offset(const FlightClock& clock, const FlightConstants& constants) {
  if (!clock.in_ticks) return 0;
  return (later_share(clock.integrator) - 0.5) * constants.gravity / clock.tick_rate;
}

double FlightFit::noise() const noexcept { return std::sqrt(squares / std::max(1.0, freedom)); }

int FlightFit::place_of(Part part) const noexcept {
  const auto at = std::find(parts.begin(), parts.end(), part);
  return at == parts.end() ? -1 : static_cast<int>(at - parts.begin());
}

FlightFit fit_flights(const std::vector<Track>& tracks, double noise) {
  return Grower(first_guess(tracks, noise), noise).fit(tracks);
}

}  // namespace bushbaby::detail
