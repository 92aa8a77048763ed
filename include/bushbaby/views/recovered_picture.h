// A recording beside what was recovered from it.
#pragma once

#include <string>

#include <bushbaby/data/units.h>
#include <bushbaby/lab/recover.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

/// Recorded points over the recovered curves, heights over time since take-off; and beside it what
/// is left between the two. The recording must have flights.
[[nodiscard]] Picture draw(const Recovered& recovered, const std::string& title,
                           const Units& units);

}  // namespace bushbaby
