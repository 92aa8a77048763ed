// Plays in the real window with a pad that is none: the window system's virtual one, whose stick
// and buttons a second thread moves as a thumb would. What came of it is in the files that are
// kept.
#include <chrono>
#include <cstdio>
#include <thread>

#include <SDL.h>

#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

#include "window/window.h"

namespace bushbaby::live {
namespace {

void wait(int ms) { std::this_thread::sleep_for(std::chrono::milliseconds(ms)); }

class VirtualPad {
 public:
  VirtualPad()
      : pad_(SDL_JoystickOpen(SDL_JoystickAttachVirtual(SDL_JOYSTICK_TYPE_GAMECONTROLLER,
                                                        SDL_CONTROLLER_AXIS_MAX,
                                                        SDL_CONTROLLER_BUTTON_MAX, 0))) {}
  [[nodiscard]] bool is_there() const { return pad_ != nullptr; }
  void tilt(double right) {
    SDL_JoystickSetVirtualAxis(pad_, SDL_CONTROLLER_AXIS_LEFTX,
                               static_cast<Sint16>(right * SDL_JOYSTICK_AXIS_MAX));
  }
  void press(SDL_GameControllerButton button, int ms) {
    SDL_JoystickSetVirtualButton(pad_, button, SDL_PRESSED);
    wait(ms);
    SDL_JoystickSetVirtualButton(pad_, button, SDL_RELEASED);
    wait(kBetween);
  }

 private:
  static constexpr int kBetween = 200;
  SDL_Joystick* pad_;
};

void play_with(VirtualPad& pad) {
  constexpr int kLong = 400;
  constexpr int kShort = 60;
  wait(3 * kLong);                             // the window opens
  pad.press(SDL_CONTROLLER_BUTTON_B, kShort);  // the button that is waited for: dash from now on
  pad.tilt(1);
  wait(kLong);
  pad.press(SDL_CONTROLLER_BUTTON_A, kLong);  // a jump
  pad.tilt(0.1);                              // near the middle: let go
  wait(kLong);
  pad.press(SDL_CONTROLLER_BUTTON_DPAD_LEFT, kLong);
  pad.press(SDL_CONTROLLER_BUTTON_B, kLong);  // a dash
  wait(kLong);
  pad.press(SDL_CONTROLLER_BUTTON_START, kShort);
  pad.press(SDL_CONTROLLER_BUTTON_Y, kShort);           // keep_inputs
  pad.press(SDL_CONTROLLER_BUTTON_LEFTSTICK, kShort);   // keep_trace
  pad.press(SDL_CONTROLLER_BUTTON_RIGHTSTICK, kShort);  // quit
}

int play(const char* tuning, const char* level_path) {
  auto file = load_tuning(tuning);
  auto level = load_level_file(level_path);
  if (!file || !level) return 2;
  WindowOpening opening;
  opening.session.book = *compile_for(*file, *level, level_path, file->units());
  opening.session.file = *file;
  opening.session.level = level->level;
  opening.settings = Settings::defaults();
  opening.settings.bind_button("keep_inputs", "y");
  opening.settings.bind_button("keep_trace", "leftstick");
  opening.settings.bind_button("quit", "rightstick");
  opening.settings_path = settings_path();
  App app(std::move(opening));
  app.binds = "dash";  // as a click on its row does
  if (SDL_InitSubSystem(SDL_INIT_GAMECONTROLLER) != 0) return 2;
  VirtualPad pad;
  if (!pad.is_there()) {
    std::fprintf(stderr, "%s\n", SDL_GetError());
    return 2;
  }
  std::thread thumb([&pad] { play_with(pad); });
  FrameCosts costs;
  WindowOptions options;
  options.title = "Bushbaby";
  const auto problem = run_window(app, options, costs);
  thumb.join();
  return problem ? 2 : 0;
}

}  // namespace
}  // namespace bushbaby::live

int main(int count, char** words) {
  return count == 3 ? bushbaby::live::play(words[1], words[2]) : 2;
}
