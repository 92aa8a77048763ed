// Why a run went as it did: what each tick decided, and where two runs part.
//
//     for (const ExplainedTick& tick : explain_ticks(pip, stage, controls, presses_of(controls)))
//       print(tick);
#pragma once

#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

#include <bushbaby/core/motion/why.h>
#include <bushbaby/lab/subject.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// A tick of a run with what it decided. Ticks count from 1: tick k leads to row k of a trace.
struct ExplainedTick {
  std::int64_t tick = 1;
  Sample before;  ///< the state at its start
  Controls held;
  Explanation why;
  std::vector<Event> events;  ///< what happened in it
  /// The tick in which the jump button was pressed, if it is still held since an earlier one.
  std::optional<std::int64_t> jump_held_since;
  ZoneSet zones = no_zones();  ///< whose rules are in force
  /// Surfaces about the body that are solid at times, and what they are to it now.
  struct Conditional {
    SurfaceId surface = kNoSurface;
    Solidity solidity;
  };
  std::vector<Conditional> conditionals{};
};

/// A tick that begins so on a level and decides that; its events are not known yet.
[[nodiscard]] ExplainedTick explained_tick(const Situation& now, const Explanation& why,
                                           const Level& level);

/// Runs inputs on a stage and explains the ticks asked for, in order of time; ticks outside the
/// inputs are omitted. Nothing if the subject cannot be placed there.
[[nodiscard]] std::optional<std::vector<ExplainedTick>> explain_ticks(
    CharacterSubject& subject, const Stage& stage, const std::vector<Controls>& controls,
    const std::vector<std::int64_t>& ticks);

/// The ticks in which jump, dash or down is newly pressed.
[[nodiscard]] std::vector<std::int64_t> presses_of(const std::vector<Controls>& controls);

enum class Button { jump, down, dash };

/// "jump", "down", "dash".
[[nodiscard]] std::string_view name_of(Button button) noexcept;

/// What came of one press.
struct Press {
  Button button = Button::jump;
  std::int64_t tick = 1;  ///< in which it came
  bool lasted = true;     ///< the button was held up to the last tick that is named here

  enum class End {
    done,      ///< it did something, at once or when it was remembered
    charged,   ///< it filled a gauge, from which the body jumped when the button was released
    nothing,   ///< it did nothing, and nothing remembers it any more
    replaced,  ///< a new press took its place
    open,      ///< the inputs end while it is remembered, or while the gauge fills
  };
  End end = End::nothing;
  Trial trial;                  ///< what it did; otherwise what stood in its way when it came
  std::int64_t remembered = 0;  ///< decisions after the first that remembered it
  std::int64_t end_tick = 1;    ///< in which it was done, forgotten or replaced
  /// Of a press of jump that did nothing: the first later tick in which one would have jumped from
  /// the ground or a wall, if no other press came before that.
  std::optional<std::int64_t> too_soon_for;
};

/// Follows the presses of a run, tick by tick.
class PressFollower {
 public:
  PressFollower();
  ~PressFollower();
  PressFollower(const PressFollower& other);
  PressFollower& operator=(const PressFollower& other);

  /// Before a tick: what is the case, and what the tick decides.
  void see_decisions(const Situation& now, const Explanation& why);
  /// After it.
  void see_outcome(const Character& after, const std::vector<Event>& events);

  /// What came of each press so far, in order.
  [[nodiscard]] std::vector<Press> presses() const;

 private:
  class OfButton;
  std::vector<OfButton> buttons_;
};

/// Runs inputs on a stage and says what came of each press, in order. Nothing if the subject cannot
/// be placed there.
[[nodiscard]] std::optional<std::vector<Press>> follow_presses(
    CharacterSubject& subject, const Stage& stage, const std::vector<Controls>& controls);

/// The first tick in which two traces differ.
struct Parting {
  bool at_start = false;               ///< they differ before the first tick
  std::int64_t tick = 1;               ///< the first tick that ends in different samples
  std::vector<std::string_view> over;  ///< columns of a trace: "held", "x", "events", …
};

/// How many ticks two traces have samples of in common.
[[nodiscard]] std::size_t shared_samples(const Trace& a, const Trace& b);

/// Where two traces part, among the ticks that both have: the first tick in which what is held, a
/// number by more than `within` (in its own unit), the stance, the ground or the events differ.
/// Nothing if they do not as far as both go. Events count by kind and detail, and not at all if one
/// trace has none. The traces must have the same tick rate.
[[nodiscard]] std::optional<Parting> find_parting(const Trace& a, const Trace& b,
                                                  double within = 0);

}  // namespace bushbaby
