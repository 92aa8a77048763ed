// Pictures as values: what is to be seen, in roles and numbers, and nothing of how it is printed.
//
// A picture is a sheet of 1280 by 800 px with panels on it. A panel shows areas, lines, dots, marks
// and labels in coordinates of its own. `lay_out` finds every label and mark its place on the
// sheet; `render` (bushbaby/views/render.h) prints it.
#pragma once

#include <string>
#include <vector>

#include <bushbaby/core/shape/shapes.h>

namespace bushbaby {

/// px, y up.
inline constexpr Vec kSheet{1280, 800};

/// What a colour stands for.
enum class Ink {
  paper,          ///< the ground
  text,           ///< lines and words
  faint,          ///< grid, leaders
  measured,       ///< what was measured
  measured_soft,  ///< the same, as the line between dots
  target,         ///< a target
  target_soft,    ///< the same, as a band
  missed,         ///< a miss, or what hurts
  terrain,
  terrain_edge,
  zone,  ///< where other rules are in force
  zone_edge,
  body,        ///< the outline of a body
  pressed,     ///< a button that is held
  grace,       ///< what is still allowed for a time
  first_line,  ///< lines that are distinguished, up to eight
  second_line,
  third_line,
  fourth_line,
  fifth_line,
  sixth_line,
  seventh_line,
  eighth_line,
};

/// The colour of an ink, "#rrggbb".
[[nodiscard]] std::string_view colour_of(Ink ink) noexcept;

enum class Stroke { solid, dashed, dotted, dash_dotted };

struct Polyline {
  std::vector<Vec> points;
  Ink ink = Ink::text;
  double width = 2;  ///< px
  Stroke stroke = Stroke::solid;
  bool kept_clear = true;  ///< labels stay off it where they can
};

/// A filled outline.
struct Area {
  std::vector<Vec> outline;
  Ink ink = Ink::terrain;
  double strength = 1;  ///< the share of the colour; the rest is paper
};

/// One for each tick.
struct Dots {
  std::vector<Vec> at;
  Ink ink = Ink::measured;
};

/// The shapes of marks.
enum class Sign {
  take_off,   ///< a chevron
  apex,       ///< a dome
  landing,    ///< a bowl
  cut,        ///< a stroke across
  wall,       ///< a bracket, its back to the wall
  head,       ///< a post under a beam
  dash,       ///< two chevrons lying down
  fast_fall,  ///< two chevrons upside down
  climb,      ///< three rungs
  sprint,     ///< two strokes leaning forward
  bounce,     ///< a zigzag
  push,       ///< three rays
  farthest,   ///< a ring of four pieces
  met,        ///< a leaf
  missed,     ///< a thorn
};

struct Mark {
  Vec at{0, 0};
  Sign sign = Sign::apex;
  Ink ink = Ink::text;
  bool mirrored = false;  ///< for signs with a direction: to the left
};

/// Where a label stands from its place.
enum class Side { above, below, right, left, over };

struct Label {
  std::string text;
  Vec at{0, 0};
  Side side = Side::above;  ///< tried first; `over` is centred on the place
  double size = 14;         ///< px
  bool fixed = false;       ///< stands there and nowhere else
  bool upright = false;     ///< reads upward; for fixed ones
  Ink ink = Ink::text;
};

/// An axis in panel coordinates; without a title neither it nor its grid is drawn.
struct Axis {
  double lo = 0;
  double hi = 1;
  std::string title;
  double step = 0;  ///< between its numbers; 0: as fits
  /// Instead of numbers: words at places of it.
  struct Named {
    double at = 0;
    std::string text;
  };
  std::vector<Named> named{};
};

/// The next larger of 1, 2, 5, 10, … times a power of ten: for steps between numbers.
[[nodiscard]] double round_step(double least) noexcept;

struct Panel {
  Box place;  ///< px on the sheet: the area inside the axes
  Axis x;
  Axis y;
  std::string title;
  std::vector<Area> areas;
  std::vector<Polyline> lines;
  std::vector<Dots> dots;
  std::vector<Mark> marks;
  std::vector<Label> labels;  ///< in order of weight: the first gets its place first

  /// From panel coordinates to the sheet, and back.
  [[nodiscard]] Vec on_sheet(Vec at) const noexcept;
  [[nodiscard]] Vec off_sheet(Vec px) const noexcept;
};

struct Picture {
  std::string finding;  ///< the heading: what the picture says
  std::string about;    ///< a sentence for whoever cannot see it
  std::vector<Panel> panels;
};

/// A panel inside `room` (px) that shows at least `data` at equal scale on both axes. It grows to
/// fill the room: to the right and upward, or evenly if `centred`.
[[nodiscard]] Panel equal_scale_panel(const Box& room, const Box& data, bool centred = false);

/// The room for a panel whose vertical axis goes from `lo` to `hi` (as they are reported), with
/// enough on its left for the numbers and the title of that axis.
[[nodiscard]] Box beside_numbers(Box room, double lo, double hi);

/// Reports a finished panel's coordinates in other units: multiplies all of them, axes included. A
/// negative factor turns the axis' numbers; what is drawn stays where it is. Steps and named places
/// are set behind it.
void rescale(Panel& panel, Vec factor);

/// The outline of a box.
[[nodiscard]] std::vector<Vec> outline_of(const Box& box);

/// A body standing with its feet at a place, along `up`, as a thin outline; `radius` is that of its
/// corners.
[[nodiscard]] Polyline body_outline(Vec feet, double width, double height, double radius = 0,
                                    Vec up = {0, 1});

/// The width of a text in the font of pictures, px.
[[nodiscard]] double text_width(std::string_view text, double size) noexcept;

/// Where things came to lie on the sheet, px.
struct PlacedLabel {
  const Label* label = nullptr;
  Ink ink = Ink::text;  ///< its own, or that of text where its own cannot be read on the terrain
  Box box;              ///< what it covers
  bool leads = false;   ///< stands so far off that a line leads to its place
  Vec place{0, 0};      ///< that place
  Vec nearest{0, 0};    ///< the label's nearest point to it
};
struct PlacedMark {
  const Mark* mark = nullptr;
  Vec at{0, 0};
  Vec place{0, 0};  ///< where it belongs; elsewhere if another mark stands there
};
struct Layout {
  std::vector<PlacedLabel> labels;
  std::vector<PlacedMark> marks;
};

/// Finds every mark and label a place: marks that would coincide are set apart, no label covers
/// another, a mark or the sheet's edge, and lines are kept clear where there is room. A label or
/// a mark for which there is no room at all is omitted. Panels are laid out one by one; the layout
/// points into the panel.
[[nodiscard]] Layout lay_out(const Panel& panel);

}  // namespace bushbaby
