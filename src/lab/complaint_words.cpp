// From somebody's words to a complaint: a text is cut into stems, and the longest phrase of the
// table that covers them says what it is about; "not", "more", "less" and the like say which way.
#include <algorithm>
#include <array>
#include <cctype>
#include <map>
#include <optional>
#include <set>
#include <string>

#include "bushbaby/lab/complaints.h"

namespace bushbaby {
namespace {

// People write a sentence; whoever writes more means something else.
constexpr std::size_t kMostWords = 24;

template <std::size_t N>
bool is_one_of(std::string_view word, const std::array<std::string_view, N>& words) {
  return std::find(words.begin(), words.end(), word) != words.end();
}

// The words of a text in lower case; "doesn't" is "doesnt".
std::vector<std::string> words_of(std::string_view text) {
  std::vector<std::string> words;
  bool within = false;
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    constexpr unsigned char kAscii = 0x80;
    if (c == '\'' || byte >= kAscii) continue;  // an apostrophe of either kind
    if (std::isalnum(byte) == 0) {
      within = false;
      continue;
    }
    if (!within) {
      if (words.size() == kMostWords) return {};
      words.emplace_back();
    }
    within = true;
    words.back() += static_cast<char>(std::tolower(byte));
  }
  return words;
}

bool cut_end(std::string& word, std::string_view ending, std::size_t least) {
  if (word.size() < ending.size() + least) return false;
  if (word.compare(word.size() - ending.size(), ending.size(), ending) != 0) return false;
  word.erase(word.size() - ending.size());
  return true;
}

// The same for all forms of a word, and mostly for no others: "sliding", "slides" and "slide".
std::string stem_of(std::string word) {
  static const std::map<std::string, std::string, std::less<>> irregular{
      {"stuck", "stick"}, {"ate", "eat"},          {"eaten", "eat"},    {"fell", "fal"},
      {"fallen", "fal"},  {"slid", "slid"},        {"ran", "run"},      {"hung", "hang"},
      {"lost", "los"},    {"swallowed", "swalow"}, {"thrown", "throw"}, {"further", "far"},
      {"farther", "far"}, {"quicker", "quick"},    {"swum", "swim"},    {"heights", "heights"}};
  if (const auto found = irregular.find(word); found != irregular.end()) return found->second;
  constexpr std::size_t kLeast = 3;
  if (cut_end(word, "ies", kLeast)) {
    word += 'y';
  } else if (!cut_end(word, "ing", kLeast) && !cut_end(word, "ed", kLeast) &&
             !cut_end(word, "ly", kLeast)) {
    const bool plural = word.size() > 3 && word.back() == 's' && word[word.size() - 2] != 's' &&
                        word[word.size() - 2] != 'u' && word[word.size() - 2] != 'i';
    if (plural) word.pop_back();
    cut_end(word, "ly", kLeast);
  }
  cut_end(word, "e", kLeast - 1);
  const std::size_t size = word.size();
  if (size > 2 && word[size - 1] == word[size - 2]) word.pop_back();
  return word;
}

// Words that say nothing about what is meant.
bool is_filler(std::string_view word) {
  static constexpr std::array<std::string_view, 73> kFillers{
      "it",        "its",    "he",        "she",     "they", "the",   "a",      "an",    "my",
      "our",       "his",    "her",       "their",   "is",   "are",   "am",     "be",    "was",
      "were",      "feel",   "feels",     "feeling", "felt", "seem",  "seems",  "look",  "looks",
      "i",         "you",    "we",        "me",      "of",   "in",    "at",     "on",    "to",
      "from",      "for",    "with",      "by",      "when", "while", "after",  "as",    "so",
      "very",      "really", "quite",     "bit",     "way",  "kind",  "rather", "like",  "that",
      "this",      "there",  "character", "player",  "and",  "or",    "just",   "still", "always",
      "sometimes", "please", "does",      "do",      "gets", "get",   "have",   "has",   "am",
      "also"};
  return is_one_of(word, kFillers);
}

// What may be said along with any complaint.
bool is_light(std::string_view stem) {
  static constexpr std::array<std::string_view, 8> kLight{
      "jump", "jumper", "run", "mov", "movement", "up", "whol", "everything"};
  return is_one_of(stem, kLight);
}

enum class Way { open, lack, surplus };

Way opposite_of(Way way) {
  if (way == Way::open) return way;
  return way == Way::lack ? Way::surplus : Way::lack;
}

// What was said, apart from the words that only give a direction.
struct Saying {
  std::set<std::string> stems;
  bool negated = false;  // "not", "doesn't"
  bool too = false;
  bool more = false;  // "more", "should be", "higher"
  bool less = false;
  bool little = false;  // "too little", "hardly"
};

bool take_direction(Saying& said, std::string_view word) {
  static constexpr std::array<std::string_view, 24> kNot{
      "not",     "no",      "non",     "cannot",  "cant",  "dont",    "doesnt",       "isnt",
      "arent",   "wont",    "never",   "without", "wasnt", "didnt",   "lack",         "lacks",
      "lacking", "missing", "wouldnt", "couldnt", "fails", "refuses", "insufficient", "aint"};
  static constexpr std::array<std::string_view, 10> kMore{
      "more", "should", "could", "want", "wants", "need", "needs", "increase", "raise", "extra"};
  static constexpr std::array<std::string_view, 5> kLess{"less", "fewer", "reduce", "shouldnt",
                                                         "decrease"};
  static constexpr std::array<std::string_view, 6> kLittle{"little", "few",      "hardly",
                                                           "barely", "scarcely", "poor"};
  static constexpr std::array<std::string_view, 4> kToo{"too", "much", "many", "excessive"};
  if (word == "enough") return true;
  if (is_one_of(word, kNot)) return said.negated = true;
  if (is_one_of(word, kMore)) return said.more = true;
  if (is_one_of(word, kLess)) return said.less = true;
  if (is_one_of(word, kLittle)) return said.little = true;
  if (is_one_of(word, kToo)) return said.too = true;
  return false;
}

// How much of something there is: "too weak", "too long".
Way amount_of(std::string_view stem) {
  static constexpr std::array<std::string_view, 11> kSmall{
      "weak", "low", "smal", "short", "tiny", "bad", "useles", "slow", "strict", "narow", "tight"};
  static constexpr std::array<std::string_view, 12> kBig{"strong", "high",     "big",   "long",
                                                         "larg",   "generous", "far",   "powerful",
                                                         "fast",   "huge",     "great", "forgiv"};
  if (is_one_of(stem, kSmall)) return Way::lack;
  return is_one_of(stem, kBig) ? Way::surplus : Way::open;
}

struct Wording {
  std::set<std::string> stems;
  const Complaint* complaint = nullptr;
  bool lacks = false;
};

std::set<std::string> stems_of_phrase(std::string_view phrase) {
  std::set<std::string> stems;
  for (const std::string& word : words_of(phrase)) {
    if (!is_filler(word) && word != "too") stems.insert(stem_of(word));
  }
  return stems;
}

struct Vocabulary {
  std::vector<Wording> phrases;
  std::set<std::string> stems;
};

Vocabulary make_vocabulary() {
  Vocabulary all;
  for (const Complaint& complaint : complaints()) {
    all.phrases.push_back({stems_of_phrase(complaint.word), &complaint, false});
    for (const auto text : complaint.has)
      all.phrases.push_back({stems_of_phrase(text), &complaint, false});
    for (const auto text : complaint.lacks)
      all.phrases.push_back({stems_of_phrase(text), &complaint, true});
  }
  for (const Wording& phrase : all.phrases)
    all.stems.insert(phrase.stems.begin(), phrase.stems.end());
  return all;
}

const Vocabulary& vocabulary() {
  static const Vocabulary all = make_vocabulary();
  return all;
}

// "higher" is more of "high", if "high" is known: its stem.
std::optional<std::string> compared(std::string word) {
  if (vocabulary().stems.count(stem_of(word)) > 0 || !cut_end(word, "er", 2)) return std::nullopt;
  if (word.back() == 'i') word.back() = 'y';
  std::string stem = stem_of(word);
  if (vocabulary().stems.count(stem) > 0) return stem;
  return std::nullopt;
}

Saying hear(std::string_view text) {
  Saying said;
  for (const std::string& word : words_of(text)) {
    if (take_direction(said, word) || is_filler(word)) continue;
    if (auto stem = compared(word)) {
      said.more = true;
      said.stems.insert(std::move(*stem));
    } else {
      said.stems.insert(stem_of(word));
    }
  }
  return said;
}

// Which way a saying goes, whose phrase is about something of which there is a lot.
Way way_of_surplus(const Saying& said) {
  Way way = said.more || said.little ? Way::lack : Way::surplus;
  if (said.less) way = Way::surplus;
  return said.negated ? opposite_of(way) : way;
}

// The same of a phrase about something that may be missing; words outside it may say how much.
Way way_of_lack(const Saying& said, Way amount) {
  Way way = amount;
  if (said.more) way = opposite_of(amount);  // "longer" coyote time
  if (way == Way::open && said.too) way = Way::surplus;
  if (said.more && way == Way::open) way = Way::lack;
  if (said.little) way = Way::lack;
  if (said.less) way = Way::surplus;
  if (said.negated) way = way == Way::open ? Way::lack : opposite_of(way);
  return way;
}

// The complaint that a phrase makes of a saying; null if the phrase is not what is meant.
const Complaint* meant(const Wording& phrase, const Saying& said) {
  if (phrase.stems.empty()) return nullptr;
  if (!std::includes(said.stems.begin(), said.stems.end(), phrase.stems.begin(),
                     phrase.stems.end())) {
    return nullptr;
  }
  Way amount = Way::open;
  for (const std::string& stem : said.stems) {
    if (phrase.stems.count(stem) > 0 || is_light(stem)) continue;
    const Way way = amount_of(stem);
    if (!phrase.lacks && stem == "long") continue;  // "hangs too long"
    if (!phrase.lacks || way == Way::open) return nullptr;
    amount = way;
  }
  const Way way = phrase.lacks ? way_of_lack(said, amount) : way_of_surplus(said);
  if (way == Way::open) return nullptr;
  if ((way == Way::lack) == phrase.lacks) return phrase.complaint;
  return find_complaint(phrase.complaint->opposite);
}

// How many stems a complaint shares with what was said.
std::size_t shared_with(const Complaint& complaint, const Saying& said) {
  std::set<std::string> stems = stems_of_phrase(complaint.says);
  for (const Wording& phrase : vocabulary().phrases) {
    if (phrase.complaint == &complaint) stems.insert(phrase.stems.begin(), phrase.stems.end());
  }
  return static_cast<std::size_t>(
      std::count_if(said.stems.begin(), said.stems.end(),
                    [&stems](const std::string& stem) { return stems.count(stem) > 0; }));
}

std::vector<const Complaint*> near_to(const Saying& said) {
  constexpr std::size_t kMost = 3;
  std::vector<std::pair<std::size_t, const Complaint*>> ranked;
  for (const Complaint& complaint : complaints()) {
    const std::size_t shared = shared_with(complaint, said);
    if (shared > 0) ranked.emplace_back(shared, &complaint);
  }
  std::stable_sort(ranked.begin(), ranked.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<const Complaint*> near;
  for (const auto& [shared, complaint] : ranked) {
    if (near.size() < kMost) near.push_back(complaint);
  }
  return near;
}

}  // namespace

ComplaintReading read_complaint(std::string_view text) {
  const Saying said = hear(text);
  const Complaint* best = nullptr;
  std::size_t most = 0;
  for (const Wording& phrase : vocabulary().phrases) {
    // "no small jumps" misses something; "too small jumps" has it.
    const bool ties = phrase.stems.size() == most && phrase.lacks && (said.negated || said.little);
    if (phrase.stems.size() <= most && !ties) continue;
    if (const Complaint* complaint = meant(phrase, said)) {
      best = complaint;
      most = phrase.stems.size();
    }
  }
  if (best != nullptr) return {best, {}};
  return {nullptr, near_to(said)};
}

}  // namespace bushbaby
