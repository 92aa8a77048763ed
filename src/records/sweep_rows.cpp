#include "sweep_rows.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"

#include "core/shape/hash.h"

namespace bushbaby::detail {
namespace {

std::size_t columns_of(const std::string& line) {
  return static_cast<std::size_t>(std::count(line.begin(), line.end(), ',')) + 1;
}

// The number with which a row begins; 0 if it is no run's.
std::size_t run_of(const std::string& row) {
  const auto number = parse_number(row.substr(0, row.find(',')));
  constexpr double kMost = 1e15;
  if (!number || *number < 1 || *number > kMost || *number != std::floor(*number)) return 0;
  return static_cast<std::size_t>(*number);
}

}  // namespace

std::uint32_t row_sum(std::string_view header, std::string_view row) noexcept {
  Hash sum;
  sum.add(header);
  sum.add(row);
  return static_cast<std::uint32_t>(sum.sum() >> 32U);
}

Result<SweepRows> SweepRows::open(const std::string& path) {
  auto file = LineReader::open(path);
  if (!file) return tl::unexpected(file.error());
  SweepRows rows(path, std::move(*file));
  std::string line;
  const bool any = rows.file_.next(line);
  if (rows.file_.problem()) return tl::unexpected(std::vector<Problem>{*rows.file_.problem()});
  if (!any || line.substr(0, kSweepStart.size()) != kSweepStart) {
    return tl::unexpected(
        std::vector<Problem>{{ProblemCode::contradiction, path, 1, 0, "", any ? line : "nothing",
                              "the first line of a sweep", ""}});
  }
  rows.columns_ = columns_of(line);
  rows.header_ = std::move(line);
  return rows;
}

bool SweepRows::next() {
  if (problem_) return false;
  if (!file_.next(row_)) {
    problem_ = file_.problem();
    return false;
  }
  run_ = run_of(row_);
  problem_ = check_row();
  return !problem_;
}

std::string SweepRows::cell(std::size_t column) const {
  std::size_t at = 0;
  for (; column > 0; --column) at = row_.find(',', at) + 1;
  return row_.substr(at, row_.find(',', at) - at);
}

Problem SweepRows::wrong_row(std::string found, std::string expected) const {
  return {
      ProblemCode::contradiction, path_, static_cast<int>(file_.number()), 0, "", std::move(found),
      std::move(expected),        ""};
}

std::optional<Problem> SweepRows::check_row() const {
  if (file_.is_cut_off()) return wrong_row("a row without its end", "a whole row: it was cut off");
  if (columns_of(row_) != columns_) {
    return wrong_row(fmt::format("{} columns", columns_of(row_)), fmt::format("{}", columns_));
  }
  if (run_ == 0) return wrong_row(cell(0), "the number of a run");
  for (std::size_t i = 0; i < columns_; ++i) {
    const std::string text = cell(i);
    const bool like_number = !text.empty() && text.find_first_of("0123456789+-.") == 0;
    if (like_number && !parse_number(text)) return wrong_row(text, "a number");
  }
  const std::size_t rest = row_.rfind(',');
  const std::string sum = fmt::format("{}", row_sum(header_, row_.substr(0, rest)));
  if (row_.substr(rest + 1) != sum) {
    return wrong_row("a row that does not add up to its sum",
                     "the row as it was written: this one was altered, or is another sweep's");
  }
  return std::nullopt;
}

}  // namespace bushbaby::detail
