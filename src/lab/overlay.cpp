#include "bushbaby/lab/overlay.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <utility>

namespace bushbaby {
namespace {

constexpr double kRounding = 1e-9;

// A character of ours that writes down what a press would do in each tick; else it is the same.
class Watched final : public Subject {
 public:
  explicit Watched(CharacterSubject inner) : inner_(std::move(inner)) {}

  [[nodiscard]] SubjectTraits traits() const override { return inner_.traits(); }
  [[nodiscard]] bool can_stand_on(Terrain terrain) const override {
    return inner_.can_stand_on(terrain);
  }
  [[nodiscard]] bool place(const Stage& stage) override {
    notes_.clear();
    return inner_.place(stage);
  }
  void advance(const Controls& controls) override {
    const Availability press = inner_.jump_now(controls);
    inner_.advance(controls);
    notes_.push_back(note_of(press, inner_.character()));
  }
  [[nodiscard]] Sample observe() const override { return inner_.observe(); }
  [[nodiscard]] bool push(Vec velocity) override { return inner_.push(velocity); }
  [[nodiscard]] Events events() const override { return inner_.events(); }
  [[nodiscard]] bool keep() override {
    kept_ = notes_.size();
    return inner_.keep();
  }
  void go_back() override {
    notes_.resize(kept_);
    inner_.go_back();
  }

  // Of each tick since it was placed.
  [[nodiscard]] const std::vector<TickNote>& notes() const { return notes_; }

 private:
  CharacterSubject inner_;
  std::vector<TickNote> notes_;
  std::size_t kept_ = 0;
};

// Goes on behind the end of a recorded jump, with the button up, until its effects are over.
void go_on(Subject& subject, Trace& trace) {
  constexpr double kAfter = 0.25;  // s
  Controls held = trace.samples.back().held;
  held.jump = false;
  for (double i = 0; i < kAfter * trace.tick_rate; ++i) {
    subject.advance(held);
    trace.samples.push_back(subject.observe());
    trace.samples.back().held = held;
    const Events events = subject.events();
    trace.events.insert(trace.events.end(), events.begin(), events.end());
  }
}

// A trace from the tick of a take-off on, with that as the start of time and place.
Trace from_take_off(const Trace& whole, std::int64_t first, Vec take_off) {
  Trace trace;
  trace.tick_rate = whole.tick_rate;
  trace.true_curve = whole.true_curve;
  for (Sample sample : whole.samples) {
    if (sample.tick < first) continue;
    sample.tick -= first;
    sample.feet = sample.feet - take_off;
    trace.samples.push_back(sample);
  }
  for (Event event : whole.events) {
    if (event.tick <= first) continue;
    event.tick -= first;
    event.place = event.place - take_off;
    trace.events.push_back(event);
  }
  return trace;
}

bool differs(const std::optional<double>& a, const std::optional<double>& b) {
  if (a.has_value() != b.has_value()) return true;
  return a && std::abs(*a - *b) > kRounding * std::max(1.0, std::abs(*a));
}

bool differs(const Compared& row) {
  return std::any_of(row.values.begin(), row.values.end(),
                     [&row](const auto& value) { return differs(row.values.front(), value); });
}

// What is compared of an arc.
struct ArcQuantity {
  const char* name;
  Dimension dimension;
  std::optional<double> (*of)(const Variant& variant, const Arc& arc);
};

constexpr ArcQuantity kArcQuantities[] = {
    {"height", Dimension::length,
     [](const Variant&, const Arc& arc) { return std::optional(arc.height()); }},
    {"time to apex", Dimension::time,
     [](const Variant&, const Arc& arc) { return std::optional(arc.rise_time()); }},
    {"air time", Dimension::time,
     [](const Variant&, const Arc& arc) {
       return arc.landed ? std::optional(arc.air_time()) : std::nullopt;
     }},
    {"distance", Dimension::length,
     [](const Variant&, const Arc& arc) {
       return arc.landed ? std::optional(arc.distance()) : std::nullopt;
     }},
    {"landing speed", Dimension::speed,
     [](const Variant&, const Arc& arc) {
       return arc.landed ? std::optional(arc.landing_speed) : std::nullopt;
     }},
    {"ready to jump after", Dimension::time,
     [](const Variant& variant, const Arc& arc) -> std::optional<double> {
       const auto tick = ready_after(variant, arc);
       if (!tick) return std::nullopt;
       return static_cast<double>(*tick) / variant.trace.tick_rate - arc.take_off_time;
     }},
};

// Those quantities of the arcs, where they differ.
std::vector<Compared> compare_quantities(const std::vector<Variant>& variants,
                                         const ArcQuantity* first, const ArcQuantity* last,
                                         std::size_t most) {
  std::vector<std::vector<Arc>> arcs;
  std::size_t count = 0;
  for (const Variant& variant : variants) {
    arcs.push_back(find_arcs(variant.trace));
    count = std::max(count, arcs.back().size());
  }
  std::vector<Compared> rows;
  for (std::size_t i = 0; i < std::min(count, most); ++i) {
    for (const ArcQuantity* quantity = first; quantity != last; ++quantity) {
      Compared row;
      row.what =
          count == 1 ? quantity->name : "arc " + std::to_string(i + 1) + ", " + quantity->name;
      row.dimension = quantity->dimension;
      for (std::size_t v = 0; v < variants.size(); ++v) {
        const bool has = i < arcs[v].size();
        row.values.push_back(has ? quantity->of(variants[v], arcs[v][i]) : std::nullopt);
      }
      if (differs(row)) rows.push_back(std::move(row));
    }
  }
  return rows;
}

bool is_alike(const Event& a, const Event& b) { return a.kind == b.kind && a.detail == b.detail; }

// For each of the events `a`, the one of `b` that it is matched with, or -1: the longest common
// subsequence. What both begin with is matched at once; of the rest no more than this many are.
std::vector<std::ptrdiff_t> match(const std::vector<Event>& a, const std::vector<Event>& b) {
  constexpr std::size_t kMost = 1500;
  std::vector<std::ptrdiff_t> matched(a.size(), -1);
  std::size_t same = 0;
  for (; same < a.size() && same < b.size() && is_alike(a[same], b[same]); ++same) {
    matched[same] = static_cast<std::ptrdiff_t>(same);
  }
  const std::size_t rows = std::min(a.size() - same, kMost);
  const std::size_t columns = std::min(b.size() - same, kMost);
  // longest[i][j]: of what lies behind i and j
  std::vector<std::vector<std::uint16_t>> longest(rows + 1,
                                                  std::vector<std::uint16_t>(columns + 1, 0));
  for (std::size_t i = rows; i-- > 0;) {
    for (std::size_t j = columns; j-- > 0;) {
      longest[i][j] = is_alike(a[same + i], b[same + j])
                          ? static_cast<std::uint16_t>(longest[i + 1][j + 1] + 1)
                          : std::max(longest[i + 1][j], longest[i][j + 1]);
    }
  }
  for (std::size_t i = 0, j = 0; i < rows && j < columns;) {
    if (is_alike(a[same + i], b[same + j])) {
      matched[same + i] = static_cast<std::ptrdiff_t>(same + j);
      ++i;
      ++j;
    } else if (longest[i + 1][j] >= longest[i][j + 1]) {
      ++i;
    } else {
      ++j;
    }
  }
  return matched;
}

// The titles of a trace's events, with a number from the second of a kind on.
std::vector<std::string> titles_of(const Trace& trace) {
  std::map<std::string, int> counts;
  std::vector<std::string> titles;
  for (const Event& event : trace.events) {
    std::string title = title_of(event);
    const int count = ++counts[title];
    if (count > 1) title += " " + std::to_string(count);
    titles.push_back(std::move(title));
  }
  return titles;
}

}  // namespace

TickNote note_of(const Availability& press, const Character& after) noexcept {
  TickNote note;
  if (press.possible) {
    note.chance = chance_of(press.kind);
    const bool late = press.trial.candidate == Candidate::coyote_jump;
    if (late && note.chance == Chance::ground) note.chance = Chance::coyote;
  }
  note.remembers = after.buffer_left > 0 || after.wall_buffer_left > 0;
  if (after.grounded()) note.ground = after.ground.surface;
  return note;
}

Chance chance_of(JumpKind kind) noexcept {
  switch (kind) {
    case JumpKind::ground:
    case JumpKind::charged: return Chance::ground;
    case JumpKind::wall: return Chance::wall;
    case JumpKind::air: return Chance::air;
    case JumpKind::stroke:
    case JumpKind::exit_jump: break;
  }
  return Chance::other;
}

std::string_view name_of(Chance chance) noexcept {
  switch (chance) {
    case Chance::ground: return "ground";
    case Chance::coyote: return "coyote";
    case Chance::wall: return "wall";
    case Chance::air: return "air";
    case Chance::other: return "other";
    case Chance::nothing: break;
  }
  return "nothing";
}

std::optional<Variant> record_run(CharacterSubject subject, std::string name, const Stage& stage,
                                  const Inputs& inputs) {
  Watched watched(std::move(subject));
  auto played = play(watched, stage, inputs);
  if (!played) return std::nullopt;
  return Variant{std::move(name), watched.traits(), std::move(played->trace), watched.notes(),
                 played->stall};
}

std::optional<Variant> record_drill(CharacterSubject subject, std::string name,
                                    const Drill& drill) {
  Watched watched(std::move(subject));
  auto jump = drill.record(watched);
  if (!jump) return std::nullopt;
  go_on(watched, jump->trace);
  const double rate = jump->trace.tick_rate;
  const auto first =
      static_cast<std::int64_t>(std::floor(jump->arc.take_off_time * rate + kRounding));
  Variant variant{std::move(name), watched.traits(),
                  from_take_off(jump->trace, first, jump->arc.take_off)};
  variant.notes.assign(watched.notes().begin() + static_cast<std::ptrdiff_t>(first),
                       watched.notes().end());
  variant.jump = std::move(jump);
  return variant;
}

std::optional<std::int64_t> ready_after(const Variant& variant, const Arc& arc) {
  const Trace& trace = variant.trace;
  const std::int64_t start = trace.samples.front().tick;
  const double rate = trace.tick_rate;
  // The tick of the take-off itself still begins on the ground.
  const auto from = static_cast<std::int64_t>(std::floor(arc.take_off_time * rate + kRounding)) + 1;
  for (std::size_t i = 0; i + 1 < trace.samples.size(); ++i) {
    const std::int64_t tick = start + static_cast<std::int64_t>(i);
    if (tick < from) continue;
    const bool ready = variant.notes.empty() ? trace.samples[i].grounded
                                             : variant.notes[i].chance == Chance::ground;
    if (ready) return tick;
  }
  return std::nullopt;
}

bool is_same(const Compared& row, std::size_t variant) noexcept {
  return !differs(row.values.front(), row.values[variant]);
}

std::vector<Compared> compare_arcs(const std::vector<Variant>& variants, std::size_t most) {
  return compare_quantities(variants, std::begin(kArcQuantities), std::end(kArcQuantities), most);
}

std::vector<Compared> compare_readiness(const std::vector<Variant>& variants) {
  return compare_quantities(variants, std::end(kArcQuantities) - 1, std::end(kArcQuantities), 1);
}

std::vector<Compared> compare_events(const std::vector<Variant>& variants) {
  const Trace& first = variants.front().trace;
  std::vector<Compared> rows;
  for (const std::string& title : titles_of(first)) {
    rows.push_back({title, Dimension::time, {}});
    rows.back().values.resize(variants.size());
  }
  for (std::size_t i = 0; i < first.events.size(); ++i) {
    rows[i].values[0] = time_of(first.events[i], first.tick_rate);
  }
  for (std::size_t v = 1; v < variants.size(); ++v) {
    const Trace& other = variants[v].trace;
    if (other.events.empty()) continue;
    const std::vector<std::ptrdiff_t> matched = match(first.events, other.events);
    std::vector<bool> is_matched(other.events.size(), false);
    for (std::size_t i = 0; i < matched.size(); ++i) {
      if (matched[i] < 0) continue;
      const auto at = static_cast<std::size_t>(matched[i]);
      is_matched[at] = true;
      rows[i].values[v] = time_of(other.events[at], other.tick_rate);
    }
    for (std::size_t i = 0; i < other.events.size(); ++i) {
      if (is_matched[i]) continue;
      // The number of such an event counts in the first trace, which has none here.
      Compared row{title_of(other.events[i]), Dimension::time, {}};
      row.values.resize(variants.size());
      row.values[v] = time_of(other.events[i], other.tick_rate);
      rows.push_back(std::move(row));
    }
  }
  rows.erase(
      std::remove_if(rows.begin(), rows.end(), [](const Compared& r) { return !differs(r); }),
      rows.end());
  const auto earliest = [](const Compared& row) {
    for (const auto& value : row.values) {
      if (value) return *value;
    }
    return 0.0;
  };
  std::stable_sort(rows.begin(), rows.end(),
                   [&](const Compared& a, const Compared& b) { return earliest(a) < earliest(b); });
  return rows;
}

std::vector<Compared> compare_facts(const std::vector<Variant>& variants) {
  std::vector<Compared> rows;
  for (const DrillReport& report : variants.front().facts) {
    for (const Fact& fact : report.facts) {
      Compared row{std::string(fact.info->name), fact.info->dimension, {}};
      for (const Variant& variant : variants) {
        row.values.push_back(value_of(variant.facts, fact.info->name));
      }
      if (differs(row)) rows.push_back(std::move(row));
    }
  }
  return rows;
}

}  // namespace bushbaby
