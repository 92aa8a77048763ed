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

Result<Curve> parse_curve(std::string_view text, const std::string& path, const Units& units) {
  const auto split = detail::split_rows(text, path);
  if (!split) return tl::unexpected(split.error());
  std::vector<Problem> problems;
  const auto add = [&](ProblemCode code, std::size_t line, std::string key, std::string found,
                       std::string expected) {
    problems.push_back({code, path, static_cast<int>(line), 0, std::move(key), std::move(found),
                        std::move(expected), ""});
  };
  const auto& rows = *split;
  const detail::Header header = rows.empty() ? detail::Header{} : detail::header_of(rows[0]);
  const auto x = column_of(header, "x");
  const auto time = column_of(header, "time");
  const auto y = column_of(header, "y");
  if ((!x && !time) || !y) {
    add(ProblemCode::wrong_format, 1, "",
        header.empty() ? "an empty file"
        : y            ? "no column x or time"
                       : "no column y",
        fmt::format("a header with x ({0}) or time ({1}), and y ({0})",
                    units.name(Dimension::length), units.name(Dimension::time)));
    return tl::unexpected(std::move(problems));
  }
  // A column whose heading names a unit is in that one.
  const auto factor = [&](std::size_t column, Dimension dimension) {
    const detail::Heading& heading = header[column];
    if (heading.unit.empty()) return units.meant(dimension, 1);
    const auto one = parse_quantity("1 " + heading.unit, dimension, units);
    if (!one) {
      add(ProblemCode::unknown_name, 1, heading.name, shown(heading.unit),
          dimension == Dimension::time ? "s, ms or ticks"
          : units.name(Dimension::length) == "u"
              ? "u"
              : fmt::format("{} or u", units.name(Dimension::length)));
    }
    return one.value_or(1);
  };
  const bool over_time = !x;
  const double across_factor =
      factor(x ? *x : *time, over_time ? Dimension::time : Dimension::length);
  const bool down = header[*y].down || units.convention.vertical_down;
  const double height_factor = factor(*y, Dimension::length) * (down ? -1 : 1);
  Curve curve;
  curve.over_time = over_time;
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
        add(ProblemCode::wrong_type, line, header[column].name, shown(row[column]),
            "a finite number");
        fine = false;
      }
      value = number.value_or(0);
    };
    read(across, point.across);
    read(*y, point.height);
    if (fine && !curve.points.empty() && !(point.across > curve.points.back().across)) {
      add(ProblemCode::out_of_range, line, header[across].name, row[across],
          fmt::format("more than {}, which stands in the row above", curve.points.back().across));
    }
    if (fine) curve.points.push_back(point);
  }
  if (problems.empty() && curve.points.size() < 2) {
    add(ProblemCode::contradiction, rows.size(), "", fmt::format("{} rows", curve.points.size()),
        "at least 2 rows of numbers");
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  for (CurvePoint& point : curve.points) {
    point.across *= across_factor;
    point.height = 0 + point.height * height_factor;  // no -0
  }
  return curve;
}

Result<Curve> load_curve(const std::string& path, const Units& units) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_curve(*text, path, units);
}

}  // namespace bushbaby
