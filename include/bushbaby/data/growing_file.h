// A file that is written bit by bit, and has its name only when it is whole.
//
//     auto file = GrowingFile::open("sweep.csv", header);
//     while (…) file->append(rows);
//     file->finish();
#pragma once

#include <cstddef>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include <bushbaby/data/problem.h>

namespace bushbaby {

namespace detail {
class Descriptor;
}

/// Until `finish` it is called as the path with ".unfinished" behind it, and is gone on with by
/// whoever opens it again with the same first line; by one at a time. What may not be written in
/// the end is refused at once. What was there stays until then, and so do links to it and its
/// permissions.
class GrowingFile {
 public:
  /// Begins a file with that first line (without a line's end), or goes on with one that began so:
  /// lines that were not written to their end are taken out. Another first line is a problem.
  [[nodiscard]] static Result<GrowingFile> open(const std::string& path,
                                                std::string_view first_line);

  /// Where it is until it is finished.
  [[nodiscard]] std::string unfinished() const;

  /// How many whole lines it had behind its first when it was opened.
  [[nodiscard]] std::size_t lines_before() const noexcept { return lines_before_; }

  /// Writes text behind its end.
  [[nodiscard]] std::optional<Problem> append(std::string_view text);

  /// Gives it its name.
  [[nodiscard]] std::optional<Problem> finish();

  /// Takes it away, with all that was written.
  [[nodiscard]] std::optional<Problem> abandon();

  GrowingFile(GrowingFile&& other) noexcept;
  GrowingFile(const GrowingFile&) = delete;
  GrowingFile& operator=(const GrowingFile&) = delete;
  GrowingFile& operator=(GrowingFile&&) = delete;
  ~GrowingFile();

 private:
  GrowingFile(std::string path, std::unique_ptr<detail::Descriptor> file, std::size_t lines);

  std::string path_;  // at the end of links
  std::unique_ptr<detail::Descriptor> file_;
  std::size_t lines_before_ = 0;
};

/// Where such a file is until it is finished.
[[nodiscard]] std::string unfinished_path(const std::string& path);

}  // namespace bushbaby
