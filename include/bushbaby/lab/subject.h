// A subject: anything that drills can be run on. Ours is `CharacterSubject`; a game wraps its own
// controller in the same few functions, and everything in the lab works on it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/core/motion/advance.h>
#include <bushbaby/core/motion/why.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/core/world/level.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// The kinds of place that a drill may need.
enum class Terrain {
  floor,  ///< level ground at y = 0, without end
  wall,   ///< the same, with a high wall whose face is at `mark`
  ledge,  ///< level ground at y = 0 that ends at `mark`; below lies another floor
  level,  ///< a given level
  zone,   ///< one with the subject's zone in it
};

[[nodiscard]] std::string_view name_of(Terrain terrain) noexcept;

/// Where a subject is put. `level` holds the solids of every terrain, so that a subject with a
/// collision of its own can build them.
struct Stage {
  Terrain terrain = Terrain::floor;
  Level level;
  double mark = 0;  ///< x of the terrain's feature, u
};

/// Stages for a body about `size` (u) large: their ends are farther than any drill runs.
[[nodiscard]] Stage floor_stage(double size = 1);
[[nodiscard]] Stage wall_stage(double wall_x, double size = 1);
/// A ledge that ends at `edge_x`, `depth` above the floor below it.
[[nodiscard]] Stage ledge_stage(double edge_x, double depth, double size = 1);
[[nodiscard]] Stage level_stage(Level level);

/// What a subject says of itself.
struct SubjectTraits {
  std::string name;
  double tick_rate = 60;       ///< Hz
  double body_width = 1;       ///< u
  double body_height = 1;      ///< u
  double body_radius = 0;      ///< u, of its corners
  bool gives_events = false;   ///< `events` reports what happened; otherwise it is inferred
  bool true_curve = false;     ///< its events carry fractions of a tick
  std::optional<Zone> zone{};  ///< that it can be put into, or next to, wherever a stage has it
};

class Subject {
 public:
  virtual ~Subject() = default;

  [[nodiscard]] virtual SubjectTraits traits() const = 0;

  /// Whether it can be put on such a terrain.
  [[nodiscard]] virtual bool can_stand_on(Terrain terrain) const = 0;

  /// Puts it on the stage, at rest at the level's start; false if that cannot be.
  [[nodiscard]] virtual bool place(const Stage& stage) = 0;

  /// One tick under `controls`.
  virtual void advance(const Controls& controls) = 0;

  /// The state now. `tick` counts from 0 at `place`; `held` need not be filled in.
  [[nodiscard]] virtual Sample observe() const = 0;

  /// Pushes it before the next tick: sets its velocity (u/s, x to the right, y up) as a blow would.
  /// False if it cannot be pushed, or not so.
  [[nodiscard]] virtual bool push(Vec /*velocity*/) { return false; }

  /// What happened in the last tick; only asked for if the traits say so.
  [[nodiscard]] virtual Events events() const { return {}; }

  /// A step of another length than a tick, s; false, and nothing happens, if all of its steps are
  /// ticks.
  [[nodiscard]] virtual bool advance_for(const Controls& /*controls*/, double /*seconds*/) {
    return false;
  }

  /// Remembers the state now, instead of what it remembered before, so that `go_back` brings
  /// it back until it is placed again. False if it cannot: then it is run again from the start.
  [[nodiscard]] virtual bool keep() { return false; }
  virtual void go_back() {}
};

/// What a tick of a character of ours begins with.
struct Situation {
  const Character& character;
  const Controls& held;
  const Rulebook& book;
  const World& world;
};

/// A character's state as a trace has it.
[[nodiscard]] Sample sample_of(const Character& character);

/// A character of ours, moved by `bushbaby::advance`.
class CharacterSubject final : public Subject {
 public:
  explicit CharacterSubject(const Rules& rules, std::string name = {})
      : CharacterSubject(Rulebook(rules), std::move(name)) {}
  /// One that knows the zones of the levels that it is put in: the book must be compiled for them.
  explicit CharacterSubject(Rulebook book, std::string name = {});

  /// From now on stages may have that zone, in whatever shape; its point, if it pulls towards one,
  /// is [0, 0] there. False, and nothing changes, if the tuning cannot be had in it.
  [[nodiscard]] bool know(const Tuning& tuning, Zone zone);

  [[nodiscard]] SubjectTraits traits() const override;
  [[nodiscard]] bool can_stand_on(Terrain terrain) const override;
  [[nodiscard]] bool place(const Stage& stage) override;
  void advance(const Controls& controls) override;
  [[nodiscard]] Sample observe() const override;
  [[nodiscard]] bool push(Vec velocity) override;
  [[nodiscard]] Events events() const override { return events_; }
  [[nodiscard]] bool keep() override {
    kept_ = character_;
    return true;
  }
  void go_back() override { character_ = kept_; }

  [[nodiscard]] const Character& character() const noexcept { return character_; }
  /// The rules in force.
  [[nodiscard]] const Rules& rules() const noexcept { return book().rules(character_.rules); }
  [[nodiscard]] Situation situation(const Controls& held) const {
    return {character_, held, book(), world_};
  }
  /// What the next tick under `controls` would decide.
  [[nodiscard]] Explanation why(const Controls& controls) const {
    return explain(character_, controls, book(), world_);
  }
  /// Which jump a press would give in the next tick, with those directions held.
  [[nodiscard]] Availability jump_now(const Controls& held) const {
    return available(character_, held, book(), world_);
  }

 private:
  [[nodiscard]] const Rulebook& book() const noexcept { return by_zone_ ? zone_book_ : book_; }

  Rulebook book_;
  Rulebook zone_book_;
  std::optional<Zone> zone_;
  bool by_zone_ = false;  // the stage has the zone
  std::string name_;
  LevelWorld world_;
  Character character_;
  Character kept_;
  Events events_;
};

/// Drives a subject and writes down what it does. Watching changes nothing.
class Recorder {
 public:
  /// The subject must have been placed.
  explicit Recorder(Subject& subject);

  void advance(const Controls& controls);

  [[nodiscard]] const Sample& now() const { return trace_.samples.back(); }
  /// The trace so far, with inferred events if the subject gives none.
  [[nodiscard]] Trace trace() const;
  /// The same as it is written down: without events if the subject gives none.
  [[nodiscard]] const Trace& trace_so_far() const noexcept { return trace_; }
  /// Strikes out what came after N ticks; the subject must have been reset to then.
  void forget_after(std::int64_t ticks);

 private:
  Subject& subject_;
  bool gives_events_;
  Trace trace_;
};

/// Runs inputs on a stage. Nothing if the subject cannot be placed there.
[[nodiscard]] std::optional<Trace> run_inputs(Subject& subject, const Stage& stage,
                                              const std::vector<Controls>& controls);

}  // namespace bushbaby
