#include "bushbaby/lab/targets.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

#include <fmt/format.h>

#include "bushbaby/core/tuning/compile.h"

namespace bushbaby {
namespace {

double distance_to_piece(const CurvePoint& p, const CurvePoint& a, const CurvePoint& b) {
  const double dx = b.across - a.across;
  const double dy = b.height - a.height;
  const double squared = dx * dx + dy * dy;
  const double along =
      squared > 0 ? ((p.across - a.across) * dx + (p.height - a.height) * dy) / squared : 0;
  const double share = std::clamp(along, 0.0, 1.0);
  return std::hypot(p.across - a.across - share * dx, p.height - a.height - share * dy);
}

double distance_to_path(const CurvePoint& point, const std::vector<CurvePoint>& line) {
  double nearest = std::hypot(point.across - line[0].across, point.height - line[0].height);
  for (std::size_t i = 1; i < line.size(); ++i) {
    nearest = std::min(nearest, distance_to_piece(point, line[i - 1], line[i]));
  }
  return nearest;
}

Verdict verdict_on(const Target& target, std::optional<double> measured, std::string why_not,
                   bool or_more = false) {
  Verdict verdict;
  verdict.target = &target;
  verdict.measured = measured;
  verdict.why_not = std::move(why_not);
  if (measured) {
    verdict.met = is_met(target.bound, *measured);
    verdict.off_by = off_by(target.bound, *measured);
  }
  verdict.or_more = or_more;
  if (or_more && !(verdict.met && target.bound.form == Bound::Form::at_least)) {
    verdict.met = false;
    verdict.why_not = "looking ended there, it may be more";
  }
  return verdict;
}

Verdict judge_curve(const Target& target, Subject& subject) {
  const auto jump = find_drill(target.fact)->record(subject);
  if (!jump) return verdict_on(target, std::nullopt, "it does not jump and land");
  return verdict_on(target, measure_miss(*target.follow, *jump).distance, "");
}

Verdict judge_fact(const Target& target, const DrillReport& report) {
  for (const Fact& fact : report.facts) {
    if (fact.info->name == target.fact) {
      return verdict_on(target, fact.value, fact.why_not, fact.or_more);
    }
  }
  return verdict_on(target, std::nullopt, report.skipped);
}

}  // namespace

Dimension dimension_of(const Target& target) {
  if (target.run) {
    return target.run->what == RunAsk::What::time ? Dimension::time : Dimension::number;
  }
  if (target.follow) return Dimension::length;
  if (const Drill* drill = drill_of_fact(target.fact)) {
    for (const FactInfo& info : drill->facts) {
      if (info.name == target.fact) return info.dimension;
    }
  }
  return Dimension::number;
}

Range range_of(const Bound& bound) noexcept {
  constexpr double kEndless = std::numeric_limits<double>::infinity();
  switch (bound.form) {
    case Bound::Form::aim: return {bound.lo - bound.hi, bound.lo + bound.hi};
    case Bound::Form::between: return {bound.lo, bound.hi};
    case Bound::Form::at_least: return {bound.lo, kEndless};
    case Bound::Form::at_most: break;
  }
  return {-kEndless, bound.hi};
}

bool is_met(const Bound& bound, double value) noexcept {
  // A value on the bound is met, however its last bits were rounded.
  constexpr double kRounding = 1e-12;
  const double slack = kRounding * std::max({1.0, std::abs(value), std::abs(bound.lo)});
  const Range range = range_of(bound);
  return value >= range.lo - slack && value <= range.hi + slack;
}

double off_by(const Bound& bound, double value) noexcept {
  if (bound.form == Bound::Form::aim) return value - bound.lo;
  if (is_met(bound, value)) return 0;
  const bool above = bound.form == Bound::Form::at_most ||
                     (bound.form == Bound::Form::between && value > bound.hi);
  return value - (above ? bound.hi : bound.lo);
}

std::vector<CurvePoint> arc_points(const Curve& curve, const RecordedJump& jump) {
  std::vector<CurvePoint> line;
  for (const ArcPoint& point : points_of(jump.trace, jump.arc)) {
    const double across =
        curve.over_time ? point.time - jump.arc.take_off_time : point.feet.x - jump.arc.take_off.x;
    line.push_back({across, point.feet.y - jump.arc.take_off.y});
  }
  const double end = curve.over_time ? jump.arc.air_time() : jump.arc.distance();
  line.push_back({end, jump.arc.landing.y - jump.arc.take_off.y});
  return line;
}

double height_on(const std::vector<CurvePoint>& line, double across) {
  const auto after = std::upper_bound(line.begin(), line.end(), across,
                                      [](double at, const CurvePoint& p) { return at < p.across; });
  if (after == line.begin()) return line.front().height;
  if (after == line.end()) return line.back().height;
  const CurvePoint& a = *(after - 1);
  const double share = (across - a.across) / (after->across - a.across);
  return a.height + share * (after->height - a.height);
}

double distance_from(const Curve& curve, const CurvePoint& point) {
  return curve.over_time ? std::abs(point.height - height_on(curve.points, point.across))
                         : distance_to_path(point, curve.points);
}

namespace {

// Places along a line, its points among them, so close that none between them is much farther off.
std::vector<CurvePoint> places_along(const std::vector<CurvePoint>& line) {
  constexpr int kPieces = 16;
  std::vector<CurvePoint> places{line.front()};
  for (std::size_t i = 1; i < line.size(); ++i) {
    const CurvePoint& a = line[i - 1];
    const CurvePoint& b = line[i];
    for (int k = 1; k < kPieces; ++k) {
      const double share = static_cast<double>(k) / kPieces;
      places.push_back(
          {a.across + share * (b.across - a.across), a.height + share * (b.height - a.height)});
    }
    places.push_back(b);
  }
  return places;
}

}  // namespace

CurveMiss measure_miss(const Curve& curve, const RecordedJump& jump) {
  const std::vector<CurvePoint> line = arc_points(curve, jump);
  CurveMiss miss;
  const auto look_at = [&](const CurvePoint& place, const std::vector<CurvePoint>& other) {
    const double distance = curve.over_time
                                ? std::abs(place.height - height_on(other, place.across))
                                : distance_to_path(place, other);
    if (distance > miss.distance) miss = {distance, place};
  };
  // Of two lines with corners the heights differ most at a corner of one of them.
  for (const CurvePoint& place : curve.over_time ? curve.points : places_along(curve.points)) {
    look_at(place, line);
  }
  for (const CurvePoint& place : curve.over_time ? line : places_along(line)) {
    const bool beyond =
        place.across < curve.points.front().across || place.across > curve.points.back().across;
    if (!beyond) look_at(place, curve.points);
  }
  return miss;
}

Compared compare_misses(const Curve& curve, const std::string& name,
                        const std::vector<Variant>& variants) {
  Compared row{"farthest from " + name, Dimension::length, {}};
  for (const Variant& variant : variants) {
    const bool has = variant.jump.has_value();
    row.values.push_back(has ? std::optional(measure_miss(curve, *variant.jump).distance)
                             : std::nullopt);
  }
  return row;
}

double relative_size(const Curve& curve, const RecordedJump& jump) {
  const auto extent_of = [](const std::vector<CurvePoint>& line) {
    Vec extent{0, 0};
    for (const CurvePoint& point : line) {
      extent.x = std::max(extent.x, std::abs(point.across));
      extent.y = std::max(extent.y, std::abs(point.height));
    }
    return extent;
  };
  const Vec target_extent = extent_of(curve.points);
  const Vec measured = extent_of(arc_points(curve, jump));
  const auto ratio = [](double a, double b) { return a > 0 && b > 0 ? a / b : 1.0; };
  const double high = ratio(target_extent.y, measured.y);
  const double wide = ratio(target_extent.x, measured.x);
  return std::abs(std::log(wide)) > std::abs(std::log(high)) ? wide : high;
}

bool Judgement::met() const noexcept {
  return std::all_of(verdicts.begin(), verdicts.end(), [](const Verdict& verdict) {
    return verdict.met || verdict.target->priority == Priority::should;
  });
}

namespace {

Verdict judge_run(const Target& target, const Tuning& tuning) {
  const RunOutcome outcome = measure_run(*target.run, tuning);
  Verdict verdict = verdict_on(target, outcome.measured, outcome.measured ? "" : outcome.reported);
  if (outcome.measured) verdict.reported = outcome.reported;
  verdict.place = outcome.place;
  if (outcome.run) {
    verdict.ticks = static_cast<std::int64_t>(outcome.run->trace.samples.size()) - 1;
  }
  return verdict;
}

// With each drill run once; `on_run` judges what a run must do.
template <class OnRun>
Judgement judge_all(const std::vector<Target>& targets, Subject& subject, const OnRun& on_run) {
  Judgement judgement;
  std::map<const Drill*, DrillReport> reports;
  for (const Target& target : targets) {
    if (target.run) {
      judgement.verdicts.push_back(on_run(target));
      continue;
    }
    if (target.follow) {
      judgement.verdicts.push_back(judge_curve(target, subject));
      continue;
    }
    const Drill* drill = drill_of_fact(target.fact);
    if (reports.count(drill) == 0) reports.emplace(drill, run_drill(*drill, subject));
    judgement.verdicts.push_back(judge_fact(target, reports.at(drill)));
  }
  return judgement;
}

}  // namespace

Judgement judge(const std::vector<Target>& targets, Subject& subject) {
  return judge_all(targets, subject, [](const Target& target) {
    return verdict_on(target, std::nullopt, "a run is made with a tuning");
  });
}

Judgement judge(const std::vector<Target>& targets, const Tuning& tuning) {
  CharacterSubject subject(compile(tuning).rules, tuning.name);
  return judge_all(targets, subject,
                   [&tuning](const Target& target) { return judge_run(target, tuning); });
}

Verdict judge(const Target& target, const Tuning& tuning) {
  const Compiled compiled = compile(tuning);
  if (!compiled.ok()) return verdict_on(target, std::nullopt, "the tuning cannot be");
  if (target.run) return judge_run(target, tuning);
  CharacterSubject subject(compiled.rules);
  if (target.follow) return judge_curve(target, subject);
  return judge_fact(target, run_drill(*drill_of_fact(target.fact), subject));
}

}  // namespace bushbaby
