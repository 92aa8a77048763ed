// Turning a drawing into a picture file.
#pragma once

#include <optional>
#include <string>

#include <bushbaby/data/problem.h>

namespace bushbaby {

/// A drawing, in the words of the plotting program; made by the other headers of this part.
struct Drawing {
  std::string script;
};

/// Writes the drawing at 1280x800 to a file ending in .png or .svg, whole or not at all.
[[nodiscard]] std::optional<Problem> render(const Drawing& drawing, const std::string& path);

}  // namespace bushbaby
