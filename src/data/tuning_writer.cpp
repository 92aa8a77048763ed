#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>

#include "bushbaby/data/files.h"
#include "bushbaby/data/tuning_file.h"

#include "inheritance.h"
#include "paths.h"
#include "toml_edit.h"
#include "toml_text.h"

namespace bushbaby {
namespace {

using detail::toml_text_of;

// The keys and values of a row, its defaults omitted, except for what stands first in it.
std::vector<std::pair<std::string, std::string>> row_members(const KnobList& list,
                                                             const Tuning& tuning, std::size_t row,
                                                             const Convention& convention) {
  std::vector<std::pair<std::string, std::string>> members;
  for (const Knob& knob : knobs()) {
    if (knob.list != &list) continue;
    const KnobValue value = get_knob(tuning, knob, row);
    if (!members.empty() && value == get_knob(Tuning{}, knob)) continue;
    const KnobValue written = to_convention(convention, knob, value, tuning.loop.tick_rate);
    members.emplace_back(list.name_of(knob.key), toml_text_of(written));
  }
  return members;
}

// The path of a knob in a file; rows are counted from 0 there.
detail::TomlPath path_of(const KnobPlace& place) {
  const KnobList* list = place.knob->list;
  if (list == nullptr) return detail::path_of(place.knob->key);
  detail::TomlPath path = detail::path_of(list->key);
  path.push_back(std::to_string(place.row));
  path.emplace_back(list->name_of(place.knob->key));
  return path;
}

// The rows of a list that stand in a file itself.
std::size_t rows_in(const TuningFile& file, const KnobList& list) {
  return file.lists.count(list.key) != 0 ? list.rows(file.tuning) : 0;
}

// Whether two tunings have other rows in a list, or other values in them.
bool rows_differ(const KnobList& list, const Tuning& a, const Tuning& b) {
  if (list.rows(a) != list.rows(b)) return true;
  const std::vector<KnobPlace> places = places_of(a);
  return std::any_of(places.begin(), places.end(), [&](const KnobPlace& place) {
    return place.knob->list == &list &&
           get_knob(a, *place.knob, place.row) != get_knob(b, *place.knob, place.row);
  });
}

// Rewrites the text of a file for a changed tuning.
class Rewriter {
 public:
  Rewriter(const TuningFile& file, const Tuning& changed)
      : file_(file), changed_(changed), text_(file.text) {}

  std::string rewrite() {
    const std::set<std::string> forced = forced_keys();
    for (const KnobPlace& place : places_of(changed_)) {
      const KnobList* list = place.knob->list;
      if (list == nullptr || place.row < rows_in(file_, *list)) rewrite_knob(place, forced);
    }
    for (const KnobList& list : knob_lists()) {
      // Rows that are inherited stay so, unless one of them changes.
      if (!rows_differ(list, file_.tuning, changed_)) continue;
      for (std::size_t row = rows_in(file_, list); row < list.rows(changed_); ++row) {
        text_ = detail::with_row(std::move(text_), detail::path_of(list.key),
                                 row_members(list, changed_, row, file_.convention));
      }
    }
    return std::move(text_);
  }

 private:
  void rewrite_knob(const KnobPlace& place, const std::set<std::string>& forced) {
    const Knob& knob = *place.knob;
    const std::string key = place.key();
    const double old_rate = file_.tuning.loop.tick_rate;
    const double new_rate = changed_.loop.tick_rate;
    const KnobValue value = get_knob(changed_, knob, place.row);
    const bool has_text = file_.places.count(key) > 0;
    // What is written per tick means something else at another tick rate.
    const bool means_the_same =
        !has_text || factor_of(file_.convention, knob.dimension, new_rate) ==
                         factor_of(file_.convention, knob.dimension, old_rate);
    const bool is_number = std::holds_alternative<double>(value);
    const bool same = value == get_knob(file_.tuning, knob, place.row);
    if (same && (means_the_same || !is_number) && forced.count(key) == 0) return;
    const bool unset = std::holds_alternative<std::monostate>(value);
    const bool inherits = !file_.based_on.empty();
    if (unset && !inherits) {
      text_ = detail::without_key(std::move(text_), path_of(place));
    } else if (!unset || has_text || !same) {
      const std::string written =
          unset ? fmt::format("\"{}\"", detail::kUnset)
                : toml_text_of(to_convention(file_.convention, knob, value, new_rate));
      text_ = detail::with_value(std::move(text_), path_of(place), written);
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
  const Tuning& changed_;
  std::string text_;
};

// The text of a file with its base found from another folder.
std::string rebased_text(const TuningFile& file, const std::string& path) {
  if (file.based_on.empty() || detail::is_same_folder(file.path, path)) return file.text;
  std::string text = file.text;
  const TextSpan& at = file.based_on_value;
  return text.replace(at.begin, at.end - at.begin,
                      toml_text_of(detail::name_beside(path, file.based_on)));
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

}  // namespace

std::string write_tuning(const Tuning& tuning, const Convention& convention) {
  std::string text = fmt::format("format = \"{}\"\n", kTuningFormat);
  // What belongs to no section stands before the first.
  if (!tuning.name.empty())
    text += fmt::format("name = {}\n", toml_text_of(KnobValue(tuning.name)));
  if (!convention.is_default()) {
    text += fmt::format(
        "\n[convention]\none_unit = {}\nvertical = \"{}\"\ntime = \"{}\"\n",
        toml_text_of(fmt::format("{} {}", convention.lengths_per_unit, convention.length_name)),
        convention.vertical_down ? "down" : "up", convention.per_tick ? "tick" : "second");
  }
  std::string section;
  const KnobList* list = nullptr;  // the one that was written last, and how many of its rows
  std::size_t rows = 0;
  for (const KnobPlace& place : places_of(tuning)) {
    const Knob& knob = *place.knob;
    if (knob.list != nullptr) {
      if (list != knob.list) rows = 0;
      list = knob.list;
      if (rows == place.row) {
        text = detail::with_row(std::move(text), detail::path_of(list->key),
                                row_members(*list, tuning, rows++, convention));
      }
      continue;
    }
    const KnobValue value = get_knob(tuning, knob);
    const std::string_view mechanism = knob.mechanism();
    if (knob.key == mechanism || value == get_knob(Tuning{}, knob)) continue;
    if (mechanism != section) {
      section = mechanism;
      text += fmt::format("\n[{}]\n", section);
    }
    text +=
        fmt::format("{} = {}\n", knob.key.substr(section.size() + 1),
                    toml_text_of(to_convention(convention, knob, value, tuning.loop.tick_rate)));
  }
  return text;
}

std::string rewrite_tuning(const TuningFile& file, const Tuning& changed) {
  // Rows that are taken out leave no text to keep.
  for (const KnobList& list : knob_lists()) {
    if (list.rows(changed) < rows_in(file, list)) return write_tuning(changed, file.convention);
  }
  return Rewriter(file, changed).rewrite();
}

std::string first_difference(const Tuning& a, const Tuning& b) {
  for (const KnobList& list : knob_lists()) {
    if (list.rows(a) != list.rows(b)) return std::string(list.key);
  }
  for (const KnobPlace& place : places_of(a)) {
    const KnobValue in_a = get_knob(a, *place.knob, place.row);
    const KnobValue in_b = get_knob(b, *place.knob, place.row);
    if (!is_same(in_a, in_b, a.loop.tick_rate)) return place.key();
  }
  return {};
}

std::optional<Problem> save_tuning(const TuningFile& source, const Tuning& meant,
                                   const std::string& path) {
  std::string text;
  if (source.text.empty()) {
    text = write_tuning(meant, source.convention);
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

std::optional<Problem> save_as_file(const TuningFile& base, const Tuning& meant,
                                    const std::string& path) {
  std::string text = write_tuning({}, base.convention);
  const std::size_t first_line = text.find('\n') + 1;
  text.insert(first_line,
              fmt::format("based_on = {}\n", toml_text_of(detail::name_beside(path, base.path))));
  const auto child = parse_tuning(std::move(text), path);
  if (!child) return child.error().front();
  return save_tuning(*child, meant, path);
}

}  // namespace bushbaby
