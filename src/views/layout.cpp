// Places for marks and labels.
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "bushbaby/views/picture.h"

#include "signs.h"

namespace bushbaby {
namespace {

// Advance widths of the printable ASCII characters in the font of pictures, thousandths of its
// size.
constexpr std::array<int, 95> kAdvances{
    260, 267, 401, 646, 572, 823, 730, 221, 296, 296, 552, 572, 245, 322, 266, 367, 572, 572, 572,
    572, 572, 572, 572, 572, 572, 572, 266, 266, 572, 572, 572, 429, 899, 633, 648, 631, 729, 556,
    516, 728, 738, 279, 267, 614, 519, 903, 754, 779, 602, 779, 618, 549, 553, 728, 595, 926, 577,
    560, 571, 329, 367, 329, 542, 448, 577, 556, 613, 476, 613, 561, 339, 548, 614, 253, 253, 525,
    253, 930, 614, 604, 613, 613, 408, 477, 353, 614, 501, 778, 524, 504, 468, 379, 551, 379, 572};
constexpr int kOtherAdvance = 800;  // wide enough for what is not in the table

constexpr double kLineHeight = 1.25;  // of the size
constexpr double kSheetMargin = 6;    // px that stay free at the edge of the sheet

constexpr double kGaps[] = {5, 12, 22, 36, 56, 84, 120};  // px between a label and its place
constexpr double kLeaderFrom = 26;  // px from a place from which on a line leads there

bool overlap(const Box& a, const Box& b) {
  return a.lo.x < b.hi.x && b.lo.x < a.hi.x && a.lo.y < b.hi.y && b.lo.y < a.hi.y;
}

double distance(Vec a, Vec b) { return std::hypot(a.x - b.x, a.y - b.y); }

Vec size_of(const Label& label) {
  const Vec lying{text_width(label.text, label.size), label.size * kLineHeight};
  return label.upright ? Vec{lying.y, lying.x} : lying;
}

// The box of a label in a direction from its place; each part of `way` is -1, 0 or 1.
Box box_towards(Vec place, Vec size, Vec way, double gap) {
  const Vec middle{place.x + way.x * (gap + size.x / 2), place.y + way.y * (gap + size.y / 2)};
  return {{middle.x - size.x / 2, middle.y - size.y / 2},
          {middle.x + size.x / 2, middle.y + size.y / 2}};
}

// The nearest place of a box to a point.
Vec nearest_in(const Box& box, Vec at) {
  return {std::clamp(at.x, box.lo.x, box.hi.x), std::clamp(at.y, box.lo.y, box.hi.y)};
}

// The directions in which a label is tried, its own side first.
std::array<Vec, 8> ways_of(Side side) {
  switch (side) {
    case Side::below:
      return {{{0, -1}, {1, -1}, {-1, -1}, {0, 1}, {1, 0}, {-1, 0}, {1, 1}, {-1, 1}}};
    case Side::right:
      return {{{1, 0}, {1, 1}, {1, -1}, {-1, 0}, {0, 1}, {0, -1}, {-1, 1}, {-1, -1}}};
    case Side::left:
      return {{{-1, 0}, {-1, 1}, {-1, -1}, {1, 0}, {0, 1}, {0, -1}, {1, 1}, {1, -1}}};
    case Side::above:
    case Side::over: break;
  }
  return {{{0, 1}, {1, 1}, {-1, 1}, {0, -1}, {1, 0}, {-1, 0}, {1, -1}, {-1, -1}}};
}

Vec way_of(Side side) { return side == Side::over ? Vec{0, 0} : ways_of(side)[0]; }

// Which cells of the sheet hold lines and dots; as many as the sheet has, however much is drawn.
class Occupied {
 public:
  Occupied() : cells_(kAcross * kUp, false) {}

  void add(Vec px) {
    if (px.x < 0 || px.y < 0 || px.x >= kSheet.x || px.y >= kSheet.y) return;
    cells_[row_of(px.y) * kAcross + row_of(px.x)] = true;
  }

  // How many of them lie in a box that lies on the sheet.
  [[nodiscard]] int in(const Box& box) const {
    int count = 0;
    for (std::size_t y = row_of(box.lo.y); y <= row_of(box.hi.y); ++y) {
      for (std::size_t x = row_of(box.lo.x); x <= row_of(box.hi.x); ++x) {
        count += cells_[y * kAcross + x] ? 1 : 0;
      }
    }
    return count;
  }

 private:
  static constexpr double kCell = 5;  // px
  static constexpr std::size_t kAcross = 256;
  static constexpr std::size_t kUp = 160;
  static std::size_t row_of(double px) { return static_cast<std::size_t>(px / kCell); }

  std::vector<bool> cells_;
};

// Lays out one panel.
class Placer {
 public:
  explicit Placer(const Panel& panel) : panel_(panel) {}

  Layout place() {
    for (const Polyline& line : panel_.lines) {
      if (line.kept_clear) sample(line);
    }
    for (const Dots& dots : panel_.dots) {
      for (const Vec& at : dots.at) occupied_.add(panel_.on_sheet(at));
    }
    for (const Mark& mark : panel_.marks) place_mark(mark);
    for (const Label& label : panel_.labels) {
      if (label.fixed) place_fixed(label);
    }
    for (const Label& label : panel_.labels) {
      if (!label.fixed) place_label(label);
    }
    for (PlacedLabel& placed : layout_.labels) {
      placed.ink = lies_on_terrain(placed.box) ? Ink::text : placed.label->ink;
    }
    return std::move(layout_);
  }

 private:
  // Whether a part of a label lies on a dark fill: coloured letters could not be read there.
  [[nodiscard]] bool lies_on_terrain(const Box& box) const {
    const double middle = (box.lo.y + box.hi.y) / 2;
    return std::any_of(panel_.areas.begin(), panel_.areas.end(), [&](const Area& area) {
      return area.ink == Ink::terrain && (is_within(area, {box.lo.x, middle}) ||
                                          is_within(area, {(box.lo.x + box.hi.x) / 2, middle}) ||
                                          is_within(area, {box.hi.x, middle}));
    });
  }

  // Whether a place of the sheet lies in an area: it crosses the outline an odd number of times.
  [[nodiscard]] bool is_within(const Area& area, Vec px) const {
    const Vec at = panel_.off_sheet(px);
    bool within = false;
    for (std::size_t i = 0; i < area.outline.size(); ++i) {
      const Vec a = area.outline[i];
      const Vec b = area.outline[(i + 1) % area.outline.size()];
      if ((a.y > at.y) == (b.y > at.y)) continue;
      if (at.x < a.x + (at.y - a.y) / (b.y - a.y) * (b.x - a.x)) within = !within;
    }
    return within;
  }

  // Along a line, in steps so short that no label slips between them.
  void sample(const Polyline& line) {
    constexpr double kStep = 6;  // px
    for (std::size_t i = 1; i < line.points.size(); ++i) {
      const Vec a = panel_.on_sheet(line.points[i - 1]);
      const Vec b = panel_.on_sheet(line.points[i]);
      const double steps = std::min(std::floor(distance(a, b) / kStep) + 1, kSheet.x);
      for (double k = 0; k <= steps; ++k) occupied_.add(a + (b - a) * (k / steps));
    }
  }

  void place_mark(const Mark& mark) {
    const Vec place = panel_.on_sheet(mark.at);
    constexpr double kApart = 2.2 * detail::kSignRadius;
    const auto is_free = [this](Vec at) {
      return std::none_of(layout_.marks.begin(), layout_.marks.end(),
                          [at](const PlacedMark& m) { return distance(m.at, at) < kApart; });
    };
    Vec at = place;
    constexpr Vec kWays[] = {{0, 1},     {0, -1},     {1, 0},      {-1, 0},
                             {0.7, 0.7}, {-0.7, 0.7}, {0.7, -0.7}, {-0.7, -0.7}};
    for (double radius = kApart; !is_free(at) && radius < 5 * kApart; radius += kApart / 2) {
      for (const Vec& way : kWays) {
        if (!is_free(at)) at = place + way * radius;
      }
    }
    if (is_free(at)) layout_.marks.push_back({&mark, at, place});
  }

  void place_fixed(const Label& label) {
    const Vec place = panel_.on_sheet(label.at);
    const double gap = label.side == Side::over ? 0 : kGaps[0];
    layout_.labels.push_back({&label, label.ink,
                              box_towards(place, size_of(label), way_of(label.side), gap), false,
                              place, place});
  }

  void place_label(const Label& label) {
    const Vec place = panel_.on_sheet(label.at);
    const Vec size = size_of(label);
    PlacedLabel best{&label, label.ink, {}, false, place, place};
    double least = std::numeric_limits<double>::infinity();
    for (const double gap : kGaps) {
      double rank = 0;
      for (const Vec& way : ways_of(label.side)) {
        // Beside a mark a diagonal label needs no gap of its own.
        const Box box = box_towards(place, size, way, gap);
        const double cost = cost_of(box) + gap + 3 * rank++;
        if (cost >= least) continue;
        least = cost;
        best.box = box;
        best.nearest = nearest_in(box, place);
        best.leads = distance(best.nearest, place) > kLeaderFrom;
      }
    }
    if (std::isfinite(least)) layout_.labels.push_back(best);
  }

  // What it costs to put a label there; infinite where none may be.
  [[nodiscard]] double cost_of(const Box& box) const {
    constexpr double kNever = std::numeric_limits<double>::infinity();
    const Box sheet{{kSheetMargin, kSheetMargin},
                    {kSheet.x - kSheetMargin, kSheet.y - kSheetMargin}};
    const Box& frame = panel_.place;
    if (box.lo.x < sheet.lo.x || box.hi.x > sheet.hi.x || box.lo.y < frame.lo.y ||
        box.hi.y > std::min(sheet.hi.y, frame.hi.y + 4) || box.lo.x < frame.lo.x ||
        box.hi.x > frame.hi.x + 4) {
      return kNever;
    }
    for (const PlacedLabel& other : layout_.labels) {
      if (overlap(box, other.box)) return kNever;
    }
    for (const PlacedMark& mark : layout_.marks) {
      if (overlap(box, detail::box_of_sign(mark.at))) return kNever;
    }
    constexpr double kCrossing = 30;
    return kCrossing * occupied_.in(box);
  }

  const Panel& panel_;
  Occupied occupied_;
  Layout layout_;
};

}  // namespace

double text_width(std::string_view text, double size) noexcept {
  int thousandths = 0;
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    if (byte >= 0x80 && byte < 0xC0) continue;  // the rest of a longer character
    const bool known = byte >= 32 && byte < 127;
    thousandths += known ? kAdvances[byte - 32U] : kOtherAdvance;
  }
  constexpr double kHinting = 1.03;  // letters are set on whole pixels
  return thousandths * size / 1000 * kHinting;
}

Layout lay_out(const Panel& panel) { return Placer(panel).place(); }

}  // namespace bushbaby
