// Rates: one tuning at several tick rates and in all loops.
//
//     for (const LoopVariant& one : loop_variants(tuning, {30, 120})) measure(one.tuning);
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include <bushbaby/core/tuning/compile.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/lab/overlay.h>
#include <bushbaby/lab/subject.h>
#include <bushbaby/lab/trace.h>

namespace bushbaby {

/// A tuning in a loop.
struct LoopVariant {
  std::string name;  ///< "30 Hz", "semi_implicit"
  Tuning tuning;
  std::vector<Rounding> roundings;  ///< windows that are no whole ticks there
};

/// The tuning in its own loop; then at each of the rates (Hz), those that it has itself omitted;
/// then, at its own rate, in every other loop, with gravity on the launch tick and without. Windows
/// in ticks keep their length. Rates at which it cannot be are omitted.
[[nodiscard]] std::vector<LoopVariant> loop_variants(const Tuning& base,
                                                     const std::vector<double>& rates);

/// The constants with which the standing jump of another loop is as high and as long in its rise as
/// that of the first.
struct KeptJump {
  double launch_speed = 0;  ///< u/s
  double gravity = 0;       ///< u/s²
  double height = 0;        ///< u, measured with them
  double apex_time = 0;     ///< s, measured with them: of a stepped loop, whole ticks
};
/// Nothing if both jump to the same height already, within a billionth, or one of them does not
/// jump.
[[nodiscard]] std::optional<KeptJump> keep_jump(const Tuning& base, const Tuning& other);

/// The facts of the named drills, or of all if none is named, that differ between loops.
[[nodiscard]] std::vector<Compared> compare_loops(const std::vector<LoopVariant>& loops,
                                                  const std::vector<std::string>& only = {});

/// When two traces of whatever rates are first apart, at times that are ends of ticks of both.
struct Drift {
  double compared = 0;          ///< s up to which they were compared
  std::optional<double> apart;  ///< s: the first time at which they are farther apart than asked
  double farthest = 0;          ///< u
};
[[nodiscard]] Drift find_drift(const Trace& a, const Trace& b, double within);

/// A subject whose steps are uneven, as a game's are whose step is the time since the last picture:
/// each second one is longer by some share of a tick, at random up to `jitter`, and the next
/// shorter by the same, so that two last two ticks. Its facts beside those of the subject itself
/// say what of it depends on the length of a step.
class UnevenSubject final : public Subject {
 public:
  /// `jitter` from 0 up to less than 1. The same seed gives the same steps.
  UnevenSubject(Subject& subject, double jitter, std::uint32_t seed = 1);

  /// Whether the subject takes steps of any length.
  [[nodiscard]] static bool accepts(Subject& subject);

  [[nodiscard]] SubjectTraits traits() const override { return subject_.traits(); }
  [[nodiscard]] bool can_stand_on(Terrain terrain) const override {
    return subject_.can_stand_on(terrain);
  }
  [[nodiscard]] bool place(const Stage& stage) override;
  void advance(const Controls& controls) override;
  [[nodiscard]] Sample observe() const override { return subject_.observe(); }
  [[nodiscard]] bool push(Vec velocity) override { return subject_.push(velocity); }
  [[nodiscard]] Events events() const override { return subject_.events(); }

 private:
  Subject& subject_;
  double jitter_;
  std::uint32_t seed_;
  std::uint64_t state_ = 0;
  double share_ = 0;        // of the pair that is under way
  bool is_second_ = false;  // step of its pair
};

}  // namespace bushbaby
