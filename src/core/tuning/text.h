// Text of numbers for messages: the core prints with the standard library alone.
#pragma once

#include <charconv>
#include <cmath>
#include <string>

namespace bushbaby::detail {

// The shortest text that reads back as the same number.
inline std::string text_of(double number) {
  char buffer[32];
  char* const end = std::to_chars(buffer, buffer + sizeof buffer, number).ptr;
  return {buffer, end};
}

// A number that was worked out, to six significant digits.
inline std::string short_text_of(double number) {
  char buffer[32];
  char* const end =
      std::to_chars(buffer, buffer + sizeof buffer, number, std::chars_format::general, 6).ptr;
  return {buffer, end};
}

// The same without an exponent where a whole number is short enough without.
inline std::string plain_text_of(double number) {
  constexpr double kPlain = 1e10;
  const bool plain = number == std::floor(number) && std::abs(number) < kPlain;
  return plain ? std::to_string(static_cast<long long>(number)) : text_of(number);
}

// A number of ticks with its unit: "7 ticks", "1 tick".
inline std::string ticks_text(double ticks) {
  return text_of(ticks) + (ticks == 1 ? " tick" : " ticks");
}

}  // namespace bushbaby::detail
