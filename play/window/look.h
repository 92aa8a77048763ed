// The looks of the window: the inks and the font of all our pictures.
#pragma once

#include <imgui.h>

#include "bushbaby/views/picture.h"

namespace bushbaby::live {

/// Sizes of the one font, px at a scale of 1.
struct Fonts {
  ImFont* small = nullptr;    ///< 13: what is beside something
  ImFont* text = nullptr;     ///< 14
  ImFont* heading = nullptr;  ///< 18
};

[[nodiscard]] ImU32 colour(Ink ink, double strength = 1) noexcept;

/// Loads the font at a scale. Where it is not installed, letters are those of the widget library.
[[nodiscard]] Fonts load_fonts(float scale);

/// Gives every widget our colours and shapes.
void restyle(float scale);

}  // namespace bushbaby::live
