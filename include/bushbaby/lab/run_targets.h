// What a run of inputs on a level must do.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include <bushbaby/core/tuning/inputs.h>
#include <bushbaby/core/tuning/tuning.h>
#include <bushbaby/core/world/level.h>
#include <bushbaby/lab/overlay.h>

namespace bushbaby {

/// Inputs and where they are run, with the names under which they were found.
struct RunStage {
  Level level;
  Inputs inputs;
  std::string level_name;
  std::string inputs_name;
};

/// What is measured of a run.
struct RunAsk {
  enum class What {
    lands_on,       ///< how often it lands on a solid of that name
    touches,        ///< in how many ticks it stands on, meets or enters what is called so
    never_touches,  ///< the same, which should be 0
    ends_on,        ///< 1 if it stands on it at the end
    count,          ///< how often an event happens
    time,           ///< s from the first of an event to the next of another
  };
  What what = What::lands_on;
  std::string name;  ///< of a solid or a zone; of an event: "landed", "jumped:air"
  std::string then;  ///< the other event, of a time
  std::shared_ptr<const RunStage> stage;
};

/// "lands_on", "touches", …
[[nodiscard]] std::string_view name_of(RunAsk::What what) noexcept;

/// What came of it.
struct RunOutcome {
  std::optional<double> measured;  ///< nothing if the run cannot be, or a time has no end
  std::string reported;            ///< what happened instead, or where it did
  std::optional<Vec> place;        ///< of the feet, where that is
  std::optional<Variant> run;
};

/// Makes the run with that tuning, the zones of the level included.
[[nodiscard]] RunOutcome measure_run(const RunAsk& ask, const Tuning& tuning);

/// Whether an event is of the kind, and of the detail if one is named: "landed", "jumped:air".
[[nodiscard]] bool is_called(const Event& event, std::string_view name) noexcept;

}  // namespace bushbaby
