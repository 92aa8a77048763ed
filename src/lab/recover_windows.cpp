#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "press_windows.h"
#include "reporting.h"

namespace bushbaby::detail {
namespace {

class WindowRecoverer {
 public:
  WindowRecoverer(const Surveyed& surveyed, Reporter& reporter)
      : recording_(surveyed.recording),
        flights_(surveyed.flights),
        reporter_(reporter),
        found_(reporter.found()) {}

  void recover() {
    const WindowReadings windows = read_windows(recording_, flights_);
    report_window(
        "jump.coyote", windows.coyote, found_.tuning.jump.coyote, "after the ground was lost",
        "walk off a ledge and press jump a little later each time, until it no longer jumps");
    report_window(
        "jump.buffer", windows.buffer, found_.tuning.jump.buffer, "before the landing",
        "jump, and press again a little earlier before the landing each time, until it no "
        "longer jumps");
  }

 private:
  void report_window(const char* key, const WindowReading& reading, Duration& knob,
                     const char* when, const std::string& to_do) {
    const bool knows = recording_.has_jump && recording_.has_ground;
    const std::string to_record =
        knows ? to_do
              : "the button, and whether it stands, as well (columns jump and grounded); then " +
                    to_do;
    if (!knows || reading.presses == 0) {
      reporter_.add(key, RecoverEnd::undetermined,
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
      reporter_.add(key, RecoverEnd::undetermined,
                    fmt::format("of {} {} some worked that came later than others that did not",
                                presses, when),
                    to_record);
      return;
    }
    if (!reading.longest_in) {
      RecoveredKnob& none =
          reporter_.add(key, RecoverEnd::none_seen,
                        fmt::format("of {} {} none worked", presses, when), to_record);
      none.estimate = {0, 0, *reading.shortest_out};
      return;
    }
    const double in = *reading.longest_in;
    if (!reading.shortest_out) {
      RecoveredKnob& least =
          reporter_.add(key, RecoverEnd::undetermined,
                        fmt::format("all of {} {} worked: it is at least that", presses, when),
                        "the same later, until it no longer does; " + to_record);
      least.estimate = {in, in, in};
      return;
    }
    // In ticks, what did not work is one too many.
    const double out = found_.on_ticks ? *reading.shortest_out - tick : *reading.shortest_out;
    RecoveredKnob& window =
        reporter_.add(key, RecoverEnd::measured,
                      fmt::format("{} {}: between what worked and what did not", presses, when));
    const double value = found_.on_ticks ? in : (in + out) / 2;
    window.estimate = {value, in, std::max(in, out)};
    window.in_ticks = found_.on_ticks;
    knob = found_.on_ticks ? Duration{std::round(value * found_.tick_rate), Duration::Unit::ticks}
                           : Duration{value};
  }

  const Recording& recording_;
  const Flights& flights_;
  Reporter& reporter_;
  Recovered& found_;
};

}  // namespace

void recover_windows(const Surveyed& surveyed, Reporter& reporter) {
  WindowRecoverer(surveyed, reporter).recover();
}

}  // namespace bushbaby::detail
