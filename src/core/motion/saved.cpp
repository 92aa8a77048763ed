#include "bushbaby/core/motion/saved.h"

#include <cmath>
#include <cstring>
#include <type_traits>

#include "core/shape/hash.h"
#include "fields.h"

namespace bushbaby {
namespace {

using detail::Hash;

constexpr std::uint8_t kLetters[] = {'b', 'b', 'c', 'h'};

// The greatest number that each kind of choice has.
constexpr std::uint8_t greatest(GroundReason) noexcept {
  return static_cast<std::uint8_t>(GroundReason::refused);
}
constexpr std::uint8_t greatest(JumpKind) noexcept {
  return static_cast<std::uint8_t>(JumpKind::exit_jump);
}
constexpr std::uint8_t greatest(LeaveReason) noexcept {
  return static_cast<std::uint8_t>(LeaveReason::dropped);
}

// Goes through all numbers of a value, one by one. `visit` takes them by reference.
template <class T, class Visit>
constexpr void each_number(T& value, const Visit& visit) noexcept {
  using Plain = std::remove_const_t<T>;
  if constexpr (std::is_arithmetic_v<Plain> || std::is_enum_v<Plain>) {
    visit(value);
  } else if constexpr (std::is_same_v<Plain, Vec>) {
    visit(value.x);
    visit(value.y);
  } else if constexpr (std::is_same_v<Plain, Controls>) {
    visit(value.x);
    visit(value.y);
    visit(value.jump);
    visit(value.dash);
    visit(value.sprint);
  } else if constexpr (std::is_same_v<Plain, GroundCheck>) {
    visit(value.reason);
    visit(value.surface);
    each_number(value.normal, visit);
    visit(value.gap);
    visit(value.wedged);
  } else if constexpr (std::is_same_v<Plain, Status>) {
    visit(value.left);
    visit(value.reason);
    visit(value.share);
    visit(value.surface);
    visit(value.by_zone);
  } else {
    for (auto& part : value) each_number(part, visit);
  }
}

template <class C, class Visit>
constexpr void each_number_of(C& character, const Visit& visit) noexcept {
  std::apply([&](auto&... fields) { (each_number(fields, visit), ...); },
             detail::fields_of(character));
}

// A number's bits, and back.
template <class T>
std::uint64_t bits_of(T value) noexcept {
  if constexpr (std::is_same_v<T, double>) {
    std::uint64_t bits = 0;
    std::memcpy(&bits, &value, sizeof value);
    return bits;
  } else {
    return static_cast<std::uint64_t>(value);
  }
}

template <class T>
bool take_bits(std::uint64_t bits, T& value) noexcept {
  if constexpr (std::is_same_v<T, double>) {
    std::memcpy(&value, &bits, sizeof value);
    return std::isfinite(value);
  } else if constexpr (std::is_same_v<T, bool>) {
    value = bits != 0;
    return bits <= 1;
  } else if constexpr (std::is_enum_v<T>) {
    value = static_cast<T>(bits);
    return bits <= greatest(T{});
  } else {
    value = static_cast<T>(bits);
    return true;
  }
}

class Writer {
 public:
  explicit Writer(std::uint8_t* bytes) noexcept : at_(bytes) {}
  void put(std::uint64_t bits, std::size_t size) noexcept {
    for (std::size_t i = 0; i < size; ++i, bits >>= 8U) *at_++ = bits & 0xffU;
  }

 private:
  std::uint8_t* at_;
};

class Reader {
 public:
  explicit Reader(const std::uint8_t* bytes) noexcept : at_(bytes) {}
  std::uint64_t get(std::size_t size) noexcept {
    std::uint64_t bits = 0;
    for (std::size_t i = 0; i < size; ++i) bits |= std::uint64_t{*at_++} << 8U * i;
    return bits;
  }

 private:
  const std::uint8_t* at_;
};

constexpr std::size_t kHeadSize = sizeof kLetters + sizeof kSavedVersion;
constexpr std::size_t kSumSize = sizeof(std::uint64_t);

constexpr std::size_t size_of_numbers() noexcept {
  std::size_t size = 0;
  const Character character;
  each_number_of(character, [&size](const auto& value) { size += sizeof value; });
  return size;
}
static_assert(kHeadSize + size_of_numbers() + kSumSize == kSavedSize,
              "a character has other fields than it had: it needs a new version");

std::uint64_t sum_of(const std::uint8_t* bytes, std::size_t size) noexcept {
  Hash hash;
  for (std::size_t i = 0; i < size; ++i) hash.add(bytes[i]);
  return hash.sum();
}

}  // namespace

SavedCharacter save(const Character& character) noexcept {
  SavedCharacter saved{};
  Writer writer(saved.data());
  for (const std::uint8_t letter : kLetters) writer.put(letter, 1);
  writer.put(kSavedVersion, sizeof kSavedVersion);
  each_number_of(character, [&](const auto& value) { writer.put(bits_of(value), sizeof value); });
  writer.put(sum_of(saved.data(), kSavedSize - kSumSize), kSumSize);
  return saved;
}

bool load(const std::uint8_t* bytes, std::size_t size, Character& character) noexcept {
  if (size != kSavedSize || std::memcmp(bytes, kLetters, sizeof kLetters) != 0) return false;
  Reader head(bytes + sizeof kLetters);
  if (head.get(sizeof kSavedVersion) != kSavedVersion) return false;
  Reader sum(bytes + kSavedSize - kSumSize);
  if (sum.get(kSumSize) != sum_of(bytes, kSavedSize - kSumSize)) return false;
  Reader reader(bytes + kHeadSize);
  Character loaded;
  bool good = true;
  each_number_of(loaded,
                 [&](auto& value) { good = take_bits(reader.get(sizeof value), value) && good; });
  if (good) character = loaded;
  return good;
}

std::uint64_t hash_of(const Character& character) noexcept {
  Hash hash;
  each_number_of(character, [&](const auto& value) {
    using T = std::decay_t<decltype(value)>;
    if constexpr (std::is_enum_v<T>) {
      hash.add(static_cast<std::uint8_t>(value));
    } else {
      hash.add(value);
    }
  });
  return hash.sum();
}

}  // namespace bushbaby
