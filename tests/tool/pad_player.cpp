// Plays in the real window with a pad that is none: the window system's virtual one, whose stick
// and buttons move between frames as a thumb would move them. It counts the ticks that were played,
// not seconds: a frame that comes late must not swallow what was held. What came of it is in the
// files that are kept.
#include <cstdint>
#include <cstdio>
#include <functional>
#include <utility>
#include <vector>

#include <SDL.h>

#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

#include "window/window.h"

namespace bushbaby::live {
namespace {

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
  void set(SDL_GameControllerButton button, bool is_down) {
    SDL_JoystickSetVirtualButton(pad_, button, is_down ? SDL_PRESSED : SDL_RELEASED);
  }

 private:
  SDL_Joystick* pad_;
};

// What the thumb does, one thing after another, each a few ticks after the last; frames count while
// the game is paused.
class Thumb {
 public:
  explicit Thumb(VirtualPad& pad) : pad_(pad) {
    wait(60);                           // the window opens
    press(SDL_CONTROLLER_BUTTON_B, 4);  // the button that is waited for: dash from now on
    tilt(1, 24);
    press(SDL_CONTROLLER_BUTTON_A, 24);  // a jump
    tilt(0.1, 24);                       // near the middle: let go
    press(SDL_CONTROLLER_BUTTON_DPAD_LEFT, 24);
    press(SDL_CONTROLLER_BUTTON_B, 24);  // a dash
    wait(24);
    press(SDL_CONTROLLER_BUTTON_START, 4);
    press(SDL_CONTROLLER_BUTTON_Y, 4);           // save_inputs
    press(SDL_CONTROLLER_BUTTON_LEFTSTICK, 4);   // save_trace
    press(SDL_CONTROLLER_BUTTON_RIGHTSTICK, 4);  // quit
  }

  void look(const Session& session) {
    if (next_ == moves_.size()) return;
    const std::int64_t passed = session.is_paused() ? ++frames_ : session.shown() - last_;
    if (passed < moves_[next_].first) return;
    moves_[next_].second();
    last_ = session.shown();
    frames_ = 0;
    ++next_;
  }

 private:
  static constexpr int kBetween = 12;

  void wait(int ticks) {
    moves_.emplace_back(ticks, [] {});
  }
  void tilt(double right, int ticks) {
    moves_.emplace_back(0, [this, right] { pad_.tilt(right); });
    wait(ticks);
  }
  void press(SDL_GameControllerButton button, int ticks) {
    moves_.emplace_back(0, [this, button] { pad_.set(button, true); });
    moves_.emplace_back(ticks, [this, button] { pad_.set(button, false); });
    wait(kBetween);
  }

  VirtualPad& pad_;
  std::vector<std::pair<int, std::function<void()>>> moves_;  // after how many ticks
  std::size_t next_ = 0;
  std::int64_t last_ = 0;
  std::int64_t frames_ = 0;
};

int play(const char* tuning, const char* level_path) {
  auto file = load_tuning(tuning);
  auto level = load_level_file(level_path);
  if (!file || !level) return 2;
  WindowOpening opening;
  opening.session.book = *compile_for(*file, *level, level_path, file->units());
  opening.session.file = *file;
  opening.session.level = level->level;
  opening.settings = Settings::defaults();
  opening.settings.bind_button("save_inputs", "Y");
  opening.settings.bind_button("save_trace", "left stick");
  opening.settings.bind_button("quit", "right stick");
  opening.settings_path = settings_path();
  App app(std::move(opening));
  app.binds = "dash";  // as a click on its row does
  if (SDL_InitSubSystem(SDL_INIT_GAMECONTROLLER) != 0) return 2;
  VirtualPad pad;
  if (!pad.is_there()) {
    std::fprintf(stderr, "%s\n", SDL_GetError());
    return 2;
  }
  Thumb thumb(pad);
  FrameCosts costs;
  WindowOptions options;
  options.title = "Bushbaby";
  options.each_frame = [&] { thumb.look(app.session); };
  return run_window(app, options, costs) ? 2 : 0;
}

}  // namespace
}  // namespace bushbaby::live

int main(int count, char** words) {
  return count == 3 ? bushbaby::live::play(words[1], words[2]) : 2;
}
