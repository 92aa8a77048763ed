#include "display.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <string_view>

#include <SDL_opengl.h>
#include <backends/imgui_impl_opengl3.h>
#include <backends/imgui_impl_sdl.h>
#include <fmt/format.h>
#include <imgui.h>
#include <png.h>

#include "bushbaby/data/files.h"

namespace bushbaby::live {
namespace {

constexpr int kWidth = 1280;
constexpr int kHeight = 800;

Problem display_problem(const std::string& what) {
  return {ProblemCode::cannot_write,
          "the window",
          0,
          0,
          {},
          SDL_GetError()[0] == '\0' ? what : fmt::format("{}: {}", what, SDL_GetError()),
          "a display; without a monitor, run it under a virtual one: xvfb-run bushbaby play …",
          {}};
}

}  // namespace

std::optional<Problem> Display::open(const std::string& title) {
  SDL_SetMainReady();
  SDL_SetHint(SDL_HINT_NO_SIGNAL_HANDLERS, "1");
  if (SDL_Init(SDL_INIT_VIDEO | SDL_INIT_GAMECONTROLLER) != 0) {
    return display_problem("no display");
  }
  is_open_ = true;
  // Without a display there may be drivers that show nothing to nobody.
  const std::string_view driver = SDL_GetCurrentVideoDriver();
  const bool is_asked_for = SDL_getenv("SDL_VIDEODRIVER") != nullptr;
  if (!is_asked_for && (driver == "offscreen" || driver == "dummy" || driver == "evdev")) {
    SDL_ClearError();  // what it tried on the way reports nothing
    return display_problem("no display");
  }
  SDL_GL_SetAttribute(SDL_GL_CONTEXT_PROFILE_MASK, SDL_GL_CONTEXT_PROFILE_CORE);
  SDL_GL_SetAttribute(SDL_GL_CONTEXT_MAJOR_VERSION, 3);
  SDL_GL_SetAttribute(SDL_GL_CONTEXT_MINOR_VERSION, 2);
  SDL_GL_SetAttribute(SDL_GL_DOUBLEBUFFER, 1);
  constexpr Uint32 kFlags = SDL_WINDOW_OPENGL | SDL_WINDOW_RESIZABLE | SDL_WINDOW_ALLOW_HIGHDPI;
  window_.reset(SDL_CreateWindow(title.c_str(), SDL_WINDOWPOS_CENTERED, SDL_WINDOWPOS_CENTERED,
                                 kWidth, kHeight, kFlags));
  if (!window_) return display_problem("no window");
  constexpr int kLeastWidth = 900;
  constexpr int kLeastHeight = 560;
  SDL_SetWindowMinimumSize(window_.get(), kLeastWidth, kLeastHeight);
  context_ = SDL_GL_CreateContext(window_.get());
  if (context_ == nullptr) return display_problem("no drawing surface");
  SDL_GL_MakeCurrent(window_.get(), context_);
  SDL_GL_SetSwapInterval(1);
  ImGui::CreateContext();
  has_widgets_ = true;
  ImGui::GetIO().IniFilename = nullptr;  // nothing is written where nobody looks
  if (!ImGui_ImplSDL2_InitForOpenGL(window_.get(), context_)) return display_problem("no events");
  has_events_ = true;
  if (!ImGui_ImplOpenGL3_Init("#version 150")) return display_problem("no shaders");
  has_renderer_ = true;
  return std::nullopt;
}

Display::~Display() {
  pads_.clear();
  if (has_renderer_) ImGui_ImplOpenGL3_Shutdown();
  if (has_events_) ImGui_ImplSDL2_Shutdown();
  if (has_widgets_) ImGui::DestroyContext();
  if (context_ != nullptr) SDL_GL_DeleteContext(context_);
  window_.reset();
  if (is_open_) SDL_Quit();
}

float Display::scale() const {
  constexpr float kPlain = 96;  // dots to an inch
  float dpi = kPlain;
  if (SDL_GetDisplayDPI(SDL_GetWindowDisplayIndex(window_.get()), nullptr, &dpi, nullptr) != 0) {
    return 1;
  }
  // Displays that do not know their size say anything.
  const float scale = dpi / kPlain;
  return scale >= 1.4F && scale < 4 ? scale : 1;
}

void Display::open_pad(int index) {
  if (SDL_GameController* pad = SDL_GameControllerOpen(index)) pads_.emplace_back(pad);
}

void Display::close_pad(SDL_JoystickID id) {
  pads_.erase(std::remove_if(pads_.begin(), pads_.end(),
                             [id](const auto& pad) {
                               return SDL_JoystickInstanceID(
                                          SDL_GameControllerGetJoystick(pad.get())) == id;
                             }),
              pads_.end());
}

std::optional<Problem> write_picture(const std::string& path) {
  std::array<GLint, 4> view{};
  glGetIntegerv(GL_VIEWPORT, view.data());
  const int width = view[2];
  const int height = view[3];
  constexpr std::size_t kChannels = 3;
  std::vector<std::uint8_t> rows(static_cast<std::size_t>(width) *
                                 static_cast<std::size_t>(height) * kChannels);
  glPixelStorei(GL_PACK_ALIGNMENT, 1);
  glReadPixels(0, 0, width, height, GL_RGB, GL_UNSIGNED_BYTE, rows.data());
  png_image image{};
  image.version = PNG_IMAGE_VERSION;
  image.width = static_cast<png_uint_32>(width);
  image.height = static_cast<png_uint_32>(height);
  image.format = PNG_FORMAT_RGB;
  const auto stride = -static_cast<png_int_32>(static_cast<std::size_t>(width) * kChannels);
  png_alloc_size_t size = 0;
  std::string bytes;
  bool done =
      png_image_write_to_memory(&image, nullptr, &size, 0, rows.data(), stride, nullptr) != 0;
  if (done) {
    bytes.resize(size);
    done = png_image_write_to_memory(&image, bytes.data(), &size, 0, rows.data(), stride,
                                     nullptr) != 0;
    bytes.resize(size);
  }
  if (!done) {
    return Problem{ProblemCode::cannot_write,         path,           0, 0, {},
                   "a picture that cannot be packed", "one that can", {}};
  }
  return write_file(path, bytes);
}

}  // namespace bushbaby::live
