#include "number_text.h"

#include "machine.h"

#ifndef BUSHBABY_PLAIN_LIBRARY

#include <charconv>
#include <system_error>

namespace bushbaby::detail {

bool take_number(std::string_view& text, double& number) {
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
  if (error != std::errc{}) return false;
  text.remove_prefix(static_cast<std::size_t>(end - text.data()));
  return true;
}

}  // namespace bushbaby::detail

#else

#include <cmath>
#include <cstdlib>
#include <string>

namespace bushbaby::detail {

// The C library there knows no other locale than "C"; what it reads beyond decimals is omitted.
bool take_number(std::string_view& text, double& number) {
  const std::string part(text.substr(0, text.find_first_not_of("+-.0123456789eE")));
  if (part.empty() || part.front() == '+') return false;
  char* end = nullptr;
  number = std::strtod(part.c_str(), &end);
  if (end == part.c_str() || !std::isfinite(number)) return false;
  text.remove_prefix(static_cast<std::size_t>(end - part.c_str()));
  return true;
}

}  // namespace bushbaby::detail

#endif
