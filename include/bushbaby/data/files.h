// Whole files in and out.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

#include <bushbaby/data/problem.h>

namespace bushbaby {

/// What people write by hand is smaller than this.
inline constexpr std::size_t kLargestHandWritten = std::size_t{16} << 20;

/// The text of a file of at most `largest` bytes.
[[nodiscard]] Result<std::string> read_file(const std::string& path,
                                            std::size_t largest = kLargestHandWritten);

/// Writes a file whole or not at all: to a temporary beside it, then renamed. What was there stays
/// when anything fails.
[[nodiscard]] std::optional<Problem> write_file(const std::string& path, std::string_view text);

/// A name beside `path` for a temporary, unlikely to exist.
[[nodiscard]] std::string temporary_beside(const std::string& path);

/// Puts a finished temporary in the place of `path`; removes it if that fails.
[[nodiscard]] std::optional<Problem> replace_file(const std::string& temporary,
                                                  const std::string& path);

}  // namespace bushbaby
