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

/// The text of a file of at most `largest` bytes. Only files are read: a pipe could keep one
/// waiting for ever, and a device has no end.
[[nodiscard]] Result<std::string> read_file(const std::string& path,
                                            std::size_t largest = kLargestHandWritten);

/// Where a path leads for whoever writes a file there: to the end of links. A problem if that is a
/// directory, a pipe, a device, or may not be written.
[[nodiscard]] Result<std::string> place_to_write(const std::string& path);

/// Writes a file whole or not at all: to a temporary beside it, then renamed. What was there stays
/// when anything fails, and so do links to it and its permissions; a read-only file is refused.
[[nodiscard]] std::optional<Problem> write_file(const std::string& path, std::string_view text);

/// Whether there is anything at that path. What cannot be looked at counts as nothing.
[[nodiscard]] bool exists(const std::string& path);

/// Whether a path leads, at the end of all links, to a place within a folder that is
/// there. Only where there is POSIX.
[[nodiscard]] bool leads_into(const std::string& folder, const std::string& path);

/// Whether two paths lead to one file, be it there or not.
[[nodiscard]] bool is_same_file(const std::string& a, const std::string& b);

}  // namespace bushbaby
