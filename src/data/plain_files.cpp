// Files where there is no POSIX: with what C has.
#include "machine.h"

#ifndef BUSHBABY_HAS_POSIX

#include <array>
#include <cerrno>
#include <cstdio>
#include <memory>

#include <fmt/format.h>

#include "bushbaby/data/files.h"

#include "file_problems.h"

namespace bushbaby {
namespace {

using detail::alone;
using detail::cannot_read;
using detail::cannot_write;
using detail::reason_of;

struct Closer {
  void operator()(std::FILE* file) const { (void)std::fclose(file); }
};
using File = std::unique_ptr<std::FILE, Closer>;

}  // namespace

Result<std::string> read_file(const std::string& path, std::size_t largest) {
  const File file(std::fopen(path.c_str(), "rb"));
  if (!file) return alone(cannot_read(path, reason_of(errno)));
  std::string text;
  std::array<char, 65536> block{};
  while (const std::size_t got = std::fread(block.data(), 1, block.size(), file.get())) {
    text.append(block.data(), got);
    if (text.size() > largest) {
      return alone(cannot_read(path, fmt::format("more than {} bytes", largest)));
    }
  }
  if (std::ferror(file.get()) != 0) return alone(cannot_read(path, reason_of(errno)));
  return text;
}

Result<std::string> place_to_write(const std::string& path) { return path; }

std::optional<Problem> write_file(const std::string& path, std::string_view text) {
  const std::string temporary = path + ".part";
  File file(std::fopen(temporary.c_str(), "wb"));
  if (!file) return cannot_write(path, reason_of(errno));
  bool done = std::fwrite(text.data(), 1, text.size(), file.get()) == text.size();
  done = std::fclose(file.release()) == 0 && done;
  if (done && exists(path)) (void)std::remove(path.c_str());  // renaming may refuse to replace
  done = done && std::rename(temporary.c_str(), path.c_str()) == 0;
  if (done) return std::nullopt;
  const int error = errno;
  (void)std::remove(temporary.c_str());
  return cannot_write(path, reason_of(error));
}

bool exists(const std::string& path) { return File(std::fopen(path.c_str(), "rb")) != nullptr; }

bool is_same_file(const std::string& a, const std::string& b) { return a == b; }

}  // namespace bushbaby

#endif
