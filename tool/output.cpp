#include "output.h"

#include <algorithm>
#include <cstdio>

#include <fmt/format.h>

#include "bushbaby/data/direction_controls.h"
#include "bushbaby/data/files.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/names.h"
#include "bushbaby/lab/drills.h"

namespace bushbaby::tool {
namespace {

// What a terminal can be shown of a text: names come from strangers' files, and control characters
// in them would be carried out. Bytes that are not UTF-8 are no characters at all.
std::string printable(std::string_view text) {
  std::string result;
  result.reserve(text.size());
  const auto at = [&text](std::size_t i) {
    return i < text.size() ? static_cast<unsigned char>(text[i]) : 0U;
  };
  const auto is_rest = [&at](std::size_t i) { return (at(i) & 0xC0U) == 0x80U; };
  for (std::size_t i = 0; i < text.size();) {
    const unsigned byte = at(i);
    const bool plain = (byte >= 0x20 && byte < 0x7F) || byte == '\n';
    std::size_t length = 0;
    if (plain) length = 1;
    if (byte >= 0xC2 && byte < 0xE0 && is_rest(i + 1)) length = 2;
    if (byte >= 0xE0 && byte < 0xF0 && is_rest(i + 1) && is_rest(i + 2)) length = 3;
    if (byte >= 0xF0 && byte < 0xF5 && is_rest(i + 1) && is_rest(i + 2) && is_rest(i + 3)) {
      length = 4;
    }
    if (const unsigned code = direction_control_at(text, i)) {
      result += shown_direction_control(code);
      i += length;
      continue;
    }
    const bool control = byte == 0xC2 && at(i + 1) < 0xA0;  // the second set of control characters
    if (length == 0 || control) {
      result += '?';
      i += control ? 2 : 1;
      continue;
    }
    result += text.substr(i, length);
    i += length;
  }
  return result;
}

bool write_out(std::FILE* stream, std::string_view text) {
  return std::fwrite(text.data(), 1, text.size(), stream) == text.size();
}

}  // namespace

int fail(const std::vector<Problem>& problems) {
  constexpr std::size_t kMostShown = 20;
  const std::size_t shown = std::min(problems.size(), kMostShown);
  for (std::size_t i = 0; i < shown; ++i) fail(describe(problems[i]));
  if (shown < problems.size()) fail(fmt::format("... and {} more", problems.size() - shown));
  return kWrong;
}

int fail(const std::string& message) {
  say("bushbaby: " + message);
  return kWrong;
}

void append(std::vector<Problem>& all, const std::vector<Problem>& more) {
  all.insert(all.end(), more.begin(), more.end());
}

Problem call_problem(std::string option, std::string found, std::string expected) {
  return {ProblemCode::contradiction, std::move(option),   0, 0, "",
          std::move(found),           std::move(expected), ""};
}

std::vector<Problem> find_excess(const Inputs& inputs, double tick_rate, const std::string& path) {
  const std::int64_t ticks = ticks_in(inputs, tick_rate);
  if (ticks <= kMostRunTicks) return {};
  return {{ProblemCode::out_of_range, path, 0, 0, "",
           fmt::format("inputs for {} ticks at {} Hz", ticks, tick_rate),
           fmt::format("at most {} ticks", kMostRunTicks), ""}};
}

std::vector<Problem> no_room(const std::string& level_path, const Level& level, const Rules& rules,
                             const Units& units) {
  std::string found = "no room for the body";
  const Overlap inside = overlap(LevelWorld(level, rules.tick_rate), rules.body, level.start, 0);
  if (inside.surface != kNoSurface) {
    found =
        fmt::format("a place where the body is inside {}, {} deep",
                    solid_name(level, inside.surface), units.text(Dimension::length, inside.depth));
  }
  const Vec size = rules.body.box.hi - rules.body.box.lo;
  const auto file = load_level_file(level_path);
  const FilePlace place = file ? file->start : FilePlace{};
  return {{ProblemCode::contradiction, level_path, place.line, place.column, "start",
           std::move(found),
           fmt::format("room for a body of {:.6g} by {}", units.shown(Dimension::length, size.x),
                       units.text(Dimension::length, size.y)),
           ""}};
}

void print(const std::string& text) {
  write_out(stdout, printable(text));
  std::fflush(stdout);  // what comes later may go to the same place by another way
}

void say(const std::string& line) { write_out(stderr, printable(line + "\n")); }

int finish(int code) {
  if (std::fflush(stdout) == 0 && std::ferror(stdout) == 0) return code;
  return fail({call_problem("standard output", "no room, or nobody who reads it",
                            "a place that can be written to")});
}

void say_written(const std::string& path) { say("wrote " + path); }

std::vector<Setting> settings_of(const Call& call, const std::string& more) {
  std::vector<Setting> settings;
  for (const std::string& text : call.texts("--set")) settings.emplace_back(text);
  for (const std::string& text : call.texts(more)) settings.emplace_back(text);
  return settings;
}

Result<Units> units_of(const Call& call, const TuningFile& file) {
  Units units = file.units();
  if (!call.has("--units") || call.text("--units") == "file") return units;
  units.convention = {};
  if (call.text("--units") == "world") return units;
  auto convention = parse_convention(call.text("--units"), "--units");
  if (!convention) return tl::unexpected(convention.error());
  units.convention = std::move(*convention);
  return units;
}

void remark_on(const TuningFile& file) {
  for (const std::string& remark : unit_remarks(file)) say("bushbaby: remark: " + remark);
}

int draw_to(const Picture& picture, const std::string& path) {
  if (const auto problem = render(picture, path)) return fail({*problem});
  say_written(path);
  return kDone;
}

int save(const TuningFile& source, const Tuning& tuning, const std::string& path) {
  if (const auto problem = save_tuning(source, tuning, path)) return fail({*problem});
  say_written(path);
  return kDone;
}

int save_if_asked(const Call& call, const TuningFile& changed) {
  if (!call.has("--save")) return kDone;
  // The text as it is in the file, before anything was tried.
  const auto source = parse_tuning(changed.text, changed.path);
  if (!source) return fail(source.error());
  return save(*source, changed.tuning, call.text("--save"));
}

std::vector<Problem> find_clashes(const Call& call, const std::vector<std::string>& inputs) {
  std::vector<Problem> problems;
  std::vector<std::string> taken = inputs;
  for (const char* option :
       {"--trace", "--plot", "--map", "--curve", "--out", "--save", "--write"}) {
    if (!call.has(option)) continue;
    const std::string path = call.text(option);
    const bool keeps = option == std::string("--save");
    const bool in_place = (keeps || option == std::string("--write")) && !inputs.empty() &&
                          is_same_file(path, inputs.front());
    for (const std::string& other : taken) {
      if (in_place || !is_same_file(path, other)) continue;
      problems.push_back(call_problem(option, path + ", which this call reads or writes as well",
                                      "a file of its own"));
      break;
    }
    if (keeps && !in_place && exists(path)) {
      problems.push_back(call_problem(option, path + ", which is there already",
                                      "a new name, or " + inputs.front() + " itself"));
    }
    taken.push_back(path);
  }
  return problems;
}

std::vector<Problem> unknown_drills(const std::vector<std::string>& names) {
  std::vector<std::string_view> known;
  for (const Drill& drill : drills()) known.push_back(drill.name);
  std::vector<Problem> problems;
  for (const std::string& name : names) {
    if (find_drill(name) != nullptr) continue;
    problems.push_back({ProblemCode::unknown_name, "--only", 0, 0, "", name,
                        fmt::format("one of {}", fmt::join(known, ", ")),
                        std::string(nearest_name(name, known))});
  }
  return problems;
}

std::optional<std::filesystem::path> find_demo_data(const Call& call) {
  namespace fs = std::filesystem;
  std::vector<fs::path> places;
  if (call.has("--data")) {
    places.emplace_back(call.text("--data"));
  } else {
    std::error_code ignored;
    const fs::path self = fs::read_symlink("/proc/self/exe", ignored);
    const fs::path folder = (ignored ? fs::path(call.program()) : self).parent_path();
    places = {folder / BUSHBABY_DEMO_INSTALLED, BUSHBABY_DEMO_SOURCE};
  }
  for (const fs::path& place : places) {
    std::error_code ignored;
    if (fs::exists(place / "pip.tuning.toml", ignored)) return place.lexically_normal();
  }
  return std::nullopt;
}

}  // namespace bushbaby::tool
