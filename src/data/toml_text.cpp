#include "toml_text.h"

#include <algorithm>
#include <cctype>
#include <sstream>

#include <fmt/format.h>

namespace bushbaby::detail {

TextMap::TextMap(std::string_view text) : text_(text), line_starts_{0} {
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

Result<toml::table> parse_toml(std::string_view text, const std::string& path) {
  const auto fail = [&path](int line, int column, std::string found) {
    Problem problem{ProblemCode::bad_syntax, path, line, column, "", std::move(found), "TOML", ""};
    return tl::unexpected(std::vector<Problem>{std::move(problem)});
  };
  try {
    return toml::parse(text, path);
  } catch (const toml::parse_error& error) {
    const auto& at = error.source().begin;
    return fail(static_cast<int>(at.line), static_cast<int>(at.column),
                shown(std::string_view(error.description())));
  }
}

void ProblemList::add(ProblemCode code, const toml::source_region& where, std::string key,
                      std::string found, std::string expected, std::string suggestion) {
  problems_.push_back({code, path_, static_cast<int>(where.begin.line),
                       static_cast<int>(where.begin.column), std::move(key), std::move(found),
                       std::move(expected), std::move(suggestion)});
}

void ProblemList::unknown(const toml::key& key, const std::string& full_name,
                          const std::vector<std::string_view>& names) {
  add(ProblemCode::unknown_name, key.source(), "", fmt::format("unknown key {}", shown(full_name)),
      "", std::string(nearest_name(full_name, names)));
}

void check_format(const toml::table& table, std::string_view expected, ProblemList& problems) {
  const std::string wanted = fmt::format("format = \"{}\"", expected);
  const toml::node* node = table.get("format");
  if (node == nullptr) {
    problems.add(ProblemCode::wrong_format, {{1, 1}, {1, 1}, {}}, "", "no format line", wanted);
    return;
  }
  const auto text = node->value<std::string>();
  if (text == expected) return;
  const std::string_view kind = expected.substr(0, expected.find('/') + 1);
  if (text && text->substr(0, kind.size()) == kind) {
    problems.add(ProblemCode::newer_format, node->source(), "format", shown(*node),
                 fmt::format("\"{}\", the only version this program reads", expected));
  } else {
    problems.add(ProblemCode::wrong_format, node->source(), "format", shown(*node),
                 fmt::format("\"{}\"", expected));
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
  constexpr std::size_t kLongest = 60;
  std::string result;
  for (const char c : text.substr(0, kLongest)) {
    result += std::iscntrl(static_cast<unsigned char>(c)) != 0 ? '?' : c;
  }
  if (text.size() > kLongest) {
    // Do not cut a multi-byte character in two.
    while (!result.empty() && (static_cast<unsigned char>(result.back()) & 0x80U) != 0) {
      result.pop_back();
    }
    result += "...";
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

}  // namespace bushbaby::detail
