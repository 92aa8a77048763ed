#include "machine.h"

#ifdef BUSHBABY_HAS_POSIX

#include <algorithm>
#include <array>
#include <cerrno>
#include <csignal>
#include <filesystem>
#include <random>
#include <utility>

#include <fmt/format.h>

#include "bushbaby/data/files.h"

#include "descriptors.h"

namespace bushbaby {
namespace detail {

bool write_all(int descriptor, std::string_view text) {
  while (!text.empty()) {
    const ssize_t written = ::write(descriptor, text.data(), text.size());
    if (written < 0 && errno == EINTR) continue;
    if (written <= 0) return false;
    text.remove_prefix(static_cast<std::size_t>(written));
  }
  return true;
}

ssize_t read_some(int descriptor, char* to, std::size_t size) {
  while (true) {
    const ssize_t got = ::read(descriptor, to, size);
    if (got >= 0 || errno != EINTR) return got;
  }
}

Result<Descriptor> open_to_read(const std::string& path) {
  // Not waiting for whoever might write to a pipe one day.
  Descriptor file(open_file(path, O_RDONLY | O_NONBLOCK));
  if (!file.is_open()) return alone(cannot_read(path, reason_of(errno)));
  struct stat status {};
  if (::fstat(file.get(), &status) != 0) return alone(cannot_read(path, reason_of(errno)));
  if (S_ISDIR(status.st_mode)) return alone(cannot_read(path, "a directory"));
  if (!S_ISREG(status.st_mode)) return alone(cannot_read(path, "a pipe or a device"));
  return file;
}

}  // namespace detail

namespace {

using detail::alone;
using detail::cannot_read;
using detail::cannot_write;
using detail::Descriptor;
using detail::open_file;
using detail::reason_of;
using detail::write_all;

namespace fs = std::filesystem;

// Holds back the signals that people end a program with, so that none comes between making a
// temporary and putting it in its place.
class SignalsHeld {
 public:
  SignalsHeld() {
    sigset_t held;
    ::sigemptyset(&held);
    for (const int signal : {SIGINT, SIGTERM, SIGHUP, SIGQUIT}) ::sigaddset(&held, signal);
    ::pthread_sigmask(SIG_BLOCK, &held, &before_);
  }
  SignalsHeld(const SignalsHeld&) = delete;
  SignalsHeld& operator=(const SignalsHeld&) = delete;
  ~SignalsHeld() { ::pthread_sigmask(SIG_SETMASK, &before_, nullptr); }

 private:
  sigset_t before_{};
};

// Where a path leads in the end: links keep being links, and what they lead to is written.
Result<fs::path> end_of_links(const std::string& path) {
  constexpr int kMostLinks = 40;  // as many as the system itself follows
  fs::path target = path;
  for (int links = 0; links < kMostLinks; ++links) {
    std::error_code error;
    if (fs::symlink_status(target, error).type() != fs::file_type::symlink) return target;
    const fs::path next = fs::read_symlink(target, error);
    if (error) return alone(cannot_write(path, error.message()));
    target = next.is_absolute() ? next : target.parent_path() / next;
  }
  return alone(cannot_write(path, "a loop of links"));
}

// A pipe or a device: there is nothing to put in its place, only to write to.
std::optional<Problem> write_into(const std::string& path, std::string_view text) {
  Descriptor file(open_file(path, O_WRONLY | O_NONBLOCK));
  if (!file.is_open()) {
    return cannot_write(path, errno == ENXIO ? "a pipe that nobody reads" : reason_of(errno));
  }
  ::fcntl(file.get(), F_SETFL, 0);  // NOLINT: fcntl takes its argument so; from here on it may wait
  const SignalsHeld held;
  if (!write_all(file.get(), text)) return cannot_write(path, reason_of(errno));
  return std::nullopt;
}

// A name that nobody can foresee, so that nobody can have put a link there.
fs::path unforeseen_name_in(const fs::path& folder) {
  std::random_device random;
  return folder / fmt::format(".bushbaby-{:08x}{:08x}.part", random(), random());
}

// `mode` is that of the file that is replaced, if there is one.
std::optional<Problem> replace(const std::string& path, const fs::path& target,
                               std::string_view text, std::optional<mode_t> mode) {
  constexpr mode_t kUsual = 0666;  // less what the user's mask takes away
  const SignalsHeld held;
  const std::string temporary = unforeseen_name_in(target.parent_path()).string();
  Descriptor file(open_file(temporary, O_WRONLY | O_CREAT | O_EXCL, mode.value_or(kUsual)));
  if (!file.is_open()) return cannot_write(path, reason_of(errno));
  if (mode) (void)::fchmod(file.get(), *mode);
  bool done = write_all(file.get(), text);
  int error = errno;
  if (done && !file.close()) {
    done = false;
    error = errno;
  }
  if (done && ::rename(temporary.c_str(), target.c_str()) != 0) {
    done = false;
    error = errno;
  }
  if (done) return std::nullopt;
  ::unlink(temporary.c_str());
  return cannot_write(path, reason_of(error));
}

}  // namespace

Result<std::string> read_file(const std::string& path, std::size_t largest) {
  const auto file = detail::open_to_read(path);
  if (!file) return tl::unexpected(file.error());
  std::string text;
  std::array<char, 65536> block{};
  while (true) {
    const ssize_t size = detail::read_some(file->get(), block.data(), block.size());
    if (size < 0) return alone(cannot_read(path, reason_of(errno)));
    if (size == 0) return text;
    text.append(block.data(), static_cast<std::size_t>(size));
    if (text.size() > largest) {
      return alone(cannot_read(path, fmt::format("more than {} bytes", largest)));
    }
  }
}

Result<std::string> place_to_write(const std::string& path) {
  const auto target = end_of_links(path);
  if (!target) return tl::unexpected(target.error());
  struct stat status {};
  if (::stat(target->c_str(), &status) != 0) {
    if (errno != ENOENT) return alone(cannot_write(path, reason_of(errno)));
    return target->string();
  }
  if (S_ISDIR(status.st_mode)) return alone(cannot_write(path, "a directory"));
  if (!S_ISREG(status.st_mode)) return alone(cannot_write(path, "a pipe or a device"));
  constexpr mode_t kAnyWrite = S_IWUSR | S_IWGRP | S_IWOTH;
  if ((status.st_mode & kAnyWrite) == 0) return alone(cannot_write(path, "a read-only file"));
  return target->string();
}

std::optional<Problem> write_file(const std::string& path, std::string_view text) {
  struct stat status {};
  const bool there = ::stat(path.c_str(), &status) == 0;
  if (there && !S_ISREG(status.st_mode) && !S_ISDIR(status.st_mode)) return write_into(path, text);
  const auto target = place_to_write(path);
  if (!target) return target.error().front();
  constexpr mode_t kPermissions = 07777;
  if (!there) return replace(path, *target, text, std::nullopt);
  return replace(path, *target, text, status.st_mode & kPermissions);
}

bool exists(const std::string& path) {
  std::error_code ignored;
  return fs::exists(path, ignored);
}

bool leads_into(const std::string& folder, const std::string& path) {
  const auto target = end_of_links(path);
  if (!target) return false;
  std::error_code error;
  const fs::path within = fs::canonical(folder, error);
  if (error) return false;
  const fs::path place = fs::weakly_canonical(fs::absolute(*target, error), error);
  if (error) return false;
  const auto [end, ignored] =
      std::mismatch(within.begin(), within.end(), place.begin(), place.end());
  return end == within.end();
}

bool is_same_file(const std::string& a, const std::string& b) {
  std::error_code ignored;
  if (fs::equivalent(a, b, ignored)) return true;
  // Of files that are not there yet the names decide.
  const auto whole = [&ignored](const std::string& path) {
    return fs::weakly_canonical(fs::absolute(path, ignored), ignored);
  };
  return a == b || (whole(a) == whole(b) && !whole(a).empty());
}

}  // namespace bushbaby

#endif
