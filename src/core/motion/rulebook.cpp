#include "bushbaby/core/motion/rulebook.h"

#include <algorithm>
#include <utility>

namespace bushbaby {

Rulebook::Rulebook(const Rules& rules) : Rulebook({Entry{no_zones(), rules}}, {}) {}

Rulebook::Rulebook(std::vector<Entry> entries, std::vector<ZoneId> ranking)
    : entries_(std::move(entries)) {
  for (RulesId id = 0; id < entries_.size(); ++id) sorted_.push_back(id);
  std::sort(sorted_.begin(), sorted_.end(),
            [this](RulesId a, RulesId b) { return entries_[a].zones < entries_[b].zones; });
  say_.assign(ranking.size(), ranking.size());
  for (std::size_t place = 0; place < ranking.size(); ++place) {
    if (ranking[place] < say_.size()) say_[ranking[place]] = place;
  }
  turns_ = std::any_of(entries_.begin(), entries_.end(), [](const Entry& entry) {
    return entry.rules.turn.to != Turning::To::nothing;
  });
}

std::size_t Rulebook::say_of(ZoneId zone) const noexcept {
  return zone < say_.size() ? say_[zone] : say_.size();
}

RulesId Rulebook::find(ZoneSet zones) const noexcept {
  for (;;) {
    const auto at = std::lower_bound(
        sorted_.begin(), sorted_.end(), zones,
        [this](RulesId id, const ZoneSet& set) { return entries_[id].zones < set; });
    if (at != sorted_.end() && entries_[*at].zones == zones) return *at;
    // Without the zone that has least to say.
    std::size_t least = 0;
    std::size_t count = 0;
    for (; count < zones.size() && zones[count] != kNoZone; ++count) {
      if (say_of(zones[count]) >= say_of(zones[least])) least = count;
    }
    if (count == 0) return 0;
    for (std::size_t i = least; i + 1 < zones.size(); ++i) zones[i] = zones[i + 1];
    zones.back() = kNoZone;
  }
}

}  // namespace bushbaby
