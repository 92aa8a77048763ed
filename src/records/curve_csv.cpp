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

// Reads the rows of one curve; collects what is wrong with them.
class CurveReader {
 public:
  CurveReader(const std::vector<detail::CsvRow>& rows, const std::string& path, const Units& units)
      : rows_(rows),
        path_(path),
        units_(units),
        header_(rows.empty() ? detail::Header{} : detail::header_of(rows[0])) {}

  Result<Curve> read() {
    if (!find_columns()) return tl::unexpected(std::move(problems_));
    for (std::size_t i = 1; i < rows_.size(); ++i) {
      if (!rows_[i].empty()) read_row(i);
    }
    if (problems_.empty() && curve_.points.size() < 2) {
      add(ProblemCode::contradiction, rows_.size(), "",
          fmt::format("{} rows", curve_.points.size()), "at least 2 rows of numbers");
    }
    if (!problems_.empty()) return tl::unexpected(std::move(problems_));
    for (CurvePoint& point : curve_.points) {
      point.across *= across_factor_;
      point.height = 0 + point.height * height_factor_;  // no -0
    }
    return std::move(curve_);
  }

 private:
  void add(ProblemCode code, std::size_t line, std::string key, std::string found,
           std::string expected) {
    problems_.push_back({code, path_, static_cast<int>(line), 0, std::move(key), std::move(found),
                         std::move(expected), ""});
  }

  bool find_columns() {
    const auto x = column_of(header_, "x");
    const auto time = column_of(header_, "time");
    const auto y = column_of(header_, "y");
    if ((!x && !time) || !y) {
      add(ProblemCode::wrong_format, 1, "",
          header_.empty() ? "an empty file"
          : y             ? "no column x or time"
                          : "no column y",
          fmt::format("a header with x ({0}) or time ({1}), and y ({0})",
                      units_.name(Dimension::length), units_.name(Dimension::time)));
      return false;
    }
    curve_.over_time = !x;
    across_ = x ? *x : *time;
    height_ = *y;
    across_factor_ = factor_of(across_, x ? Dimension::length : Dimension::time);
    const bool down = header_[height_].down || units_.convention.vertical_down;
    height_factor_ = factor_of(height_, Dimension::length) * (down ? -1 : 1);
    return true;
  }

  // A column whose heading names a unit is in that one.
  double factor_of(std::size_t column, Dimension dimension) {
    const detail::Heading& heading = header_[column];
    if (heading.unit.empty()) return units_.meant(dimension, 1);
    const auto one = parse_quantity("1 " + heading.unit, dimension, units_);
    if (!one) {
      const std::string own = units_.name(Dimension::length);
      add(ProblemCode::unknown_name, 1, heading.name, shown(heading.unit),
          dimension == Dimension::time ? "s, ms or ticks"
          : own == "u"                 ? own
                                       : own + " or u");
    }
    return one.value_or(1);
  }

  void read_row(std::size_t i) {
    const detail::CsvRow& row = rows_[i];
    const std::size_t line = i + 1;
    if (row.size() != header_.size()) {
      add(ProblemCode::bad_syntax, line, "", fmt::format("{} fields", row.size()),
          fmt::format("{}, as in the header", header_.size()));
      return;
    }
    const auto across = number(line, across_);
    const auto height = number(line, height_);
    if (!across || !height) return;
    if (!curve_.points.empty() && !(*across > curve_.points.back().across)) {
      add(ProblemCode::out_of_range, line, header_[across_].name, row[across_],
          fmt::format("more than {}, which stands in the row above", curve_.points.back().across));
    }
    curve_.points.push_back({*across, *height});
  }

  std::optional<double> number(std::size_t line, std::size_t column) {
    const std::string& text = rows_[line - 1][column];
    const auto value = parse_number(text);
    if (value && std::isfinite(*value)) return value;
    add(ProblemCode::wrong_type, line, header_[column].name, shown(text), "a finite number");
    return std::nullopt;
  }

  const std::vector<detail::CsvRow>& rows_;
  const std::string& path_;
  const Units& units_;
  detail::Header header_;
  std::size_t across_ = 0;
  std::size_t height_ = 0;
  double across_factor_ = 1;
  double height_factor_ = 1;
  Curve curve_;
  std::vector<Problem> problems_;
};

}  // namespace

Result<Curve> parse_curve(std::string_view text, const std::string& path, const Units& units) {
  const auto rows = detail::split_rows(text, path);
  if (!rows) return tl::unexpected(rows.error());
  return CurveReader(*rows, path, units).read();
}

Result<Curve> load_curve(const std::string& path, const Units& units) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_curve(*text, path, units);
}

}  // namespace bushbaby
