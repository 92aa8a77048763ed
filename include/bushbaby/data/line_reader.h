// A file line by line, however long it is.
#pragma once

#include <cstddef>
#include <memory>
#include <optional>
#include <string>

#include <bushbaby/data/problem.h>

namespace bushbaby {

/// Reads a file as `read_file` does, without keeping more of it than a line.
class LineReader {
 public:
  [[nodiscard]] static Result<LineReader> open(const std::string& path);

  LineReader(LineReader&& other) noexcept;
  LineReader(const LineReader&) = delete;
  LineReader& operator=(const LineReader&) = delete;
  LineReader& operator=(LineReader&&) = delete;
  ~LineReader();

  /// Takes the next line, without its end. False at the end of the file, or where a line is longer
  /// than 65,536 bytes or cannot be read: `problem` says so.
  [[nodiscard]] bool next(std::string& line);

  /// Whether the line that was taken last has no end: the file stops within it.
  [[nodiscard]] bool is_cut_off() const noexcept;

  /// The number of the line that was taken last, from 1 on.
  [[nodiscard]] std::size_t number() const noexcept;
  [[nodiscard]] const std::optional<Problem>& problem() const noexcept;

 private:
  struct State;
  explicit LineReader(std::unique_ptr<State> state);

  std::unique_ptr<State> state_;
};

}  // namespace bushbaby
