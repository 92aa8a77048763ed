// The rules of a character in every combination of zones that it can be in at once.
//
//     const CompiledBook compiled = compile_book(tuning, level.zones);   // core/tuning/zones.h
//     place(character, level.start, compiled.book, world);
//     advance(character, controls, compiled.book, world);
#pragma once

#include <cstddef>
#include <cstdint>
#include <utility>
#include <vector>

#include <bushbaby/core/motion/rules.h>
#include <bushbaby/core/world/zone.h>

namespace bushbaby {

/// Names the rules of a combination in a book; 0 are those without any zone.
using RulesId = std::uint32_t;

class Rulebook {
 public:
  struct Entry {
    ZoneSet zones = no_zones();
    Rules rules;
  };

  /// A character to which no zone does anything.
  explicit Rulebook(const Rules& rules = {});
  /// The first entry is the one without zones. `ranking` has every zone, those that have the last
  /// word first.
  Rulebook(std::vector<Entry> entries, std::vector<ZoneId> ranking);

  [[nodiscard]] std::size_t size() const noexcept { return entries_.size(); }
  /// The rules of that id; those without zones if the book has no such id.
  [[nodiscard]] const Rules& rules(RulesId id) const noexcept {
    return entries_[id < entries_.size() ? id : 0].rules;
  }
  [[nodiscard]] const Entry& entry(RulesId id) const noexcept { return entries_[id]; }
  /// Whether any zone of it turns a body.
  [[nodiscard]] bool turns() const noexcept { return turns_; }

  /// The rules of a combination. Of one that the book does not have, zones are omitted until it
  /// does, those of the least say first.
  [[nodiscard]] RulesId find(ZoneSet zones) const noexcept;

 private:
  [[nodiscard]] std::size_t say_of(ZoneId zone) const noexcept;

  std::vector<Entry> entries_;
  // The entries by their zones, apart from their rules, which are long; and, by zone, the entry of
  // that zone alone, 0 if there is none or it is not known here.
  std::vector<std::pair<ZoneSet, RulesId>> sorted_;
  std::vector<RulesId> alone_;
  std::vector<std::size_t> say_;  // by zone: its place in the ranking
  bool turns_ = false;
};

}  // namespace bushbaby
