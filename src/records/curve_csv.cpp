#include <algorithm>
#include <cmath>

#include <csv.h>
#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"
#include "bushbaby/records/targets_file.h"

#include "data/toml_text.h"

namespace bushbaby {
namespace {

using detail::shown;

// Gathers rows of fields from the CSV parser, with the line each ended on.
struct Rows {
  std::vector<std::vector<std::string>> rows;
  std::vector<std::string> row;
};

void add_field(void* field, std::size_t size, void* rows) {
  static_cast<Rows*>(rows)->row.emplace_back(static_cast<const char*>(field), size);
}

void end_row(int /*terminator*/, void* data) {
  auto* rows = static_cast<Rows*>(data);
  rows->rows.push_back(std::move(rows->row));
  rows->row.clear();
}

Result<Rows> split_rows(std::string_view text, const std::string& path) {
  // Either way of ending a line counts as one line, so that problems name the right one.
  std::string lines(text);
  for (std::size_t at = 0; (at = lines.find("\r\n", at)) != std::string::npos;) lines.erase(at, 1);
  Rows rows;
  csv_parser parser;
  if (csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI | CSV_REPALL_NL) != 0) return rows;
  const bool whole =
      csv_parse(&parser, lines.data(), lines.size(), add_field, end_row, &rows) == lines.size() &&
      csv_fini(&parser, add_field, end_row, &rows) == 0;
  const int error = csv_error(&parser);
  csv_free(&parser);
  if (whole) return rows;
  return tl::unexpected(
      std::vector<Problem>{{ProblemCode::bad_syntax, path, static_cast<int>(rows.rows.size()) + 1,
                            0, "", csv_strerror(error), "CSV", ""}});
}

std::optional<std::size_t> column_of(const std::vector<std::string>& header,
                                     std::string_view name) {
  const auto at = std::find(header.begin(), header.end(), name);
  if (at == header.end()) return std::nullopt;
  return static_cast<std::size_t>(at - header.begin());
}

}  // namespace

Result<Curve> parse_curve(std::string_view text, const std::string& path) {
  const auto split = split_rows(text, path);
  if (!split) return tl::unexpected(split.error());
  std::vector<Problem> problems;
  const auto add = [&](ProblemCode code, std::size_t line, std::string key, std::string found,
                       std::string expected) {
    problems.push_back({code, path, static_cast<int>(line), 0, std::move(key), std::move(found),
                        std::move(expected), ""});
  };
  const auto& rows = split->rows;
  const std::vector<std::string> header = rows.empty() ? std::vector<std::string>{} : rows[0];
  const auto x = column_of(header, "x");
  const auto time = column_of(header, "time");
  const auto y = column_of(header, "y");
  if ((!x && !time) || !y) {
    add(ProblemCode::wrong_format, 1, "",
        header.empty() ? "an empty file" : shown(fmt::format("{}", fmt::join(header, ","))),
        "a header with x (u) or time (s), and y (u)");
    return tl::unexpected(std::move(problems));
  }
  Curve curve;
  curve.over_time = !x;
  const std::size_t across = x ? *x : *time;
  for (std::size_t i = 1; i < rows.size(); ++i) {
    const auto& row = rows[i];
    const std::size_t line = i + 1;
    if (row.empty()) continue;  // a blank line
    if (row.size() != header.size()) {
      add(ProblemCode::bad_syntax, line, "", fmt::format("{} fields", row.size()),
          fmt::format("{}, as in the header", header.size()));
      continue;
    }
    CurvePoint point;
    bool fine = true;
    const auto read = [&](std::size_t column, double& value) {
      const auto number = parse_number(row[column]);
      if (!number || !std::isfinite(*number)) {
        add(ProblemCode::wrong_type, line, header[column], shown(row[column]), "a finite number");
        fine = false;
      }
      value = number.value_or(0);
    };
    read(across, point.across);
    read(*y, point.height);
    if (fine && !curve.points.empty() && !(point.across > curve.points.back().across)) {
      add(ProblemCode::out_of_range, line, header[across], row[across],
          fmt::format("more than {}, the one before", curve.points.back().across));
    }
    if (fine) curve.points.push_back(point);
  }
  if (problems.empty() && curve.points.size() < 2) {
    add(ProblemCode::contradiction, rows.size(), "", fmt::format("{} rows", curve.points.size()),
        "at least 2 rows of numbers");
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return curve;
}

Result<Curve> load_curve(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_curve(*text, path);
}

}  // namespace bushbaby
