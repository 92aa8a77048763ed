// The rows of a sweep's file, each held against the sum that it carries.
#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "bushbaby/data/line_reader.h"

namespace bushbaby::detail {

// How the first line begins, before the number of all runs; and the title of its last column.
inline constexpr std::string_view kSweepStart = "run of ";
inline constexpr std::string_view kSumTitle = "row sum";

// What the last column says: a sum over the rest of the row, and over the first line, so that no
// row of another sweep has it.
std::uint32_t row_sum(std::string_view header, std::string_view row) noexcept;

// Reads the rows in order, as long as nothing is wrong with them.
class SweepRows {
 public:
  static Result<SweepRows> open(const std::string& path);

  [[nodiscard]] const std::string& header() const noexcept { return header_; }

  // Takes the next row. False at the end, or where one is cut off, altered, or of another sweep:
  // `problem` says so.
  bool next();

  // Of the row taken last: its text, its run from 1 on, and the cell of a column.
  [[nodiscard]] const std::string& row() const noexcept { return row_; }
  [[nodiscard]] std::size_t run() const noexcept { return run_; }
  [[nodiscard]] std::string cell(std::size_t column) const;

  [[nodiscard]] const std::optional<Problem>& problem() const noexcept { return problem_; }

  // What is wrong with the row taken last.
  [[nodiscard]] Problem wrong_row(std::string found, std::string expected) const;

 private:
  SweepRows(std::string path, LineReader file) : path_(std::move(path)), file_(std::move(file)) {}
  [[nodiscard]] std::optional<Problem> check_row() const;

  std::string path_;
  LineReader file_;
  std::string header_;
  std::string row_;
  std::size_t columns_ = 0;
  std::size_t run_ = 0;
  std::optional<Problem> problem_;
};

}  // namespace bushbaby::detail
