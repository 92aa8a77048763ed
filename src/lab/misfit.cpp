#include "misfit.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "bushbaby/core/tuning/compile.h"

namespace bushbaby::detail {
namespace {

constexpr std::size_t kPlaces = 12;      // of a curve
constexpr double kNothingMeasured = 40;  // tolerances

double weight_of(const Target& target) {
  constexpr double kShould = 0.25;
  return std::sqrt(target.weight * (target.priority == Priority::should ? kShould : 1.0));
}

bool counts_whole(const Target& target) {
  const Dimension dimension = dimension_of(target);
  return dimension == Dimension::ticks || dimension == Dimension::number;
}

// How far inside of a bound the search goes, so as to end within it.
double margin_of(const Target& target) {
  constexpr double kShare = 0.1;
  return counts_whole(target) ? 0 : kShare * tolerance_of(target);
}

// The positive part, without a corner: from a little within its bound a search feels the bound, so
// that it does not walk out of one while it walks into another.
double softly(double value) {
  constexpr double kSoft = 0.1;
  constexpr double kFar = 30;  // times that the exponential is nothing, or all
  const double x = value / kSoft;
  if (x > kFar) return value;
  return x < -kFar ? 0 : kSoft * std::log1p(std::exp(x));
}

double residual_of(const Target& target, const Verdict& verdict) {
  if (!verdict.measured) return kNothingMeasured;
  const double tolerance = tolerance_of(target);
  const Bound& bound = target.bound;
  if (bound.form == Bound::Form::aim) return (*verdict.measured - bound.lo) / tolerance;
  const Range range = range_of(bound);
  const double margin = margin_of(target);
  const double above = (*verdict.measured - (range.hi - margin)) / tolerance;
  const double below = (range.lo + margin - *verdict.measured) / tolerance;
  if (counts_whole(target)) {
    // What is at least so much, and might be more, is not known to be in a bound from above.
    if (above <= 0 && below <= 0) return verdict.met ? 0 : 1;
    return above > 0 ? above : -below;
  }
  return softly(above) - softly(below);
}

// Heights of the arc over the curve, at places from its first point to its last.
void add_differences(const Target& target, const std::optional<RecordedJump>& jump,
                     std::vector<double>& residuals) {
  if (!jump) {
    residuals.insert(residuals.end(), kPlaces, kNothingMeasured);
    return;
  }
  const Curve& curve = *target.follow;
  const std::vector<CurvePoint> arc = arc_points(curve, *jump);
  const double from = curve.points.front().across;
  const double to = curve.points.back().across;
  // Weighed such that an arc which is everywhere half a tolerance off counts as half an aim.
  const double scale = weight_of(target) * 2 / (tolerance_of(target) * std::sqrt(kPlaces));
  for (std::size_t i = 0; i < kPlaces; ++i) {
    const double across = from + (to - from) * (static_cast<double>(i) + 1) / kPlaces;
    residuals.push_back(scale * (height_on(arc, across) - height_on(curve.points, across)));
  }
}

}  // namespace

double tolerance_of(const Target& target) noexcept {
  constexpr double kShareOfBound = 0.05;
  constexpr double kShareOfAim = 1e-3;
  constexpr double kLeast = 1e-6;
  const Bound& bound = target.bound;
  const bool whole = counts_whole(target);
  const double least =
      whole ? 0.5
            : std::max(kShareOfAim * std::max(std::abs(bound.lo), std::abs(bound.hi)), kLeast);
  switch (bound.form) {
    case Bound::Form::aim: return std::max(bound.hi, least);
    case Bound::Form::between: return std::max((bound.hi - bound.lo) / 2, least);
    case Bound::Form::at_least: return std::max(kShareOfBound * std::abs(bound.lo), least);
    case Bound::Form::at_most: break;
  }
  return std::max(target.follow ? bound.hi : kShareOfBound * std::abs(bound.hi), least);
}

double Weighed::cost() const noexcept {
  double sum = 0;
  for (const double residual : residuals) sum += residual * residual;
  return sum;
}

bool is_better(const Weighed& a, const Weighed& b) noexcept {
  if (a.missed_musts != b.missed_musts) return a.missed_musts < b.missed_musts;
  if (a.missed != b.missed) return a.missed < b.missed;
  return a.cost() < b.cost();
}

std::size_t residuals_of(const Target& target) noexcept { return target.follow ? kPlaces : 1; }

Misfit::Misfit(std::vector<Target> targets) : targets_(std::move(targets)) {
  for (const Target& target : targets_) residuals_ += residuals_of(target);
}

std::optional<Weighed> Misfit::weigh(const Tuning& tuning) const {
  const Compiled compiled = compile(tuning);
  if (!compiled.ok()) return std::nullopt;
  const Judgement judgement = judge(targets_, tuning);
  Weighed weighed;
  weighed.residuals.reserve(residuals_);
  CharacterSubject subject(compiled.rules);
  for (const Verdict& verdict : judgement.verdicts) {
    const Target& target = *verdict.target;
    weighed.met.push_back(verdict.met);
    if (!verdict.met) {
      ++weighed.missed;
      if (target.priority == Priority::must) ++weighed.missed_musts;
    }
    if (target.follow) {
      add_differences(target, find_drill(target.fact)->record(subject), weighed.residuals);
    } else {
      weighed.residuals.push_back(weight_of(target) * residual_of(target, verdict));
    }
  }
  return weighed;
}

}  // namespace bushbaby::detail
