#include "look.h"

#include <cstdlib>
#include <filesystem>
#include <string>

namespace bushbaby::live {
namespace {

constexpr const char* kFont = "/usr/share/fonts/truetype/open-sans/OpenSans-Regular.ttf";

ImVec4 vector_of(Ink ink, float alpha = 1) {
  ImVec4 value = ImGui::ColorConvertU32ToFloat4(colour(ink));
  value.w = alpha;
  return value;
}

}  // namespace

ImU32 colour(Ink ink, double strength) noexcept {
  const std::string_view hex = colour_of(ink);
  const auto part = [hex](std::size_t at) {
    const auto digit = [](char c) { return c <= '9' ? c - '0' : c - 'a' + 10; };
    return static_cast<ImU32>(digit(hex[at]) * 16 + digit(hex[at + 1]));
  };
  const auto alpha = static_cast<ImU32>(strength * 255 + 0.5);
  return IM_COL32(part(1), part(3), part(5), alpha);
}

Fonts load_fonts(float scale) {
  // Letters of the Latin script, punctuation, arrows, and signs of comparison.
  static const ImWchar letters[] = {0x20,   0x17f,  0x2010, 0x2027, 0x2070, 0x209c, 0x2190,
                                    0x2193, 0x2212, 0x2212, 0x2248, 0x2265, 0};
  ImFontAtlas& atlas = *ImGui::GetIO().Fonts;
  const bool is_there = std::filesystem::exists(kFont);
  // The widget library counts from the top of the tallest letter to the bottom of the lowest: for
  // this font N times its size.
  constexpr float kTall = 1.362F;
  const auto load = [&](float size) -> ImFont* {
    size *= kTall;
    if (is_there) return atlas.AddFontFromFileTTF(kFont, size * scale, nullptr, letters);
    ImFontConfig config;
    config.SizePixels = size * scale;
    return atlas.AddFontDefault(&config);
  };
  Fonts fonts;
  fonts.text = load(14);
  fonts.small = load(13);
  fonts.heading = load(18);
  return fonts;
}

void restyle(float scale) {
  ImGuiStyle& style = ImGui::GetStyle();
  style = ImGuiStyle();
  style.WindowPadding = {14, 10};
  style.FramePadding = {8, 4};
  style.ItemSpacing = {8, 6};
  style.WindowRounding = 0;
  style.FrameRounding = 3;
  style.PopupRounding = 4;
  style.GrabRounding = 3;
  style.ScrollbarSize = 10;
  style.ScrollbarRounding = 5;
  style.WindowBorderSize = 0;
  style.ChildBorderSize = 0;
  style.FrameBorderSize = 0;
  style.PopupBorderSize = 1;
  ImVec4* colours = style.Colors;
  const ImVec4 ink = vector_of(Ink::text);
  const ImVec4 faint = vector_of(Ink::faint);
  const ImVec4 pressed = vector_of(Ink::pressed);
  for (int i = 0; i < ImGuiCol_COUNT; ++i) colours[i] = faint;
  colours[ImGuiCol_Text] = ink;
  colours[ImGuiCol_TextDisabled] = vector_of(Ink::body);
  colours[ImGuiCol_WindowBg] = vector_of(Ink::paper);
  colours[ImGuiCol_ChildBg] = vector_of(Ink::paper, 0);
  colours[ImGuiCol_PopupBg] = vector_of(Ink::paper, 0.98F);
  colours[ImGuiCol_Border] = vector_of(Ink::terrain);
  colours[ImGuiCol_BorderShadow] = vector_of(Ink::paper, 0);
  colours[ImGuiCol_Button] = vector_of(Ink::faint, 0.7F);
  colours[ImGuiCol_ButtonHovered] = pressed;
  colours[ImGuiCol_ButtonActive] = vector_of(Ink::measured_soft);
  colours[ImGuiCol_Header] = vector_of(Ink::pressed, 0.6F);
  colours[ImGuiCol_HeaderHovered] = pressed;
  colours[ImGuiCol_HeaderActive] = pressed;
  colours[ImGuiCol_FrameBgHovered] = pressed;
  colours[ImGuiCol_FrameBgActive] = pressed;
  colours[ImGuiCol_CheckMark] = ink;
  colours[ImGuiCol_ScrollbarBg] = vector_of(Ink::paper, 0);
  colours[ImGuiCol_ScrollbarGrab] = vector_of(Ink::terrain, 0.7F);
  colours[ImGuiCol_ScrollbarGrabHovered] = vector_of(Ink::terrain);
  colours[ImGuiCol_ScrollbarGrabActive] = vector_of(Ink::terrain_edge);
  colours[ImGuiCol_TextSelectedBg] = vector_of(Ink::measured_soft, 0.6F);
  colours[ImGuiCol_NavHighlight] = vector_of(Ink::measured);
  colours[ImGuiCol_ModalWindowDimBg] = vector_of(Ink::paper, 0.6F);
  style.ScaleAllSizes(scale);
}

}  // namespace bushbaby::live
