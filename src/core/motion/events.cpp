#include "bushbaby/core/motion/events.h"

namespace bushbaby {
namespace {

using Words = std::array<std::string_view, kEventDetails>;

constexpr Words kNoWords{};
constexpr Words kSides{"left", "right"};
constexpr Words kEnds{"foot", "head"};
constexpr Words kJumps{"ground", "air", "wall", "charged", "paddle", "leap"};
constexpr Words kReasons{"jumped", "walked_off", "lifted", "pushed",
                         "dashed", "climbed",    "dropped"};
constexpr Words kDashEnds{"done", "blocked", "jumped", "pushed"};
constexpr Words kStatuses{"no_control", "stun", "no_jump", "slow", "no_cling", "slow_fall"};
static_assert(kStatusKinds <= kEventDetails);

constexpr std::array<EventMeaning, kEventKinds> kMeanings{{
    {EventKind::jumped, "jumped", "it jumped", kJumps, EventValue::speed,
     "along up, after launch, over what it left"},
    {EventKind::cut, "cut", "the jump was cut by letting go", kNoWords, EventValue::speed,
     "along up, before it"},
    {EventKind::apex, "apex", "the speed along up came down to 0 by itself", kNoWords,
     EventValue::none, ""},
    {EventKind::landed, "landed", "it came to stand", kNoWords, EventValue::speed,
     "into the footing"},
    {EventKind::left_ground, "left_ground",
     "it stands no more; `lifted` by a speed along up that the game gave it", kReasons,
     EventValue::none, ""},
    {EventKind::wall_touched, "wall_touched", "it came to a wall", kSides, EventValue::speed,
     "into the wall"},
    {EventKind::wall_left, "wall_left", "it touches the wall no more", kSides, EventValue::none,
     ""},
    {EventKind::bumped_head, "bumped_head", "it met a ceiling", kNoWords, EventValue::speed,
     "into the ceiling"},
    {EventKind::coyote_used, "coyote_used",
     "the jump that follows was taken without ground or wall, in the time of grace", kNoWords,
     EventValue::none, ""},
    {EventKind::buffer_used, "buffer_used",
     "the jump that follows was asked for by an earlier press", kNoWords, EventValue::none, ""},
    {EventKind::bounced, "bounced", "it was thrown back by a surface", kNoWords, EventValue::speed,
     "along up, after it"},
    {EventKind::pushed, "pushed", "a push from outside moved it", kNoWords, EventValue::speed,
     "after it"},
    {EventKind::dash_started, "dash_started", "a dash began", kNoWords, EventValue::speed,
     "of the dash"},
    {EventKind::dash_ended, "dash_ended", "the dash is over", kDashEnds, EventValue::speed,
     "that is left"},
    {EventKind::locked, "locked", "something is not possible, or not fully, for a time", kStatuses,
     EventValue::reason, "the game's own number for why"},
    {EventKind::unlocked, "unlocked", "it is again", kStatuses, EventValue::none, ""},
    {EventKind::fast_fell, "fast_fell", "a fast fall began", kNoWords, EventValue::speed,
     "along down, after the press"},
    {EventKind::charge_started, "charge_started", "the gauge of a jump begins to fill", kNoWords,
     EventValue::none, ""},
    {EventKind::charge_lost, "charge_lost", "the gauge was emptied without a jump", kNoWords,
     EventValue::none, ""},
    {EventKind::let_go, "let_go", "a wall was left by a row that gives no speed along up", kSides,
     EventValue::none, ""},
    {EventKind::hold_started, "hold_started", "a wall holds it: it slides, clings or climbs",
     kSides, EventValue::none, ""},
    {EventKind::hold_ended, "hold_ended", "the wall holds it no more", kSides, EventValue::none,
     ""},
    {EventKind::glide_started, "glide_started", "it falls no faster than a glide does", kNoWords,
     EventValue::none, ""},
    {EventKind::glide_ended, "glide_ended", "it glides no more", kNoWords, EventValue::none, ""},
    {EventKind::fast_fall_ended, "fast_fall_ended", "the fast fall is over", kNoWords,
     EventValue::none, ""},
    {EventKind::climb_started, "climb_started",
     "it climbs along a wall, or holds on to it in between", kSides, EventValue::none, ""},
    {EventKind::climb_ended, "climb_ended", "it climbs no more", kSides, EventValue::none, ""},
    {EventKind::climbed_over, "climbed_over", "the wall that it climbed ended above it", kSides,
     EventValue::speed, "across, after it"},
    {EventKind::pace_started, "pace_started", "the second pace is in force", kNoWords,
     EventValue::none, ""},
    {EventKind::pace_ended, "pace_ended", "the first pace is in force again", kNoWords,
     EventValue::none, ""},
    {EventKind::nudged, "nudged", "a corner that it only just clipped was passed", kEnds,
     EventValue::none, ""},
    {EventKind::entered, "entered", "it came into a zone", kNoWords, EventValue::zone,
     "the number of the zone"},
    {EventKind::left, "left", "it came out of a zone", kNoWords, EventValue::zone,
     "the number of the zone"},
    {EventKind::crushed, "crushed", "a ferry reaches into the body: there is no way out", kNoWords,
     EventValue::none, ""},
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
