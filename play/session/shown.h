// What a session reports in a few words.
#pragma once

#include <string>

#include "bushbaby/data/units.h"
#include "bushbaby/lab/explain.h"

#include "target_arc.h"

namespace bushbaby::live {

/// A press of jump that came to nothing: "2 ticks late", "4 ticks early"; empty if nothing can be
/// said so, or it was off by more than a quarter of a second: it was meant for something else.
[[nodiscard]] std::string lateness_text(const Press& press, double tick_rate);

/// A landing in a line: "3.25 u high (on target), 0.65 s in the air (0.02 under), 4.7 u far".
[[nodiscard]] std::string landing_text(const Landing& landing, const Units& units);

}  // namespace bushbaby::live
