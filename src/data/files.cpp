#include "bushbaby/data/files.h"

#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <memory>
#include <system_error>

namespace bushbaby {
namespace {

struct CloseFile {
  void operator()(std::FILE* file) const { std::fclose(file); }
};
using OpenFile = std::unique_ptr<std::FILE, CloseFile>;

tl::unexpected<std::vector<Problem>> cannot_read(const std::string& path, std::string found) {
  Problem problem{ProblemCode::cannot_read, path, 0, 0, "", std::move(found), "a readable file", ""};
  return tl::unexpected(std::vector<Problem>{std::move(problem)});
}

Problem cannot_write(const std::string& path, const std::string& why) {
  return {ProblemCode::cannot_write, path, 0, 0, "", why, "a place that can be written to", ""};
}

std::string reason_of(int error) { return std::system_category().message(error); }

}  // namespace

Result<std::string> read_file(const std::string& path, std::size_t largest) {
  std::error_code ignored;
  if (std::filesystem::is_directory(path, ignored)) return cannot_read(path, "a directory");
  const OpenFile file(std::fopen(path.c_str(), "rb"));
  if (!file) return cannot_read(path, reason_of(errno));
  std::string text;
  char block[65536];
  while (const std::size_t read = std::fread(block, 1, sizeof block, file.get())) {
    text.append(block, read);
    if (text.size() > largest) {
      return cannot_read(path, fmt::format("more than {} bytes", largest));
    }
  }
  if (std::ferror(file.get()) != 0) return cannot_read(path, reason_of(errno));
  return text;
}

std::string temporary_beside(const std::string& path) {
  return fmt::format("{}.{}.part", path, ::getpid());
}

std::optional<Problem> replace_file(const std::string& temporary, const std::string& path) {
  std::error_code error;
  std::filesystem::rename(temporary, path, error);
  if (!error) return std::nullopt;
  std::error_code ignored;
  std::filesystem::remove(temporary, ignored);
  return cannot_write(path, error.message());
}

std::optional<Problem> write_file(const std::string& path, std::string_view text) {
  std::error_code ignored;
  if (std::filesystem::is_directory(path, ignored)) return cannot_write(path, "a directory");
  const std::string temporary = temporary_beside(path);
  OpenFile file(std::fopen(temporary.c_str(), "wb"));
  if (!file) return cannot_write(path, reason_of(errno));
  const bool written = std::fwrite(text.data(), 1, text.size(), file.get()) == text.size();
  const bool closed = std::fclose(file.release()) == 0;
  if (!written || !closed) {
    const std::string why = reason_of(errno);
    std::filesystem::remove(temporary, ignored);
    return cannot_write(path, why);
  }
  return replace_file(temporary, path);
}

}  // namespace bushbaby
