#include "csv_rows.h"

#include <algorithm>
#include <utility>

#include <csv.h>
#include <fmt/format.h>

#include "bushbaby/data/inputs_file.h"

#include "data/toml_text.h"

namespace bushbaby::detail {
namespace {

// Gathers rows of fields from the CSV parser, with the line each ended on.
struct Rows {
  std::vector<CsvRow> rows;
  CsvRow row;
};

void add_field(void* field, std::size_t size, void* rows) {
  static_cast<Rows*>(rows)->row.emplace_back(static_cast<const char*>(field), size);
}

void end_row(int /*terminator*/, void* data) {
  auto* rows = static_cast<Rows*>(data);
  rows->rows.push_back(std::move(rows->row));
  rows->row.clear();
}

}  // namespace

Result<std::vector<CsvRow>> split_rows(std::string_view text, const std::string& path) {
  // Either way of ending a line counts as one line, so that problems name the right one.
  std::string lines;
  lines.reserve(text.size());
  text = without_mark(text);
  for (std::size_t i = 0; i < text.size(); ++i) {
    const bool pair = text[i] == '\r' && i + 1 < text.size() && text[i + 1] == '\n';
    if (!pair) lines += text[i];
  }
  Rows rows;
  csv_parser parser;
  if (csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI | CSV_REPALL_NL) != 0)
    return std::move(rows.rows);
  const bool whole =
      csv_parse(&parser, lines.data(), lines.size(), add_field, end_row, &rows) == lines.size() &&
      csv_fini(&parser, add_field, end_row, &rows) == 0;
  const int error = csv_error(&parser);
  csv_free(&parser);
  if (whole) return std::move(rows.rows);
  return tl::unexpected(
      std::vector<Problem>{{ProblemCode::bad_syntax, path, static_cast<int>(rows.rows.size()) + 1,
                            0, "", csv_strerror(error), "CSV", ""}});
}

namespace {

Heading heading_of(std::string_view cell) {
  Heading heading;
  const auto take_word = [&cell] {
    while (!cell.empty() && cell.front() == ' ') cell.remove_prefix(1);
    const std::size_t end = std::min(cell.find(' '), cell.size());
    std::string word(cell.substr(0, end));
    cell.remove_prefix(end);
    return word;
  };
  heading.name = take_word();
  heading.unit = take_word();
  if (heading.unit.size() > 2 && heading.unit.front() == '(' && heading.unit.back() == ')') {
    heading.unit = heading.unit.substr(1, heading.unit.size() - 2);
  }
  heading.down = take_word() == "down";
  return heading;
}

}  // namespace

Header header_of(const CsvRow& row) {
  Header header;
  for (const std::string& cell : row) header.push_back(heading_of(cell));
  return header;
}

std::optional<Controls> held_in(std::string_view cell) {
  const auto inputs = parse_inputs(fmt::format("{}\n{} for 1 tick\n", kInputsFormat, cell), "");
  if (!inputs || inputs->spans.size() != 1) return std::nullopt;
  return inputs->spans[0].held;
}

std::optional<std::size_t> column_of(const Header& header, std::string_view name) {
  const auto at = std::find_if(header.begin(), header.end(),
                               [name](const Heading& heading) { return heading.name == name; });
  if (at == header.end()) return std::nullopt;
  return static_cast<std::size_t>(at - header.begin());
}

}  // namespace bushbaby::detail
