#include "bushbaby/lab/recover.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "reporting.h"

namespace bushbaby {
namespace {

using detail::Flights;
using detail::Surveyed;

// The rate of ticks that all points are at the ends of, if they are.
std::optional<double> rate_on_ticks(const std::vector<double>& times, std::optional<double> asked) {
  double rate = asked.value_or(0);
  if (!asked) {
    // From point to point N spacings, rounded: over all of them the rounding of times is
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
  // Slower or faster than any game's.
  constexpr double kSlowest = 1;
  constexpr double kFastest = 10000;
  if (!(rate >= kSlowest && rate <= kFastest)) return std::nullopt;
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

// No game's motion needs more points a second than that.
constexpr double kEnough = 1000;

// Every N points of a recording that has more.
void thin(Recording& recording, double rate, Recovered& found) {
  if (!(rate > kEnough)) return;
  const auto every = static_cast<std::size_t>(std::ceil(rate / kEnough));
  std::vector<RecordedPoint> kept;
  for (std::size_t i = 0; i < recording.points.size(); i += every) {
    kept.push_back(recording.points[i]);
  }
  recording.points = std::move(kept);
  found.remarks.push_back(fmt::format("one point of {} is used", every));
}

// What the recording is, and what of it was omitted.
Surveyed survey(const Recording& recording, const RecoverOptions& options, Recovered& found) {
  Surveyed surveyed;
  surveyed.recording = recording;
  std::vector<double> times;
  for (const RecordedPoint& point : recording.points) times.push_back(point.time);
  found.points = times.size();
  found.seconds = times.back() - times.front();
  found.rate = 1 / detail::spacing_of(times);
  const auto asked = options.tick_rate ? options.tick_rate : recording.tick_rate;
  const auto ticks = found.rate > kEnough ? std::nullopt : rate_on_ticks(times, asked);
  found.on_ticks = ticks.has_value();
  found.tick_rate = asked ? *asked : ticks.value_or(options.base.loop.tick_rate);
  found.knows_rate = asked || ticks;
  thin(surveyed.recording, found.rate, found);
  if (ticks) surveyed.recording = on_ticks(std::move(surveyed.recording), *ticks);
  surveyed.recording.tick_rate = ticks;
  surveyed.flights = detail::find_flights(surveyed.recording);
  found.noise = surveyed.flights.noise;
  // Times of the base that are written in ticks keep their length.
  found.tuning = at_tick_rate(options.base, found.tick_rate);
  found.tuning.loop.gravity_on_launch_tick = true;
  return surveyed;
}

void report_left_out(const Flights& flights, Recovered& found) {
  const auto list = [](const std::vector<double>& times) {
    std::string text;
    constexpr std::size_t kMost = 6;
    for (std::size_t i = 0; i < std::min(times.size(), kMost); ++i) {
      text += fmt::format("{}{:.4g}", i == 0 ? "" : ", ", times[i]);
    }
    return times.size() > kMost ? text + fmt::format(" and {} more", times.size() - kMost) : text;
  };
  if (!flights.begun.empty()) {
    found.remarks.push_back(fmt::format(
        "at {} s it is in the air without a take-off before it: ignored", list(flights.begun)));
  }
  if (!flights.endless.empty()) {
    found.remarks.push_back(fmt::format(
        "what leaves the ground at {} s flies for more than 10 s: ignored", list(flights.endless)));
  }
  if (!flights.lifted.empty()) {
    found.remarks.push_back(
        fmt::format("at {} s something lifts it in the air: what comes after, up to the landing, "
                    "is ignored",
                    list(flights.lifted)));
  }
}

}  // namespace

Recovered recover_motion(const Recording& recording, const RecoverOptions& options) {
  Recovered found;
  constexpr std::size_t kLeast = 8;
  if (recording.points.size() < kLeast) {
    found.tuning = options.base;
    found.points = recording.points.size();
    found.refusal =
        fmt::format("{} points are too few to recover anything", recording.points.size());
    found.to_record =
        "a jump at 24 points a second or more, with some standing before and after it";
    return found;
  }
  const Surveyed surveyed = survey(recording, options, found);
  report_left_out(surveyed.flights, found);
  detail::Reporter reporter(found);
  detail::recover_jump(surveyed, options, reporter);
  detail::recover_run(surveyed, reporter);
  detail::recover_windows(surveyed, reporter);
  return found;
}

}  // namespace bushbaby
