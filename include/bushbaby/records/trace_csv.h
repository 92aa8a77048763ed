// Traces as CSV.
#pragma once

#include <string>
#include <string_view>

#include <bushbaby/data/convention.h>
#include <bushbaby/data/problem.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// The header of a trace: times in s, places of the feet in u, speeds in u/s.
inline constexpr const char* kTraceHeader = "tick,time,x,y,vx,vy,stance,grounded,held,events";

/// A trace, one row a sample. Numbers read back as the same bits. The events of a row happened in
/// the tick that ended there. Places, speeds and times are in the convention.
[[nodiscard]] std::string write_trace(const Trace& trace, const Convention& convention = {});

/// An event as a trace writes it: kind, detail, value and how far into the tick, such as
/// "left_ground:jumped@0" or "landed=18.2@0.63".
[[nodiscard]] std::string event_text(const Event& event);

/// Reads a trace as `write_trace` writes it, or from another source: columns `tick` or `time`, `x`
/// and `y` must be there, the others may be. Without speeds they are those from row to row; without
/// ticks the rows are ticks, at the rate that the times tell. At least two rows.
[[nodiscard]] Result<Trace> parse_trace(std::string_view text, const std::string& path);
[[nodiscard]] Result<Trace> load_trace(const std::string& path);

}  // namespace bushbaby
