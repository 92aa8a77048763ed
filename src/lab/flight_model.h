// Free flight by the code that moves: heights over time for constants that a recording may report.
#pragma once

#include <cstddef>
#include <map>
#include <optional>
#include <utility>
#include <vector>

#include "bushbaby/core/motion/character.h"
#include "bushbaby/core/motion/rules.h"
#include "bushbaby/core/tuning/tuning.h"

namespace bushbaby::detail {

struct FlightConstants {
  double launch_speed = 1;  // u/s
  double gravity = 1;       // u/s², while rising
  double fall_factor = 1;
  double terminal_speed = 0;  // u/s; 0: no limit
  double band = 0;            // u/s, of the hang band
  double band_gravity = 1;
  double sustain = 0;  // s
  CutStyle cut = CutStyle::none;
  double cut_amount = 0.5;  // what a `scale` cut keeps, or the factor of a `weight` cut
};

// The tuning with those constants instead of its own.
Tuning with_flight(Tuning tuning, const FlightConstants& constants);

// How the time of a flight goes.
struct FlightClock {
  Integrator integrator = Integrator::exact;
  double tick_rate = 60;  // Hz
  // Whether it goes in ticks of that loop; otherwise the exact loop is run in steps that end where
  // something happens.
  bool in_ticks = false;
  bool points_on_ticks = false;  // whether every recorded point is the end of a tick
};

// A tick of a loop moves by its speed at the end so much, and for the rest by that at its start.
// As the step does it, of a jump in ticks.
double later_share(Integrator integrator);

struct FlightRun {
  bool jumps = true;
  double hold = 0;   // s for which the button is held; in ticks the nearest
  double until = 1;  // s
};

// Height and vertical speed from the moment at which the ground is left.
class FlightCurve {
 public:
  explicit FlightCurve(bool straight = false) : straight_(straight) {}
  void add(double time, double height, double speed);
  // The curve up to this many of its moments, with room for as many.
  [[nodiscard]] FlightCurve first(std::size_t count, std::size_t room) const;
  // u over the ground that was left; 0 before that. Between the times of the run it is a cubic, or
  // straight, as a game draws what it knows at ticks alone.
  [[nodiscard]] double height_at(double time) const noexcept;
  // The same for times that grow from call to call: `from` is where the last one was found, 0 at
  // first.
  [[nodiscard]] double height_at(double time, std::size_t& from) const noexcept;
  [[nodiscard]] const std::vector<double>& times() const noexcept { return times_; }
  [[nodiscard]] const std::vector<double>& heights() const noexcept { return heights_; }
  [[nodiscard]] const std::vector<double>& speeds() const noexcept { return speeds_; }

 private:
  bool straight_ = false;
  std::vector<double> times_, heights_, speeds_;
};

// Runs flights of one set of constants; rules are made once for all of them.
class FlightPlayer {
 public:
  FlightPlayer(const FlightConstants& constants, const FlightClock& clock);
  // Constants under which jumps that are held go the same: what was run of them need not be again.
  FlightPlayer(const FlightPlayer& held, const FlightConstants& constants);
  // Nothing if the constants make no tuning.
  [[nodiscard]] std::optional<FlightCurve> fly(const FlightRun& run);

 private:
  // The rules at a tick rate, with the launch speed held for so long.
  const Rules* rules_at(double tick_rate, double sustain);
  std::optional<FlightCurve> in_ticks(const FlightRun& run);
  std::optional<FlightCurve> in_phases(const FlightRun& run);

  // A flight in ticks up to where its button is released.
  struct Begun {
    std::vector<Character> after;  // N ticks
    FlightCurve curve{true};
  };

  FlightClock clock_;
  Tuning tuning_;
  Begun jumps_, falls_;
  std::map<std::pair<double, double>, std::optional<Rules>> rules_;
};

}  // namespace bushbaby::detail
