// The history of what was tried: every setting that stayed for a moment, to come back to.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "desk.h"

namespace bushbaby::live {

/// A fact that was measured with a setting.
struct NotedFact {
  std::string name;
  Dimension dimension = Dimension::number;
  std::optional<double> value;
};

struct HistoryEntry {
  int number = 1;  ///< counted from 1
  Tuning tuning;
  std::vector<std::string>
      changes;         ///< against the file as it was then: "fall.factor 2.2 (was 1.7)"
  std::string name{};  ///< that a person gave it
  bool starred = false;
  std::vector<NotedFact> facts{};
};

class History {
 public:
  /// Looks at what is set, N seconds after the last look. What has stayed for a second and
  /// goes together is written down, unless it was the last thing that was.
  void look(const Desk& desk, double seconds);

  [[nodiscard]] const std::vector<HistoryEntry>& entries() const noexcept { return entries_; }
  /// The entry that is what is set now; none if it is not written down.
  [[nodiscard]] std::optional<std::size_t> current(const Desk& desk) const;

  void rename(std::size_t entry, std::string name) { entries_[entry].name = std::move(name); }
  void star(std::size_t entry, bool starred) { entries_[entry].starred = starred; }
  /// What was measured with a tuning goes to its entries.
  void note(const Tuning& tuning, const std::vector<NotedFact>& facts);

 private:
  void write_down(const Desk& desk);

  std::vector<HistoryEntry> entries_;
  std::uint64_t version_ = 0;
  double stayed_ = 0;  // s
  bool written_ = false;
};

}  // namespace bushbaby::live
