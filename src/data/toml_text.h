// What the readers of TOML files share: parsing, places in the text, and problems.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <toml++/toml.h>

#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/convention.h"
#include "bushbaby/data/problem.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/data/units.h"

namespace bushbaby::detail {

// A text without the blanks around it.
inline std::string_view trimmed(std::string_view text) {
  constexpr std::string_view kBlank = " \t\r";
  const std::size_t first = text.find_first_not_of(kBlank);
  if (first == std::string_view::npos) return {};
  return text.substr(first, text.find_last_not_of(kBlank) - first + 1);
}

// The same as a text of its own.
inline std::string trimmed_copy(std::string_view text) { return std::string(trimmed(text)); }

// Finds bytes by line and column, which TOML positions count in code points.
class TextMap {
 public:
  explicit TextMap(std::string_view text);

  [[nodiscard]] std::size_t offset_of(const toml::source_position& position) const;
  [[nodiscard]] TextSpan span_of(const toml::source_region& region) const;

 private:
  std::string_view text_;
  std::vector<std::size_t> line_starts_;
};

// The text without a byte-order mark, which some editors put in front of it.
std::string_view without_mark(std::string_view text);

// Parses a text as TOML whose heading is `format = "<format>"`. Of a text without a heading of ours
// nothing is quoted in problems: it may be anybody's file.
Result<toml::table> parse_toml(std::string_view text, const std::string& path,
                               std::string_view format);

// Collects what is wrong with one file.
class ProblemList {
 public:
  explicit ProblemList(std::string path) : path_(std::move(path)) {}

  void add(ProblemCode code, const toml::source_region& where, std::string key, std::string found,
           std::string expected, std::string suggestion = {});
  void unknown(const toml::key& key, const std::string& full_name,
               const std::vector<std::string_view>& names);

  [[nodiscard]] bool empty() const { return problems_.empty(); }
  [[nodiscard]] std::size_t size() const { return problems_.size(); }
  [[nodiscard]] std::vector<Problem> take() { return std::move(problems_); }

 private:
  std::string path_;
  std::vector<Problem> problems_;
};

// Checks the `format` line: the right kind of file, and a version this program knows. The kind
// of another file is reported if it is ours.
void check_format(const toml::table& table, std::string_view expected, ProblemList& problems);

// A node as it is shown in a message: "7", "\"seven\"", "a table", "a list".
std::string shown(const toml::node& node);

// A text cut to a length that fits in a message, without control characters.
std::string shown(std::string_view text);

// Reads the `convention` table of a file, if there is one.
void read_convention(const toml::table& root, Convention& convention, ProblemList& problems);

// A knob's value as TOML writes it.
std::string toml_text_of(const KnobValue& value);

// The number that a node holds, integer or not.
std::optional<double> number_in(const toml::node& node);

// A quantity as it is written, in the units: a number, or a text with a unit of its own.
std::optional<double> quantity_in(const toml::node& node, Dimension dimension, const Units& units);

}  // namespace bushbaby::detail
