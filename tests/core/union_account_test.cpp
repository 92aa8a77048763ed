// Accounts of contact, written from docs/model.md and apart from the core. They know a level only
// as the set of places that are solid; the core is given the same set in pieces, cut and shuffled.
#include <algorithm>
#include <cmath>
#include <optional>

#include "bushbaby/core/world/outline.h"

#include "random_cuts.h"
#include "situation.h"

namespace bushbaby {
namespace {

using test::Outline;
using test::Random;

// ---- boxes, tick by tick ------------------------------------------------------------------------

// Which cells between lines of all distances are solid.
struct Raster {
  std::vector<double> x;
  std::vector<double> y;
  std::vector<bool> solid;

  [[nodiscard]] int columns() const { return static_cast<int>(x.size()) - 1; }
  [[nodiscard]] int rows() const { return static_cast<int>(y.size()) - 1; }
  [[nodiscard]] std::size_t index(int column, int row) const {
    return static_cast<std::size_t>(row * columns() + column);
  }
  [[nodiscard]] bool is_solid(int column, int row) const {
    return column >= 0 && row >= 0 && column < columns() && row < rows() &&
           solid[index(column, row)];
  }
};

Raster random_raster(Random& random) {
  Raster raster;
  const auto lines = [&random](int count, double from) {
    std::vector<double> at{from};
    const bool even = random.one_in(3);
    for (int i = 0; i < count; ++i) {
      at.push_back(at.back() + (even ? 1 : random.between(0.1, random.one_in(3) ? 3 : 1.2)));
    }
    return at;
  };
  raster.x = lines(14, -7);
  raster.y = lines(10, -2);
  raster.solid.resize(static_cast<std::size_t>(raster.columns() * raster.rows()));
  const std::uint64_t sparse = 2 + random.below(6);
  for (int row = 0; row < raster.rows(); ++row) {
    for (int column = 0; column < raster.columns(); ++column) {
      raster.solid[raster.index(column, row)] = row == 0 || random.one_in(sparse);
    }
  }
  return raster;
}

// The solid cells as boxes, some over others, in any order.
std::vector<Box> boxes_of(const Raster& raster, Random& random) {
  std::vector<Box> boxes;
  const auto all_solid = [&raster](int left, int bottom, int right, int top) {
    for (int row = bottom; row < top; ++row) {
      for (int column = left; column < right; ++column) {
        if (!raster.is_solid(column, row)) return false;
      }
    }
    return true;
  };
  const auto at = [](const std::vector<double>& lines, int i) {
    return lines[static_cast<std::size_t>(i)];
  };
  for (int row = 0; row < raster.rows(); ++row) {
    for (int column = 0; column < raster.columns(); ++column) {
      if (!raster.is_solid(column, row)) continue;
      int right = column + 1;
      int top = row + 1;
      while (random.one_in(2) && all_solid(column, row, right + 1, top)) ++right;
      while (random.one_in(2) && all_solid(column, row, right, top + 1)) ++top;
      const Box box{{at(raster.x, column), at(raster.y, row)},
                    {at(raster.x, right), at(raster.y, top)}};
      test::cut(random, box, static_cast<int>(random.below(3)), boxes);
    }
  }
  random.shuffle(boxes);
  return boxes;
}

// A straight piece of the outside: of what stops a motion along an axis, where it is, and from
// where to where it reaches along the other.
struct Face {
  double at = 0;
  double from = 0;
  double to = 0;
};

// The faces that stop motion to the right, to the left, up and down.
struct Faces {
  std::vector<Face> right, left, up, down;
};

// Joins what lies in one line without a gap.
void add_face(std::vector<Face>& faces, Face face) {
  if (!faces.empty() && faces.back().at == face.at && faces.back().to == face.from) {
    faces.back().to = face.to;
  } else {
    faces.push_back(face);
  }
}

Faces faces_of(const Raster& raster) {
  Faces faces;
  const auto line = [](const std::vector<double>& lines, int i) {
    return lines[static_cast<std::size_t>(i)];
  };
  for (int column = 0; column <= raster.columns(); ++column) {
    const double x = line(raster.x, column);
    for (int row = 0; row < raster.rows(); ++row) {
      const bool before = raster.is_solid(column - 1, row);
      const bool behind = raster.is_solid(column, row);
      if (before == behind) continue;
      add_face(behind ? faces.right : faces.left,
               {x, line(raster.y, row), line(raster.y, row + 1)});
    }
  }
  for (int row = 0; row <= raster.rows(); ++row) {
    const double y = line(raster.y, row);
    for (int column = 0; column < raster.columns(); ++column) {
      const bool below = raster.is_solid(column, row - 1);
      const bool above = raster.is_solid(column, row);
      if (below == above) continue;
      add_face(above ? faces.up : faces.down,
               {y, line(raster.x, column), line(raster.x, column + 1)});
    }
  }
  return faces;
}

// A coordinate of the feet on its way.
struct Along {
  double place = 0;
  double speed = 0;
  double rate = 0;
  [[nodiscard]] double at(double time) const {
    return place + speed * time + rate * time * time / 2;
  }
  void go(double time) {
    place = at(time);
    speed += rate * time;
  }
};

// The first time in [0, longest] at which it comes to `to` going up; nothing if it does not.
std::optional<double> time_up_to(const Along& along, double to, double longest) {
  const double way = to - along.place;
  if (way <= 0)
    return along.speed > 0 || (along.speed == 0 && along.rate > 0) ? std::optional(0.0)
                                                                   : std::nullopt;
  double time = 0;
  if (along.rate == 0) {
    if (!(along.speed > 0)) return std::nullopt;
    time = way / along.speed;
  } else {
    const double square = along.speed * along.speed + 2 * along.rate * way;
    if (square < 0) return std::nullopt;
    const double root = std::sqrt(square);
    time = along.speed + root > 0 ? 2 * way / (along.speed + root) : -1;
    if (time < 0) return std::nullopt;
  }
  return time <= longest ? std::optional(time) : std::nullopt;
}

double towards(double speed, double target, double change) {
  return speed < target ? std::min(speed + change, target) : std::max(speed - change, target);
}

// The speeds in the air a tick later, where nothing is met: by the rates that fit those of now.
Vec speed_after(const Tuning& tuning, const Rules& rules, Vec now, const Controls& held) {
  const double dt = 1 / tuning.loop.tick_rate;
  const double top = tuning.run.top_speed;
  const double target = held.x == 0 ? 0 : held.x > 0 ? top : -top;
  const double gravity = rules.rise_gravity * (now.y > 0 ? 1 : tuning.fall.factor);
  const double least = std::min(-*tuning.fall.terminal_speed, now.y);  // faster is no fall's doing
  return {towards(now.x, target, tuning.run.air.accelerate * dt),
          std::max(now.y - gravity * dt, least)};
}

// Runs, jumps and falls among boxes. `unsure` says that the tick came so near to a corner that
// another rule (steps, docs/model.md) decides; whoever keeps the account takes over what happened.
class BoxAccount {
 public:
  BoxAccount(const Tuning& tuning, const Rules& rules, Faces faces)
      : tuning_(tuning),
        rules_(rules),
        faces_(std::move(faces)),
        integrator_(tuning.loop.integrator),
        dt_(1 / tuning.loop.tick_rate),
        half_(tuning.body.width / 2),
        height_(tuning.body.height),
        gap_(0.001 * tuning.body.width),
        top_(tuning.run.top_speed),
        rate_(tuning.run.ground.accelerate),
        rise_(rules.rise_gravity),
        fall_(rules.rise_gravity * tuning.fall.factor),
        terminal_(*tuning.fall.terminal_speed),
        launch_(rules.launch_speed) {}

  Vec feet{0, 0};
  Vec velocity{0, 0};
  bool stands = false;
  int wall = 0;  // the side of one that is touched
  bool landed = false;
  bool unsure = false;

  // Surfaces that were met in the tick.
  [[nodiscard]] std::size_t meetings() const { return met_.size(); }

  void tick(const Controls& held) {
    landed = unsure = met_floor_ = false;
    met_ = {};
    const bool presses = held.jump && !jump_was_held_;
    jump_was_held_ = held.jump;
    const bool stood = stands && !presses;
    const double target = held.x == 0 ? 0 : held.x > 0 ? top_ : -top_;
    if (stands && presses) velocity.y = launch_;
    if (stood) velocity.y = 0;
    if (integrator_ == Integrator::exact) {
      go_exactly(target, stood);
    } else {
      step(held, stood);
    }
    check_ground(stood);
  }

 private:
  enum class Axis { none, x, y };
  struct Meeting {
    double time = 0;
    Axis axis = Axis::none;
    double side = 0;  // the sign of the way into what is met
  };

  void step(const Controls& held, bool stood) {
    Vec after = speed_after(tuning_, rules_, velocity, held);
    if (stood) after.y = 0;
    Vec path = after;
    if (integrator_ == Integrator::trapezoidal) path = (velocity + after) * 0.5;
    if (integrator_ == Integrator::explicit_step) path = velocity;
    // Nothing goes into what is touched, be it that the path does not move that way yet.
    const bool leans = path.x == 0 && after.x * wall > 0;
    x_ = {feet.x, leans ? std::copysign(1e-300, after.x) : path.x, 0};
    y_ = {feet.y, path.y, 0};
    velocity = after;
    double left = dt_;
    while (left > 0) {
      const Meeting meeting = first_meeting(left);
      resume(meeting.time);
      left -= meeting.time;
      if (meeting.axis == Axis::none) break;
      stop(meeting, meeting.axis == Axis::x ? velocity.x : velocity.y);
      (meeting.axis == Axis::x ? x_ : y_).speed = 0;
    }
    feet = {x_.place, y_.place};
    // Where a wall ends on the way, or begins, what drives the body counts from there on.
    see_ends();
    for (const auto& [faces, side] :
         {std::pair(&faces_.right, 1.0), std::pair(&faces_.left, -1.0)}) {
      for (const Face& face : *faces) {
        const double off = (face.at - feet.x) * side - half_;
        if (wall * side > 0 && velocity.x * side > 0 && off < 0.501 * gap_ && off > -gap_ &&
            beside_at(Axis::x, face, 0) < gap_)
          unsure = true;
      }
    }
  }

  void see_ends() {
    for (const auto& [axis, face] : met_) {
      if (ends_near(axis, face)) unsure = true;
    }
  }

  static void stop(const Meeting& meeting, double& speed) {
    if (speed * meeting.side > 0) speed = 0;
  }

  void go_exactly(double target, bool stood) {
    x_ = {feet.x, velocity.x, 0};
    y_ = {feet.y, velocity.y, 0};
    double wall = 0;  // the side of one that is touched
    bool floor = stood;
    double left = dt_;
    for (int pieces = 0; left > 0 && pieces < 50; ++pieces) {
      double until = left;
      x_.rate = y_.rate = 0;
      if (x_.speed != target && !((target - x_.speed) * wall > 0)) {
        x_.rate = x_.speed < target ? rate_ : -rate_;
        until = std::min(until, (target - x_.speed) / x_.rate);
      }
      if (!floor && y_.speed > 0) {
        y_.rate = -rise_;
        until = std::min(until, y_.speed / rise_);
      } else if (!floor && y_.speed > -terminal_) {
        y_.rate = -fall_;
        until = std::min(until, (y_.speed + terminal_) / fall_);
      }
      const Meeting meeting = first_meeting(until);
      resume(meeting.time);
      left -= meeting.time;
      if (meeting.axis == Axis::x) {
        wall = meeting.side;
        x_.speed = 0;
      } else if (meeting.axis == Axis::y) {
        floor = floor || meeting.side < 0;
        y_.speed = 0;
      } else {
        const double close = 1e-12 * (1 + top_ + terminal_);
        if (std::abs(x_.speed - target) < close) x_.speed = target;
        if (!floor && std::abs(y_.speed) < close) y_.speed = 0;
        if (!floor && std::abs(y_.speed + terminal_) < close) y_.speed = -terminal_;
      }
      see_ends();
    }
    feet = {x_.place, y_.place};
    velocity = {x_.speed, y_.speed};
  }

  void resume(double time) {
    x_.go(time);
    y_.go(time);
  }

  // How far the body is beside a face, along it; negative: how deep it overlaps it.
  [[nodiscard]] static double beside(const Face& face, double from, double to) {
    return std::max(face.from - to, from - face.to);
  }
  [[nodiscard]] double beside_at(Axis axis, const Face& face, double time) const {
    if (axis == Axis::x) return beside(face, y_.at(time), y_.at(time) + height_);
    return beside(face, x_.at(time) - half_, x_.at(time) + half_);
  }
  [[nodiscard]] bool ends_near(Axis axis, const Face& face) const {
    return beside_at(axis, face, 0) > -1.05 * gap_;
  }

  // The first face that is met within a time; `to` is where the coordinate may come to along it.
  void meet(Meeting& first, Axis axis, const std::vector<Face>& faces, double offset, double side,
            double longest) {
    Along along = axis == Axis::x ? x_ : y_;
    along = {along.place * side, along.speed * side, along.rate * side};
    for (const Face& face : faces) {
      const double surface = face.at * side;
      const double reach = along.place + offset;
      if (reach > surface + gap_ / 4) continue;  // it lies behind
      if (along.speed * along.rate < 0) {        // it turns back where it just reaches it
        const double farthest = reach - along.speed * along.speed / (2 * along.rate);
        const double deep = farthest - (surface - gap_ / 2);
        if (deep > -1e-9 && deep < gap_ / 8 + 1e-9) unsure = true;
      }
      const auto time = time_up_to(along, surface - gap_ / 2 - offset, longest + 1e-9 * dt_);
      if (time && std::abs(*time - longest) < 1e-9 * dt_) unsure = true;  // just reached
      if (!time || *time >= first.time) continue;
      const double off = beside_at(axis, face, *time);
      if (off > 0.45 * gap_) {
        // Or it comes by, a step deep at most.
        const auto past = time_up_to(along, surface + 1.1 * gap_ - offset, first.time);
        if (beside_at(axis, face, past.value_or(first.time)) < 0.45 * gap_) unsure = true;
        continue;
      }
      if (off > -1.05 * gap_) unsure = true;
      if (off >= 0.375 * gap_) continue;
      first = {*time, axis, side};
      met_.emplace_back(axis, face);
    }
  }

  Meeting first_meeting(double longest) {
    Meeting first{longest, Axis::none, 0};
    meet(first, Axis::x, faces_.right, half_, 1, longest);
    meet(first, Axis::x, faces_.left, half_, -1, longest);
    meet(first, Axis::y, faces_.up, height_, 1, longest);
    const Meeting sideways = first;
    meet(first, Axis::y, faces_.down, 0, -1, longest);
    if (first.axis == Axis::y && (sideways.axis != Axis::y || first.time < sideways.time))
      met_floor_ = true;
    return first;
  }

  void check_ground(bool stood) {
    const bool stood_before = stood;
    stands = false;
    if (velocity.y > 0 || !(stood_before || met_floor_)) return;
    for (const Face& face : faces_.down) {
      const double gap = feet.y - face.at;
      if (gap < 0 || gap > 2 * gap_) continue;
      const double off = beside(face, feet.x - half_, feet.x + half_);
      if (std::abs(off - 0.375 * gap_) < 0.01 * gap_) unsure = true;
      if (off >= 0.375 * gap_) continue;
      stands = true;
      if (std::abs(gap - gap_ / 2) > 0.01 * gap_) feet.y = face.at + gap_ / 2;
      velocity.y = 0;
    }
    landed = met_floor_ && !stood_before;
  }

  const Tuning& tuning_;
  const Rules& rules_;
  Faces faces_;
  Integrator integrator_;
  double dt_, half_, height_, gap_, top_, rate_, rise_, fall_, terminal_, launch_;
  bool jump_was_held_ = false;
  bool met_floor_ = false;
  Along x_;
  Along y_;
  std::vector<std::pair<Axis, Face>> met_;  // met in this tick
};

// What the accounts know of: running at one rate, jumping, falling.
Tuning plain_tuning(Random& random) {
  Tuning tuning;
  const double rates[] = {24, 30, 50, 60, 120, 144, 240};
  tuning.loop.integrator = test::all_integrators()[random.below(4)];
  tuning.loop.tick_rate = rates[random.below(7)];
  tuning.body.width = random.one_in(2) ? 0.8 : random.between(0.3, 2);
  tuning.body.height = std::max(tuning.body.width, random.one_in(2) ? 1 : random.between(0.3, 2));
  tuning.jump.height = random.between(0.5, 6);
  tuning.jump.apex_time = Duration{random.between(0.15, 0.6)};
  tuning.jump.cut.style = CutStyle::none;
  tuning.jump.coyote = tuning.jump.buffer = {0, Duration::Unit::ticks};
  tuning.fall.factor = random.between(1, 3);
  tuning.fall.terminal_speed = random.between(3, 30);
  tuning.run.top_speed = random.between(1, 15);
  const double rate = random.between(5, 200);
  for (RunDrive* drive : {&tuning.run.ground, &tuning.run.air}) *drive = {{rate, rate, rate}};
  return tuning;
}

struct Counts {
  std::int64_t ticks = 0;
  std::int64_t unsure = 0;
  std::int64_t landings = 0;
  std::int64_t walls = 0;
  std::int64_t heads = 0;
  std::int64_t free = 0;     // ticks whose way is free
  std::int64_t blocked = 0;  // and that meet something on it
  std::int64_t slid = 0;     // and then slide along that alone
};

void count(Counts& counts, const Events& events) {
  for (const Event& event : events) {
    counts.landings += event.kind == EventKind::landed ? 1 : 0;
    counts.walls += event.kind == EventKind::wall_touched ? 1 : 0;
    counts.heads += event.kind == EventKind::bumped_head ? 1 : 0;
  }
}

// Whether a body there overlaps what is solid.
bool is_within(const Raster& raster, const Tuning::Body& body, Vec feet) {
  for (int row = 0; row < raster.rows(); ++row) {
    for (int column = 0; column < raster.columns(); ++column) {
      const auto c = static_cast<std::size_t>(column);
      const auto r = static_cast<std::size_t>(row);
      if (raster.is_solid(column, row) && feet.x + body.width / 2 > raster.x[c] &&
          feet.x - body.width / 2 < raster.x[c + 1] && feet.y + body.height > raster.y[r] &&
          feet.y < raster.y[r + 1]) {
        return true;
      }
    }
  }
  return false;
}

void play_among_boxes(Random& random, Counts& counts) {
  const Raster raster = random_raster(random);
  const Tuning tuning = plain_tuning(random);
  const JumpLoop loop{tuning.loop.integrator, tuning.loop.tick_rate, true};
  const Rules rules = test::rules_of(tuning);
  const LevelWorld world(boxes_of(raster, random));
  Character pip;
  bool fits = false;
  for (int i = 0; i < 60 && !fits; ++i) {
    fits = place(pip, {random.between(-7, 7), random.between(0, 9)}, rules, world);
  }
  BoxAccount account(tuning, rules, faces_of(raster));
  const auto take_over = [&] {
    account.feet = pip.feet;
    account.velocity = pip.velocity;
    account.stands = pip.grounded();
    account.wall = pip.wall;
  };
  take_over();
  Controls held;
  for (int i = 0; fits && i < 500 && pip.feet.y > -15; ++i) {
    if (random.one_in(12)) {
      held.x = static_cast<std::int8_t>(random.one_in(4) ? 0 : random.one_in(2) ? 127 : -127);
    }
    if (random.one_in(8)) held.jump = !held.jump;
    const Events events = advance(pip, held, rules, world);
    account.tick(held);
    ++counts.ticks;
    count(counts, events);
    ASSERT_FALSE(is_within(raster, tuning.body, pip.feet)) << "tick " << i;
    if (account.unsure) {
      ++counts.unsure;
      take_over();
      continue;
    }
    const bool landed = std::any_of(events.begin(), events.end(), [](const Event& event) {
      return event.kind == EventKind::landed;
    });
    SCOPED_TRACE(testing::Message() << "tick " << i << ", " << test::text_of(loop));
    // Of two surfaces that are met in a tick one may be met a margin later: what is passed at no
    // less than three eighths of the gap is not met.
    const double near = account.meetings() > 1 ? 0.125 * rules.flush_gap : 1e-9;
    ASSERT_NEAR(account.feet.x, pip.feet.x, near);
    ASSERT_NEAR(account.feet.y, pip.feet.y, near);
    ASSERT_NEAR(account.velocity.x, pip.velocity.x, 1e-7);
    ASSERT_NEAR(account.velocity.y, pip.velocity.y, 1e-7);
    ASSERT_EQ(account.stands, pip.grounded());
    ASSERT_EQ(account.landed, landed);
    take_over();
  }
}

// ---- polygons, by what may be reported every tick
// ------------------------------------------------

// How far a body is from what is solid, by the shortest way between the two.
struct Apart {
  double distance = 1e300;
  Vec normal{0, 0};  // from the solid to the body
};

// Whether a segment and a box have a point in common.
bool crosses(const Box& box, Vec a, Vec b) {
  double from = 0;
  double to = 1;
  const auto clip = [&](double start, double way, double lo, double hi) {
    if (way == 0) return start >= lo && start <= hi;
    const double enters = ((way > 0 ? lo : hi) - start) / way;
    const double leaves = ((way > 0 ? hi : lo) - start) / way;
    from = std::max(from, enters);
    to = std::min(to, leaves);
    return from <= to;
  };
  return clip(a.x, b.x - a.x, box.lo.x, box.hi.x) && clip(a.y, b.y - a.y, box.lo.y, box.hi.y);
}

void consider(Apart& apart, Vec of_solid, Vec of_body) {
  const Vec way = of_body - of_solid;
  const double distance = std::hypot(way.x, way.y);
  if (distance < apart.distance) apart = {distance, way / std::max(distance, 1e-300)};
}

Vec nearest_on(Vec a, Vec b, Vec place) {
  const Vec along = b - a;
  const double square = along.x * along.x + along.y * along.y;
  const Vec off = place - a;
  return a + along * std::clamp((off.x * along.x + off.y * along.y) / square, 0.0, 1.0);
}

class Outlines {
 public:
  explicit Outlines(const std::vector<Outline>& outlines) {
    for (const Outline& outline : outlines) {
      for (std::size_t i = 0; i < outline.size(); ++i) {
        edges_.push_back({outline[i], outline[(i + 1) % outline.size()]});
      }
    }
  }

  // Of a body that is outside of all.
  [[nodiscard]] Apart apart_from(const Tuning::Body& body, Vec feet) const {
    const double radius = body.shape == BodyShape::capsule ? body.width / 2 : 0;
    const Vec half{body.width / 2 - radius, 0};
    const Box core{feet - half + Vec{0, radius}, feet + half + Vec{0, body.height - radius}};
    Apart apart;
    for (const auto& [a, b] : edges_) {
      const Vec to_lo{core.lo.x - std::max(a.x, b.x), core.lo.y - std::max(a.y, b.y)};
      const Vec to_hi{std::min(a.x, b.x) - core.hi.x, std::min(a.y, b.y) - core.hi.y};
      if (std::max({to_lo.x, to_lo.y, to_hi.x, to_hi.y}) > apart.distance) continue;
      if (crosses(core, a, b)) return {-radius, {0, 0}};
      for (const Vec end : {a, b}) {
        consider(
            apart, end,
            {std::clamp(end.x, core.lo.x, core.hi.x), std::clamp(end.y, core.lo.y, core.hi.y)});
      }
      for (const Vec corner :
           {core.lo, core.hi, Vec{core.lo.x, core.hi.y}, Vec{core.hi.x, core.lo.y}}) {
        consider(apart, nearest_on(a, b, corner), corner);
      }
    }
    apart.distance -= radius;
    return apart;
  }

 private:
  std::vector<std::pair<Vec, Vec>> edges_;
};

// The first share of a straight way at which a body is nearer than `least`; nothing if it never is
// by more than a rounding.
std::optional<double> first_nearer(const Outlines& outlines, const Tuning::Body& body, Vec from,
                                   Vec way, double least) {
  const double length = std::hypot(way.x, way.y);
  const auto distance_at = [&](double share) {
    return outlines.apart_from(body, from + way * share).distance;
  };
  double share = 0;
  for (int looks = 0; looks < 20000; ++looks) {
    const double free = distance_at(share) - least;  // it may go that far
    if (free <= 1e-11) return share;
    if (free >= (1 - share) * length) return std::nullopt;
    share += free / length;
  }
  return share;
}

double dot(Vec a, Vec b) { return a.x * b.x + a.y * b.y; }
double distance_between(Vec a, Vec b) { return std::hypot(a.x - b.x, a.y - b.y); }

// What is left of a way that a surface stops: on the ground as far as it went across, along a wall
// as far as it went up or down, along a ceiling what of it does not go into that.
Vec slid(const Rules& rules, Vec normal, Vec way) {
  if (normal.y >= rules.ground_slope) return Vec{normal.y, -normal.x} * way.x;
  if (normal.y > -0.5) return {-way.y * normal.y / normal.x, way.y};
  return way - normal * dot(way, normal);
}

void play_among_polygons(Random& random, Counts& counts) {
  const auto [whole, pieces] = test::cut_scene(random);
  Tuning tuning = plain_tuning(random);
  if (random.one_in(2)) tuning.body.shape = BodyShape::capsule;
  if (tuning.loop.integrator == Integrator::exact) tuning.loop.integrator = Integrator::trapezoidal;
  const Rules rules = test::rules_of(tuning);
  const LevelWorld world(test::level_of(pieces), kNothingTravels);
  const Outlines outlines(whole);
  const auto apart = [&](Vec feet) { return outlines.apart_from(tuning.body, feet); };
  const double gap = 0.001 * tuning.body.width;
  Character pip;
  bool fits = false;
  for (int i = 0; i < 60 && !fits; ++i) {
    const Vec feet{random.between(-8, 8), random.between(0, 10)};
    bool inside = false;
    for (const Outline& outline : whole) inside = inside || test::is_inside(outline, feet);
    fits = !inside && place(pip, feet, rules, world) && apart(pip.feet).distance > 0;
  }
  Controls held;
  for (int i = 0; fits && i < 300 && pip.feet.y > -3 && std::abs(pip.feet.x) < 8.5; ++i) {
    if (random.one_in(12)) {
      held.x = static_cast<std::int8_t>(random.one_in(4) ? 0 : random.one_in(2) ? 127 : -127);
    }
    if (random.one_in(8)) held.jump = !held.jump;
    const Character was = pip;
    const Events events = advance(pip, held, rules, world);
    ++counts.ticks;
    count(counts, events);
    SCOPED_TRACE(testing::Message() << "tick " << i);
    // Never nearer than what it may pass; than what counts as room, where it is brought to rest.
    const double least = (pip.grounded() ? 0.25 : 0.375) * gap;
    ASSERT_GT(apart(pip.feet).distance, std::min(apart(was.feet).distance, least) - 0.01 * gap);
    if (was.grounded()) continue;
    // A way that is free is gone; one that is not is gone as far as it is, and then along what was
    // met.
    const Vec after = speed_after(tuning, rules, was.velocity, held);
    Vec path = after;
    if (tuning.loop.integrator == Integrator::trapezoidal) path = (was.velocity + after) * 0.5;
    if (tuning.loop.integrator == Integrator::explicit_step) path = was.velocity;
    const Vec way = path / tuning.loop.tick_rate;
    const bool met = std::any_of(events.begin(), events.end(), [](const Event& event) {
      return event.kind == EventKind::landed || event.kind == EventKind::wall_touched ||
             event.kind == EventKind::bumped_head;
    });
    if (!first_nearer(outlines, tuning.body, was.feet, way, 0.71 * gap)) {
      ++counts.free;
      ASSERT_FALSE(met);
      ASSERT_NEAR(pip.feet.x, was.feet.x + way.x, 1e-9);
      ASSERT_NEAR(pip.feet.y, was.feet.y + way.y, 1e-9);
      ASSERT_NEAR(pip.velocity.x, after.x, 1e-9);
      ASSERT_NEAR(pip.velocity.y, after.y, 1e-9);
      continue;
    }
    const auto blocked = first_nearer(outlines, tuning.body, was.feet, way, 0.37 * gap);
    if (!blocked || apart(was.feet).distance < 0.6 * gap) {
      ++counts.unsure;
      continue;
    }
    ++counts.blocked;
    ASSERT_GT(distance_between(pip.feet, was.feet + way), 1e-9);
    const auto reached = first_nearer(outlines, tuning.body, was.feet, way, 0.5 * gap);
    const Vec contact = was.feet + way * reached.value_or(0);
    const Vec normal = apart(contact).normal;
    const Vec slides = slid(rules, normal, way * (1 - reached.value_or(0)));
    const auto touches = [&](Vec feet) {
      const Apart there = apart(feet);
      return std::abs(there.distance - 0.5 * gap) < 0.01 * gap &&
             dot(there.normal, normal) > 1 - 1e-9;
    };
    // Not at a corner, where a step might decide.
    const Vec along = Vec{normal.y, -normal.x} * (1.1 * gap);
    const bool on_face = touches(contact - along) && touches(contact) && touches(contact + along) &&
                         touches(contact + slides) &&
                         !first_nearer(outlines, tuning.body, contact, slides, 0.49 * gap);
    if (!on_face) continue;
    ++counts.slid;
    ASSERT_LT(distance_between(pip.feet, contact + slides), 0.02 * gap);
    ASSERT_GE(dot(pip.velocity, normal), -1e-3 * std::hypot(pip.velocity.x, pip.velocity.y));
    ASSERT_EQ(pip.grounded(), normal.y >= rules.ground_slope);
  }
}

class UnionAccount : public testing::TestWithParam<std::uint64_t> {};

TEST_P(UnionAccount, OfBoxesPredictsEveryTick) {
  Counts counts;
  constexpr std::uint64_t kRounds = 1000 / test::kFewer;
  for (std::uint64_t round = 0; round < kRounds; ++round) {
    Random random(GetParam() * kRounds + round);
    play_among_boxes(random, counts);
    if (HasFatalFailure()) FAIL() << "round " << round;
  }
  // The play was worth foretelling, and nearly all of it was predicted.
  EXPECT_GT(counts.ticks, 300'000 / test::kFewer);
  EXPECT_LT(counts.unsure, counts.ticks / 80);
  EXPECT_GT(counts.landings, 5000 / test::kFewer);
  EXPECT_GT(counts.walls, 2000 / test::kFewer);
  EXPECT_GT(counts.heads, 1500 / test::kFewer);
}

TEST_P(UnionAccount, OfPolygonsAllowsEveryTick) {
  Counts counts;
  constexpr std::uint64_t kRounds = 400 / test::kFewer;
  for (std::uint64_t round = 0; round < kRounds; ++round) {
    Random random(5'000'000 + GetParam() * kRounds + round);
    play_among_polygons(random, counts);
    if (HasFatalFailure()) FAIL() << "round " << round;
  }
  EXPECT_GT(counts.ticks, 60'000 / test::kFewer);
  EXPECT_GT(counts.free, counts.ticks / 2);
  EXPECT_GT(counts.blocked, 1000 / test::kFewer);
  EXPECT_GT(counts.slid, 800 / test::kFewer);
}

INSTANTIATE_TEST_SUITE_P(Shards, UnionAccount, testing::Range<std::uint64_t>(0, 4));

}  // namespace
}  // namespace bushbaby
