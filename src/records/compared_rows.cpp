#include "compared_rows.h"

#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/records/overlay_reports.h"

namespace bushbaby::detail {
namespace {

std::string value_text(const Compared& row, std::size_t variant, const Units& units) {
  const auto& value = row.values[variant];
  const auto& first = row.values.front();
  if (variant > 0 && is_same(row, variant)) return "=";
  if (!value) return "none";
  std::string text = fmt::format("{:.5g}", units.shown(row.dimension, *value));
  if (variant == 0 || !first) return text;
  return fmt::format("{} ({:+.3g})", text, units.shown(row.dimension, *value - *first));
}

// The first variant beside those from `begin` up to `end`: the rows in which one of them differs.
std::string columns_text(const std::vector<Compared>& all, std::size_t begin, std::size_t end,
                         const Units& units, std::string_view heading, std::size_t most,
                         std::size_t wide) {
  std::vector<const Compared*> rows;
  for (const Compared& row : all) {
    bool same = true;
    for (std::size_t v = begin; v < end; ++v) same = same && is_same(row, v);
    if (!same) rows.push_back(&row);
  }
  if (rows.empty()) return {};
  std::string text = fmt::format("\n{:<{}} {:<8} {:>18}", heading, wide, "unit", letter_of(0));
  for (std::size_t v = begin; v < end; ++v) text += fmt::format(" {:>18}", letter_of(v));
  text += "\n";
  for (std::size_t i = 0; i < std::min(rows.size(), most); ++i) {
    const Compared& row = *rows[i];
    text += fmt::format("{:<{}} {:<8} {:>18}", row.what, wide, units.name(row.dimension),
                        value_text(row, 0, units));
    for (std::size_t v = begin; v < end; ++v) {
      text += fmt::format(" {:>18}", value_text(row, v, units));
    }
    text += "\n";
  }
  if (rows.size() > most) {
    text += fmt::format("and {} more (--json lists all)\n", rows.size() - most);
  }
  return text;
}

}  // namespace

std::string compared_text(const std::vector<Compared>& rows, std::size_t variants,
                          const Units& units, std::string_view heading, std::size_t most) {
  std::string text;
  std::size_t wide = 30;
  for (const Compared& row : rows) wide = std::max(wide, row.what.size());
  constexpr std::size_t kAcross = 5;  // beside the first
  for (std::size_t begin = 1; begin == 1 || begin < variants; begin += kAcross) {
    const std::size_t end = std::min(variants, begin + kAcross);
    text += columns_text(rows, begin, end, units, heading, most, wide);
  }
  return text;
}

Json compared_json(const std::vector<Compared>& rows, const Units& units) {
  Json all = Json::array();
  for (const Compared& row : rows) {
    Json values = Json::array();
    for (const auto& value : row.values) {
      values.push_back(value ? Json(units.shown(row.dimension, *value)) : Json());
    }
    all.push_back({{"what", row.what}, {"unit", units.name(row.dimension)}, {"values", values}});
  }
  return all;
}

}  // namespace bushbaby::detail
