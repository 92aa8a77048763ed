#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/records/targets_file.h"

#include "csv_rows.h"
#include "data/toml_text.h"

namespace bushbaby {
namespace {

using detail::column_of;
using detail::shown;

}  // namespace

Result<Curve> parse_curve(std::string_view text, const std::string& path) {
  const auto split = detail::split_rows(text, path);
  if (!split) return tl::unexpected(split.error());
  std::vector<Problem> problems;
  const auto add = [&](ProblemCode code, std::size_t line, std::string key, std::string found,
                       std::string expected) {
    problems.push_back({code, path, static_cast<int>(line), 0, std::move(key), std::move(found),
                        std::move(expected), ""});
  };
  const auto& rows = *split;
  const std::vector<std::string> header = rows.empty() ? std::vector<std::string>{} : rows[0];
  const auto x = column_of(header, "x");
  const auto time = column_of(header, "time");
  const auto y = column_of(header, "y");
  if ((!x && !time) || !y) {
    add(ProblemCode::wrong_format, 1, "",
        header.empty() ? "an empty file"
        : y            ? "no column x or time"
                       : "no column y",
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
          fmt::format("more than {}, which stands in the row above", curve.points.back().across));
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
