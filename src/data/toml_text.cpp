#include "toml_text.h"

#include <algorithm>
#include <cctype>
#include <sstream>

#include <fmt/format.h>

#include "bushbaby/data/names.h"
#include "bushbaby/data/quantities.h"

namespace bushbaby::detail {

TextMap::TextMap(std::string_view text)
    : text_(text), line_starts_{text.size() - without_mark(text).size()} {
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (text[i] == '\n') line_starts_.push_back(i + 1);
  }
}

std::size_t TextMap::offset_of(const toml::source_position& position) const {
  if (position.line == 0 || position.line > line_starts_.size()) return text_.size();
  std::size_t at = line_starts_[position.line - 1];
  for (std::uint32_t column = 1; column < position.column && at < text_.size(); ++column) {
    ++at;
    while (at < text_.size() && (static_cast<unsigned char>(text_[at]) & 0xC0U) == 0x80U) ++at;
  }
  return at;
}

TextSpan TextMap::span_of(const toml::source_region& region) const {
  return {offset_of(region.begin), offset_of(region.end), static_cast<int>(region.begin.line),
          static_cast<int>(region.begin.column)};
}

namespace {

struct Wording {
  std::string found;
  std::string expected;
};

// What follows a marker in a text, if it holds the marker.
std::optional<std::string_view> after(std::string_view text, std::string_view marker) {
  const std::size_t at = text.find(marker);
  if (at == std::string_view::npos) return std::nullopt;
  return text.substr(at + marker.size());
}

// What the TOML library expected, in the words of this program.
std::string expected_text(std::string_view theirs) {
  constexpr std::pair<std::string_view, std::string_view> kWords[] = {
      {"a comment or whitespace", "the end of the line"},
      {"keys, tables, whitespace or comments", "a key, a heading in brackets or a comment"},
      {"key-value pair", "key = value"}};
  for (const auto& [word, ours] : kWords) {
    if (theirs == word) return std::string(ours);
  }
  return std::string(theirs);
}

// A message of the TOML library, in the form of this program's problems.
Wording reworded(std::string_view message) {
  constexpr std::string_view kValues = "a number, a text in quotes, true, false, a list or a table";
  const auto what_begin = after(message, "Error while parsing ");
  const std::string_view what =
      what_begin ? what_begin->substr(0, what_begin->find(':')) : std::string_view{};
  if (what_begin) message = what_begin->substr(std::min(what.size() + 2, what_begin->size()));

  if (after(message, "end-of-file")) {
    return {"the end of the file", fmt::format("the rest of the {}", expected_text(what))};
  }
  if (const auto name = after(message, "cannot redefine existing ")) {
    const std::size_t quote = std::min(name->find('\''), name->size());
    const std::string_view rest = name->substr(std::min(quote + 1, name->size()));
    return {fmt::format("{} for the second time", rest.substr(0, rest.find('\''))),
            "every key and heading once"};
  }
  if (after(message, "determine value type") || after(message, "expected value") ||
      what == "boolean" || after(message, "expected 'nan'") || after(message, "expected 'inf'")) {
    return {"no value that TOML knows", std::string(kValues)};
  }
  if (after(message, "utf-8")) return {"bytes that are not UTF-8", "a text in UTF-8"};
  if (after(message, "leading zeroes")) {
    return {"a number with zeros in front", "a number without them"};
  }
  if (after(message, "control character")) {
    return {"a control character or the end of the line",
            "plain text, with a closing quote on the line of the opening one"};
  }
  if (const auto escape = after(message, "unknown escape sequence ")) {
    return {std::string(*escape), "a text without backslashes, or in single quotes"};
  }
  if (const auto expected = after(message, "expected ")) {
    const std::size_t comma = expected->rfind(", saw ");
    if (comma != std::string_view::npos) {
      const std::string_view saw = expected->substr(comma + 6);
      return {saw == "'\\n'" ? "the end of the line" : std::string(saw),
              expected_text(expected->substr(0, comma))};
    }
  }
  return {"text that TOML does not allow", fmt::format("TOML ({})", message)};
}

// The parser goes as deep as a key has parts, and the deepest of ours has 3.
constexpr int kMostKeyParts = 16;

// The first line with a longer chain of names joined by dots; 0 if there is none. Such a chain in
// quotes counts too: to distinguish them would take a parser of its own.
int line_of_deep_key(std::string_view text) {
  const auto in_name = [](char c) {
    return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_' || c == '-' || c == '"' ||
           c == '\'';
  };
  int line = 1;
  int parts = 0;
  bool after_dot = false;  // the next name goes on with the chain
  bool in_part = false;
  for (const char c : text) {
    if (in_name(c)) {
      if (!in_part) parts = after_dot ? parts + 1 : 1;
      in_part = true;
      after_dot = false;
      if (parts > kMostKeyParts) return line;
    } else if (c == '.') {
      after_dot = true;
      in_part = false;
    } else {
      in_part = false;
      if (c != ' ' && c != '\t') after_dot = false;
      if (c == '\n') ++line;
    }
  }
  return 0;
}

}  // namespace

std::string_view without_mark(std::string_view text) {
  constexpr std::string_view kMark = "\xEF\xBB\xBF";
  if (text.substr(0, kMark.size()) == kMark) text.remove_prefix(kMark.size());
  return text;
}

Result<toml::table> parse_toml(std::string_view text, const std::string& path,
                               std::string_view format) {
  const auto fail = [&path](int line, int column, Wording words) {
    return tl::unexpected(
        std::vector<Problem>{{ProblemCode::bad_syntax, path, line, column, "",
                              std::move(words.found), std::move(words.expected), ""}});
  };
  const bool ours = text.find("\"bushbaby-") != std::string_view::npos;
  if (const int line = line_of_deep_key(text); line > 0) {
    return fail(line, 0,
                {"a key of more than " + std::to_string(kMostKeyParts) + " parts",
                 "the keys of this program's files"});
  }
  const auto fail_at = [&](const toml::parse_error& error) {
    const auto& at = error.source().begin;
    return fail(static_cast<int>(at.line), static_cast<int>(at.column),
                ours ? reworded(error.description())
                     : Wording{"a text without a heading of this program's files",
                               fmt::format("format = \"{}\"", format)});
  };
#if TOML_EXCEPTIONS
  try {
    return toml::parse(text, path);
  } catch (const toml::parse_error& error) {
    return fail_at(error);
  }
#else
  toml::parse_result parsed = toml::parse(text, path);
  if (!parsed) return fail_at(parsed.error());
  return std::move(parsed).table();
#endif
}

void ProblemList::add(ProblemCode code, const toml::source_region& where, std::string key,
                      std::string found, std::string expected, std::string suggestion) {
  problems_.push_back({code, path_, static_cast<int>(where.begin.line),
                       static_cast<int>(where.begin.column), std::move(key), std::move(found),
                       std::move(expected), std::move(suggestion)});
}

void ProblemList::unknown(const toml::key& key, const std::string& full_name,
                          const std::vector<std::string_view>& names) {
  // Where there is nothing like it, a short list says what there is.
  constexpr std::size_t kMostListed = 24;
  std::string near(nearest_name(full_name, names));
  std::string expected;
  if (near.empty() && names.size() <= kMostListed)
    expected = fmt::format("one of {}", fmt::join(names, ", "));
  add(ProblemCode::unknown_name, key.source(), "", fmt::format("unknown key {}", shown(full_name)),
      std::move(expected), std::move(near));
}

void check_format(const toml::table& table, std::string_view expected, ProblemList& problems) {
  const std::string expected_line = fmt::format("format = \"{}\"", expected);
  const toml::node* node = table.get("format");
  if (node == nullptr) {
    problems.add(ProblemCode::wrong_format, {{1, 1}, {1, 1}, {}}, "", "no format line",
                 expected_line);
    return;
  }
  const auto text = node->value<std::string>();
  if (text == expected) return;
  const std::string_view kind = expected.substr(0, expected.find('/') + 1);
  const std::string_view given = text ? std::string_view(*text) : std::string_view{};
  if (given.substr(0, kind.size()) == kind) {
    problems.add(ProblemCode::newer_format, node->source(), "format", shown(*node),
                 fmt::format("\"{}\", the only version this program reads", expected));
  } else {
    const bool ours = given.substr(0, 9) == "bushbaby-";
    problems.add(ProblemCode::wrong_format, node->source(), "format",
                 ours ? shown(*node) : "that of another program", fmt::format("\"{}\"", expected));
  }
}

void read_convention(const toml::table& root, Convention& convention, ProblemList& problems) {
  const toml::node* node = root.get("convention");
  if (node == nullptr) return;
  const toml::table* table = node->as_table();
  if (table == nullptr) {
    problems.add(ProblemCode::wrong_type, node->source(), "convention", shown(*node), "a table");
    return;
  }
  static const std::vector<std::string_view> keys{"convention.one_unit", "convention.vertical",
                                                  "convention.time"};
  for (const auto& [key, value] : *table) {
    const std::string name = "convention." + std::string(key.str());
    if (std::find(keys.begin(), keys.end(), name) == keys.end()) {
      problems.unknown(key, name, keys);
      continue;
    }
    const std::string text = value.value_exact<std::string>().value_or("");
    const std::string expected = set_convention(convention, key.str(), text);
    if (expected.empty()) continue;
    problems.add(ProblemCode::out_of_range, value.source(), name, shown(value), expected);
  }
}

std::string shown(std::string_view text) {
  std::string result = shortened(text);
  for (char& c : result) {
    if (std::iscntrl(static_cast<unsigned char>(c)) != 0) c = '?';
  }
  return result;
}

std::string shown(const toml::node& node) {
  if (node.is_table()) return "a table";
  if (node.is_array()) return "a list";
  if (const auto text = node.value_exact<std::string>()) return '"' + shown(*text) + '"';
  if (const auto flag = node.value_exact<bool>()) return *flag ? "true" : "false";
  if (const auto integer = node.value_exact<std::int64_t>()) return fmt::format("{}", *integer);
  if (const auto number = node.value_exact<double>()) return fmt::format("{}", *number);
  return "a date or time";
}

std::string toml_text_of(const KnobValue& value) {
  const auto* text = std::get_if<std::string>(&value);
  if (text == nullptr) return describe(value);
  // Plain words in double quotes, as people write them; anything else as the library thinks best.
  const bool plain = std::all_of(text->begin(), text->end(), [](char c) {
    return c >= ' ' && c <= '~' && c != '"' && c != '\\';
  });
  if (plain) return '"' + *text + '"';
  std::ostringstream out;
  out << toml::value<std::string>(*text);
  return out.str();
}

std::optional<double> number_in(const toml::node& node) {
  if (const auto integer = node.value_exact<std::int64_t>()) return static_cast<double>(*integer);
  return node.value_exact<double>();
}

std::optional<double> quantity_in(const toml::node& node, Dimension dimension, const Units& units) {
  if (const auto number = number_in(node)) return number;
  const auto text = node.value_exact<std::string>();
  // A bare number in quotes is no number.
  if (!text || parse_number(*text)) return std::nullopt;
  const auto meant = parse_quantity(*text, dimension, units);
  if (!meant) return std::nullopt;
  return units.shown(dimension, *meant);
}

}  // namespace bushbaby::detail
