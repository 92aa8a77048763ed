#include "window.h"

#include <algorithm>
#include <ctime>
#include <utility>

#include <SDL.h>

#include "bushbaby/data/files.h"

#include "display.h"
#include "events.h"
#include "screen.h"

namespace bushbaby::live {
namespace {

// ms that this thread has used of the processor.
double processor_ms() {
  timespec time{};
  clock_gettime(CLOCK_THREAD_CPUTIME_ID, &time);
  constexpr double kMs = 1e3;
  constexpr double kNanoseconds = 1e6;
  return static_cast<double>(time.tv_sec) * kMs + static_cast<double>(time.tv_nsec) / kNanoseconds;
}

// Why a line of a script could not be done.
std::optional<Problem> what_failed(const App& app, const ScriptLine& line,
                                   const WindowOptions& options) {
  std::string why;
  if (line.action == "set" && app.chosen) why = app.refusal_of(*app.chosen);
  if (app.said_is_wrong()) why = app.said();
  if (why.empty()) return std::nullopt;
  constexpr std::string_view kExpected = "expected ";
  const std::size_t expected = why.find(kExpected);
  const bool is_value = expected != std::string::npos && !line.text.empty();
  return Problem{ProblemCode::contradiction,
                 options.script_path,
                 line.line,
                 0,
                 line.action,
                 is_value ? line.text : why,
                 is_value ? why.substr(expected + kExpected.size()) : std::string(),
                 {}};
}

// Plays a script, a frame for each tick.
std::optional<Problem> play_script(App& app, Screen& screen, const WindowOptions& options) {
  const double tick = 1 / app.session.rules().tick_rate;
  const auto show = [&] {
    screen.make_up();
    screen.render();
    screen.show();
  };
  const auto look = [&] {
    app.frame(0);
    app.camera.follow(app.session.pose().feet, tick);
  };
  for (const ScriptLine& line : options.script) {
    if (line.action == "play") {
      for (const Controls& held : line.held) {
        app.session.play(held);
        look();
      }
      show();
    } else if (line.action == "wait") {
      app.session.pause(false);
      for (int i = 0; i < static_cast<int>(line.number); ++i) {
        app.session.advance();
        look();
      }
      show();
    } else if (line.action == "measure") {
      // What stays for a second is written down; what is changed is measured after the file.
      app.history.look(app.session.desk(), 2);
      for (int i = 0; i < 3; ++i) {
        app.measurer.wait();
        app.frame(0);
      }
    } else if (line.action == "screenshot") {
      // Twice: sizes of what is new are known from the second frame on.
      show();
      screen.make_up();
      screen.render();
      if (!leads_into(".", line.text)) {
        return Problem{ProblemCode::cannot_write,
                       options.script_path,
                       line.line,
                       0,
                       line.action,
                       line.text + ", a link that leads elsewhere",
                       "a file in this folder or one below",
                       ""};
      }
      if (auto problem = write_picture(line.text)) return problem;
      screen.show();
    } else {
      app.perform(line);
      app.frame(0);
      show();
      if (auto problem = what_failed(app, line, options)) return problem;
    }
  }
  return std::nullopt;
}

}  // namespace

std::optional<Problem> run_window(App& app, const WindowOptions& options, FrameCosts& costs) {
  Display display;
  if (auto problem = display.open(options.title)) return problem;
  const float scale = options.scale > 0 ? static_cast<float>(options.scale) : display.scale();
  Screen screen(app, display, scale);
  Listener listener(app);
  screen.make_up();
  screen.render();
  screen.show();
  if (!options.script.empty()) return play_script(app, screen, options);
  const double frequency = static_cast<double>(SDL_GetPerformanceFrequency());
  Uint64 before = SDL_GetPerformanceCounter();
  while (!app.quits) {
    if (options.each_frame) options.each_frame();
    listener.hear(display, screen.rooms());
    const Uint64 now = SDL_GetPerformanceCounter();
    const double began = processor_ms();
    app.frame(static_cast<double>(now - before) / frequency);
    before = now;
    const double played = processor_ms();
    screen.make_up();
    costs.playing.push_back(played - began);
    costs.drawing.push_back(processor_ms() - played);
    screen.render();
    if (!app.wants_screenshot.empty()) {
      const std::string path = std::exchange(app.wants_screenshot, {});
      const auto problem = write_picture(path);
      problem ? app.say(describe(*problem), true) : app.say("wrote " + path);
    }
    screen.show();
  }
  std::sort(costs.playing.begin(), costs.playing.end());
  std::sort(costs.drawing.begin(), costs.drawing.end());
  return std::nullopt;
}

}  // namespace bushbaby::live
