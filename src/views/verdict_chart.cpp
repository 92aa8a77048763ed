#include "bushbaby/views/verdict_chart.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/records/reports.h"

#include "sheet.h"

namespace bushbaby {
namespace {

using detail::Align;
using detail::label;

// ---- the arc against its band -------------------------------------------------------------------

// The curve with points so close that a chain of discs of the band's radius looks smooth.
std::vector<CurvePoint> dense(const Curve& curve) {
  constexpr int kPieces = 24;
  std::vector<CurvePoint> points;
  for (std::size_t i = 1; i < curve.points.size(); ++i) {
    const CurvePoint& a = curve.points[i - 1];
    const CurvePoint& b = curve.points[i];
    for (int k = 0; k < kPieces; ++k) {
      const double share = static_cast<double>(k) / kPieces;
      points.push_back(
          {a.across + share * (b.across - a.across), a.height + share * (b.height - a.height)});
    }
  }
  points.push_back(curve.points.back());
  return points;
}

std::string rows_of(const std::vector<CurvePoint>& points) {
  std::string rows;
  for (const CurvePoint& point : points) {
    rows += fmt::format("{} {}\n", point.across, point.height);
  }
  return rows;
}

std::string arc_panel(const VerdictChart::Followed& followed) {
  const Target& target = *followed.verdict->target;
  const Curve& curve = *target.follow;
  const double within = target.bound.hi;
  const std::vector<CurvePoint> measured = arc_points(curve, followed.jump);
  // What lies outside the band, piece by piece.
  std::string outside;
  for (std::size_t i = 1; i < measured.size(); ++i) {
    if (distance_from(curve, measured[i]) <= within) continue;
    outside += rows_of({measured[i - 1], measured[i]}) + "\n";
  }
  const CurveMiss miss = measure_miss(curve, followed.jump);
  const CurvePoint worst = curve.points[miss.worst];

  double widest = curve.points.back().across;
  double highest = 0;
  for (const CurvePoint& point : measured) {
    widest = std::max(widest, point.across);
    highest = std::max(highest, point.height);
  }
  for (const CurvePoint& point : curve.points) highest = std::max(highest, point.height);

  std::string text = detail::data_block("wanted", rows_of(dense(curve)));
  text += detail::data_block("measured", rows_of(measured));
  text += detail::data_block("outside", outside.empty() ? "NaN NaN\n" : outside);
  text += detail::data_block("worst", fmt::format("{} {}\n", worst.across, worst.height));
  text += fmt::format("set title {}\n",
                      detail::quoted(fmt::format("{} against {}", target.fact, target.curve_name)));
  text += fmt::format("set xlabel '{}'\nset ylabel 'height over take-off, u'\nset size {}\n",
                      curve.over_time ? "time since take-off, s" : "way from take-off, u",
                      curve.over_time ? "noratio" : "ratio -1");
  text += fmt::format("set xrange [{}:{}]\nset yrange [{}:{}]\n", -0.03 * widest, widest * 1.06,
                      -0.04 * highest, highest * 1.22);
  text += label(fmt::format("band: wanted, within {} u", within), {widest * 0.5, highest * 0.2},
                Align::centre);
  text += label(fmt::format("ring: farthest off, {:.3f} u{}", miss.distance,
                            followed.verdict->met ? ", inside the band" : ""),
                {widest * 0.5, highest * 0.1}, Align::centre);
  const std::string_view tone =
      followed.verdict->met ? detail::colour::kAmber : detail::colour::kClay;
  if (curve.over_time) {
    text += fmt::format("plot $wanted using 1:($2-{0}):($2+{0}) with filledcurves lc rgb '{1}', ",
                        within, detail::colour::kMossSoft);
  } else {
    text +=
        fmt::format("plot $wanted using 1:2:({}) with circles lc rgb '{}' fs solid 1 noborder, ",
                    within, detail::colour::kMossSoft);
  }
  text += fmt::format(
      "$wanted using 1:2 with lines lw 1.5 dt (6,5) lc rgb '{}', "
      "$measured using 1:2 with lines lw 3 lc rgb '{}', "
      "$outside using 1:2 with lines lw 4 lc rgb '{}', "
      "$measured using 1:2 with points pt 7 ps 0.5 lc rgb '{}', "
      "$worst using 1:2 with points pt 6 ps 2.2 lw 2.5 lc rgb '{}'\n",
      detail::colour::kMoss, detail::colour::kAmberSoft, detail::colour::kClay,
      detail::colour::kAmber, tone);
  return text + "unset label\n";
}

// ---- a row for every target ---------------------------------------------------------------------

// Where a value lies on its row: the band is from -1 to 1, the sheet ends at ±3. A bound on one
// side has no width of its own; a quarter of it is as good a scale as any.
double place_on_row(const Bound& bound, double value) {
  struct Scale {
    double anchor;    // a value
    double at;        // where it lies on the row
    double per_unit;  // how much value makes one unit of the row
  };
  const Scale scale = [&bound]() -> Scale {
    switch (bound.form) {
      case Bound::Form::aim: return {bound.lo, 0, bound.hi};
      case Bound::Form::between: {
        return {(bound.lo + bound.hi) / 2, 0, (bound.hi - bound.lo) / 2};
      }
      case Bound::Form::at_least: return {bound.lo, -1, std::abs(bound.lo) / 4};
      case Bound::Form::at_most: break;
    }
    return {bound.hi, 1, std::abs(bound.hi) / 4};
  }();
  constexpr double kEnd = 2.8;
  constexpr double kLeast = 1e-12;
  const double place = scale.at + (value - scale.anchor) / std::max(scale.per_unit, kLeast);
  return std::clamp(place, -kEnd, kEnd);
}

std::string rows_panel(const Judgement& judgement) {
  const double count = static_cast<double>(judgement.verdicts.size());
  std::string text;
  std::string met;
  std::string missed;
  // Few rows stand at the top of the sheet rather than fill it.
  const double sheet = std::max(count, 6.0);
  double row = sheet;
  int object = 1;
  for (const Verdict& verdict : judgement.verdicts) {
    row -= 1;
    const Target& target = *verdict.target;
    const Bound& bound = target.bound;
    // A bound on one side has a band that runs to the end of the sheet.
    const double low = bound.form == Bound::Form::at_most ? -3 : -1;
    const double high = bound.form == Bound::Form::at_least ? 3 : 1;
    text += fmt::format(
        "set object {} rectangle from {},{} to {},{} fc rgb '{}' fs solid 1 noborder behind\n",
        object++, low, row + 0.12, high, row + 0.42, detail::colour::kMossSoft);
    const std::string value =
        verdict.measured ? fmt::format("{:.4g} {}", *verdict.measured, unit_of(target)) : "none";
    const std::string state = verdict.met                           ? "met"
                              : target.priority == Priority::should ? "missed (should)"
                                                                    : "MISSED";
    text += label(fmt::format("{}:  {}", subject_of(target), value), {-3, row + 0.68}, Align::left);
    text += label(fmt::format("{} {}   {}", bound_text(bound), unit_of(target), state),
                  {3, row + 0.68}, Align::right);
    if (!verdict.measured) continue;
    (verdict.met ? met : missed) +=
        fmt::format("{} {}\n", place_on_row(bound, *verdict.measured), row + 0.27);
  }
  text += detail::data_block("met", met.empty() ? "NaN NaN\n" : met);
  text += detail::data_block("missed", missed.empty() ? "NaN NaN\n" : missed);
  text += fmt::format(
      "set title 'every target: the band is what is wanted'\nset size noratio\nunset border\n"
      "unset tics\nunset xlabel\nunset ylabel\nunset grid\nset xrange [-3.05:3.05]\n"
      "set yrange [0:{}]\n"
      "plot $met using 1:2 with points pt 7 ps 1.7 lc rgb '{}', "
      "$missed using 1:2 with points pt 13 ps 2.4 lc rgb '{}'\nunset label\n",
      sheet, detail::colour::kAmber, detail::colour::kClay);
  return text;
}

std::string finding(const VerdictChart& chart) {
  std::string missed;
  for (const Verdict& verdict : chart.judgement->verdicts) {
    if (verdict.met) continue;
    missed += (missed.empty() ? "" : ", ") + verdict.target->fact;
    if (verdict.measured) {
      missed += fmt::format(" by {:+.3g} {}", verdict.off_by, unit_of(*verdict.target));
    }
  }
  constexpr std::size_t kLongest = 90;
  if (missed.size() > kLongest) missed = missed.substr(0, missed.rfind(", ", kLongest)) + ", …";
  const std::string who = chart.character.empty() ? "the character" : chart.character;
  return missed.empty() ? fmt::format("{} meets all {} targets   ({})", who,
                                      chart.judgement->verdicts.size(), chart.loop)
                        : fmt::format("{} misses {}", who, missed);
}

}  // namespace

VerdictChart record_verdict_chart(const Judgement& judgement, Subject& subject, std::string loop) {
  VerdictChart chart;
  chart.character = subject.traits().name;
  chart.loop = std::move(loop);
  chart.judgement = &judgement;
  const Verdict* shown = nullptr;
  for (const Verdict& verdict : judgement.verdicts) {
    if (!verdict.target->follow || !verdict.measured) continue;
    if (shown == nullptr || (verdict.off_by > shown->off_by)) shown = &verdict;
  }
  if (shown == nullptr) return chart;
  if (auto jump = find_drill(shown->target->fact)->record(subject)) {
    chart.followed = VerdictChart::Followed{shown, std::move(*jump)};
  }
  return chart;
}

Drawing draw(const VerdictChart& chart) {
  std::string script = detail::sheet_head();
  script += detail::heading(finding(chart));
  if (!chart.followed) {
    script += "set margins 4,4,2,6\n" + rows_panel(*chart.judgement);
    return {script};
  }
  script += "set multiplot\n";
  script +=
      "set lmargin at screen 0.06\nset rmargin at screen 0.54\n"
      "set bmargin at screen 0.1\nset tmargin at screen 0.86\n";
  script += arc_panel(*chart.followed);
  script +=
      "set lmargin at screen 0.58\nset rmargin at screen 0.985\n"
      "set bmargin at screen 0.05\nset tmargin at screen 0.86\n";
  script += rows_panel(*chart.judgement);
  return {script + "unset multiplot\n"};
}

}  // namespace bushbaby
