// A sum over everything that was added, down to the last bit; the same on every machine.
#pragma once

#include <cstddef>
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
    static_assert(std::is_integral_v<T> || std::is_same_v<T, double>);
    std::uint64_t bits = 0;
    if constexpr (std::is_integral_v<T>) {
      bits = static_cast<std::uint64_t>(value);
    } else {
      std::memcpy(&bits, &value, sizeof value);
    }
    // The least byte first, however a machine keeps them.
    for (std::size_t i = 0; i < sizeof value; ++i, bits >>= 8U) {
      sum_ = (sum_ ^ (bits & 0xffU)) * 0x100000001b3ULL;
    }
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
