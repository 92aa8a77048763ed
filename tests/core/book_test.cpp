// What is explained is what happens: in random play, with blows and locks from outside, the book of
// every tick and the answer about a press are held against the events of that tick. The account of
// which events belong to which decision is written from docs/model.md, apart from the core.
#include <algorithm>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/tuning/zones.h"

#include "situation.h"

namespace bushbaby {
namespace {

using test::Situation;

constexpr std::uint32_t kSituations = test::kSlow ? 400 : 6000;
constexpr std::uint32_t kShards = 4;

// What a tick did, by its events.
struct Deeds {
  explicit Deeds(const Events& events) {
    bool graceful = false;
    for (const Event& event : events) {
      switch (event.kind) {
        case EventKind::coyote_used: graceful = true; break;
        case EventKind::charge_started: charge_started = true; break;
        case EventKind::left_ground:
          if (detail_of(event) == "dropped") ++done[at(Candidate::drop)];
          break;
        case EventKind::wall_released: ++done[at(Candidate::wall_exit)]; break;
        case EventKind::cut: ++done[at(Candidate::cut)]; break;
        case EventKind::fast_fell: ++done[at(Candidate::fast_fall)]; break;
        case EventKind::dash_started: ++done[at(Candidate::dash)]; break;
        case EventKind::jumped:
          jump = static_cast<JumpKind>(event.detail);
          ++done[at(candidate_of(*jump, graceful))];
          break;
        default: break;
      }
    }
  }

  static std::size_t at(Candidate candidate) { return static_cast<std::size_t>(candidate); }

  // A gauge let go in the time of grace is reported as the ground jump that was begun.
  static Candidate candidate_of(JumpKind kind, bool graceful) {
    switch (kind) {
      case JumpKind::ground: return graceful ? Candidate::coyote_jump : Candidate::ground_jump;
      case JumpKind::air: return Candidate::air_jump;
      case JumpKind::wall: return Candidate::wall_exit;
      case JumpKind::stroke: return Candidate::stroke;
      case JumpKind::exit_jump: return Candidate::exit_jump;
      case JumpKind::charged: break;
    }
    return Candidate::ground_jump;
  }

  std::array<int, kCandidates> done{};
  std::optional<JumpKind> jump;
  bool charge_started = false;
};

struct Count {
  std::int64_t ticks = 0, presses = 0, possible = 0;
  std::array<std::int64_t, kCandidates> happened{};
  std::array<std::int64_t, static_cast<std::size_t>(Hurdle::under_water) + 1> hurdles{};
};

void check_book(const Explanation& reported, const Explanation& written, const Events& events,
                Count& count) {
  const Deeds deeds(events);
  for (std::size_t i = 0; i < kCandidates; ++i) {
    const Trial& trial = reported.trials[i];
    ASSERT_EQ(trial.candidate, static_cast<Candidate>(i));
    // A climb goes on for ticks; no event reports each.
    if (trial.candidate != Candidate::climb) {
      ASSERT_EQ(deeds.done[i], trial.hurdle == Hurdle::none ? 1 : 0) << describe(trial);
    }
    ASSERT_EQ(trial.hurdle, written.trials[i].hurdle)
        << "predicted beforehand, and written on the way";
    ASSERT_EQ(describe(trial), describe(written.trials[i]));
    count.happened[i] += trial.hurdle == Hurdle::none ? 1 : 0;
    ++count.hurdles[static_cast<std::size_t>(trial.hurdle)];
  }
  ASSERT_TRUE(!deeds.charge_started ||
              reported.of(Candidate::ground_jump).hurdle == Hurdle::charging);
  ASSERT_EQ(reported.drive, written.drive);
  ASSERT_EQ(reported.gravity, written.gravity);
}

// What a press does now, from making one: the button up, nothing remembered.
void check_available(const Character& character, const Controls& held, const Rules& rules,
                     const World& world, Count& count) {
  const Availability answer = available(character, held, rules, world);
  Character ready = character;
  ready.controls.jump = false;
  ready.buffer_left = ready.wall_buffer_left = 0;
  Controls pressed = held;
  pressed.jump = true;
  pressed.dash = false;
  const std::int64_t gauge = ready.charge_held;
  const Deeds deeds(advance(ready, pressed, rules, world));
  // A remembered dash empties the gauge after the decision, so that nobody sees that it went on.
  if (gauge > 0 && deeds.done[Deeds::at(Candidate::dash)] > 0) return;
  const bool filled = ready.charge_held >= gauge || ready.charge_broken;  // by what was touched
  const bool charges = deeds.charge_started || (gauge > 0 && filled);
  ++count.presses;
  count.possible += answer.possible ? 1 : 0;
  ASSERT_EQ(answer.possible, deeds.jump.has_value() || charges) << describe(answer.trial);
  if (answer.possible) {
    ASSERT_EQ(answer.kind, charges ? JumpKind::charged : *deeds.jump);
  } else {
    ASSERT_NE(answer.trial.hurdle, Hurdle::none);
    ASSERT_NE(answer.trial.hurdle, Hurdle::not_asked);
    ++count.hurdles[static_cast<std::size_t>(answer.trial.hurdle)];
  }
}

// The rules of the tuning; one time in six within something to swim in.
Rules rules_for(Situation& situation, bool swims) {
  Zone zone;
  if (swims) {
    Fluid fluid;
    fluid.buoyancy = situation.uniform(0, 100);
    fluid.drag = situation.uniform(0.1, 10);
    fluid.dive = situation.uniform(0, 10);
    fluid.stroke = situation.uniform(0.2, 3);
    fluid.stroke_every = situation.ticks(20);
    fluid.exit_jump = situation.one_in(3) ? 0 : situation.uniform(0.2, 5);
    zone.fluid = fluid;
  }
  const CompiledBook compiled = compile_in(situation.tuning, {zone}, {0});
  EXPECT_TRUE(compiled.ok());
  return compiled.book.rules(0);
}

void play(std::uint32_t seed, Count& count) {
  Situation situation(seed);
  const bool swims = situation.one_in(6);
  const Rules rules = rules_for(situation, swims);
  const LevelWorld world(situation.level, kNothingTravels);
  const auto entered = situation.enter(rules, world);
  if (!entered) return;
  Character character = *entered;
  for (const Controls& held : situation.controls) {
    situation.may_set_status(character, 150, 20);
    if (situation.one_in(150)) {
      push(character, {{situation.uniform(-12, 12), situation.uniform(-6, 12)}}, {}, rules);
    }
    character.head_out = swims && situation.one_in(3);
    check_available(character, held, rules, world, count);
    const Explanation reported = explain(character, held, rules, world);
    Character unwatched = character;
    const std::int64_t used = character.climb_used;
    Explanation written;
    const Events events = advance(character, held, rules, world, &written);
    check_book(reported, written, events, count);
    const bool climbed = reported.happens(Candidate::climb);
    ASSERT_TRUE(!character.climbing || climbed) << "it climbs, and nobody said so";
    // Ground that is met on the way gives the reserve back.
    const std::int64_t now = climbed ? 1 : 0;
    const bool bounced = std::any_of(events.begin(), events.end(), [](const Event& event) {
      return event.kind == EventKind::bounced;
    });
    ASSERT_TRUE(character.grounded() || character.climb_used == used + now ||
                character.climb_used == now || bounced);
    ++count.ticks;
    if (character.tick % 8 == 0) {
      (void)advance(unwatched, held, rules, world);
      ASSERT_TRUE(unwatched == character) << "the book changed the tick";
    }
    if (::testing::Test::HasFatalFailure()) {
      FAIL() << "seed " << seed << ", tick " << character.tick;
    }
  }
}

class Book : public ::testing::TestWithParam<std::uint32_t> {};

TEST_P(Book, ReportsWhatHappensInMillionsOfTicks) {
  Count count;
  for (std::uint32_t i = 0; i < kSituations; ++i) {
    play(1 + GetParam() + kShards * i, count);
    if (HasFatalFailure()) return;
  }
  if (!test::kSlow) {
    EXPECT_GT(count.ticks, 2600000);
    for (const std::int64_t happened : count.happened) EXPECT_GT(happened, 400);
    for (std::size_t i = 0; i < count.hurdles.size(); ++i) {
      // A jump is over when the body no longer rises, unless a game stops it from outside.
      if (static_cast<Hurdle>(i) == Hurdle::not_rising) continue;
      EXPECT_GT(count.hurdles[i], 0) << "hurdle " << i << " was never met";
    }
  }
  EXPECT_GT(count.possible, count.presses / 20);
  EXPECT_LT(count.possible, count.presses * 19 / 20);
}

INSTANTIATE_TEST_SUITE_P(Shards, Book, ::testing::Range(0U, kShards));

}  // namespace
}  // namespace bushbaby
