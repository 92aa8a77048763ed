// A sum over everything that was added, down to the last bit.
#pragma once

#include <cstdint>
#include <cstring>
#include <string>
#include <string_view>
#include <type_traits>

#include "bushbaby/core/shape/shapes.h"

namespace bushbaby::detail {

// FNV-1a, a public-domain hash.
class Hash {
 public:
  template <class T>
  void add(T value) noexcept {
    static_assert(std::is_arithmetic_v<T>);
    unsigned char bytes[sizeof value];
    std::memcpy(bytes, &value, sizeof value);
    for (const unsigned char byte : bytes) sum_ = (sum_ ^ byte) * 0x100000001b3ULL;
  }
  void add(std::string_view text) noexcept {
    for (const char c : text) add(c);
  }
  void add(const std::string& text) noexcept { add(std::string_view(text)); }
  void add(Vec v) noexcept {
    add(v.x);
    add(v.y);
  }
  [[nodiscard]] std::uint64_t sum() const noexcept { return sum_; }

 private:
  std::uint64_t sum_ = 0xcbf29ce484222325ULL;
};

}  // namespace bushbaby::detail
