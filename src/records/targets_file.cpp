#include "bushbaby/records/targets_file.h"

#include <cmath>
#include <filesystem>
#include <map>
#include <memory>

#include <fmt/format.h>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/data/files.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/quantities.h"

#include "data/knob_reading.h"
#include "data/toml_text.h"

namespace bushbaby {
namespace {

using detail::ProblemList;
using detail::shown;

const std::vector<std::string_view>& target_keys() {
  static const std::vector<std::string_view> keys{
      "fact",    "drill",         "aim",     "within",   "between", "at_least",
      "at_most", "follow",        "weight",  "priority", "run",     "lands_on",
      "touches", "never_touches", "ends_on", "count",    "time"};
  return keys;
}

class Reader {
 public:
  Reader(std::string path, const Units& units, ProblemList& problems)
      : path_(std::move(path)), units_(units), problems_(problems) {}

  std::vector<Problem> curve_problems;

  void read(const toml::node& node, std::vector<Target>& targets) {
    table_ = node.as_table();
    if (table_ == nullptr) {
      problems_.add(ProblemCode::wrong_type, node.source(), "target", shown(node), "a table");
      return;
    }
    for (const auto& [key, value] : *table_) {
      const auto& keys = target_keys();
      if (std::find(keys.begin(), keys.end(), key.str()) == keys.end()) {
        problems_.unknown(key, std::string(key.str()), keys);
      }
    }
    Target target;
    const bool follows = table_->contains("follow") || table_->contains("drill");
    if (follows && table_->contains("fact")) {
      refuse(ProblemCode::contradiction, "fact", "a fact beside a drill that follows a curve",
             "one of them alone");
    }
    if (table_->contains("run")) {
      read_run(target);
    } else if (follows) {
      read_curve(target);
    } else {
      read_fact(target);
    }
    read_rest(target);
    targets.push_back(std::move(target));
  }

 private:
  void refuse(ProblemCode code, const char* key, std::string found, std::string expected,
              std::string_view near = {}) {
    const toml::node* node = table_->get(key);
    problems_.add(code, node == nullptr ? table_->source() : node->source(), key, std::move(found),
                  std::move(expected), std::string(near));
  }

  // A number of that dimension, as it is meant.
  std::optional<double> number(const char* key, Dimension dimension, bool needed = false) {
    const toml::node* node = table_->get(key);
    if (node == nullptr) {
      if (needed) refuse(ProblemCode::contradiction, key, "nothing", "a number");
      return std::nullopt;
    }
    const auto value = meant(*node, dimension);
    if (!value) {
      refuse(ProblemCode::wrong_type, key, shown(*node), expected(dimension));
      return std::nullopt;
    }
    return value;
  }

  [[nodiscard]] std::optional<double> meant(const toml::node& node, Dimension dimension) const {
    const auto text = node.value_exact<std::string>();
    const auto value = text && !parse_number(*text) ? parse_quantity(*text, dimension, units_)
                                                    : detail::number_in(node);
    if (!value || !std::isfinite(*value)) return std::nullopt;
    return text ? *value : units_.meant(dimension, *value);
  }

  [[nodiscard]] std::string expected(Dimension dimension) const {
    const std::string text = describe_quantity(dimension, units_);
    return text == "a number" ? "a finite number" : text;
  }

  std::optional<std::string> text(const char* key) {
    const toml::node* node = table_->get(key);
    if (node == nullptr) {
      refuse(ProblemCode::contradiction, key, "nothing", "a text in quotes");
      return std::nullopt;
    }
    auto value = node->value_exact<std::string>();
    if (!value) refuse(ProblemCode::wrong_type, key, shown(*node), "a text in quotes");
    return value;
  }

  // A text that names something.
  std::optional<std::string> name(const char* key, const char* expected) {
    auto value = text(key);
    if (value && value->empty()) {
      refuse(ProblemCode::unknown_name, key, "an empty text", expected);
      value.reset();
    }
    return value;
  }

  // A tolerance: 0 or more.
  double tolerance(const char* key, Dimension dimension) {
    const auto value = number(key, dimension, true);
    if (value && *value < 0) {
      refuse(ProblemCode::out_of_range, key, shown(*table_->get(key)), "0 or more");
    }
    return value.value_or(0);
  }

  void read_fact(Target& target) {
    target.fact = name("fact", "the name of a fact").value_or("");
    if (!target.fact.empty() && drill_of_fact(target.fact) == nullptr) {
      std::vector<std::string_view> names;
      for (const Drill& drill : drills()) {
        for (const FactInfo& info : drill.facts) names.push_back(info.name);
      }
      refuse(ProblemCode::unknown_name, "fact", '"' + shown(target.fact) + '"',
             "a fact that a drill measures", nearest_name(target.fact, names));
    }
    read_one_bound(target);
  }

  // One of the forms of a bound.
  void read_one_bound(Target& target) {
    int forms = 0;
    for (const char* key : {"aim", "between", "at_least", "at_most"}) {
      forms += table_->contains(key) ? 1 : 0;
    }
    if (forms != 1) {
      problems_.add(ProblemCode::contradiction, table_->source(), target.fact,
                    fmt::format("{} bounds", forms),
                    "one of aim (with within), between, at_least, at_most");
      return;
    }
    read_bound(target.bound, dimension_of(target));
  }

  void read_bound(Bound& bound, Dimension dimension) {
    const auto value = [&](const char* key) { return number(key, dimension).value_or(0); };
    if (table_->contains("aim")) {
      bound = {Bound::Form::aim, value("aim"), tolerance("within", dimension)};
    } else if (table_->contains("at_least")) {
      bound = {Bound::Form::at_least, value("at_least"), 0};
    } else if (table_->contains("at_most")) {
      bound = {Bound::Form::at_most, 0, value("at_most")};
    } else {
      read_between(bound, dimension);
    }
  }

  void read_between(Bound& bound, Dimension dimension) {
    const toml::node& node = *table_->get("between");
    const toml::array* list = node.as_array();
    const auto at = [&](std::size_t i) { return meant(*list->get(i), dimension); };
    if (list == nullptr || list->size() != 2 || !at(0) || !at(1) || !(*at(0) <= *at(1))) {
      refuse(ProblemCode::wrong_type, "between", shown(node),
             "[lowest, highest], two numbers in that order");
      return;
    }
    bound = {Bound::Form::between, *at(0), *at(1)};
  }

  // The run of a target, and the one thing that it asks of it.
  void read_run(Target& target) {
    for (const char* other : {"fact", "drill", "follow"}) {
      if (!table_->contains(other)) continue;
      refuse(ProblemCode::contradiction, other, "a fact or a curve beside a run",
             "one of them alone");
    }
    auto stage = read_stage();
    RunAsk ask;
    int asked = 0;
    constexpr RunAsk::What kAll[] = {RunAsk::What::lands_on,      RunAsk::What::touches,
                                     RunAsk::What::never_touches, RunAsk::What::ends_on,
                                     RunAsk::What::count,         RunAsk::What::time};
    for (const RunAsk::What what : kAll) {
      if (!table_->contains(name_of(what))) continue;
      ask.what = what;
      ++asked;
    }
    if (asked != 1) {
      problems_.add(ProblemCode::contradiction, table_->source(), "run",
                    fmt::format("{} things asked of it", asked),
                    "one of lands_on, touches, never_touches, ends_on, count, time");
    }
    if (asked != 1 || !stage) return;
    ask.stage = std::move(stage);
    const std::string key(name_of(ask.what));
    if (ask.what == RunAsk::What::time) {
      read_pair(ask);
    } else {
      ask.name = name(key.c_str(), "a name").value_or("");
    }
    if (ask.what == RunAsk::What::time || ask.what == RunAsk::What::count) {
      if (!ask.name.empty()) check_event(key.c_str(), ask.name);
      if (!ask.then.empty()) check_event(key.c_str(), ask.then);
    } else if (!ask.name.empty()) {
      check_named(key.c_str(), ask);
    }
    target.fact = fmt::format("{} {}{}", key, ask.name, ask.then.empty() ? "" : " to " + ask.then);
    const bool never = ask.what == RunAsk::What::never_touches;
    const bool bounded = ask.what == RunAsk::What::count || ask.what == RunAsk::What::time;
    target.run = std::move(ask);
    target.bound = never ? Bound{Bound::Form::at_most, 0, 0} : Bound{Bound::Form::at_least, 1, 0};
    if (bounded) read_one_bound(target);
  }

  // { level = "…", inputs = "…" }, each file read once.
  std::shared_ptr<const RunStage> read_stage() {
    const toml::table* run = table_->get("run")->as_table();
    const auto path_in = [run](const char* key) {
      return run == nullptr ? std::nullopt : (*run)[key].value_exact<std::string>();
    };
    const auto level = path_in("level");
    const auto inputs = path_in("inputs");
    if (!level || !inputs || run->size() != 2) {
      refuse(ProblemCode::wrong_type, "run", shown(*table_->get("run")),
             "{ level = \"FILE\", inputs = \"FILE\" }");
      return nullptr;
    }
    auto& stage = stages_[*level + '\n' + *inputs];
    if (stage) return stage;
    const auto beside = [this](const std::string& file) {
      return (std::filesystem::path(path_).parent_path() / file).string();
    };
    const auto level_file = load_level_file(beside(*level));
    const auto read = load_inputs(beside(*inputs), units_);
    const auto keep = [this](const std::vector<Problem>& more) {
      curve_problems.insert(curve_problems.end(), more.begin(), more.end());
    };
    if (!level_file) keep(level_file.error());
    if (!read) keep(read.error());
    if (!level_file || !read) return nullptr;
    stage = std::make_shared<const RunStage>(RunStage{level_file->level, *read, *level, *inputs});
    return stage;
  }

  // Two events.
  void read_pair(RunAsk& ask) {
    const toml::node& node = *table_->get("time");
    const toml::array* list = node.as_array();
    const auto at = [list](std::size_t i) { return list->get(i)->value_exact<std::string>(); };
    if (list == nullptr || list->size() != 2 || !at(0) || !at(1)) {
      refuse(ProblemCode::wrong_type, "time", shown(node), "[\"jumped\", \"landed\"], two events");
      return;
    }
    ask.name = *at(0);
    ask.then = *at(1);
  }

  void check_event(const char* key, const std::string& event) {
    std::vector<std::string> names;
    for (const EventMeaning& meaning : event_meanings()) {
      names.emplace_back(meaning.name);
      for (const std::string_view word : meaning.words) {
        if (!word.empty()) names.push_back(fmt::format("{}:{}", meaning.name, word));
      }
    }
    if (std::find(names.begin(), names.end(), event) != names.end()) return;
    refuse(ProblemCode::unknown_name, key, shown(event), "an event, such as landed or jumped:air",
           nearest_name(event, {names.begin(), names.end()}));
  }

  void check_named(const char* key, const RunAsk& ask) {
    std::vector<std::string_view> names;
    for (const Solid& solid : ask.stage->level.solids) names.emplace_back(solid.name);
    const bool zones = ask.what == RunAsk::What::touches || ask.what == RunAsk::What::never_touches;
    if (zones) {
      for (const Zone& zone : ask.stage->level.zones) names.emplace_back(zone.name);
    }
    if (std::find(names.begin(), names.end(), ask.name) != names.end()) return;
    refuse(ProblemCode::unknown_name, key, shown(ask.name),
           fmt::format("the name of a solid{} of {}", zones ? ", or a zone," : "",
                       ask.stage->level_name),
           nearest_name(ask.name, names));
  }

  void read_curve(Target& target) {
    target.fact = name("drill", "the name of a drill").value_or("");
    const Drill* drill = find_drill(target.fact);
    if (!target.fact.empty() && (drill == nullptr || drill->record == nullptr)) {
      std::vector<std::string_view> names;
      for (const Drill& known : drills()) {
        if (known.record != nullptr) names.push_back(known.name);
      }
      refuse(ProblemCode::unknown_name, "drill", '"' + shown(target.fact) + '"',
             fmt::format("one of {}", fmt::join(names, ", ")), nearest_name(target.fact, names));
    }
    target.bound = {Bound::Form::at_most, 0, tolerance("within", Dimension::length)};
    target.curve_name = name("follow", "the name of a curve's file").value_or("");
    if (target.curve_name.empty()) return;
    auto curve = load_curve(
        (std::filesystem::path(path_).parent_path() / target.curve_name).string(), units_);
    if (curve) {
      target.follow = std::move(*curve);
    } else {
      curve_problems.insert(curve_problems.end(), curve.error().begin(), curve.error().end());
    }
  }

  void read_rest(Target& target) {
    if (const auto weight = number("weight", Dimension::number)) {
      target.weight = *weight;
      if (!(*weight > 0)) {
        refuse(ProblemCode::out_of_range, "weight", fmt::format("{}", *weight), "more than 0");
      }
    }
    if (!table_->contains("priority")) return;
    const std::string priority = text("priority").value_or("must");
    if (priority == "should") {
      target.priority = Priority::should;
    } else if (priority != "must") {
      refuse(ProblemCode::unknown_name, "priority", '"' + shown(priority) + '"',
             "\"must\" or \"should\"", nearest_name(priority, {"must", "should"}));
    }
  }

  std::string path_;
  const Units& units_;
  ProblemList& problems_;
  const toml::table* table_ = nullptr;
  std::map<std::string, std::shared_ptr<const RunStage>> stages_;  // by level and inputs
};

// A value of a knob that bounds it.
std::optional<KnobValue> read_end(const toml::node& node, const Knob& knob, const Units& units) {
  KnobValue value;
  Tuning trial;
  if (!detail::read_value(node, knob, units, value) || !amount_of(value)) return std::nullopt;
  // Rows of lists that a fresh tuning lacks are added to it.
  if (set_knob(trial, knob, value, 0)) return std::nullopt;
  return value;
}

// A row that frees a knob.
void read_free(const toml::node& node, const std::string& path, const Units& units,
               ProblemList& problems, std::vector<FreeRow>& rows) {
  const toml::table* table = node.as_table();
  if (table == nullptr) {
    problems.add(ProblemCode::wrong_type, node.source(), "free", shown(node), "a table");
    return;
  }
  for (const auto& [key, value] : *table) {
    if (key.str() != "knob" && key.str() != "between") {
      problems.unknown(key, std::string(key.str()), {"knob", "between"});
    }
  }
  const toml::node* named = table->get("knob");
  const auto name = named == nullptr ? std::nullopt : named->value_exact<std::string>();
  const auto place = name ? find_place(*name) : std::nullopt;
  if (!place || !has_amount(*place->knob)) {
    std::vector<std::string_view> keys;
    for (const Knob& knob : knobs()) {
      if (has_amount(knob)) keys.push_back(knob.key);
    }
    problems.add(ProblemCode::unknown_name, named == nullptr ? table->source() : named->source(),
                 "knob", named == nullptr ? "nothing" : shown(*named),
                 "the key of a knob that is a number or a time",
                 name && !place ? std::string(nearest_name(*name, keys)) : std::string());
    return;
  }
  FreeRow row{*place,
              {},
              {},
              path,
              static_cast<int>(table->source().begin.line),
              static_cast<int>(table->source().begin.column)};
  if (const toml::node* between = table->get("between")) {
    const toml::array* ends = between->as_array();
    const bool is_pair = ends != nullptr && ends->size() == 2;
    const auto lo = is_pair ? read_end(*ends->get(0), *place->knob, units) : std::nullopt;
    const auto hi = is_pair ? read_end(*ends->get(1), *place->knob, units) : std::nullopt;
    if (!lo || !hi || lo->index() != hi->index() || is_in_ticks(*lo) != is_in_ticks(*hi) ||
        !(*amount_of(*lo) < *amount_of(*hi))) {
      problems.add(ProblemCode::wrong_type, between->source(), "between", shown(*between),
                   "[lowest, highest], two values of the knob in that order");
      return;
    }
    row.lo = *lo;
    row.hi = *hi;
  }
  rows.push_back(std::move(row));
}

}  // namespace

Result<TargetsFile> parse_targets_file(std::string_view text, const std::string& path,
                                       const Units& tuning_units) {
  const auto table = detail::parse_toml(detail::without_mark(text), path, kTargetsFormat);
  if (!table) return tl::unexpected(table.error());
  ProblemList problems(path);
  detail::check_format(*table, kTargetsFormat, problems);
  if (!problems.empty()) return tl::unexpected(problems.take());
  TargetsFile file;
  Units units = tuning_units;
  if (table->contains("convention")) {
    units.convention = {};
    detail::read_convention(*table, units.convention, problems);
  }
  Reader reader(path, units, problems);
  for (const auto& [key, node] : *table) {
    if (key.str() == "format" || key.str() == "convention") continue;
    const toml::array* list = node.as_array();
    const std::string name(key.str());
    if (name != "target" && name != "free") {
      problems.unknown(key, name, {"format", "convention", "target", "free"});
    } else if (list == nullptr) {
      problems.add(ProblemCode::wrong_type, node.source(), name, shown(node),
                   fmt::format("sections headed [[{}]]", name));
    } else if (name == "target") {
      for (const toml::node& item : *list) reader.read(item, file.targets);
    } else {
      for (const toml::node& item : *list) read_free(item, path, units, problems, file.free);
    }
  }
  std::vector<Problem> all = problems.take();
  all.insert(all.end(), reader.curve_problems.begin(), reader.curve_problems.end());
  if (all.empty() && file.targets.empty()) {
    all.push_back({ProblemCode::contradiction, path, 0, 0, "", "no targets",
                   "sections headed [[target]]", ""});
  }
  if (!all.empty()) return tl::unexpected(std::move(all));
  return file;
}

Result<std::vector<Target>> parse_targets(std::string_view text, const std::string& path,
                                          const Units& units) {
  auto file = parse_targets_file(text, path, units);
  if (!file) return tl::unexpected(file.error());
  return std::move(file->targets);
}

Result<TargetsFile> load_targets_file(const std::string& path, const Units& units) {
  const auto text = read_file(path);
  if (!text) return tl::unexpected(text.error());
  return parse_targets_file(*text, path, units);
}

Result<std::vector<Target>> load_targets(const std::string& path, const Units& units) {
  auto file = load_targets_file(path, units);
  if (!file) return tl::unexpected(file.error());
  return std::move(file->targets);
}

}  // namespace bushbaby
