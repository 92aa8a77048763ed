// Exports read back, whatever their form.
#include <algorithm>
#include <cmath>
#include <map>

#include <fmt/format.h>

#include "bushbaby/core/tuning/knobs.h"
#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"
#include "bushbaby/data/tuning_file.h"

#include "csv_rows.h"
#include "data/toml_text.h"
#include "export_rows.h"
#include "export_text.h"

namespace bushbaby {
namespace detail {

TextPlace TextPlaces::at(std::size_t offset) noexcept {
  for (; looked_at_ < std::min(offset, text_.size()); ++looked_at_) {
    const auto byte = static_cast<unsigned char>(text_[looked_at_]);
    if (byte == '\n') {
      ++place_.line;
      place_.column = 1;
    } else if ((byte & 0xC0U) != 0x80U) {  // the first of a character in UTF-8
      ++place_.column;
    }
  }
  return place_;
}

tl::unexpected<std::vector<Problem>> no_export(const std::string& path) {
  return tl::unexpected(std::vector<Problem>{
      {ProblemCode::wrong_format, path, 1, 1, "", "no export",
       fmt::format("a table that export wrote, with \"{}\" in it", kExportFormat), ""}});
}

Problem wrong_row(const std::string& path, TextPlace at, std::string key, std::string found,
                  std::string expected) {
  return {ProblemCode::bad_syntax, path, at.line, at.column, std::move(key), std::move(found),
          std::move(expected),     ""};
}

}  // namespace detail

namespace {

using detail::kHalfTurn;
using detail::kPi;
using detail::no_export;
using detail::ReadRow;
using detail::TextPlace;
using detail::wrong_row;

// What stands in brackets behind a key in a remark: "jump.height [px]".
std::string unit_in_remark(std::string_view remark) {
  const std::size_t open = remark.find('[');
  const std::size_t close = remark.find(']');
  if (open == std::string_view::npos || close == std::string_view::npos || close < open) return {};
  return std::string(remark.substr(open + 1, close - open - 1));
}

std::vector<std::string> lines_of(std::string_view text) {
  std::vector<std::string> lines;
  while (!text.empty()) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    lines.emplace_back(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  return lines;
}

TextPlace place_of(const toml::source_region& region) {
  return {static_cast<int>(region.begin.line), static_cast<int>(region.begin.column)};
}

Result<std::vector<ReadRow>> rows_of_toml(std::string_view text, const std::string& path,
                                          std::vector<Problem>& problems) {
  const auto parsed = detail::parse_toml(text, path, kExportFormat);
  if (!parsed) {
    const bool ours = text.find(kExportFormat) != std::string_view::npos;
    return ours ? tl::unexpected(parsed.error()) : no_export(path);
  }
  const toml::table& table = *parsed;
  if (table["format"].value<std::string>() != std::string(kExportFormat)) return no_export(path);
  const std::vector<std::string> lines = lines_of(text);
  std::vector<ReadRow> rows;
  const auto add = [&](const char* section, const std::string& before) {
    const toml::table* part = table[section].as_table();
    if (part == nullptr && table.contains(section)) {
      const toml::node& node = *table.get(section);
      problems.push_back(wrong_row(path, place_of(node.source()), section, detail::shown(node),
                                   fmt::format("[{}]", section)));
    }
    if (part == nullptr) return;
    std::vector<ReadRow> found;
    for (const auto& [key, node] : *part) {
      const TextPlace at = place_of(node.source());
      std::string value;
      if (const auto word = node.value_exact<std::string>()) {
        value = *word;
      } else if (const auto flag = node.value_exact<bool>()) {
        value = *flag ? "true" : "false";
      } else if (node.is_number()) {
        value = fmt::format("{}", *node.value<double>());
      } else {
        problems.push_back(wrong_row(path, at, before + std::string(key.str()), detail::shown(node),
                                     "a number, a word, or true or false"));
        continue;
      }
      const bool has_line = at.line > 0 && at.line <= static_cast<int>(lines.size());
      const std::string& whole = lines[has_line ? static_cast<std::size_t>(at.line) - 1 : 0];
      const std::size_t remark = std::min(whole.rfind('#'), whole.size());
      found.push_back({before + std::string(key.str()), value, unit_in_remark(whole.substr(remark)),
                       place_of(key.source()), at});
    }
    // In the order of the file.
    std::sort(found.begin(), found.end(),
              [](const ReadRow& a, const ReadRow& b) { return a.value_at.line < b.value_at.line; });
    rows.insert(rows.end(), found.begin(), found.end());
  };
  add("convention", "convention.");
  add("knobs", "");
  return rows;
}

// A word whose first sign tables of numbers would take for a formula has a blank before it.
std::string without_guard(const std::string& text) {
  const bool guarded = text.size() > 1 && text[0] == ' ' && text.find_first_of("=+-@", 1) == 1;
  return guarded ? text.substr(1) : text;
}

// The columns of a line at which its fields begin.
std::vector<int> columns_of(const std::string& line) {
  std::vector<int> columns{1};
  detail::TextPlaces places(line);
  bool quoted = false;
  for (std::size_t i = 0; i < line.size(); ++i) {
    quoted = quoted != (line[i] == '"');
    if (line[i] == ',' && !quoted) columns.push_back(places.at(i + 1).column);
  }
  return columns;
}

Result<std::vector<ReadRow>> rows_of_csv(std::string_view text, const std::string& path,
                                         std::vector<Problem>& problems) {
  const bool ours = text.find(kExportFormat) != std::string_view::npos;
  const auto table = detail::split_rows(text, path);
  if (!table) return ours ? tl::unexpected(table.error()) : no_export(path);
  if (table->size() < 2 || (*table)[1].size() < 2 || (*table)[1][1] != kExportFormat) {
    return no_export(path);
  }
  const std::vector<std::string> lines = lines_of(text);
  std::vector<ReadRow> rows;
  for (std::size_t i = 2; i < table->size(); ++i) {
    const auto& fields = (*table)[i];
    const int line = static_cast<int>(i) + 1;
    if (fields.empty() || (fields.size() == 1 && fields[0].empty())) continue;  // a blank line
    if (fields.size() < 3) {
      problems.push_back(wrong_row(path, {line, 1}, fields[0],
                                   fmt::format("a row of {}", fields.size()), "key,value,unit"));
      continue;
    }
    std::vector<int> columns;
    if (i < lines.size()) columns = columns_of(lines[i]);
    columns.resize(std::max<std::size_t>(columns.size(), 2));
    rows.push_back(
        {fields[0], without_guard(fields[1]), fields[2], {line, columns[0]}, {line, columns[1]}});
  }
  return rows;
}

using detail::trimmed_copy;

// A literal of C or C++ as plain text.
std::string plain(std::string text) {
  constexpr char kQuote = '"';
  if (text.size() >= 2 && text[0] == kQuote && text[text.size() - 1] == kQuote) {
    std::string word;
    for (std::size_t i = 1; i + 1 < text.size(); ++i) {
      if (text[i] == '\\' && i + 2 < text.size()) ++i;
      word += text[i];
    }
    return word;
  }
  if (!text.empty() && text.back() == 'f' && parse_number(text.substr(0, text.size() - 1))) {
    text.pop_back();
  }
  return text;
}

// A part of a line, without the blanks around it.
struct Piece {
  std::string text;
  int column;
};

Piece piece_of(const std::string& line, std::size_t begin, std::size_t end) {
  end = std::min(end, line.size());
  begin = std::min(line.find_first_not_of(" \t", std::min(begin, end)), end);
  return {trimmed_copy(line.substr(begin, end - begin)), detail::TextPlaces(line).at(begin).column};
}

// A row of a header: what stands in a comment says the key, what stands before it the value. Lines
// that are none of export's are passed over.
std::optional<ReadRow> row_of_header(const std::string& line, int number) {
  constexpr std::string_view kEquals = " = ";
  constexpr std::string_view kDefine = "#define ";
  const bool is_c = line.rfind(kDefine, 0) == 0;
  const std::size_t comment = is_c ? line.rfind("/*") : line.rfind("//");
  const std::size_t style = line.find("convention.");
  const auto row = [number](const Piece& key, const Piece& value, std::string text,
                            std::string unit) {
    return ReadRow{
        key.text, std::move(text), std::move(unit), {number, key.column}, {number, value.column}};
  };
  if (style < 4) {  // right behind the comment begins
    const std::size_t equals = line.find(kEquals);
    if (equals == std::string::npos) return std::nullopt;
    const Piece value = piece_of(line, equals + kEquals.size(), line.find("*/"));
    return row(piece_of(line, style, equals), value, value.text, "");
  }
  if (comment == std::string::npos) return std::nullopt;
  const std::size_t begin = is_c ? line.find(' ', kDefine.size()) : line.find(kEquals);
  if (begin == std::string::npos || begin > comment) return std::nullopt;
  Piece value = piece_of(line, begin + (is_c ? 1 : kEquals.size()), comment);
  if (!value.text.empty() && value.text.back() == ';') value.text.pop_back();
  const Piece key = piece_of(line, comment + 2, line.find('[', comment));
  return row(key, value, plain(value.text), unit_in_remark(line.substr(comment + 2)));
}

Result<std::vector<ReadRow>> rows_of_header(std::string_view text, const std::string& path) {
  const std::vector<std::string> lines = lines_of(text);
  if (lines.empty() || lines.front().find(kExportFormat) == std::string::npos) {
    return no_export(path);
  }
  std::vector<ReadRow> rows;
  for (std::size_t i = 1; i < lines.size(); ++i) {
    if (auto row = row_of_header(lines[i], static_cast<int>(i) + 1)) rows.push_back(*row);
  }
  return rows;
}

Result<std::vector<ReadRow>> rows_of(std::string_view text, const std::string& path,
                                     std::vector<Problem>& problems) {
  const std::size_t first = text.find_first_not_of(" \t\r\n");
  if (first == std::string_view::npos) return no_export(path);
  const std::string_view begin = text.substr(first, 12);
  if (begin.front() == '{') return detail::rows_of_json(text, path, problems);
  if (begin.substr(0, 4) == "key,") return rows_of_csv(text, path, problems);
  if (begin.substr(0, 2) == "//" || begin.substr(0, 2) == "/*") return rows_of_header(text, path);
  return rows_of_toml(text, path, problems);
}

// A row as a setting says it: whole ticks and seconds keep their unit, angles become degrees, the
// numbers of C their words.
std::string setting_of(const ReadRow& row, const KnobPlace& place) {
  const bool timed = row.unit == "ticks" || row.unit == "s";
  const auto number = parse_number(row.text);
  std::string text = row.text;
  const bool is_flag = std::holds_alternative<KnobAccess<bool>>(place.knob->binding);
  if (is_flag && number) text = *number != 0 ? "true" : "false";
  if (number && row.unit == "rad") text = fmt::format("{}", *number * kHalfTurn / kPi);
  if (number && timed && place.knob->dimension == Dimension::time) text += " " + row.unit;
  return row.key + "=" + text;
}

}  // namespace

Result<Imported> parse_export(std::string_view text, const std::string& path) {
  std::vector<Problem> problems;
  const auto rows = rows_of(detail::without_mark(text), path, problems);
  if (!rows) return tl::unexpected(rows.error());
  constexpr std::string_view kStyle = "convention.";
  constexpr std::string_view kWorkedOut = "loop.";
  Imported imported;
  TuningFile file;
  std::map<std::string, int> lines;  // of the keys that were read
  for (const ReadRow& row : *rows) {
    const auto [before, is_new] = lines.emplace(row.key, row.key_at.line);
    if (!is_new) {
      problems.push_back(wrong_row(path, row.key_at, row.key, "it twice",
                                   fmt::format("it once: it is on line {}", before->second)));
    }
    if (row.key.substr(0, kStyle.size()) != kStyle) continue;
    const std::string expected =
        detail::read_style(imported.style, row.key.substr(kStyle.size()), row.text);
    if (expected.empty()) continue;
    problems.push_back(wrong_row(path, row.value_at, row.key, row.text, expected));
  }
  file.convention = imported.style.convention;
  for (const ReadRow& row : *rows) {
    if (row.key.substr(0, kStyle.size()) == kStyle) continue;
    const auto place = find_place(row.key);
    if (!place && row.key.substr(0, kWorkedOut.size()) == kWorkedOut) continue;
    const Setting setting(place ? setting_of(row, *place) : row.key + "=" + row.text, "export");
    if (auto problem = apply_setting(file, setting)) {
      problem->file = path;
      const TextPlace at = place ? row.value_at : row.key_at;
      problem->line = at.line;
      problem->column = at.column;
      if (place) problem->key = row.key;
      problems.push_back(std::move(*problem));
    }
  }
  if (!problems.empty()) {
    std::stable_sort(problems.begin(), problems.end(),
                     [](const Problem& a, const Problem& b) { return a.line < b.line; });
    return tl::unexpected(std::move(problems));
  }
  imported.tuning = std::move(file.tuning);
  return imported;
}

Result<Imported> load_export(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_export(*text, path);
}

}  // namespace bushbaby
