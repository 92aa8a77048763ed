#include "bushbaby/views/render.h"

#include <cstdio>
#include <filesystem>
#include <system_error>

#include <fmt/format.h>

#include "bushbaby/data/files.h"

#include "sheet.h"

namespace bushbaby {
namespace {

// The plotting program's name for a picture format, by the file's ending.
std::string_view terminal_for(const std::string& path) {
  const std::string ending = std::filesystem::path(path).extension().string();
  if (ending == ".png") return "pngcairo";
  if (ending == ".svg") return "svg";
  return {};
}

Problem cannot_draw(const std::string& path, std::string found, std::string expected) {
  return {ProblemCode::cannot_write, path, 0, 0, "", std::move(found), std::move(expected), ""};
}

}  // namespace

std::optional<Problem> render(const Drawing& drawing, const std::string& path) {
  const std::string_view terminal = terminal_for(path);
  if (terminal.empty()) {
    return cannot_draw(path, "no picture format in the name", "a name ending in .png or .svg");
  }
  std::error_code ignored;
  if (std::filesystem::is_directory(path, ignored)) {
    return cannot_draw(path, "a directory", "a place that can be written to");
  }
  const std::string temporary = temporary_beside(path);
  // An empty file first: the plotting program would report an unwritable place less clearly.
  if (auto problem = write_file(temporary, "")) {
    problem->file = path;
    return problem;
  }
  std::FILE* pipe = ::popen("gnuplot", "w");
  if (pipe == nullptr) return cannot_draw(path, "no process for gnuplot", "gnuplot installed");
  const std::string script = fmt::format(
      "set terminal {} size 1280,800 font 'Open Sans,{}' background rgb '{}' noenhanced\n"
      "set output {}\n{}\nunset output\n",
      terminal, terminal == "svg" ? 15 : 12, detail::colour::kPaper, detail::quoted(temporary),
      drawing.script);
  const bool sent = std::fwrite(script.data(), 1, script.size(), pipe) == script.size();
  const int status = ::pclose(pipe);
  if (!sent || status != 0) {
    std::filesystem::remove(temporary, ignored);
    return cannot_draw(path, "gnuplot failed or is missing", "gnuplot installed and in the path");
  }
  return replace_file(temporary, path);
}

}  // namespace bushbaby
