#include "bushbaby/data/problem.h"

#include <algorithm>
#include <numeric>

#include <fmt/format.h>

#include "bushbaby/data/names.h"

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

// The words of a name, which dots, dashes, underscores and blanks part.
std::vector<std::string_view> words_of(std::string_view name) {
  constexpr std::string_view kBetween = ".-_ ";
  std::vector<std::string_view> words;
  std::size_t at = 0;
  while ((at = name.find_first_not_of(kBetween, at)) != std::string_view::npos) {
    const std::size_t end = std::min(name.find_first_of(kBetween, at), name.size());
    words.push_back(name.substr(at, end - at));
    at = end;
  }
  return words;
}

// Whether two words mean the same stem: equal, or one begins with the other.
bool are_kin(std::string_view a, std::string_view b) {
  constexpr std::size_t kStem = 4;
  const std::size_t shorter = std::min(a.size(), b.size());
  return a == b || (shorter >= kStem && a.substr(0, shorter) == b.substr(0, shorter));
}

// Of names that share words with this one, the one that shares most and adds least; nothing if
// none does, or too many alike, so that none of them is meant more than another.
std::string_view kin_of(std::string_view word, const std::vector<std::string_view>& names) {
  const std::vector<std::string_view> meant = words_of(word);
  constexpr std::size_t kMostAlike = 3;
  std::string_view best;
  std::size_t most_shared = 0;
  std::size_t fewest_other = 0;
  std::size_t alike = 0;
  for (std::string_view name : names) {
    const std::vector<std::string_view> words = words_of(name);
    const auto is_meant = [&meant](std::string_view a) {
      return std::any_of(meant.begin(), meant.end(),
                         [a](std::string_view b) { return are_kin(a, b); });
    };
    const auto shared =
        static_cast<std::size_t>(std::count_if(words.begin(), words.end(), is_meant));
    const std::size_t other = words.size() - shared;
    if (shared == 0 || shared < most_shared) continue;
    if (shared > most_shared || other < fewest_other) {
      best = name;
      most_shared = shared;
      fewest_other = other;
      alike = 0;
    }
    if (other == fewest_other) ++alike;
  }
  return alike > kMostAlike ? std::string_view{} : best;
}

// A text of ours in which names stand, between quotation marks or as words: each of them shortened.
std::string with_names_shortened(std::string_view text) {
  std::string result;
  bool quoted = false;
  while (!text.empty()) {
    const std::string_view ends = quoted ? "\"" : "\" ,;";
    const std::size_t end = std::min(text.find_first_of(ends), text.size());
    result += shortened(text.substr(0, end));
    text.remove_prefix(end);
    if (text.empty()) break;
    quoted = quoted != (text.front() == '"');
    result += text.front();
    text.remove_prefix(1);
  }
  return result;
}

}  // namespace

std::string describe(const Problem& problem) {
  constexpr std::size_t kLongestPath = 250;
  std::string text = shortened(problem.file, kLongestPath);
  if (problem.line > 0) text += fmt::format(":{}", problem.line);
  if (problem.line > 0 && problem.column > 0) text += fmt::format(":{}", problem.column);
  if (!text.empty()) text += ": ";
  std::string said;
  if (!problem.key.empty()) said += problem.key;
  if (!problem.key.empty() && !(problem.found.empty() && problem.expected.empty())) said += ": ";
  if (!problem.found.empty()) said += "found " + problem.found;
  if (!problem.expected.empty()) {
    said += (problem.found.empty() ? "expected " : ", expected ") + problem.expected;
  }
  if (!problem.suggestion.empty()) said += fmt::format("; did you mean {}?", problem.suggestion);
  return text + with_names_shortened(said);
}

std::string_view nearest_name(std::string_view word, const std::vector<std::string_view>& names) {
  // What is right as it stands is in the wrong place: its own name would be no help.
  if (std::find(names.begin(), names.end(), word) != names.end()) return {};
  std::string_view nearest;
  std::size_t fewest = std::max<std::size_t>(1, (word.size() + 1) / 3) + 1;
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
  return nearest.empty() ? kin_of(word, names) : nearest;
}

}  // namespace bushbaby
