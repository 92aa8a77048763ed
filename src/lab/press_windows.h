// Coyote time and buffer, from presses that came late or early.
#pragma once

#include <optional>

#include "bushbaby/lab/recording.h"

#include "flights.h"

namespace bushbaby::detail {

// A window lies between what worked and what did not, s.
struct WindowReading {
  std::optional<double> longest_in;    // the longest way off that still worked
  std::optional<double> shortest_out;  // the shortest way off that did not
  int presses = 0;                     // that say anything of it
};

struct WindowReadings {
  WindowReading coyote;  // from leaving the ground to the press
  WindowReading buffer;  // from the press to the jump at the landing
};

WindowReadings read_windows(const Recording& recording, const Flights& flights);

}  // namespace bushbaby::detail
