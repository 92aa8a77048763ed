#include "bushbaby/lab/subject.h"

#include <algorithm>
#include <utility>

#include "bushbaby/core/motion/outside.h"
#include "bushbaby/core/motion/pose.h"
#include "bushbaby/core/tuning/zones.h"

namespace bushbaby {
namespace {

// Farther than any drill runs; places near the start have full precision all the same.
double far_away(double size) { return 1e7 * std::max(1.0, size); }
double thickness(double size) { return 10 * std::max(1.0, size); }

Solid floor_solid(double size) {
  return {"floor", {{-far_away(size), -thickness(size)}, {far_away(size), 0}}};
}

}  // namespace

std::string_view name_of(Terrain terrain) noexcept {
  switch (terrain) {
    case Terrain::floor: return "floor";
    case Terrain::wall: return "wall";
    case Terrain::ledge: return "ledge";
    case Terrain::zone: return "zone";
    case Terrain::level: break;
  }
  return "level";
}

Stage floor_stage(double size) {
  return {Terrain::floor, {"floor", {0, 0}, {floor_solid(size)}}, 0};
}

Stage wall_stage(double wall_x, double size) {
  const Solid wall{"wall", {{wall_x, 0}, {wall_x + thickness(size), far_away(size)}}};
  return {Terrain::wall, {"wall", {0, 0}, {floor_solid(size), wall}}, wall_x};
}

Stage ledge_stage(double edge_x, double depth, double size) {
  const double far = far_away(size);
  const Solid upper{"ledge", {{-far, -depth / 2}, {edge_x, 0}}};
  const Solid lower{"floor", {{-far, -depth - thickness(size)}, {far, -depth}}};
  return {Terrain::ledge, {"ledge", {0, 0}, {upper, lower}}, edge_x};
}

Stage level_stage(Level level) { return {Terrain::level, std::move(level), 0}; }

CharacterSubject::CharacterSubject(Rulebook book, std::string name)
    : book_(std::move(book)), name_(std::move(name)), world_(std::vector<Box>{}) {}

SubjectTraits CharacterSubject::traits() const {
  SubjectTraits traits;
  const Rules& rules = book_.rules(0);
  traits.name = name_;
  traits.tick_rate = rules.tick_rate;
  traits.body_width = rules.body.box.hi.x - rules.body.box.lo.x;
  traits.body_height = rules.body.box.hi.y - rules.body.box.lo.y;
  traits.body_radius = rules.body.radius;
  traits.gives_events = true;
  traits.zone = zone_;
  traits.true_curve = rules.integrator == Integrator::exact;
  return traits;
}

bool CharacterSubject::can_stand_on(Terrain terrain) const {
  return terrain != Terrain::zone || zone_.has_value();
}

bool CharacterSubject::know(const Tuning& tuning, Zone zone) {
  zone.turning.point = {0, 0};
  CompiledBook compiled = compile_book(tuning, {zone});
  if (!compiled.ok()) return false;
  zone_book_ = std::move(compiled.book);
  zone_ = std::move(zone);
  return true;
}

bool CharacterSubject::place(const Stage& stage) {
  by_zone_ = stage.terrain == Terrain::zone;
  world_ = LevelWorld(stage.level, book_.rules(0).tick_rate);
  character_ = Character{};
  events_ = {};
  return bushbaby::place(character_, stage.level.start, book(), world_);
}

void CharacterSubject::advance(const Controls& controls) {
  events_ = bushbaby::advance(character_, controls, book(), world_);
}

bool CharacterSubject::push(Vec velocity) {
  Push blow;
  blow.velocity = velocity;
  bushbaby::push(character_, blow, character_.feet, rules());
  return true;
}

Sample sample_of(const Character& character) {
  const Vec gap = character.feet - visible_feet(character);
  return {character.tick,       character.feet,
          character.velocity,   character.stance(),
          character.grounded(), character.controls,
          character.up,         gap.x * character.up.x + gap.y * character.up.y};
}

Sample CharacterSubject::observe() const { return sample_of(character_); }

Recorder::Recorder(Subject& subject) : subject_(subject) {
  const SubjectTraits traits = subject.traits();
  gives_events_ = traits.gives_events;
  trace_.tick_rate = traits.tick_rate;
  trace_.true_curve = traits.true_curve;
  trace_.samples.push_back(subject.observe());
}

void Recorder::advance(const Controls& controls) {
  subject_.advance(controls);
  trace_.samples.push_back(subject_.observe());
  trace_.samples.back().held = controls;
  if (!gives_events_) return;
  const Events events = subject_.events();
  trace_.events.insert(trace_.events.end(), events.begin(), events.end());
}

void Recorder::forget_after(std::int64_t ticks) {
  trace_.samples.resize(static_cast<std::size_t>(ticks) + 1);
  const std::int64_t last = trace_.samples.back().tick;
  while (!trace_.events.empty() && trace_.events.back().tick > last) trace_.events.pop_back();
}

Trace Recorder::trace() const {
  Trace trace = trace_;
  if (!gives_events_) trace.events = infer_events(trace);
  return trace;
}

std::optional<Trace> run_inputs(Subject& subject, const Stage& stage,
                                const std::vector<Controls>& controls) {
  if (!subject.can_stand_on(stage.terrain) || !subject.place(stage)) return std::nullopt;
  Recorder recorder(subject);
  for (const Controls& held : controls) recorder.advance(held);
  return recorder.trace();
}

}  // namespace bushbaby
