// A character as bytes that mean the same on every machine: for save games, replays and lockstep.
//
//     const SavedCharacter saved = save(pip);
//     write(file, saved.data(), saved.size());
//     ...
//     if (!load(bytes, size, pip)) report("not a character of this version");
//
// Within one process a character may be copied as it is (it is trivially copyable).
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>

#include <bushbaby/core/motion/character.h>

namespace bushbaby {

/// The version that stands in the bytes; another one is not read.
inline constexpr std::uint32_t kSavedVersion = 2;

/// The number of bytes of a saved character.
inline constexpr std::size_t kSavedSize = 473;

using SavedCharacter = std::array<std::uint8_t, kSavedSize>;

/// All of a character: four letters, the version, every field with its least byte first, and a sum.
[[nodiscard]] SavedCharacter save(const Character& character) noexcept;

/// Puts a saved character into `character`. False, and nothing is changed, if the bytes are not
/// those of one: of another length or version, altered, or with a number in them that no character
/// has.
[[nodiscard]] bool load(const std::uint8_t* bytes, std::size_t size, Character& character) noexcept;

/// A sum over every field, to the last bit; the same on every machine. Two machines that run in
/// lockstep compare it to find out whether they still agree.
[[nodiscard]] std::uint64_t hash_of(const Character& character) noexcept;

}  // namespace bushbaby
