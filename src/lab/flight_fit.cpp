#include "flight_fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <random>
#include <utility>

#include <fmt/format.h>
#include <tbb/parallel_for.h>

namespace bushbaby::detail {
namespace {

class Fitter {
 public:
  Fitter(FlightClock clock, double noise) : clock_(clock), noise_(noise) {}

  FlightFit fit(const std::vector<Track>& tracks);
  FlightFit fit_from(const FlightFit& from, bool searches);
  FlightFit fit_all(const FlightFit& some, const std::vector<Track>& tracks);

 private:
  struct State {
    FlightConstants constants;
    std::vector<Part> parts;
    std::vector<Track> tracks;
    Solved solved;
    double score = 0;
    std::vector<std::pair<double, FlightConstants>> seen;  // scores, of the same parts
  };

  Solved solve(State& state, int rounds) const {
    return solve_flights(state.tracks, state.constants, state.parts, clock_, scale_, rounds);
  }
  // Solves, and looks beside, until nothing changes.
  void settle(State& state, int rounds = kMostRounds) const;
  // What is added pays for itself by more than its number costs.
  static constexpr double kPays = 4;
  static constexpr int kMostRounds = 30;
  static constexpr int kFewRounds = 6;
  bool look_beside(State& state) const;
  [[nodiscard]] double score_of(const State& state) const;
  [[nodiscard]] FlightConstants first_guess(const std::vector<Track>& tracks) const;
  void drop_unknown(State& state) const;
  bool leave_out(State& state, std::vector<std::string>& remarks) const;
  void grow(State& state) const;
  void shrink(State& state) const;
  [[nodiscard]] std::vector<std::vector<State>> grown(const State& state) const;
  [[nodiscard]] std::vector<State> shrunk(const State& state) const;
  [[nodiscard]] std::vector<State> with_cuts(const State& state,
                                             const std::vector<Track>& cut) const;
  void find_hold(Track& track, const FlightConstants& constants, double until) const;

  void shift_holds(State& state) const;
  void move_by_chance(State& state, const FlightConstants& origin, int nth,
                      std::mt19937_64& random) const;
  void search_beside(State& state, const FlightConstants& origin) const;
  static void hand_over(const State& state, FlightFit& fit);

  FlightClock clock_;
  double noise_;
  Scale scale_;
};

double Fitter::score_of(const State& state) const {
  if (!state.solved.ok) return std::numeric_limits<double>::infinity();
  const auto n = static_cast<double>(count_points(state.tracks));
  // Numbers are written with so many digits: what is less is no noise.
  constexpr double kLeastShare = 3e-6;
  const double least = kLeastShare * scale_.speed * scale_.speed / scale_.gravity;
  const double per_point = state.solved.squares / n + least * least;
  return n * std::log(per_point) + static_cast<double>(state.solved.numbers) * std::log(n);
}

// Takes what happens on ticks to the neighbouring ones where that is better; whether any is.
bool Fitter::look_beside(State& state) const {
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

void Fitter::settle(State& state, int rounds) const {
  constexpr int kMostLooks = 4;
  state.solved = solve(state, rounds);
  for (int look = 0; look < kMostLooks && state.solved.ok && look_beside(state); ++look) {
    state.solved = solve(state, rounds);
  }
  state.score = score_of(state);
}

// The constants that parabolas through rises and falls tell.
FlightConstants Fitter::first_guess(const std::vector<Track>& tracks) const {
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
  const double height = std::max(highest->heights()[peak] - highest->flight.ground, 2 * noise_);
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

bool has(const std::vector<Part>& parts, Part part) {
  return std::find(parts.begin(), parts.end(), part) != parts.end();
}

// The state with one thing more, each from a few places.
std::vector<std::vector<Fitter::State>> Fitter::grown(const State& state) const {
  std::vector<std::vector<State>> kinds;
  const auto add = [&kinds, &state](std::initializer_list<std::pair<Part, double>> parts) {
    State one = state;
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

std::vector<Fitter::State> Fitter::shrunk(const State& state) const {
  std::vector<State> less;
  const auto strike = [](State& one, Part part) {
    one.parts.erase(std::remove(one.parts.begin(), one.parts.end(), part), one.parts.end());
  };
  if (has(state.parts, Part::terminal)) {
    less.push_back(state);
    strike(less.back(), Part::terminal);
    less.back().constants.terminal_speed = 0;
  }
  if (has(state.parts, Part::band)) {
    less.push_back(state);
    strike(less.back(), Part::band);
    strike(less.back(), Part::band_gravity);
    less.back().constants.band = 0;
    less.back().constants.band_gravity = 1;
  }
  if (state.constants.cut == CutStyle::scale) {
    less.push_back(state);
    strike(less.back(), Part::cut);
    less.back().constants.cut = CutStyle::stop;
  }
  if (has(state.parts, Part::sustain)) {
    less.push_back(state);
    strike(less.back(), Part::sustain);
    less.back().constants.sustain = 0;
  }
  return less;
}

// Adds what pays most, as long as something does.
void Fitter::grow(State& state) const {
  const auto by_score = [](const State& a, const State& b) { return a.score < b.score; };
  for (;;) {
    std::vector<std::vector<State>> kinds = grown(state);
    std::vector<State> more(kinds.size());
    tbb::parallel_for(std::size_t{0}, kinds.size(), [&](std::size_t i) {
      for (State& one : kinds[i]) settle(one, kFewRounds);
      more[i] = std::move(*std::min_element(kinds[i].begin(), kinds[i].end(), by_score));
      settle(more[i]);
    });
    const auto best = std::min_element(more.begin(), more.end(), by_score);
    if (best == more.end() || !(best->score + kPays < state.score)) return;
    state = std::move(*best);
  }
}

void Fitter::shrink(State& state) const {
  for (bool smaller = true; smaller;) {
    smaller = false;
    for (State& other : shrunk(state)) {
      settle(other);
      if (!(other.score <= state.score + kPays)) continue;
      state = std::move(other);
      smaller = true;
      break;
    }
  }
}

// The hold that leaves least of a track, of all that may be.
void Fitter::find_hold(Track& track, const FlightConstants& constants, double until) const {
  const double tick = clock_.in_ticks ? 1 / clock_.tick_rate : 1.0 / 120;
  Curves curves(constants, clock_, until);
  double least = std::numeric_limits<double>::infinity();
  Track best = track;
  const double rises = constants.launch_speed / constants.gravity + constants.sustain;
  for (double hold = tick; hold < 1.3 * rises + tick; hold += tick) {
    for (int off = -2; off <= 2; ++off) {
      Track other = track;
      other.hold = hold;
      other.take_off += off * tick;
      const FlightCurve* curve = curves.of(other);
      if (curve == nullptr) continue;
      const double squares = misses_of(other, *curve).squaredNorm();
      if (squares < least) {
        least = squares;
        best = other;
      }
    }
  }
  track = best;
}

std::vector<Fitter::State> Fitter::with_cuts(const State& state,
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
  std::vector<State> all(starts.size(), state);
  const double until = longest_of(cut);
  tbb::parallel_for(std::size_t{0}, starts.size(), [&](std::size_t i) {
    State& one = all[i];
    one.constants.cut = starts[i].style;
    if (starts[i].amount > 0) {
      one.constants.cut_amount = starts[i].amount;
      one.parts.push_back(Part::cut);
    }
    for (Track track : cut) {
      if (!track.hold_known) find_hold(track, one.constants, until);
      track.hold_free = starts[i].style != CutStyle::none;
      one.tracks.push_back(std::move(track));
    }
    settle(one);
  });
  return all;
}

// Takes out what hardly pays and is known no better than that it is there.
void Fitter::drop_unknown(State& state) const {
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
  for (State& less : shrunk(state)) {
    const auto is_gone = [&less](Part part) {
      return std::find(less.parts.begin(), less.parts.end(), part) == less.parts.end();
    };
    for (const Part part : {Part::terminal, Part::band, Part::sustain}) {
      if (!is_gone(part) || !unknown(part)) continue;
      settle(less);
      constexpr double kMuch = 12;
      if (!(less.score < state.score + kMuch)) continue;
      state = std::move(less);
      drop_unknown(state);
      return;
    }
  }
}

// Takes out the flights that go otherwise than most; whether there were any.
bool Fitter::leave_out(State& state, std::vector<std::string>& remarks) const {
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
  std::vector<Track> kept;
  for (std::size_t i = 0; i < sizes.size(); ++i) {
    if (sizes[i] <= kOtherwise * usual) {
      kept.push_back(state.tracks[i]);
      continue;
    }
    remarks.push_back(fmt::format("the flight at {:.4g} s goes otherwise than the others: left out",
                                  state.tracks[i].take_off));
  }
  const bool jumps =
      std::any_of(kept.begin(), kept.end(), [](const Track& track) { return track.flight.jumps; });
  if (kept.size() == state.tracks.size() || !jumps) return false;
  state.tracks = std::move(kept);
  return true;
}

FlightFit Fitter::fit(const std::vector<Track>& tracks) {
  FlightFit fit;
  fit.clock = clock_;
  State state;
  state.constants = first_guess(tracks);
  scale_ = {state.constants.launch_speed, state.constants.gravity};
  // The full jumps first, and falls; what was let go early comes after.
  double highest = 0;
  for (const Track& track : tracks) highest = std::max(highest, rise_of(track));
  constexpr double kAsHigh = 0.03;
  constexpr double kNoise = 4;
  const auto as_high = [&](const Track& track) {
    return rise_of(track) > highest * (1 - kAsHigh) - kNoise * noise_;
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
  settle(state);
  State falls_otherwise = state;
  falls_otherwise.parts.push_back(Part::factor);
  settle(falls_otherwise);
  state = std::move(falls_otherwise);
  if (!state.solved.ok) return fit;
  if (leave_out(state, fit.remarks)) settle(state);
  grow(state);
  shrink(state);
  if (!cut.empty()) {
    std::vector<State> all = with_cuts(state, cut);
    const auto best = std::min_element(
        all.begin(), all.end(), [](const State& a, const State& b) { return a.score < b.score; });
    state = std::move(*best);
    settle(state);
    shrink(state);
  }
  if (leave_out(state, fit.remarks)) {
    settle(state);
    grow(state);
    shrink(state);
  }
  drop_unknown(state);
  hand_over(state, fit);
  return fit;
}

void Fitter::hand_over(const State& state, FlightFit& fit) {
  fit.constants = state.constants;
  fit.parts = state.parts;
  fit.tracks = state.tracks;
  fit.squares = state.solved.squares;
  fit.freedom =
      static_cast<double>(count_points(state.tracks)) - static_cast<double>(state.solved.numbers);
  fit.covariance = state.solved.covariance;
  fit.score = state.score;
  fit.ok = state.solved.ok && fit.freedom >= 1;
  // As likely as what lies within two standard errors, and a bit more, since they were only looked
  // at in passing.
  constexpr double kAsLikely = 10;
  for (const auto& [score, constants] : state.seen) {
    if (score <= state.score + kAsLikely) fit.others.push_back(constants);
  }
}

// The same constants settled over all flights.
FlightFit Fitter::fit_all(const FlightFit& some, const std::vector<Track>& tracks) {
  FlightFit fit = some;
  State state;
  state.constants = some.constants;
  state.parts = some.parts;
  scale_ = {some.constants.launch_speed, some.constants.gravity};
  const double until = longest_of(tracks);
  const double rate = clock_.tick_rate;
  for (const Track& track : tracks) {
    const auto known = std::find_if(some.tracks.begin(), some.tracks.end(),
                                    [&](const Track& one) { return one.points == track.points; });
    if (known != some.tracks.end()) {
      state.tracks.push_back(*known);
      continue;
    }
    Track more = track;
    if (clock_.points_on_ticks && track.flight.jumps) {
      const double first = track.times().front();
      more.take_off = first + std::round((track.take_off - first) * rate) / rate;
    }
    if (track.flight.jumps && !track.hold_known && some.constants.cut != CutStyle::none) {
      find_hold(more, some.constants, until);
    } else if (clock_.in_ticks && track.hold != kHeldThrough) {
      more.hold = std::max(1 / rate, std::round(track.hold * rate) / rate);
    }
    state.tracks.push_back(std::move(more));
  }
  settle(state);
  if (leave_out(state, fit.remarks)) settle(state);
  if (!state.solved.ok) return some;
  for (const FlightConstants& other : some.others) state.seen.emplace_back(state.score, other);
  fit.others.clear();
  hand_over(state, fit);
  return fit;
}

// In ticks, from an answer of another clock: what happens is taken to the nearest tick.
FlightFit Fitter::fit_from(const FlightFit& from, bool searches) {
  FlightFit fit = from;
  fit.others.clear();
  fit.clock = clock_;
  State state;
  state.constants = from.constants;
  state.tracks = from.tracks;
  state.parts = from.parts;
  scale_ = {from.constants.launch_speed, from.constants.gravity};
  const double rate = clock_.tick_rate;
  const auto nearest = [rate](double time) { return std::round(time * rate) / rate; };
  state.constants.launch_speed +=
      launch_offset(clock_, state.constants) - launch_offset(from.clock, state.constants);
  state.constants.sustain = nearest(state.constants.sustain);
  state.parts.erase(std::remove(state.parts.begin(), state.parts.end(), Part::sustain),
                    state.parts.end());
  for (Track& track : state.tracks) {
    const double first = track.times().front();
    if (clock_.points_on_ticks && track.flight.jumps)
      track.take_off = first + nearest(track.take_off - first);
    // As it was recorded, not as it went best between ticks.
    const bool known = track.hold_known && clock_.points_on_ticks && track.flight.released;
    if (known) track.hold = *track.flight.released - track.take_off;
    if (track.hold != kHeldThrough) track.hold = std::max(1 / rate, nearest(track.hold));
    track.hold_free = false;
  }
  const FlightConstants origin = state.constants;
  State looked = state;
  look_beside(looked);
  settle(looked);
  settle(state);
  if (looked.score < state.score) state = std::move(looked);
  if (searches) {
    search_beside(state, origin);
    settle(state);
  }
  for (bool better = state.constants.sustain > 0; better;) {
    better = false;
    for (const int more : {-1, 1}) {
      State beside = state;
      beside.constants.sustain += more / rate;
      if (beside.constants.sustain < 0) continue;
      settle(beside);
      if (!(beside.score < state.score)) continue;
      state = std::move(beside);
      better = true;
      break;
    }
  }
  const std::size_t parts = state.parts.size();
  shrink(state);
  if (searches && state.parts.size() != parts) {
    state.seen.clear();
    search_beside(state, origin);
    settle(state);
  }
  hand_over(state, fit);
  return fit;
}

// Letting go a tick sooner or later, in all of the jumps, goes with another cut.
void Fitter::shift_holds(State& state) const {
  if (state.constants.cut == CutStyle::none) return;
  const double tick = 1 / clock_.tick_rate;
  for (const int later : {-1, 1}) {
    State other = state;
    other.seen.clear();
    for (Track& track : other.tracks) {
      if (track.hold != kHeldThrough) track.hold = std::max(tick, track.hold + later * tick);
    }
    settle(other, kFewRounds);
    if (other.score < state.score) state = std::move(other);
  }
}

// The constants moved by chance, by about what a tick does to them: every other time from where the
// search began. A fourth of the times it is the band alone, and another the cut, since those jump
// most: when the button was let go goes with the cut.
void Fitter::move_by_chance(State& state, const FlightConstants& origin, int nth,
                            std::mt19937_64& random) const {
  constexpr double kFar = 0.05;
  constexpr double kBandFar = 2.5;
  constexpr double kCutFar = 0.35;
  const double tick = origin.gravity / clock_.tick_rate;  // u/s
  const int turn = nth % 4;
  for (const Part part : state.parts) {
    double& value = part_of(state.constants, part);
    if (turn % 2 == 0) {
      FlightConstants from = origin;
      value = part_of(from, part);
    }
    const bool is_band = part == Part::band;
    const bool is_cut = part == Part::cut;
    const bool moves = turn < 2 || (turn == 2 && is_band) || (turn == 3 && (is_cut || is_band));
    if (nth == 0 || !moves) continue;
    const double most = static_cast<double>(std::mt19937_64::max());
    const double chance = 2 * (static_cast<double>(random()) / most) - 1;
    const bool is_speed = part == Part::launch || part == Part::terminal;
    value += chance * (is_band               ? kBandFar * tick * state.constants.band_gravity
                       : is_speed            ? tick
                       : is_cut && turn == 3 ? kCutFar * value
                                             : kFar * value);
  }
  if (turn == 3 && state.constants.cut != CutStyle::none) look_beside(state);
}

// Where ticks decide what happens, heights jump as constants grow, and going downhill ends where
// they do. Begins anew, then, from places beside the best so far and beside where it began.
void Fitter::search_beside(State& state, const FlightConstants& origin) const {
  shift_holds(state);
  if (clock_.integrator == Integrator::exact) return;  // there nothing jumps
  constexpr int kTries = 40;
  std::mt19937_64 random;
  for (int i = 0; i < kTries; ++i) {
    State other = state;
    other.seen.clear();
    move_by_chance(other, origin, i, random);
    // Two rounds show whether it is any better there.
    other.solved = solve(other, 2);
    other.score = score_of(other);
    state.seen.emplace_back(other.score, other.constants);
    constexpr double kNearly = 2;
    if (!(other.score < state.score + kNearly)) continue;
    settle(other, kFewRounds);
    if (!(other.score < state.score)) continue;
    other.seen = std::move(state.seen);
    state = std::move(other);
  }
}

}  // namespace

double launch_offset(const FlightClock& clock, const FlightConstants& constants) {
  if (!clock.in_ticks) return 0;
  const double half = constants.gravity / (2 * clock.tick_rate);
  if (clock.integrator == Integrator::semi_implicit) return half;
  return clock.integrator == Integrator::explicit_step ? -half : 0;
}

double FlightFit::noise() const noexcept { return std::sqrt(squares / std::max(1.0, freedom)); }

int FlightFit::place_of(Part part) const noexcept {
  const auto at = std::find(parts.begin(), parts.end(), part);
  return at == parts.end() ? -1 : static_cast<int>(at - parts.begin());
}

FlightFit fit_flights(const std::vector<Track>& tracks, double noise) {
  return Fitter({}, noise).fit(tracks);
}

FlightFit with_all(const FlightFit& fit, const std::vector<Track>& tracks) {
  return Fitter(fit.clock, fit.noise()).fit_all(fit, tracks);
}

std::vector<FlightFit> fit_loops(const FlightFit& smooth, double tick_rate, bool points_on_ticks) {
  std::vector<FlightFit> fits(kLoops.size());
  const auto fit_from = [&](std::size_t i, const FlightFit& from, bool searches) {
    return Fitter({kLoops[i], tick_rate, true, points_on_ticks}, smooth.noise())
        .fit_from(from, searches);
  };
  tbb::parallel_for(std::size_t{0}, fits.size(),
                    [&](std::size_t i) { fits[i] = fit_from(i, smooth, true); });
  // What fits one loop is where another may be found as well: their ticks lie on the same curves,
  // all but.
  const FlightFit best =
      *std::min_element(fits.begin(), fits.end(),
                        [](const FlightFit& a, const FlightFit& b) { return a.score < b.score; });
  tbb::parallel_for(std::size_t{0}, fits.size(), [&](std::size_t i) {
    if (best.clock.integrator == kLoops[i]) return;
    FlightFit other = fit_from(i, best, false);
    if (other.score < fits[i].score) fits[i] = std::move(other);
  });
  return fits;
}

}  // namespace bushbaby::detail