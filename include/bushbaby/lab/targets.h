// Targets: what facts, and whole arcs, should be; and the verdict on a subject.
//
//     const Judgement judgement = judge(targets, subject);
//     for (const Verdict& verdict : judgement.verdicts) print(verdict);
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <bushbaby/lab/drills.h>
#include <bushbaby/lab/run_targets.h>

namespace bushbaby {

/// The values that count as met.
struct Bound {
  enum class Form {
    aim,       ///< within `hi` of `lo`
    between,   ///< from `lo` to `hi`
    at_least,  ///< `lo` or more
    at_most,   ///< `hi` or less
  };
  Form form = Form::aim;
  double lo = 0;
  double hi = 0;
};

/// The values that meet a bound; without an end where it has none.
[[nodiscard]] Range range_of(const Bound& bound) noexcept;

/// Whether a value is met (on the bound it is, whatever the rounding), and how far it is off: for
/// `aim` its signed distance from the aim, for the others its signed distance from the nearest
/// value that is met.
[[nodiscard]] bool is_met(const Bound& bound, double value) noexcept;
[[nodiscard]] double off_by(const Bound& bound, double value) noexcept;

/// A point of a reference curve, from take-off: way along the floor or time, and height.
struct CurvePoint {
  double across = 0;  ///< u, or s
  double height = 0;  ///< u
};

/// A reference curve: how an arc should run.
struct Curve {
  bool over_time = false;          ///< `across` is time (s); otherwise way (u)
  std::vector<CurvePoint> points;  ///< at least two
};

/// How far an arc and a curve are from one another, as far as the curve goes: over distance the
/// largest distance of a place of either, between its points as well, from the other's path; over
/// time the largest difference of heights at the same time. Places behind the landing are measured
/// from the landing.
struct CurveMiss {
  double distance = 0;  ///< u
  CurvePoint worst;     ///< the place, of the curve or of the arc, that is farthest off
};
[[nodiscard]] CurveMiss measure_miss(const Curve& curve, const RecordedJump& jump);

/// How far the jumps of variants of a drill are from a curve, which is called so.
[[nodiscard]] Compared compare_misses(const Curve& curve, const std::string& name,
                                      const std::vector<Variant>& variants);

/// How many times as high and wide a curve is as an arc, whichever is more apart from 1.
[[nodiscard]] double relative_size(const Curve& curve, const RecordedJump& jump);

/// How far one point of an arc is from a curve, in u; over time, in height alone.
[[nodiscard]] double distance_from(const Curve& curve, const CurvePoint& point);

/// The height of a line that goes forward, its ends carried on.
[[nodiscard]] double height_on(const std::vector<CurvePoint>& line, double across);

/// An arc's points in the plane of a curve, from take-off to landing.
[[nodiscard]] std::vector<CurvePoint> arc_points(const Curve& curve, const RecordedJump& jump);

enum class Priority { must, should };

struct Target {
  /// "stand_jump.height", or the drill that a curve is for; of a run, in words: "lands_on root".
  std::string fact;
  Bound bound;  ///< of the fact; of a curve, the largest miss in `hi`
  std::optional<Curve> follow;
  std::string curve_name;       ///< as it was written
  std::optional<RunAsk> run{};  ///< what is measured of a run, instead of a fact
  double weight = 1;            ///< for searches
  Priority priority = Priority::must;
};

/// The dimension of what a target is about; of an unknown fact, that of a bare number.
[[nodiscard]] Dimension dimension_of(const Target& target);

struct Verdict {
  const Target* target = nullptr;
  std::optional<double> measured;
  double off_by = 0;
  bool met = false;
  bool or_more = false;    ///< looking ended at what was measured: only `at_least` can be met by it
  std::string why_not;     ///< why nothing was measured, or why that does not report
  std::string reported{};  ///< of a run, what happened
  std::int64_t ticks = 0;  ///< of a run, how long it is
  std::optional<Vec> place{};  ///< of the feet, where that is
};

struct Judgement {
  std::vector<Verdict> verdicts;  ///< one a target, in order; they point into the targets

  /// Whether every target that is a must is met.
  [[nodiscard]] bool met() const noexcept;
};

/// Runs the drills that the targets need and compares. Facts and drills must exist. What a run must
/// do is for a tuning to be judged by: here it has no measured value.
[[nodiscard]] Judgement judge(const std::vector<Target>& targets, Subject& subject);

/// The verdict on a character with that tuning; one without a measured value if the tuning cannot
/// be.
[[nodiscard]] Verdict judge(const Target& target, const Tuning& tuning);

/// The same of several; the tuning must be one that can be. Runs are made with the zones of their
/// levels.
[[nodiscard]] Judgement judge(const std::vector<Target>& targets, const Tuning& tuning);

}  // namespace bushbaby
