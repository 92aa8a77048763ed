#include "history.h"

#include <algorithm>

#include <fmt/format.h>

#include "bushbaby/records/explanations.h"

namespace bushbaby::live {
namespace {

bool is_same_tuning(const Tuning& a, const Tuning& b) { return first_difference(a, b).empty(); }

}  // namespace

void History::look(const Desk& desk, double seconds) {
  constexpr double kStays = 1;  // s
  if (version_ != desk.version()) {
    version_ = desk.version();
    stayed_ = 0;
    written_ = false;
  }
  if (written_ || !desk.refusals().empty()) return;
  // What the file says is the first entry, at once: there must be a way back.
  if (entries_.empty()) {
    entries_.push_back({1, desk.file().tuning, {}, "the file", false, {}});
  }
  stayed_ += seconds;
  if (stayed_ < kStays) return;
  written_ = true;
  if (!is_same_tuning(entries_.back().tuning, desk.good())) write_down(desk);
}

void History::write_down(const Desk& desk) {
  HistoryEntry entry;
  entry.number = entries_.back().number + 1;
  entry.tuning = desk.good();
  for (const KnobDifference& one :
       knob_differences(desk.file().tuning, desk.good(), desk.units())) {
    entry.changes.push_back(fmt::format("{} {} (was {})", one.key, one.in_b, one.in_a));
  }
  constexpr std::size_t kMost = 2000;
  if (entries_.size() == kMost) {
    const auto plain =
        std::find_if(entries_.begin() + 1, entries_.end(),
                     [](const HistoryEntry& old) { return !old.starred && old.name.empty(); });
    entries_.erase(plain == entries_.end() ? entries_.begin() + 1 : plain);
  }
  entries_.push_back(std::move(entry));
}

std::optional<std::size_t> History::current(const Desk& desk) const {
  for (std::size_t i = entries_.size(); i-- > 0;) {
    if (is_same_tuning(entries_[i].tuning, desk.good())) return i;
  }
  return std::nullopt;
}

void History::note(const Tuning& tuning, const std::vector<NotedFact>& facts) {
  for (HistoryEntry& entry : entries_) {
    if (is_same_tuning(entry.tuning, tuning)) entry.facts = facts;
  }
}

}  // namespace bushbaby::live
