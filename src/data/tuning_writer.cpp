#include <algorithm>
#include <cmath>
#include <filesystem>
#include <set>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"

#include "inheritance.h"
#include "toml_text.h"

namespace bushbaby {
namespace {

using detail::TextMap;
using detail::toml_text_of;

// The table that a key stands in, and its name there.
std::pair<std::string_view, std::string_view> split_key(std::string_view key) {
  const std::size_t dot = key.rfind('.');
  if (dot == std::string_view::npos) return {"", key};
  return {key.substr(0, dot), key.substr(dot + 1)};
}

// Edits a text from back to front, so that earlier places stay valid.
class Edits {
 public:
  void replace(std::size_t begin, std::size_t end, std::string with) {
    list_.push_back({begin, end, std::move(with)});
  }

  [[nodiscard]] std::string apply(std::string text) {
    std::stable_sort(list_.begin(), list_.end(),
                     [](const Edit& a, const Edit& b) { return a.begin < b.begin; });
    for (auto edit = list_.rbegin(); edit != list_.rend(); ++edit) {
      text.replace(edit->begin, edit->end - edit->begin, edit->with);
    }
    return text;
  }

 private:
  struct Edit {
    std::size_t begin;
    std::size_t end;
    std::string with;
  };
  std::vector<Edit> list_;
};

std::size_t line_start(std::string_view text, std::size_t at) {
  const std::size_t newline = at == 0 ? std::string_view::npos : text.rfind('\n', at - 1);
  return newline == std::string_view::npos ? 0 : newline + 1;
}

std::size_t next_line(std::string_view text, std::size_t at) {
  const std::size_t newline = text.find('\n', at);
  return newline == std::string_view::npos ? text.size() : newline + 1;
}

// Takes a key out: its whole line, or its entry of an inline table with one comma.
void take_out(std::string_view text, const TuningFile::Place& place, Edits& edits) {
  if (!place.inlined) {
    edits.replace(line_start(text, place.key.begin), next_line(text, place.value.end), "");
    return;
  }
  constexpr std::string_view kBlank = " \t";
  std::size_t begin = place.key.begin;
  std::size_t end = text.find_first_not_of(kBlank, place.value.end);
  if (end != std::string_view::npos && text[end] == ',') {
    end = text.find_first_not_of(kBlank, end + 1);
  } else {
    end = place.value.end;
    const std::size_t comma = text.find_last_not_of(kBlank, begin - 1);
    if (comma != std::string_view::npos && text[comma] == ',') begin = comma;
  }
  edits.replace(begin, end, "");
}

// Where new keys of a section go: behind the last one of its own that stands on a line of its own,
// or behind the section's heading; nothing if the file has no such section.
std::optional<std::size_t> end_of_section(const TuningFile& file, const toml::table& root,
                                          const TextMap& map, std::string_view section) {
  if (section.empty()) {
    // Keys of the root stand before the first heading; the format line is always there.
    return next_line(file.text, map.span_of(root.get("format")->source()).end);
  }
  const toml::node* node = root.at_path(section).node();
  const toml::table* table = node == nullptr ? nullptr : node->as_table();
  if (table == nullptr || table->is_inline()) return std::nullopt;
  // A table that only headings below it imply has no heading of its own.
  const std::size_t heading = map.span_of(table->source()).begin;
  const std::string header = fmt::format("[{}]", section);
  if (file.text.compare(heading, header.size(), header) != 0) return std::nullopt;
  std::size_t end = next_line(file.text, heading);
  for (const auto& [key, value] : *table) {
    const auto* inner = value.as_table();
    const std::size_t value_end = map.span_of(value.source()).end;
    const bool own_line = inner == nullptr || inner->is_inline();
    if (own_line && value_end > end) end = next_line(file.text, value_end);
  }
  return end;
}

// Puts a key in that the file does not have: into the inline table it belongs to, or as a line of
// the nearest section there is, or into a new section at the end.
void put_in(const TuningFile& file, const toml::table& root, const TextMap& map,
            std::string_view key, const std::string& value, Edits& edits,
            std::map<std::string, std::string>& new_sections) {
  auto [section, name] = split_key(key);
  const toml::node* node = section.empty() ? nullptr : root.at_path(section).node();
  const toml::table* inlined = node == nullptr ? nullptr : node->as_table();
  if (inlined != nullptr && inlined->is_inline()) {
    const std::size_t brace = map.span_of(inlined->source()).end - 1;
    const std::size_t last = file.text.find_last_not_of(" \t", brace - 1) + 1;
    edits.replace(last, last, fmt::format("{}{} = {}", inlined->empty() ? " " : ", ", name, value));
    return;
  }
  for (std::string_view home = section;; home = split_key(home).first) {
    if (const auto at = end_of_section(file, root, map, home);
        at && !(home.empty() && home != section)) {
      const bool needs_break = *at > 0 && file.text[*at - 1] != '\n';
      const std::string_view rest = home.empty() ? key : key.substr(home.size() + 1);
      edits.replace(*at, *at, fmt::format("{}{} = {}\n", needs_break ? "\n" : "", rest, value));
      return;
    }
    if (home.empty()) break;
  }
  const std::string top(key.substr(0, key.find('.')));
  new_sections[top] += fmt::format("{} = {}\n", key.substr(top.size() + 1), value);
}

// One row of a list as a section of its own, its defaults left out.
std::string row_text(const Tuning& tuning, std::size_t row, const Convention& convention) {
  std::string text = fmt::format("\n[[{}]]\n", kListKey);
  for (const Knob& knob : knobs()) {
    if (!knob.in_list()) continue;
    const KnobValue value = get_knob(tuning, knob, row);
    const bool is_name = knob.key == std::string(kListKey) + ".on";
    if (!is_name && value == get_knob(Tuning{}, knob)) continue;
    const KnobValue written = to_convention(convention, knob, value, tuning.loop.tick_rate);
    text += fmt::format("{} = {}\n", knob.key.substr(kListKey.size() + 1), toml_text_of(written));
  }
  return text;
}

// Rewrites the text of a file for a changed tuning.
class Rewriter {
 public:
  Rewriter(const TuningFile& file, const toml::table& root, const Tuning& changed)
      : file_(file), root_(root), changed_(changed), map_(file.text) {}

  // `rows` of the list are to be in the text.
  std::string rewrite(std::size_t rows) {
    const std::size_t had = file_.has_rows ? file_.tuning.wall.exits.size() : 0;
    const std::set<std::string> forced = forced_keys();
    for (const KnobPlace& place : places_of(changed_)) {
      if (!place.knob->in_list() || place.row < had) rewrite_knob(place, forced);
    }
    std::string text = edits_.apply(file_.text);
    const auto append = [&text](const std::string& part) {
      if (!text.empty() && text.back() != '\n') text += '\n';
      text += part;
    };
    for (const auto& [section, lines] : new_sections_) {
      append(fmt::format("\n[{}]\n{}", section, lines));
    }
    for (std::size_t row = had; row < rows; ++row) {
      append(row_text(changed_, row, file_.convention));
    }
    return text;
  }

 private:
  void rewrite_knob(const KnobPlace& place, const std::set<std::string>& forced) {
    const Knob& knob = *place.knob;
    const std::string key = place.key();
    const double old_rate = file_.tuning.loop.tick_rate;
    const double new_rate = changed_.loop.tick_rate;
    const KnobValue value = get_knob(changed_, knob, place.row);
    const auto at = file_.places.find(key);
    // What is written per tick means something else at another tick rate.
    const bool means_the_same =
        at == file_.places.end() || factor_of(file_.convention, knob.dimension, new_rate) ==
                                        factor_of(file_.convention, knob.dimension, old_rate);
    const bool is_number = std::holds_alternative<double>(value);
    const bool same = value == get_knob(file_.tuning, knob, place.row);
    if (same && (means_the_same || !is_number) && forced.count(key) == 0) return;
    const bool unset = std::holds_alternative<std::monostate>(value);
    const bool inherits = !file_.based_on.empty();
    const std::string written =
        unset ? fmt::format("\"{}\"", detail::kUnset)
              : toml_text_of(to_convention(file_.convention, knob, value, new_rate));
    if (at != file_.places.end()) {
      if (unset && !inherits) {
        take_out(file_.text, at->second, edits_);
      } else {
        edits_.replace(at->second.value.begin, at->second.value.end, written);
      }
    } else if (knob.in_list()) {
      put_in_row(place, written);
    } else if (!unset || (inherits && !same)) {
      put_in(file_, root_, map_, knob.key, written, edits_, new_sections_);
    }
  }

  // Behind the last key of the same row; a row without keys is a heading alone.
  void put_in_row(const KnobPlace& place, const std::string& written) {
    const std::string_view name = place.knob->key.substr(kListKey.size() + 1);
    const TuningFile::Place* last = nullptr;
    const std::string row = fmt::format("{}.{}.", kListKey, place.row + 1);
    for (const auto& [key, at] : file_.places) {
      const bool here = key.compare(0, row.size(), row) == 0;
      if (here && (last == nullptr || at.value.end > last->value.end)) last = &at;
    }
    if (last == nullptr) {
      const toml::node* table = root_.at_path(kListKey).as_array()->get(place.row);
      const std::size_t after = next_line(file_.text, map_.span_of(table->source()).begin);
      edits_.replace(after, after, fmt::format("{} = {}\n", name, written));
    } else if (last->inlined) {
      edits_.replace(last->value.end, last->value.end, fmt::format(", {} = {}", name, written));
    } else {
      const std::size_t after = next_line(file_.text, last->value.end);
      const bool needs_break = file_.text[after - 1] != '\n';
      edits_.replace(after, after,
                     fmt::format("{}{} = {}\n", needs_break ? "\n" : "", name, written));
    }
  }

  // Of knobs that determine each other, all are written as soon as one of them changes what is
  // inherited: the file's own then replace those of its base.
  [[nodiscard]] std::set<std::string> forced_keys() const {
    std::set<std::string> forced;
    if (file_.based_on.empty()) return forced;
    for (const auto& group : detail::determining_groups()) {
      const bool changes = std::any_of(group.begin(), group.end(), [this](const char* key) {
        return get_knob(changed_, *find_knob(key)) != get_knob(file_.tuning, *find_knob(key));
      });
      if (changes) forced.insert(group.begin(), group.end());
    }
    return forced;
  }

  const TuningFile& file_;
  const toml::table& root_;
  const Tuning& changed_;
  TextMap map_;
  Edits edits_;
  std::map<std::string, std::string> new_sections_;
};

// The text of a file with its base found from another folder.
std::string rebased_text(const TuningFile& file, const std::string& path) {
  namespace fs = std::filesystem;
  const fs::path from = fs::path(file.path).parent_path().lexically_normal();
  const fs::path to = fs::path(path).parent_path().lexically_normal();
  if (file.based_on.empty() || from == to) return file.text;
  std::error_code ignored;
  const fs::path base =
      fs::absolute(file.based_on, ignored).lexically_relative(fs::absolute(to, ignored));
  std::string text = file.text;
  const TextSpan& at = file.based_on_value;
  return text.replace(at.begin, at.end - at.begin, toml_text_of(base.generic_string()));
}

bool is_same(double a, double b) {
  constexpr double kRounding = 1e-12;  // of a number there and back in a convention
  return std::abs(a - b) <= kRounding * std::max(std::abs(a), std::abs(b));
}

bool is_same(const KnobValue& a, const KnobValue& b, double tick_rate) {
  if (const auto* x = std::get_if<double>(&a), *y = std::get_if<double>(&b); x && y) {
    return is_same(*x, *y);
  }
  if (const auto* x = std::get_if<Duration>(&a), *y = std::get_if<Duration>(&b); x && y) {
    return is_same(seconds(*x, tick_rate), seconds(*y, tick_rate));
  }
  return a == b;
}

// The first knob in which two tunings differ; empty if none does.
std::string first_difference(const Tuning& a, const Tuning& b) {
  if (a.wall.exits.size() != b.wall.exits.size()) return std::string(kListKey);
  for (const KnobPlace& place : places_of(a)) {
    const KnobValue in_a = get_knob(a, *place.knob, place.row);
    const KnobValue in_b = get_knob(b, *place.knob, place.row);
    if (!is_same(in_a, in_b, a.loop.tick_rate)) return place.key();
  }
  return {};
}

}  // namespace

std::string write_tuning(const Tuning& tuning) {
  std::string text = fmt::format("format = \"{}\"\n", kTuningFormat);
  std::string section;
  std::size_t rows = 0;
  for (const KnobPlace& place : places_of(tuning)) {
    const Knob& knob = *place.knob;
    if (knob.in_list()) {
      if (rows == place.row) text += row_text(tuning, rows++, {});
      continue;
    }
    const KnobValue value = get_knob(tuning, knob);
    if (value == get_knob(Tuning{}, knob)) continue;
    const std::string_view mechanism = knob.key == knob.mechanism() ? "" : knob.mechanism();
    if (mechanism != section) {
      section = mechanism;
      text += fmt::format("\n[{}]\n", section);
    }
    const std::string_view key = section.empty() ? knob.key : knob.key.substr(section.size() + 1);
    text += fmt::format("{} = {}\n", key, toml_text_of(value));
  }
  return text;
}

std::string rewrite_tuning(const TuningFile& file, const Tuning& changed) {
  const auto root = detail::parse_toml(file.text, file.path);
  const std::size_t had_rows = file.has_rows ? file.tuning.wall.exits.size() : 0;
  const bool rows_change = changed.wall.exits != file.tuning.wall.exits;
  // Rows that are taken out, or were never written as rows, leave no text to keep.
  if (!root || (rows_change && changed.wall.exits.size() < had_rows)) return write_tuning(changed);
  Rewriter rewriter(file, *root, changed);
  return rewriter.rewrite(rows_change ? changed.wall.exits.size() : had_rows);
}

std::optional<Problem> save_tuning(const TuningFile& source, const Tuning& meant,
                                   const std::string& path) {
  std::string text;
  if (source.text.empty()) {
    text = write_tuning(meant);
  } else {
    const auto kept = parse_tuning(rebased_text(source, path), path);
    if (!kept) return kept.error().front();
    text = rewrite_tuning(*kept, meant);
  }
  const auto again = parse_tuning(text, path);
  if (!again) return again.error().front();
  const std::string differs = first_difference(meant, again->tuning);
  if (differs.empty()) return write_file(path, text);
  return Problem{
      ProblemCode::cannot_write, path, 0, 0, differs, "a text in which it cannot be changed",
      "it written another way",  ""};
}

}  // namespace bushbaby
