// The display: a window of the system, with a surface that widgets are drawn on.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <SDL.h>

#include "bushbaby/data/problem.h"

namespace bushbaby::live {

/// Opens on `open`, and closes all that it opened.
class Display {
 public:
  Display() = default;
  Display(const Display&) = delete;
  Display& operator=(const Display&) = delete;
  ~Display();

  [[nodiscard]] std::optional<Problem> open(const std::string& title);

  [[nodiscard]] SDL_Window* window() const { return window_.get(); }
  /// How large everything should be there: 1 for 96 dots to an inch.
  [[nodiscard]] float scale() const;

  void open_pad(int index);
  void close_pad(SDL_JoystickID id);

 private:
  struct CloseWindow {
    void operator()(SDL_Window* window) const { SDL_DestroyWindow(window); }
  };
  struct ClosePad {
    void operator()(SDL_GameController* pad) const { SDL_GameControllerClose(pad); }
  };

  bool is_open_ = false;
  bool has_widgets_ = false;
  bool has_events_ = false;
  bool has_renderer_ = false;
  std::unique_ptr<SDL_Window, CloseWindow> window_;
  SDL_GLContext context_ = nullptr;
  std::vector<std::unique_ptr<SDL_GameController, ClosePad>> pads_;
};

/// Writes what is drawn now as a picture, PNG.
[[nodiscard]] std::optional<Problem> write_picture(const std::string& path);

}  // namespace bushbaby::live
