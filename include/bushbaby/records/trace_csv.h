// Traces as CSV.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include <bushbaby/data/problem.h>
#include <bushbaby/data/units.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// The header of a trace in those units: "tick,time s,x u,y u,vx u/s,vy u/s,stance,…"; of numbers
/// with y down, "y px down".
[[nodiscard]] std::string trace_header(const Units& units);

/// A trace, one row a sample; row k is the state after tick k, and its events happened in tick k.
/// Numbers read back as the same bits. Places, speeds and times are in the units.
[[nodiscard]] std::string write_trace(const Trace& trace, const Units& units);
/// The same in world units.
[[nodiscard]] std::string write_trace(const Trace& trace);

/// An event as a trace writes it: kind, detail, value and how far into the tick, such as
/// "left_ground:jumped@0" or "landed=18.2@0.63".
[[nodiscard]] std::string event_text(const Event& event, const Units& units);

/// A trace with what its numbers were in: a length of its own is one world unit in `trace`, and so
/// is reported by `units` again.
struct TraceFile {
  Trace trace;
  Units units;
};

/// Reads a trace as `write_trace` writes it, or from another source: columns `tick` or `time`, `x`
/// and `y` must be there, the others may be. A heading may say the column's unit; without one times
/// are in s, and lengths in u. Without speeds they are those from row to row; without ticks the
/// rows are ticks, at the rate that the times report. At least two rows.
[[nodiscard]] Result<TraceFile> parse_trace(std::string_view text, const std::string& path);
[[nodiscard]] Result<TraceFile> load_trace(const std::string& path);

/// A trace in world units and seconds: its lengths and ticks are meant as those of `units`, which
/// must call its length so. Nothing if they do not.
[[nodiscard]] std::optional<Trace> in_world_units(const TraceFile& file, const Units& units);

}  // namespace bushbaby
