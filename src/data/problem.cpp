#include "bushbaby/data/problem.h"

#include <algorithm>
#include <numeric>

#include <fmt/format.h>

namespace bushbaby {
namespace {

// The least number of insertions, deletions, replacements and swaps of neighbours that turn one
// word into the other (the optimal string alignment distance).
std::size_t edits_between(std::string_view a, std::string_view b) {
  std::vector<std::size_t> before(b.size() + 1);
  std::vector<std::size_t> row(b.size() + 1);
  std::vector<std::size_t> next(b.size() + 1);
  std::iota(row.begin(), row.end(), std::size_t{0});
  for (std::size_t i = 1; i <= a.size(); ++i) {
    next[0] = i;
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t replaced = row[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1);
      next[j] = std::min({row[j] + 1, next[j - 1] + 1, replaced});
      if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1]) {
        next[j] = std::min(next[j], before[j - 2] + 1);
      }
    }
    before.swap(row);
    row.swap(next);
  }
  return row[b.size()];
}

}  // namespace

std::string describe(const Problem& problem) {
  std::string text = problem.file;
  if (problem.line > 0) text += fmt::format(":{}", problem.line);
  if (problem.line > 0 && problem.column > 0) text += fmt::format(":{}", problem.column);
  if (!text.empty()) text += ": ";
  if (!problem.key.empty()) text += problem.key + ": ";
  if (!problem.found.empty()) text += "found " + problem.found;
  if (!problem.expected.empty()) {
    text += (problem.found.empty() ? "expected " : ", expected ") + problem.expected;
  }
  if (!problem.suggestion.empty()) text += fmt::format("; did you mean {}?", problem.suggestion);
  return text;
}

std::string_view nearest_name(std::string_view word, const std::vector<std::string_view>& names) {
  std::string_view nearest;
  std::size_t fewest = std::max<std::size_t>(2, word.size() / 3) + 1;
  for (std::string_view name : names) {
    // A long word cannot be near a short one: no need to compare them.
    const std::size_t apart =
        word.size() > name.size() ? word.size() - name.size() : name.size() - word.size();
    if (apart >= fewest) continue;
    const std::size_t edits = edits_between(word, name);
    if (edits < fewest) {
      fewest = edits;
      nearest = name;
    }
  }
  return nearest;
}

}  // namespace bushbaby
