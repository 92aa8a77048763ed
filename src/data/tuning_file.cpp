#include "bushbaby/data/tuning_file.h"

#include <algorithm>
#include <charconv>

#include <fmt/format.h>

#include "bushbaby/data/files.h"

#include "toml_text.h"

namespace bushbaby {
namespace {

using detail::ProblemList;
using detail::shown;
using detail::TextMap;
using detail::toml_text_of;

const std::vector<std::string_view>& file_keys() {
  static const std::vector<std::string_view> keys = [] {
    std::vector<std::string_view> all{"format", "convention"};
    for (const Knob& knob : knobs()) all.push_back(knob.key);
    return all;
  }();
  return keys;
}

bool is_section(std::string_view name) {
  return std::any_of(knobs().begin(), knobs().end(), [name](const Knob& knob) {
    return knob.key.size() > name.size() && knob.key.substr(0, name.size()) == name &&
           knob.key[name.size()] == '.';
  });
}

bool takes_duration(const Knob& knob) { return knob.dimension == Dimension::time; }

// The knob value that a TOML node stands for, or nothing if no knob takes such a node.
std::optional<KnobValue> value_in(const toml::node& node, const Knob& knob) {
  if (const auto number = detail::number_in(node)) return KnobValue{*number};
  if (const auto flag = node.value_exact<bool>()) return KnobValue{*flag};
  if (auto text = node.value_exact<std::string>()) {
    if (!takes_duration(knob)) return KnobValue{std::move(*text)};
    if (const auto duration = parse_duration(*text)) return KnobValue{*duration};
  }
  return std::nullopt;
}

class Reader {
 public:
  Reader(TuningFile& file, ProblemList& problems)
      : file_(file), problems_(problems), map_(file.text) {}

  // The convention and the tick rate come first, wherever they stand: other values depend on them.
  void read_file(const toml::table& root) {
    detail::read_convention(root, file_.convention, problems_);
    if (const auto rate = root.at_path("loop.tick_rate").value<double>()) {
      // Out of range, it is reported when its own turn comes.
      (void)set_knob(file_.tuning, *find_knob("loop.tick_rate"), *rate);
    }
    read(root, "");
  }

 private:
  void read(const toml::table& table, const std::string& prefix) {
    for (const auto& [key, node] : table) {
      const std::string name = prefix + std::string(key.str());
      if (name == "format" || name == "convention") continue;
      if (const Knob* knob = find_knob(name)) {
        read_knob(*knob, key, node, table.is_inline());
      } else if (is_section(name)) {
        read_section(name, node);
      } else {
        problems_.unknown(key, name, file_keys());
      }
    }
  }

  void read_section(const std::string& name, const toml::node& node) {
    if (const toml::table* section = node.as_table()) {
      read(*section, name + ".");
    } else {
      problems_.add(ProblemCode::wrong_type, node.source(), name, shown(node), "a table");
    }
  }

  void read_knob(const Knob& knob, const toml::key& key, const toml::node& node, bool inlined) {
    auto value = value_in(node, knob);
    if (!value) {
      problems_.add(ProblemCode::wrong_type, node.source(), std::string(knob.key), shown(node),
                    describe_expected(knob));
      return;
    }
    value = from_convention(file_.convention, knob, *value, file_.tuning.loop.tick_rate);
    if (const auto violation = set_knob(file_.tuning, knob, *value)) {
      problems_.add(code_of(*value, knob), node.source(), violation->key, shown(node),
                    violation->expected, suggestion_for(*value, knob));
      return;
    }
    file_.places[std::string(knob.key)] = {map_.span_of(key.source()), map_.span_of(node.source()),
                                           inlined};
  }

  static ProblemCode code_of(const KnobValue& value, const Knob& knob) {
    const bool numeric =
        std::holds_alternative<double>(value) || std::holds_alternative<Duration>(value);
    const bool choice = std::holds_alternative<ChoiceBinding>(knob.binding);
    if (choice && std::holds_alternative<std::string>(value)) return ProblemCode::unknown_name;
    return numeric && knob.dimension != Dimension::number ? ProblemCode::out_of_range
                                                          : ProblemCode::wrong_type;
  }

  static std::string suggestion_for(const KnobValue& value, const Knob& knob) {
    const auto* choice = std::get_if<ChoiceBinding>(&knob.binding);
    const auto* text = std::get_if<std::string>(&value);
    if (choice == nullptr || text == nullptr) return {};
    return std::string(nearest_name(*text, {choice->names, choice->names + choice->count}));
  }

  TuningFile& file_;
  ProblemList& problems_;
  TextMap map_;
};

std::vector<Problem> located(const TuningFile& file, const std::vector<Violation>& violations) {
  std::vector<Problem> problems;
  for (const Violation& violation : violations) {
    Problem problem{ProblemCode::contradiction, file.path, 0, 0, violation.key, violation.found,
                    violation.expected,         ""};
    // A violation of a whole section stands where its first knob does.
    const auto at = file.places.lower_bound(violation.key);
    if (at != file.places.end() && at->first.compare(0, violation.key.size(), violation.key) == 0) {
      problem.line = at->second.key.line;
      problem.column = at->second.key.column;
    }
    problems.push_back(std::move(problem));
  }
  return problems;
}

// ---- writing ------------------------------------------------------------------------------------

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

}  // namespace

std::optional<double> parse_number(std::string_view text) {
  double number = 0;
  if (!text.empty() && text.front() == '+') text.remove_prefix(1);
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
  if (error != std::errc{} || end != text.data() + text.size()) return std::nullopt;
  return number;
}

std::optional<Duration> parse_duration(std::string_view text) {
  const auto ends_with = [&text](std::string_view unit) {
    return text.size() > unit.size() && text.substr(text.size() - unit.size()) == unit;
  };
  const auto amount = [&text](std::size_t unit_length) {
    return parse_number(text.substr(0, text.size() - unit_length));
  };
  if (ends_with("ms")) {
    if (const auto number = amount(2)) return Duration{*number / 1000};
  } else if (ends_with("t")) {
    if (const auto number = amount(1)) return Duration{*number, Duration::Unit::ticks};
  } else if (ends_with("s")) {
    if (const auto number = amount(1)) return Duration{*number};
  } else if (const auto number = amount(0)) {
    return Duration{*number};
  }
  return std::nullopt;
}

Result<TuningFile> parse_tuning(std::string text, const std::string& path) {
  TuningFile file;
  file.path = path;
  file.text = std::move(text);
  const auto table = detail::parse_toml(file.text, path);
  if (!table) return tl::unexpected(table.error());
  ProblemList problems(path);
  detail::check_format(*table, kTuningFormat, problems);
  if (problems.empty()) Reader(file, problems).read_file(*table);
  if (!problems.empty()) return tl::unexpected(problems.take());
  return file;
}

std::optional<Problem> apply_setting(TuningFile& file, std::string_view setting) {
  const auto problem = [&](ProblemCode code, std::string key, std::string found,
                           std::string expected, std::string_view suggestion = {}) {
    return Problem{code,
                   "--set " + shown(setting),
                   0,
                   0,
                   std::move(key),
                   std::move(found),
                   std::move(expected),
                   std::string(suggestion)};
  };
  const std::size_t equals = setting.find('=');
  if (equals == std::string_view::npos) {
    return problem(ProblemCode::bad_syntax, "", "no '='", "knob=value, such as run.top_speed=8");
  }
  const std::string_view key = setting.substr(0, equals);
  const std::string_view text = setting.substr(equals + 1);
  const Knob* knob = find_knob(key);
  if (knob == nullptr) {
    return problem(ProblemCode::unknown_name, "", "unknown key " + shown(key), "",
                   nearest_name(key, file_keys()));
  }
  KnobValue value;
  if (text == "true" || text == "false") {
    value = text == "true";
  } else if (const auto number = parse_number(text)) {
    value = *number;
  } else if (const auto duration = parse_duration(text); duration && takes_duration(*knob)) {
    value = *duration;
  } else if (!text.empty()) {
    value = std::string(text);
  }
  value = from_convention(file.convention, *knob, value, file.tuning.loop.tick_rate);
  if (const auto violation = set_knob(file.tuning, *knob, value)) {
    return problem(ProblemCode::out_of_range, violation->key, shown(violation->found),
                   violation->expected);
  }
  return std::nullopt;
}

Result<Compiled> check_tuning(const TuningFile& file) {
  Compiled compiled = compile(file.tuning);
  if (!compiled.ok()) return tl::unexpected(located(file, compiled.violations));
  return compiled;
}

Result<TuningFile> load_tuning(const std::string& path, const std::vector<std::string>& settings) {
  auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  auto file = parse_tuning(std::move(*text), path);
  if (!file) return file;
  std::vector<Problem> problems;
  for (const std::string& setting : settings) {
    if (auto problem = apply_setting(*file, setting)) problems.push_back(std::move(*problem));
  }
  if (problems.empty()) {
    if (const auto checked = check_tuning(*file); !checked) problems = checked.error();
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return file;
}

std::string write_tuning(const Tuning& tuning) {
  const Tuning defaults;
  std::string text = fmt::format("format = \"{}\"\n", kTuningFormat);
  std::string section;
  for (const Knob& knob : knobs()) {
    const KnobValue value = get_knob(tuning, knob);
    if (value == get_knob(defaults, knob)) continue;
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
  if (!root) return write_tuning(changed);
  const TextMap map(file.text);
  Edits edits;
  std::map<std::string, std::string> new_sections;
  const double old_rate = file.tuning.loop.tick_rate;
  const double new_rate = changed.loop.tick_rate;
  for (const Knob& knob : knobs()) {
    const KnobValue value = get_knob(changed, knob);
    const KnobValue before = get_knob(file.tuning, knob);
    const auto place = file.places.find(knob.key);
    // What is written per tick means something else at another tick rate.
    const bool means_the_same =
        place == file.places.end() || factor_of(file.convention, knob.dimension, new_rate) ==
                                          factor_of(file.convention, knob.dimension, old_rate);
    const bool is_number = std::holds_alternative<double>(value);
    if (value == before && (means_the_same || !is_number)) continue;
    const bool unset = std::holds_alternative<std::monostate>(value);
    const std::string written = toml_text_of(to_convention(file.convention, knob, value, new_rate));
    if (place == file.places.end()) {
      if (!unset) put_in(file, *root, map, knob.key, written, edits, new_sections);
    } else if (unset) {
      take_out(file.text, place->second, edits);
    } else {
      edits.replace(place->second.value.begin, place->second.value.end, written);
    }
  }
  std::string text = edits.apply(file.text);
  for (const auto& [section, lines] : new_sections) {
    if (!text.empty() && text.back() != '\n') text += '\n';
    text += fmt::format("\n[{}]\n{}", section, lines);
  }
  return text;
}

}  // namespace bushbaby
