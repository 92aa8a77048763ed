// The window's state: a session, and what of it is looked at.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "session/camera.h"
#include "session/disk.h"
#include "session/history.h"
#include "session/measurer.h"
#include "session/script.h"
#include "session/session.h"
#include "session/settings.h"

namespace bushbaby::live {

enum class Page : std::uint8_t { knobs, facts, history, keys };
inline constexpr std::size_t kPages = 4;
[[nodiscard]] std::string_view name_of(Page page) noexcept;

/// What of time is shown.
struct TimelineView {
  double seconds = 4;  ///< across its whole width
};

/// What a window is opened on.
struct WindowOpening {
  Opening session;
  Settings settings;
  std::string settings_path{};  ///< where they are kept; empty: nowhere
  bool is_borrowed = false;     ///< the tuning is not the person's own: it is not written over
};

/// Where the keyboard goes, unless a field of text has it.
enum class Focus : std::uint8_t {
  game,   ///< to whoever is played
  panel,  ///< to the page: arrows choose and turn
};

/// A question that waits for an answer.
struct Question {
  std::string text;
  struct Answer {
    std::string text;
    std::function<void()> then;
  };
  std::vector<Answer> answers;
};

class App {
 public:
  explicit App(WindowOpening setup);

  Session session;
  Measurer measurer;
  History history;
  DiskWatch watch;
  Settings settings;
  Camera camera;
  TimelineView timeline;

  // ---- what is looked at ------------------------------------------------------------------------
  Page page = Page::knobs;
  Focus focus = Focus::game;
  std::optional<KnobPlace> chosen;
  std::string search;
  bool wants_search = false;       ///< the field of the search is to be given the keyboard
  std::optional<KnobPlace> edits;  ///< the knob whose value is being typed
  std::string edited;
  bool edit_begins = false;
  std::map<std::string, std::string> refused;  ///< by key: why what was asked of a knob cannot be
  std::size_t entry = 0;                       ///< chosen in the history
  std::optional<std::size_t> names_entry;      ///< being named
  int scrolls_facts = 0;                       ///< lines that the page of facts is to go on
  std::size_t key_row = 0;                     ///< chosen on the page of keys
  std::optional<std::string> binds;            ///< the action that the next key is for
  std::optional<Measurement> measured;
  std::optional<Measurement> measured_of_file;
  bool with_ghost = true;
  std::optional<Question> question;
  bool scrolls_to_chosen = false;
  bool quits = false;
  std::string wants_screenshot;  ///< where the window is to draw itself to

  /// Reports something for a few seconds.
  void say(std::string text, bool is_wrong = false);
  [[nodiscard]] const std::string& said() const noexcept { return said_; }
  [[nodiscard]] bool said_is_wrong() const noexcept { return said_is_wrong_; }

  // ---- what is done -----------------------------------------------------------------------------

  /// An action of the settings begins, or ends if it is one that is held.
  void begin(std::string_view action);
  void end(std::string_view action);
  /// Ends all that is held.
  void let_all_go();
  /// Turns the chosen knob, or chooses another, by keys.
  void choose(int step);
  void turn(int step);
  void set(const KnobPlace& place, const KnobValue& value);
  /// The chosen knob as the file has it.
  void reset_knob();
  void type(const KnobPlace& place, const std::string& text);
  void go_to_entry(std::size_t number);
  void save();
  /// Into new files beside the tuning file, called after it and numbered.
  void save_as();
  void save_inputs();
  void save_trace();
  void take_screenshot();
  void show_ghost(bool shown);
  /// Closes the window; asks first if something is not saved.
  void quit();
  void bind_key(const std::string& action, const std::string& key);
  void bind_button(const std::string& action, const std::string& button);
  void turn_page();

  /// N seconds of play, and all that looks at it.
  void frame(double seconds);
  /// Why the chosen knob is not what was asked of it; empty if it is.
  [[nodiscard]] std::string refusal_of(const KnobPlace& place) const;
  /// What a line of a script says, but for pictures and what takes time.
  void perform(const ScriptLine& line);

  /// The knobs of the page, in its order, with the search that is on.
  [[nodiscard]] const std::vector<KnobPlace>& shown_knobs();

 private:
  void look_at_disk(double seconds);
  void take_measurements();
  void note_in_history();
  [[nodiscard]] std::string new_path(const std::string& what, const std::string& ending) const;
  void keep_settings();
  void report_written(const std::optional<Problem>& problem, const std::string& path);

  std::string settings_path_;
  bool is_borrowed_;
  std::string said_;
  bool said_is_wrong_ = false;
  double said_for_ = 0;
  std::size_t noted_entries_ = 0;
  std::uint64_t measured_version_ = ~std::uint64_t{0};
  Ghost ghost_;  // while it is hidden
  std::vector<KnobPlace> shown_knobs_;
  std::string shown_for_ = "\n";  // the search that they are for
  std::size_t shown_rows_ = 0;
};

}  // namespace bushbaby::live
