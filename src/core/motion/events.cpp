#include "bushbaby/core/motion/events.h"

namespace bushbaby {
namespace {

using Words = std::array<std::string_view, kEventDetails>;

constexpr Words kNoWords{};
constexpr Words kSides{"left", "right"};
constexpr Words kEnds{"foot", "head"};
constexpr Words kJumps{"ground", "air", "wall", "charged", "stroke", "exit_jump"};
constexpr Words kReasons{"jumped", "walked_off", "lifted", "pushed",
                         "dashed", "climbed",    "dropped"};
constexpr Words kDashEnds{"done", "blocked", "jumped", "pushed"};
constexpr Words kStatuses{"no_control", "stun", "no_jump", "slow", "no_cling", "slow_fall"};
static_assert(kStatusKinds <= kEventDetails);

constexpr std::array<EventMeaning, kEventKinds> kMeanings{{
    {EventKind::jumped, "jumped", "it jumped", kJumps, EventValue::speed,
     "vertical, after launch, relative to what it left"},
    {EventKind::cut, "cut", "releasing the button cut the jump", kNoWords, EventValue::speed,
     "vertical, before it"},
    {EventKind::apex, "apex", "the vertical speed came down to 0 by itself", kNoWords,
     EventValue::none, ""},
    {EventKind::landed, "landed", "it landed on ground", kNoWords, EventValue::speed,
     "into the ground"},
    {EventKind::left_ground, "left_ground",
     "it left the ground; `lifted` by an upward speed that the game gave it", kReasons,
     EventValue::none, ""},
    {EventKind::wall_touched, "wall_touched", "it came to a wall", kSides, EventValue::speed,
     "into the wall"},
    {EventKind::wall_lost, "wall_lost", "it no longer touches the wall", kSides, EventValue::none,
     ""},
    {EventKind::bumped_head, "bumped_head", "it hit a ceiling", kNoWords, EventValue::speed,
     "into the ceiling"},
    {EventKind::coyote_used, "coyote_used", "the jump that follows used coyote time", kNoWords,
     EventValue::none, ""},
    {EventKind::buffer_used, "buffer_used", "the jump that follows used a buffered press", kNoWords,
     EventValue::none, ""},
    {EventKind::bounced, "bounced", "it bounced off a surface", kNoWords, EventValue::speed,
     "vertical, after it"},
    {EventKind::pushed, "pushed", "a push from outside moved it", kNoWords, EventValue::speed,
     "after it"},
    {EventKind::dash_started, "dash_started", "a dash began", kNoWords, EventValue::speed,
     "of the dash"},
    {EventKind::dash_ended, "dash_ended", "the dash is over", kDashEnds, EventValue::speed,
     "that is left"},
    {EventKind::locked, "locked", "an ability is locked or reduced for a while", kStatuses,
     EventValue::reason, "the game's own number for why"},
    {EventKind::unlocked, "unlocked", "that is over", kStatuses, EventValue::none, ""},
    {EventKind::fast_fell, "fast_fell", "a fast fall began", kNoWords, EventValue::speed,
     "falling, after the press"},
    {EventKind::charge_started, "charge_started", "a jump starts to charge", kNoWords,
     EventValue::none, ""},
    {EventKind::charge_lost, "charge_lost", "the charge was lost without a jump", kNoWords,
     EventValue::none, ""},
    {EventKind::wall_released, "wall_released",
     "it came off a wall by an exit without upward speed", kSides, EventValue::none, ""},
    {EventKind::wall_grabbed, "wall_grabbed", "it is on a wall: sliding, clinging or climbing",
     kSides, EventValue::none, ""},
    {EventKind::wall_grab_ended, "wall_grab_ended", "it is no longer on the wall", kSides,
     EventValue::none, ""},
    {EventKind::glide_started, "glide_started", "it glides", kNoWords, EventValue::none, ""},
    {EventKind::glide_ended, "glide_ended", "it stopped gliding", kNoWords, EventValue::none, ""},
    {EventKind::fast_fall_ended, "fast_fall_ended", "the fast fall is over", kNoWords,
     EventValue::none, ""},
    {EventKind::climb_started, "climb_started", "it climbs a wall, or hangs on to it in between",
     kSides, EventValue::none, ""},
    {EventKind::climb_ended, "climb_ended", "it stopped climbing", kSides, EventValue::none, ""},
    {EventKind::climbed_over, "climbed_over", "it climbed past the top of the wall", kSides,
     EventValue::speed, "horizontal, after it"},
    {EventKind::sprint_started, "sprint_started", "it sprints", kNoWords, EventValue::none, ""},
    {EventKind::sprint_ended, "sprint_ended", "it stopped sprinting", kNoWords, EventValue::none,
     ""},
    {EventKind::nudged, "nudged", "it was pushed past a corner that it only just clipped", kEnds,
     EventValue::none, ""},
    {EventKind::entered, "entered", "it entered a zone", kNoWords, EventValue::zone,
     "number of the zone"},
    {EventKind::left, "left", "it left a zone", kNoWords, EventValue::zone, "number of the zone"},
    {EventKind::crushed, "crushed", "a moving platform squeezes the body: there is no way out",
     kNoWords, EventValue::none, ""},
}};

constexpr bool is_in_order() noexcept {
  for (std::size_t i = 0; i < kEventKinds; ++i) {
    if (static_cast<std::size_t>(kMeanings[i].kind) != i || kMeanings[i].name.empty()) return false;
  }
  return true;
}
static_assert(is_in_order());

std::string_view word(const Words& words, std::size_t i) noexcept {
  return i < words.size() ? words[i] : std::string_view{};
}

}  // namespace

const std::array<EventMeaning, kEventKinds>& event_meanings() noexcept { return kMeanings; }

const EventMeaning& meaning_of(EventKind kind) noexcept {
  return kMeanings[static_cast<std::size_t>(kind)];
}

std::string_view name_of(EventKind kind) noexcept { return meaning_of(kind).name; }

std::string_view name_of(LeaveReason reason) noexcept {
  return word(kReasons, static_cast<std::size_t>(reason));
}

std::string_view name_of(StatusKind kind) noexcept {
  return word(kStatuses, static_cast<std::size_t>(kind));
}

std::string_view detail_of(const Event& event) noexcept {
  return word(meaning_of(event.kind).words, event.detail);
}

}  // namespace bushbaby
