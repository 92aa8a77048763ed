#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>

#include "bushbaby/core/tuning/jump.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/lab/arc.h"

#include "all_cores.h"
#include "flight_fit.h"
#include "reporting.h"

namespace bushbaby::detail {
namespace {

// The interval of a part, and of the other answers that go as well.
Estimate estimate_of(const FlightFit& fit, Part part, double widened) {
  const auto place = static_cast<Eigen::Index>(fit.place_of(part));
  const double error = widened * fit.noise() * std::sqrt(fit.covariance(place, place));
  FlightConstants constants = fit.constants;
  const double value = part_of(constants, part);
  Estimate estimate = around(value, error, fit.freedom);
  double lo = value;
  double hi = value;
  for (FlightConstants other : fit.others) {
    lo = std::min(lo, part_of(other, part));
    hi = std::max(hi, part_of(other, part));
  }
  estimate.lo = std::max(0.0, estimate.lo - (value - lo));  // none of them is negative
  estimate.hi += hi - value;
  return estimate;
}

// How much wider intervals are than noise alone would make them: what curves miss beyond the
// scatter of single points is no noise, and goes the same way for many points on end.
double widening(const FlightFit& fit, double scatter) {
  constexpr double kOnEnd = 30;  // points
  constexpr double kUnsure = 1.1;
  // Where ticks decide when gravity changes, heights jump as constants grow, and another choice of
  // ticks may be the true one: by so much, measured over random recordings.
  constexpr double kJumps = 1.5;
  const bool stepped = fit.clock.in_ticks && fit.clock.integrator != Integrator::exact;
  const bool changes = fit.place_of(Part::band) >= 0 || fit.place_of(Part::cut) >= 0;
  const double least = stepped && changes ? kJumps : 1;
  const double noise = fit.noise();
  const double otherwise = std::max(0.0, noise * noise - kUnsure * scatter * scatter);
  if (!(noise > 0)) return least;
  return std::max(least, std::sqrt(noise * noise - otherwise + kOnEnd * otherwise) / noise);
}

// How far the speeds of a recording are from those by which a loop would have moved the body from
// one point to the next: -2 log-likelihood. `share` of the later speed, the rest of the earlier.
double speed_score(const Recording& recording, const Flights& flights, double share) {
  struct Step {
    double way = 0;     // u/s
    double before = 0;  // u/s, the speed at its start
    double now = 0;     // and at its end
  };
  std::vector<Step> steps;
  std::vector<double> changes;
  for (const Flight& flight : flights.flights) {
    for (std::size_t i = flight.leaves + 2; i <= flight.last; ++i) {
      const RecordedPoint& before = recording.points[i - 1];
      const RecordedPoint& now = recording.points[i];
      constexpr double kGap = 1.5;  // ticks
      if ((now.time - before.time) * *recording.tick_rate > kGap) continue;
      steps.push_back({(now.feet.y - before.feet.y) / (now.time - before.time), before.velocity.y,
                       now.velocity.y});
      changes.push_back(std::abs(now.velocity.y - before.velocity.y));
    }
  }
  if (steps.empty()) return 0;
  const auto middle = changes.begin() + static_cast<std::ptrdiff_t>(changes.size() / 2);
  std::nth_element(changes.begin(), middle, changes.end());
  // A cut changes the speed at once, before the step.
  constexpr double kAtOnce = 3;
  double squares = 0;
  double fastest = 0;
  double count = 0;
  for (const Step& step : steps) {
    if (std::abs(step.now - step.before) > kAtOnce * *middle) continue;
    const double off = step.way - share * step.now - (1 - share) * step.before;
    squares += off * off;
    fastest = std::max(fastest, std::abs(step.way));
    ++count;
  }
  if (count == 0) return 0;
  constexpr double kLeast = 1e-6;
  return count * std::log(squares / count + kLeast * kLeast * fastest * fastest);
}

// How many points are on the way up of jumps, and on a way down.
std::pair<std::size_t, std::size_t> count_ways(const std::vector<Track>& tracks) {
  std::size_t rising = 0;
  std::size_t falling = 0;
  for (const Track& track : tracks) {
    const auto top = std::max_element(track.heights().begin(), track.heights().end());
    const auto before = static_cast<std::size_t>(top - track.heights().begin()) + track.in_air;
    const std::size_t rises = before > track.times().size() ? before - track.times().size() : 0;
    if (track.flight.jumps) rising += rises;
    falling += track.in_air - std::min(track.in_air, rises);
  }
  return {rising, falling};
}

class JumpRecoverer {
 public:
  JumpRecoverer(const Surveyed& surveyed, const RecoverOptions& options, Reporter& reporter)
      : recording_(surveyed.recording),
        flights_(surveyed.flights),
        options_(options),
        reporter_(reporter),
        found_(reporter.found()) {}

  void recover() {
    const std::vector<Track> all = tracks_of(recording_, flights_);
    const std::vector<Track> tracks = some_of(all, kSettled);
    if (tracks.size() < all.size()) {
      found_.remarks.push_back(fmt::format("{} of {} flights are used", tracks.size(), all.size()));
    }
    const char* const jump_it =
        "stand for a quarter of a second, jump with the button held past the top, and stand again "
        "for as long; three times or more";
    const auto jumps = static_cast<std::size_t>(std::count_if(
        tracks.begin(), tracks.end(), [](const Track& track) { return track.flight.jumps; }));
    if (jumps == 0) {
      refuse_jumps("no jump was found: a stretch on the ground, then a rise", jump_it);
      return;
    }
    const auto [rising, falling] = count_ways(tracks);
    constexpr std::size_t kLeast = 4;
    if (rising < kLeast) {
      refuse_jumps(
          fmt::format("{} on the way up of {} are too few for a gravity and a launch speed",
                      counted(rising, "point", "points"), counted(jumps, "jump", "jumps")),
          fmt::format("at 60 points a second or more: {}", jump_it));
      return;
    }
    Fits fits = fit(tracks);
    if (!fits.smooth.ok) {
      refuse_jumps("no constants make flights like these", jump_it);
      return;
    }
    if (found_.on_ticks) look_between(fits);
    found_.remarks.insert(found_.remarks.end(), fits.smooth.remarks.begin(),
                          fits.smooth.remarks.end());
    const FlightFit& best = choose_loop(fits.smooth, fits.loops);
    found_.noise = best.noise();
    widened_ = widening(best, flights_.scatter);
    if (too_wide(estimate_of(best, Part::launch, widened_)) &&
        too_wide(estimate_of(best, Part::gravity, widened_))) {
      found_.loops.clear();
      refuse_jumps("no constants make flights like these", jump_it);
      return;
    }
    report_jump(best, rising, falling, jumps);
    report_loops(best, fits.loops);
    report_flights(best);
  }

 private:
  struct Fits {
    FlightFit smooth;
    std::vector<FlightFit> loops;

    [[nodiscard]] const FlightFit& best() const {
      return *std::min_element(
          loops.begin(), loops.end(),
          [](const FlightFit& a, const FlightFit& b) { return a.score < b.score; });
    }
  };

  [[nodiscard]] Fits fit(const std::vector<Track>& tracks) const {
    const std::vector<Track> some = some_of(tracks, kSearched);
    Fits fits;
    fits.smooth = fit_flights(some, flights_.noise);
    if (!fits.smooth.ok) return fits;
    // Where ticks are so short, all loops are the same curve.
    constexpr double kFastest = 1000;  // Hz
    if (found_.knows_rate && found_.tick_rate <= kFastest) {
      fits.loops = fit_loops(fits.smooth, found_.tick_rate, found_.on_ticks);
    }
    if (some.size() < tracks.size()) {
      fits.smooth = with_all(fits.smooth, tracks);
      on_all_cores(fits.loops.size(),
                   [&](std::size_t i) { fits.loops[i] = with_all(fits.loops[i], tracks); });
    }
    return fits;
  }

  // A film may have a picture for each tick, and each of them drawn between two.
  void look_between(Fits& fits) {
    if (fits.loops.empty() || fits.best().score < fits.smooth.score) return;
    Recording film = recording_;
    film.tick_rate.reset();
    found_.on_ticks = false;
    const std::vector<Track> tracks = some_of(tracks_of(film, flights_), kSettled);
    Fits between = fit(tracks);
    const FlightFit& best = fits.best();
    // How far between is one number for all. Each take-off is fitted all the same, and goes better
    // by so much at random.
    const double points = best.freedom;
    constexpr double kMuch = 6;
    const double cost = std::log(points) + static_cast<double>(tracks.size()) + kMuch;
    found_.between_ticks = between.smooth.ok && between.best().ok &&
                           2 * points * std::log(best.noise() / between.best().noise()) > cost;
    found_.on_ticks = !found_.between_ticks;
    if (found_.between_ticks) fits = std::move(between);
  }

  void refuse_jumps(std::string why, std::string to_record) {
    found_.refusal = std::move(why);
    found_.to_record = std::move(to_record);
    for (const char* key : {"jump.launch_speed", "jump.gravity", "fall.factor"}) {
      reporter_.add(key, RecoverEnd::undetermined, found_.refusal, found_.to_record);
    }
  }

  // The fit that goes best, the smooth one if none is any; which loops go as well is reported.
  const FlightFit& choose_loop(const FlightFit& smooth, const std::vector<FlightFit>& fits) {
    constexpr double kAsWell = 6;
    const FlightFit* best = &smooth;
    double least = 0;
    std::vector<double> scores;
    for (const FlightFit& fit : fits) {
      double score = fit.ok ? fit.score : std::numeric_limits<double>::infinity();
      if (recording_.has_speeds && found_.on_ticks) {
        score += speed_score(recording_, flights_, later_share(fit.clock.integrator));
      }
      if (fit.ok && (best == &smooth || score < least)) {
        least = score;
        best = &fit;
      }
      scores.push_back(score);
    }
    for (std::size_t i = 0; i < fits.size(); ++i) {
      RecoveredLoop loop;
      loop.integrator = fits[i].clock.integrator;
      loop.launch_speed = fits[i].constants.launch_speed;
      loop.gravity = fits[i].constants.gravity;
      loop.fall_factor = fits[i].constants.fall_factor;
      loop.miss = fits[i].noise();
      loop.goes = fits[i].ok && scores[i] < least + kAsWell;
      found_.loops.push_back(loop);
    }
    const auto going = std::count_if(found_.loops.begin(), found_.loops.end(),
                                     [](const RecoveredLoop& loop) { return loop.goes; });
    found_.loop_reported = !fits.empty() && going < static_cast<std::ptrdiff_t>(fits.size());
    for (const FlightFit& fit : fits) {
      if (options_.integrator == fit.clock.integrator && fit.ok) return fit;
    }
    // Of loops between which nothing is to choose, that of the base.
    constexpr double kNothing = 0.5;
    for (std::size_t i = 0; i < fits.size(); ++i) {
      const bool is_base = fits[i].clock.integrator == options_.base.loop.integrator;
      if (is_base && fits[i].ok && scores[i] < least + kNothing) best = &fits[i];
    }
    constexpr double kMuchBetter = 20;
    if (smooth.ok && !fits.empty() && smooth.score + kMuchBetter < best->score && found_.on_ticks &&
        best->noise() > 1.3 * smooth.noise()) {
      found_.better_between = true;
      return smooth;
    }
    return *best;
  }

  // Without a tick rate that is known, the others follow from height and gravity.
  void report_loops(const FlightFit& best, const std::vector<FlightFit>& fits) {
    found_.tuning.loop.integrator = best.clock.integrator;
    if (!fits.empty()) return;
    const JumpShape shape = shape_of(best.constants);
    const Apex apex = predict_apex(best.constants.launch_speed, best.constants.gravity,
                                   {Integrator::exact, found_.tick_rate, true}, shape);
    for (const Integrator integrator : kLoops) {
      JumpAsk ask;
      ask.height = apex.height;
      ask.gravity = best.constants.gravity;
      const JumpAnswer answer = derive_jump(ask, {integrator, found_.tick_rate, true}, shape);
      RecoveredLoop loop;
      loop.integrator = integrator;
      loop.launch_speed = answer.ok() ? answer.launch_speed : best.constants.launch_speed;
      loop.gravity = best.constants.gravity;
      loop.fall_factor = best.constants.fall_factor;
      if (answer.ok()) found_.loops.push_back(loop);
    }
  }

  static JumpShape shape_of(const FlightConstants& constants) {
    return {{constants.band, constants.band_gravity}, constants.sustain};
  }

  void report_jump(const FlightFit& fit, std::size_t rising, std::size_t falling,
                   std::size_t jumps) {
    const std::string up = fmt::format("{} on the way up of {}", counted(rising, "point", "points"),
                                       counted(jumps, "jump", "jumps"));
    const std::string more = "more jumps, or more points a second";
    reporter_.add_measured("jump.launch_speed", estimate_of(fit, Part::launch, widened_), up, more);
    reporter_.add_measured("jump.gravity", estimate_of(fit, Part::gravity, widened_), up, more);
    constexpr std::size_t kLeast = 4;
    if (falling < kLeast) {
      reporter_.add(
          "fall.factor", RecoverEnd::undetermined,
          fmt::format("{} on the way down are too few", counted(falling, "point", "points")),
          "the way down to the ground as well");
    } else {
      reporter_.add_measured("fall.factor", estimate_of(fit, Part::factor, widened_),
                             fmt::format("{} on the way down", counted(falling, "point", "points")),
                             more);
    }
    report_terminal(fit, falling);
    report_hang(fit);
    report_sustain(fit);
    const bool reports_cut = report_cut(fit);
    put_in_jump(fit, falling >= kLeast, reports_cut);
    report_shape(fit, falling >= kLeast);
  }

  void report_terminal(const FlightFit& fit, std::size_t falling) {
    constexpr const char* kKey = "fall.terminal_speed";
    if (fit.place_of(Part::terminal) >= 0) {
      reporter_.add_measured(kKey, estimate_of(fit, Part::terminal, widened_),
                             fmt::format("falls stop growing faster there: {} on the way down",
                                         counted(falling, "point", "points")),
                             "a fall twice as long");
      return;
    }
    double fastest = 0;
    for (const Track& track : fit.tracks) {
      const std::size_t n = track.times().size();
      constexpr std::size_t kPoints = 5;
      if (track.in_air < kPoints) continue;
      fastest = std::max(fastest, -fit_parabola(track.times(), track.heights(), n - kPoints, n,
                                                track.times().back())
                                       .slope);
    }
    RecoveredKnob& knob = reporter_.add(
        kKey, RecoverEnd::undetermined,
        "no fall stopped growing faster: if there is a limit, it is above", "a longer fall");
    knob.estimate = {fastest, fastest, fastest};
  }

  void report_hang(const FlightFit& fit) {
    if (fit.place_of(Part::band) < 0) {
      reporter_.add("jump.hang.gravity", RecoverEnd::none_seen,
                    "the top goes with the gravity of the rest");
      return;
    }
    const std::string why = "the curve is flatter near the top";
    const std::string more = "more jumps that are held to the top";
    if (!reporter_.add_measured("jump.hang.below_speed", band_of(fit), why, more)) return;
    reporter_.add_measured("jump.hang.gravity", estimate_of(fit, Part::band_gravity, widened_), why,
                           more);
  }

  // Ticks see where a band ends only from one to the next: by what gravity adds in one.
  [[nodiscard]] Estimate band_of(const FlightFit& fit) const {
    Estimate band = estimate_of(fit, Part::band, widened_);
    const bool stepped = fit.clock.in_ticks && fit.clock.integrator != Integrator::exact;
    if (!stepped) return band;
    const double step =
        fit.constants.gravity / fit.clock.tick_rate * std::max(1.0, fit.constants.fall_factor);
    if (band.hi - band.lo < 2 * step || band.hi - band.lo > fit.constants.launch_speed) {
      band.lo = band.value - step;
      band.hi = band.value + step;
    }
    return band;
  }

  void report_sustain(const FlightFit& fit) {
    if (!(fit.constants.sustain > 0)) {
      reporter_.add("jump.sustain", RecoverEnd::none_seen, "rises slow down from the start");
      return;
    }
    Estimate sustain{fit.constants.sustain, fit.constants.sustain, fit.constants.sustain};
    if (fit.place_of(Part::sustain) >= 0) {
      sustain = estimate_of(fit, Part::sustain, widened_);
    } else {
      const double half = 0.5 / fit.clock.tick_rate;
      sustain = {sustain.value, sustain.value - half, sustain.value + half};
    }
    reporter_.add_measured("jump.sustain", sustain, "rises go on at the launch speed at first",
                           "more points a second");
  }

  // Whether there is anything to report.
  bool report_cut(const FlightFit& fit) {
    const auto early = static_cast<std::size_t>(
        std::count_if(fit.tracks.begin(), fit.tracks.end(), [&fit](const Track& track) {
          return track.flight.jumps && releases_early(track, fit.constants);
        }));
    if (early == 0) {
      reporter_.add("jump.cut.style", RecoverEnd::undetermined, "no jump was released early",
                    "a few jumps with the button released early, at different times");
      return false;
    }
    if (fit.constants.cut == CutStyle::none) {
      reporter_.add("jump.cut.style", RecoverEnd::measured, "releasing early changes nothing")
          .choice = "none";
      return true;
    }
    const std::string why =
        fmt::format("{} {} early{}", counted(early, "jump", "jumps"),
                    early == 1 ? "was released" : "were released",
                    recording_.has_jump ? "" : ", by how they go: the button was not recorded");
    const KnobValue style = get_knob(with_flight({}, fit.constants), *find_knob("jump.cut.style"));
    reporter_.add("jump.cut.style", RecoverEnd::measured, why).choice =
        std::get<std::string>(style);
    if (fit.place_of(Part::cut) < 0) return true;
    reporter_.add_measured(
        fit.constants.cut == CutStyle::scale ? "jump.cut.keep" : "jump.cut.weight",
        estimate_of(fit, Part::cut, widened_), why, "more jumps that are released early");
    return true;
  }

  static bool releases_early(const Track& track, const FlightConstants& constants) {
    return track.hold < 0.9 * constants.launch_speed / constants.gravity;
  }

  // What the recording does not report stays as it is in the base.
  void put_in_jump(const FlightFit& fit, bool reports_falls, bool reports_cut) {
    const Tuning base = found_.tuning;
    found_.tuning = with_flight(base, fit.constants);
    if (fit.clock.in_ticks && fit.constants.sustain > 0) {
      found_.tuning.jump.sustain = {std::round(fit.constants.sustain * fit.clock.tick_rate),
                                    Duration::Unit::ticks};
    }
    if (!reports_falls) found_.tuning.fall.factor = base.fall.factor;
    if (fit.place_of(Part::terminal) < 0) {
      found_.tuning.fall.terminal_speed = base.fall.terminal_speed;
    }
    if (!reports_cut) found_.tuning.jump.cut = base.jump.cut;
  }

  // Height and times of the full jump, with intervals by how they move with the constants.
  void report_shape(const FlightFit& fit, bool reports_falls) {
    const auto facts_of = [&fit](const FlightConstants& constants) {
      ArcConstants arc;
      arc.gravity = constants.gravity;
      arc.launch_speed = constants.launch_speed - launch_offset(fit.clock, constants);
      arc.fall_factor = constants.fall_factor;
      if (constants.terminal_speed > 0) arc.terminal_speed = constants.terminal_speed;
      arc.shape = shape_of(constants);
      const ArcShape shape = predict_arc(arc);
      return Eigen::Vector3d(shape.height, shape.apex_time, shape.air_time);
    };
    const Eigen::Vector3d here = facts_of(fit.constants);
    const auto count = static_cast<Eigen::Index>(fit.parts.size());
    Eigen::MatrixXd slopes(3, count);
    for (Eigen::Index i = 0; i < count; ++i) {
      FlightConstants beside = fit.constants;
      double& value = part_of(beside, fit.parts[static_cast<std::size_t>(i)]);
      const double step = 1e-5 * std::max(std::abs(value), 1e-3);
      value += step;
      slopes.col(i) = (facts_of(beside) - here) / step;
    }
    const Eigen::Matrix3d covariance = slopes * fit.covariance * slopes.transpose();
    const auto reported = [&](Eigen::Index i) {
      Estimate estimate =
          around(here(i), widened_ * fit.noise() * std::sqrt(std::max(0.0, covariance(i, i))),
                 fit.freedom);
      estimate.lo = std::max(0.0, estimate.lo);
      return estimate;
    };
    found_.height = reported(0);
    found_.apex_time = reported(1);
    if (!reports_falls) return;
    found_.air_time = reported(2);
    draw_curve(fit);
  }

  // The full jump, down to the level that it left.
  void draw_curve(const FlightFit& fit) {
    constexpr int kPoints = 40;
    const double lasts = found_.air_time->value;
    FlightPlayer player(fit.constants, fit.clock);
    const auto flight = player.fly({true, lasts + 1, lasts});
    for (int i = 0; flight && i < kPoints; ++i) {
      const double time = lasts * i / (kPoints - 1);
      found_.curve.emplace_back(time, flight->height_at(time));
    }
  }

  void report_flights(const FlightFit& fit) {
    for (const Track& track : fit.tracks) {
      RecoveredFlight flight;
      flight.take_off = track.take_off;
      flight.jumps = track.flight.jumps;
      const double until = track.times().back() - track.take_off;
      FlightPlayer player(fit.constants, flight.jumps ? fit.clock : FlightClock{});
      const auto curve =
          player.fly({flight.jumps, flight.jumps ? std::min(track.hold, until + 1) : 0, until});
      if (!curve) continue;
      double ground = 0;
      const auto n = static_cast<double>(track.times().size());
      for (std::size_t i = 0; i < track.times().size(); ++i) {
        ground += (track.heights()[i] - curve->height_at(track.times()[i] - track.take_off)) / n;
      }
      double squares = 0;
      for (std::size_t i = 0; i < track.times().size(); ++i) {
        const double time = track.times()[i] - track.take_off;
        const double height = track.heights()[i] - ground;
        const double off = height - curve->height_at(time);
        squares += off * off;
        flight.recorded.emplace_back(time, height);
      }
      flight.miss = std::sqrt(squares / n);
      for (std::size_t i = 0; i < curve->times().size() && curve->times()[i] < until; ++i) {
        flight.curve.emplace_back(curve->times()[i], curve->heights()[i]);
      }
      flight.curve.emplace_back(until, curve->height_at(until));
      found_.flights.push_back(std::move(flight));
    }
    std::sort(
        found_.flights.begin(), found_.flights.end(),
        [](const RecoveredFlight& a, const RecoveredFlight& b) { return a.take_off < b.take_off; });
  }

  const Recording& recording_;
  const Flights& flights_;
  const RecoverOptions& options_;
  Reporter& reporter_;
  Recovered& found_;
  double widened_ = 1;
};

}  // namespace

void recover_jump(const Surveyed& surveyed, const RecoverOptions& options, Reporter& reporter) {
  JumpRecoverer(surveyed, options, reporter).recover();
}

}  // namespace bushbaby::detail
