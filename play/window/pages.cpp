#include "pages.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <imgui.h>
#include <imgui_stdlib.h>

#include "bushbaby/records/catalogue.h"

#include "printing.h"

namespace bushbaby::live {
namespace {

void cell(ImFont* font, float x, float y, Ink ink, const std::string& text, float across = 1) {
  draw_text(*ImGui::GetWindowDrawList(), font, {x, y}, across, 0, colour(ink), text);
}

// A row of a list that can be chosen; true if it was clicked.
bool begin_row(int id, float height, bool chosen) {
  ImGui::PushID(id);
  const ImVec2 at = ImGui::GetCursorScreenPos();
  const float width = ImGui::GetContentRegionAvail().x;
  const bool clicked = ImGui::InvisibleButton("##row", {width, height});
  if (chosen || ImGui::IsItemHovered()) {
    ImGui::GetWindowDrawList()->AddRectFilled(at, {at.x + width, at.y + height},
                                              colour(Ink::pressed, chosen ? 0.6 : 0.3), 4);
  }
  ImGui::PopID();
  return clicked;
}

bool small_button(const Fonts& fonts, const char* text) {
  ImGui::PushFont(fonts.small);
  const bool pressed = ImGui::Button(text);
  ImGui::PopFont();
  return pressed;
}

// ---- the heading --------------------------------------------------------------------------------

void draw_tabs(App& app, const Fonts& fonts, float scale) {
  ImDrawList& list = *ImGui::GetWindowDrawList();
  const ImVec2 at = ImGui::GetCursorScreenPos();
  const float width = ImGui::GetContentRegionAvail().x;
  float x = at.x;
  const float height = 34 * scale;
  for (std::size_t i = 0; i < kPages; ++i) {
    const auto page = static_cast<Page>(i);
    const std::string name(name_of(page));
    ImGui::PushFont(fonts.heading);
    const float wide = ImGui::CalcTextSize(name.c_str()).x;
    ImGui::PopFont();
    ImGui::SetCursorScreenPos({x, at.y});
    ImGui::PushID(static_cast<int>(i));
    if (ImGui::InvisibleButton("##tab", {wide + 12 * scale, height})) app.page = page;
    const bool hovered = ImGui::IsItemHovered();
    ImGui::PopID();
    const bool open = page == app.page;
    draw_text(list, fonts.heading, {x, at.y + height / 2}, 1, 0,
              colour(open      ? Ink::text
                     : hovered ? Ink::measured
                               : Ink::body),
              name);
    if (open) {
      draw_line(list, {{x, at.y + height}, {x + wide, at.y + height}}, colour(Ink::measured),
                3 * scale);
    }
    x += wide + 24 * scale;
  }
  draw_line(list, {{at.x, at.y + height + 2}, {at.x + width, at.y + height + 2}},
            colour(Ink::terrain), 1);
  ImGui::SetCursorScreenPos({at.x, at.y + height + 8 * scale});
}

// ---- facts --------------------------------------------------------------------------------------

std::string change_text(const std::optional<double>& now, const std::optional<double>& file,
                        Dimension dimension, const Units& units) {
  if (!now || !file) return {};
  const double change = units.shown(dimension, *now) - units.shown(dimension, *file);
  const double size = std::abs(units.shown(dimension, *file));
  if (std::abs(change) < 1e-6 * std::max(size, 1e-3)) return {};
  return fmt::format("{:+.3g}", change);
}

void draw_verdicts(App& app, const Fonts& fonts, float scale) {
  const Units units = app.session.desk().units();
  const auto& verdicts = app.measured->judgement.verdicts;
  const float line = 26 * scale;
  for (const Verdict& verdict : verdicts) {
    const ImVec2 at = ImGui::GetCursorScreenPos();
    const float width = ImGui::GetContentRegionAvail().x;
    const float y = at.y + line / 2;
    const Dimension dimension = dimension_of(*verdict.target);
    draw_sign(*ImGui::GetWindowDrawList(), {at.x + 9 * scale, y},
              verdict.met ? Sign::met : Sign::missed, false,
              colour(verdict.met ? Ink::target : Ink::missed), scale);
    cell(fonts.small, at.x + 22 * scale, y, Ink::text, verdict.target->fact);
    std::string reported = "none";
    if (verdict.measured) {
      reported = units.text(dimension, *verdict.measured, 4);
      if (!verdict.met)
        reported += fmt::format(" ({:+.3g})", units.shown(dimension, verdict.off_by));
    }
    cell(fonts.small, at.x + width, y, verdict.met ? Ink::text : Ink::missed, reported, -1);
    ImGui::Dummy({width, line - ImGui::GetStyle().ItemSpacing.y});
  }
}

void draw_drills(App& app, const Fonts& fonts, float scale) {
  const Units units = app.session.desk().units();
  const float line = 24 * scale;
  for (const DrillReport& drill : app.measured->drills) {
    for (const Fact& fact : drill.facts) {
      const ImVec2 at = ImGui::GetCursorScreenPos();
      const float width = ImGui::GetContentRegionAvail().x;
      const float y = at.y + line / 2;
      cell(fonts.small, at.x, y, Ink::text, std::string(fact.info->name));
      const std::string value =
          fact.value ? units.text(fact.info->dimension, *fact.value, 4) : "none";
      std::optional<double> in_file;
      if (app.measured_of_file) {
        in_file = value_of(app.measured_of_file->drills, fact.info->name);
      }
      const std::string change = change_text(fact.value, in_file, fact.info->dimension, units);
      cell(fonts.small, at.x + width - 70 * scale, y, fact.value ? Ink::text : Ink::body, value,
           -1);
      cell(fonts.small, at.x + width, y, Ink::measured, change, -1);
      ImGui::Dummy({width, line - ImGui::GetStyle().ItemSpacing.y});
      ImGui::PushFont(fonts.small);
      if (ImGui::IsMouseHoveringRect(at, {at.x + width, at.y + line})) {
        ImGui::SetTooltip("%s", std::string(fact.info->measured).c_str());
      }
      ImGui::PopFont();
    }
  }
}

// ---- the history
// ----------------------------------------------------------------------------------

std::string facts_text(const HistoryEntry& entry, const Units& units) {
  std::string text;
  for (const NotedFact& fact : entry.facts) {
    if (!fact.value) continue;
    const bool high = fact.name == "stand_jump.height";
    const bool air = fact.name == "stand_jump.air_time";
    const bool far = fact.name == "running_jump.distance";
    if (!high && !air && !far) continue;
    text +=
        fmt::format("{}{} {}", text.empty() ? "" : ", ", units.text(fact.dimension, *fact.value, 3),
                    high  ? "high"
                    : air ? "in the air"
                          : "far");
  }
  return text;
}

// A star of our own: three crossing strokes.
bool draw_star(ImVec2 at, bool starred, float scale) {
  ImGui::SetCursorScreenPos({at.x - 9 * scale, at.y - 9 * scale});
  const bool clicked = ImGui::InvisibleButton("##star", {18 * scale, 18 * scale});
  const ImU32 ink = colour(starred                  ? Ink::measured
                           : ImGui::IsItemHovered() ? Ink::body
                                                    : Ink::faint);
  constexpr float kTurn = 1.0472F;
  for (int i = 0; i < 3; ++i) {
    const float angle = 0.5F + static_cast<float>(i) * kTurn;
    const float x = std::cos(angle) * 6 * scale;
    const float y = std::sin(angle) * 6 * scale;
    draw_line(*ImGui::GetWindowDrawList(), {{at.x - x, at.y - y}, {at.x + x, at.y + y}}, ink,
              2.4F * scale);
  }
  return clicked;
}

struct EntryRow {
  App& app;
  std::size_t number;
  bool is_now;
  const Fonts& fonts;
  float scale;
};

// Its name, or the field for it.
void draw_entry_name(const EntryRow& row, ImVec2 at, float width) {
  App& app = row.app;
  const HistoryEntry& entry = app.history.entries()[row.number];
  if (!app.names_entry || *app.names_entry != row.number) {
    const std::string title = entry.name.empty() ? fmt::format("{}", entry.number)
                                                 : fmt::format("{}  {}", entry.number, entry.name);
    cell(row.fonts.text, at.x + 6 * row.scale, at.y + 14 * row.scale,
         row.is_now ? Ink::measured : Ink::text, title + (row.is_now ? "  (now)" : ""));
    return;
  }
  ImGui::SetCursorScreenPos({at.x + 6 * row.scale, at.y + 1});
  ImGui::SetNextItemWidth(width * 0.7F);
  if (app.edit_begins) ImGui::SetKeyboardFocusHere();
  app.edit_begins = false;
  const bool done = ImGui::InputText("##name", &app.edited, ImGuiInputTextFlags_EnterReturnsTrue);
  if (done) app.history.rename(row.number, app.edited);
  if (done || ImGui::IsItemDeactivated()) app.names_entry.reset();
}

// What is in it; true if it was clicked to go back to.
bool draw_entry(const EntryRow& row) {
  App& app = row.app;
  const float scale = row.scale;
  const HistoryEntry& entry = app.history.entries()[row.number];
  const std::size_t lines = std::max<std::size_t>(entry.changes.size(), 1);
  constexpr std::size_t kMostLines = 5;
  const std::size_t shown = std::min(lines, kMostLines);
  const float pitch = 21 * scale;
  const float height = (30 * scale) + pitch * static_cast<float>(shown + 1);
  const ImVec2 at = ImGui::GetCursorScreenPos();
  const float width = ImGui::GetContentRegionAvail().x;
  const bool is_row = app.focus == Focus::panel && app.entry == row.number;
  if (is_row && app.scrolls_to_chosen) ImGui::SetScrollHereY();
  if (is_row) app.scrolls_to_chosen = false;
  bool clicked = begin_row(0, height, is_row);
  ImGui::SetItemAllowOverlap();
  const ImVec2 after = ImGui::GetCursorScreenPos();
  draw_entry_name(row, at, width);
  if (draw_star({at.x + width - 14 * scale, at.y + 14 * scale}, entry.starred, scale)) {
    app.history.star(row.number, !entry.starred);
    clicked = false;
  }
  ImGui::SetCursorScreenPos({at.x + width - 80 * scale, at.y + 4 * scale});
  if (small_button(row.fonts, "name")) {
    app.names_entry = row.number;
    app.edited = entry.name;
    app.edit_begins = true;
    clicked = false;
  }
  float y = at.y + 38 * scale;
  for (std::size_t line = 0; line < shown; ++line) {
    std::string text = entry.changes.empty() ? "as in the file" : entry.changes[line];
    if (line + 1 == shown && lines > shown) text = fmt::format("and {} more", lines - shown + 1);
    cell(row.fonts.small, at.x + 14 * scale, y, Ink::text, text);
    y += pitch;
  }
  cell(row.fonts.small, at.x + 14 * scale, y, Ink::body,
       facts_text(entry, app.session.desk().units()));
  ImGui::SetCursorScreenPos(after);
  return clicked;
}

}  // namespace

void draw_facts(App& app, const Fonts& fonts, float scale) {
  if (!app.measured) {
    ImGui::TextDisabled("measuring…");
    return;
  }
  ImGui::PushFont(fonts.small);
  ImGui::TextDisabled("%s", app.measurer.is_busy() ? "measuring again…"
                                                   : "measured in drills; on the right: the change "
                                                     "against the file");
  ImGui::PopFont();
  ImGui::BeginChild("##facts");
  if (app.scrolls_facts != 0) {
    const float line = 26 * scale;
    ImGui::SetScrollY(ImGui::GetScrollY() + line * static_cast<float>(app.scrolls_facts));
    app.scrolls_facts = 0;
  }
  if (!app.measured->judgement.verdicts.empty()) {
    ImGui::Text("target");
    draw_verdicts(app, fonts, scale);
    ImGui::Dummy({1, 8 * scale});
  }
  ImGui::Text("measured");
  draw_drills(app, fonts, scale);
  ImGui::EndChild();
}

void draw_history(App& app, const Fonts& fonts, float scale) {
  ImGui::PushFont(fonts.small);
  ImGui::TextWrapped(
      "What was set, and stayed for a second. A click goes back to it; undo takes that back too.");
  ImGui::PopFont();
  ImGui::BeginChild("##entries");
  const auto current = app.history.current(app.session.desk());
  for (std::size_t i = app.history.entries().size(); i-- > 0;) {
    ImGui::PushID(static_cast<int>(i));
    const bool clicked = draw_entry({app, i, current == i, fonts, scale});
    ImGui::PopID();
    if (clicked && !app.names_entry) app.go_to_entry(i);
  }
  ImGui::EndChild();
}

void draw_keys(App& app, const Fonts& fonts, float scale) {
  ImGui::PushFont(fonts.small);
  ImGui::TextWrapped(
      "A click, and then a key or a button of a pad: it does that from now on. Page Down or F4 "
      "gives "
      "the keyboard to this side, Escape back to play.");
  ImGui::PopFont();
  ImGui::BeginChild("##keys");
  const float line = 28 * scale;
  for (std::size_t i = 0; i < actions().size(); ++i) {
    const Action& action = actions()[i];
    const ImVec2 at = ImGui::GetCursorScreenPos();
    const std::string name(action.name);
    const bool waits = app.binds && *app.binds == name;
    const bool is_row = app.focus == Focus::panel && app.key_row == i;
    const bool chosen = waits || is_row;
    if (is_row && app.scrolls_to_chosen) ImGui::SetScrollHereY();
    if (is_row) app.scrolls_to_chosen = false;
    if (begin_row(static_cast<int>(i), line - 2, chosen)) app.binds = name;
    ImGui::SetCursorScreenPos({at.x, at.y + line});
    std::string keys;
    for (const auto* bound : {&app.settings.keys[name], &app.settings.pad[name]}) {
      for (const std::string& key : *bound) keys += (keys.empty() ? "" : ", ") + key;
    }
    const float width = ImGui::GetContentRegionAvail().x;
    cell(fonts.small, at.x + 4 * scale, at.y + line / 2, waits ? Ink::measured : Ink::text,
         waits ? "press one" : keys);
    const float wide =
        fonts.small->CalcTextSizeA(fonts.small->FontSize, 1e9F, 0, keys.c_str()).x + 16 * scale;
    cell(fonts.small, at.x + std::max(width * 0.32F, wide), at.y + line / 2, Ink::text,
         std::string(action.help));
  }
  ImGui::Dummy({1, 1});
  ImGui::EndChild();
}

void draw_page(App& app, const Room& room, const Fonts& fonts, float scale) {
  ImGui::SetNextWindowPos(room.from);
  ImGui::SetNextWindowSize({room.width(), room.height()});
  constexpr ImGuiWindowFlags kPlain =
      ImGuiWindowFlags_NoDecoration | ImGuiWindowFlags_NoMove | ImGuiWindowFlags_NoSavedSettings |
      ImGuiWindowFlags_NoBringToFrontOnFocus | ImGuiWindowFlags_NoNav;
  ImGui::Begin("##page", nullptr, kPlain);
  draw_line(*ImGui::GetWindowDrawList(), {room.from, {room.from.x, room.to.y}},
            colour(Ink::terrain), 1);
  draw_tabs(app, fonts, scale);
  switch (app.page) {
    case Page::knobs: draw_knobs(app, fonts, scale); break;
    case Page::facts: draw_facts(app, fonts, scale); break;
    case Page::history: draw_history(app, fonts, scale); break;
    case Page::keys: draw_keys(app, fonts, scale); break;
  }
  ImGui::End();
}

}  // namespace bushbaby::live
