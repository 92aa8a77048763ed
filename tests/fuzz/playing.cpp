// A session of play, and strangers' hands on its keys and knobs: it stays sound.
#include <cstddef>
#include <cstdint>
#include <optional>

#include "bushbaby/core/tuning/zones.h"

#include "play/anything.h"
#include "session/script.h"
#include "session/settings.h"

namespace {

bushbaby::live::Opening opening() {
  bushbaby::live::Opening opening;
  bushbaby::Tuning& tuning = opening.file.tuning;
  tuning.jump.height = 3;
  tuning.jump.apex_time = bushbaby::Duration{0.4};
  tuning.jump.air_jumps.count = 1;
  bushbaby::Level& level = opening.level;
  level.start = {0, 1};
  level.solids = {{"floor", {{-20, -1}, {20, 0}}}, {"box", {{3, 0}, {5, 1.2}}}};
  bushbaby::Zone thick;
  thick.box = {{8, 0}, {14, 4}};
  thick.overrides = {{"fall.factor", true, 0.4}};
  level.zones = {thick};
  opening.book = bushbaby::compile_book(tuning, level.zones).book;
  opening.ghost = bushbaby::live::Ghost::of_file();
  return opening;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view text(reinterpret_cast<const char*>(data), size);  // NOLINT: bytes are text
  (void)bushbaby::live::parse_script(text, "a.script", {});
  (void)bushbaby::live::parse_settings_file(text, "settings.toml");
  bushbaby::live::Session session(opening());
  std::size_t at = 0;
  const auto next = [&] { return at < size ? data[at++] : std::uint8_t{0}; };
  constexpr int kMostDeeds = 60;
  for (int deed = 0; deed < kMostDeeds && at < size; ++deed) {
    bushbaby::live::test::do_anything(session, next);
    if (!bushbaby::live::test::is_sound(session)) __builtin_trap();
  }
  return 0;
}
