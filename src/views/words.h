// Words that several pictures share.
#pragma once

#include <string>
#include <string_view>

namespace bushbaby::detail {

// A name from a file, short enough for a heading or a label, whole characters only.
inline std::string short_name(std::string_view name, std::size_t longest = 40) {
  if (name.size() <= longest) return std::string(name);
  std::size_t end = longest;
  while (end > 0 && (static_cast<unsigned char>(name[end]) & 0xC0U) == 0x80U) --end;
  return std::string(name.substr(0, end)) + "...";
}

inline std::string character_name(std::string_view name) {
  return name.empty() ? std::string("the character") : short_name(name);
}

}  // namespace bushbaby::detail
