// Pictures printed by the window: panels as they are, without axes.
#pragma once

#include <string_view>
#include <vector>

#include <imgui.h>

#include "bushbaby/views/picture.h"

#include "look.h"

namespace bushbaby::live {

/// Where a sheet lies on the screen. Its y grows upward from `bottom`.
struct Sheet {
  float left = 0;
  float bottom = 0;

  [[nodiscard]] ImVec2 at(Vec px) const noexcept {
    return {left + static_cast<float>(px.x), bottom - static_cast<float>(px.y)};
  }
};

/// A line through places of the screen.
void draw_line(ImDrawList& list, const std::vector<ImVec2>& points, ImU32 ink, float width,
               Stroke stroke = Stroke::solid);

/// An outline, filled; it may be bent inwards.
void fill(ImDrawList& list, const Sheet& sheet, const std::vector<Vec>& outline, ImU32 ink);

/// The strokes of a sign around a place of the screen.
void draw_sign(ImDrawList& list, ImVec2 at, Sign sign, bool mirrored, ImU32 ink, float scale);

/// Areas, lines, dots and marks of a panel, and its labels, each where it asks to stand.
void draw_panel(ImDrawList& list, const Sheet& sheet, const Panel& panel, const Fonts& fonts,
                float scale);

/// A text that is centred on a place, or ends or begins there; -1, 0, 1 each way.
void draw_text(ImDrawList& list, ImFont* font, ImVec2 at, float across, float down, ImU32 ink,
               std::string_view text);

}  // namespace bushbaby::live
