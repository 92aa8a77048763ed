#include "desk.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <utility>

#include <fmt/format.h>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/core/tuning/zones.h"

#include "dial.h"

namespace bushbaby::live {
namespace {

// The tuning as a file of the same convention, for reading and telling values of it.
TuningFile as_file(const TuningFile& file, const Tuning& tuning) {
  TuningFile other;
  other.tuning = tuning;
  other.convention = file.convention;
  other.path = file.path;
  return other;
}

}  // namespace

Desk::Desk(TuningFile file, Level level, const Rulebook& book)
    : file_(std::move(file)),
      level_(std::move(level)),
      present_(file_.tuning),
      good_(file_.tuning),
      amplified_(file_.tuning),
      book_(book),
      file_book_(book),
      amplified_book_(book) {}

const Rulebook& Desk::book(InForce whose) const noexcept {
  if (whose == InForce::file) return file_book_;
  return whose == InForce::amplified && amplifies_ ? amplified_book_ : book_;
}

const Tuning& Desk::tuning(InForce whose) const noexcept {
  if (whose == InForce::file) return file_.tuning;
  return whose == InForce::amplified && amplifies_ ? amplified_ : good_;
}

void Desk::begin_step(const std::string& what, const std::string& open) {
  undone_.clear();
  if (!open.empty() && open == open_) {
    done_.back().what = what;
    return;
  }
  constexpr std::size_t kMostSteps = 10000;
  if (done_.size() == kMostSteps) done_.erase(done_.begin());
  done_.push_back({present_, what});
  open_ = open;
}

void Desk::check() {
  refusals_.clear();
  end_amplifying();
  CompiledBook compiled = compile_book(present_, level_.zones);
  ++version_;
  if (compiled.ok()) {
    good_ = present_;
    book_ = std::move(compiled.book);
    return;
  }
  for (const ZoneViolation& wrong : compiled.violations) {
    std::string words = describe(wrong.violation, units());
    if (!wrong.zones.empty()) {
      const std::string& zone = level_.zones[wrong.zones.front()].name;
      words += fmt::format(" (in {})", zone.empty() ? "a zone" : zone);
    }
    refusals_.emplace(wrong.violation.key, std::move(words));
  }
}

std::optional<std::string> Desk::set(const KnobPlace& place, const KnobValue& value) {
  Tuning changed = present_;
  if (const auto violation = set_knob(changed, *place.knob, value, place.row)) {
    return describe(*violation, units());
  }
  const KnobValue before = get_knob(present_, *place.knob, place.row);
  if (before == value) return std::nullopt;
  const std::string key = place.key();
  begin_step(key, key);
  present_ = std::move(changed);
  check();
  const auto refusal = refusals_.begin();
  if (refusal == refusals_.end()) return std::nullopt;
  return refusal->second;
}

std::optional<std::string> Desk::type(const KnobPlace& place, const std::string& text) {
  TuningFile trial = as_file(file_, present_);
  const Setting setting(fmt::format("{}={}", place.key(), text), place.key());
  if (const auto problem = apply_setting(trial, setting)) {
    if (!problem->expected.empty()) return "expected " + problem->expected;
    return problem->found;
  }
  settle();
  return set(place, get_knob(trial.tuning, *place.knob, place.row));
}

void Desk::reset_knob(const KnobPlace& place) {
  settle();
  if (!place.knob->has_row(file_.tuning, place.row)) return;
  (void)set(place, get_knob(file_.tuning, *place.knob, place.row));
  settle();
}

void Desk::put_all_back() { take(file_.tuning, "all as in the file"); }

void Desk::take(const Tuning& tuning, const std::string& what) {
  settle();
  begin_step(what, {});
  present_ = tuning;
  check();
}

void Desk::undo() {
  if (done_.empty()) return;
  settle();
  undone_.push_back({present_, done_.back().what});
  present_ = done_.back().tuning;
  done_.pop_back();
  check();
}

void Desk::redo() {
  if (undone_.empty()) return;
  settle();
  done_.push_back({present_, undone_.back().what});
  present_ = undone_.back().tuning;
  undone_.pop_back();
  check();
}

bool Desk::is_changed(const KnobPlace& place) const {
  const bool in_file = place.knob->has_row(file_.tuning, place.row);
  return !in_file || get_knob(present_, *place.knob, place.row) !=
                         get_knob(file_.tuning, *place.knob, place.row);
}

std::vector<KnobPlace> Desk::changed() const {
  std::vector<KnobPlace> all;
  for (const KnobPlace& place : places_of(present_)) {
    if (is_changed(place)) all.push_back(place);
  }
  return all;
}

bool Desk::amplify(const KnobPlace& place) {
  end_amplifying();
  const KnobValue value = get_knob(good_, *place.knob, place.row);
  // What is switched off has no size to grow from.
  const double amount = amount_of(value).value_or(0);
  constexpr double kTimes = 4;
  if (amount == 0) return false;
  // As far as goes together with the rest.
  for (double times = kTimes; times > 1.05; times = 1 + (times - 1) / 2) {
    Tuning large = good_;
    const double most = place.knob->range.hi;
    const double larger = std::min(amount * times, most);
    if (larger == amount || set_knob(large, *place.knob, with_amount(value, larger), place.row)) {
      continue;
    }
    CompiledBook compiled = compile_book(large, level_.zones);
    if (!compiled.ok()) continue;
    amplified_ = std::move(large);
    amplified_book_ = std::move(compiled.book);
    amplifies_ = true;
    ++version_;
    return true;
  }
  return false;
}

void Desk::end_amplifying() {
  if (amplifies_) ++version_;
  amplifies_ = false;
}

std::optional<Problem> Desk::read_again(TuningFile& into) const {
  auto again = load_tuning(file_.path);
  if (!again) return again.error().front();
  const CompiledBook compiled = compile_book(again->tuning, level_.zones);
  if (!compiled.ok()) {
    const Violation& wrong = compiled.violations.front().violation;
    return Problem{ProblemCode::contradiction,
                   file_.path,
                   0,
                   0,
                   wrong.key,
                   describe(wrong.found, again->units()),
                   describe(wrong.expected, again->units()),
                   ""};
  }
  into = std::move(*again);
  return std::nullopt;
}

std::optional<Problem> Desk::save(const std::string& path) {
  if (!refusals_.empty()) {
    const auto& [key, why] = *refusals_.begin();
    return Problem{ProblemCode::contradiction, path, 0, 0, key, why, "values that go together", ""};
  }
  if (auto problem = save_tuning(file_, present_, path)) return problem;
  settle();
  auto again = load_tuning(path);
  if (!again) return again.error().front();
  file_ = std::move(*again);
  file_book_ = book_;
  return std::nullopt;
}

std::optional<Problem> Desk::save_based(const std::string& path) const {
  std::error_code ignored;
  if (std::filesystem::exists(path, ignored)) {
    return Problem{ProblemCode::cannot_write,      path,         0, 0, "",
                   "a file that is there already", "a new name", ""};
  }
  return save_as_file(file_, present_, path);
}

std::optional<Problem> Desk::reload_and_drop() {
  TuningFile again;
  if (auto problem = read_again(again)) return problem;
  file_ = std::move(again);
  file_book_ = compile_book(file_.tuning, level_.zones).book;
  take(file_.tuning, "the file, as it was changed");
  return std::nullopt;
}

std::optional<Problem> Desk::reload() {
  TuningFile again;
  if (auto problem = read_again(again)) return problem;
  Tuning merged = again.tuning;
  for (const KnobPlace& place : changed()) {
    // Rows that the new file lacks have no place to be set in.
    const std::size_t rows = place.knob->list == nullptr ? 0 : place.knob->list->rows(merged);
    if (place.row > rows) continue;
    (void)set_knob(merged, *place.knob, get_knob(present_, *place.knob, place.row), place.row);
  }
  file_ = std::move(again);
  file_book_ = compile_book(file_.tuning, level_.zones).book;
  take(merged, "the file, as it was changed");
  return std::nullopt;
}

}  // namespace bushbaby::live
