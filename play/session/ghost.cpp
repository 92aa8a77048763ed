#include "ghost.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/lab/subject.h"

namespace bushbaby::live {
namespace {

constexpr double kApart = 1e-9;  // u

bool is_elsewhere(Vec a, Vec b) {
  return std::abs(a.x - b.x) > kApart || std::abs(a.y - b.y) > kApart;
}

}  // namespace

Ghost Ghost::of_file() {
  Ghost one;
  one.kind_ = Kind::file;
  one.name_ = "the file";
  return one;
}

Ghost Ghost::of_tuning(std::string name, Rulebook book) {
  Ghost one;
  one.kind_ = Kind::tuning;
  one.name_ = std::move(name);
  one.book_ = std::move(book);
  return one;
}

Ghost Ghost::of_trace(std::string name, Trace trace) {
  Ghost one;
  one.kind_ = Kind::trace;
  one.name_ = std::move(name);
  one.trail_ = trace;
  one.recorded_ = std::move(trace);
  return one;
}

void Ghost::join(const Character& character, const Rulebook& file, const World& world) {
  if (kind_ == Kind::none || kind_ == Kind::trace) return;
  parted_.reset();
  character_ = character;
  const Rules& rules = book(file).rules(0);
  body_ = rules.body.box;
  radius_ = rules.body.radius;
  // With a body of its own it may need another place; without room it stays where it is.
  Character placed = character;
  if (place(placed, character.feet, book(file), world)) {
    placed.controls = character.controls;
    placed.facing = character.facing;
    character_ = placed;
  }
  trail_ = {};
  trail_.tick_rate = rules.tick_rate;
  trail_.true_curve = rules.integrator == Integrator::exact;
  trail_.samples.push_back(sample_of(character_));
}

void Ghost::advance(const Controls& held, const Character& other, const Rulebook& file,
                    const World& world) {
  if (kind_ == Kind::none) return;
  if (kind_ == Kind::trace) {
    const auto now = at(other.tick);
    if (!parted_ && now && is_elsewhere(now->feet, other.feet)) parted_ = other.tick;
    return;
  }
  // Moving platforms travel by one tick rate: with another one it waits for the restart.
  const double rate = world.platform_tick_rate();
  if (rate != 0 && rate != book(file).rules(0).tick_rate) return;
  const Events events = bushbaby::advance(character_, held, book(file), world);
  trail_.samples.push_back(sample_of(character_));
  trail_.events.insert(trail_.events.end(), events.begin(), events.end());
  note(other);
}

void Ghost::note(const Character& other) {
  if (!parted_ && is_elsewhere(character_.feet, other.feet)) parted_ = other.tick;
}

std::optional<Sample> Ghost::at(std::int64_t tick) const {
  const auto& samples = trail_.samples;
  const auto found =
      std::lower_bound(samples.begin(), samples.end(), tick,
                       [](const Sample& sample, std::int64_t t) { return sample.tick < t; });
  if (found == samples.end() || found->tick != tick) return std::nullopt;
  return *found;
}

std::optional<Sample> Ghost::between(std::int64_t tick, double share) const {
  auto now = at(tick);
  const auto before = at(tick - 1);
  if (now && before) now->feet = before->feet + (now->feet - before->feet) * share;
  return now;
}

}  // namespace bushbaby::live
