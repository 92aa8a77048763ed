#include "toml_edit.h"

#include <algorithm>
#include <cctype>
#include <optional>

#include <fmt/format.h>

#include "toml_text.h"

namespace bushbaby::detail {
namespace {

constexpr std::size_t kNone = static_cast<std::size_t>(-1);

// A key with its value, or an element of a list in brackets that is a table in braces.
struct Entry {
  TomlPath path;
  std::size_t begin = 0;  // of the key; of an element, of its brace
  std::size_t value = 0;
  std::size_t end = 0;         // of the value
  bool braces = false;         // the value is a table in braces
  bool list = false;           // the value is a list in brackets
  std::size_t parent = kNone;  // the entry that it stands in; none if it has a line of its own
  std::size_t block = 0;
};

// A heading and what stands under it; the first block has none.
struct Block {
  TomlPath path;
  std::size_t body = 0;  // where the line behind the heading begins
};

struct Outline {
  std::vector<Block> blocks;
  std::vector<Entry> entries;
};

// Reads where things stand. The text has been parsed before: what is not TOML is not looked for.
class Scanner {
 public:
  explicit Scanner(std::string_view text)
      : text_(text), at_(text.size() - without_mark(text).size()) {
    outline_.blocks.push_back({{}, at_});
  }

  Outline scan() {
    while (true) {
      skip_between();
      if (at_ >= text_.size()) return std::move(outline_);
      if (text_[at_] == '[') {
        read_heading();
      } else {
        read_entry(outline_.blocks.back().path, kNone);
      }
    }
  }

 private:
  [[nodiscard]] char now() const { return at_ < text_.size() ? text_[at_] : '\0'; }
  [[nodiscard]] bool sees(std::string_view what) const {
    return text_.substr(at_, what.size()) == what;
  }

  void skip_blanks() {
    while (now() == ' ' || now() == '\t') ++at_;
  }

  // Blanks, line ends, commas and comments.
  void skip_between() {
    while (at_ < text_.size()) {
      if (text_[at_] == '#') {
        at_ = std::min(text_.find('\n', at_), text_.size());
      } else if (std::isspace(static_cast<unsigned char>(text_[at_])) != 0 || text_[at_] == ',') {
        ++at_;
      } else {
        return;
      }
    }
  }

  // A text in quotes, from its opening quote on.
  std::string read_quoted() {
    const char quote = now();
    const std::string three(3, quote);
    const bool lines = sees(three);
    at_ += lines ? 3 : 1;
    const std::size_t begin = at_;
    while (at_ < text_.size() && !(lines ? sees(three) : now() == quote)) {
      at_ += quote == '"' && now() == '\\' ? std::size_t{2} : std::size_t{1};
    }
    const std::size_t end = std::min(at_, text_.size());
    at_ = std::min(end + (lines ? 3 : 1), text_.size());
    // Up to two more quotes may belong to the text.
    while (lines && now() == quote) ++at_;
    return std::string(text_.substr(begin, end - begin));
  }

  TomlPath read_key() {
    TomlPath parts;
    while (true) {
      skip_blanks();
      if (now() == '"' || now() == '\'') {
        parts.push_back(read_quoted());
      } else {
        const std::size_t begin = at_;
        while (std::isalnum(static_cast<unsigned char>(now())) != 0 || now() == '_' ||
               now() == '-') {
          ++at_;
        }
        parts.emplace_back(text_.substr(begin, at_ - begin));
      }
      skip_blanks();
      if (now() != '.') return parts;
      ++at_;
    }
  }

  void read_heading() {
    const bool row = sees("[[");
    at_ += row ? 2 : 1;
    Block block;
    block.path = resolved(read_key());
    at_ = std::min(text_.find('\n', at_), text_.size() - 1) + 1;
    block.body = at_;
    if (row) block.path.push_back(std::to_string(rows_of(block.path)));
    outline_.blocks.push_back(std::move(block));
  }

  // Under a list the last row is meant: [wall.exit.x] behind [[wall.exit]].
  [[nodiscard]] TomlPath resolved(const TomlPath& path) const {
    TomlPath result;
    for (std::size_t i = 0; i < path.size(); ++i) {
      result.push_back(path[i]);
      const std::size_t rows = rows_of(result);
      if (rows > 0 && i + 1 < path.size()) result.push_back(std::to_string(rows - 1));
    }
    return result;
  }

  // How many rows under headings a list has so far.
  [[nodiscard]] std::size_t rows_of(const TomlPath& list) const {
    return static_cast<std::size_t>(
        std::count_if(outline_.blocks.begin(), outline_.blocks.end(), [&list](const Block& block) {
          return block.path.size() == list.size() + 1 &&
                 std::equal(list.begin(), list.end(), block.path.begin()) &&
                 std::isdigit(static_cast<unsigned char>(block.path.back()[0])) != 0;
        }));
  }

  void read_entry(const TomlPath& prefix, std::size_t parent) {
    Entry entry;
    entry.begin = at_;
    entry.parent = parent;
    entry.block = outline_.blocks.size() - 1;
    entry.path = prefix;
    for (std::string& part : read_key()) entry.path.push_back(std::move(part));
    if (now() == '=') ++at_;
    skip_blanks();
    read_value(std::move(entry));
  }

  void read_value(Entry entry) {
    entry.value = at_;
    entry.braces = now() == '{';
    entry.list = now() == '[';
    const std::size_t index = outline_.entries.size();
    const TomlPath path = entry.path;
    outline_.entries.push_back(std::move(entry));
    if (now() == '{') {
      read_braces(path, index);
    } else if (now() == '[') {
      read_list(path, index);
    } else if (now() == '"' || now() == '\'') {
      (void)read_quoted();
    } else {
      at_ = std::min(text_.find_first_of(",]}#\r\n", at_), text_.size());
      while (at_ > 0 && (text_[at_ - 1] == ' ' || text_[at_ - 1] == '\t')) --at_;
    }
    outline_.entries[index].end = at_;
  }

  void read_braces(const TomlPath& path, std::size_t index) {
    ++at_;
    while (true) {
      skip_between();
      if (now() == '}' || now() == '\0') break;
      const std::size_t before = at_;
      read_entry(path, index);
      if (at_ == before) ++at_;
    }
    at_ = std::min(at_ + 1, text_.size());
  }

  void read_list(const TomlPath& path, std::size_t index) {
    ++at_;
    for (std::size_t row = 0;; ++row) {
      skip_between();
      if (now() == ']' || now() == '\0') break;
      Entry element;
      element.begin = at_;
      element.parent = index;
      element.block = outline_.blocks.size() - 1;
      element.path = path;
      element.path.push_back(std::to_string(row));
      const std::size_t before = at_;
      read_value(std::move(element));
      if (at_ == before) ++at_;
    }
    at_ = std::min(at_ + 1, text_.size());
  }

  std::string_view text_;
  std::size_t at_;
  Outline outline_;
};

Outline outline_of(std::string_view text) { return Scanner(text).scan(); }

const Entry* find_entry(const Outline& outline, const TomlPath& path) {
  const auto at = std::find_if(outline.entries.begin(), outline.entries.end(),
                               [&path](const Entry& entry) { return entry.path == path; });
  return at == outline.entries.end() ? nullptr : &*at;
}

bool begins_with(const TomlPath& path, const TomlPath& prefix) {
  return path.size() >= prefix.size() && std::equal(prefix.begin(), prefix.end(), path.begin());
}

std::string_view line_end_of(std::string_view text) {
  return text.find("\r\n") == std::string_view::npos ? "\n" : "\r\n";
}

std::size_t line_start(std::string_view text, std::size_t at) {
  const std::size_t before = at == 0 ? std::string_view::npos : text.rfind('\n', at - 1);
  return before == std::string_view::npos ? text.size() - without_mark(text).size() : before + 1;
}

std::size_t next_line(std::string_view text, std::size_t at) {
  const std::size_t newline = text.find('\n', at);
  return newline == std::string_view::npos ? text.size() : newline + 1;
}

// The parts of a path behind a prefix, as a dotted key.
std::string dotted(const TomlPath& path, std::size_t from) {
  return fmt::format("{}",
                     fmt::join(path.begin() + static_cast<std::ptrdiff_t>(from), path.end(), "."));
}

// Puts a line in where one begins, indented like `like`, an entry with a line of its own.
std::string with_line(std::string text, std::size_t at, const std::string& line,
                      const Entry* like) {
  std::string indent;
  if (like != nullptr) {
    const std::size_t begin = line_start(text, like->begin);
    indent = text.substr(begin, like->begin - begin);
  }
  const std::string end(line_end_of(text));
  const bool needs_break = at > 0 && text[at - 1] != '\n' && at == text.size();
  return text.insert(at, (needs_break ? end : "") + indent + line + end);
}

// Puts an entry or an element behind the last of a table in braces or a list in brackets.
std::string with_member(std::string text, const Outline& outline, std::size_t owner,
                        const std::string& member) {
  const Entry* last = nullptr;
  for (const Entry& entry : outline.entries) {
    if (entry.parent == owner) last = &entry;
  }
  if (last != nullptr) return text.insert(last->end, ", " + member);
  const Entry& table = outline.entries[owner];
  const std::size_t inside = table.value + 1;
  const std::string spaced = table.braces ? " " + member + " " : member;
  return text.replace(inside, table.end - 1 - inside, spaced);
}

// The last entry with a line of its own that `belongs` to what is looked for.
template <class Belongs>
const Entry* last_line(const Outline& outline, const Belongs& belongs) {
  const Entry* last = nullptr;
  for (const Entry& entry : outline.entries) {
    if (entry.parent == kNone && belongs(entry)) last = &entry;
  }
  return last;
}

// The text with a new key in the table `path[0, depth)`, if that table is written anywhere.
std::optional<std::string> put_into_table(const std::string& text, const Outline& outline,
                                          const TomlPath& path, std::size_t depth,
                                          const std::string& value) {
  const TomlPath table(path.begin(), path.begin() + static_cast<std::ptrdiff_t>(depth));
  const std::string entry = fmt::format("{} = {}", dotted(path, depth), value);
  for (std::size_t i = 0; i < outline.entries.size(); ++i) {
    const Entry& owner = outline.entries[i];
    if (owner.braces && owner.path == table) return with_member(text, outline, i, entry);
  }
  for (std::size_t i = 0; i < outline.blocks.size(); ++i) {
    if (outline.blocks[i].path != table || (i == 0 && path.size() > 1)) continue;
    const Entry* last = last_line(outline, [i](const Entry& e) { return e.block == i; });
    const std::size_t at = last == nullptr ? outline.blocks[i].body : next_line(text, last->end);
    return with_line(text, at, entry, last);
  }
  if (depth == 0) return std::nullopt;
  // Written with dotted keys, in this block or one that holds it.
  const Entry* last = last_line(outline, [&](const Entry& e) {
    return begins_with(e.path, table) && outline.blocks[e.block].path.size() < depth;
  });
  if (last == nullptr) return std::nullopt;
  const std::size_t home = outline.blocks[last->block].path.size();
  return with_line(text, next_line(text, last->end),
                   fmt::format("{} = {}", dotted(path, home), value), last);
}

}  // namespace

TomlPath path_of(std::string_view dotted_key) {
  TomlPath path;
  while (true) {
    const std::size_t dot = std::min(dotted_key.find('.'), dotted_key.size());
    path.emplace_back(dotted_key.substr(0, dot));
    if (dot == dotted_key.size()) return path;
    dotted_key.remove_prefix(dot + 1);
  }
}

std::string with_value(std::string text, const TomlPath& path, const std::string& value) {
  const Outline outline = outline_of(text);
  if (const Entry* entry = find_entry(outline, path)) {
    return text.replace(entry->value, entry->end - entry->value, value);
  }
  for (std::size_t depth = path.size(); depth-- > 0;) {
    if (auto done = put_into_table(text, outline, path, depth, value)) return std::move(*done);
  }
  const std::string end(line_end_of(text));
  if (!text.empty() && text.back() != '\n') text += end;
  return text + fmt::format("{0}[{1}]{0}{2} = {3}{0}", end, path[0], dotted(path, 1), value);
}

std::string without_key(std::string text, const TomlPath& path) {
  const Outline outline = outline_of(text);
  const Entry* entry = find_entry(outline, path);
  if (entry == nullptr) return text;
  if (entry->parent == kNone) {
    const std::size_t begin = line_start(text, entry->begin);
    const std::size_t end = next_line(text, entry->end);
    // What somebody wrote beside it stays.
    const std::size_t comment = text.find('#', entry->end);
    if (comment < end) return text.erase(entry->begin, comment - entry->begin);
    return text.erase(begin, end - begin);
  }
  const Entry* before = nullptr;
  const Entry* after = nullptr;
  for (const Entry& other : outline.entries) {
    if (other.parent != entry->parent || &other == entry) continue;
    if (other.begin < entry->begin) before = &other;
    if (other.begin > entry->begin && after == nullptr) after = &other;
  }
  if (after != nullptr) return text.erase(entry->begin, after->begin - entry->begin);
  const std::size_t begin = before == nullptr ? entry->begin : before->end;
  return text.erase(begin, entry->end - begin);
}

std::string with_row(std::string text, const TomlPath& list,
                     const std::vector<std::pair<std::string, std::string>>& row) {
  const Outline outline = outline_of(text);
  for (std::size_t i = 0; i < outline.entries.size(); ++i) {
    if (!outline.entries[i].list || outline.entries[i].path != list) continue;
    std::vector<std::string> members;
    members.reserve(row.size());
    for (const auto& [key, value] : row) members.push_back(fmt::format("{} = {}", key, value));
    return with_member(std::move(text), outline, i,
                       fmt::format("{{ {} }}", fmt::join(members, ", ")));
  }
  const std::string end(line_end_of(text));
  if (!text.empty() && text.back() != '\n') text += end;
  text += fmt::format("{0}[[{1}]]{0}", end, dotted(list, 0));
  for (const auto& [key, value] : row) text += fmt::format("{} = {}{}", key, value, end);
  return text;
}

}  // namespace bushbaby::detail
