#include "window.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <ctime>
#include <filesystem>
#include <memory>
#include <set>
#include <utility>

#include <SDL.h>
#include <SDL_opengl.h>
#include <backends/imgui_impl_opengl3.h>
#include <backends/imgui_impl_sdl.h>
#include <fmt/format.h>
#include <imgui.h>
#include <png.h>

#include "bushbaby/data/files.h"
#include "bushbaby/records/explanations.h"

#include "pages.h"
#include "printing.h"
#include "ribbon.h"
#include "session/dial.h"
#include "session/told.h"

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

// ---- the window system --------------------------------------------------------------------------

struct CloseWindow {
  void operator()(SDL_Window* window) const { SDL_DestroyWindow(window); }
};
struct ClosePad {
  void operator()(SDL_GameController* pad) const { SDL_GameControllerClose(pad); }
};

// Opens on construction, and closes all that it opened.
class Display {
 public:
  std::optional<Problem> open(const std::string& title) {
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

  Display() = default;
  Display(const Display&) = delete;
  Display& operator=(const Display&) = delete;
  ~Display() {
    pads_.clear();
    if (has_renderer_) ImGui_ImplOpenGL3_Shutdown();
    if (has_events_) ImGui_ImplSDL2_Shutdown();
    if (has_widgets_) ImGui::DestroyContext();
    if (context_ != nullptr) SDL_GL_DeleteContext(context_);
    window_.reset();
    if (is_open_) SDL_Quit();
  }

  [[nodiscard]] SDL_Window* window() const { return window_.get(); }

  [[nodiscard]] float scale() const {
    constexpr float kPlain = 96;  // dots to an inch
    float dpi = kPlain;
    if (SDL_GetDisplayDPI(SDL_GetWindowDisplayIndex(window_.get()), nullptr, &dpi, nullptr) != 0) {
      return 1;
    }
    // Displays that do not know their size say anything.
    const float scale = dpi / kPlain;
    return scale >= 1.4F && scale < 4 ? scale : 1;
  }

  void open_pad(int index) {
    if (SDL_GameController* pad = SDL_GameControllerOpen(index)) pads_.emplace_back(pad);
  }
  void close_pad(SDL_JoystickID id) {
    pads_.erase(std::remove_if(pads_.begin(), pads_.end(),
                               [id](const auto& pad) {
                                 return SDL_JoystickInstanceID(
                                            SDL_GameControllerGetJoystick(pad.get())) == id;
                               }),
                pads_.end());
  }

 private:
  bool is_open_ = false;
  bool has_widgets_ = false;
  bool has_events_ = false;
  bool has_renderer_ = false;
  std::unique_ptr<SDL_Window, CloseWindow> window_;
  SDL_GLContext context_ = nullptr;
  std::vector<std::unique_ptr<SDL_GameController, ClosePad>> pads_;
};

// The picture that is drawn now.
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

// ---- events -------------------------------------------------------------------------------------

struct Rooms {
  Room stage, ribbon, page;
};

Rooms rooms_of(ImVec2 size, float scale) {
  const float page = std::min(420 * scale, size.x * 0.45F);
  const float ribbon = 200 * scale;
  Rooms rooms;
  rooms.stage = {{0, 0}, {size.x - page, size.y - ribbon}};
  rooms.ribbon = {{0, size.y - ribbon}, {size.x - page, size.y}};
  rooms.page = {{size.x - page, 0}, {size.x, size.y}};
  return rooms;
}

// Where on the stage the mouse is, px of it, y up.
Vec on_stage(const Rooms& rooms, ImVec2 mouse) {
  return {mouse.x - rooms.stage.from.x, rooms.stage.to.y - mouse.y};
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

  void let_go(const SDL_KeyboardEvent& event) {
    app_.end(app_.settings.action_of_key(SDL_GetKeyName(event.keysym.sym)));
  }

 private:
  void bind(const std::string& name, SDL_Keycode key) {
    if (key != SDLK_ESCAPE) app_.bind(*app_.binds, name);
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
    return action == "step_on" || action == "step_back" || action == "closer" ||
           action == "farther";
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
      case Page::diary: app_.go_to_entry(app_.entry); break;
      case Page::keys: app_.binds = std::string(actions()[app_.key_row].name); break;
      case Page::facts: break;
    }
  }

  bool name_entry() {
    if (app_.page != Page::diary || app_.entry >= app_.diary.entries().size()) return false;
    app_.names_entry = app_.entry;
    app_.edited = app_.diary.entries()[app_.entry].name;
    app_.edit_begins = true;
    return true;
  }

  bool star_entry() {
    if (app_.page != Page::diary || app_.entry >= app_.diary.entries().size()) return false;
    app_.diary.star(app_.entry, !app_.diary.entries()[app_.entry].starred);
    return true;
  }

  App& app_;
};

void hear_pad(App& app, const SDL_Event& event) {
  if (event.type == SDL_CONTROLLERAXISMOTION) {
    constexpr double kFull = 32767;
    static double right = 0;  // NOLINT: there is one pair of thumbs
    static double up = 0;     // NOLINT
    if (event.caxis.axis == SDL_CONTROLLER_AXIS_LEFTX) right = event.caxis.value / kFull;
    if (event.caxis.axis == SDL_CONTROLLER_AXIS_LEFTY) up = -event.caxis.value / kFull;
    app.session.hands().tilt(right, up);
    return;
  }
  const char* name = SDL_GameControllerGetStringForButton(
      static_cast<SDL_GameControllerButton>(event.cbutton.button));
  const std::string_view action = app.settings.action_of_button(name == nullptr ? "" : name);
  event.type == SDL_CONTROLLERBUTTONDOWN ? app.begin(action) : app.end(action);
}

void hear_mouse(App& app, const Rooms& rooms, const SDL_Event& event) {
  const ImVec2 mouse = ImGui::GetIO().MousePos;
  if (event.type == SDL_MOUSEWHEEL) {
    constexpr double kNotch = 1.15;
    const double factor = event.wheel.y > 0 ? kNotch : 1 / kNotch;
    if (rooms.stage.contains(mouse)) app.camera.zoom(factor, on_stage(rooms, mouse));
    if (rooms.ribbon.contains(mouse)) {
      constexpr double kShortest = 0.5;
      constexpr double kLongest = 90;
      app.ribbon.seconds = std::clamp(app.ribbon.seconds / factor, kShortest, kLongest);
    }
    return;
  }
  if (event.type != SDL_MOUSEBUTTONDOWN) return;
  if (rooms.stage.contains(mouse) || rooms.ribbon.contains(mouse)) {
    app.focus = Focus::game;
    app.binds.reset();
  }
  if (event.button.button == SDL_BUTTON_RIGHT && rooms.stage.contains(mouse)) {
    const Vec place = app.camera.to_place(on_stage(rooms, mouse));
    if (!app.session.restart_at(place)) app.say("there is no room for the body there", true);
  }
}

// ---- drawing ------------------------------------------------------------------------------------

void draw_status(const App& app, ImDrawList& list, const Room& room, const Fonts& fonts,
                 float scale) {
  const Session& session = app.session;
  const Desk& desk = session.desk();
  const float x = room.from.x + 14 * scale;
  float y = room.from.y + 20 * scale;
  list.AddRectFilled(room.from, {room.to.x, room.from.y + 58 * scale}, colour(Ink::paper, 0.85));
  const std::size_t changed = desk.changed().size();
  std::string title = desk.good().name.empty() ? "the character" : desk.good().name;
  title += fmt::format(" on {}", session.level().name.empty() ? "a level" : session.level().name);
  draw_text(list, fonts.heading, {x, y}, 1, 0, colour(Ink::text), title);
  y += 24 * scale;
  std::string state =
      changed == 0 ? "as in the file"
                   : fmt::format("{} knob{} changed, not saved", changed, changed == 1 ? "" : "s");
  if (!desk.refusals().empty()) state += "; what is set cannot be: the last that could moves it";
  draw_text(list, fonts.small, {x, y}, 1, 0, colour(changed == 0 ? Ink::body : Ink::measured),
            state);
  // What is in force, or how time goes, in large letters at the right.
  std::string mode;
  Ink ink = Ink::text;
  if (session.in_force() == InForce::file) {
    mode = "the file's numbers";
    ink = Ink::second_line;
  } else if (session.in_force() == InForce::exaggerated && app.chosen) {
    mode = app.chosen->key() + ", exaggerated";
    ink = Ink::third_line;
  } else if (session.is_paused()) {
    mode = fmt::format("paused at tick {}", session.shown());
  } else if (session.speed() < 1) {
    mode = fmt::format("{:.4g} of full speed", session.speed());
  }
  draw_text(list, fonts.heading, {room.to.x - 14 * scale, room.from.y + 20 * scale}, -1, 0,
            colour(ink), mode);
  // The last landing, and what was said.
  if (const Landing* landing = session.last_landing()) {
    const std::string text = landing_text(*landing, desk.units());
    const float wide = fonts.text->CalcTextSizeA(fonts.text->FontSize, 1e9F, 0, text.c_str()).x;
    list.AddRectFilled({x - 6 * scale, room.to.y - 32 * scale},
                       {x + wide + 6 * scale, room.to.y - 8 * scale}, colour(Ink::paper, 0.85),
                       4 * scale);
    draw_text(list, fonts.text, {x, room.to.y - 20 * scale}, 1, 0, colour(Ink::measured), text);
  }
  if (!app.said().empty()) {
    draw_text(list, fonts.text, {x, room.from.y + 74 * scale}, 1, 0,
              colour(app.said_is_wrong() ? Ink::missed : Ink::wanted), app.said());
  }
}

// What the colours of trails mean, where there is more than one.
void draw_key(const App& app, ImDrawList& list, const Room& room, const Fonts& fonts, float scale) {
  struct Entry {
    std::string text;
    Ink ink;
    Stroke stroke;
  };
  std::vector<Entry> entries;
  const Session& session = app.session;
  if (session.again()) {
    entries.push_back({"as it was played", Ink::measured_soft, Stroke::solid});
    entries.push_back({"the same inputs, as it is set now", Ink::third_line, Stroke::dashed});
  }
  if (is_seen(session.companion())) {
    std::string text = session.companion().name();
    if (session.companion().parted()) {
      text += fmt::format(", elsewhere since tick {}", *session.companion().parted());
    }
    entries.push_back({text, Ink::second_line, Stroke::dash_dotted});
  }
  float y = room.from.y + 72 * scale;
  for (const Entry& entry : entries) {
    const float right = room.to.x - 14 * scale;
    draw_text(list, fonts.small, {right - 36 * scale, y}, -1, 0, colour(Ink::text), entry.text);
    draw_line(list, {{right - 30 * scale, y}, {right, y}}, colour(entry.ink), 2.4F * scale,
              entry.stroke);
    y += 22 * scale;
  }
}

// While it is paused: all of why.
void draw_why(const App& app, const Rooms& rooms, const Fonts& fonts, float scale) {
  if (!app.session.is_paused()) return;
  const auto why = app.session.why();
  if (!why) return;
  const Desk& desk = app.session.desk();
  std::string text =
      tick_text(*why, desk.units(), desk.tuning(app.session.in_force()), app.session.level());
  for (const Press& press : app.session.presses()) {
    if (press.tick != why->tick) continue;
    text += fmt::format("  the press of {}: {}\n", name_of(press.button),
                        outcome_text(press, app.session.level()));
  }
  const float width = rooms.stage.width() - 28 * scale;
  ImGui::PushFont(fonts.small);
  const ImVec2 size = ImGui::CalcTextSize(text.c_str(), nullptr, false, width);
  ImGui::SetNextWindowPos({rooms.stage.from.x + 8 * scale, rooms.stage.to.y - 36 * scale}, 0,
                          {0, 1});
  ImGui::SetNextWindowSize({std::min(size.x + 30 * scale, width), 0});
  ImGui::SetNextWindowSizeConstraints({0, 0}, {width, rooms.stage.height() * 0.55F});
  ImGui::SetNextWindowBgAlpha(0.92F);
  constexpr ImGuiWindowFlags kPlain = ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_NoResize |
                                      ImGuiWindowFlags_NoMove | ImGuiWindowFlags_NoSavedSettings |
                                      ImGuiWindowFlags_NoNav | ImGuiWindowFlags_NoFocusOnAppearing;
  ImGui::Begin("##why", nullptr, kPlain);
  ImGui::TextUnformatted(text.data(), text.data() + text.size());
  ImGui::End();
  ImGui::PopFont();
}

void draw_question(App& app, const Rooms& rooms, float scale) {
  if (!app.question) return;
  ImGui::SetNextWindowPos({rooms.stage.width() / 2, rooms.stage.height() / 2}, 0, {0.5F, 0.5F});
  ImGui::SetNextWindowSize({420 * scale, 0});
  constexpr ImGuiWindowFlags kPlain = ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_NoResize |
                                      ImGuiWindowFlags_NoMove | ImGuiWindowFlags_NoSavedSettings |
                                      ImGuiWindowFlags_NoNav;
  ImGui::PushStyleVar(ImGuiStyleVar_WindowBorderSize, 1.5F * scale);
  ImGui::Begin("##question", nullptr, kPlain);
  ImGui::TextWrapped("%s", app.question->text.c_str());
  ImGui::Dummy({1, 4 * scale});
  std::function<void()> then;
  for (std::size_t i = 0; i < app.question->answers.size(); ++i) {
    const std::string text = fmt::format("{}  {}", i + 1, app.question->answers[i].text);
    if (ImGui::Button(text.c_str(), {-1, 0})) then = app.question->answers[i].then;
  }
  ImGui::End();
  ImGui::PopStyleVar();
  if (!then) return;
  app.question.reset();
  then();
}

void scrub_by_mouse(App& app, const Rooms& rooms) {
  ImGui::SetNextWindowPos(rooms.ribbon.from);
  ImGui::SetNextWindowSize({rooms.ribbon.width(), rooms.ribbon.height()});
  constexpr ImGuiWindowFlags kPlain =
      ImGuiWindowFlags_NoDecoration | ImGuiWindowFlags_NoMove | ImGuiWindowFlags_NoSavedSettings |
      ImGuiWindowFlags_NoBackground | ImGuiWindowFlags_NoBringToFrontOnFocus |
      ImGuiWindowFlags_NoNav;
  ImGui::PushStyleVar(ImGuiStyleVar_WindowPadding, ImVec2{0, 0});
  ImGui::Begin("##ribbon", nullptr, kPlain);
  ImGui::InvisibleButton("##time", {rooms.ribbon.width(), rooms.ribbon.height()});
  if (ImGui::IsItemActive()) {
    app.session.scrub(tick_at(rooms.ribbon, app.session, app.ribbon, ImGui::GetIO().MousePos.x));
  }
  ImGui::End();
  ImGui::PopStyleVar();
}

class Screen {
 public:
  Screen(App& app, Display& display, float scale)
      : app_(app), display_(display), scale_(scale), fonts_(load_fonts(scale)) {
    restyle(scale);
  }

  [[nodiscard]] Rooms rooms() const {
    int width = 0;
    int height = 0;
    SDL_GetWindowSize(display_.window(), &width, &height);
    return rooms_of({static_cast<float>(width), static_cast<float>(height)}, scale_);
  }

  void draw() {
    draw_up();
    render();
  }

  // Everything up to what the display does.
  void draw_up() {
    ImGui_ImplOpenGL3_NewFrame();
    ImGui_ImplSDL2_NewFrame();
    // Where the last event said, as all else that is heard; the pointer of the whole display is not
    // told of when another program moves it.
    int x = 0;
    int y = 0;
    SDL_GetMouseState(&x, &y);
    if (SDL_GetMouseFocus() == display_.window()) {
      ImGui::GetIO().MousePos = {static_cast<float>(x), static_cast<float>(y)};
    }
    ImGui::NewFrame();
    const Rooms all = rooms();
    app_.camera.set_room(all.stage.width(), all.stage.height());
    ImDrawList& list = *ImGui::GetBackgroundDrawList();
    const ImVec2 size = ImGui::GetIO().DisplaySize;
    list.AddRectFilled({0, 0}, size, colour(Ink::paper));
    draw_stage(list, all.stage, app_.session, app_.camera, fonts_, scale_);
    draw_status(app_, list, all.stage, fonts_, scale_);
    draw_key(app_, list, all.stage, fonts_, scale_);
    draw_ribbon(list, all.ribbon, app_.session, app_.ribbon, fonts_, scale_);
    scrub_by_mouse(app_, all);
    draw_page(app_, all.page, fonts_, scale_);
    draw_why(app_, all, fonts_, scale_);
    draw_question(app_, all, scale_);
    ImGui::Render();
  }

  void render() {
    const ImVec2 size = ImGui::GetIO().DisplaySize;
    const ImVec2 pixels = ImGui::GetIO().DisplayFramebufferScale;
    glViewport(0, 0, static_cast<int>(size.x * pixels.x), static_cast<int>(size.y * pixels.y));
    ImGui_ImplOpenGL3_RenderDrawData(ImGui::GetDrawData());
  }

  void show() { SDL_GL_SwapWindow(display_.window()); }

 private:
  App& app_;
  Display& display_;
  float scale_;
  Fonts fonts_;
};

// Hands events on to the widgets. They look at the keyboard once a frame: a key that goes up in the
// frame in which it went down is let go in the next, or they would not see it at all.
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

// False when the window is to be closed.
bool hear(App& app, Display& display, const Rooms& rooms, Keyboard& keyboard,
          WidgetEvents& widgets) {
  SDL_Event event;
  widgets.begin_frame();
  while (SDL_PollEvent(&event) != 0) {
    widgets.hear(event);
    switch (event.type) {
      case SDL_QUIT: return false;
      case SDL_KEYDOWN: keyboard.press(event.key); break;
      case SDL_KEYUP: keyboard.let_go(event.key); break;
      case SDL_MOUSEWHEEL:
      case SDL_MOUSEBUTTONDOWN: hear_mouse(app, rooms, event); break;
      case SDL_CONTROLLERDEVICEADDED: display.open_pad(event.cdevice.which); break;
      case SDL_CONTROLLERDEVICEREMOVED: display.close_pad(event.cdevice.which); break;
      case SDL_CONTROLLERAXISMOTION:
      case SDL_CONTROLLERBUTTONDOWN:
      case SDL_CONTROLLERBUTTONUP: hear_pad(app, event); break;
      case SDL_WINDOWEVENT:
        if (event.window.event == SDL_WINDOWEVENT_FOCUS_LOST) app.session.hands().let_all_go();
        break;
      default: break;
    }
  }
  return true;
}

// ms that this thread has used of the processor.
double processor_ms() {
  timespec time{};
  clock_gettime(CLOCK_THREAD_CPUTIME_ID, &time);
  constexpr double kMs = 1e3;
  constexpr double kNanoseconds = 1e6;
  return static_cast<double>(time.tv_sec) * kMs + static_cast<double>(time.tv_nsec) / kNanoseconds;
}

// Why a line of a script could not be done.
std::optional<Problem> what_failed(const App& app, const ScriptLine& line,
                                   const WindowOptions& options) {
  std::string why;
  if (line.action == "set" && app.chosen) why = app.refusal_of(*app.chosen);
  if (app.said_is_wrong()) why = app.said();
  if (why.empty()) return std::nullopt;
  constexpr std::string_view kExpected = "expected ";
  const std::size_t expected = why.find(kExpected);
  const bool is_value = expected != std::string::npos && !line.text.empty();
  return Problem{ProblemCode::contradiction,
                 options.script_path,
                 line.line,
                 0,
                 line.action,
                 is_value ? line.text : why,
                 is_value ? why.substr(expected + kExpected.size()) : std::string(),
                 {}};
}

// Plays a script, a frame for each tick.
std::optional<Problem> play_script(App& app, Screen& screen, const WindowOptions& options) {
  const double tick = 1 / app.session.rules().tick_rate;
  const auto show = [&] {
    screen.draw();
    screen.show();
  };
  const auto look = [&] {
    app.frame(0);
    app.camera.follow(app.session.pose().feet, tick);
  };
  for (const ScriptLine& line : options.script) {
    if (line.action == "play") {
      for (const Controls& held : line.held) {
        app.session.play(held);
        look();
      }
      show();
    } else if (line.action == "wait") {
      app.session.pause(false);
      for (int i = 0; i < static_cast<int>(line.number); ++i) {
        app.session.advance();
        look();
      }
      show();
    } else if (line.action == "measure") {
      // What stays for a second is written down; what is changed is measured after the file.
      app.diary.look(app.session.desk(), 2);
      for (int i = 0; i < 3; ++i) {
        app.measurer.wait();
        app.frame(0);
      }
    } else if (line.action == "picture") {
      // Twice: sizes of what is new are known from the second frame on.
      show();
      screen.draw();
      if (const auto problem = write_picture(line.text)) return problem;
      screen.show();
    } else {
      app.perform(line);
      app.frame(0);
      show();
      if (const auto problem = what_failed(app, line, options)) return problem;
    }
  }
  return std::nullopt;
}

}  // namespace

std::optional<Problem> run_window(App& app, const WindowOptions& options, FrameCosts& costs) {
  Display display;
  if (const auto problem = display.open(options.title)) return problem;
  const float scale = options.scale > 0 ? static_cast<float>(options.scale) : display.scale();
  Screen screen(app, display, scale);
  Keyboard keyboard(app);
  screen.draw();
  screen.show();
  if (!options.script.empty()) return play_script(app, screen, options);
  const double frequency = static_cast<double>(SDL_GetPerformanceFrequency());
  Uint64 before = SDL_GetPerformanceCounter();
  WidgetEvents widgets;
  while (!app.quits && hear(app, display, screen.rooms(), keyboard, widgets)) {
    const Uint64 now = SDL_GetPerformanceCounter();
    const double began = processor_ms();
    app.frame(static_cast<double>(now - before) / frequency);
    before = now;
    const double played = processor_ms();
    screen.draw_up();
    costs.playing.push_back(played - began);
    costs.drawing.push_back(processor_ms() - played);
    screen.render();
    if (!app.wants_picture.empty()) {
      const std::string path = std::exchange(app.wants_picture, {});
      const auto problem = write_picture(path);
      problem ? app.say(describe(*problem), true) : app.say("wrote " + path);
    }
    screen.show();
  }
  std::sort(costs.playing.begin(), costs.playing.end());
  std::sort(costs.drawing.begin(), costs.drawing.end());
  return std::nullopt;
}

}  // namespace bushbaby::live
