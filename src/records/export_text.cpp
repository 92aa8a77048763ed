// Exports as text: TOML, JSON, CSV and headers.
#include "export_text.h"

#include <algorithm>
#include <cctype>

#include <fmt/format.h>

#include "bushbaby/data/quantities.h"
#include "bushbaby/records/reports.h"
#include "bushbaby/version.h"

#include "json_text.h"

namespace bushbaby {
namespace detail {

std::vector<ExportRow> style_rows(const ExportStyle& style) {
  const Convention& convention = style.convention;
  const auto word = [](std::string key, std::string text) {
    return ExportRow{std::move(key), std::move(text), "", true};
  };
  std::vector<ExportRow> rows{
      word("convention.one_unit",
           fmt::format("{} {}", convention.lengths_per_unit, convention.length_name)),
      word("convention.vertical", convention.vertical_down ? "down" : "up"),
      word("convention.time", convention.per_tick ? "tick" : "second"),
      word("convention.angles", style.radians ? "radians" : "degrees"),
      word("convention.precision", style.single ? "single" : "double")};
  if (style.reference_gravity) {
    rows.push_back(
        word("convention.reference_gravity", fmt::format("{} u/s²", *style.reference_gravity)));
  }
  if (style.mass) rows.push_back(word("convention.mass", fmt::format("{}", *style.mass)));
  return rows;
}

std::string read_style(ExportStyle& style, std::string_view key, const std::string& text) {
  if (key == "angles") {
    style.radians = text == "radians";
    return text == "radians" || text == "degrees" ? "" : "radians or degrees";
  }
  if (key == "precision") {
    style.single = text == "single";
    return text == "single" || text == "double" ? "" : "single or double";
  }
  if (key == "reference_gravity") {
    style.reference_gravity = parse_quantity(text, Dimension::acceleration, {});
    return style.reference_gravity ? "" : "an acceleration in u/s²";
  }
  if (key == "mass") {
    style.mass = parse_number(text);
    return style.mass ? "" : "a number";
  }
  const bool known = key == "one_unit" || key == "vertical" || key == "time";
  return known ? set_convention(style.convention, key, text)
               : "one_unit, vertical, time, angles, precision, reference_gravity or mass";
}

}  // namespace detail

namespace {

using detail::Json;
using detail::style_rows;

// "loop.launch_speed [px/tick]", and by how much it is rounded.
std::string remark_of(const ExportRow& row) {
  std::string text = fmt::format("{} [{}]", row.key, row.unit);
  if (row.rounded_by != 0) text += fmt::format(", rounded by {:.3g}", row.rounded_by);
  return text;
}

// Letters, digits and single lines between them; never a word of the language, since a part comes
// behind it or in front.
std::string identifier(std::string_view text) {
  std::string name;
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    if (std::isalnum(byte) != 0 && byte < 0x80) {
      name += c;
    } else if (!name.empty() && name.back() != '_') {
      name += '_';
    }
  }
  while (!name.empty() && name.back() == '_') name.pop_back();
  const bool begins = !name.empty() && std::isdigit(static_cast<unsigned char>(name.front())) == 0;
  return begins ? name : name.empty() ? "character" : "character_" + name;
}

std::string lower(std::string text) {
  for (char& c : text) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return text;
}

std::string upper(std::string text) {
  for (char& c : text) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
  return text;
}

// A text between double quotes, for TOML, C and C++: names come from strangers.
std::string in_quotes(std::string_view text) {
  std::string quoted = "\"";
  for (const char c : text) {
    if (c == '"' || c == '\\') quoted += '\\';
    const auto byte = static_cast<unsigned char>(c);
    quoted += byte < 0x20 || byte == 0x7F ? ' ' : c;
  }
  return quoted + "\"";
}

bool is_number(const ExportRow& row) { return parse_number(row.text).has_value(); }

bool is_flag(const ExportRow& row) { return row.text == "true" || row.text == "false"; }

// A number as a program reads it as one with a fraction.
std::string literal(const ExportRow& row, bool single) {
  if (row.word) return in_quotes(row.text);
  if (!is_number(row) || row.whole) return row.text;
  const bool fraction = row.text.find_first_of(".e") != std::string::npos;
  return row.text + (fraction ? "" : ".0") + (single ? "f" : "");
}

std::string title_of(const Tuning& tuning) {
  return fmt::format("{}, {}", tuning.name.empty() ? "a character" : tuning.name,
                     describe_loop(tuning));
}

// What may stand in a comment of one line.
std::string in_comment(std::string text) {
  std::replace_if(
      text.begin(), text.end(), [](char c) { return static_cast<unsigned char>(c) < 0x20; }, ' ');
  for (const char* sign : {"*/", "/*"}) {
    for (std::size_t at = 0; (at = text.find(sign, at)) != std::string::npos;) text[at] = ' ';
  }
  if (!text.empty() && text.back() == '\\') text += ' ';  // or the next line is a comment too
  return text;
}

std::string write_toml(const Tuning& tuning, const std::vector<ExportRow>& style,
                       const std::vector<ExportRow>& rows) {
  std::string text = fmt::format("# {}\nformat = \"{}\"\n\n[convention]\n",
                                 in_comment(title_of(tuning)), kExportFormat);
  for (const ExportRow& row : style) {
    text += fmt::format("{} = {}\n", row.key.substr(row.key.find('.') + 1), in_quotes(row.text));
  }
  bool worked_out = false;
  text += "\n[knobs]\n";
  for (const ExportRow& row : rows) {
    if (row.worked_out && !worked_out) text += "\n[worked_out]\n";
    worked_out = row.worked_out;
    const std::string value = row.word ? in_quotes(row.text) : row.text;
    text += fmt::format("{} = {}  # {}\n", in_quotes(row.key), value, in_comment(remark_of(row)));
  }
  return text;
}

std::string write_json(const Tuning& tuning, const std::vector<ExportRow>& style,
                       const std::vector<ExportRow>& rows) {
  Json convention = Json::object();
  for (const ExportRow& row : style) {
    convention[row.key.substr(row.key.find('.') + 1)] = row.text;
  }
  Json knobs = Json::object();
  Json worked_out = Json::object();
  for (const ExportRow& row : rows) {
    Json value = row.text;
    if (!row.word && is_flag(row)) value = row.text == "true";
    if (!row.word && is_number(row)) value = *parse_number(row.text);
    Json one{{"value", value}, {"unit", row.unit}};
    if (row.rounded_by != 0) one["rounded_by"] = row.rounded_by;
    (row.worked_out ? worked_out : knobs)[row.key] = one;
  }
  return detail::json_text(Json{{"format", kExportFormat},
                                {"name", tuning.name},
                                {"convention", convention},
                                {"knobs", knobs},
                                {"worked_out", worked_out}});
}

// A word as a field. What tables of numbers would take for a formula has a blank before it.
std::string csv_field(const ExportRow& row) {
  std::string text = row.text;
  const bool formula = row.word && text.find_first_of("=+-@") == 0;
  if (formula) text.insert(text.begin(), ' ');
  if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
  std::string quoted = "\"";
  for (const char c : text) {
    if (c == '"') quoted += '"';
    quoted += c;
  }
  return quoted + "\"";
}

std::string write_csv(const std::vector<ExportRow>& style, const std::vector<ExportRow>& rows) {
  std::string text = fmt::format("key,value,unit,rounded by\nformat,{},,\n", kExportFormat);
  for (const auto* list : {&style, &rows}) {
    for (const ExportRow& row : *list) {
      text += fmt::format("{},{},{},{}\n", row.key, csv_field(row), row.unit,
                          row.rounded_by == 0 ? "" : fmt::format("{:.3g}", row.rounded_by));
    }
  }
  return text;
}

std::string type_of(const ExportRow& row, bool single) {
  if (row.word) return "const char*";
  if (is_flag(row)) return "bool";
  if (row.whole) return "int";
  return single ? "float" : "double";
}

std::string write_cpp(const Tuning& tuning, const ExportStyle& style,
                      const std::vector<ExportRow>& style_rows,
                      const std::vector<ExportRow>& rows) {
  const std::string name = lower(identifier(tuning.name)) + "_tuning";
  std::string text =
      fmt::format("// {}: {}; made by Bushbaby {}\n#pragma once\n\nnamespace {} {{\n\n",
                  kExportFormat, in_comment(title_of(tuning)), kVersion, name);
  for (const ExportRow& row : style_rows) {
    text += fmt::format("// {} = {}\n", row.key, in_comment(row.text));
  }
  text += "\n";
  for (const ExportRow& row : rows) {
    text +=
        fmt::format("inline constexpr {} {} = {};  // {}\n", type_of(row, style.single),
                    identifier(row.key), literal(row, style.single), in_comment(remark_of(row)));
  }
  return text + fmt::format("\n}}  // namespace {}\n", name);
}

std::string write_c(const Tuning& tuning, const ExportStyle& style,
                    const std::vector<ExportRow>& style_rows, const std::vector<ExportRow>& rows) {
  const std::string name = upper(identifier(tuning.name));
  std::string text = fmt::format(
      "/* {0}: {1}; made by Bushbaby {2} */\n#ifndef {3}_TUNING_H\n#define {3}_TUNING_H\n\n",
      kExportFormat, in_comment(title_of(tuning)), kVersion, name);
  for (const ExportRow& row : style_rows) {
    text += fmt::format("/* {} = {} */\n", row.key, in_comment(row.text));
  }
  text += "\n";
  for (const ExportRow& row : rows) {
    const bool flag = is_flag(row) && !row.word;
    const std::string value =
        flag ? std::string(row.text == "true" ? "1" : "0") : literal(row, style.single);
    text += fmt::format("#define {}_{} {} /* {} */\n", name, upper(identifier(row.key)), value,
                        in_comment(remark_of(row)));
  }
  return text + "\n#endif\n";
}

}  // namespace

std::string write_export(const Tuning& tuning, const ExportStyle& style, ExportForm form) {
  const std::vector<ExportRow> rows = export_rows(tuning, style);
  const std::vector<ExportRow> styles = style_rows(style);
  switch (form) {
    case ExportForm::json: return write_json(tuning, styles, rows);
    case ExportForm::csv: return write_csv(styles, rows);
    case ExportForm::cpp: return write_cpp(tuning, style, styles, rows);
    case ExportForm::c: return write_c(tuning, style, styles, rows);
    case ExportForm::toml: break;
  }
  return write_toml(tuning, styles, rows);
}

}  // namespace bushbaby
