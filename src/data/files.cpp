#include "bushbaby/data/files.h"

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <limits>
#include <memory>
#include <system_error>

#include <fmt/format.h>
#include <unistd.h>

namespace bushbaby {
namespace {

namespace fs = std::filesystem;

struct CloseFile {
  void operator()(std::FILE* file) const { std::fclose(file); }
};
using OpenFile = std::unique_ptr<std::FILE, CloseFile>;

tl::unexpected<std::vector<Problem>> cannot_read(const std::string& path, std::string found) {
  Problem problem{ProblemCode::cannot_read, path, 0, 0, "", std::move(found),
                  "a readable file",        ""};
  return tl::unexpected(std::vector<Problem>{std::move(problem)});
}

Problem cannot_write(const std::string& path, const std::string& why) {
  return {ProblemCode::cannot_write, path, 0, 0, "", why, "a place that can be written to", ""};
}

std::string reason_of(int error) { return std::system_category().message(error); }

std::optional<Problem> write_directly(const std::string& path, std::string_view text) {
  OpenFile file(std::fopen(path.c_str(), "wb"));
  if (!file) return cannot_write(path, reason_of(errno));
  const bool written = std::fwrite(text.data(), 1, text.size(), file.get()) == text.size();
  const bool closed = std::fclose(file.release()) == 0;
  if (!written || !closed) return cannot_write(path, reason_of(errno));
  return std::nullopt;
}

}  // namespace

Result<std::string> read_file(const std::string& path, std::size_t largest) {
  std::error_code ignored;
  if (fs::is_directory(path, ignored)) return cannot_read(path, "a directory");
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
  std::error_code ignored;
  const fs::path target = fs::exists(path, ignored) ? fs::canonical(path, ignored) : fs::path(path);
  const fs::file_status status = fs::status(target, ignored);
  if (fs::exists(status) && !fs::is_regular_file(status)) {
    // A pipe or a device: there is nothing to put in its place, only to write to.
    const auto text = read_file(temporary, std::numeric_limits<std::size_t>::max());
    fs::remove(temporary, ignored);
    return text ? write_directly(path, *text) : text.error().front();
  }
  if (fs::exists(status)) fs::permissions(temporary, status.permissions(), ignored);
  fs::rename(temporary, target, error);
  if (!error) return std::nullopt;
  fs::remove(temporary, ignored);
  return cannot_write(path, error.message());
}

std::optional<Problem> write_file(const std::string& path, std::string_view text) {
  std::error_code ignored;
  const fs::file_status status = fs::status(path, ignored);
  if (fs::is_directory(status)) return cannot_write(path, "a directory");
  if (fs::exists(status) && !fs::is_regular_file(status)) return write_directly(path, text);
  const std::string temporary = temporary_beside(path);
  if (auto problem = write_directly(temporary, text)) {
    fs::remove(temporary, ignored);
    problem->file = path;
    return problem;
  }
  return replace_file(temporary, path);
}

}  // namespace bushbaby
