// Exports as the rows that stand in them, whatever their form.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/data/problem.h"

namespace bushbaby::detail {

// A place in a text: lines and columns count from 1, columns in characters; 0 if it is not known.
struct TextPlace {
  int line = 0;
  int column = 0;
};

// A row, and where its key and its value stand.
struct ReadRow {
  std::string key;
  std::string text;
  std::string unit;
  TextPlace key_at;
  TextPlace value_at;
};

// Finds places in a text in the order of its bytes, each byte looked at once.
class TextPlaces {
 public:
  explicit TextPlaces(std::string_view text) : text_(text) {}
  // Of an offset no less than the one before.
  TextPlace at(std::size_t offset) noexcept;

 private:
  std::string_view text_;
  std::size_t looked_at_ = 0;
  TextPlace place_{1, 1};
};

// That a file is none that export wrote.
tl::unexpected<std::vector<Problem>> no_export(const std::string& path);

// Something wrong with a row, which is reported with the others.
Problem wrong_row(const std::string& path, TextPlace at, std::string key, std::string found,
                  std::string expected);

// Reads an export in JSON; rows that are none go into the problems.
Result<std::vector<ReadRow>> rows_of_json(std::string_view text, const std::string& path,
                                          std::vector<Problem>& problems);

}  // namespace bushbaby::detail
