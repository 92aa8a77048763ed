#include "screen.h"

#include <algorithm>
#include <functional>
#include <string>
#include <vector>

#include <SDL_opengl.h>
#include <backends/imgui_impl_opengl3.h>
#include <backends/imgui_impl_sdl.h>
#include <fmt/format.h>

#include "bushbaby/data/names.h"
#include "bushbaby/records/explanations.h"

#include "pages.h"
#include "printing.h"
#include "session/dial.h"
#include "session/shown.h"
#include "timeline.h"

namespace bushbaby::live {
namespace {

Rooms rooms_of(ImVec2 size, float scale) {
  const float page = std::min(420 * scale, size.x * 0.45F);
  const float timeline = 200 * scale;
  Rooms rooms;
  rooms.stage = {{0, 0}, {size.x - page, size.y - timeline}};
  rooms.timeline = {{0, size.y - timeline}, {size.x - page, size.y}};
  rooms.page = {{size.x - page, 0}, {size.x, size.y}};
  return rooms;
}

void draw_status(const App& app, ImDrawList& list, const Room& room, const Fonts& fonts,
                 float scale) {
  const Session& session = app.session;
  const Desk& desk = session.desk();
  const float x = room.from.x + 14 * scale;
  float y = room.from.y + 20 * scale;
  list.AddRectFilled(room.from, {room.to.x, room.from.y + 58 * scale}, colour(Ink::paper, 0.85));
  const std::size_t changed = desk.changed().size();
  const std::string& level = session.level().name;
  const std::string title = fmt::format("{} on {}", character_name(desk.good().name),
                                        level.empty() ? "a level" : shortened(level));
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
  } else if (session.in_force() == InForce::amplified && app.chosen) {
    const KnobValue value =
        get_knob(desk.tuning(InForce::amplified), *app.chosen->knob, app.chosen->row);
    mode = fmt::format("{} {}, amplified", app.chosen->key(),
                       value_text(value, *app.chosen->knob, desk.units()));
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
              colour(app.said_is_wrong() ? Ink::missed : Ink::target), app.said());
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
  if (is_seen(session.ghost())) {
    std::string text = session.ghost().name();
    if (session.ghost().parted()) {
      text += fmt::format(", elsewhere since tick {}", *session.ghost().parted());
    }
    entries.push_back({text, Ink::second_line, Stroke::dash_dotted});
  }
  float y = room.from.y + 72 * scale;
  for (const Entry& entry : entries) {
    const float right = room.to.x - 14 * scale;
    const float wide =
        fonts.small->CalcTextSizeA(fonts.small->FontSize, 1e9F, 0, entry.text.c_str()).x;
    list.AddRectFilled({right - wide - 44 * scale, y - 11 * scale},
                       {right + 4 * scale, y + 11 * scale}, colour(Ink::paper, 0.85));
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
  ImGui::PushTextWrapPos(0);
  ImGui::TextUnformatted(text.data(), text.data() + text.size());
  ImGui::PopTextWrapPos();
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

void scrub_by_mouse(App& app, const Rooms& rooms, float scale) {
  ImGui::SetNextWindowPos(rooms.timeline.from);
  ImGui::SetNextWindowSize({rooms.timeline.width(), rooms.timeline.height()});
  constexpr ImGuiWindowFlags kPlain =
      ImGuiWindowFlags_NoDecoration | ImGuiWindowFlags_NoMove | ImGuiWindowFlags_NoSavedSettings |
      ImGuiWindowFlags_NoBackground | ImGuiWindowFlags_NoBringToFrontOnFocus |
      ImGuiWindowFlags_NoNav;
  ImGui::PushStyleVar(ImGuiStyleVar_WindowPadding, ImVec2{0, 0});
  ImGui::Begin("##timeline", nullptr, kPlain);
  ImGui::InvisibleButton("##time", {rooms.timeline.width(), rooms.timeline.height()});
  if (ImGui::IsItemActive()) {
    app.session.scrub(
        tick_at(rooms.timeline, app.session, app.timeline, ImGui::GetIO().MousePos.x, scale));
  }
  ImGui::End();
  ImGui::PopStyleVar();
}

}  // namespace

Screen::Screen(App& app, Display& display, float scale)
    : app_(app), display_(display), scale_(scale), fonts_(load_fonts(scale)) {
  restyle(scale);
}

Rooms Screen::rooms() const {
  int width = 0;
  int height = 0;
  SDL_GetWindowSize(display_.window(), &width, &height);
  return rooms_of({static_cast<float>(width), static_cast<float>(height)}, scale_);
}

void Screen::make_up() {
  ImGui_ImplOpenGL3_NewFrame();
  ImGui_ImplSDL2_NewFrame();
  // Where the last event said, as all else that is heard; the pointer of the whole display is not
  // reported when another program moves it.
  int x = 0;
  int y = 0;
  SDL_GetMouseState(&x, &y);
  if (SDL_GetMouseFocus() == display_.window()) {
    ImGui::GetIO().MousePos = {static_cast<float>(x), static_cast<float>(y)};
  }
  ImGui::NewFrame();
  const Rooms all = rooms();
  app_.camera.set_room(static_cast<double>(all.stage.width()),
                       static_cast<double>(all.stage.height()));
  ImDrawList& list = *ImGui::GetBackgroundDrawList();
  const ImVec2 size = ImGui::GetIO().DisplaySize;
  list.AddRectFilled({0, 0}, size, colour(Ink::paper));
  draw_stage(list, all.stage, app_.session, app_.camera, fonts_, scale_);
  draw_status(app_, list, all.stage, fonts_, scale_);
  draw_key(app_, list, all.stage, fonts_, scale_);
  draw_timeline(list, all.timeline, app_.session, app_.timeline, fonts_, scale_);
  scrub_by_mouse(app_, all, scale_);
  draw_page(app_, all.page, fonts_, scale_);
  draw_why(app_, all, fonts_, scale_);
  draw_question(app_, all, scale_);
  ImGui::Render();
}

void Screen::render() {
  const ImVec2 size = ImGui::GetIO().DisplaySize;
  const ImVec2 pixels = ImGui::GetIO().DisplayFramebufferScale;
  glViewport(0, 0, static_cast<int>(size.x * pixels.x), static_cast<int>(size.y * pixels.y));
  ImGui_ImplOpenGL3_RenderDrawData(ImGui::GetDrawData());
}

void Screen::show() { SDL_GL_SwapWindow(display_.window()); }

}  // namespace bushbaby::live
