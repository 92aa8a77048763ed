// The page of knobs: one row each, with a slider of our own.
#include <cmath>

#include <fmt/format.h>
#include <imgui.h>
#include <imgui_stdlib.h>

#include "bushbaby/core/tuning/amounts.h"

#include "pages.h"
#include "printing.h"
#include "session/dial.h"

namespace bushbaby::live {
namespace {

// A line of text that gives way to the right.
void text_at(ImDrawList& list, ImFont* font, ImVec2 at, Ink ink, std::string_view text,
             float across = 1) {
  draw_text(list, font, at, across, 0, colour(ink), text);
}

bool is_chosen(const App& app, const KnobPlace& place) {
  return app.chosen && app.chosen->knob == place.knob && app.chosen->row == place.row;
}

// The name of a knob under the heading of its mechanism: "cut keep".
std::string short_key(const KnobPlace& place) {
  std::string key = place.key();
  const std::size_t dot = key.find('.');
  if (dot != std::string::npos) key = key.substr(dot + 1);
  for (char& c : key) {
    if (c == '.' || c == '_') c = ' ';
  }
  return key;
}

struct Row {
  App& app;
  KnobPlace place;
  const Fonts& fonts;
  float scale;
  ImVec2 from;  // px
  float width;

  [[nodiscard]] const Desk& desk() const { return app.session.desk(); }
};

// The value to be typed.
void draw_field(const Row& row, float left, float top) {
  App& app = row.app;
  ImGui::SetCursorScreenPos({left, top});
  ImGui::SetNextItemWidth(row.from.x + row.width - left);
  if (app.edit_begins) ImGui::SetKeyboardFocusHere();
  app.edit_begins = false;
  const bool done =
      ImGui::InputText("##value", &app.edited,
                       ImGuiInputTextFlags_EnterReturnsTrue | ImGuiInputTextFlags_AutoSelectAll);
  if (done) {
    app.type(row.place, app.edited);
    app.edits.reset();
  } else if (ImGui::IsItemDeactivated()) {
    app.edits.reset();
  }
}

void begin_editing(const Row& row) {
  const KnobValue value = get_knob(row.desk().present(), *row.place.knob, row.place.row);
  row.app.edits = row.place;
  const bool is_none = std::holds_alternative<std::monostate>(value);
  row.app.edited = is_none ? std::string() : value_text(value, *row.place.knob, row.desk().units());
  row.app.edit_begins = true;
}

// The track: where the value stands, where it stood in the file.
void draw_track(const Row& row, const Dial& dial, ImVec2 from, float width, bool active) {
  ImDrawList& list = *ImGui::GetWindowDrawList();
  const float scale = row.scale;
  const float y = from.y;
  draw_line(list, {from, {from.x + width, y}}, colour(Ink::terrain), 3 * scale);
  const auto x_of = [&](double amount) {
    return from.x + static_cast<float>(share_of(dial, amount)) * width;
  };
  const Dial file = dial_of(row.desk().file().tuning, row.place, row.desk().file().tuning);
  const bool changed = row.desk().is_changed(row.place);
  if (file.is_set && row.place.knob->has_row(row.desk().file().tuning, row.place.row) &&
      file.dimension == dial.dimension) {
    const float at = x_of(file.amount);
    draw_line(list, {{at, y - 6 * scale}, {at, y + 6 * scale}}, colour(Ink::text), 1.5F * scale);
    if (changed && dial.is_set) {
      draw_line(list, {{at, y}, {x_of(dial.amount), y}}, colour(Ink::measured), 3 * scale);
    }
  }
  if (!dial.is_set) return;
  // A drop, not a disc: its tip says where.
  const float at = x_of(dial.amount);
  const float size = (active ? 7.5F : 6.5F) * scale;
  const ImU32 ink = colour(changed ? Ink::measured : Ink::text);
  list.AddTriangleFilled({at, y - 1 * scale}, {at + size * 0.8F, y + size * 1.3F},
                         {at - size * 0.8F, y + size * 1.3F}, ink);
}

void turn_by_mouse(const Row& row, const Dial& dial, float left, float width) {
  App& app = row.app;
  if (ImGui::IsItemActivated()) {
    app.chosen = row.place;
    app.session.desk().settle();
  }
  if (ImGui::IsItemActive()) {
    const auto share = static_cast<double>((ImGui::GetIO().MousePos.x - left) / width);
    const double amount = amount_at(dial, share, row.desk().units());
    if (!dial.is_set || amount != dial.amount) {
      const KnobValue now = get_knob(row.desk().present(), *row.place.knob, row.place.row);
      app.set(row.place,
              dial.is_set ? with_amount(now, amount) : KnobValue(first_amount(*row.place.knob)));
    }
  }
  if (ImGui::IsItemDeactivated()) app.session.desk().settle();
}

// The names that a knob has the choice of, and which it is.
struct Choices {
  std::vector<std::string> names;
  std::size_t now = 0;
  float width = 0;  // px, of all of them side by side
};

Choices choices_of(const Row& row) {
  const Tuning& present = row.desk().present();
  Choices choices{{"no", "yes"}};
  if (const auto* choice = std::get_if<ChoiceBinding>(&row.place.knob->binding)) {
    choices.names.assign(choice->names, choice->names + choice->count);
    choices.now = static_cast<std::size_t>(choice->get(present, row.place.row));
  } else {
    choices.now = std::get<bool>(get_knob(present, *row.place.knob, row.place.row)) ? 1 : 0;
  }
  ImGui::PushFont(row.fonts.small);
  for (const std::string& name : choices.names) {
    choices.width += ImGui::CalcTextSize(name.c_str()).x + 12 * row.scale;
  }
  ImGui::PopFont();
  return choices;
}

void draw_choices(const Row& row, const Choices& choices, float top) {
  App& app = row.app;
  const bool is_flag = !std::holds_alternative<ChoiceBinding>(row.place.knob->binding);
  ImDrawList& list = *ImGui::GetWindowDrawList();
  float x = std::max(row.from.x, row.from.x + row.width - choices.width);
  const float height = 24 * row.scale;
  ImGui::PushFont(row.fonts.small);
  for (std::size_t i = 0; i < choices.names.size(); ++i) {
    const std::string& name = choices.names[i];
    const float width = ImGui::CalcTextSize(name.c_str()).x + 12 * row.scale;
    ImGui::SetCursorScreenPos({x, top});
    ImGui::PushID(static_cast<int>(i));
    if (ImGui::InvisibleButton("##choice", {width, height})) {
      app.chosen = row.place;
      app.session.desk().settle();
      app.set(row.place, is_flag ? KnobValue(i == 1) : KnobValue(name));
    }
    const bool hovered = ImGui::IsItemHovered();
    ImGui::PopID();
    const bool is_now = i == choices.now;
    if (is_now) {
      list.AddRectFilled({x, top + 1}, {x + width - 2, top + height - 1}, colour(Ink::pressed),
                         3 * row.scale);
    } else if (hovered) {
      list.AddRect({x, top + 1}, {x + width - 2, top + height - 1}, colour(Ink::body),
                   3 * row.scale);
    }
    text_at(list, row.fonts.small, {x + 6 * row.scale, top + height / 2},
            is_now ? Ink::text : Ink::body, name);
    x += width;
  }
  ImGui::PopFont();
}

// "was 1.7", and the way back.
void draw_way_back(const Row& row, float right, float y) {
  const bool in_file = row.place.knob->has_row(row.desk().file().tuning, row.place.row);
  if (!in_file) return;
  const std::string text =
      "was " + value_text(get_knob(row.desk().file().tuning, *row.place.knob, row.place.row),
                          *row.place.knob, row.desk().units());
  ImDrawList& list = *ImGui::GetWindowDrawList();
  ImGui::PushFont(row.fonts.small);
  const ImVec2 size = ImGui::CalcTextSize(text.c_str());
  ImGui::PopFont();
  ImGui::SetCursorScreenPos({right - size.x - 4, y - size.y / 2 - 2});
  if (ImGui::InvisibleButton("##back", {size.x + 8, size.y + 4})) {
    row.app.session.desk().reset_knob(row.place);
    row.app.refused.erase(row.place.key());
  }
  const bool hovered = ImGui::IsItemHovered();
  text_at(list, row.fonts.small, {right, y}, hovered ? Ink::measured : Ink::body, text, -1);
  if (hovered) {
    list.AddLine({right - size.x, y + size.y / 2}, {right, y + size.y / 2}, colour(Ink::measured));
  }
}

// The value: a click on it begins to type.
void draw_value(const Row& row, const Dial& dial, float line) {
  const float scale = row.scale;
  const KnobPlace& place = row.place;
  const bool changed = row.desk().is_changed(place);
  const KnobValue value = get_knob(row.desk().present(), *place.knob, place.row);
  ImGui::SetCursorScreenPos({row.from.x + row.width * 0.78F, row.from.y + 2});
  if (ImGui::InvisibleButton("##text", {row.width * 0.22F, 24 * scale})) {
    row.app.chosen = place;
    begin_editing(row);
  }
  const bool hovered = ImGui::IsItemHovered();
  const Ink ink = !dial.is_set ? Ink::body : changed || hovered ? Ink::measured : Ink::text;
  text_at(*ImGui::GetWindowDrawList(), row.fonts.text, {row.from.x + row.width, line}, ink,
          value_text(value, *place.knob, row.desk().units()), -1);
}

void draw_row(const Row& row) {
  App& app = row.app;
  const KnobPlace& place = row.place;
  const Desk& desk = row.desk();
  ImDrawList& list = *ImGui::GetWindowDrawList();
  const float scale = row.scale;
  ImGui::PushID(place.key().c_str());
  const bool chosen = is_chosen(app, place);
  const bool changed = desk.is_changed(place);
  const Dial dial = dial_of(desk.present(), place, desk.file().tuning);
  const std::string refusal = app.refusal_of(place);
  const float right = row.from.x + row.width;
  const bool has_choices = dial.kind == DialKind::choice || dial.kind == DialKind::flag;
  const Choices choices = has_choices ? choices_of(row) : Choices{};
  ImGui::PushFont(row.fonts.text);
  const float name_width = ImGui::CalcTextSize(short_key(place).c_str()).x;
  ImGui::PopFont();
  // Names for which there is no room beside the knob's stand below it.
  const bool below_name = has_choices && name_width + choices.width + 10 * scale > row.width;
  const bool is_high = dial.kind == DialKind::number || below_name;
  const float height = (is_high ? 50 : 34) * scale + (refusal.empty() ? 0 : 20 * scale);
  if (chosen) {
    list.AddRectFilled({row.from.x - 6 * scale, row.from.y},
                       {right + 6 * scale, row.from.y + height},
                       colour(Ink::pressed, app.focus == Focus::panel ? 0.75 : 0.4), 4 * scale);
    if (app.scrolls_to_chosen) ImGui::SetScrollHereY(0.4F);
    app.scrolls_to_chosen = false;
  }
  // The name chooses the knob; its help stands below the page, and here.
  const float line = row.from.y + 15 * scale;
  ImGui::SetCursorScreenPos({row.from.x, row.from.y + 2});
  if (ImGui::InvisibleButton("##name", {row.width * 0.4F, 24 * scale})) app.chosen = place;
  if (ImGui::IsItemHovered()) {
    ImGui::PushFont(row.fonts.small);
    ImGui::SetTooltip("%s\n%s", place.key().c_str(), std::string(place.knob->help).c_str());
    ImGui::PopFont();
  }
  text_at(list, row.fonts.text, {row.from.x, line}, changed ? Ink::measured : Ink::text,
          short_key(place));
  const bool edits = app.edits && app.edits->knob == place.knob && app.edits->row == place.row;
  if (has_choices) {
    draw_choices(row, choices, row.from.y + (below_name ? 24 : 4) * scale);
  } else if (edits) {
    draw_field(row, row.from.x + row.width * 0.55F, row.from.y);
  } else {
    draw_value(row, dial, line);
  }
  float below = line;
  if (dial.kind == DialKind::number) {
    below = row.from.y + 36 * scale;
    ImGui::SetCursorScreenPos({row.from.x, below - 9 * scale});
    ImGui::InvisibleButton("##track", {row.width, 22 * scale});
    turn_by_mouse(row, dial, row.from.x, row.width);
    draw_track(row, dial, {row.from.x, below}, row.width, ImGui::IsItemActive());
  }
  const bool has_room = dial.kind == DialKind::number || dial.kind == DialKind::text;
  if (changed && !edits && has_room) draw_way_back(row, right - row.width * 0.24F, line);
  if (!refusal.empty()) {
    text_at(list, row.fonts.small, {row.from.x, row.from.y + height - 9 * scale}, Ink::missed,
            refusal);
  }
  ImGui::SetCursorScreenPos({row.from.x, row.from.y + height});
  ImGui::Dummy({1, 1});
  ImGui::PopID();
}

// What follows from the knobs of a mechanism: for the jump, its gravity and launch speed.
std::string derived_text(const App& app, std::string_view mechanism) {
  const Rules& rules = app.session.desk().book(InForce::present).rules(0);
  const Units units = app.session.desk().units();
  if (mechanism == "jump") {
    return fmt::format("gravity {}, launch {}",
                       units.text(Dimension::acceleration, rules.rise_gravity, 4),
                       units.text(Dimension::speed, rules.launch_speed, 4));
  }
  if (mechanism == "fall") {
    return fmt::format("gravity {}", units.text(Dimension::acceleration, rules.fall_gravity, 4));
  }
  return {};
}

void draw_heading(const App& app, std::string_view mechanism, const Fonts& fonts, float scale) {
  ImDrawList& list = *ImGui::GetWindowDrawList();
  const ImVec2 at = ImGui::GetCursorScreenPos();
  const float width = ImGui::GetContentRegionAvail().x;
  const float line = at.y + 18 * scale;
  text_at(list, fonts.heading, {at.x, line}, Ink::text, mechanism);
  text_at(list, fonts.small, {at.x + width, line + 2 * scale}, Ink::body,
          derived_text(app, mechanism), -1);
  draw_line(list, {{at.x, at.y + 33 * scale}, {at.x + width, at.y + 33 * scale}},
            colour(Ink::terrain), 1);
  ImGui::Dummy({width, 37 * scale});
}

}  // namespace

void draw_knobs(App& app, const Fonts& fonts, float scale) {
  ImGui::SetNextItemWidth(-1);
  if (app.wants_search) ImGui::SetKeyboardFocusHere();
  app.wants_search = false;
  ImGui::InputTextWithHint("##search", "look for a knob: name, or what it does", &app.search,
                           ImGuiInputTextFlags_AutoSelectAll);
  if (ImGui::IsItemDeactivated()) {
    // What was found is turned next.
    app.focus = Focus::panel;
    app.choose(0);
  }
  const auto& refusals = app.session.desk().refusals();
  const auto about_several = refusals.find("");
  if (about_several != refusals.end()) {
    ImGui::PushStyleColor(ImGuiCol_Text, colour(Ink::missed));
    ImGui::TextWrapped("%s", about_several->second.c_str());
    ImGui::PopStyleColor();
  }
  const float help = 76 * scale;
  ImGui::BeginChild("##rows", {0, -help});
  const std::vector<KnobPlace> knobs = app.shown_knobs();
  std::string_view mechanism;
  for (const KnobPlace& place : knobs) {
    if (place.knob->key.find('.') == std::string_view::npos) continue;  // the name
    if (place.knob->mechanism() != mechanism) {
      mechanism = place.knob->mechanism();
      draw_heading(app, mechanism, fonts, scale);
    }
    const ImVec2 at = ImGui::GetCursorScreenPos();
    const float width = ImGui::GetContentRegionAvail().x - 10 * scale;
    draw_row({app, place, fonts, scale, {at.x + 6 * scale, at.y}, width});
  }
  if (knobs.empty()) ImGui::TextWrapped("No knob is about \"%s\".", app.search.c_str());
  ImGui::EndChild();
  ImGui::PushFont(fonts.small);
  if (app.chosen) {
    ImGui::TextDisabled("%s", app.chosen->key().c_str());
    ImGui::TextWrapped("%s", std::string(app.chosen->knob->help).c_str());
  }
  ImGui::PopFont();
}

}  // namespace bushbaby::live
