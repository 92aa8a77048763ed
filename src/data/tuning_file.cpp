#include "bushbaby/data/tuning_file.h"

#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/quantities.h"

#include "inheritance.h"
#include "knob_reading.h"
#include "paths.h"
#include "toml_text.h"

namespace bushbaby {
namespace {

using detail::code_of;
using detail::knob_keys;
using detail::ProblemList;
using detail::read_quantity;
using detail::read_value;
using detail::shown;
using detail::sign_hint;
using detail::suggestion_for;
using detail::TextMap;

// What a file takes: knobs, the sections that they stand in, and what is no knob.
const std::vector<std::string_view>& file_keys() {
  static const std::vector<std::string_view> keys = [] {
    std::vector<std::string_view> all{"format", "convention", "based_on"};
    for (const Knob& knob : knobs()) all.push_back(knob.key);
    for (const Knob& knob : knobs()) {
      // The sections that knobs stand in.
      for (std::size_t dot = knob.key.find('.'); dot != std::string_view::npos;
           dot = knob.key.find('.', dot + 1)) {
        const std::string_view section = knob.key.substr(0, dot);
        if (std::find(all.begin(), all.end(), section) == all.end()) all.push_back(section);
      }
    }
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

class Reader {
 public:
  Reader(TuningFile& file, ProblemList& problems)
      : file_(file), problems_(problems), map_(file.text) {}

  // The convention and the tick rate come first, wherever they stand: other values depend on them.
  // A rate that is given takes the place of the file's.
  void read_file(const toml::table& root, std::optional<double> given_rate) {
    detail::read_convention(root, file_.convention, problems_);
    rate_is_given_ = given_rate.has_value();
    const auto rate = rate_is_given_ ? given_rate : root.at_path("loop.tick_rate").value<double>();
    if (rate) {
      Tuning at_rate = file_.tuning;
      // Out of range, it is reported when its own turn comes.
      if (!set_knob(at_rate, *find_knob("loop.tick_rate"), *rate)) {
        // What is inherited in ticks keeps its length.
        file_.tuning = at_tick_rate(file_.tuning, at_rate.loop.tick_rate);
      }
    }
    forget_replaced(root);
    read(root, "");
  }

 private:
  // Two of a group of knobs that determine each other replace all of the group that is inherited.
  void forget_replaced(const toml::table& root) {
    for (const auto& group : detail::determining_groups()) {
      const auto given = std::count_if(group.begin(), group.end(), [&root](const char* key) {
        return root.at_path(key).node() != nullptr;
      });
      if (given < 2) continue;
      for (const char* key : group) (void)set_knob(file_.tuning, *find_knob(key), {});
    }
  }

  void read(const toml::table& table, const std::string& prefix) {
    for (const auto& [key, node] : table) {
      const std::string name = prefix + std::string(key.str());
      if (name == "format" || name == "convention" || name == "based_on") continue;
      if (const KnobList* list = find_list(name)) {
        read_rows(*list, node);
      } else if (const Knob* knob = find_knob(name)) {
        read_knob({knob, 0}, key, node);
      } else if (is_section(name)) {
        read_section(name, node);
      } else {
        add_unknown(key, name);
      }
    }
  }

  // A key that does not exist is perhaps one that others call so.
  void add_unknown(const toml::key& key, const std::string& name) {
    if (const auto meant = detail::key_meant_by(name)) {
      problems_.add(ProblemCode::unknown_name, key.source(), "",
                    fmt::format("unknown key {}", shown(name)), "", *meant);
    } else {
      problems_.unknown(key, name, file_keys());
    }
  }

  void read_section(const std::string& name, const toml::node& node) {
    if (const toml::table* section = node.as_table()) {
      read(*section, name + ".");
    } else {
      problems_.add(ProblemCode::wrong_type, node.source(), name, shown(node), "a table");
    }
  }

  // Rows of its own take the place of all that a file inherits.
  void read_rows(const KnobList& list, const toml::node& node) {
    const toml::array* rows = node.as_array();
    const bool tables = rows != nullptr && rows->is_homogeneous(toml::node_type::table);
    if (!tables && (rows == nullptr || !rows->empty())) {
      problems_.add(ProblemCode::wrong_type, node.source(), std::string(list.key), shown(node),
                    fmt::format("sections headed [[{}]]", list.key));
      return;
    }
    list.resize(file_.tuning, 0);
    file_.lists.insert(list.key);
    for (std::size_t row = 0; row < rows->size(); ++row) {
      const toml::table& table = *rows->get(row)->as_table();
      list.resize(file_.tuning, row + 1);
      for (const auto& [key, value] : table) {
        const std::string name = fmt::format("{}.{}", list.key, key.str());
        if (const Knob* knob = find_knob(name)) {
          read_knob({knob, row}, key, value);
        } else {
          add_unknown(key, name);
        }
      }
    }
  }

  void read_knob(const KnobPlace& place, const toml::key& key, const toml::node& node) {
    const Knob& knob = *place.knob;
    KnobValue value;
    if (!read_value(node, knob, file_.units(), value)) {
      problems_.add(ProblemCode::wrong_type, node.source(), std::string(knob.key), shown(node),
                    describe(describe_expected(knob), file_.units()));
      return;
    }
    if (knob.key == "loop.tick_rate" && rate_is_given_) value = file_.tuning.loop.tick_rate;
    if (const auto violation = set_knob(file_.tuning, knob, value, place.row)) {
      problems_.add(code_of(value, knob), node.source(), violation->key, shown(node),
                    describe(violation->expected, file_.units()) +
                        sign_hint(file_.tuning, place, value, shown(node)),
                    suggestion_for(value, knob));
      return;
    }
    file_.places[place.key()] = {map_.span_of(key.source()), map_.span_of(node.source())};
  }

  TuningFile& file_;
  ProblemList& problems_;
  TextMap map_;
  bool rate_is_given_ = false;
};

std::vector<Problem> located(const TuningFile& file, const std::vector<Violation>& violations) {
  std::vector<Problem> problems;
  for (const Violation& violation : violations) {
    Problem problem{ProblemCode::contradiction,
                    file.path,
                    0,
                    0,
                    violation.key,
                    describe(violation.found, file.units()),
                    describe(violation.expected, file.units()),
                    ""};
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

Result<TuningFile> parse_with_bases(std::string text, const std::string& path,
                                    std::vector<std::string> descendants,
                                    std::optional<double> tick_rate = std::nullopt);

// The tuning that a file is based on, with those that this one is based on in turn. `descendants`
// are the files that lead here.
Result<TuningFile> read_base(const toml::node& node, const std::string& path,
                             std::vector<std::string> descendants) {
  ProblemList problems(path);
  const auto name = node.value_exact<std::string>();
  if (!name || name->empty()) {
    problems.add(ProblemCode::wrong_type, node.source(), "based_on", shown(node),
                 "the name of a tuning file in quotes");
    return tl::unexpected(problems.take());
  }
  const std::string base = detail::path_beside(path, *name);
  descendants.push_back(detail::normal_path(path));
  constexpr std::size_t kMostBases = 32;
  if (descendants.size() > kMostBases) {
    problems.add(ProblemCode::contradiction, node.source(), "based_on",
                 fmt::format("a chain of more than {} tunings", kMostBases), "a shorter one");
    return tl::unexpected(problems.take());
  }
  if (std::find(descendants.begin(), descendants.end(), base) != descendants.end()) {
    problems.add(ProblemCode::contradiction, node.source(), "based_on", shown(node),
                 "a tuning that is not based on this one");
    return tl::unexpected(problems.take());
  }
  auto text = read_file(base);
  if (!text) {
    problems.add(ProblemCode::cannot_read, node.source(), "based_on",
                 fmt::format("{}: {}", base, text.error().front().found), "a readable file");
    return tl::unexpected(problems.take());
  }
  return parse_with_bases(std::move(*text), base, std::move(descendants));
}

Result<TuningFile> parse_with_bases(std::string text, const std::string& path,
                                    std::vector<std::string> descendants,
                                    std::optional<double> tick_rate) {
  TuningFile file;
  file.path = path;
  file.text = std::move(text);
  const auto table = detail::parse_toml(file.text, path, kTuningFormat);
  if (!table) return tl::unexpected(table.error());
  ProblemList problems(path);
  detail::check_format(*table, kTuningFormat, problems);
  if (!problems.empty()) return tl::unexpected(problems.take());
  if (const toml::node* node = table->get("based_on")) {
    auto base = read_base(*node, path, std::move(descendants));
    if (!base) return base;
    file.tuning = std::move(base->tuning);
    file.based_on = base->path;
    file.based_on_value = TextMap(file.text).span_of(node->source());
  }
  Reader(file, problems).read_file(*table, tick_rate);
  if (!problems.empty()) return tl::unexpected(problems.take());
  return file;
}

// The name nearest to a key that does not exist; of a list, with the row that was meant.
std::string nearest_key(std::string_view key) {
  if (const Knob* knob = find_knob(key); knob != nullptr && knob->list != nullptr) {
    return KnobPlace{knob, 0}.key();  // a knob of rows, without its row
  }
  for (const KnobList& list : knob_lists()) {
    const std::size_t dot = key.find('.', list.key.size() + 1);
    if (!list.has(key) || dot == std::string_view::npos) continue;
    const std::string bare = fmt::format("{}.{}", list.key, key.substr(dot + 1));
    const std::string_view near = nearest_name(bare, file_keys());
    if (!list.has(near)) return {};
    return fmt::format("{}.{}", key.substr(0, dot), list.name_of(near));
  }
  return std::string(nearest_name(key, knob_keys()));
}

// A setting taken apart; its parts are empty where there is no '='.
struct Assignment {
  std::string_view key;
  std::string_view value;
};

Assignment split(std::string_view setting) {
  const std::size_t equals = std::min(setting.find('='), setting.size());
  return {setting.substr(0, equals), setting.substr(std::min(equals + 1, setting.size()))};
}

// A value in quotes, as it stands in files, means the same as without.
std::string_view without_quotes(std::string_view text) {
  const bool quoted = text.size() >= 2 && (text.front() == '"' || text.front() == '\'') &&
                      text.back() == text.front();
  return quoted ? text.substr(1, text.size() - 2) : text;
}

// Whoever writes px per tick and forgets to say so has a character of many blocks whose jump takes
// forever: no level is built for that.
void add_convention_remark(const Tuning& tuning, std::vector<std::string>& remarks) {
  constexpr double kTallest = 8;      // u
  constexpr double kFastest = 60;     // u/s
  constexpr double kHighest = 20;     // u
  constexpr double kSlowestApex = 4;  // s
  const JumpAnswer jump = derive_jump(jump_ask(tuning), jump_loop(tuning), jump_shape(tuning));
  if (!jump.ok()) return;
  const double apex_time = jump.launch_speed / jump.gravity;
  const double height = jump.launch_speed * apex_time / 2;
  const bool per_tick = apex_time > kSlowestApex;
  const bool pixels =
      tuning.body.height > kTallest || tuning.run.top_speed > kFastest || height > kHighest;
  if (!per_tick && !pixels) return;
  remarks.push_back(
      fmt::format("in u and s, the body is {:.3g} u tall, runs {:.3g} u/s, and jumps {:.3g} u high "
                  "in {:.3g} s; "
                  "if these numbers are pixels{}, add: [convention] one_unit = \"16 px\", vertical "
                  "= \"down\"{}",
                  tuning.body.height, tuning.run.top_speed, height, apex_time,
                  per_tick ? " per tick" : "", per_tick ? ", time = \"tick\"" : ""));
}

// The tick rate that the last of some settings gives, if it is one.
std::optional<double> rate_in(const std::vector<Setting>& settings) {
  const Knob& knob = *find_knob("loop.tick_rate");
  std::optional<double> rate;
  for (const Setting& setting : settings) {
    const auto [key, value] = split(setting.text);
    if (key != knob.key) continue;
    const auto number = parse_quantity(without_quotes(value), knob.dimension, {});
    Tuning trial;
    if (number && !set_knob(trial, knob, *number)) rate = number;
  }
  return rate;
}

}  // namespace

std::vector<Setting> parse_settings(std::string_view text, const std::string& option) {
  std::vector<Setting> settings;
  while (!text.empty()) {
    const std::size_t end = std::min(text.find(','), text.size());
    const auto [key, value] = split(text.substr(0, end));
    const bool assigns = text.substr(0, end).find('=') != std::string_view::npos;
    std::string setting(detail::trimmed(key));
    if (assigns) setting.append("=").append(detail::trimmed(value));
    if (!setting.empty()) settings.emplace_back(std::move(setting), option);
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  return settings;
}

Result<KnobValue> value_for(const TuningFile& file, const std::string& key, const std::string& text,
                            const std::string& option) {
  TuningFile trial = file;
  if (auto problem = apply_setting(trial, Setting(key + "=" + text, option))) {
    return tl::unexpected(std::vector<Problem>{std::move(*problem)});
  }
  const KnobPlace place = *find_place(key);
  return get_knob(trial.tuning, *place.knob, place.row);
}

std::optional<Problem> apply_setting(TuningFile& file, const Setting& setting) {
  const bool as_option = !setting.option.empty();
  const auto problem = [&](ProblemCode code, std::string key, std::string found,
                           std::string expected, std::string_view suggestion = {}) {
    return Problem{code,
                   as_option ? setting.option : "--set " + shown(setting.text),
                   0,
                   0,
                   as_option ? std::string() : std::move(key),
                   std::move(found),
                   std::move(expected),
                   std::string(suggestion)};
  };
  if (setting.text.find('=') == std::string::npos) {
    return problem(ProblemCode::bad_syntax, "", "no '='", "knob=value, such as run.top_speed=8");
  }
  const auto [key, written] = split(setting.text);
  const std::string_view text = without_quotes(written);
  const auto place = find_place(key);
  if (!place) {
    return problem(ProblemCode::unknown_name, "", "unknown key " + shown(key), "",
                   detail::key_meant_by(key).value_or(nearest_key(key)));
  }
  const Knob* knob = place->knob;
  const std::size_t rows = knob->list != nullptr ? knob->list->rows(file.tuning) : 0;
  if (place->row > rows) {
    return problem(ProblemCode::out_of_range, std::string(key),
                   fmt::format("row {} of {}", place->row + 1, knob->list->key),
                   fmt::format("a row from 1 to {}", rows + 1));
  }
  const Units units = file.units();
  KnobValue value;
  if (text == "true" || text == "false") {
    value = text == "true";
  } else if (const auto number = parse_number(text)) {
    value = from_convention(units.convention, *knob, *number, units.tick_rate);
  } else if (const auto quantity = read_quantity(text, *knob, units)) {
    value = *quantity;
  } else if (!text.empty()) {
    value = std::string(text);
  }
  if (const auto violation = set_knob(file.tuning, *knob, value, place->row)) {
    return problem(
        ProblemCode::out_of_range, violation->key, text.empty() ? "nothing" : shown(text),
        describe(violation->expected, units) + sign_hint(file.tuning, *place, value, text),
        suggestion_for(value, *knob));
  }
  return std::nullopt;
}

Result<TuningFile> parse_tuning(std::string text, const std::string& path,
                                const std::vector<Setting>& settings) {
  auto file = parse_with_bases(std::move(text), path, {}, rate_in(settings));
  if (!file) return file;
  std::vector<Problem> problems;
  for (const Setting& setting : settings) {
    if (auto problem = apply_setting(*file, setting)) problems.push_back(std::move(*problem));
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return file;
}

Result<Compiled> check_tuning(const TuningFile& file) {
  Compiled compiled = compile(file.tuning);
  if (!compiled.ok()) return tl::unexpected(located(file, compiled.violations));
  return compiled;
}

std::vector<std::string> unit_remarks(const TuningFile& file) {
  constexpr double kLongest = 10;  // s; longer than any window, jump or dash is likely to be
  std::vector<std::string> remarks;
  if (file.convention.is_default()) add_convention_remark(file.tuning, remarks);
  const double rate = file.tuning.loop.tick_rate;
  for (const KnobPlace& place : places_of(file.tuning)) {
    const KnobValue value = get_knob(file.tuning, *place.knob, place.row);
    const auto* duration = std::get_if<Duration>(&value);
    if (duration == nullptr || !(seconds(*duration, rate) > kLongest)) continue;
    const bool in_ticks = duration->unit == Duration::Unit::ticks;
    remarks.push_back(fmt::format(
        "{} is {:.6g} s long, which is {:.6g} ticks; write {}ms if "
        "milliseconds were meant{}",
        place.key(), seconds(*duration, rate), seconds(*duration, rate) * rate, duration->amount,
        in_ticks ? "" : fmt::format(", {}ticks if ticks were", duration->amount)));
  }
  return remarks;
}

Result<TuningFile> load_tuning(const std::string& path, const std::vector<Setting>& settings) {
  auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  auto file = parse_tuning(std::move(*text), path, settings);
  if (!file) return file;
  if (const auto checked = check_tuning(*file); !checked) return tl::unexpected(checked.error());
  return file;
}

}  // namespace bushbaby
