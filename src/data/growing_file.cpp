#include "machine.h"

#ifdef BUSHBABY_HAS_POSIX

#include <array>
#include <cerrno>
#include <filesystem>
#include <system_error>
#include <utility>

#include <sys/file.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/growing_file.h"

#include "descriptors.h"

namespace bushbaby {
namespace {

namespace fs = std::filesystem;

using detail::alone;
using detail::cannot_write;
using detail::Descriptor;
using detail::reason_of;

// Whole lines of a file, and where the last of them ends.
struct Whole {
  std::string first_line;
  std::size_t lines = 0;  // behind the first
  off_t end = 0;
};

Whole read_whole(int file) {
  constexpr std::size_t kLongestLine = 65536;  // of a first line; no other is kept
  Whole whole;
  std::array<char, 65536> block{};
  off_t at = 0;
  std::size_t ends = 0;
  for (ssize_t got = 0; (got = detail::read_some(file, block.data(), block.size())) > 0;) {
    for (ssize_t i = 0; i < got; ++i) {
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

// Opens a plain file for reading and appending, through no link that somebody put there, for one
// program at a time.
Result<Descriptor> open_alone(const std::string& path) {
  constexpr mode_t kUsual = 0666;  // less what the user's mask takes away
  Descriptor file(
      detail::open_file(path, O_RDWR | O_APPEND | O_CREAT | O_NOFOLLOW | O_NONBLOCK, kUsual));
  if (!file.is_open()) {
    return alone(cannot_write(path, errno == ELOOP ? "a link" : reason_of(errno)));
  }
  struct stat status {};
  if (::fstat(file.get(), &status) != 0 || !S_ISREG(status.st_mode)) {
    return alone(cannot_write(path, "something that is no plain file"));
  }
  if (::flock(file.get(), LOCK_EX | LOCK_NB) != 0) {
    return alone(cannot_write(path, "what another program is writing"));
  }
  return file;
}

}  // namespace

std::string unfinished_path(const std::string& path) { return path + ".unfinished"; }

Result<GrowingFile> GrowingFile::open(const std::string& path, std::string_view first_line) {
  const auto target = place_to_write(path);
  if (!target) return tl::unexpected(target.error());
  const std::string temporary = unfinished_path(*target);
  auto file = open_alone(temporary);
  if (!file) return tl::unexpected(file.error());
  const Whole whole = read_whole(file->get());
  if (whole.end > 0 && whole.first_line != first_line) {
    return alone({ProblemCode::contradiction, temporary, 1, 1, "", "what another call began",
                  "what this call began; finish that, or remove it", ""});
  }
  if (::ftruncate(file->get(), whole.end) != 0) {
    return alone(cannot_write(temporary, reason_of(errno)));
  }
  GrowingFile growing(*target, std::make_unique<Descriptor>(std::move(*file)), whole.lines);
  if (whole.end == 0) {
    if (auto problem = growing.append(std::string(first_line) + "\n")) {
      return alone(std::move(*problem));
    }
  }
  return growing;
}

GrowingFile::GrowingFile(std::string path, std::unique_ptr<Descriptor> file, std::size_t lines)
    : path_(std::move(path)), file_(std::move(file)), lines_before_(lines) {}
GrowingFile::GrowingFile(GrowingFile&& other) noexcept = default;
GrowingFile::~GrowingFile() = default;

std::string GrowingFile::unfinished() const { return unfinished_path(path_); }

std::optional<Problem> GrowingFile::append(std::string_view text) {
  if (detail::write_all(file_->get(), text)) return std::nullopt;
  return cannot_write(unfinished(), reason_of(errno));
}

std::optional<Problem> GrowingFile::finish() {
  struct stat status {};
  constexpr mode_t kPermissions = 07777;
  if (::stat(path_.c_str(), &status) == 0) {
    (void)::fchmod(file_->get(), status.st_mode & kPermissions);
  }
  if (!file_->close()) return cannot_write(path_, reason_of(errno));
  std::error_code error;
  fs::rename(unfinished(), path_, error);
  if (error) return cannot_write(path_, error.message());
  return std::nullopt;
}

std::optional<Problem> GrowingFile::abandon() {
  std::error_code error;
  fs::remove(unfinished(), error);
  if (error) return cannot_write(unfinished(), error.message());
  return std::nullopt;
}

}  // namespace bushbaby

#endif
