#include "gnuplot.h"

#include <array>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <memory>

#include <fcntl.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

namespace bushbaby::detail {
namespace {

struct CloseFile {
  void operator()(std::FILE* file) const { std::fclose(file); }
};
using File = std::unique_ptr<std::FILE, CloseFile>;

// Where the child's standard input, output and error go.
class Redirections {
 public:
  Redirections(std::FILE* in, std::FILE* out) {
    ::posix_spawn_file_actions_init(&actions_);
    ::posix_spawn_file_actions_adddup2(&actions_, ::fileno(in), STDIN_FILENO);
    ::posix_spawn_file_actions_adddup2(&actions_, ::fileno(out), STDOUT_FILENO);
    ::posix_spawn_file_actions_addopen(&actions_, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
  }
  Redirections(const Redirections&) = delete;
  Redirections& operator=(const Redirections&) = delete;
  ~Redirections() { ::posix_spawn_file_actions_destroy(&actions_); }

  [[nodiscard]] const posix_spawn_file_actions_t* get() const { return &actions_; }

 private:
  posix_spawn_file_actions_t actions_{};
};

std::string everything_in(std::FILE* file) {
  std::string text;
  std::array<char, 65536> block{};
  std::rewind(file);
  while (const std::size_t size = std::fread(block.data(), 1, block.size(), file)) {
    text.append(block.data(), size);
  }
  return text;
}

int exit_status(pid_t child) {
  int status = 0;
  while (::waitpid(child, &status, 0) < 0) {
    if (errno != EINTR) return -1;
  }
  return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

}  // namespace

tl::expected<std::string, std::string> run_gnuplot(std::string_view script) {
  const File in(std::tmpfile());
  const File out(std::tmpfile());
  const auto no_room = [] { return tl::unexpected(std::string(std::strerror(errno))); };
  if (!in || !out) return no_room();
  const bool sent = std::fwrite(script.data(), 1, script.size(), in.get()) == script.size();
  if (!sent || std::fflush(in.get()) != 0) return no_room();
  std::rewind(in.get());

  std::string program = "gnuplot";
  std::string no_settings = "-d";
  std::array<char*, 3> arguments{program.data(), no_settings.data(), nullptr};
  const Redirections redirections(in.get(), out.get());
  pid_t child = 0;
  if (::posix_spawnp(&child, program.c_str(), redirections.get(), nullptr, arguments.data(),
                     ::environ) != 0) {
    return tl::unexpected(std::string("gnuplot not found"));
  }
  if (exit_status(child) != 0) return tl::unexpected(std::string("gnuplot failed"));
  return everything_in(out.get());
}

}  // namespace bushbaby::detail
