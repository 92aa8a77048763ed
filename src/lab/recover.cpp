#include "bushbaby/lab/recover.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "bushbaby/core/tuning/jump.h"
#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/lab/arc.h"

#include "flight_fit.h"
#include "flights.h"
#include "press_windows.h"
#include "run_ramps.h"

namespace bushbaby {
namespace {

using detail::FlightFit;
using detail::Part;

// How many standard errors to each side hold 95 % of Student's t: a series in 1 / degrees of
// freedom (Abramowitz and Stegun, 26.7.5).
double errors_of_95(double freedom) {
  constexpr double z = 1.959963985;
  const double n = std::max(1.0, freedom);
  const double z3 = z * z * z;
  const double z5 = z3 * z * z;
  return z + (z3 + z) / (4 * n) + (5 * z5 + 16 * z3 + 3 * z) / (96 * n * n);
}

// Numbers are told to so many digits: nothing is known better.
constexpr double kLeastShare = 1e-6;

Estimate around(double value, double error, double freedom) {
  const double off = errors_of_95(freedom) * error + kLeastShare * std::abs(value);
  return {value, value - off, value + off};
}

// The interval of a part, and of the other answers that go as well.
Estimate estimate_of(const FlightFit& fit, Part part, double widened) {
  const auto place = static_cast<Eigen::Index>(fit.place_of(part));
  const double error = widened * fit.noise() * std::sqrt(fit.covariance(place, place));
  detail::FlightConstants constants = fit.constants;
  const double value = detail::part_of(constants, part);
  Estimate estimate = around(value, error, fit.freedom);
  double lo = value;
  double hi = value;
  for (detail::FlightConstants other : fit.others) {
    lo = std::min(lo, detail::part_of(other, part));
    hi = std::max(hi, detail::part_of(other, part));
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
  // Where ticks decide when gravity changes, heights jump as constants grow, and the best place may
  // be missed: by so much, measured over recordings by chance.
  constexpr double kJumps = 2.5;
  const bool stepped = fit.clock.in_ticks && fit.clock.integrator != Integrator::exact;
  const bool changes = fit.place_of(Part::band) >= 0 || fit.place_of(Part::cut) >= 0;
  const double least = stepped && changes ? kJumps : 1;
  const double noise = fit.noise();
  const double otherwise = std::max(0.0, noise * noise - kUnsure * scatter * scatter);
  if (!(noise > 0)) return least;
  return std::max(least, std::sqrt(noise * noise - otherwise + kOnEnd * otherwise) / noise);
}

// An interval as wide as that tells nothing.
bool too_wide(const Estimate& estimate) {
  constexpr double kWide = 1;
  return !(estimate.hi - estimate.lo < kWide * std::abs(estimate.value));
}

std::string counted(std::size_t count, const char* one, const char* many) {
  return fmt::format("{} {}", count, count == 1 ? one : many);
}

// ---- ticks --------------------------------------------------------------------------------------

// The rate of ticks that all points are at the ends of, if they are.
std::optional<double> rate_on_ticks(const std::vector<double>& times, std::optional<double> asked) {
  double rate = asked.value_or(0);
  if (!asked) {
    // From point to point so many spacings, rounded: over all of them the rounding of times is
    // little. Rates are whole numbers, or nearly so.
    const double spacing = detail::spacing_of(times);
    double ticks = 0;
    for (std::size_t i = 1; i < times.size(); ++i) {
      ticks += std::round((times[i] - times[i - 1]) / spacing);
    }
    rate = ticks / (times.back() - times.front());
    constexpr double kNearlyWhole = 2e-3;
    if (std::abs(rate - std::round(rate)) < kNearlyWhole * rate) rate = std::round(rate);
  }
  // A film whose pictures are some ticks apart shows any moment of them.
  constexpr double kOneTick = 0.1;
  if (std::abs(detail::spacing_of(times) * rate - 1) > kOneTick) return std::nullopt;
  // Times may be rounded to milliseconds.
  constexpr double kRounded = 6e-4;
  constexpr double kShare = 0.02;
  for (const double time : times) {
    const double ticks = (time - times.front()) * rate;
    if (std::abs(ticks - std::round(ticks)) > kShare + kRounded * rate) return std::nullopt;
  }
  return rate;
}

// Points that are ticks, at the times of ticks to the last digit.
Recording on_ticks(Recording recording, double rate) {
  const double first = recording.points.front().time;
  for (RecordedPoint& point : recording.points) {
    point.time = first + std::round((point.time - first) * rate) / rate;
  }
  return recording;
}

// ---- loops from speeds --------------------------------------------------------------------------

// How far the speeds of a recording are from those by which a loop would have moved the body from
// one point to the next: -2 log-likelihood. `share` of the later speed, the rest of the earlier.
double speed_score(const Recording& recording, const detail::Flights& flights, double share) {
  double squares = 0;
  double fastest = 0;
  double count = 0;
  for (const detail::Flight& flight : flights.flights) {
    for (std::size_t i = flight.leaves + 2; i <= flight.last; ++i) {
      const RecordedPoint& before = recording.points[i - 1];
      const RecordedPoint& now = recording.points[i];
      const double way = (now.feet.y - before.feet.y) / (now.time - before.time);
      const double off = way - share * now.velocity.y - (1 - share) * before.velocity.y;
      squares += off * off;
      fastest = std::max(fastest, std::abs(way));
      ++count;
    }
  }
  if (count == 0) return 0;
  constexpr double kLeast = 1e-6;
  return count * std::log(squares / count + kLeast * kLeast * fastest * fastest);
}

double share_of(Integrator integrator) {
  if (integrator == Integrator::semi_implicit) return 1;
  return integrator == Integrator::explicit_step ? 0 : 0.5;
}

// ---- all of it ----------------------------------------------------------------------------------

class Recoverer {
 public:
  Recoverer(const Recording& recording, const RecoverOptions& options)
      : recording_(recording), options_(options) {}

  Recovered recover() {
    survey();
    found_.tuning = options_.base;
    found_.tuning.loop.tick_rate = found_.tick_rate;
    found_.tuning.loop.gravity_on_launch_tick = true;
    flights_ = detail::find_flights(recording_);
    found_.noise = flights_.noise;
    tell_left_out();
    recover_jump();
    recover_run();
    recover_windows();
    return std::move(found_);
  }

 private:
  void survey() {
    std::vector<double> times;
    for (const RecordedPoint& point : recording_.points) times.push_back(point.time);
    found_.points = times.size();
    found_.seconds = times.back() - times.front();
    found_.rate = 1 / detail::spacing_of(times);
    const auto asked = options_.tick_rate ? options_.tick_rate : recording_.tick_rate;
    const auto ticks = rate_on_ticks(times, asked);
    found_.on_ticks = ticks.has_value();
    found_.tick_rate = asked ? *asked : ticks.value_or(options_.base.loop.tick_rate);
    knows_rate_ = asked || ticks;
    recording_.tick_rate.reset();
    if (!ticks) return;
    recording_ = on_ticks(std::move(recording_), *ticks);
    recording_.tick_rate = ticks;
  }

  void tell_left_out() {
    const auto list = [](const std::vector<double>& times) {
      std::string text;
      constexpr std::size_t kMost = 6;
      for (std::size_t i = 0; i < std::min(times.size(), kMost); ++i) {
        text += fmt::format("{}{:.4g}", i == 0 ? "" : ", ", times[i]);
      }
      return times.size() > kMost ? text + fmt::format(" and {} more", times.size() - kMost) : text;
    };
    if (!flights_.begun.empty()) {
      found_.remarks.push_back(fmt::format(
          "at {} s it is in the air without a take-off before it: left out", list(flights_.begun)));
    }
    if (!flights_.lifted.empty()) {
      found_.remarks.push_back(
          fmt::format("at {} s something lifts it in the air: what comes after, up to the landing, "
                      "is left out",
                      list(flights_.lifted)));
    }
  }

  RecoveredKnob& add(const char* key, RecoverEnd end, std::string why, std::string to_record = {}) {
    RecoveredKnob knob;
    knob.key = key;
    knob.dimension = find_knob(key)->dimension;
    knob.end = end;
    knob.why = std::move(why);
    knob.to_record = std::move(to_record);
    found_.knobs.push_back(std::move(knob));
    return found_.knobs.back();
  }

  // A number with its interval, which is set; or a refusal if that tells nothing.
  bool add_measured(const char* key, const Estimate& estimate, std::string why,
                    std::string to_record) {
    RecoveredKnob& knob = add(key, RecoverEnd::measured, std::move(why));
    knob.estimate = estimate;
    if (!too_wide(estimate)) return true;
    knob.end = RecoverEnd::cannot_tell;
    knob.to_record = std::move(to_record);
    return false;
  }

  // ---- jumps ----

  void refuse_jumps(std::string why, std::string to_record) {
    found_.refusal = std::move(why);
    found_.to_record = std::move(to_record);
    for (const char* key : {"jump.launch_speed", "jump.gravity", "fall.factor"}) {
      add(key, RecoverEnd::cannot_tell, found_.refusal, found_.to_record);
    }
  }

  void recover_jump() {
    const std::vector<detail::Track> tracks = detail::tracks_of(recording_, flights_);
    const char* const jump_it =
        "stand for a quarter of a second, jump with the button held until the landing, and stand "
        "again; three times or more";
    const auto jumps = static_cast<std::size_t>(
        std::count_if(tracks.begin(), tracks.end(),
                      [](const detail::Track& track) { return track.flight.jumps; }));
    if (jumps == 0) {
      refuse_jumps("no jump was found: a stretch on the ground, then a rise", jump_it);
      return;
    }
    std::size_t rising = 0;
    std::size_t falling = 0;
    for (const detail::Track& track : tracks) {
      const auto top = std::max_element(track.heights().begin(), track.heights().end());
      const auto before = static_cast<std::size_t>(top - track.heights().begin()) + track.in_air;
      const std::size_t rises = before > track.times().size() ? before - track.times().size() : 0;
      if (track.flight.jumps) rising += rises;
      falling += track.in_air - std::min(track.in_air, rises);
    }
    constexpr std::size_t kLeast = 4;
    if (rising < kLeast) {
      refuse_jumps(
          fmt::format("{} on the way up of {} are too few for a gravity and a launch speed",
                      counted(rising, "point", "points"), counted(jumps, "jump", "jumps")),
          fmt::format("at 60 points a second or more: {}", jump_it));
      return;
    }
    const std::vector<detail::Track> some = detail::some_of(tracks);
    FlightFit smooth = detail::fit_flights(some, flights_.noise);
    if (!smooth.ok) {
      refuse_jumps("no constants make flights like these", jump_it);
      return;
    }
    found_.remarks.insert(found_.remarks.end(), smooth.remarks.begin(), smooth.remarks.end());
    std::vector<FlightFit> fits;
    if (knows_rate_) fits = detail::fit_loops(smooth, found_.tick_rate, found_.on_ticks);
    if (some.size() < tracks.size()) {
      smooth = detail::with_all(smooth, tracks);
      tbb::parallel_for(std::size_t{0}, fits.size(),
                        [&](std::size_t i) { fits[i] = detail::with_all(fits[i], tracks); });
    }
    const FlightFit& best = choose_loop(smooth, fits);
    found_.noise = best.noise();
    widened_ = widening(best, flights_.scatter);
    tell_jump(best, rising, falling, jumps);
    tell_loops(best, fits);
    tell_flights(best);
  }

  // The fit that goes best; which loops go as well is told.
  const FlightFit& choose_loop(const FlightFit& smooth, const std::vector<FlightFit>& fits) {
    constexpr double kAsWell = 6;
    const FlightFit* best = &smooth;
    double least = 0;
    std::vector<double> scores;
    for (const FlightFit& fit : fits) {
      double score = fit.ok ? fit.score : std::numeric_limits<double>::infinity();
      if (recording_.has_speeds && found_.on_ticks) {
        score += speed_score(recording_, flights_, share_of(fit.clock.integrator));
      }
      if (scores.empty() || score < least) {
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
      loop.goes = scores[i] < least + kAsWell;
      found_.loops.push_back(loop);
    }
    const auto going = std::count_if(found_.loops.begin(), found_.loops.end(),
                                     [](const RecoveredLoop& loop) { return loop.goes; });
    found_.loop_told = !fits.empty() && going < static_cast<std::ptrdiff_t>(fits.size());
    for (const FlightFit& fit : fits) {
      if (options_.integrator == fit.clock.integrator && fit.ok) return fit;
    }
    constexpr double kMuchBetter = 20;
    if (smooth.ok && !fits.empty() && smooth.score + kMuchBetter < best->score && found_.on_ticks &&
        best->noise() > 1.3 * smooth.noise()) {
      found_.remarks.emplace_back(
          "the points go better with a motion between them than with ticks at them: if they were "
          "filmed, say the game's tick rate with --tick-rate");
      return smooth;
    }
    return *best;
  }

  // Without a tick rate that is known, the others follow from height and gravity.
  void tell_loops(const FlightFit& best, const std::vector<FlightFit>& fits) {
    found_.tuning.loop.integrator = best.clock.integrator;
    if (!fits.empty()) return;
    found_.remarks.push_back(
        fmt::format("the points are no ticks: loops are told for {:g} Hz; say another with "
                    "--tick-rate",
                    found_.tick_rate));
    const JumpShape shape = shape_of(best.constants);
    const Apex apex = predict_apex(best.constants.launch_speed, best.constants.gravity,
                                   {Integrator::exact, found_.tick_rate, true}, shape);
    for (const Integrator integrator : detail::kLoops) {
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

  static JumpShape shape_of(const detail::FlightConstants& constants) {
    return {{constants.band, constants.band_gravity}, constants.sustain};
  }

  void tell_jump(const FlightFit& fit, std::size_t rising, std::size_t falling, std::size_t jumps) {
    const std::string up = fmt::format("{} on the way up of {}", counted(rising, "point", "points"),
                                       counted(jumps, "jump", "jumps"));
    const std::string more = "more jumps, or more points a second";
    add_measured("jump.launch_speed", estimate_of(fit, Part::launch, widened_), up, more);
    add_measured("jump.gravity", estimate_of(fit, Part::gravity, widened_), up, more);
    constexpr std::size_t kLeast = 4;
    if (falling < kLeast) {
      add("fall.factor", RecoverEnd::cannot_tell,
          fmt::format("{} on the way down are too few", counted(falling, "point", "points")),
          "the way down to the ground as well");
    } else {
      add_measured("fall.factor", estimate_of(fit, Part::factor, widened_),
                   fmt::format("{} on the way down", counted(falling, "point", "points")), more);
    }
    tell_terminal(fit, falling);
    tell_hang(fit);
    tell_sustain(fit);
    tell_cut(fit);
    put_in_jump(fit);
    tell_shape(fit);
  }

  void tell_terminal(const FlightFit& fit, std::size_t falling) {
    constexpr const char* kKey = "fall.terminal_speed";
    if (fit.place_of(Part::terminal) >= 0) {
      add_measured(kKey, estimate_of(fit, Part::terminal, widened_),
                   fmt::format("falls stop growing faster there: {} on the way down",
                               counted(falling, "point", "points")),
                   "a fall twice as long");
      return;
    }
    double fastest = 0;
    for (const detail::Track& track : fit.tracks) {
      const std::size_t n = track.times().size();
      constexpr std::size_t kPoints = 5;
      if (track.in_air < kPoints) continue;
      fastest = std::max(fastest, -detail::fit_parabola(track.times(), track.heights(), n - kPoints,
                                                        n, track.times().back())
                                       .slope);
    }
    RecoveredKnob& knob =
        add(kKey, RecoverEnd::cannot_tell,
            "no fall stopped growing faster: if there is a limit, it is above", "a longer fall");
    knob.estimate = {fastest, fastest, fastest};
  }

  void tell_hang(const FlightFit& fit) {
    if (fit.place_of(Part::band) < 0) {
      add("jump.hang.gravity", RecoverEnd::none_seen, "the top goes with the gravity of the rest");
      return;
    }
    const std::string why = "the curve is flatter near the top";
    const std::string more = "more jumps that are held to the top";
    if (!add_measured("jump.hang.below_speed", band_of(fit), why, more)) return;
    add_measured("jump.hang.gravity", estimate_of(fit, Part::band_gravity, widened_), why, more);
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

  void tell_sustain(const FlightFit& fit) {
    if (!(fit.constants.sustain > 0)) {
      add("jump.sustain", RecoverEnd::none_seen, "rises slow down from the start");
      return;
    }
    Estimate sustain{fit.constants.sustain, fit.constants.sustain, fit.constants.sustain};
    if (fit.place_of(Part::sustain) >= 0) {
      sustain = estimate_of(fit, Part::sustain, widened_);
    } else {
      const double half = 0.5 / fit.clock.tick_rate;
      sustain = {sustain.value, sustain.value - half, sustain.value + half};
    }
    add_measured("jump.sustain", sustain, "rises go on at the launch speed at first",
                 "more points a second");
  }

  void tell_cut(const FlightFit& fit) {
    const auto early = static_cast<std::size_t>(
        std::count_if(fit.tracks.begin(), fit.tracks.end(), [&fit](const detail::Track& track) {
          return track.flight.jumps && lets_go_early(track, fit.constants);
        }));
    if (early == 0) {
      add("jump.cut.style", RecoverEnd::cannot_tell, "no jump was let go early",
          "a few jumps with the button let go early, at different times");
      return;
    }
    if (fit.constants.cut == CutStyle::none) {
      add("jump.cut.style", RecoverEnd::measured, "letting go early changes nothing").choice =
          "none";
      return;
    }
    const std::string why = fmt::format(
        "{} {} early{}", counted(early, "jump", "jumps"), early == 1 ? "was let go" : "were let go",
        recording_.has_jump ? "" : ", by how they go: the button was not recorded");
    static constexpr const char* kNames[] = {"none", "stop", "scale", "weight"};
    add("jump.cut.style", RecoverEnd::measured, why).choice =
        kNames[static_cast<int>(fit.constants.cut)];
    if (fit.place_of(Part::cut) < 0) return;
    add_measured(fit.constants.cut == CutStyle::scale ? "jump.cut.keep" : "jump.cut.weight",
                 estimate_of(fit, Part::cut, widened_), why, "more jumps that are let go early");
  }

  static bool lets_go_early(const detail::Track& track, const detail::FlightConstants& constants) {
    return track.hold < 0.9 * constants.launch_speed / constants.gravity;
  }

  // What was measured, and nothing else, goes into the tuning.
  void put_in_jump(const FlightFit& fit) {
    found_.tuning = detail::with_flight(std::move(found_.tuning), fit.constants);
    if (fit.clock.in_ticks && fit.constants.sustain > 0) {
      found_.tuning.jump.sustain = {std::round(fit.constants.sustain * fit.clock.tick_rate),
                                    Duration::Unit::ticks};
    }
  }

  // Height and times of the full jump, with intervals by how they move with the constants.
  void tell_shape(const FlightFit& fit) {
    const auto facts_of = [&fit](const detail::FlightConstants& constants) {
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
      detail::FlightConstants beside = fit.constants;
      double& value = detail::part_of(beside, fit.parts[static_cast<std::size_t>(i)]);
      const double step = 1e-5 * std::max(std::abs(value), 1e-3);
      value += step;
      slopes.col(i) = (facts_of(beside) - here) / step;
    }
    const Eigen::Matrix3d covariance = slopes * fit.covariance * slopes.transpose();
    const auto told = [&](Eigen::Index i) {
      return around(here(i), widened_ * fit.noise() * std::sqrt(std::max(0.0, covariance(i, i))),
                    fit.freedom);
    };
    found_.height = told(0);
    found_.apex_time = told(1);
    found_.air_time = told(2);
  }

  void tell_flights(const FlightFit& fit) {
    for (const detail::Track& track : fit.tracks) {
      RecoveredFlight flight;
      flight.take_off = track.take_off;
      flight.jumps = track.flight.jumps;
      flight.full = !flight.jumps || track.hold == detail::kHeldThrough || held_long(track, fit);
      const double until = track.times().back() - track.take_off;
      detail::FlightPlayer player(fit.constants, flight.jumps ? fit.clock : detail::FlightClock{});
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
        flight.recorded.push_back({time, height});
      }
      flight.miss = std::sqrt(squares / n);
      for (std::size_t i = 0; i < curve->times().size() && curve->times()[i] < until; ++i) {
        flight.curve.push_back({curve->times()[i], curve->heights()[i]});
      }
      flight.curve.push_back({until, curve->height_at(until)});
      found_.flights.push_back(std::move(flight));
    }
    std::sort(
        found_.flights.begin(), found_.flights.end(),
        [](const RecoveredFlight& a, const RecoveredFlight& b) { return a.take_off < b.take_off; });
  }

  static bool held_long(const detail::Track& track, const FlightFit& fit) {
    return track.hold * fit.constants.gravity > fit.constants.launch_speed;
  }

  // ---- the run ----

  void recover_run() {
    const detail::RunReadings run = detail::read_run(recording_, flights_.standing);
    const char* const run_it =
        "run to one side until the speed no longer grows, let go until it stands, then run to one "
        "side and turn to the other";
    if (run.top_speed.empty() || !(run.fastest > 0)) {
      add("run.top_speed", RecoverEnd::cannot_tell, "no steady run was found", run_it);
      return;
    }
    const detail::Reading top = detail::pooled(run.top_speed);
    if (!(top.value > 4 * top.error) || !(top.value > 0.3 * run.fastest)) {
      add("run.top_speed", RecoverEnd::cannot_tell, "no steady run was found", run_it);
      return;
    }
    if (add_measured("run.top_speed", around(top.value, top.error, 30),
                     fmt::format("{} of steady speed",
                                 counted(run.top_speed.size(), "stretch", "stretches")),
                     run_it)) {
      found_.tuning.run.top_speed = top.value;
    }
    constexpr double kMuchBetter = 10;
    const bool damped = run.lag_score + kMuchBetter < run.rate_score;
    tell_drive(run.ground, damped, "run.ground.", found_.tuning.run.ground, "on the ground");
    tell_drive(run.air, damped, "run.air.", found_.tuning.run.air, "in the air");
  }

  void tell_drive(const std::vector<detail::RampReadings>& kinds, bool damped,
                  const std::string& prefix, RunDrive& drive, const char* where) {
    struct Kind {
      const char* name;
      const char* one;
      const char* many;
      const char* to_do;
      double* rate;
      Duration* lag;
    };
    const Kind table[] = {
        {"speed_up", "start", "starts", "start to run", &drive.speed_up, &drive.speed_up_lag},
        {"brake", "stop", "stops", "let go at full run", &drive.brake, &drive.brake_lag},
        {"turn", "turn", "turns", "turn round at full run", &drive.turn, &drive.turn_lag}};
    bool at_once = true;
    bool any = false;
    for (std::size_t i = 0; i < kinds.size(); ++i) {
      const std::vector<detail::Reading>& readings = damped ? kinds[i].lag : kinds[i].rate;
      any = any || !readings.empty() || kinds[i].at_once > 0;
      at_once = at_once && readings.empty();
    }
    if (damped && any) {
      add((prefix + "style").c_str(), RecoverEnd::measured,
          "speeds near their goal ever more slowly")
          .choice = "damped";
      drive.style = DriveStyle::damped;
    } else if (any && at_once) {
      add((prefix + "style").c_str(), RecoverEnd::measured,
          "speeds change from one point to the next")
          .choice = "instant";
      drive.style = DriveStyle::instant;
      return;
    }
    for (std::size_t i = 0; i < kinds.size(); ++i) {
      const Kind& kind = table[i];
      const std::string key = prefix + kind.name + (damped ? "_lag" : "");
      const std::vector<detail::Reading>& readings = damped ? kinds[i].lag : kinds[i].rate;
      const std::string to_record =
          fmt::format("{} {}, from one steady speed to another", kind.to_do, where);
      if (readings.empty()) {
        add(key.c_str(), RecoverEnd::cannot_tell,
            kinds[i].at_once > 0
                ? "it takes less than from one point to the next"
                : fmt::format("no {} {} goes from one steady speed to another", kind.one, where),
            kinds[i].at_once > 0 ? "the same with more points a second" : to_record);
        continue;
      }
      const detail::Reading pooled = detail::pooled(readings);
      constexpr double kFreedom = 8;
      const bool told =
          add_measured(key.c_str(), around(pooled.value, pooled.error, kFreedom),
                       fmt::format("{} {}", counted(readings.size(), kind.one, kind.many), where),
                       "more often: " + to_record);
      if (!told) continue;
      if (damped) {
        *kind.lag = {pooled.value};
      } else {
        *kind.rate = pooled.value;
      }
    }
  }

  // ---- windows ----

  void recover_windows() {
    const detail::WindowReadings windows = detail::read_windows(recording_, flights_);
    tell_window(
        "jump.coyote", windows.coyote, found_.tuning.jump.coyote, "after the ground was lost",
        "walk off a ledge and press jump a little later each time, until it no longer jumps");
    tell_window("jump.buffer", windows.buffer, found_.tuning.jump.buffer, "before the landing",
                "jump, and press again a little earlier before the landing each time, until it no "
                "longer jumps");
  }

  void tell_window(const char* key, const detail::WindowReading& reading, Duration& knob,
                   const char* when, const std::string& to_do) {
    const bool knows = recording_.has_jump && recording_.has_ground;
    const std::string to_record =
        knows ? to_do : "columns jump and grounded, of 0 and 1, as well; then " + to_do;
    if (!knows || reading.presses == 0) {
      add(key, RecoverEnd::cannot_tell,
          knows                 ? fmt::format("no press came {}", when)
          : recording_.has_jump ? "where the ground begins and ends shows too late in heights alone"
                                : "presses were not recorded",
          to_record);
      return;
    }
    const double tick = 1 / found_.tick_rate;
    const std::string presses =
        counted(static_cast<std::size_t>(reading.presses), "press", "presses");
    if (reading.longest_in && reading.shortest_out &&
        *reading.longest_in >= *reading.shortest_out) {
      add(key, RecoverEnd::cannot_tell,
          fmt::format("of {} {} some worked that came farther off than others that did not",
                      presses, when),
          to_record);
      return;
    }
    if (!reading.longest_in) {
      RecoveredKnob& none = add(key, RecoverEnd::none_seen,
                                fmt::format("of {} {} none worked", presses, when), to_record);
      none.estimate = {0, 0, *reading.shortest_out};
      return;
    }
    const double in = *reading.longest_in;
    if (!reading.shortest_out) {
      RecoveredKnob& least =
          add(key, RecoverEnd::cannot_tell,
              fmt::format("all of {} {} worked: it is at least that", presses, when),
              "the same later, until it no longer does; " + to_record);
      least.estimate = {in, in, in};
      return;
    }
    // In ticks, what did not work is one too many.
    const double out = found_.on_ticks ? *reading.shortest_out - tick : *reading.shortest_out;
    RecoveredKnob& window =
        add(key, RecoverEnd::measured,
            fmt::format("{} {}: between what worked and what did not", presses, when));
    const double value = found_.on_ticks ? in : (in + out) / 2;
    window.estimate = {value, in, std::max(in, out)};
    window.in_ticks = found_.on_ticks;
    knob = found_.on_ticks ? Duration{std::round(value * found_.tick_rate), Duration::Unit::ticks}
                           : Duration{value};
  }

  Recording recording_;
  const RecoverOptions& options_;
  detail::Flights flights_;
  bool knows_rate_ = false;
  double widened_ = 1;
  Recovered found_;
};

}  // namespace

Recovered recover_motion(const Recording& recording, const RecoverOptions& options) {
  Recovered found;
  constexpr std::size_t kLeast = 8;
  if (recording.points.size() < kLeast) {
    found.tuning = options.base;
    found.points = recording.points.size();
    found.refusal = fmt::format("{} points are too few to tell anything", recording.points.size());
    found.to_record =
        "a jump at 24 points a second or more, with some standing before and after it";
    return found;
  }
  return Recoverer(recording, options).recover();
}

std::vector<Vec> recovered_curve(const Recovered& recovered, int points) {
  std::vector<Vec> curve;
  const Tuning& tuning = recovered.tuning;
  if (!recovered.refusal.empty() || !recovered.air_time) return curve;
  const double lasts = recovered.air_time->value;
  detail::FlightConstants constants;
  constants.launch_speed = *tuning.jump.launch_speed;
  constants.gravity = *tuning.jump.gravity;
  constants.fall_factor = tuning.fall.factor;
  constants.terminal_speed = tuning.fall.terminal_speed.value_or(0);
  constants.band = tuning.jump.hang.below_speed;
  constants.band_gravity = tuning.jump.hang.gravity;
  constants.sustain = seconds(tuning.jump.sustain, tuning.loop.tick_rate);
  detail::FlightPlayer player(constants, {tuning.loop.integrator, tuning.loop.tick_rate,
                                          tuning.loop.integrator != Integrator::exact, false});
  const auto flight = player.fly({true, lasts + 1, lasts});
  if (!flight) return curve;
  for (int i = 0; i < points; ++i) {
    const double time = lasts * i / (points - 1);
    curve.push_back({time, flight->height_at(time)});
  }
  return curve;
}

}  // namespace bushbaby
