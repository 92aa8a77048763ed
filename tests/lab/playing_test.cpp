// Inputs that wait: for what, until when, and that looking ahead leaves no trace.
#include "bushbaby/lab/playing.h"

#include <algorithm>
#include <random>

#include "bushbaby/data/inputs_file.h"
#include "bushbaby/data/level_file.h"
#include "bushbaby/data/tuning_file.h"

#include "support.h"

namespace bushbaby {
namespace {

const std::string kDemo = std::string(BUSHBABY_SOURCE_DIR) + "/demo/";

Level first_limbs() { return *load_level(kDemo + "first-limbs.level.toml"); }

CharacterSubject pip_at(double rate, Integrator loop = Integrator::exact) {
  Tuning tuning = load_tuning(kDemo + "pip.tuning.toml")->tuning;
  return CharacterSubject(test::rules_of(test::with_loop(tuning, {loop, rate, true})), "Pip");
}

Inputs inputs_from(const std::string& lines) {
  const auto inputs = parse_inputs("# bushbaby inputs 1\n" + lines, "t");
  EXPECT_TRUE(inputs) << (inputs ? "" : describe(inputs.error().front()));
  return inputs ? *inputs : Inputs{};
}

// A controller that reports nothing but where it is, and cannot keep its state.
class Bare final : public Subject {
 public:
  explicit Bare(CharacterSubject inner) : inner_(std::move(inner)) {}
  [[nodiscard]] SubjectTraits traits() const override {
    SubjectTraits traits = inner_.traits();
    traits.gives_events = false;
    return traits;
  }
  [[nodiscard]] bool can_stand_on(Terrain terrain) const override {
    return inner_.can_stand_on(terrain);
  }
  [[nodiscard]] bool place(const Stage& stage) override { return inner_.place(stage); }
  void advance(const Controls& controls) override { inner_.advance(controls); }
  [[nodiscard]] Sample observe() const override { return inner_.observe(); }

 private:
  CharacterSubject inner_;
};

// From the places alone, apart from the player: whether a cue came in the tick that ends in sample
// k. No wall and no edge in here that a jump or a dash could be taken for.
bool came(const Wait& wait, const Trace& trace, std::size_t k) {
  const Sample& a = trace.samples[k - 1];
  const Sample& b = trace.samples[k];
  switch (wait.cue) {
    case Cue::landed: return b.grounded && !a.grounded;
    case Cue::airborne: return !b.grounded;
    case Cue::falling: return !b.grounded && b.velocity.y <= 0;
    case Cue::wall: return b.velocity.x == 0 && a.velocity.x != 0;
    case Cue::edge: return a.grounded && !b.grounded && b.feet.y <= a.feet.y;
    case Cue::still: return b.grounded && a.feet == b.feet;
    case Cue::x: return (a.feet.x - wait.place) * (b.feet.x - wait.place) <= 0;
    case Cue::y: break;
  }
  return (a.feet.y - wait.place) * (b.feet.y - wait.place) <= 0;
}

// One line for each cue, and what is done before it.
struct Case {
  const char* before;
  const char* line;
};
const Case kCases[] = {
    {"", "nothing until still"},
    {"", "right until wall"},
    {"right until x 4\nright jump until falling\nright until landed\n", "right until edge"},
    {"right until x 4\n", "right jump until airborne"},
    {"right until x 4\nright jump for 5 ticks\n", "right until falling"},
    {"right until x 4\nright jump for 5 ticks\n", "right until landed"},
    {"", "right until x 3.7"},
    {"right until x 5.3\n", "left until x 2.2"},
    {"right until x 4\n", "right jump until y 1.9"},
};

// The last span ends with the first tick in which its cue came, or N ticks before or after
// it; at every rate, in every loop, and whether a subject can keep its state or not.
TEST(Playing, SpansEndWithWhatTheyWaitFor) {
  const Stage stage = level_stage(first_limbs());
  for (const JumpLoop& loop : test::all_loops({50, 60, 144})) {
    for (const Case& one : kCases) {
      SCOPED_TRACE(std::string(one.line) + ", " + test::text_of(loop));
      CharacterSubject pip(
          test::rules_of(test::with_loop(load_tuning(kDemo + "pip.tuning.toml")->tuning, loop)));
      const Inputs before = inputs_from(one.before);
      Inputs inputs = inputs_from(std::string(one.before) + one.line + "\n");
      const auto first = play(pip, stage, before);
      const auto plain = play(pip, stage, inputs);
      ASSERT_TRUE(first && plain && !first->stall && !plain->stall);
      const std::size_t begun = first->trace.samples.size() - 1;
      const std::size_t end = plain->trace.samples.size() - 1;
      const Wait wait = *inputs.spans.back().until;
      ASSERT_GT(end, begun);
      for (std::size_t k = begun + 1; k <= end; ++k) {
        ASSERT_EQ(came(wait, plain->trace, k), k == end) << "tick " << k;
      }
      for (const int shift : {-1, 2}) {
        if (shift < 0 && end - begun < 2) continue;
        inputs.spans.back().until->shift.amount = shift;
        Bare bare(pip);
        const auto kept = play(pip, stage, inputs);
        const auto again = play(bare, stage, inputs);
        ASSERT_TRUE(kept && again && !kept->stall && !again->stall);
        EXPECT_EQ(static_cast<int>(kept->trace.samples.size() - plain->trace.samples.size()),
                  shift);
        EXPECT_EQ(kept->trace.samples.size(), again->trace.samples.size());
        EXPECT_EQ(kept->trace.samples.back().feet, again->trace.samples.back().feet);
      }
    }
  }
}

// Whatever is waited for: the same things held tick by tick give the same trace, events included,
// so nothing of what was tried ahead is left in it.
TEST(Playing, LookingAheadLeavesNoTrace) {
  const Stage stage = level_stage(first_limbs());
  std::mt19937_64 random(20);
  const char* const held[] = {"right", "left", "right jump", "left jump", "nothing", "right dash"};
  const char* const cues[] = {"landed", "airborne", "falling", "wall",
                              "edge",   "still",    "x 9",     "y 1.5"};
  const auto one_of = [&random](const auto& list) { return list[random() % std::size(list)]; };
  int ahead = 0;
  int stalls = 0;
  for (int run = 0; run < 2000; ++run) {
    std::string lines;
    for (int i = 0; i < 12; ++i) {
      const int way = static_cast<int>(random() % 4);
      const std::string shift = way == 0 ? ""
                                         : std::to_string(1 + random() % 6) +
                                               (way == 1 ? " ticks after " : " ticks before ");
      lines += random() % 3 == 0 ? std::string(one_of(held)) + " for 7 ticks\n"
                                 : std::string(one_of(held)) + " until " + shift + one_of(cues) +
                                       " within 90 ticks\n";
    }
    CharacterSubject pip = pip_at(60);
    const auto played = play(pip, stage, inputs_from(lines));
    ASSERT_TRUE(played);
    const Trace& trace = played->trace;
    ASSERT_EQ(hash_of(*run_inputs(pip, stage, controls_of(trace))), hash_of(trace)) << lines;
    ASSERT_EQ(trace.samples.back().tick + 1, static_cast<std::int64_t>(trace.samples.size()));
    if (played->stall) {
      ++stalls;
      EXPECT_EQ(played->stall->at.feet, trace.samples.back().feet);
    }
    ahead += lines.find("before") != std::string::npos ? 1 : 0;
  }
  EXPECT_GT(ahead, 1000);
  EXPECT_GT(stalls, 500);
}

TEST(Playing, TimedInputsAreWhatTheyWere) {
  const Inputs inputs = *load_inputs(kDemo + "first-leaps.inputs");
  for (const double rate : {30.0, 60.0, 144.0}) {
    CharacterSubject pip = pip_at(rate);
    const Stage stage = level_stage(first_limbs());
    EXPECT_EQ(hash_of(play(pip, stage, inputs)->trace),
              hash_of(*run_inputs(pip, stage, controls_of(inputs, rate))));
  }
  // Times after a wait are summed from its end on: 10 halves of a tick are 5 ticks.
  CharacterSubject pip = pip_at(60);
  const std::string halves = "repeat 10 times\nright for 0.0083333333333333332s\nend\n";
  const auto played =
      play(pip, level_stage(first_limbs()), inputs_from("right until x 3\n" + halves));
  const auto before = play(pip, level_stage(first_limbs()), inputs_from("right until x 3\n"));
  EXPECT_EQ(played->trace.samples.size() - before->trace.samples.size(), 5U);
}

TEST(Playing, SaysWhereARunEndedEarly) {
  const Stage stage = level_stage(first_limbs());
  CharacterSubject pip = pip_at(60);
  const auto late =
      play(pip, stage, inputs_from("right until landed within 0.5 s\nleft for 9 ticks\n"));
  ASSERT_TRUE(late && late->stall);
  EXPECT_EQ(late->stall->why, Stall::Why::limit);
  EXPECT_EQ(late->stall->waited, 30);
  EXPECT_EQ(late->stall->span.line, 2);
  EXPECT_EQ(late->trace.samples.size(), 31U);
  const auto early = play(pip, stage, inputs_from("right until 99 ticks before x 4\n"));
  ASSERT_TRUE(early && early->stall);
  EXPECT_EQ(early->stall->why, Stall::Why::too_early);
  const auto endless = play(
      pip, stage,
      inputs_from("repeat 9999 times\nright until wall\nleft until x -1.5 within 1000 s\nend\n"));
  ASSERT_TRUE(endless && endless->stall);
  EXPECT_NE(endless->stall->why, Stall::Why::too_early);
  EXPECT_LE(endless->trace.samples.back().tick, kMostRunTicks);
  // One that must begin again for each look ahead is given up, not waited for.
  Bare bare(pip);
  const auto slow =
      play(bare, stage,
           inputs_from("nothing for 30000 ticks\nrepeat 9999 times\nright for 3 ticks\n"
                       "left until 1 ticks before x 2\nright until x 2.1\nend\n"));
  ASSERT_TRUE(slow && slow->stall);
  EXPECT_EQ(slow->stall->why, Stall::Why::too_much);
}

}  // namespace
}  // namespace bushbaby
