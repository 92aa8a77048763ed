// The palette, measured by the definitions of WCAG 2 (relative luminance, contrast ratio) and by
// the lightness of CIE L*a*b*: text can be read wherever it may stand, and what fills places can be
// distinguished in grey print.
#include <array>
#include <cmath>
#include <string>

#include <gtest/gtest.h>

#include "bushbaby/views/page.h"
#include "bushbaby/views/picture.h"

namespace bushbaby {
namespace {

// Of "#rrggbb".
double luminance(std::string_view colour) {
  EXPECT_EQ(colour.size(), 7U) << colour;
  const auto channel = [&](std::size_t at) {
    const double c = std::stoi(std::string(colour.substr(at, 2)), nullptr, 16) / 255.0;
    return c <= 0.03928 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
  };
  return 0.2126 * channel(1) + 0.7152 * channel(3) + 0.0722 * channel(5);
}

double contrast(std::string_view a, std::string_view b) {
  const double x = luminance(a) + 0.05;
  const double y = luminance(b) + 0.05;
  return std::max(x, y) / std::min(x, y);
}

double lightness(Ink ink) { return 116 * std::cbrt(luminance(colour_of(ink))) - 16; }

TEST(Palette, TextCanBeReadOnEveryGround) {
  constexpr double kReadable = 4.5;
  constexpr std::array kColoured{
      Ink::measured,   Ink::target,       Ink::missed,     Ink::zone_edge,   Ink::body,
      Ink::first_line, Ink::second_line,  Ink::third_line, Ink::fourth_line, Ink::fifth_line,
      Ink::sixth_line, Ink::seventh_line, Ink::eighth_line};
  for (const Ink ink : kColoured) {
    for (const Ink ground : {Ink::paper, Ink::zone, Ink::target_soft}) {
      EXPECT_GE(contrast(colour_of(ink), colour_of(ground)), kReadable)
          << colour_of(ink) << " on " << colour_of(ground);
    }
  }
  for (const Ink ground : {Ink::paper, Ink::zone, Ink::target_soft, Ink::measured_soft, Ink::grace,
                           Ink::pressed, Ink::terrain}) {
    EXPECT_GE(contrast(colour_of(Ink::text), colour_of(ground)), kReadable) << colour_of(ground);
  }
}

TEST(Palette, FillsDifferInGrey) {
  constexpr double kApart = 3;  // of 100
  constexpr std::array kFills{Ink::paper,         Ink::zone,    Ink::target_soft, Ink::grace,
                              Ink::measured_soft, Ink::pressed, Ink::terrain,     Ink::missed};
  for (std::size_t i = 0; i < kFills.size(); ++i) {
    for (std::size_t k = i + 1; k < kFills.size(); ++k) {
      EXPECT_GE(std::abs(lightness(kFills[i]) - lightness(kFills[k])), kApart)
          << colour_of(kFills[i]) << " beside " << colour_of(kFills[k]);
    }
  }
}

// The value of the last "name: #rrggbb" in a text.
std::string last_colour(const std::string& text, const std::string& name) {
  const std::size_t at = text.rfind(name + ": #");
  return at == std::string::npos ? std::string() : text.substr(at + name.size() + 2, 7);
}

TEST(Palette, PagesCanBeReadByDayAndByNight) {
  const auto html = html_of(Page{"Pip", "", {}});
  ASSERT_TRUE(html);
  const std::string& page = *html;
  const std::string dark = "prefers-color-scheme: dark";
  const std::size_t night = page.find(dark);
  ASSERT_NE(night, std::string::npos);
  const std::string by_night = page.substr(night, page.find("@media print") - night);
  const std::string ground = last_colour(by_night, "background");
  EXPECT_LT(luminance(ground), 0.05);
  for (const std::string& rule : {std::string("body {"), std::string(".missed {")}) {
    const std::size_t at = by_night.find(rule);
    ASSERT_NE(at, std::string::npos);
    const std::string part = by_night.substr(at, by_night.find('}', at) - at);
    EXPECT_GE(contrast(last_colour(part, " color"), ground), 4.5) << part;
  }
  EXPECT_NE(page.find("background: " + std::string(colour_of(Ink::paper))), std::string::npos);
  EXPECT_NE(page.find("color: " + std::string(colour_of(Ink::text))), std::string::npos);
}

}  // namespace
}  // namespace bushbaby
