// What a picture's file says about itself.
#pragma once

#include <optional>
#include <string>

#include "bushbaby/views/picture.h"

namespace bushbaby::detail {

// The PNG with its title, its description and what made it; nothing if it is no whole PNG.
std::optional<std::string> described_png(const std::string& png, const Picture& picture);

// The SVG with title, description and names of our own; nothing if it is no whole SVG.
std::optional<std::string> described_svg(const std::string& svg, const Picture& picture);

}  // namespace bushbaby::detail
