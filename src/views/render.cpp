#include "bushbaby/views/render.h"

#include <filesystem>

#include <fmt/format.h>

#include "bushbaby/data/files.h"

#include "gnuplot.h"
#include "metadata.h"
#include "script.h"

namespace bushbaby {
namespace {

Problem cannot_draw(const std::string& path, std::string found, std::string expected) {
  return {ProblemCode::cannot_write, path, 0, 0, "", std::move(found), std::move(expected), ""};
}

// The bytes of a file of either kind; `path` is used in problems only.
Result<std::string> drawn(const Picture& picture, const std::string& path, bool svg) {
  // Text of a size in px is the same size in both: the one counts in points, the other in px.
  const std::string script = fmt::format(
      "set terminal {} size {},{} font 'Open Sans,{}' fontscale {} background rgb '{}' "
      "noenhanced\n{}",
      svg ? "svg" : "pngcairo", kSheet.x, kSheet.y, 12, svg ? 4.0 / 3 : 1.0, colour_of(Ink::paper),
      detail::script_of(picture));
  const auto raw = detail::run_gnuplot(script);
  const auto fail = [&path](const std::string& what) {
    return tl::unexpected(std::vector<Problem>{
        {ProblemCode::cannot_write, path, 0, 0, "cannot draw: " + what, "", "", ""}});
  };
  if (!raw) return fail(raw.error());
  auto described =
      svg ? detail::described_svg(*raw, picture) : detail::described_png(*raw, picture);
  if (!described) return fail("gnuplot drew nothing");
  return std::move(*described);
}

}  // namespace

Result<std::string> svg_of(const Picture& picture) { return drawn(picture, "", true); }

std::optional<Problem> render(const Picture& picture, const std::string& path) {
  const std::string ending = std::filesystem::path(path).extension().string();
  const bool svg = ending == ".svg";
  if (!svg && ending != ".png") {
    return cannot_draw(path, "no picture format in the name", "a name ending in .png or .svg");
  }
  const auto bytes = drawn(picture, path, svg);
  if (!bytes) return bytes.error().front();
  return write_file(path, *bytes);
}

}  // namespace bushbaby
