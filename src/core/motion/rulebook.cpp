#include "bushbaby/core/motion/rulebook.h"

#include <algorithm>
#include <utility>

namespace bushbaby {

Rulebook::Rulebook(const Rules& rules) : Rulebook({Entry{no_zones(), rules}}, {}) {}

Rulebook::Rulebook(std::vector<Entry> entries, std::vector<ZoneId> ranking)
    : entries_(std::move(entries)) {
  alone_.assign(ranking.size(), 0);
  for (RulesId id = 0; id < entries_.size(); ++id) {
    const ZoneSet& zones = entries_[id].zones;
    sorted_.emplace_back(zones, id);
    if (zones[1] == kNoZone && zones[0] < alone_.size()) alone_[zones[0]] = id;
  }
  std::sort(sorted_.begin(), sorted_.end());
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
    if (zones[0] == kNoZone) return 0;
    const bool is_alone = zones[1] == kNoZone && zones[0] < alone_.size();
    if (is_alone && alone_[zones[0]] != 0) return alone_[zones[0]];
    const auto at =
        std::lower_bound(sorted_.begin(), sorted_.end(), zones,
                         [](const auto& entry, const ZoneSet& set) { return entry.first < set; });
    if (at != sorted_.end() && at->first == zones) return at->second;
    // Without the zone that has least to say.
    std::size_t least = 0;
    std::size_t count = 0;
    for (; count < zones.size() && zones[count] != kNoZone; ++count) {
      if (say_of(zones[count]) >= say_of(zones[least])) least = count;
    }
    for (std::size_t i = least; i + 1 < zones.size(); ++i) zones[i] = zones[i + 1];
    zones.back() = kNoZone;
  }
}

}  // namespace bushbaby
