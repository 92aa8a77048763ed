#include "bushbaby/views/sweep_picture.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "words.h"

namespace bushbaby {
namespace {

// How the values of a knob lie on an axis: evenly, by their logarithm, or one beside the other.
class Scale {
 public:
  Scale(const SweepTable& table, std::size_t knob) : table_(table), knob_(knob) {
    const std::vector<double> all = values();
    const auto [lo, hi] = std::minmax_element(all.begin(), all.end());
    const bool numbers = is_number(table.texts[knob].front());
    by_place_ = !numbers || *lo == *hi;
    constexpr double kWide = 10;
    const bool even = all.size() < 3 ||
                      std::abs((all[1] - all[0]) - (all[2] - all[1])) < 1e-6 * std::abs(*hi - *lo);
    log_ = !by_place_ && !even && *lo > 0 && *hi / *lo >= kWide;
  }

  [[nodiscard]] double at(double value) const { return log_ ? std::log10(value) : value; }
  // Of a place that is kept.
  [[nodiscard]] double at_kept(std::size_t kept) const {
    return by_place_ ? static_cast<double>(kept) : at(table_.values[knob_][place(kept)]);
  }
  [[nodiscard]] std::size_t count() const { return table_.kept[knob_].size(); }
  // Of the value that the tuning has now, if it lies on the axis.
  [[nodiscard]] std::optional<double> present() const {
    const auto& now = table_.present[knob_];
    if (!now || by_place_ || (log_ && *now <= 0)) return std::nullopt;
    const double where = at(*now);
    const Axis ends = axis();
    if (where < ends.lo || where > ends.hi) return std::nullopt;
    return where;
  }

  [[nodiscard]] Axis axis() const {
    Axis axis;
    axis.title = table_.knobs[knob_].unit.empty()
                     ? table_.knobs[knob_].name
                     : table_.knobs[knob_].name + ", " + table_.knobs[knob_].unit;
    double lo = at_kept(0);
    double hi = lo;
    for (std::size_t i = 0; i < count(); ++i) {
      lo = std::min(lo, at_kept(i));
      hi = std::max(hi, at_kept(i));
    }
    axis.lo = lo;
    axis.hi = hi;
    if (by_place_) {
      axis.lo -= 0.5;
      axis.hi += 0.5;
      constexpr std::size_t kMostNames = 20;
      for (std::size_t i = 0; i < std::min(count(), kMostNames); ++i) {
        axis.named.push_back(
            {static_cast<double>(i), detail::short_name(table_.texts[knob_][place(i)], 16)});
      }
    } else if (log_) {
      for (double power = std::pow(10, std::floor(lo)); power <= std::pow(10, hi); power *= 10) {
        for (const double factor : {1.0, 2.0, 5.0}) {
          const double where = std::log10(power * factor);
          if (where >= lo - 1e-9 && where <= hi + 1e-9) {
            axis.named.push_back({where, fmt::format("{:.6g}", power * factor)});
          }
        }
      }
    }
    return axis;
  }

 private:
  static bool is_number(const std::string& text) {
    return !text.empty() && text.find_first_not_of("0123456789+-.e") == std::string::npos;
  }
  [[nodiscard]] std::size_t place(std::size_t kept) const { return table_.kept[knob_][kept]; }
  [[nodiscard]] std::vector<double> values() const {
    std::vector<double> all;
    for (const std::size_t at : table_.kept[knob_]) all.push_back(table_.values[knob_][at]);
    return all;
  }

  const SweepTable& table_;
  std::size_t knob_;
  bool by_place_ = false;
  bool log_ = false;
};

struct Extent {
  double lo = 0;
  double hi = 1;
  bool any = false;

  void cover(double value) {
    lo = any ? std::min(lo, value) : value;
    hi = any ? std::max(hi, value) : value;
    any = true;
  }
};

Extent extent_of(const SweepTable& table, std::size_t fact) {
  Extent extent;
  for (const SweepRun& run : table.runs) {
    if (run[fact]) extent.cover(*run[fact]);
  }
  return extent;
}

std::string fact_title(const SweepTable& table, std::size_t fact) {
  const SweepColumn& column = table.facts[fact];
  return column.unit.empty() ? column.name : column.name + ", " + column.unit;
}

std::optional<Range> target_of(const SweepPicture& sweep, std::size_t fact) {
  return fact < sweep.targets.size() ? sweep.targets[fact] : std::nullopt;
}

// ---- one knob -----------------------------------------------------------------------------------

Panel curve_panel(const SweepPicture& sweep, std::size_t fact, const Box& place) {
  const SweepTable& table = sweep.table;
  const Scale scale(table, 0);
  Extent extent = extent_of(table, fact);
  if (table.now[fact]) extent.cover(*table.now[fact]);
  const auto target = target_of(sweep, fact);
  if (target) {
    // A bound that lies far off is not shown at the cost of the curve.
    const double span = extent.hi - extent.lo + 1e-9;
    for (const double bound : {target->lo, target->hi}) {
      if (bound > extent.lo - span && bound < extent.hi + span) extent.cover(bound);
    }
  }
  const double span = std::max(extent.hi - extent.lo, 1e-6 * std::max(1.0, std::abs(extent.hi)));
  Panel panel;
  panel.x = scale.axis();
  panel.y = {extent.lo - 0.08 * span, extent.hi + 0.14 * span, fact_title(table, fact)};
  panel.place = beside_numbers(place, panel.y.lo, panel.y.hi);
  if (target) {
    const double lo = std::max(target->lo, panel.y.lo);
    const double hi = std::min(target->hi, panel.y.hi);
    if (lo <= hi) {
      panel.areas.push_back({outline_of({{panel.x.lo, lo}, {panel.x.hi, hi}}), Ink::target_soft});
      panel.labels.push_back(
          {"target", {panel.x.hi, (lo + hi) / 2}, Side::left, 13, false, false, Ink::target});
    }
  }
  std::vector<Vec> line;  // up to where nothing was measured
  const auto finish = [&] {
    if (line.size() > 1) {
      panel.lines.push_back({line, Ink::measured_soft, 2.5, Stroke::solid, true});
    }
    line.clear();
  };
  constexpr std::size_t kMostDots = 200;
  Dots dots;
  for (std::size_t i = 0; i < table.runs.size(); ++i) {
    const auto& value = table.runs[i][fact];
    if (!value) {
      finish();
      continue;
    }
    const Vec at{scale.at_kept(i), *value};
    line.push_back(at);
    if (table.runs.size() <= kMostDots) dots.at.push_back(at);
  }
  finish();
  if (!dots.at.empty()) panel.dots.push_back(std::move(dots));
  const auto present = scale.present();
  if (present && table.now[fact]) {
    const Vec now{*present, *table.now[fact]};
    panel.lines.push_back({{{now.x, panel.y.lo}, now}, Ink::text, 1, Stroke::dotted, false});
    panel.marks.push_back({now, Sign::farthest, Ink::text});
    panel.labels.push_back({fmt::format("now {:.4g}", now.y), now, Side::above, 14});
  }
  return panel;
}

// ---- two knobs ----------------------------------------------------------------------------------

// The values of a fact over the places of two knobs.
class Grid {
 public:
  Grid(const SweepTable& table, std::size_t fact)
      : table_(table), fact_(fact), x_(table, 0), y_(table, 1) {}

  [[nodiscard]] const Scale& x() const { return x_; }
  [[nodiscard]] const Scale& y() const { return y_; }
  [[nodiscard]] std::optional<double> at(std::size_t i, std::size_t j) const {
    const std::size_t run = i * y_.count() + j;
    return run < table_.runs.size() ? table_.runs[run][fact_] : std::nullopt;
  }
  [[nodiscard]] Vec place(std::size_t i, std::size_t j) const {
    return {x_.at_kept(i), y_.at_kept(j)};
  }

 private:
  const SweepTable& table_;
  std::size_t fact_;
  Scale x_;
  Scale y_;
};

// The cell around a place: half way to its neighbours.
Box cell_of(const Grid& grid, std::size_t i, std::size_t j) {
  const auto ends = [](const Scale& scale, std::size_t k) {
    const double here = scale.at_kept(k);
    const double below = k > 0 ? (here + scale.at_kept(k - 1)) / 2 : scale.axis().lo;
    const double above =
        k + 1 < scale.count() ? (here + scale.at_kept(k + 1)) / 2 : scale.axis().hi;
    return std::pair(std::min(below, above), std::max(below, above));
  };
  const auto [left, right] = ends(grid.x(), i);
  const auto [bottom, top] = ends(grid.y(), j);
  return {{left, bottom}, {right, top}};
}

// The pieces of a line of equal value: of each square of four places, where its sides cross it.
std::vector<std::vector<Vec>> level_line(const Grid& grid, double level) {
  std::vector<std::vector<Vec>> pieces;
  for (std::size_t i = 0; i + 1 < grid.x().count(); ++i) {
    for (std::size_t j = 0; j + 1 < grid.y().count(); ++j) {
      const std::size_t corners[4][2] = {{i, j}, {i + 1, j}, {i + 1, j + 1}, {i, j + 1}};
      std::vector<Vec> crossings;
      for (int side = 0; side < 4; ++side) {
        const auto& from = corners[side];
        const auto& to = corners[(side + 1) % 4];
        const auto a = grid.at(from[0], from[1]);
        const auto b = grid.at(to[0], to[1]);
        if (!a || !b || (*a < level) == (*b < level)) continue;
        const double share = (level - *a) / (*b - *a);
        const Vec start = grid.place(from[0], from[1]);
        crossings.push_back(start + (grid.place(to[0], to[1]) - start) * share);
      }
      for (std::size_t k = 0; k + 1 < crossings.size(); k += 2) {
        pieces.push_back({crossings[k], crossings[k + 1]});
      }
    }
  }
  return pieces;
}

void add_level(Panel& panel, const Grid& grid, double level) {
  const auto pieces = level_line(grid, level);
  if (pieces.empty()) return;
  for (const auto& piece : pieces) {
    panel.lines.push_back({piece, Ink::text, 1.3, Stroke::solid, true});
  }
  const std::vector<Vec>& middle = pieces[pieces.size() / 2];
  panel.labels.push_back({fmt::format("{:.6g}", level), middle.front(), Side::above, 13});
}

// A cell for each place, the darker the more; those on target in green. Cells of one colour
// are drawn together.
void add_cells(Panel& panel, const Grid& grid, const Extent& extent, const std::vector<bool>& met) {
  constexpr int kShades = 12;
  constexpr int kMet = -1;
  const double span = std::max(extent.hi - extent.lo, 1e-12);
  const auto shade_of = [&](double value, std::size_t run) {
    if (met[run]) return kMet;
    return std::min(kShades - 1, static_cast<int>((value - extent.lo) / span * kShades));
  };
  for (int shade = kMet; shade < kShades; ++shade) {
    for (std::size_t run = 0; run < grid.x().count() * grid.y().count(); ++run) {
      const std::size_t i = run / grid.y().count();
      const std::size_t j = run % grid.y().count();
      const auto value = grid.at(i, j);
      if (!value || shade_of(*value, run) != shade) continue;
      panel.areas.push_back({outline_of(cell_of(grid, i, j)),
                             shade == kMet ? Ink::target_soft : Ink::measured_soft,
                             shade == kMet ? 1 : 0.12 + 0.85 * shade / kShades});
    }
  }
}

// How many facts of a sweep have targets.
std::size_t target_count(const SweepPicture& sweep) {
  std::size_t count = 0;
  for (std::size_t fact = 0; fact < sweep.table.facts.size(); ++fact) {
    if (target_of(sweep, fact)) ++count;
  }
  return count;
}

// For each run of a sweep, whether it meets all targets; none does if there are none.
std::vector<bool> met_runs(const SweepPicture& sweep) {
  const SweepTable& table = sweep.table;
  std::vector<bool> met(table.kept[0].size() * table.kept[1].size(), target_count(sweep) > 0);
  for (std::size_t run = 0; run < met.size(); ++run) {
    for (std::size_t fact = 0; fact < table.facts.size(); ++fact) {
      const auto target = target_of(sweep, fact);
      if (!target) continue;
      const auto value = run < table.runs.size() ? table.runs[run][fact] : std::nullopt;
      if (!value || *value < target->lo || *value > target->hi) met[run] = false;
    }
  }
  return met;
}

Panel map_panel(const SweepPicture& sweep, const Box& room) {
  const SweepTable& table = sweep.table;
  const Grid grid(table, 0);
  const Extent extent = extent_of(table, 0);
  const double span = std::max(extent.hi - extent.lo, 1e-12);
  const std::size_t targets = target_count(sweep);
  Panel panel;
  panel.x = grid.x().axis();
  panel.y = grid.y().axis();
  panel.place = beside_numbers(room, panel.y.lo, panel.y.hi);
  panel.title = fact_title(table, 0);
  const std::vector<bool> met = met_runs(sweep);
  const bool anywhere = std::find(met.begin(), met.end(), true) != met.end();
  if (targets > 0 && !anywhere) {
    panel.title += targets == 1 ? "; no run meets the target"
                                : fmt::format("; no run meets all {} targets", targets);
  } else if (targets > 0) {
    panel.title += targets == 1 ? "; green: where the target is met"
                                : fmt::format("; green: where all {} targets are met", targets);
  }
  add_cells(panel, grid, extent, met);
  const double step = round_step(span / 7);
  for (double level = std::ceil(extent.lo / step) * step; level < extent.hi; level += step) {
    add_level(panel, grid, std::abs(level) < 1e-9 * step ? 0 : level);
  }
  const auto x = grid.x().present();
  const auto y = grid.y().present();
  if (x && y) {
    panel.marks.push_back({{*x, *y}, Sign::farthest, Ink::text});
    const auto& now = table.now.front();
    panel.labels.insert(panel.labels.begin(),
                        {now ? fmt::format("now {:.4g}", *now) : "now", {*x, *y}, Side::right, 14});
  }
  return panel;
}

std::string finding(const SweepPicture& sweep) {
  const SweepTable& table = sweep.table;
  const Extent extent = extent_of(table, 0);
  std::string knobs = table.knobs.front().name;
  if (table.knobs.size() > 1) knobs += " and " + table.knobs[1].name;
  if (!extent.any) {
    return fmt::format("{}: {} over {} is nowhere measured",
                       detail::character_name(sweep.character), table.facts.front().name, knobs);
  }
  return fmt::format("{}: {} from {:.4g} to {:.4g} {} over {}",
                     detail::character_name(sweep.character), table.facts.front().name, extent.lo,
                     extent.hi, table.facts.front().unit, knobs);
}

}  // namespace

Picture draw(const SweepPicture& sweep) {
  Picture picture;
  picture.finding = finding(sweep);
  if (sweep.table.knobs.size() > 1) {
    picture.about =
        "A map of a fact over two knobs, darker where it is more, with lines of equal value.";
    picture.panels.push_back(map_panel(sweep, {{90, 84}, {1240, 690}}));
    return picture;
  }
  picture.about =
      "A curve for each fact over the values of a knob; the value it has now is marked.";
  const std::size_t count = std::min<std::size_t>(sweep.table.facts.size(), 4);
  for (std::size_t i = 0; i < count; ++i) {
    const double left = i % 2 == 0 ? 96 : 724;
    const double right = count == 1 || i % 2 == 1 ? 1246 : 620;
    const double bottom = count <= 2 || i >= 2 ? 84 : 440;
    const double top = count > 2 && i >= 2 ? 350 : 706;
    picture.panels.push_back(curve_panel(sweep, i, {{left, bottom}, {right, top}}));
  }
  return picture;
}

}  // namespace bushbaby
