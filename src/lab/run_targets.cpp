#include "bushbaby/lab/run_targets.h"

#include <algorithm>
#include <utility>
#include <vector>

#include "bushbaby/core/tuning/zones.h"

namespace bushbaby {
namespace {

std::string quoted(const std::string& name) { return "\"" + name + "\""; }

bool is_zone_event(const Event& event) { return meaning_of(event.kind).value == EventValue::zone; }

std::string solid_name(const Level& level, SurfaceId surface) {
  if (surface >= level.solids.size()) return "nothing";
  const std::string& name = level.solids[surface].name;
  return name.empty() ? "solid " + std::to_string(surface + 1) : quoted(name);
}

// One run, looked at for one thing.
class Reader {
 public:
  Reader(const RunAsk& ask, const Variant& run)
      : ask_(ask), level_(ask.stage->level), run_(run), trace_(run.trace) {}

  RunOutcome read() {
    switch (ask_.what) {
      case RunAsk::What::lands_on: read_landings(); break;
      case RunAsk::What::touches:
      case RunAsk::What::never_touches: read_touches(); break;
      case RunAsk::What::ends_on: read_end(); break;
      case RunAsk::What::count: read_count(); break;
      case RunAsk::What::time: read_time(); break;
    }
    if (run_.stall) {
      if (!outcome_.reported.empty()) outcome_.reported += "; ";
      outcome_.reported += "the run ended early, at line " + std::to_string(run_.stall->span.line) +
                           " of the inputs";
    }
    return std::move(outcome_);
  }

 private:
  [[nodiscard]] bool is_named(SurfaceId surface) const {
    return surface < level_.solids.size() && level_.solids[surface].name == ask_.name;
  }
  [[nodiscard]] bool is_named_zone(SurfaceId zone) const {
    return zone < level_.zones.size() && level_.zones[zone].name == ask_.name;
  }

  void read_landings() {
    double count = 0;
    std::vector<std::string> others;
    for (const Event& event : trace_.events) {
      if (event.kind != EventKind::landed) continue;
      if (is_named(event.surface)) {
        if (count == 0) outcome_.place = event.place;
        ++count;
        continue;
      }
      const std::string name = solid_name(level_, event.surface);
      if (std::find(others.begin(), others.end(), name) == others.end()) others.push_back(name);
      if (count == 0) outcome_.place = event.place;  // the last one that was elsewhere
    }
    outcome_.measured = count;
    if (count > 0) return;
    outcome_.reported = others.empty() ? "it lands nowhere" : "it lands on ";
    for (std::size_t i = 0; i < others.size(); ++i)
      outcome_.reported += (i > 0 ? ", " : "") + others[i];
  }

  // In which ticks it stands on it, meets it, or is in it.
  void read_touches() {
    std::vector<bool> touched(run_.notes.size(), false);
    std::int64_t inside_since = -1;
    const std::int64_t start = trace_.samples.front().tick;
    const auto mark = [&touched](std::int64_t tick) {
      if (tick >= 1 && tick <= static_cast<std::int64_t>(touched.size())) {
        touched[static_cast<std::size_t>(tick) - 1] = true;
      }
    };
    for (const Event& event : trace_.events) {
      const std::int64_t tick = event.tick - start;
      if (!is_zone_event(event)) {
        if (is_named(event.surface) && event.kind != EventKind::left_ground &&
            event.kind != EventKind::wall_lost) {
          mark(tick);
        }
      } else if (is_named_zone(event.surface)) {
        if (event.kind == EventKind::entered) inside_since = tick;
        for (std::int64_t t = inside_since; event.kind == EventKind::left && t <= tick; ++t)
          mark(t);
        if (event.kind == EventKind::left) inside_since = -1;
      }
    }
    const auto end = static_cast<std::int64_t>(touched.size());
    for (std::int64_t t = inside_since; inside_since >= 0 && t <= end; ++t) mark(t);
    for (std::size_t i = 0; i < touched.size(); ++i) {
      if (is_named(run_.notes[i].ground)) touched[i] = true;
    }
    outcome_.measured = static_cast<double>(std::count(touched.begin(), touched.end(), true));
    const auto first = std::find(touched.begin(), touched.end(), true);
    if (first == touched.end()) {
      outcome_.reported = "it never does";
      return;
    }
    const auto index = static_cast<std::size_t>(first - touched.begin()) + 1;
    outcome_.place = trace_.samples[index].feet;
    outcome_.reported = "first in tick " + std::to_string(trace_.samples[index].tick);
  }

  void read_end() {
    const SurfaceId ground = run_.notes.empty() ? kNoSurface : run_.notes.back().ground;
    outcome_.measured = is_named(ground) ? 1 : 0;
    outcome_.place = trace_.samples.back().feet;
    if (is_named(ground)) return;
    outcome_.reported =
        ground == kNoSurface ? "it ends in the air" : "it ends on " + solid_name(level_, ground);
  }

  void read_count() {
    double count = 0;
    for (const Event& event : trace_.events) {
      if (!is_called(event, ask_.name)) continue;
      if (count == 0) outcome_.place = event.place;
      ++count;
    }
    outcome_.measured = count;
  }

  void read_time() {
    const auto find = [this](std::size_t from, const std::string& name) {
      while (from < trace_.events.size() && !is_called(trace_.events[from], name)) ++from;
      return from;
    };
    const std::size_t first = find(0, ask_.name);
    const std::size_t then = find(first + 1, ask_.then);
    if (then >= trace_.events.size()) {
      outcome_.reported =
          first >= trace_.events.size() ? "no " + ask_.name : "no " + ask_.then + " after it";
      return;
    }
    const double rate = trace_.tick_rate;
    outcome_.measured = time_of(trace_.events[then], rate) - time_of(trace_.events[first], rate);
    outcome_.place = trace_.events[then].place;
  }

  const RunAsk& ask_;
  const Level& level_;
  const Variant& run_;
  const Trace& trace_;
  RunOutcome outcome_;
};

}  // namespace

std::string_view name_of(RunAsk::What what) noexcept {
  switch (what) {
    case RunAsk::What::lands_on: return "lands_on";
    case RunAsk::What::touches: return "touches";
    case RunAsk::What::never_touches: return "never_touches";
    case RunAsk::What::ends_on: return "ends_on";
    case RunAsk::What::count: return "count";
    case RunAsk::What::time: break;
  }
  return "time";
}

bool is_called(const Event& event, std::string_view name) noexcept {
  const std::size_t colon = std::min(name.find(':'), name.size());
  if (name_of(event.kind) != name.substr(0, colon)) return false;
  return colon == name.size() || detail_of(event) == name.substr(colon + 1);
}

RunOutcome measure_run(const RunAsk& ask, const Tuning& tuning) {
  const auto cannot = [](std::string why) {
    RunOutcome outcome;
    outcome.reported = std::move(why);
    return outcome;
  };
  CompiledBook compiled = compile_book(tuning, ask.stage->level.zones);
  if (!compiled.ok()) return cannot("the tuning cannot be there");
  auto run = record_run(CharacterSubject(std::move(compiled.book), tuning.name), tuning.name,
                        level_stage(ask.stage->level), ask.stage->inputs);
  if (!run) return cannot("no room for the body at the start");
  RunOutcome outcome = Reader(ask, *run).read();
  outcome.run = std::move(run);
  return outcome;
}

}  // namespace bushbaby
