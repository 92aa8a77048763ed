// The window: `bushbaby play`.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "bushbaby/data/problem.h"

#include "app.h"

namespace bushbaby::live {

/// What frames cost, ms of the processor for each: ordered.
struct FrameCosts {
  std::vector<double> playing;  ///< ticks, takes again, everything that is looked at
  std::vector<double> drawing;  ///< up to what the display does
};

struct WindowOptions {
  std::string title;
  double scale = 0;                  ///< of everything; 0: as the display asks for
  std::vector<ScriptLine> script{};  ///< it is played, and the window closed
  std::string script_path{};
  std::function<void()> each_frame{};  ///< called before a frame hears what happened, if given
};

/// Opens the window and stays until it is closed. A problem if no display can be opened, or what a
/// script asks for could not be done.
[[nodiscard]] std::optional<Problem> run_window(App& app, const WindowOptions& options,
                                                FrameCosts& costs);

}  // namespace bushbaby::live
