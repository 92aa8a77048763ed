// A tick among zones: which way is down, what is held as the body sees it, the tick itself under
// the rules in force, and the zones in which the body has come to be.
#include <cmath>

#include "bushbaby/core/motion/advance.h"
#include "bushbaby/core/motion/outside.h"

#include "tick.h"

namespace bushbaby {
namespace {

using namespace detail;  // NOLINT(google-build-using-namespace): this is the same subject

double middle_of(const Shape& body) noexcept { return (body.box.lo.y + body.box.hi.y) / 2; }

Vec unit(Vec v) noexcept { return scale(v, 1 / length(v)); }

// The way up at a place; none if nothing turns a body.
Vec way_up_at(Vec place, const TurnRules& turn) noexcept {
  switch (turn.to) {
    case Turning::To::nothing: break;
    case Turning::To::direction: return turn.up;
    case Turning::To::point: {
      const Vec away = subtract(place, turn.point);
      if (length(away) > 0) return unit(away);
      break;
    }
  }
  return {0, 0};
}

// How far above its feet a body turns: about its centre; but about its feet on ground that goes on
// to be some with the new up, so that they go on as fast over the ground as they run, however it is
// curved.
double pivot_of(const Character& character, const Rules& rules) noexcept {
  const Vec goal = character.grounded() ? way_up_at(character.feet, rules.turn) : Vec{0, 0};
  const Vec normal = character.ground.normal;  // not known of a body that is to be put somewhere
  const bool stays =
      goal == Vec{0, 0} || normal == Vec{0, 0} || dot(goal, normal) >= rules.ground_slope;
  return character.grounded() && stays ? 0 : middle_of(rules.body);
}

Vec pivot_place(const Character& character, const Rules& rules) noexcept {
  return add(character.feet, scale(character.up, pivot_of(character, rules)));
}

// ---- turning ------------------------------------------------------------------------------------

// The way up where the body is; its own if nothing turns it.
Vec goal_of(const Character& character, const Rules& rules) noexcept {
  const Vec up = way_up_at(pivot_place(character, rules), rules.turn);
  return up == Vec{0, 0} ? character.up : up;
}

// An up that is turned towards another, by no more than a tick turns it.
Vec turned_towards(Vec up, Vec goal, const TurnRules& turn) noexcept {
  if (turn.at_once || dot(up, goal) >= turn.cosine) return goal;
  // Right over by half a turn: to the left, whatever a rounding says.
  constexpr double kRounding = 1e-9;
  const double side = up.x * goal.y - up.y * goal.x >= -kRounding ? turn.sine : -turn.sine;
  return unit(along_axes(up, {-side, turn.cosine}));
}

// Makes a body in its new frame stand clear of what it touches, moved by no more than `most`.
bool find_room(Character& seen, const Rules& rules, Nearby& nearby, double most) noexcept {
  const double rest = margins_of(rules).rest;
  constexpr int kMostSurfaces = 4;
  for (int i = 0; i < kMostSurfaces; ++i) {
    const NearestLie near = nearest_lie(seen.feet, rules.body, rest, rest, nearby);
    if (!(near.gap < 0)) return true;
    most = most + near.gap;
    if (!(most >= 0)) return false;
    seen.feet = add(seen.feet, scale(near.normal, -near.gap));
  }
  return nearest_lie(seen.feet, rules.body, margins_of(rules).guard, rest, nearby).gap >= 0;
}

// Whether the middle of a body gets from a place (in its frame) to where it is now without passing
// a solid: then the body has been put through none.
bool comes_past_nothing(Vec middle, const Character& seen, const Rules& rules,
                        Nearby& nearby) noexcept {
  const double half = margins_of(rules).guard;
  const Shape core{Box{{-half, -half}, {half, half}}};
  const Vec to = add(seen.feet, {0, middle_of(rules.body)});
  FirstMeeting first;
  find_first_in_sight(Passage(middle, subtract(to, middle), {0, 0}, 1), core, 0, nearby, first);
  return !first.met();
}

// Turns a body if it fits when it is turned: pushed aside by no more than the turn itself moves its
// corners, and past no solid. Whoever stands goes on standing on what is there as well.
void turn(Character& character, const Rules& rules, const TurnRules& turning,
          const World& world) noexcept {
  const Vec up = turned_towards(character.up, goal_of(character, rules), turning);
  if (up == character.up) return;
  const double most =
      length(subtract(rules.body.box.hi, rules.body.box.lo)) * length(subtract(up, character.up));
  const Vec middle = add(character.feet, scale(character.up, middle_of(rules.body)));
  Character turned = character;
  turned.feet = subtract(pivot_place(character, rules), scale(up, pivot_of(character, rules)));
  turned.up = up;
  const Frame before = Frame::of(character.up, character.feet);
  const Frame frame = Frame::of(up, turned.feet);
  if (!character.grounded() && turning.speed_turns) {
    turned.velocity = frame.out_of(before.tidy_into(character.velocity));
  }
  if (frame.turned) see_in(frame, turned);
  const Controls& held = character.controls;
  const Moment moment(turned, held, rules, world, frame);
  Nearby nearby(world, character.tick, frame, moment.asker());
  if (!find_room(turned, rules, nearby, most)) return;
  if (character.grounded()) {
    const Margins margins = margins_of(rules);
    GroundCheck ground;
    look_underfoot(turned.feet, rules, nearby, ground, most + margins.probe);
    if (ground.reason == GroundReason::ground) {
      settle(turned, ground, rules, nearby);
      turned.ground = ground;
      const Vec axis = along_ground(before.direction_into(character.ground.normal));
      const Vec velocity = before.tidy_into(character.velocity);
      const double run = dot(velocity, axis);
      turned.velocity =
          add(scale(along_ground(ground.normal), run), scale(kUp, velocity.y - run * axis.y));
    }
  }
  const Vec from = frame.turned ? frame.place_into(middle) : middle;
  if (!comes_past_nothing(from, turned, rules, nearby)) return;
  if (frame.turned) see_out_of(frame, turned);
  character = turned;
}

// ---- what is held -------------------------------------------------------------------------------

// What is held, turned by quarters from the screen to the body.
Controls turned_by(const Controls& held, int quarters) noexcept {
  Controls turned = held;
  for (int i = 0; i < quarters; ++i) {
    const std::int8_t x = turned.x;
    turned.x = turned.y;
    turned.y = static_cast<std::int8_t>(-x);
  }
  return turned;
}

int quarters_of(Vec up) noexcept {
  if (magnitude(up.y) >= magnitude(up.x)) return up.y >= 0 ? 0 : 2;
  return up.x < 0 ? 1 : 3;
}

int sign_of(int direction) noexcept { return direction > 0 ? 1 : direction < 0 ? -1 : 0; }

// What is held as the body sees it: that itself, or what is made of it in `turned`. As long as the
// same directions are held they mean the same, be it that the body has turned meanwhile.
const Controls& seen_by_body(const Controls& held, Character& character, const Rules& rules,
                             Controls& turned) noexcept {
  if (character.held_turn == 0 && !rules.turn.by_screen) return held;
  constexpr int kQuarters = 4;
  const Controls before =
      turned_by(character.controls, (kQuarters - character.held_turn) % kQuarters);
  const bool same = sign_of(held.x) == sign_of(before.x) && sign_of(held.y) == sign_of(before.y) &&
                    (held.x != 0 || held.y != 0);
  if (!same) {
    character.held_turn =
        static_cast<std::int8_t>(rules.turn.by_screen ? quarters_of(character.up) : 0);
  }
  turned = turned_by(held, character.held_turn);
  return turned;
}

// ---- zones --------------------------------------------------------------------------------------

// Finds the zones that a body has come to be in, and those that it passed through.
class ZoneFinder final : private Solids {
 public:
  // `moves`: it comes from where it was, and has not just been put there.
  ZoneFinder(const World& world, const Character& character, const Rulebook& book,
             const Passage& path, const Frame& frame, bool moves) noexcept
      : world_(world),
        may_turn_(moves && book.turns()),
        character_(character),
        book_(book),
        rules_(book.rules(character.rules)),
        frame_(frame),
        path_(path) {
    double reach = 0;
    for (const ZoneId zone : character.zones) {
      if (zone == kNoZone) break;
      before_[before_count_] = {zone, &world.zone(zone)};
      reach = larger(reach, before_[before_count_++].traits->exit_margin);
    }
    const Box region = grown(region_of(path_, rules_.body.box), reach);
    world.find_zones(frame.turned ? frame.bounds_out_of(region) : region, character.tick, *this);
  }

  ZoneSet in = no_zones();      // where it is
  ZoneSet passed = no_zones();  // where it only was on its way
  bool head_is_out = true;      // of every fluid
  Vec past{0, 0};               // u, how far it is past a border that it crossed

 private:
  // A zone that it was in.
  struct Known {
    ZoneId zone;
    const ZoneTraits* traits;
  };

  void take(const Convex& part, ZoneId zone) noexcept override {
    if (part.count > kMostCorners) return;
    if (!frame_.turned) {
      look_at(part, zone);
    } else {
      look_at(PartInFrame(part, frame_).shape(), zone);
    }
  }
  void take_box(const Box& box, ZoneId zone) noexcept override {
    if (frame_.turned) {
      Solids::take_box(box, zone);
    } else {
      look_at({box, nullptr, 0, false, {0, 0}}, zone);
    }
  }

  BUSHBABY_WITHIN void look_at(const Convex& part, ZoneId zone) noexcept {
    const Known* known = find_known(zone);
    const bool was_in = known != nullptr;
    const ZoneTraits& traits = was_in ? *known->traits : world_.zone(zone);
    if (traits.is_fluid) look_at_head(part);
    if (part.is_box() && is_soon_reported(part.bounds, zone, traits, was_in)) return;
    look_closely(part, zone, traits, was_in);
  }

  [[nodiscard]] const Known* find_known(ZoneId zone) const noexcept {
    for (std::size_t i = 0; i < before_count_; ++i) {
      if (before_[i].zone == zone) return &before_[i];
    }
    return nullptr;
  }

  // Most zones are boxes, and most bodies in them as they were, or far from their borders.
  bool is_soon_reported(const Box& box, ZoneId zone, const ZoneTraits& traits,
                        bool was_in) noexcept {
    if (traits.contains == Contains::any_part) return false;
    const Vec counts{0, traits.contains == Contains::centre ? middle_of(rules_.body) : 0};
    const Vec to = add(path_.to, counts);
    if (was_in) {
      const bool stays = is_near(box, to, traits.exit_margin);
      if (stays) put(in, zone);
      return stays;
    }
    const Vec from = add(path_.from, counts);
    return larger(from.x, to.x) <= box.lo.x || smaller(from.x, to.x) >= box.hi.x ||
           larger(from.y, to.y) <= box.lo.y || smaller(from.y, to.y) >= box.hi.y;
  }

  BUSHBABY_APART void look_at_head(const Convex& part) noexcept {
    const double top = rules_.body.box.hi.y;
    const Shape head{Box{{0, top}, {0, top}}};
    head_is_out = head_is_out && !(lie_of(path_.to, part, head, 0).gap < 0);
  }

  BUSHBABY_APART void look_closely(const Convex& part, ZoneId zone, const ZoneTraits& traits,
                                   bool was_in) noexcept {
    const Shape counts = what_counts(traits.contains);
    const Lie lie = lie_of(path_.to, part, counts, 0);
    bool is_in = lie.gap < (was_in ? traits.exit_margin : 0);
    // A zone is neither left nor entered by being turned.
    if (rarely(may_turn_ && is_in != was_in)) is_in = is_in_turned(part, zone, traits, was_in);
    if (is_in) {
      put(in, zone);
      if (!was_in) note_way_past(lie);
      return;
    }
    if (was_in) note_way_past(lie);
    Meeting meeting;
    const bool crosses =
        !was_in && path_.velocity != Vec{0, 0} && meet(path_, part, counts, {}, meeting);
    if (crosses) put(passed, zone);
  }

  // Whether a body that has come into a zone, or out of it, as it stands would still be in it, or
  // out, turned as it goes on to be turned from there: about its pivot, so that its turning moves
  // nothing of that. Of one any part of which counts, what reaches as far whichever way it stands.
  [[nodiscard]] BUSHBABY_RARE bool is_in_turned(const Convex& part, ZoneId zone,
                                                const ZoneTraits& traits,
                                                bool was_in) const noexcept {
    const Rules& outside = was_in ? book_.rules(book_.find(without(zone))) : rules_;
    const Vec up = way_up_at(character_.feet, outside.turn);
    if (up == Vec{0, 0} || up == character_.up) return !was_in;
    const Box& box = rules_.body.box;
    const Vec size = subtract(box.hi, box.lo);
    const double middle = middle_of(rules_.body);
    const double pivot = pivot_of(character_, outside);
    const double counts = traits.contains == Contains::feet ? 0 : middle;
    const Vec place = add(add(path_.to, {0, pivot}), scale(frame_.into(up), counts - pivot));
    const double half = traits.contains == Contains::any_part ? smaller(size.x, size.y) / 2 : 0;
    const Shape core{Box{{-half, -half}, {half, half}}, half};
    // What it turns against may push it along, as far in as that.
    const double pushed = (length(size) - smaller(size.x, size.y)) / 2;
    return lie_of(place, part, core, 0).gap < (was_in ? traits.exit_margin : -pushed);
  }

  // The zones that the body was in, but for one.
  [[nodiscard]] ZoneSet without(ZoneId zone) const noexcept {
    ZoneSet others = no_zones();
    for (const ZoneId each : character_.zones) {
      if (each != zone) put(others, each);
    }
    return others;
  }

  // Whether a point is in a box, or nearer to one of its sides than that.
  static bool is_near(const Box& box, Vec point, double distance) noexcept {
    return point.x > box.lo.x - distance && point.x < box.hi.x + distance &&
           point.y > box.lo.y - distance && point.y < box.hi.y + distance;
  }

  void note_way_past(const Lie& lie) noexcept {
    const Vec way = scale(lie.normal, lie.gap);
    constexpr double kNoticeable = 1e-9;  // it came by that border, and not by another
    const bool crossed =
        dot(way, path_.velocity) > kNoticeable * length(way) * length(path_.velocity);
    if (crossed && dot(way, way) > dot(past, past)) past = way;
  }

  [[nodiscard]] Shape what_counts(Contains contains) const noexcept {
    switch (contains) {
      case Contains::feet: break;
      case Contains::centre: {
        const double middle = middle_of(rules_.body);
        return Box{{0, middle}, {0, middle}};
      }
      case Contains::any_part: return rules_.body;
    }
    return Box{{0, 0}, {0, 0}};
  }

 public:
  static bool has(const ZoneSet& set, ZoneId zone) noexcept {
    for (const ZoneId each : set) {
      if (each == zone) return true;
      if (each > zone) break;
    }
    return false;
  }
  // Puts it in its place; what there is no room for is omitted.
  static void put(ZoneSet& set, ZoneId zone) noexcept {
    for (ZoneId& each : set) {
      if (each == zone || zone == kNoZone) return;
      if (each > zone) std::swap(each, zone);
    }
  }

 private:
  const World& world_;
  bool may_turn_;
  const Character& character_;
  const Rulebook& book_;
  const Rules& rules_;
  const Frame& frame_;
  const Passage& path_;
  std::size_t before_count_ = 0;
  std::array<Known, kMostZones> before_;
};

void report(Events& events, EventKind kind, ZoneId zone, const Character& character) noexcept {
  events.add({kind, 0, zone, character.tick, 1, character.feet, static_cast<double>(zone) + 1});
}

// What entering a zone does at once.
void enter(Character& character, ZoneId zone, const Rules& rules, const World& world) noexcept {
  const ZoneTraits& traits = world.zone(zone);
  if (traits.keep_vertical != 1 || traits.keep_horizontal != 1) {
    const Frame frame = Frame::of(character.up, character.feet);
    const Vec velocity = frame.tidy_into(character.velocity);
    character.velocity =
        frame.out_of({velocity.x * traits.keep_horizontal, velocity.y * traits.keep_vertical});
  }
  if (traits.has_touch) be_touched(character, traits.touch, traits.middle, {zone, true}, rules);
}

// Goes by the rules of the zones that the body is in now.
void take_rules(Character& character, const Rulebook& book) noexcept {
  const RulesId found = book.find(character.zones);
  if (found == character.rules) return;
  const Rules& before = book.rules(character.rules);
  character.rules = found;
  adopt(character, before, book.rules(found));
}

// Slower than this along a way, a body does not move along it, but for a rounding.
double slowest_of(const Rules& rules) noexcept {
  constexpr double kNoticeable = 1e-9;
  return kNoticeable * rules.launch_speed;
}

// What pulls at a body without ground, u/s².
Vec pull_at(const Character& character, Vec up, const Rules& rules) noexcept {
  const double rise = dot(character.velocity, up);
  if (rules.fluid.exists) {
    return scale(up, is_exit_jumping(character, rise)
                         ? -rules.rise_gravity * rules.fluid.exit_jump_pull
                         : rules.fluid.buoyancy - rules.rise_gravity);
  }
  return scale(up, rise > slowest_of(rules) ? -rules.rise_gravity : -rules.fall_gravity);
}

// A border is noticed when it has been passed, and left behind only beyond the release margin. What
// the old pull did on the way from the border, and the new one did not, is made good, so that
// nobody gains speed by going back and forth.
void even_out(Character& character, Vec past, const Rules& before, const Rules& now) noexcept {
  if (character.grounded() || character.dash_left > 0) return;
  Vec up = character.up;
  if (now.turn.to != Turning::To::nothing) {
    const Vec goal = goal_of(character, now);
    const TurnRules& turning = now.turn.leads ? now.turn : before.turn;
    if (goal != up && (turning.speed_turns || !turning.at_once)) return;
    up = goal;
  }
  const Vec difference =
      subtract(pull_at(character, character.up, before), pull_at(character, up, now));
  const double size = length(difference);
  if (size == 0) return;
  const Vec way = scale(difference, 1 / size);
  const double speed = dot(character.velocity, way);
  // Along the pulls it goes on as it went past the border: nothing else has stopped it there.
  const double slowest = slowest_of(before);
  if (!(dot(past, way) > 0 ? speed > slowest : speed < -slowest)) return;
  const double evened = std::sqrt(larger(speed * speed - 2 * dot(difference, past), 0));
  character.velocity = add(character.velocity, scale(way, (speed < 0 ? -evened : evened) - speed));
}

// The way of a body through its zones in a tick, as it is seen in its frame.
Passage way_of(Vec from, Vec to, const Frame& frame) noexcept {
  if (frame.turned) {
    from = frame.place_into(from);
    to = frame.place_into(to);
  }
  Passage way(from, subtract(to, from), {0, 0}, 1);
  way.to = to;  // without a rounding
  return way;
}

// Whether a body is in the zones that it was in for all that it passes, far from their borders. A
// head may come out of a fluid: there it is looked at closely.
bool is_in_the_same(const Character& character, const Rules& rules, const Passage& way,
                    const Frame& frame, const World& world) noexcept {
  if (rules.fluid.exists) return false;
  const Box region = region_of(way, rules.body.box);
  ZoneSet zones;
  return world.zones_throughout(frame.turned ? frame.bounds_out_of(region) : region, character.tick,
                                zones) &&
         zones == character.zones;
}

// Looks at the zones near a body, and reports those that it has come into, or out of.
BUSHBABY_APART void look_at_zones(Character& character, const Passage& way, const Frame& frame,
                                  const Rulebook& book, const World& world, Events& events,
                                  bool moves) noexcept {
  const Rules& rules = book.rules(character.rules);
  const ZoneFinder found(world, character, book, way, frame, moves);
  character.head_out = found.head_is_out;
  if (found.in == character.zones && found.passed[0] == kNoZone) return;
  const ZoneSet before = character.zones;
  character.zones = found.in;
  for (const ZoneId zone : before) {
    if (zone != kNoZone && !ZoneFinder::has(found.in, zone)) {
      report(events, EventKind::left, zone, character);
    }
  }
  take_rules(character, book);
  const Rules& now = book.rules(character.rules);
  if (&now != &rules) even_out(character, frame.out_of(found.past), rules, now);
  for (const ZoneId zone : found.passed) {
    if (zone == kNoZone || ZoneFinder::has(found.in, zone)) continue;
    report(events, EventKind::entered, zone, character);
    enter(character, zone, now, world);
    report(events, EventKind::left, zone, character);
  }
  for (const ZoneId zone : found.in) {
    if (zone == kNoZone || ZoneFinder::has(before, zone)) continue;
    report(events, EventKind::entered, zone, character);
    enter(character, zone, now, world);
  }
  const bool is_let_through = is_exit_jumping(character, dot(character.velocity, character.up));
  note_swimming(character, now.fluid.exists && !character.grounded() && !is_let_through);
}

// Finds where a body has come to after a tick that began at `from`, or to where it was put, and
// reports it.
void look_around(Character& character, Vec from, const Rulebook& book, const World& world,
                 Events& events, bool moves) noexcept {
  if (book.size() == 1 && character.zones[0] == kNoZone) return;  // no zone changes anything
  const Frame frame = Frame::of(character.up, character.feet);
  const Passage way = way_of(from, character.feet, frame);
  if (is_in_the_same(character, book.rules(character.rules), way, frame, world)) {
    character.head_out = true;
  } else {
    look_at_zones(character, way, frame, book, world, events, moves);
  }
}

// How a body turns now: as the zones say that it is in, or, back, as those did that turned it.
void stand(Character& character, const Rulebook& book, const World& world) noexcept {
  if (!book.turns()) return;
  const Rules& rules = book.rules(character.rules);
  const bool leads = rules.turn.leads;
  const TurnRules& turning = leads ? rules.turn : book.rules(character.turned_by).turn;
  if (leads) character.turned_by = character.rules;
  turn(character, rules, turning, world);
}

}  // namespace

bool place(Character& character, Vec feet, const Rulebook& book, const World& world) noexcept {
  // Which zones it is in may depend on how it stands, and that on them: upright first, then as they
  // say.
  Character trial;
  trial.tick = character.tick;
  trial.feet = feet;
  constexpr int kTries = 2;
  Events unreported;
  for (int i = 0; i < kTries && book.turns(); ++i) {
    trial.zones = no_zones();
    trial.rules = 0;
    look_around(trial, feet, book, world, unreported, false);
    trial.ground.reason = GroundReason::ground;  // about its feet
    trial.up = goal_of(trial, book.rules(trial.rules));
  }
  character.up = trial.up;
  if (!place(character, feet, book.rules(trial.rules), world)) return false;
  look_around(character, character.feet, book, world, unreported, false);
  character.turned_by = character.rules;
  return true;
}

namespace {

// How a tick among zones begins: the body stands as down is, and what is held is seen by it.
const Controls& begin_among_zones(Character& character, const Controls& controls,
                                  const Rulebook& book, const World& world,
                                  Controls& turned) noexcept {
  stand(character, book, world);
  return seen_by_body(controls, character, book.rules(character.rules), turned);
}

}  // namespace

Events advance(Character& character, const Controls& controls, const Rulebook& book,
               const World& world, Explanation* explanation) noexcept {
  Controls turned;
  const Controls& held = begin_among_zones(character, controls, book, world, turned);
  const Vec from = character.feet;
  Events events = advance(character, held, book.rules(character.rules), world, explanation);
  look_around(character, from, book, world, events, true);
  return events;
}

Explanation explain(const Character& character, const Controls& controls, const Rulebook& book,
                    const World& world) noexcept {
  Character now = character;
  Controls turned;
  const Controls& held = begin_among_zones(now, controls, book, world, turned);
  return explain(now, held, book.rules(now.rules), world);
}

Availability available(const Character& character, const Controls& held, const Rulebook& book,
                       const World& world) noexcept {
  Character now = character;
  Controls turned;
  const Controls& seen = begin_among_zones(now, held, book, world, turned);
  return available(now, seen, book.rules(now.rules), world);
}

Solidity solidity_of(SurfaceId surface, const Character& character, const Controls& controls,
                     const Rulebook& book, const World& world) noexcept {
  Character now = character;
  Controls turned;
  const Controls& held = begin_among_zones(now, controls, book, world, turned);
  return solidity_of(surface, now, held, book.rules(now.rules), world);
}

}  // namespace bushbaby
