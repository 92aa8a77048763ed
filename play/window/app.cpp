#include "app.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <utility>

#include <fmt/format.h>

#include "bushbaby/core/tuning/amounts.h"
#include "bushbaby/data/files.h"
#include "bushbaby/data/inputs_file.h"
#include "bushbaby/records/trace_csv.h"

#include "session/dial.h"
#include "session/shown.h"

namespace bushbaby::live {
namespace {

// Facts that say how a character feels, whatever the targets are about.
const std::vector<std::string>& main_drills() {
  static const std::vector<std::string> drills{"stand_jump", "hop",  "running_jump", "run_up",
                                               "stop",       "turn", "coyote",       "buffer"};
  return drills;
}

std::optional<Held> held_of(std::string_view action) {
  for (std::size_t i = 0; i < kHeldKinds; ++i) {
    if (name_of(static_cast<Held>(i)) == action) return static_cast<Held>(i);
  }
  return std::nullopt;
}

Box level_bounds(const Level& level) {
  Box all{level.start, level.start + Vec{0, 2}};
  for (const Solid& solid : level.solids) {
    const Box box = bounds_of(solid);
    all.lo = {std::min(all.lo.x, box.lo.x), std::min(all.lo.y, box.lo.y)};
    all.hi = {std::max(all.hi.x, box.hi.x), std::max(all.hi.y, box.hi.y)};
  }
  return all;
}

}  // namespace

std::string_view name_of(Page page) noexcept {
  static constexpr std::string_view kNames[] = {"knobs", "facts", "history", "keys"};
  return kNames[static_cast<std::size_t>(page)];
}

App::App(WindowOpening setup)
    : session(std::move(setup.session)),
      measurer(main_drills(), session.targets()),
      settings(std::move(setup.settings)),
      settings_path_(std::move(setup.settings_path)),
      is_borrowed_(setup.is_borrowed),
      ghost_(session.ghost()) {
  watch.know(session.desk().file());
  camera.look_at(session.character().feet);
  history.look(session.desk(), 0);
  const auto& knobs = shown_knobs();
  if (!knobs.empty()) chosen = knobs.front();
}

void App::say(std::string text, bool is_wrong) {
  said_ = std::move(text);
  said_is_wrong_ = is_wrong;
  constexpr double kShort = 4;  // s
  constexpr double kLong = 10;
  said_for_ = is_wrong ? kLong : kShort;
}

// ---- knobs --------------------------------------------------------------------------------------

const std::vector<KnobPlace>& App::shown_knobs() {
  const std::vector<KnobPlace> places = places_of(session.desk().present());
  if (shown_for_ == search && shown_rows_ == places.size()) return shown_knobs_;
  shown_for_ = search;
  shown_rows_ = places.size();
  shown_knobs_.clear();
  const auto& set_by_file = session.desk().file().places;
  for (const std::string_view mechanism : mechanisms_in_order()) {
    // Those that the file sets come first.
    for (const bool in_use : {true, false}) {
      for (const KnobPlace& place : places) {
        if (place.knob->mechanism() != mechanism) continue;
        const bool used = set_by_file.count(place.key()) > 0 || session.desk().is_changed(place);
        if (used == in_use && is_about(place, search)) shown_knobs_.push_back(place);
      }
    }
  }
  return shown_knobs_;
}

void App::choose(int step) {
  if (page == Page::history) {
    const auto last = static_cast<int>(history.entries().size()) - 1;
    entry = static_cast<std::size_t>(std::clamp(static_cast<int>(entry) - step, 0, last));
    scrolls_to_chosen = true;
    return;
  }
  if (page == Page::facts) {
    scrolls_facts += step;
    return;
  }
  if (page == Page::keys) {
    const auto last = static_cast<int>(actions().size()) - 1;
    key_row = static_cast<std::size_t>(std::clamp(static_cast<int>(key_row) + step, 0, last));
    scrolls_to_chosen = true;
    return;
  }
  const auto& knobs = shown_knobs();
  if (knobs.empty()) return;
  const auto now = std::find_if(knobs.begin(), knobs.end(), [this](const KnobPlace& place) {
    return chosen && place.knob == chosen->knob && place.row == chosen->row;
  });
  const auto at = now == knobs.end() ? 0 : static_cast<int>(now - knobs.begin()) + step;
  chosen = knobs[static_cast<std::size_t>(std::clamp(at, 0, static_cast<int>(knobs.size()) - 1))];
  scrolls_to_chosen = true;
}

void App::turn(int step) {
  if (page != Page::knobs || !chosen) return;
  Desk& desk = session.desk();
  const KnobPlace place = *chosen;
  const Dial dial = dial_of(desk.present(), place, desk.file().tuning);
  const KnobValue value = get_knob(desk.present(), *place.knob, place.row);
  switch (dial.kind) {
    case DialKind::number: {
      if (!dial.is_set) {
        set(place, first_amount(*place.knob));
        return;
      }
      set(place, with_amount(value, nudged(dial, step, desk.units())));
      return;
    }
    case DialKind::flag: set(place, !std::get<bool>(value)); return;
    case DialKind::choice: {
      const auto& choice = std::get<ChoiceBinding>(place.knob->binding);
      const auto count = static_cast<int>(choice.count);
      const int now = choice.get(desk.present(), place.row);
      const auto next = static_cast<std::size_t>((now + step + count) % count);
      set(place, std::string(choice.names[next]));
      return;
    }
    case DialKind::text: return;
  }
}

void App::set(const KnobPlace& place, const KnobValue& value) {
  refused.erase(place.key());
  // What does not go together with other knobs the desk itself knows.
  const auto refusal = session.desk().set(place, value);
  if (refusal && session.desk().refusals().empty()) refused[place.key()] = *refusal;
}

void App::type(const KnobPlace& place, const std::string& text) {
  refused.erase(place.key());
  const auto refusal = session.desk().type(place, text);
  session.desk().settle();
  if (refusal && session.desk().refusals().empty()) refused[place.key()] = *refusal;
}

std::string App::refusal_of(const KnobPlace& place) const {
  const std::string key = place.key();
  if (const auto own = refused.find(key); own != refused.end()) return own->second;
  const auto& all = session.desk().refusals();
  const auto found = all.find(key);
  return found == all.end() ? std::string() : found->second;
}

// ---- actions ------------------------------------------------------------------------------------

namespace {

void slow_down(App& app) {
  constexpr double kSlowest = 0.125;
  app.session.set_speed(app.session.speed() > kSlowest ? app.session.speed() / 2 : 1);
}

void compare(App& app) {
  if (app.session.hold_file(true)) return;
  app.say("the file has another loop or body: its numbers cannot be swapped in during a jump",
          true);
}

void amplify(App& app) {
  if (app.chosen && app.session.hold_amplified(&*app.chosen)) return;
  app.say("the chosen knob is not a number that can grow", true);
}

void look_for_knob(App& app) {
  app.page = Page::knobs;
  app.wants_search = true;
  app.session.hands().let_all_go();
}

void zoom(App& app, double factor) {
  app.camera.zoom(factor, app.camera.to_px(app.session.character().feet));
}

void fit(App& app) {
  if (app.camera.fits()) {
    app.camera = Camera();
    app.camera.look_at(app.session.character().feet);
  } else {
    app.camera.fit(level_bounds(app.session.level()));
  }
}

// What the actions do that are not held by the character.
const std::map<std::string_view, void (*)(App&)>& deeds() {
  constexpr double kNearer = 1.25;
  static const std::map<std::string_view, void (*)(App&)> all{
      {"pause", [](App& app) { app.session.pause(!app.session.is_paused()); }},
      {"step_forward", [](App& app) { app.session.step_forward(); }},
      {"step_back", [](App& app) { app.session.step_back(); }},
      {"restart", [](App& app) { app.session.restart(); }},
      {"slow", slow_down},
      {"compare", compare},
      {"amplify", amplify},
      {"undo", [](App& app) { app.session.desk().undo(); }},
      {"redo", [](App& app) { app.session.desk().redo(); }},
      {"reset", [](App& app) { app.reset_knob(); }},
      {"save", [](App& app) { app.save(); }},
      {"save_as", [](App& app) { app.save_as(); }},
      {"mark", [](App& app) { app.session.mark(); }},
      {"save_inputs", [](App& app) { app.save_inputs(); }},
      {"save_trace", [](App& app) { app.save_trace(); }},
      {"screenshot", [](App& app) { app.take_screenshot(); }},
      {"quit", [](App& app) { app.quit(); }},
      {"search", look_for_knob},
      {"zoom_in", [](App& app) { zoom(app, kNearer); }},
      {"zoom_out", [](App& app) { zoom(app, 1 / kNearer); }},
      {"fit", fit},
      {"ghost", [](App& app) { app.show_ghost(!app.with_ghost); }},
      {"next_page", [](App& app) { app.turn_page(); }},
  };
  return all;
}

}  // namespace

void App::begin(std::string_view action) {
  if (const auto held = held_of(action)) session.hands().press(*held);
  if (const auto deed = deeds().find(action); deed != deeds().end()) deed->second(*this);
}

void App::end(std::string_view action) {
  if (const auto held = held_of(action)) session.hands().release(*held);
  if (action == "compare") (void)session.hold_file(false);
  if (action == "amplify") (void)session.hold_amplified(nullptr);
}

void App::let_all_go() {
  session.hands().let_all_go();
  end("compare");
  end("amplify");
}

void App::turn_page() { page = static_cast<Page>((static_cast<std::size_t>(page) + 1) % kPages); }

void App::show_ghost(bool shown) {
  if (shown == with_ghost) return;
  with_ghost = shown;
  if (!shown) ghost_ = session.ghost();
  session.set_ghost(shown ? ghost_ : Ghost());
}

void App::go_to_entry(std::size_t number) {
  if (number >= history.entries().size()) return;
  const HistoryEntry& to = history.entries()[number];
  entry = number;
  session.desk().take(to.tuning, fmt::format("back to {}", to.number));
}

void App::save() {
  const std::string path = session.desk().file().path;
  if (is_borrowed_) {
    say("the demo's own file is never overwritten: play a copy (bushbaby demo makes one)", true);
    return;
  }
  if (const auto problem = session.desk().save(path)) {
    say(describe(*problem), true);
    return;
  }
  watch.know(session.desk().file());
  measured_of_file.reset();
  shown_for_ = "\n";
  say("saved to " + path);
}

// "pip-take-3.inputs": the first of its kind that is not there. What is borrowed stays as it is,
// and its folder with it.
std::string App::new_path(const std::string& what, const std::string& ending) const {
  namespace fs = std::filesystem;
  const fs::path tuning = session.desk().file().path;
  std::string stem = tuning.filename().string();
  stem = stem.substr(0, stem.find('.'));
  const fs::path folder = is_borrowed_ ? fs::path() : tuning.parent_path();
  constexpr int kMost = 10000;
  for (int i = 1; i < kMost; ++i) {
    std::string path = (folder / fmt::format("{}-{}-{}{}", stem, what, i, ending)).string();
    if (!exists(path)) return path;
  }
  return (folder / (stem + "-" + what + ending)).string();
}

void App::report_written(const std::optional<Problem>& problem, const std::string& path) {
  if (problem) {
    say(describe(*problem), true);
  } else {
    say("wrote " + path);
  }
}

void App::save_as() {
  const std::string path = new_path("variant", ".tuning.toml");
  report_written(session.desk().save_based(path), path);
}

void App::take_screenshot() { wants_screenshot = new_path("picture", ".png"); }

void App::reset_knob() {
  if (chosen) session.desk().reset_knob(*chosen);
}

void App::save_inputs() {
  const std::string path = new_path("take", ".inputs");
  std::string text = write_inputs(inputs_of(session.inputs_so_far()), session.desk().units());
  if (!session.is_repeatable()) {
    text +=
        "# knobs were changed while this was played, or it began elsewhere: a run may go "
        "otherwise\n";
  }
  report_written(write_file(path, text), path);
}

void App::save_trace() {
  const std::string path = new_path("take", ".csv");
  report_written(write_file(path, write_trace(session.stretch(), session.desk().units())), path);
}

void App::quit() {
  const std::size_t changed = session.desk().changed().size();
  if (changed == 0 || is_borrowed_) {
    quits = true;
    return;
  }
  Question unsaved;
  unsaved.text = fmt::format("{} knob{} set otherwise than in {}.", changed,
                             changed == 1 ? " is" : "s are", session.desk().file().path);
  unsaved.answers = {{"save, and close",
                      [this] {
                        save();
                        quits = session.desk().changed().empty();
                      }},
                     {"close, and drop it", [this] { quits = true; }},
                     {"stay", [] {}}};
  question = std::move(unsaved);
}

void App::bind_key(const std::string& action, const std::string& key) {
  settings.bind_key(action, key);
  keep_settings();
}

void App::bind_button(const std::string& action, const std::string& button) {
  settings.bind_button(action, button);
  keep_settings();
}

void App::keep_settings() {
  if (settings_path_.empty()) return;
  std::error_code ignored;
  std::filesystem::create_directories(std::filesystem::path(settings_path_).parent_path(), ignored);
  if (const auto problem = write_file(settings_path_, write_settings(settings))) {
    say(describe(*problem), true);
  }
}

// ---- a frame ------------------------------------------------------------------------------------

void App::frame(double seconds) {
  session.frame(seconds);
  camera.follow(session.pose().feet, seconds);
  history.look(session.desk(), seconds);
  look_at_disk(seconds);
  take_measurements();
  if (chosen && !chosen->knob->has_row(session.desk().present(), chosen->row)) chosen.reset();
  said_for_ -= seconds;
  if (said_for_ <= 0) said_.clear();
}

void App::look_at_disk(double seconds) {
  if (question || !watch.look(seconds)) return;
  const auto reload = [this](bool drops) {
    const auto problem = drops ? session.desk().reload_and_drop() : session.desk().reload();
    watch.know(session.desk().file());
    measured_of_file.reset();
    shown_for_ = "\n";
    if (problem) {
      say("the file has changed, but its settings are invalid; still using the last valid ones: " +
              describe(*problem),
          true);
    } else {
      say("the file has changed and was reloaded");
    }
  };
  if (session.desk().changed().empty()) {
    reload(true);
    return;
  }
  Question both;
  both.text = fmt::format("{} was changed by another program, and {} knobs are set otherwise here.",
                          session.desk().file().path, session.desk().changed().size());
  both.answers = {{"read it, and keep what is set here", [reload] { reload(false); }},
                  {"read it, and drop what is set here", [reload] { reload(true); }},
                  {"leave it for now", [] {}}};
  question = std::move(both);
}

// What was measured goes to the entries that are that tuning, those to come included.
void App::note_in_history() {
  if (!measured || noted_entries_ == history.entries().size()) return;
  noted_entries_ = history.entries().size();
  std::vector<NotedFact> notes;
  for (const DrillReport& drill : measured->drills) {
    for (const Fact& one : drill.facts) {
      for (const char* fact :
           {"stand_jump.height", "stand_jump.air_time", "running_jump.distance"}) {
        if (one.info->name == fact) notes.push_back({fact, one.info->dimension, one.value});
      }
    }
  }
  history.note(measured->tuning, notes);
}

void App::take_measurements() {
  if (auto done = measurer.take()) {
    const bool is_file = first_difference(done->tuning, session.desk().file().tuning).empty();
    if (is_file) measured_of_file = *done;
    measured = std::move(*done);
    noted_entries_ = 0;
  }
  note_in_history();
  if (measurer.is_busy()) return;
  // The file's numbers first: what is changed is reported against them.
  if (!measured_of_file) {
    measurer.ask(~std::uint64_t{0}, session.desk().file().tuning);
    measured_version_ = ~std::uint64_t{0};
  } else if (measured_version_ != session.desk().version()) {
    measured_version_ = session.desk().version();
    measurer.ask(measured_version_, session.desk().good());
  }
}

void App::perform(const ScriptLine& line) {
  const bool on = line.text == "on";
  const std::string& action = line.action;
  if (action == "set" || action == "choose" || action == "reset") {
    const std::size_t equals = std::min(line.text.find('='), line.text.size());
    chosen = find_place(line.text.substr(0, equals));
    scrolls_to_chosen = true;
    if (action == "reset") session.desk().reset_knob(*chosen);
    if (action == "set") type(*chosen, line.text.substr(equals + 1));
  } else if (action == "compare" || action == "amplify") {
    on ? begin(action) : end(action);
  } else if (action == "pause") {
    session.pause(true);
  } else if (action == "resume") {
    session.pause(false);
  } else if (action == "step_back") {
    session.scrub(session.shown() - static_cast<std::int64_t>(line.number));
  } else if (action == "step_forward") {
    for (int i = 0; i < static_cast<int>(line.number); ++i) session.step_forward();
  } else if (action == "speed") {
    session.set_speed(line.number);
  } else if (action == "ghost") {
    show_ghost(on);
  } else if (action == "page") {
    for (std::size_t i = 0; i < kPages; ++i) {
      if (name_of(static_cast<Page>(i)) == line.text) page = static_cast<Page>(i);
    }
  } else if (action == "search") {
    search = line.text;
  } else {
    begin(action);  // restart, undo, redo, save, fit
  }
}

}  // namespace bushbaby::live
