// What can be wrong with a file or a call, and where.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

namespace bushbaby {

enum class ProblemCode {
  cannot_read,    ///< the file is missing, unreadable, too large, or no file
  cannot_write,   ///< the output could not be written
  bad_syntax,     ///< not the file's language at all
  wrong_format,   ///< the format line is missing, or names another kind of file
  newer_format,   ///< the format line names a version this program does not know
  unknown_name,   ///< a key, word or name that does not exist
  wrong_type,     ///< a value of another type than expected
  out_of_range,   ///< a value that is not allowed
  contradiction,  ///< values that cannot hold together, or one that is missing
};

/// One thing that is wrong. `line` and `column` count from 1; 0 means the whole file.
struct Problem {
  ProblemCode code = ProblemCode::bad_syntax;
  std::string file;
  int line = 0;
  int column = 0;
  std::string key;         ///< the name it is about; may be empty
  std::string found;       ///< what is there
  std::string expected;    ///< what should be
  std::string suggestion;  ///< the nearest valid name; may be empty
};

/// "pip.tuning.toml:12:13: run.top_speed: found -3, expected a speed in u/s, 0 or more". Whatever
/// the names in it are, it is some lines long at most.
[[nodiscard]] std::string describe(const Problem& problem);

/// A value, or everything that is wrong.
template <class T>
using Result = tl::expected<T, std::vector<Problem>>;

/// The one of `names` that `word` was probably meant to be, or an empty view.
[[nodiscard]] std::string_view nearest_name(std::string_view word,
                                            const std::vector<std::string_view>& names);

}  // namespace bushbaby
