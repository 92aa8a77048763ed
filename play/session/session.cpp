#include "session.h"

#include <algorithm>
#include <utility>

#include "bushbaby/core/motion/advance.h"

namespace bushbaby::live {
namespace {

constexpr double kKept = 90;  // s of play

std::size_t ticks_kept(double tick_rate) { return static_cast<std::size_t>(kKept * tick_rate); }

bool is_same_box(const Box& a, const Box& b) { return a.lo == b.lo && a.hi == b.hi; }

}  // namespace

Session::Session(Opening setup)
    : desk_(std::move(setup.file), std::move(setup.level), setup.book),
      pacer_(desk_.good().loop.tick_rate),
      world_(desk_.level(), desk_.good().loop.tick_rate),
      tick_rate_(desk_.good().loop.tick_rate),
      targets_(std::move(setup.targets)),
      target_jumps_(target_jumps_of(targets_)),
      reel_(ticks_kept(tick_rate_)),
      inputs_(std::move(setup.inputs)),
      ghost_(std::move(setup.ghost)) {
  if (setup.present) desk_.take(*setup.present, "what was set at the start");
  make_world();
  restart();
}

void Session::make_world() {
  tick_rate_ = desk_.good().loop.tick_rate;
  world_ = LevelWorld(level(), tick_rate_);
  pacer_.set_tick_rate(tick_rate_);
  reel_ = Reel(ticks_kept(tick_rate_));
  body_ = book().rules(0).body.box;
}

void Session::begin(const Character& character, bool at_start) {
  reel_.restart(character);
  shown_ = restarted_ = character.tick;
  from_start_ = at_start;
  start_version_ = desk_.version();
  compared_ = false;
  held_.clear();
  mark_.reset();
  next_input_ = 0;
  presses_.clear();
  landings_.clear();
  follower_ = PressFollower();
  begin_take(character);
  trails_tick_ = -1;
  refresh_trails();
}

void Session::restart() {
  Character character;
  // A level whose start has no room is reported when it is read; the body stands there all the
  // same.
  (void)place(character, level().start, book(), world_);
  begin(character, true);
}

bool Session::restart_at(Vec feet) {
  Character character;
  if (!place(character, feet, book(), world_)) return false;
  inputs_.clear();
  begin(character, false);
  return true;
}

// ---- time -------------------------------------------------------------------------------------

void Session::frame(double seconds) {
  keep_up_with_desk();
  if (paused_) {
    (void)hands_.take();  // what is pressed now is not for later
  } else {
    if (seconds > 0) is_whole_ = false;
    for (int i = pacer_.due(seconds); i > 0; --i) advance();
  }
  refresh_trails();
}

Controls Session::next_controls() {
  const Controls from_hands = hands_.take();
  return next_input_ < inputs_.size() ? inputs_[next_input_++] : from_hands;
}

void Session::advance() {
  keep_up_with_desk();
  if (shown_ < reel_.last()) forget_what_came();
  make_tick(next_controls());
}

void Session::play(const Controls& held) {
  keep_up_with_desk();
  pause(false);
  is_whole_ = true;
  make_tick(held);
  refresh_trails();
}

void Session::make_tick(const Controls& held) {
  if (shown_ < reel_.last()) forget_what_came();
  const Character before = reel_.at(shown_);
  // What came of a press is known in the first tick on the ground.
  if (is_at_rest(before) && is_at_rest(reel_.at(shown_ - 1))) begin_take(before);

  ReelTick tick;
  tick.held = held;
  tick.whose = whose_;
  compared_ |= whose_ != InForce::present;
  tick.version = desk_.version();
  const Rulebook& rules = book();
  const Situation situation{before, tick.held, rules, world_};
  const Availability press = available(before, tick.held, rules, world_);
  tick.after = before;
  const Events events = bushbaby::advance(tick.after, tick.held, rules, world_, &tick.why);
  tick.events.assign(events.begin(), events.end());
  tick.note = note_of(press, tick.after);
  follower_.see_decisions(situation, tick.why);
  follower_.see_outcome(tick.after, tick.events);
  ghost_.advance(tick.held, tick.after, desk_.book(InForce::file), world_);

  const bool landed = std::any_of(events.begin(), events.end(), [](const Event& event) {
    return event.kind == EventKind::landed;
  });
  held_.push_back(tick.held);
  reel_.add(std::move(tick));
  shown_ = reel_.last();
  if (!landed) return;
  // From the last tick on the ground on.
  std::int64_t from = shown_ - 1;
  while (from > reel_.first() && !reel_.at(from).grounded()) --from;
  const Trace jump = reel_.trace(from, shown_, tick_rate_, played_.true_curve);
  const auto landing = landing_of(jump, target_jumps_, desk_.tuning(whose_).run.top_speed);
  if (!landing) return;
  landings_.push_back(*landing);
  constexpr std::size_t kMostLandings = 200;
  if (landings_.size() > kMostLandings) landings_.pop_front();
}

void Session::pause(bool paused) {
  if (paused_ == paused) return;
  paused_ = paused;
  hands_.let_all_go();
}

void Session::step_forward() {
  pause(true);
  if (shown_ < reel_.last()) {
    ++shown_;
  } else {
    advance();
  }
  refresh_trails();
}

void Session::step_back() { scrub(shown_ - 1); }

void Session::scrub(std::int64_t tick) {
  pause(true);
  shown_ = std::clamp(tick, reel_.first(), reel_.last());
  refresh_trails();
}

void Session::forget_what_came() {
  reel_.cut_after(shown_);
  held_.resize(static_cast<std::size_t>(shown_ - restarted_));
  if (mark_ && *mark_ > shown_) mark_.reset();
  next_input_ = std::min(next_input_, held_.size());
  while (!landings_.empty() && landings_.back().tick > shown_) landings_.pop_back();
  rebuild_take();
}

Pose Session::pose() const {
  const std::int64_t before = std::max(shown_ - 1, reel_.first());
  return pose_between(reel_.at(before), reel_.at(shown_), share());
}

double Session::share() const noexcept {
  return paused_ || is_whole_ || shown_ < reel_.last() ? 1 : pacer_.share();
}

// ---- takes ------------------------------------------------------------------------------------

void Session::begin_take(const Character& character) {
  if (take_ != character.tick) {
    const std::vector<Press> old = follower_.presses();
    presses_.insert(presses_.end(), old.begin(), old.end());
    while (!presses_.empty() && presses_.front().tick <= reel_.first()) presses_.pop_front();
    follower_ = PressFollower();
  }
  take_ = character.tick;
  ghost_.join(character, desk_.book(InForce::file), world_);
}

// After going back: the take up to there, once more, for those who follow it.
void Session::rebuild_take() {
  take_ = reel_.start_of_take(shown_);
  while (!presses_.empty() && presses_.back().tick > take_) presses_.pop_back();
  follower_ = PressFollower();
  ghost_.join(reel_.at(take_), desk_.book(InForce::file), world_);
  for (std::int64_t i = take_ + 1; i <= shown_; ++i) {
    const ReelTick& tick = reel_.tick(i);
    follower_.see_decisions({reel_.at(i - 1), tick.held, book(), world_}, tick.why);
    follower_.see_outcome(tick.after, tick.events);
    ghost_.advance(tick.held, tick.after, desk_.book(InForce::file), world_);
  }
}

// Another loop begins again; another body is put where it has room.
void Session::keep_up_with_desk() {
  if (seen_version_ == desk_.version()) return;
  seen_version_ = desk_.version();
  if (desk_.good().loop.tick_rate != tick_rate_) {
    whose_ = InForce::present;
    make_world();
    restart();
    return;
  }
  const Box& body = book().rules(0).body.box;
  if (is_same_box(body, body_)) return;
  body_ = body;
  Character moved = reel_.at(shown_);
  if (!place(moved, moved.feet, book(), world_)) {
    restart();
    return;
  }
  if (shown_ < reel_.last()) forget_what_came();
  reel_.put(moved);
}

Trace Session::play_again(std::int64_t from, std::int64_t to) const {
  Character character = reel_.at(from);
  Trace trace;
  trace.tick_rate = tick_rate_;
  trace.true_curve = played_.true_curve;
  trace.samples.push_back(sample_of(character));
  for (std::int64_t i = from + 1; i <= to; ++i) {
    const Controls& held = reel_.tick(i).held;
    const Events events = bushbaby::advance(character, held, book(), world_);
    trace.samples.push_back(sample_of(character));
    trace.events.insert(trace.events.end(), events.begin(), events.end());
  }
  return trace;
}

void Session::refresh_trails() {
  if (trails_tick_ == shown_ && trails_version_ == desk_.version()) return;
  trails_tick_ = shown_;
  trails_version_ = desk_.version();
  // While it is gone back in, the whole take stays to be seen.
  const std::int64_t from = reel_.start_of_take(shown_);
  std::int64_t to = shown_;
  while (to < reel_.last() && !is_at_rest(reel_.at(to))) ++to;
  const bool true_curve = book().rules(0).integrator == Integrator::exact;
  played_ = reel_.trace(from, to, tick_rate_, true_curve);
  bool otherwise = false;
  for (std::int64_t i = from + 1; i <= to && !otherwise; ++i) {
    const ReelTick& tick = reel_.tick(i);
    otherwise = tick.version != desk_.version() || tick.whose != whose_;
  }
  again_.reset();
  if (otherwise) again_ = play_again(from, to);
}

// ---- comparing --------------------------------------------------------------------------------

bool Session::hold_file(bool held) {
  if (!held) {
    if (whose_ == InForce::file) {
      whose_ = InForce::present;
      trails_tick_ = -1;
    }
    return true;
  }
  const Rules& now = desk_.book(InForce::present).rules(0);
  const Rules& file = desk_.book(InForce::file).rules(0);
  if (now.tick_rate != file.tick_rate || !is_same_box(now.body.box, file.body.box)) return false;
  whose_ = InForce::file;
  trails_tick_ = -1;
  return true;
}

bool Session::hold_amplified(const KnobPlace* place) {
  if (place == nullptr) {
    desk_.end_amplifying();
    if (whose_ == InForce::amplified) whose_ = InForce::present;
    return true;
  }
  const std::string_view mechanism = place->knob->mechanism();
  if (mechanism == "loop" || mechanism == "body") return false;
  if (!desk_.amplify(*place)) return false;
  whose_ = InForce::amplified;
  return true;
}

void Session::set_ghost(Ghost ghost) {
  ghost_ = std::move(ghost);
  rebuild_take();
}

// ---- what is reported
// -----------------------------------------------------------------------------

const Landing* Session::last_landing() const noexcept {
  const auto last = std::find_if(landings_.rbegin(), landings_.rend(),
                                 [this](const Landing& one) { return one.tick <= shown_; });
  return last == landings_.rend() ? nullptr : &*last;
}

std::vector<Press> Session::presses() const {
  std::vector<Press> all(presses_.begin(), presses_.end());
  const std::vector<Press> now = follower_.presses();
  all.insert(all.end(), now.begin(), now.end());
  return all;
}

std::optional<ExplainedTick> Session::why() const {
  if (shown_ <= reel_.first()) return std::nullopt;
  const ReelTick& tick = reel_.tick(shown_);
  const Character& before = reel_.at(shown_ - 1);
  ExplainedTick reported = explained_tick({before, tick.held, book(), world_}, tick.why, level());
  reported.events = tick.events;
  if (!tick.held.jump || !before.controls.jump) return reported;
  std::int64_t pressed = shown_;
  while (pressed > reel_.first() + 1 && reel_.tick(pressed - 1).held.jump) --pressed;
  reported.jump_held_since = pressed;
  return reported;
}

std::vector<Controls> Session::inputs_so_far() const {
  const auto ticks = static_cast<std::ptrdiff_t>(shown_ - restarted_);
  return {held_.begin(), held_.begin() + ticks};
}

bool Session::is_repeatable() const noexcept {
  return from_start_ && start_version_ == desk_.version() && !compared_;
}

void Session::mark() { mark_ = marked() == shown_ ? std::nullopt : std::optional(shown_); }

std::optional<std::int64_t> Session::marked() const noexcept {
  const bool is_kept = mark_ && *mark_ >= reel_.first() && *mark_ <= shown_;
  return is_kept ? mark_ : std::nullopt;
}

Trace Session::stretch() const {
  return reel_.trace(marked().value_or(reel_.first()), shown_, tick_rate_, played_.true_curve);
}

}  // namespace bushbaby::live
