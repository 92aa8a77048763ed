// Overlay: variants of a character on the same inputs, or in the same drill, against one another.
//
//     std::vector<Variant> variants{*record_run(pip, "Pip", stage, inputs),
//                                   *record_run(heavy, "fall.factor=2.2", stage, inputs)};
//     for (const Compared& row : compare_arcs(variants)) print(row);
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <bushbaby/core/tuning/dimension.h>
#include <bushbaby/lab/drills.h>
#include <bushbaby/lab/playing.h>
#include <bushbaby/lab/subject.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// What a press of the jump button would do in a tick.
enum class Chance : std::uint8_t {
  nothing,
  ground,
  coyote,
  wall,
  air,
  other,  ///< a jump in a fluid, or out of it
};

/// "nothing", "ground", …
[[nodiscard]] std::string_view name_of(Chance chance) noexcept;

/// What such a jump starts from; whether that is in coyote time, its kind does not say.
[[nodiscard]] Chance chance_of(JumpKind kind) noexcept;

/// What is known of a tick beside its sample.
struct TickNote {
  Chance chance = Chance::nothing;
  bool remembers = false;         ///< an earlier press waits for its jump
  SurfaceId ground = kNoSurface;  ///< what the body stands on after it
};

/// Of a tick: what a press in it would have done, and the state after it.
[[nodiscard]] TickNote note_of(const Availability& press, const Character& after) noexcept;

/// One of the runs that are laid over one another.
struct Variant {
  std::string name;
  SubjectTraits traits;  ///< of whom it is; a recorded trace has no body
  Trace trace;           ///< of a drill, from the take-off on: ticks and places count from there
  std::vector<TickNote> notes{};  ///< by tick of the trace, from the first; empty: not known
  std::optional<Stall> stall{};
  std::optional<RecordedJump> jump{};  ///< of a drill
  std::vector<DrillReport> facts{};    ///< of the drills that were run on it
};

/// Plays inputs on a stage. Nothing if the subject cannot be placed there.
[[nodiscard]] std::optional<Variant> record_run(CharacterSubject subject, std::string name,
                                                const Stage& stage, const Inputs& inputs);

/// The jump of a drill that is one (`Drill::record`); nothing if the subject does not make it.
[[nodiscard]] std::optional<Variant> record_drill(CharacterSubject subject, std::string name,
                                                  const Drill& drill);

/// The tick, counted from the start of the trace, in which a press would next jump from the ground,
/// after an arc's take-off; of a trace without notes, the first that begins on the ground.
[[nodiscard]] std::optional<std::int64_t> ready_after(const Variant& variant, const Arc& arc);

/// A quantity of all variants: of the first, and of those that have it otherwise.
struct Compared {
  std::string what;
  Dimension dimension = Dimension::time;
  std::vector<std::optional<double>> values;  ///< by variant; nothing: it has none
};

/// Whether a variant has it as the first has.
[[nodiscard]] bool is_same(const Compared& row, std::size_t variant) noexcept;

/// What differs between arcs of the same number, the first `most` of them: height, air time,
/// distance, speed of landing, and when a press would jump from the ground again.
[[nodiscard]] std::vector<Compared> compare_arcs(const std::vector<Variant>& variants,
                                                 std::size_t most = 1000);

/// Of the first arc, when a press would jump from the ground again, if that differs.
[[nodiscard]] std::vector<Compared> compare_readiness(const std::vector<Variant>& variants);

/// When events happen, where that differs, in order of time. Each variant's events are matched with
/// those of the first by kind and detail, as many as can be in order. An event is called by its
/// number among those of its kind in the first, from the second on; without, if that lacks it.
[[nodiscard]] std::vector<Compared> compare_events(const std::vector<Variant>& variants);

/// The facts that differ.
[[nodiscard]] std::vector<Compared> compare_facts(const std::vector<Variant>& variants);

}  // namespace bushbaby
