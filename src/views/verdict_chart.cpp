#include "bushbaby/views/verdict_chart.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/records/reports.h"

#include "words.h"

namespace bushbaby {
namespace {

// ---- the arc against its band -------------------------------------------------------------------

Vec vec_of(const CurvePoint& point) { return {point.across, point.height}; }

std::vector<Vec> line_of(const std::vector<CurvePoint>& points) {
  std::vector<Vec> line;
  line.reserve(points.size());
  for (const CurvePoint& point : points) line.push_back(vec_of(point));
  return line;
}

// A disc around a point of a path's band.
Area disc(Vec middle, double radius) {
  constexpr int kCorners = 32;
  constexpr double kTurn = 2 * 3.14159265358979323846;
  Area area{{}, Ink::target_soft};
  for (int i = 0; i <= kCorners; ++i) {
    const double angle = kTurn * i / kCorners;
    area.outline.push_back(middle + Vec{radius * std::cos(angle), radius * std::sin(angle)});
  }
  return area;
}

// The band around a path: a box along each piece and a disc on each corner. Over time the band is
// what lies so far above and below.
void add_band(Panel& panel, const Curve& curve, double within) {
  const std::vector<Vec> line = line_of(curve.points);
  if (curve.over_time) {
    Area area{{}, Ink::target_soft};
    for (const Vec& at : line) area.outline.push_back(at + Vec{0, within});
    for (auto at = line.rbegin(); at != line.rend(); ++at) {
      area.outline.push_back(*at - Vec{0, within});
    }
    panel.areas.push_back(std::move(area));
    return;
  }
  for (std::size_t i = 0; i < line.size(); ++i) {
    panel.areas.push_back(disc(line[i], within));
    if (i == 0) continue;
    const Vec along = line[i] - line[i - 1];
    const double length = std::hypot(along.x, along.y);
    const Vec side{-along.y / length * within, along.x / length * within};
    panel.areas.push_back({{line[i - 1] + side, line[i] + side, line[i] - side, line[i - 1] - side},
                           Ink::target_soft});
  }
}

Panel arc_panel(const VerdictChart::Followed& followed, const Units& units) {
  const Target& target = *followed.verdict->target;
  const Curve& curve = *target.follow;
  const double within = target.bound.hi;
  const std::vector<CurvePoint> measured = arc_points(curve, followed.jump);
  const CurveMiss miss = measure_miss(curve, followed.jump);
  const Vec worst = vec_of(miss.worst);

  Box all{{0, 0}, vec_of(curve.points.back())};
  const auto cover = [&all](const CurvePoint& point) {
    all.lo = {std::min(all.lo.x, point.across), std::min(all.lo.y, point.height)};
    all.hi = {std::max(all.hi.x, point.across), std::max(all.hi.y, point.height)};
  };
  for (const CurvePoint& point : measured) cover(point);
  for (const CurvePoint& point : curve.points) cover(point);
  const Vec size = all.hi - all.lo;
  const Vec air{0.05 * size.x + within, 0.05 * size.y + within};
  all = {all.lo - air, all.hi + air + Vec{0, 0.08 * size.y}};

  constexpr Box kRoom{{76, 84}, {690, 690}};
  const double reported = units.shown(Dimension::length, 1.0);
  Panel panel =
      equal_scale_panel(beside_numbers(kRoom, all.lo.y * reported, all.hi.y * reported), all);
  if (curve.over_time) {
    panel.x = {all.lo.x, all.hi.x, {}};
    panel.y = {all.lo.y, all.hi.y, {}};
  }
  const Dimension across = curve.over_time ? Dimension::time : Dimension::length;
  panel.x.title =
      (curve.over_time ? "time since take-off, " : "distance from take-off, ") + units.name(across);
  panel.y.title = "height above take-off, " + units.name(Dimension::length);
  panel.title = fmt::format("{} against {}", target.fact, detail::short_name(target.curve_name));
  add_band(panel, curve, within);
  panel.lines.push_back({line_of(curve.points), Ink::target, 1.5, Stroke::dashed, true});
  panel.lines.push_back({line_of(measured), Ink::measured_soft, 3, Stroke::solid, true});
  for (std::size_t i = 1; i < measured.size(); ++i) {
    if (distance_from(curve, measured[i]) <= within) continue;
    panel.lines.push_back(
        {{vec_of(measured[i - 1]), vec_of(measured[i])}, Ink::missed, 4, Stroke::solid, false});
  }
  panel.dots.push_back({line_of(measured), Ink::measured});
  const bool met = followed.verdict->met;
  panel.marks.push_back({worst, Sign::farthest, met ? Ink::text : Ink::missed});
  panel.labels.push_back(
      {fmt::format("farthest off here: {}{}", units.text(Dimension::length, miss.distance, 4),
                   met ? ", inside the band" : ""),
       worst, worst.x > all.hi.x / 2 ? Side::left : Side::right, 14});
  const CurvePoint& middle = curve.points[curve.points.size() / 4];
  panel.labels.push_back({fmt::format("target, within {}", units.text(Dimension::length, within)),
                          vec_of(middle), Side::left, 14});
  panel.labels.push_back({"measured", vec_of(measured[measured.size() * 3 / 4]), Side::left, 14});
  rescale(panel, {units.shown(across, 1.0), units.shown(Dimension::length, 1.0)});
  return panel;
}

// ---- a row for every target ---------------------------------------------------------------------

// Where a value lies on its row: the band is from -1 to 1, the row ends at ±3. A bound on one
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

std::string value_text(const Verdict& verdict, const Units& units) {
  if (!verdict.measured) return "none";
  return (verdict.or_more ? "≥ " : "") +
         units.text(dimension_of(*verdict.target), *verdict.measured, 4);
}

std::string state_text(const Verdict& verdict) {
  if (verdict.met) return "met";
  return verdict.target->priority == Priority::should ? "missed (should)" : "missed";
}

// The rows that there is room for: what is missed first, then what is met, each in its order.
std::vector<const Verdict*> shown_rows(const Judgement& judgement, std::size_t most) {
  std::vector<const Verdict*> rows;
  for (const Verdict& verdict : judgement.verdicts) rows.push_back(&verdict);
  if (rows.size() <= most) return rows;
  std::stable_partition(rows.begin(), rows.end(), [](const Verdict* v) { return !v->met; });
  rows.resize(most);
  return rows;
}

void add_row(Panel& panel, const Verdict& verdict, double row, const Units& units,
             bool with_scale) {
  const Bound& bound = verdict.target->bound;
  // A bound on one side has a band that runs to the end of the row.
  const double low = bound.form == Bound::Form::at_most ? -3 : -1;
  const double high = bound.form == Bound::Form::at_least ? 3 : 1;
  panel.areas.push_back({outline_of({{low, row + 0.1}, {high, row + 0.4}}), Ink::target_soft});
  const auto text = [&](const std::string& words, double x, Side side, Ink ink) {
    // The side is that of the text from its place, so that columns line up.
    panel.labels.push_back({words, {x, row + 0.68}, side, 14, true, false, ink});
  };
  const std::string what = fmt::format("{}:  {}", detail::short_name(subject_of(*verdict.target)),
                                       value_text(verdict, units));
  text(what, -3, Side::right, Ink::text);
  text(fmt::format("{} {}   {}", bound_text(*verdict.target, units),
                   units.name(dimension_of(*verdict.target)), state_text(verdict)),
       3, Side::left, verdict.met ? Ink::text : Ink::missed);
  if (with_scale) {
    const auto number = [&](double value, double x) {
      const Dimension dimension = dimension_of(*verdict.target);
      panel.labels.push_back({fmt::format("{:.4g}", units.shown(dimension, value)),
                              {x, row - 0.02},
                              Side::over,
                              11.5,
                              true,
                              false,
                              Ink::target});
    };
    const bool aims = bound.form == Bound::Form::aim;
    if (low > -3) number(aims ? bound.lo - bound.hi : bound.lo, low);
    if (high < 3) number(aims ? bound.lo + bound.hi : bound.hi, high);
  }
  if (!verdict.measured) return;
  panel.marks.push_back({{place_on_row(bound, *verdict.measured), row + 0.25},
                         verdict.met ? Sign::met : Sign::missed,
                         verdict.met ? Ink::measured : Ink::missed});
}

Panel rows_panel(const Judgement& judgement, const Box& room, const Units& units) {
  constexpr std::size_t kMost = 15;
  const auto rows = shown_rows(judgement, kMost);
  Panel panel;
  panel.place = room;
  panel.title = "every target: the band is the target";
  const std::size_t hidden = judgement.verdicts.size() - rows.size();
  if (hidden > 0) {
    panel.title = fmt::format("{} of {} targets, the missed ones first; the band is the target",
                              rows.size(), judgement.verdicts.size());
  }
  // Few rows stand at the top of the sheet rather than fill it.
  constexpr double kFew = 9;
  const double sheet = std::max(static_cast<double>(rows.size()), kFew);
  panel.x = {-3.05, 3.05, {}};
  panel.y = {0, sheet, {}};
  double row = sheet;
  const bool with_scale = sheet <= kFew;  // there is room for numbers
  for (const Verdict* verdict : rows) add_row(panel, *verdict, row -= 1, units, with_scale);
  return panel;
}

std::string finding(const VerdictChart& chart) {
  std::string missed;
  std::size_t unnamed = 0;
  for (const Verdict& verdict : chart.judgement->verdicts) {
    if (verdict.met) continue;
    std::string what = verdict.target->fact;
    if (verdict.measured) {
      const Dimension dimension = dimension_of(*verdict.target);
      const std::string unit = chart.units.name(dimension);
      what += fmt::format(" by {:+.3g}{}{}", chart.units.shown(dimension, verdict.off_by),
                          unit.empty() ? "" : " ", unit);
    }
    constexpr std::size_t kLongest = 90;
    if (missed.size() + what.size() > kLongest) {
      ++unnamed;
    } else {
      missed += (missed.empty() ? "" : ", ") + what;
    }
  }
  if (unnamed > 0) missed += fmt::format(" and {} more", unnamed);
  const std::string who = detail::character_name(chart.character);
  return missed.empty() ? fmt::format("{} meets all {} targets   ({})", who,
                                      chart.judgement->verdicts.size(), chart.loop)
                        : fmt::format("{} misses {}", who, missed);
}

}  // namespace

VerdictChart record_verdict_chart(const Judgement& judgement, Subject& subject, std::string loop,
                                  const Units& units) {
  VerdictChart chart;
  chart.character = subject.traits().name;
  chart.loop = std::move(loop);
  chart.units = units;
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

Picture draw(const VerdictChart& chart) {
  Picture picture;
  picture.finding = finding(chart);
  picture.about =
      "Every target as a row: the band is the target, a leaf a value that meets it, a thorn "
      "one "
      "that misses it.";
  if (!chart.followed) {
    picture.panels.push_back(rows_panel(*chart.judgement, {{60, 40}, {1220, 690}}, chart.units));
    return picture;
  }
  picture.about += " Left, the arc that was measured over the band of the curve it should follow.";
  picture.panels.push_back(arc_panel(*chart.followed, chart.units));
  picture.panels.push_back(rows_panel(*chart.judgement, {{740, 40}, {1256, 690}}, chart.units));
  return picture;
}

}  // namespace bushbaby
