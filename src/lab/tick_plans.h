// The ticks of a full jump on which its gravity changes.
//
// In a loop that goes in ticks, heights jump where a constant decides on another tick what happens;
// between such places they are linear in launch speed and accelerations. So the places are whole
// numbers to be counted through, each with one small least squares. What is found is where a fit
// through the code that moves begins, no more.
#pragma once

#include <cstddef>
#include <vector>

#include "flight_problem.h"

namespace bushbaby::detail {

// Constants for full jumps, near the ones given, from which heights go best: at most this many, the
// best first. Those with a hang band lie in the middle of the speeds that the band may end at.
std::vector<FlightConstants> plan_ticks(const std::vector<Track>& full, const FlightConstants& near,
                                        const FlightClock& clock, std::size_t most);

}  // namespace bushbaby::detail
