#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "all_cores.h"
#include "flight_fit.h"
#include "settling.h"
#include "tick_plans.h"

namespace bushbaby::detail {
namespace {

// Not released on the way up.
bool is_full(const Track& track) {
  return !track.flight.jumps || track.hold == kHeldThrough ||
         (track.hold_known && held_past_top(track));
}

// In ticks of one loop, from an answer of another clock.
class LoopFitter {
 public:
  LoopFitter(const FlightClock& clock, double noise, const Scale& scale)
      : settler_(clock, noise, scale), clock_(clock) {}

  // `searches`: whether by all the ticks on which gravity may change and buttons be released.
  [[nodiscard]] FlightFit fit_from(const FlightFit& from, bool searches) const;
  [[nodiscard]] FlightFit fit_all(const FlightFit& some, const std::vector<Track>& tracks) const;

 private:
  [[nodiscard]] double nearest(double time) const {
    return std::round(time * clock_.tick_rate) / clock_.tick_rate;
  }
  void take_off_on_tick(Track& track) const {
    if (!clock_.points_on_ticks || !track.flight.jumps) return;
    const double first = track.times().front();
    track.take_off = first + nearest(track.take_off - first);
  }
  [[nodiscard]] bool may_search(const FitState& state) const;
  [[nodiscard]] FitState on_ticks(const FlightFit& from) const;
  [[nodiscard]] std::vector<FitState> plan(const FitState& full) const;
  [[nodiscard]] std::vector<FitState> plan_few(const FitState& full) const;
  [[nodiscard]] std::vector<double> bands_of(const FitState& state) const;
  [[nodiscard]] FitState try_cut(const FlightConstants& constants, const std::vector<Track>& early,
                                 const Curves& held) const;
  [[nodiscard]] Curves held_by(const FlightConstants& constants,
                               const std::vector<Track>& early) const;
  [[nodiscard]] std::vector<FitState> best_cuts(std::vector<FitState> cuts) const;
  [[nodiscard]] std::vector<FitState> cut_by(CutStyle style, const FitState& full,
                                             const std::vector<Track>& early) const;
  [[nodiscard]] std::vector<FitState> cuts_about(const FitState& full, const FlightConstants& about,
                                                 const std::vector<Track>& early, int steps,
                                                 double apart) const;
  [[nodiscard]] FitState together(const FitState& full, const FitState& cut) const;
  [[nodiscard]] std::vector<FitState> cuts_of(const FitState& full,
                                              const std::vector<Track>& early) const;
  [[nodiscard]] FitState with_early(const FitState& full, const std::vector<FitState>& cuts) const;
  void add_early(std::vector<FitState>& states, const std::vector<Track>& early) const;

  Settler settler_;
  FlightClock clock_;
};

// What happens is taken to the nearest tick.
FitState LoopFitter::on_ticks(const FlightFit& from) const {
  FitState state;
  state.constants = from.constants;
  state.tracks = from.tracks;
  state.parts = from.parts;
  state.constants.launch_speed +=
      launch_offset(clock_, state.constants) - launch_offset(from.clock, state.constants);
  state.constants.sustain = nearest(state.constants.sustain);
  strike(state.parts, Part::sustain);
  const double tick = 1 / clock_.tick_rate;
  for (Track& track : state.tracks) {
    take_off_on_tick(track);
    // As it was recorded, not as it went best between ticks.
    const bool known = track.hold_known && clock_.points_on_ticks && track.flight.released;
    if (known) track.hold = *track.flight.released - track.take_off;
    if (track.hold != kHeldThrough) track.hold = std::max(tick, nearest(track.hold));
    track.hold_free = false;
  }
  return state;
}

// Full jumps from the ticks on which their gravity may change: the best, and those that go nearly
// as well.
std::vector<FitState> LoopFitter::plan(const FitState& full) const {
  constexpr std::size_t kPlans = 8;
  constexpr std::size_t kSettled = 3;
  std::vector<FitState> states;
  FitState here = full;
  settler_.settle(here);
  states.push_back(here);
  constexpr int kMostRounds = 3;
  for (int round = 0; round < kMostRounds; ++round) {
    if (clock_.integrator == Integrator::exact) break;  // there nothing jumps
    const FitState best = states.front();
    std::vector<FitState> planned;
    for (const FlightConstants& constants :
         plan_ticks(best.tracks, best.constants, clock_, kPlans)) {
      FitState one = best;
      one.constants = constants;
      settler_.solve(one, 2);  // rounds that show whether it is any good there
      planned.push_back(std::move(one));
    }
    std::stable_sort(planned.begin(), planned.end(), by_score);
    if (planned.size() > kSettled) planned.resize(kSettled);
    for (FitState& state : planned) {
      settler_.settle(state, Settler::kFewRounds);
      states.push_back(std::move(state));
    }
    std::stable_sort(states.begin(), states.end(), by_score);
    // From a better place other ticks may come in sight.
    if (!(states.front().score < best.score - Settler::kPays)) break;
  }
  while (!(states.back().score <= states.front().score + kAsLikely)) states.pop_back();
  return states;
}

// The same with as few parts as do.
std::vector<FitState> LoopFitter::plan_few(const FitState& full) const {
  std::vector<FitState> states = plan(full);
  for (bool smaller = true; smaller;) {
    smaller = false;
    for (const FitState& less : Settler::shrunk(states.front())) {
      std::vector<FitState> others = plan(less);
      if (!(others.front().score <= states.front().score + Settler::kPays)) continue;
      states = std::move(others);
      smaller = true;
      break;
    }
  }
  return states;
}

// Amounts of a cut of that style, from end to end.
std::vector<double> amounts_of(CutStyle style) {
  std::vector<double> amounts;
  if (style == CutStyle::scale) {
    for (double keep = 0.02; keep < 0.99; keep += 0.06) amounts.push_back(keep);
  } else if (style == CutStyle::weight) {
    for (double weight = 1.05; weight < 12; weight *= 1.16) amounts.push_back(weight);
  } else {
    amounts.push_back(0);
  }
  return amounts;
}

// Those about the amount of a cut: this many to each side, this far apart as a share of it.
std::vector<double> amounts_about(const FlightConstants& constants, int steps, double apart) {
  std::vector<double> amounts;
  for (int step = -steps; step <= steps; ++step) {
    const double amount = constants.cut_amount;
    if (constants.cut == CutStyle::scale) {
      amounts.push_back(std::clamp(amount + 0.4 * apart * step, 0.0, 1.0));
    } else if (constants.cut == CutStyle::weight) {
      amounts.push_back(std::max(1.0, amount * (1 + apart * step)));
    } else if (step == 0) {
      amounts.push_back(amount);
    }
  }
  return amounts;
}

// Where the band may end: anywhere between two speeds of a held jump, which knows no more; the
// jumps that were released early, if there are any yet, have speeds in between.
std::vector<double> LoopFitter::bands_of(const FitState& state) const {
  const double band = state.constants.band;
  if (!has(state.parts, Part::band)) return {band};
  double lo = 0;
  double hi = 2 * band;
  std::vector<double> between;
  Curves curves(state.constants, clock_, longest_of(state.tracks));
  for (const Track& track : state.tracks) {
    const FlightCurve* curve = track.flight.jumps ? curves.of(track) : nullptr;
    if (curve == nullptr) continue;
    for (const double speed : curve->speeds()) {
      const double fast = std::abs(speed);
      if (!is_full(track)) {
        between.push_back(fast);
      } else if (fast < band) {
        lo = std::max(lo, fast);
      } else {
        hi = std::min(hi, fast);
      }
    }
  }
  std::vector<double> edges{lo, hi};
  const double least = 0.02 * (hi - lo);
  for (const double speed : between) {
    if (speed > lo + least && speed < hi - least) edges.push_back(speed);
  }
  constexpr std::size_t kParts = 5;
  if (edges.size() == 2) {
    for (std::size_t i = 1; i < kParts; ++i) {
      edges.push_back(lo + (hi - lo) * static_cast<double>(i) / static_cast<double>(kParts));
    }
  }
  std::sort(edges.begin(), edges.end());
  std::vector<double> bands;
  constexpr std::size_t kMost = 12;
  for (std::size_t i = 1; i < edges.size() && bands.size() < kMost; ++i) {
    if (edges[i] > edges[i - 1]) bands.push_back((edges[i - 1] + edges[i]) / 2);
  }
  return bands;
}

// The jumps that were released early alone, under constants of all, with the releases that go best.
// `held` has curves of constants with the same style of cut, and the same while the button is held.
FitState LoopFitter::try_cut(const FlightConstants& constants, const std::vector<Track>& early,
                             const Curves& held) const {
  FitState cut;
  cut.constants = constants;
  if (constants.cut == CutStyle::scale || constants.cut == CutStyle::weight) {
    cut.parts = {Part::cut};
  }
  Curves curves(held, constants);
  for (const Track& track : early) {
    Release release = settler_.find_hold(track, constants, curves);
    cut.score += release.squares;
    cut.tracks.push_back(std::move(release.track));
  }
  return cut;
}

// Curves that know the jump that is held.
Curves LoopFitter::held_by(const FlightConstants& constants,
                           const std::vector<Track>& early) const {
  Curves curves(constants, clock_, longest_of(early));
  for (Track track : early) {
    track.hold = kHeldThrough;
    curves.of(track);
  }
  return curves;
}

// The best few of many, settled, not more than two with the same releases.
std::vector<FitState> LoopFitter::best_cuts(std::vector<FitState> cuts) const {
  std::stable_sort(cuts.begin(), cuts.end(), by_score);
  const auto same = [](const FitState& a, const FitState& b) {
    return std::equal(a.tracks.begin(), a.tracks.end(), b.tracks.begin(),
                      [](const Track& one, const Track& other) {
                        return one.hold == other.hold && one.take_off == other.take_off;
                      });
  };
  constexpr std::size_t kSettled = 10;
  constexpr std::ptrdiff_t kAlike = 2;
  std::vector<FitState> best;
  for (FitState& cut : cuts) {
    const auto known = std::count_if(best.begin(), best.end(),
                                     [&](const FitState& one) { return same(one, cut); });
    if (known < kAlike) best.push_back(std::move(cut));
    if (best.size() == kSettled) break;
  }
  for (FitState& cut : best) settler_.settle(cut, 3);
  std::stable_sort(best.begin(), best.end(), by_score);
  constexpr std::size_t kKept = 3;
  if (best.size() > kKept) best.resize(kKept);
  return best;
}

// From many amounts of a cut.
std::vector<FitState> LoopFitter::cut_by(CutStyle style, const FitState& full,
                                         const std::vector<Track>& early) const {
  std::vector<FitState> cuts;
  FlightConstants constants = full.constants;
  constants.cut = style;
  const Curves held = held_by(constants, early);
  for (const double band : bands_of(full)) {
    constants.band = band;
    for (const double amount : amounts_of(style)) {
      constants.cut_amount = amount;
      cuts.push_back(try_cut(constants, early, held));
    }
  }
  std::stable_sort(cuts.begin(), cuts.end(), by_score);
  constexpr std::size_t kCoarse = 6;
  for (std::size_t i = 0, n = std::min(kCoarse, cuts.size()); i < n; ++i) {
    constants = cuts[i].constants;
    for (const double amount : amounts_about(constants, 2, 0.05)) {
      constants.cut_amount = amount;
      cuts.push_back(try_cut(constants, early, held));
    }
  }
  return best_cuts(std::move(cuts));
}

// Full jumps and those that were released early together.
FitState LoopFitter::together(const FitState& full, const FitState& cut) const {
  FitState one = full;
  one.constants = cut.constants;
  one.parts.insert(one.parts.end(), cut.parts.begin(), cut.parts.end());
  one.tracks.insert(one.tracks.end(), cut.tracks.begin(), cut.tracks.end());
  settler_.settle(one, Settler::kFewRounds);
  return one;
}

// The best cuts of any style under what full jumps report.
std::vector<FitState> LoopFitter::cuts_of(const FitState& full,
                                          const std::vector<Track>& early) const {
  std::vector<CutStyle> styles = {CutStyle::stop, CutStyle::scale, CutStyle::weight};
  // A button that does nothing, if there is one.
  if (std::all_of(early.begin(), early.end(),
                  [](const Track& track) { return track.hold_known; })) {
    styles.push_back(CutStyle::none);
  }
  std::vector<FitState> cuts;
  for (const CutStyle style : styles) {
    for (FitState& cut : cut_by(style, full, early)) cuts.push_back(std::move(cut));
  }
  std::stable_sort(cuts.begin(), cuts.end(), by_score);
  constexpr std::size_t kTogether = 5;
  if (cuts.size() > kTogether) cuts.resize(kTogether);
  if (!has(full.parts, Part::band)) return cuts;
  // The speeds of these say where the band may end, while what full jumps report still stands.
  constexpr std::size_t kLooked = 2;
  std::vector<FitState> more = cuts;
  for (std::size_t i = 0; i < std::min(kLooked, cuts.size()); ++i) {
    for (FitState& cut : cuts_about(full, cuts[i].constants, early, 20, 0.002)) {
      more.push_back(std::move(cut));
    }
  }
  std::stable_sort(more.begin(), more.end(), by_score);
  if (more.size() > kTogether) more.resize(kTogether);
  return more;
}

// Cuts of the same style beside one, each with its band ending anywhere that makes a difference to
// the jumps that it cuts. The best few.
std::vector<FitState> LoopFitter::cuts_about(const FitState& full, const FlightConstants& about,
                                             const std::vector<Track>& early, int steps,
                                             double apart) const {
  const Curves held = held_by(about, early);
  std::vector<FitState> cuts;
  FitState both = full;
  both.constants = about;
  for (const double amount : amounts_about(about, steps, apart)) {
    both.constants.cut_amount = amount;
    both.constants.band = about.band;
    cuts.push_back(try_cut(both.constants, early, held));
    if (!has(full.parts, Part::band)) continue;
    both.tracks = full.tracks;
    both.tracks.insert(both.tracks.end(), cuts.back().tracks.begin(), cuts.back().tracks.end());
    for (const double band : bands_of(both)) {
      both.constants.band = band;
      cuts.push_back(try_cut(both.constants, early, held));
    }
  }
  return best_cuts(std::move(cuts));
}

// Full jumps and those that were released early, from the best of some cuts.
FitState LoopFitter::with_early(const FitState& full, const std::vector<FitState>& cuts) const {
  std::vector<FitState> states;
  states.reserve(cuts.size());
  for (const FitState& cut : cuts) states.push_back(together(full, cut));
  FitState best = std::move(*std::min_element(states.begin(), states.end(), by_score));
  settler_.settle(best);
  // Now that all is known better, once more about there.
  constexpr int kMostRounds = 3;
  for (int round = 0; round < kMostRounds; ++round) {
    const std::vector<Track>& early = cuts.front().tracks;
    bool better = false;
    for (const FitState& cut : cuts_about(full, best.constants, early, 6, 0.035)) {
      FitState other = together(full, cut);
      constexpr double kBetter = 1e-3;
      if (!(other.score < best.score - kBetter)) continue;
      best = std::move(other);
      better = true;
    }
    if (!better) break;
    settler_.settle(best);
  }
  return best;
}

// The jumps that were released early, added to each of some fits of full ones: what goes with the
// best of them is tried with the others.
void LoopFitter::add_early(std::vector<FitState>& states, const std::vector<Track>& early) const {
  FitState& first = states.front();
  first = with_early(first, cuts_of(first, early));
  FitState cut;
  if (has(first.parts, Part::cut)) cut.parts.push_back(Part::cut);
  cut.tracks.assign(first.tracks.end() - static_cast<std::ptrdiff_t>(early.size()),
                    first.tracks.end());
  for (std::size_t i = 1; i < states.size(); ++i) {
    cut.constants = states[i].constants;
    cut.constants.cut = first.constants.cut;
    cut.constants.cut_amount = first.constants.cut_amount;
    FitState other = together(states[i], cut);
    if (other.score < first.score + kAsLikely) other = with_early(states[i], {cut});
    states[i] = std::move(other);
  }
}

// Files come from anybody: what takes far more ticks than any jump does is not searched.
bool LoopFitter::may_search(const FitState& state) const {
  const double rises =
      state.constants.launch_speed / state.constants.gravity + state.constants.sustain;
  constexpr double kMost = 1e5;  // ticks, of all the ways to release one jump
  const double rate = clock_.tick_rate;
  return rises * rate * longest_of(state.tracks) * rate < kMost;
}

FlightFit LoopFitter::fit_from(const FlightFit& from, bool searches) const {
  FlightFit fit = from;
  fit.others.clear();
  fit.clock = clock_;
  const FitState state = on_ticks(from);
  FitState full = state;
  full.tracks.clear();
  std::vector<Track> early;
  for (const Track& track : state.tracks) {
    (is_full(track) ? full.tracks : early).push_back(track);
  }
  const bool any_full = std::any_of(full.tracks.begin(), full.tracks.end(),
                                    [](const Track& track) { return track.flight.jumps; });
  if (!searches || !any_full || !may_search(state)) {
    FitState here = state;
    settler_.settle(here);
    settler_.shrink(here);
    Settler::hand_out(here, fit);
    return fit;
  }
  strike(full.parts, Part::cut);
  if (!early.empty()) full.constants.cut = CutStyle::none;
  std::vector<FitState> states = plan_few(full);
  if (!early.empty()) add_early(states, early);
  std::stable_sort(states.begin(), states.end(), by_score);
  FitState best = states.front();
  for (const FitState& one : states) {
    if (one.parts == best.parts) best.seen.emplace_back(one.score, one.constants);
  }
  settler_.shrink(best);
  Settler::hand_out(best, fit);
  return fit;
}

// The same constants settled over all flights.
FlightFit LoopFitter::fit_all(const FlightFit& some, const std::vector<Track>& tracks) const {
  FlightFit fit = some;
  FitState state;
  state.constants = some.constants;
  state.parts = some.parts;
  Curves curves(some.constants, clock_, longest_of(tracks));
  for (const Track& track : tracks) {
    const auto known = std::find_if(some.tracks.begin(), some.tracks.end(),
                                    [&](const Track& one) { return one.points == track.points; });
    if (known != some.tracks.end()) {
      state.tracks.push_back(*known);
      continue;
    }
    Track more = track;
    take_off_on_tick(more);
    if (track.flight.jumps && !track.hold_known && some.constants.cut != CutStyle::none) {
      more = settler_.find_hold(more, some.constants, curves).track;
    } else if (clock_.in_ticks && track.hold != kHeldThrough) {
      more.hold = std::max(1 / clock_.tick_rate, nearest(track.hold));
    }
    state.tracks.push_back(std::move(more));
  }
  settler_.settle(state);
  if (settler_.leave_out(state, 0, fit.remarks)) settler_.settle(state);
  if (!state.solved.ok) return some;
  for (const FlightConstants& other : some.others) state.seen.emplace_back(state.score, other);
  fit.others.clear();
  Settler::hand_out(state, fit);
  return fit;
}

}  // namespace

FlightFit with_all(const FlightFit& fit, const std::vector<Track>& tracks) {
  return LoopFitter(fit.clock, fit.noise(), fit.scale).fit_all(fit, tracks);
}

std::vector<FlightFit> fit_loops(const FlightFit& smooth, double tick_rate, bool points_on_ticks) {
  std::vector<FlightFit> fits(kLoops.size());
  const auto fit_from = [&](std::size_t i, const FlightFit& from, bool searches) {
    return LoopFitter({kLoops[i], tick_rate, true, points_on_ticks}, smooth.noise(), smooth.scale)
        .fit_from(from, searches);
  };
  on_all_cores(fits.size(), [&](std::size_t i) { fits[i] = fit_from(i, smooth, true); });
  // The ticks of these two lie on the same curves, but for releases: what is found in one of them
  // is to be found in the other.
  const auto twin_of = [](Integrator integrator) {
    return integrator == Integrator::semi_implicit ? Integrator::explicit_step
                                                   : Integrator::semi_implicit;
  };
  const std::vector<FlightFit> first = fits;
  on_all_cores(fits.size(), [&](std::size_t i) {
    const Integrator loop = kLoops[i];
    if (loop != Integrator::semi_implicit && loop != Integrator::explicit_step) return;
    const auto twin = std::find_if(first.begin(), first.end(), [&](const FlightFit& fit) {
      return fit.clock.integrator == twin_of(loop);
    });
    if (!(twin->score < first[i].score - Settler::kPays)) return;
    FlightFit other = fit_from(i, *twin, true);
    if (other.score < fits[i].score) fits[i] = std::move(other);
  });
  // What fits one loop is where another may be found as well: their ticks lie on the same curves,
  // all but.
  const FlightFit best =
      *std::min_element(fits.begin(), fits.end(),
                        [](const FlightFit& a, const FlightFit& b) { return a.score < b.score; });
  on_all_cores(fits.size(), [&](std::size_t i) {
    if (best.clock.integrator == kLoops[i]) return;
    FlightFit other = fit_from(i, best, false);
    if (other.score < fits[i].score) fits[i] = std::move(other);
  });
  return fits;
}

}  // namespace bushbaby::detail
