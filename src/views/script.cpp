#include "script.h"

#include <algorithm>
#include <cctype>
#include <map>

#include <fmt/format.h>

#include "signs.h"

namespace bushbaby::detail {
namespace {

constexpr double kPointsPerPx = 0.75;  // the program counts text in points of 1/72 inch at 96 dpi

std::string_view dash_of(Stroke stroke) {
  switch (stroke) {
    case Stroke::dashed: return "(9,5)";
    case Stroke::dotted: return "(2,4)";
    case Stroke::dash_dotted: return "(9,4,2,4)";
    case Stroke::solid: break;
  }
  return "1";
}

// Rows of numbers for one plot element, each outline or line apart from the next.
class Block {
 public:
  void add(const std::vector<Vec>& points) {
    for (const Vec& at : points) rows_ += fmt::format("{:.8g} {:.8g}\n", at.x, at.y);
    rows_ += "\n";
  }
  // A line of any length in pieces that meet: what strokes it takes much longer for one long line
  // that crosses itself than for many short ones.
  void add_line(const std::vector<Vec>& points) {
    constexpr std::size_t kPiece = 400;
    for (std::size_t begin = 0; begin + 1 < points.size(); begin += kPiece) {
      const std::size_t end = std::min(begin + kPiece + 1, points.size());
      add({points.begin() + static_cast<std::ptrdiff_t>(begin),
           points.begin() + static_cast<std::ptrdiff_t>(end)});
    }
  }
  [[nodiscard]] const std::string& rows() const { return rows_; }

 private:
  std::string rows_;
};

// A colour with so much paper in it.
std::string mixed(Ink ink, double strength) {
  const std::string_view colour = colour_of(ink);
  const std::string_view paper = colour_of(Ink::paper);
  std::string text = "#";
  for (std::size_t i = 1; i < colour.size(); i += 2) {
    const auto part = [i](std::string_view hex) {
      return std::stoi(std::string(hex.substr(i, 2)), nullptr, 16);
    };
    const double value = part(colour) * strength + part(paper) * (1 - strength);
    text += fmt::format("{:02x}", static_cast<int>(value + 0.5));
  }
  return text;
}

// What one panel is plotted from: blocks of data and the elements that draw them, in order.
class Elements {
 public:
  void fill(const Block& block, Ink ink, std::string_view what, double strength = 1) {
    add(block,
        fmt::format("with filledcurves closed fs solid 1 noborder lc rgb '{}'",
                    strength < 1 ? mixed(ink, strength) : std::string(colour_of(ink))),
        what);
  }
  void line(const Block& block, Ink ink, double width, Stroke stroke, std::string_view what) {
    add(block,
        fmt::format("with lines lw {} dt {} lc rgb '{}'", width, dash_of(stroke), colour_of(ink)),
        what);
  }

  // The data, then the command that draws all of it; a panel that shows nothing still has axes.
  [[nodiscard]] std::string text() const {
    const std::string nothing = "NaN notitle";
    return data_ + "plot " + (plot_.empty() ? nothing : plot_) + "\n";
  }

 private:
  void add(const Block& block, const std::string& style, std::string_view what) {
    if (block.rows().empty()) return;
    const std::string name = fmt::format("$layer{}", ++count_);
    data_ += fmt::format("{} << EOD\n{}EOD\n", name, block.rows());
    plot_ += fmt::format("{}{} using 1:2 {} title {}", plot_.empty() ? "" : ", \\\n  ", name, style,
                         in_quotes(what));
  }

  std::string data_;
  std::string plot_;
  int count_ = 0;
};

std::string text_at(std::string_view text, Vec px, std::string_view align, double size, Ink ink,
                    bool upright) {
  return fmt::format("set label {} at screen {:.6f},{:.6f} {}{} font ',{:.4g}' tc rgb '{}' front\n",
                     in_quotes(text), px.x / kSheet.x, px.y / kSheet.y, align,
                     upright ? " rotate by 90" : "", size * kPointsPerPx, colour_of(ink));
}

Vec middle_of(const Box& box) { return {(box.lo.x + box.hi.x) / 2, (box.lo.y + box.hi.y) / 2}; }

std::string labels_text(const Layout& layout) {
  std::string text;
  for (const PlacedLabel& placed : layout.labels) {
    const Label& label = *placed.label;
    // A label beside its place starts or ends there, however wide the font makes it.
    const Vec middle = middle_of(placed.box);
    const bool right = placed.box.lo.x > placed.place.x && !label.upright;
    const bool left = placed.box.hi.x < placed.place.x && !label.upright;
    const double x = right ? placed.box.lo.x : left ? placed.box.hi.x : middle.x;
    text += text_at(label.text, {x, middle.y},
                    right  ? "left"
                    : left ? "right"
                           : "center",
                    label.size, placed.ink, label.upright);
  }
  return text;
}

// Lines from what was set apart to where it belongs.
void add_leaders(const Panel& panel, const Layout& layout, Elements& elements) {
  Block leaders;
  const auto lead = [&](Vec from, Vec to) {
    leaders.add({panel.off_sheet(from), panel.off_sheet(to)});
  };
  for (const PlacedLabel& placed : layout.labels) {
    if (placed.leads) lead(placed.nearest, placed.place);
  }
  for (const PlacedMark& placed : layout.marks) {
    if (placed.at != placed.place) lead(placed.at, placed.place);
  }
  elements.line(leaders, Ink::text, 0.7, Stroke::solid, "leaders");
}

// Neighbours that are drawn alike are one layer.
void add_areas(const Panel& panel, Elements& elements) {
  for (std::size_t i = 0; i < panel.areas.size();) {
    const Area& first = panel.areas[i];
    Block block;
    const auto is_alike = [&first](const Area& area) {
      return area.ink == first.ink && area.strength == first.strength;
    };
    for (; i < panel.areas.size() && is_alike(panel.areas[i]); ++i) {
      block.add(panel.areas[i].outline);
    }
    elements.fill(block, first.ink, "areas", first.strength);
  }
}

void add_lines(const Panel& panel, Elements& elements) {
  for (std::size_t i = 0; i < panel.lines.size();) {
    const Polyline& first = panel.lines[i];
    const auto is_alike = [&first](const Polyline& line) {
      return line.ink == first.ink && line.width == first.width && line.stroke == first.stroke;
    };
    Block block;
    for (; i < panel.lines.size() && is_alike(panel.lines[i]); ++i)
      block.add_line(panel.lines[i].points);
    elements.line(block, first.ink, first.width, first.stroke, "lines");
  }
}

void add_dots(const Panel& panel, Elements& elements) {
  constexpr double kRadius = 2.1;  // px
  for (const Dots& dots : panel.dots) {
    Block block;
    for (const Vec& at : dots.at) {
      const Vec px = panel.on_sheet(at);
      std::vector<Vec> outline;
      for (const Vec& corner : {Vec{kRadius, 0}, Vec{0, kRadius}, Vec{-kRadius, 0},
                                Vec{0, -kRadius}, Vec{kRadius, 0}}) {
        outline.push_back(panel.off_sheet(px + corner));
      }
      block.add(outline);
    }
    elements.fill(block, dots.ink, "ticks");
  }
}

// Strokes on a seam of paper, so that they read on any ground.
void add_marks(const Panel& panel, const Layout& layout, Elements& elements) {
  Block seam;
  std::map<Ink, Block> strokes;
  std::map<Ink, Block> fills;
  for (const PlacedMark& placed : layout.marks) {
    const Mark& mark = *placed.mark;
    for (const auto& stroke : strokes_of(mark.sign, mark.mirrored)) {
      std::vector<Vec> points;
      points.reserve(stroke.size());
      for (const Vec& at : stroke) points.push_back(panel.off_sheet(placed.at + at));
      if (is_filled(mark.sign)) {
        fills[mark.ink].add(points);
      } else {
        seam.add(points);
        strokes[mark.ink].add(points);
      }
    }
  }
  elements.line(seam, Ink::paper, 5, Stroke::solid, "seams");
  for (const auto& [ink, block] : strokes) elements.line(block, ink, 2.2, Stroke::solid, "marks");
  for (const auto& [ink, block] : fills) elements.fill(block, ink, "marks");
}

std::string axis_text(const char* name, const Axis& axis) {
  std::string text = fmt::format("set {}range [{:.10g}:{:.10g}]\n", name, axis.lo, axis.hi);
  if (axis.title.empty()) return text + fmt::format("unset {0}label\nunset {0}tics\n", name);
  std::string named;
  for (const Axis::Named& place : axis.named) {
    named +=
        fmt::format("{}{} {:.10g}", named.empty() ? " (" : ", ", in_quotes(place.text), place.at);
  }
  if (!named.empty()) named += ")";
  const std::string step = !named.empty()  ? named
                           : axis.step > 0 ? fmt::format(" {:.10g}", axis.step)
                                           : " autofreq";
  return text + fmt::format(
                    "set {0}label {1} tc rgb '{2}'\n"
                    "set {0}tics nomirror out{3} textcolor rgb '{2}'\n",
                    name, in_quotes(axis.title), colour_of(Ink::text), step);
}

std::string panel_text(const Panel& panel) {
  const Vec lo = panel.place.lo;
  const Vec hi = panel.place.hi;
  std::string text = fmt::format(
      "set lmargin at screen {:.6f}\nset rmargin at screen {:.6f}\n"
      "set bmargin at screen {:.6f}\nset tmargin at screen {:.6f}\n",
      lo.x / kSheet.x, hi.x / kSheet.x, lo.y / kSheet.y, hi.y / kSheet.y);
  const bool bare = panel.x.title.empty() && panel.y.title.empty();
  text += bare ? "unset border\nunset grid\n"
               : fmt::format("set border 3 lc rgb '{}' lw 1.2\nset grid lc rgb '{}' lw 1 dt 1\n",
                             colour_of(Ink::text), colour_of(Ink::faint));
  text += axis_text("x", panel.x) + axis_text("y", panel.y);
  if (!panel.title.empty()) {
    text += text_at(panel.title, {lo.x, hi.y + 22}, "left", 15, Ink::text, false);
  }
  const Layout layout = lay_out(panel);
  text += labels_text(layout);
  Elements elements;
  add_areas(panel, elements);
  add_lines(panel, elements);
  add_dots(panel, elements);
  add_leaders(panel, layout, elements);
  add_marks(panel, layout, elements);
  return text + elements.text() + "unset label\n";
}

}  // namespace

std::string in_quotes(std::string_view text) {
  std::string result = "'";
  for (const char c : text) {
    // Between single quotes nothing is expanded; the one character that could end them is drawn as
    // the apostrophe that it mostly is.
    if (c == '\'') {
      result += "\u2019";
    } else {
      result += std::iscntrl(static_cast<unsigned char>(c)) != 0 ? ' ' : c;
    }
  }
  return result + "'";
}

std::string script_of(const Picture& picture) {
  std::string script = "set encoding utf8\nset format '%g'\nset key off\nset multiplot\n";
  const std::string heading = text_at(
      picture.finding, {kSheet.x / 2, kSheet.y - 34}, "center",
      std::min(21.0, 21 * (kSheet.x - 40) / text_width(picture.finding, 21)), Ink::text, false);
  script += heading;
  // Labels are drawn with the plot that follows them; a picture of nothing has its heading alone.
  if (picture.panels.empty()) {
    Panel bare;
    bare.place = {{60, 40}, {1220, 690}};
    script += panel_text(bare);
  }
  for (const Panel& panel : picture.panels) script += panel_text(panel);
  return script + "unset multiplot\n";
}

}  // namespace bushbaby::detail
