// Open files, for what reads and writes them in the room of data.
#pragma once

#include <string>
#include <utility>

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include "bushbaby/data/problem.h"

#include "file_problems.h"

namespace bushbaby::detail {

// An open file that closes itself.
class Descriptor {
 public:
  explicit Descriptor(int number) : number_(number) {}
  Descriptor(Descriptor&& other) noexcept : number_(std::exchange(other.number_, -1)) {}
  Descriptor(const Descriptor&) = delete;
  Descriptor& operator=(const Descriptor&) = delete;
  Descriptor& operator=(Descriptor&&) = delete;
  ~Descriptor() { close(); }

  [[nodiscard]] bool is_open() const { return number_ >= 0; }
  [[nodiscard]] int get() const { return number_; }
  // False if what was written did not reach the disk.
  bool close() { return number_ < 0 || ::close(std::exchange(number_, -1)) == 0; }

 private:
  int number_;
};

inline int open_file(const std::string& path, int how, mode_t mode = 0) {
  return ::open(path.c_str(), how | O_CLOEXEC | O_NOCTTY, mode);  // NOLINT: open takes its mode so
}

// What can be read at once and has an end: no pipes and devices.
Result<Descriptor> open_to_read(const std::string& path);

bool write_all(int descriptor, std::string_view text);

// Reads up to `size` bytes; 0 at the end, less than 0 if that cannot be.
ssize_t read_some(int descriptor, char* to, std::size_t size);

}  // namespace bushbaby::detail
