#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "press_windows.h"
#include "telling.h"

namespace bushbaby::detail {
namespace {

class WindowRecoverer {
 public:
  WindowRecoverer(const Surveyed& surveyed, Teller& teller)
      : recording_(surveyed.recording),
        flights_(surveyed.flights),
        teller_(teller),
        found_(teller.found()) {}

  void recover() {
    const WindowReadings windows = read_windows(recording_, flights_);
    tell_window(
        "jump.coyote", windows.coyote, found_.tuning.jump.coyote, "after the ground was lost",
        "walk off a ledge and press jump a little later each time, until it no longer jumps");
    tell_window("jump.buffer", windows.buffer, found_.tuning.jump.buffer, "before the landing",
                "jump, and press again a little earlier before the landing each time, until it no "
                "longer jumps");
  }

 private:
  void tell_window(const char* key, const WindowReading& reading, Duration& knob, const char* when,
                   const std::string& to_do) {
    const bool knows = recording_.has_jump && recording_.has_ground;
    const std::string to_record =
        knows ? to_do
              : "the button, and whether it stands, as well (columns jump and grounded); then " +
                    to_do;
    if (!knows || reading.presses == 0) {
      teller_.add(key, RecoverEnd::cannot_tell,
                  knows ? fmt::format("no press came {}", when)
                  : recording_.has_jump
                      ? "where the ground begins and ends shows too late in heights alone"
                      : "presses were not recorded",
                  to_record);
      return;
    }
    const double tick = 1 / found_.tick_rate;
    const std::string presses =
        counted(static_cast<std::size_t>(reading.presses), "press", "presses");
    if (reading.longest_in && reading.shortest_out &&
        *reading.longest_in >= *reading.shortest_out) {
      teller_.add(key, RecoverEnd::cannot_tell,
                  fmt::format("of {} {} some worked that came farther off than others that did not",
                              presses, when),
                  to_record);
      return;
    }
    if (!reading.longest_in) {
      RecoveredKnob& none =
          teller_.add(key, RecoverEnd::none_seen,
                      fmt::format("of {} {} none worked", presses, when), to_record);
      none.estimate = {0, 0, *reading.shortest_out};
      return;
    }
    const double in = *reading.longest_in;
    if (!reading.shortest_out) {
      RecoveredKnob& least =
          teller_.add(key, RecoverEnd::cannot_tell,
                      fmt::format("all of {} {} worked: it is at least that", presses, when),
                      "the same later, until it no longer does; " + to_record);
      least.estimate = {in, in, in};
      return;
    }
    // In ticks, what did not work is one too many.
    const double out = found_.on_ticks ? *reading.shortest_out - tick : *reading.shortest_out;
    RecoveredKnob& window =
        teller_.add(key, RecoverEnd::measured,
                    fmt::format("{} {}: between what worked and what did not", presses, when));
    const double value = found_.on_ticks ? in : (in + out) / 2;
    window.estimate = {value, in, std::max(in, out)};
    window.in_ticks = found_.on_ticks;
    knob = found_.on_ticks ? Duration{std::round(value * found_.tick_rate), Duration::Unit::ticks}
                           : Duration{value};
  }

  const Recording& recording_;
  const Flights& flights_;
  Teller& teller_;
  Recovered& found_;
};

}  // namespace

void recover_windows(const Surveyed& surveyed, Teller& teller) {
  WindowRecoverer(surveyed, teller).recover();
}

}  // namespace bushbaby::detail
