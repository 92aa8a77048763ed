// A session of play, without a window: who is played, with which numbers, and what was played.
//
//     Session session(setup);
//     session.hands().press(Held::right);
//     session.frame(1 / 60.0);
//     session.desk().set(*find_place("fall.factor"), 2.4);
//     draw(session.pose(), session.played(), session.again());
//
// It moves nothing itself: every tick is made by `bushbaby::advance`.
#pragma once

#include <cstdint>
#include <deque>
#include <optional>
#include <string>
#include <vector>

#include "bushbaby/core/motion/pose.h"
#include "bushbaby/core/world/level.h"
#include "bushbaby/lab/explain.h"
#include "bushbaby/lab/targets.h"

#include "desk.h"
#include "ghost.h"
#include "hands.h"
#include "pacer.h"
#include "reel.h"
#include "target_arc.h"

namespace bushbaby::live {

struct Opening {
  TuningFile file;
  Level level;
  Rulebook book;                    ///< of the file, for the level
  std::optional<Tuning> present{};  ///< what is set at first, if not what the file says
  std::vector<Target> targets{};
  Ghost ghost{};
  std::vector<Controls> inputs{};  ///< that are played first, from the start
};

class Session {
 public:
  explicit Session(Opening setup);

  [[nodiscard]] Desk& desk() noexcept { return desk_; }
  [[nodiscard]] const Desk& desk() const noexcept { return desk_; }
  [[nodiscard]] Hands& hands() noexcept { return hands_; }
  [[nodiscard]] const Level& level() const noexcept { return desk_.level(); }
  [[nodiscard]] const World& world() const noexcept { return world_; }
  [[nodiscard]] const std::vector<Target>& targets() const noexcept { return targets_; }

  // ---- time -------------------------------------------------------------------------------------

  /// Makes the ticks that are due after N seconds more, unless it is paused.
  void frame(double seconds);
  /// Makes a tick with that held, whatever the hands hold, and goes on from it.
  void play(const Controls& held);
  /// Makes the next tick with what the hands hold. Behind a place that was gone back to, what had
  /// come is forgotten.
  void advance();

  void pause(bool paused);
  [[nodiscard]] bool is_paused() const noexcept { return paused_; }
  /// 1: as fast as it is; 0.25: slow motion.
  void set_speed(double speed) noexcept { pacer_.set_speed(speed); }
  [[nodiscard]] double speed() const noexcept { return pacer_.speed(); }
  /// Pauses, and shows the tick after, or makes a new one; or the tick before.
  void step_forward();
  void step_back();
  /// Pauses, and shows the end of a tick, as near as it is kept.
  void scrub(std::int64_t tick);

  /// From the level's start, at tick 0; what was played is forgotten.
  void restart();
  /// The same from another place; false, and nothing happens, if there is no room.
  bool restart_at(Vec feet);

  /// The tick that is shown: the last one, unless it was gone back from there.
  [[nodiscard]] std::int64_t shown() const noexcept { return shown_; }
  [[nodiscard]] const Reel& reel() const noexcept { return reel_; }
  [[nodiscard]] const Character& character() const { return reel_.at(shown_); }
  /// How much of the way from the tick before to the one that is shown is drawn, 0 … 1.
  [[nodiscard]] double share() const noexcept;
  /// Between those two.
  [[nodiscard]] Pose pose() const;
  [[nodiscard]] const Rules& rules() const { return book().rules(character().rules); }

  // ---- comparing --------------------------------------------------------------------------------

  /// While it is held, the file's numbers are in force. False if they cannot be put on in the
  /// middle of a jump: another loop, or another body.
  bool hold_file(bool held);
  /// While it is held, a knob is amplified (see `Desk::amplify`).
  bool hold_amplified(const KnobPlace* place);
  [[nodiscard]] InForce in_force() const noexcept { return whose_; }
  [[nodiscard]] const Rulebook& book() const noexcept { return desk_.book(whose_); }

  /// The last take, as it was played: from the last standstill before it on.
  [[nodiscard]] const Trace& played() const noexcept { return played_; }
  /// The same inputs again with what is in force now; nothing if they were played so.
  [[nodiscard]] const std::optional<Trace>& again() const noexcept { return again_; }

  void set_ghost(Ghost ghost);
  [[nodiscard]] const Ghost& ghost() const noexcept { return ghost_; }

  // ---- what is reported
  // -----------------------------------------------------------------------------

  [[nodiscard]] const TargetJumps& target_jumps() const noexcept { return target_jumps_; }
  /// The last jumps that ended in a landing, the newest last.
  [[nodiscard]] const std::deque<Landing>& landings() const noexcept { return landings_; }
  /// The last of them up to the tick that is shown; null if there is none.
  [[nodiscard]] const Landing* last_landing() const noexcept;
  /// What came of the presses that the reel has, in order.
  [[nodiscard]] std::vector<Press> presses() const;
  /// Why the tick that is shown decided as it did; nothing before the first.
  [[nodiscard]] std::optional<ExplainedTick> why() const;

  /// What was held since the last restart, up to the tick that is shown.
  [[nodiscard]] std::vector<Controls> inputs_so_far() const;
  /// Whether those inputs, run from the level's start with what is in force, give the same again:
  /// it was started there, and nothing was changed since.
  [[nodiscard]] bool is_repeatable() const noexcept;

  /// A stretch begins at the tick that is shown, until the next restart; marked there already, it
  /// begins with the reel again.
  void mark();
  /// The tick at whose end the stretch begins, if one was marked and is still kept.
  [[nodiscard]] std::optional<std::int64_t> marked() const noexcept;
  /// From there, or else from the beginning of the reel, up to the tick that is shown.
  [[nodiscard]] Trace stretch() const;

 private:
  void begin(const Character& character, bool at_start);
  void make_world();
  void forget_what_came();
  void keep_up_with_desk();
  void begin_take(const Character& character);
  void rebuild_take();
  void refresh_trails();
  [[nodiscard]] Trace play_again(std::int64_t from, std::int64_t to) const;
  [[nodiscard]] Controls next_controls();
  void make_tick(const Controls& held);

  Desk desk_;
  Hands hands_;
  Pacer pacer_;
  LevelWorld world_;
  double tick_rate_;
  Box body_;
  std::vector<Target> targets_;
  TargetJumps target_jumps_;
  Reel reel_;
  std::int64_t shown_ = 0;
  bool paused_ = false;
  bool is_whole_ = true;  // the tick is drawn as it ends
  InForce whose_ = InForce::present;

  std::vector<Controls> inputs_;  // that are played before the hands
  std::size_t next_input_ = 0;
  std::vector<Controls> held_;  // since the restart
  std::int64_t restarted_ = 0;  // its tick
  bool from_start_ = true;
  std::uint64_t start_version_ = 0;
  bool compared_ = false;  // other numbers than those that are set were in force since then

  std::optional<std::int64_t> mark_;
  std::int64_t take_ = 0;  // the tick at whose end the last take begins
  PressFollower follower_;
  std::deque<Press> presses_;  // of earlier takes
  Ghost ghost_;
  Trace played_;
  std::optional<Trace> again_;
  std::deque<Landing> landings_;
  std::uint64_t seen_version_ = 0;
  std::uint64_t trails_version_ = 0;
  std::int64_t trails_tick_ = -1;
};

}  // namespace bushbaby::live
