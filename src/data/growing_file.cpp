#include "bushbaby/data/growing_file.h"

#include <array>
#include <cerrno>
#include <filesystem>
#include <fstream>
#include <system_error>
#include <utility>

#include "bushbaby/data/files.h"

#include "toml_text.h"

namespace bushbaby {
namespace {

namespace fs = std::filesystem;

Problem cannot_write(const std::string& path, std::string why) {
  return {ProblemCode::cannot_write,        path, 0, 0, "", std::move(why),
          "a place that can be written to", ""};
}

std::string reason_of(int error) { return std::system_category().message(error); }

// Whole lines of a file, and where the last of them ends.
struct Whole {
  std::string first_line;
  std::size_t lines = 0;  // behind the first
  std::uintmax_t end = 0;
};

Whole read_whole(const std::string& path) {
  constexpr std::size_t kLongestLine = 65536;  // of a first line; no other is kept
  Whole whole;
  std::ifstream file(path, std::ios::binary);
  std::array<char, 65536> block{};
  std::uintmax_t at = 0;
  std::size_t ends = 0;
  while (file.read(block.data(), block.size()), file.gcount() > 0) {
    for (std::streamsize i = 0; i < file.gcount(); ++i) {
      const char c = block[static_cast<std::size_t>(i)];
      ++at;
      if (c == '\n') {
        ++ends;
        whole.end = at;
      } else if (ends == 0 && whole.first_line.size() < kLongestLine) {
        whole.first_line += c;
      }
    }
  }
  whole.lines = ends > 0 ? ends - 1 : 0;
  return whole;
}

}  // namespace

std::string unfinished_path(const std::string& path) { return path + ".unfinished"; }

Result<GrowingFile> GrowingFile::open(const std::string& path, std::string_view first_line) {
  const std::string temporary = unfinished_path(path);
  const auto fail = [](Problem problem) {
    return tl::unexpected(std::vector<Problem>{std::move(problem)});
  };
  std::error_code error;
  const fs::file_status status = fs::symlink_status(temporary, error);
  const bool there = fs::exists(status);
  if (there && !fs::is_regular_file(status)) {
    return fail(cannot_write(temporary, "something that is no plain file"));
  }
  Whole whole;
  if (there) {
    whole = read_whole(temporary);
    if (whole.end > 0 && whole.first_line != first_line) {
      return fail({ProblemCode::contradiction, temporary, 1, 1, "", "what another call began",
                   "what this call began; finish that, or remove it", ""});
    }
    fs::resize_file(temporary, whole.end, error);
    if (error) return fail(cannot_write(temporary, error.message()));
  }
  std::FILE* file = std::fopen(temporary.c_str(), there ? "abe" : "wxbe");
  if (file == nullptr) return fail(cannot_write(temporary, reason_of(errno)));
  GrowingFile growing(path, file, whole.lines);
  if (whole.end == 0) {
    if (auto problem = growing.append(std::string(first_line) + "\n")) return fail(*problem);
  }
  return growing;
}

std::optional<Problem> GrowingFile::append(std::string_view text) {
  const bool done = std::fwrite(text.data(), 1, text.size(), file_.get()) == text.size() &&
                    std::fflush(file_.get()) == 0;
  if (done) return std::nullopt;
  return cannot_write(unfinished_path(path_), reason_of(errno));
}

std::optional<Problem> GrowingFile::finish() {
  if (std::fclose(file_.release()) != 0) return cannot_write(path_, reason_of(errno));
  std::error_code error;
  fs::rename(unfinished_path(path_), path_, error);
  if (error) return cannot_write(path_, error.message());
  return std::nullopt;
}

}  // namespace bushbaby
