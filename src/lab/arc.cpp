#include "bushbaby/lab/arc.h"

#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>

namespace bushbaby {
namespace {

tl::unexpected<Violation> refuse(Phrase found, Phrase expected) {
  return tl::unexpected(Violation{"", std::move(found), std::move(expected)});
}

// Quantities of a message: as they were given, and worked out.
Quantity length_of(double length) { return {length, Dimension::length}; }
Quantity speed_of(double speed) { return {speed, Dimension::speed}; }
Quantity time_of(double time) { return {time, Dimension::time}; }
Quantity about(double time) { return {time, Dimension::time, true}; }

constexpr double kAgreement = 1e-6;

// The place where a function that is monotone on the positive numbers passes 0, to the last bit;
// nothing if it does not pass within 1e-12 … 1e12.
template <class Function>
std::optional<double> find_crossing(const Function& function) {
  double lo = 1e-12;
  double hi = 1e12;
  const bool grows = function(hi) > function(lo);
  if ((function(lo) > 0) == (function(hi) > 0)) return std::nullopt;
  while (true) {
    const double middle = std::sqrt(lo) * std::sqrt(hi);
    if (!(middle > lo && middle < hi)) return middle;
    ((function(middle) > 0) == grows ? hi : lo) = middle;
  }
}

// Gravity and launch speed of the continuous jump with that air time and the one quantity of
// `ask.jump` that is given.
tl::expected<JumpAsk, Violation> solve_with_air_time(const ArcAsk& ask, double air_time) {
  // The air time of the continuous jump with these two quantities.
  const auto air_time_of = [&ask](const JumpAsk& two) {
    const JumpAnswer jump = derive_jump(two, {}, ask.shape);
    return predict_arc(
               {jump.gravity, jump.launch_speed, ask.fall_factor, ask.terminal_speed, ask.shape})
        .air_time;
  };
  JumpAsk jump = ask.jump;
  if (jump.height) {
    const double height = *jump.height;
    jump.gravity = find_crossing([&](double gravity) {
      return air_time_of({height, {}, {}, gravity}) - air_time;
    });
    if (!jump.gravity && ask.terminal_speed) {
      return refuse(Phrase("an air time of ") + about(air_time),
                    Phrase("more than ") + about(height / *ask.terminal_speed) +
                        ": the fall from " + length_of(height) +
                        " takes that long at the terminal speed of " +
                        speed_of(*ask.terminal_speed));
    }
  } else if (jump.gravity) {
    const double gravity = *jump.gravity;
    jump.launch_speed = find_crossing([&](double launch) {
      return air_time_of({{}, {}, launch, gravity}) - air_time;
    });
  } else if (jump.launch_speed) {
    const double launch = *jump.launch_speed;
    jump.gravity = find_crossing([&](double gravity) {
      return air_time_of({{}, {}, launch, gravity}) - air_time;
    });
  } else {
    const double apex_time = *jump.apex_time;
    const double sustain = ask.shape.sustain;
    const double slowing = apex_time - sustain;
    // The fall through the height of a jump, √(2H/fg), does not depend on g: H grows with it.
    const double least =
        apex_time + std::sqrt((slowing * slowing + 2 * slowing * sustain) / ask.fall_factor);
    if (!ask.terminal_speed && ask.shape.hang.below_speed == 0) {
      return refuse(
          Phrase("apex time ") + time_of(apex_time) + " and air time " + about(air_time) + " alone",
          fmt::format("a height, a launch speed or a gravity instead of one of them: with "
                      "fall factor {} the apex time alone makes the air time ",
                      ask.fall_factor) +
              Phrase(about(least)) + ", whatever the height");
    }
    jump.gravity = find_crossing([&](double gravity) {
      return air_time_of({{}, apex_time, {}, gravity}) - air_time;
    });
    if (ask.shape.hang.below_speed == 0 && !(air_time > least * (1 + kAgreement))) {
      return refuse(Phrase("an air time of ") + about(air_time),
                    Phrase("more than ") + about(least) + " with apex time " + time_of(apex_time) +
                        fmt::format(" and fall factor {}", ask.fall_factor));
    }
  }
  const int found = (jump.height ? 1 : 0) + (jump.apex_time ? 1 : 0) + (jump.launch_speed ? 1 : 0) +
                    (jump.gravity ? 1 : 0);
  if (found < 2) {
    return refuse(Phrase("an air time of ") + about(air_time), "one that some gravity gives");
  }
  return jump;
}

tl::unexpected<Violation> refuse_air_time(const ArcAsk& ask, const ArcShape& has, double air_time) {
  std::string expected = "one of them omitted";
  const double falling = air_time - has.apex_time;
  if (!ask.terminal_speed && ask.shape.hang.below_speed == 0 && falling > 0) {
    const double ratio = (has.air_time - has.apex_time) / falling;
    expected += fmt::format(", or a fall factor of {:.6g}, which gives both",
                            ask.fall_factor * ratio * ratio);
  }
  return refuse(
      Phrase("an air time of ") + about(air_time) + " where the others give " + about(has.air_time),
      std::move(expected));
}

std::optional<Violation> find_bad_number(const ArcAsk& ask) {
  const auto bad = [](const std::optional<double>& value) {
    return value && (!(*value > 0) || !std::isfinite(*value));
  };
  struct Given {
    const char* name;
    std::optional<double> value;
    Dimension dimension;
  };
  const Given all[] = {{"height", ask.jump.height, Dimension::length},
                       {"apex time", ask.jump.apex_time, Dimension::time},
                       {"launch speed", ask.jump.launch_speed, Dimension::speed},
                       {"gravity", ask.jump.gravity, Dimension::acceleration},
                       {"air time", ask.air_time, Dimension::time},
                       {"distance", ask.distance, Dimension::length},
                       {"top speed", ask.top_speed, Dimension::speed},
                       {"fall factor", ask.fall_factor, Dimension::number},
                       {"terminal speed", ask.terminal_speed, Dimension::speed}};
  for (const Given& given : all) {
    if (bad(given.value)) {
      return Violation{"", Phrase(given.name) + " " + Quantity{*given.value, given.dimension},
                       "more than 0, and finite"};
    }
  }
  return std::nullopt;
}

// The air time asked for, directly or as a distance at top speed.
tl::expected<std::optional<double>, Violation> asked_air_time(const ArcAsk& ask) {
  if (!ask.distance) return ask.air_time;
  if (!ask.top_speed)
    return refuse("a distance alone", "a top speed with it, at which it is covered");
  const double from_distance = *ask.distance / *ask.top_speed;
  if (ask.air_time && std::abs(*ask.air_time - from_distance) > kAgreement * from_distance) {
    return refuse(Phrase("an air time of ") + time_of(*ask.air_time) + " where " +
                      length_of(*ask.distance) + " at " + speed_of(*ask.top_speed) + " take " +
                      about(from_distance),
                  "one of them omitted");
  }
  return from_distance;
}

// The one quantity that was given, in words.
std::string given_alone(const ArcAsk& ask) {
  const char* name = ask.jump.height         ? "height"
                     : ask.jump.apex_time    ? "apex time"
                     : ask.jump.launch_speed ? "launch speed"
                     : ask.jump.gravity      ? "gravity"
                     : ask.air_time          ? "air time"
                                             : "distance";
  return fmt::format("{} alone", name);
}

}  // namespace

Fall predict_fall(double height, double gravity, std::optional<double> terminal_speed,
                  const Hang& hang) noexcept {
  constexpr double kNoLimit = std::numeric_limits<double>::infinity();
  const double limit = terminal_speed.value_or(kNoLimit);
  Fall fall;
  double left = height;
  // Falls on at `rate` until it is as fast as `until`, or down.
  const auto gather = [&](double rate, double until) {
    const double way = (until * until - fall.speed * fall.speed) / (2 * rate);
    if (!(way < left)) until = std::sqrt(fall.speed * fall.speed + 2 * rate * left);
    fall.time += (until - fall.speed) / rate;
    left = way < left ? left - way : 0;
    fall.speed = until;
  };
  if (hang.below_speed > 0) gather(gravity * hang.gravity, std::min(hang.below_speed, limit));
  if (left > 0 && fall.speed < limit) gather(gravity, limit);
  if (left > 0) fall.time += left / fall.speed;
  return fall;
}

ArcShape predict_arc(const ArcConstants& constants) noexcept {
  const Apex apex = predict_apex(constants.launch_speed, constants.gravity, {}, constants.shape);
  const Fall fall = predict_fall(apex.height, constants.gravity * constants.fall_factor,
                                 constants.terminal_speed, constants.shape.hang);
  return {apex.height, apex.time, apex.time + fall.time, fall.speed};
}

tl::expected<ArcConstants, Violation> derive_arc(const ArcAsk& ask, const JumpLoop& loop) {
  if (auto bad = find_bad_number(ask)) return tl::unexpected(std::move(*bad));
  const auto air_time = asked_air_time(ask);
  if (!air_time) return tl::unexpected(air_time.error());
  const int given = (ask.jump.height ? 1 : 0) + (ask.jump.apex_time ? 1 : 0) +
                    (ask.jump.launch_speed ? 1 : 0) + (ask.jump.gravity ? 1 : 0);
  if (given + (*air_time ? 1 : 0) < 2) {
    return refuse(given == 0 && !*air_time ? "nothing" : given_alone(ask),
                  "two of height, apex time, launch speed, gravity and air time, or one of them "
                  "with a distance and a top speed");
  }
  JumpAsk jump = ask.jump;
  if (*air_time && given == 1) {
    auto solved = solve_with_air_time(ask, **air_time);
    if (!solved) return tl::unexpected(solved.error());
    jump = *solved;
  }
  const JumpAnswer answer = derive_jump(jump, loop, ask.shape);
  if (!answer.ok()) return tl::unexpected(answer.refusal);
  if (*air_time && given > 1) {
    const JumpAnswer continuous = derive_jump(jump, {}, ask.shape);
    const ArcShape has = predict_arc({continuous.gravity, continuous.launch_speed, ask.fall_factor,
                                      ask.terminal_speed, ask.shape});
    if (std::abs(has.air_time - **air_time) > kAgreement * **air_time) {
      return refuse_air_time(ask, has, **air_time);
    }
  }
  return ArcConstants{answer.gravity, answer.launch_speed, ask.fall_factor, ask.terminal_speed,
                      ask.shape};
}

}  // namespace bushbaby
