#include "events.h"

#include <algorithm>
#include <set>
#include <string>
#include <vector>

#include <SDL.h>
#include <backends/imgui_impl_sdl.h>
#include <imgui.h>

#include "session/dial.h"

namespace bushbaby::live {
namespace {

// Where on the stage the mouse is, px of it, y up.
Vec on_stage(const Rooms& rooms, ImVec2 mouse) {
  return {static_cast<double>(mouse.x - rooms.stage.from.x),
          static_cast<double>(rooms.stage.to.y - mouse.y)};
}

bool is_digit_or_sign(SDL_Keycode key) {
  return (key >= SDLK_0 && key <= SDLK_9) || key == SDLK_MINUS || key == SDLK_PERIOD;
}

class Keyboard {
 public:
  explicit Keyboard(App& app) : app_(app) {}

  void press(const SDL_KeyboardEvent& event) {
    const SDL_Keycode key = event.keysym.sym;
    const std::string name = SDL_GetKeyName(key);
    if (app_.binds) {
      if (event.repeat == 0) bind(name, key);
      return;
    }
    if (ImGui::GetIO().WantTextInput) return;  // to a field
    if (app_.question && event.repeat == 0) {
      answer(key);
      return;
    }
    if (key == SDLK_F4 || key == SDLK_PAGEDOWN) {
      app_.focus = app_.focus == Focus::panel ? Focus::game : Focus::panel;
      app_.session.hands().let_all_go();
      app_.scrolls_to_chosen = true;
      return;
    }
    if (app_.focus == Focus::panel && in_panel(key)) return;
    if (event.repeat != 0 && !repeats(name)) return;
    app_.begin(app_.settings.action_of_key(name));
  }

  void release(const SDL_KeyboardEvent& event) {
    app_.end(app_.settings.action_of_key(SDL_GetKeyName(event.keysym.sym)));
  }

 private:
  void bind(const std::string& name, SDL_Keycode key) {
    if (key != SDLK_ESCAPE) app_.bind_key(*app_.binds, name);
    app_.binds.reset();
  }

  // The first letter answers: by number.
  void answer(SDL_Keycode key) {
    const auto number = static_cast<std::size_t>(key - SDLK_1);
    if (key < SDLK_1 || number >= app_.question->answers.size()) return;
    const auto then = app_.question->answers[number].then;
    app_.question.reset();
    then();
  }

  [[nodiscard]] bool repeats(const std::string& name) const {
    const std::string_view action = app_.settings.action_of_key(name);
    return action == "step_forward" || action == "step_back" || action == "zoom_in" ||
           action == "zoom_out";
  }

  // Whether the page takes the key.
  bool in_panel(SDL_Keycode key) {
    switch (key) {
      case SDLK_ESCAPE: app_.focus = Focus::game; return true;
      case SDLK_UP: app_.choose(-1); return true;
      case SDLK_DOWN: app_.choose(1); return true;
      case SDLK_LEFT: app_.turn(-1); return true;
      case SDLK_RIGHT: app_.turn(1); return true;
      case SDLK_RETURN: enter(); return true;
      case SDLK_n: return name_entry();
      case SDLK_s: return star_entry();
      default: break;
    }
    if (app_.page == Page::knobs && app_.chosen && is_digit_or_sign(key)) {
      begin_typing();
      return true;
    }
    return false;
  }

  void begin_typing() {
    if (!app_.chosen) return;
    const KnobValue value =
        get_knob(app_.session.desk().present(), *app_.chosen->knob, app_.chosen->row);
    const bool is_text =
        std::holds_alternative<std::string>(value) || std::holds_alternative<bool>(value);
    if (is_text) {
      app_.turn(1);
      return;
    }
    app_.edits = app_.chosen;
    const bool is_none = std::holds_alternative<std::monostate>(value);
    app_.edited = is_none ? std::string()
                          : value_text(value, *app_.chosen->knob, app_.session.desk().units());
    app_.edit_begins = true;
  }

  void enter() {
    switch (app_.page) {
      case Page::knobs: begin_typing(); break;
      case Page::history: app_.go_to_entry(app_.entry); break;
      case Page::keys: app_.binds = std::string(actions()[app_.key_row].name); break;
      case Page::facts: break;
    }
  }

  bool name_entry() {
    if (app_.page != Page::history || app_.entry >= app_.history.entries().size()) return false;
    app_.names_entry = app_.entry;
    app_.edited = app_.history.entries()[app_.entry].name;
    app_.edit_begins = true;
    return true;
  }

  bool star_entry() {
    if (app_.page != Page::history || app_.entry >= app_.history.entries().size()) return false;
    app_.history.star(app_.entry, !app_.history.entries()[app_.entry].starred);
    return true;
  }

  App& app_;
};

// What people call a button of a pad; empty for one that has no name.
std::string name_of_button(std::uint8_t button) {
  switch (button) {
    case SDL_CONTROLLER_BUTTON_A: return "A";
    case SDL_CONTROLLER_BUTTON_B: return "B";
    case SDL_CONTROLLER_BUTTON_X: return "X";
    case SDL_CONTROLLER_BUTTON_Y: return "Y";
    case SDL_CONTROLLER_BUTTON_BACK: return "back";
    case SDL_CONTROLLER_BUTTON_START: return "start";
    case SDL_CONTROLLER_BUTTON_LEFTSTICK: return "left stick";
    case SDL_CONTROLLER_BUTTON_RIGHTSTICK: return "right stick";
    case SDL_CONTROLLER_BUTTON_LEFTSHOULDER: return "left shoulder";
    case SDL_CONTROLLER_BUTTON_RIGHTSHOULDER: return "right shoulder";
    case SDL_CONTROLLER_BUTTON_DPAD_UP: return "D-pad up";
    case SDL_CONTROLLER_BUTTON_DPAD_DOWN: return "D-pad down";
    case SDL_CONTROLLER_BUTTON_DPAD_LEFT: return "D-pad left";
    case SDL_CONTROLLER_BUTTON_DPAD_RIGHT: return "D-pad right";
    default: return "";
  }
}

class Pad {
 public:
  explicit Pad(App& app) : app_(app) {}

  void hear(const SDL_Event& event) {
    if (event.type == SDL_CONTROLLERAXISMOTION) {
      constexpr double kFull = 32767;
      if (event.caxis.axis == SDL_CONTROLLER_AXIS_LEFTX) right_ = event.caxis.value / kFull;
      if (event.caxis.axis == SDL_CONTROLLER_AXIS_LEFTY) up_ = -event.caxis.value / kFull;
      app_.session.hands().tilt(right_, up_);
      return;
    }
    const std::string name = name_of_button(event.cbutton.button);
    if (name.empty()) return;
    if (app_.binds && event.type == SDL_CONTROLLERBUTTONDOWN) {
      app_.bind_button(*app_.binds, name);
      app_.binds.reset();
      return;
    }
    const std::string_view action = app_.settings.action_of_button(name);
    event.type == SDL_CONTROLLERBUTTONDOWN ? app_.begin(action) : app_.end(action);
  }

 private:
  App& app_;
  double right_ = 0;
  double up_ = 0;
};

void hear_mouse(App& app, const Rooms& rooms, const SDL_Event& event) {
  const ImVec2 mouse = ImGui::GetIO().MousePos;
  if (event.type == SDL_MOUSEWHEEL) {
    constexpr double kNotch = 1.15;
    const double factor = event.wheel.y > 0 ? kNotch : 1 / kNotch;
    if (rooms.stage.contains(mouse)) app.camera.zoom(factor, on_stage(rooms, mouse));
    if (rooms.timeline.contains(mouse)) {
      constexpr double kShortest = 0.5;
      constexpr double kLongest = 90;
      app.timeline.seconds = std::clamp(app.timeline.seconds / factor, kShortest, kLongest);
    }
    return;
  }
  if (event.type != SDL_MOUSEBUTTONDOWN) return;
  if (rooms.stage.contains(mouse) || rooms.timeline.contains(mouse)) {
    app.focus = Focus::game;
    app.binds.reset();
  }
  if (event.button.button == SDL_BUTTON_RIGHT && rooms.stage.contains(mouse)) {
    const Vec place = app.camera.to_place(on_stage(rooms, mouse));
    if (!app.session.restart_at(place)) app.say("no room for the body there", true);
  }
}

// Hands events on to the widgets. They look at the keyboard once a frame: a key that goes up in the
// frame in which it went down is released in the next, or they would not see it at all.
class WidgetEvents {
 public:
  void begin_frame() {
    for (const SDL_Event& event : late_) ImGui_ImplSDL2_ProcessEvent(&event);
    late_.clear();
    pressed_.clear();
  }
  void hear(const SDL_Event& event) {
    if (event.type == SDL_KEYDOWN) pressed_.insert(event.key.keysym.scancode);
    if (event.type == SDL_KEYUP && pressed_.count(event.key.keysym.scancode) > 0) {
      late_.push_back(event);
    } else {
      ImGui_ImplSDL2_ProcessEvent(&event);
    }
  }

 private:
  std::set<SDL_Scancode> pressed_;
  std::vector<SDL_Event> late_;
};

}  // namespace

struct Listener::Ears {
  explicit Ears(App& app) : keyboard(app), pad(app) {}

  Keyboard keyboard;
  Pad pad;
  WidgetEvents widgets;
};

Listener::Listener(App& app) : app_(app), ears_(std::make_unique<Ears>(app)) {}
Listener::~Listener() = default;

void Listener::hear(Display& display, const Rooms& rooms) {
  SDL_Event event;
  ears_->widgets.begin_frame();
  while (SDL_PollEvent(&event) != 0) {
    ears_->widgets.hear(event);
    switch (event.type) {
      case SDL_QUIT: app_.quit(); break;
      case SDL_KEYDOWN: ears_->keyboard.press(event.key); break;
      case SDL_KEYUP: ears_->keyboard.release(event.key); break;
      case SDL_MOUSEWHEEL:
      case SDL_MOUSEBUTTONDOWN: hear_mouse(app_, rooms, event); break;
      case SDL_CONTROLLERDEVICEADDED: display.open_pad(event.cdevice.which); break;
      case SDL_CONTROLLERDEVICEREMOVED: display.close_pad(event.cdevice.which); break;
      case SDL_CONTROLLERAXISMOTION:
      case SDL_CONTROLLERBUTTONDOWN:
      case SDL_CONTROLLERBUTTONUP: ears_->pad.hear(event); break;
      case SDL_WINDOWEVENT:
        // Keys that are released elsewhere are not heard of.
        if (event.window.event == SDL_WINDOWEVENT_FOCUS_LOST) app_.let_all_go();
        break;
      default: break;
    }
  }
}

}  // namespace bushbaby::live
