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
#include "export_text.h"
#include "json_text.h"

namespace bushbaby {
namespace {

using detail::Json;
using detail::kHalfTurn;
using detail::kPi;

// A row as it stands in a file.
struct ReadRow {
  std::string key;
  std::string text;
  std::string unit;
  int line = 0;
};

Problem wrong(const std::string& path, int line, std::string key, std::string found,
              std::string expected) {
  return {ProblemCode::bad_syntax, path, line, 0, std::move(key), std::move(found),
          std::move(expected),     ""};
}

tl::unexpected<std::vector<Problem>> no_export(const std::string& path) {
  return tl::unexpected(std::vector<Problem>{
      {ProblemCode::wrong_format, path, 1, 1, "", "no export",
       fmt::format("a table that export wrote, with \"{}\" in it", kExportFormat), ""}});
}

std::string value_text(const Json& value) {
  if (value.is_string()) return value.get<std::string>();
  if (value.is_boolean()) return value.get<bool>() ? "true" : "false";
  return value.is_number() ? fmt::format("{}", value.get<double>()) : std::string();
}

Result<std::vector<ReadRow>> rows_of_json(std::string_view text, const std::string& path) {
  const Json json = Json::parse(text, nullptr, false);
  if (!json.is_object() || json.value("format", Json()) != kExportFormat) return no_export(path);
  std::vector<ReadRow> rows;
  const Json convention = json.value("convention", Json::object());
  for (const auto& [key, value] : convention.items()) {
    rows.push_back({"convention." + key, value_text(value), "", 0});
  }
  const Json knobs = json.value("knobs", Json::object());
  for (const auto& [key, one] : knobs.items()) {
    if (!one.is_object()) continue;
    rows.push_back(
        {key, value_text(one.value("value", Json())), value_text(one.value("unit", Json())), 0});
  }
  return rows;
}

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

Result<std::vector<ReadRow>> rows_of_toml(std::string_view text, const std::string& path) {
  const auto parsed = detail::parse_toml(detail::without_mark(text), path, kExportFormat);
  if (!parsed) return no_export(path);
  const toml::table& table = *parsed;
  if (table["format"].value<std::string>() != std::string(kExportFormat)) return no_export(path);
  const std::vector<std::string> lines = lines_of(text);
  std::vector<ReadRow> rows;
  const auto add = [&](const char* section, const std::string& before) {
    const toml::table* part = table[section].as_table();
    if (part == nullptr) return;
    std::vector<ReadRow> found;
    for (const auto& [key, node] : *part) {
      const auto line = static_cast<int>(node.source().begin.line);
      std::string value;
      if (const auto word = node.value_exact<std::string>()) value = *word;
      if (const auto flag = node.value_exact<bool>()) value = *flag ? "true" : "false";
      if (node.is_number()) value = fmt::format("{}", *node.value<double>());
      const bool has_line = line > 0 && line <= static_cast<int>(lines.size());
      const std::string& whole = lines[has_line ? static_cast<std::size_t>(line) - 1 : 0];
      const std::size_t remark = std::min(whole.rfind('#'), whole.size());
      found.push_back(
          {before + std::string(key.str()), value, unit_in_remark(whole.substr(remark)), line});
    }
    // In the order of the file.
    std::sort(found.begin(), found.end(),
              [](const ReadRow& a, const ReadRow& b) { return a.line < b.line; });
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

Result<std::vector<ReadRow>> rows_of_csv(std::string_view text, const std::string& path) {
  const auto table = detail::split_rows(text, path);
  if (!table) return tl::unexpected(table.error());
  if (table->size() < 2 || (*table)[1].size() < 2 || (*table)[1][1] != kExportFormat) {
    return no_export(path);
  }
  std::vector<ReadRow> rows;
  for (std::size_t i = 2; i < table->size(); ++i) {
    const auto& fields = (*table)[i];
    if (fields.size() < 3) continue;
    rows.push_back({fields[0], without_guard(fields[1]), fields[2], static_cast<int>(i) + 1});
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

// A header of ours: what stands in a comment says the key, what stands before it the value.
Result<std::vector<ReadRow>> rows_of_header(std::string_view text, const std::string& path) {
  const std::vector<std::string> lines = lines_of(text);
  if (lines.empty() || lines.front().find(kExportFormat) == std::string::npos)
    return no_export(path);
  std::vector<ReadRow> rows;
  for (std::size_t i = 1; i < lines.size(); ++i) {
    const std::string& line = lines[i];
    const bool is_c = line.rfind("#define ", 0) == 0;
    const std::size_t comment = is_c ? line.rfind("/*") : line.rfind("//");
    const std::size_t style = line.find("convention.");
    if (style < 4) {  // right behind the comment begins
      const std::size_t equals = std::min(line.find(" = "), line.size());
      std::string value = line.substr(std::min(equals + 3, line.size()));
      if (const std::size_t end = value.find("*/"); end != std::string::npos) value.resize(end);
      rows.push_back({trimmed_copy(line.substr(style, equals - style)), trimmed_copy(value), "",
                      static_cast<int>(i) + 1});
      continue;
    }
    if (comment == std::string::npos) continue;
    const std::string remark = trimmed_copy(line.substr(comment + 2));
    const std::string code = trimmed_copy(line.substr(0, comment));
    const std::size_t begin = is_c ? line.find(' ', 8) : line.find(" = ");
    if (begin == std::string::npos || begin > comment) continue;
    std::string value =
        trimmed_copy(line.substr(begin + (is_c ? 1 : 3), comment - begin - (is_c ? 1 : 3)));
    if (!value.empty() && value.back() == ';') value.pop_back();
    rows.push_back({trimmed_copy(remark.substr(0, remark.find('['))), plain(value),
                    unit_in_remark(remark), static_cast<int>(i) + 1});
  }
  return rows;
}

Result<std::vector<ReadRow>> rows_of(std::string_view text, const std::string& path) {
  const std::size_t first = text.find_first_not_of(" \t\r\n");
  if (first == std::string_view::npos) return no_export(path);
  const std::string_view begin = text.substr(first, 12);
  if (begin.front() == '{') return rows_of_json(text, path);
  if (begin.substr(0, 4) == "key,") return rows_of_csv(text, path);
  if (begin.substr(0, 2) == "//" || begin.substr(0, 2) == "/*") return rows_of_header(text, path);
  return rows_of_toml(text, path);
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
  const auto rows = rows_of(text, path);
  if (!rows) return tl::unexpected(rows.error());
  constexpr std::string_view kStyle = "convention.";
  constexpr std::string_view kWorkedOut = "loop.";
  Imported imported;
  TuningFile file;
  std::vector<Problem> problems;
  for (const ReadRow& row : *rows) {
    if (row.key.substr(0, kStyle.size()) != kStyle) continue;
    const std::string expected =
        detail::read_style(imported.style, row.key.substr(kStyle.size()), row.text);
    if (!expected.empty()) problems.push_back(wrong(path, row.line, row.key, row.text, expected));
  }
  file.convention = imported.style.convention;
  for (const ReadRow& row : *rows) {
    if (row.key.substr(0, kStyle.size()) == kStyle) continue;
    const auto place = find_place(row.key);
    if (!place && row.key.substr(0, kWorkedOut.size()) == kWorkedOut) continue;
    if (!place) {
      problems.push_back(wrong(path, row.line, row.key, "no knob", "a key of a tuning"));
      continue;
    }
    if (auto problem = apply_setting(file, Setting(setting_of(row, *place), "export"))) {
      problem->file = path;
      problem->line = row.line;
      problem->key = row.key;
      problems.push_back(std::move(*problem));
    }
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  imported.tuning = std::move(file.tuning);
  return imported;
}

Result<Imported> load_export(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_export(*text, path);
}

}  // namespace bushbaby
