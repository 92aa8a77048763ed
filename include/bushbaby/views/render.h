// Turning a picture into a file.
#pragma once

#include <optional>
#include <string>

#include <bushbaby/data/problem.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

/// Writes the picture at 1280x800 to a file ending in .png or .svg, whole or not at all. The file
/// says what it shows and what made it.
[[nodiscard]] std::optional<Problem> render(const Picture& picture, const std::string& path);

/// The picture as SVG.
[[nodiscard]] Result<std::string> svg_of(const Picture& picture);

}  // namespace bushbaby
