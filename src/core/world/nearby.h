// The solids near a body, asked for once and looked at several times within a tick.
#pragma once

#include <array>
#include <cstdint>

#include "bushbaby/core/world/world.h"

#include "core/shape/arithmetic.h"
#include "core/shape/frame.h"
#include "core/shape/meeting.h"
#include "core/shape/rarely.h"

namespace bushbaby::detail {

// Keeps what a world hands over for a region, as long as there is room; what is asked within that
// region is then answered from here. Where there is no room, every question goes to the world. All
// of it is reported in the frame of a body.
class Nearby final : private Solids, public Neighbours {
 public:
  struct Part {
    Convex shape;
    SurfaceId surface;
    Vec speed{0, 0};  // u/s, of what travels

    [[nodiscard]] bool travels() const noexcept { return speed.x != 0 || speed.y != 0; }
  };

  // Whose body it is, for surfaces that are solid at times: its shape, and how it is at the start
  // of the tick, made up only if it is asked for. Without it they are solid.
  struct Asker {
    const Shape* shape = nullptr;
    BodyState (*state)(const void* from) = nullptr;
    const void* from = nullptr;
  };

  // With a tick rate, what travels is on its way to where it is at the next tick; otherwise it
  // stays where it is at this one.
  Nearby(const World& world, std::int64_t tick, const Frame& frame,
         const Asker& asker = {nullptr, nullptr, nullptr}, double tick_rate = 0) noexcept
      : world_(world),
        tick_(tick),
        frame_(frame),
        asker_(asker),
        tick_rate_(tick_rate),
        in_time_(tick_rate != 0) {}
  // The parts look at the corners that stand here.
  Nearby(const Nearby&) = delete;
  Nearby& operator=(const Nearby&) = delete;
  ~Nearby() = default;

  [[nodiscard]] const World& world() const noexcept { return world_; }

  // Time goes on, in s: moving platforms are shown where they have come to.
  [[nodiscard]] double passed() const noexcept { return passed_; }
  void pass_to(double time) noexcept { passed_ = time; }

  // Whether anything may travel.
  [[nodiscard]] bool is_in_time() const noexcept { return in_time_; }

  // u/s at which a surface travels.
  [[nodiscard]] Vec speed_of(SurfaceId surface) const noexcept {
    if (!is_in_time() || surface == kNoSurface) return {0, 0};
    return scale(frame_.into(world_.travel(surface, tick_)), tick_rate_);
  }

  // Whether a moving platform comes into a region in this tick, or near it.
  [[nodiscard]] bool has_moving_platforms_in(const Box& region) noexcept {
    if (!is_in_time()) return false;
    if (!covers(region)) gather(region);
    return has_moving_platforms_;
  }

  // From now on a moving platform is not shown, until all are again.
  void let_be(SurfaceId surface) noexcept {
    if (let_be_count_ < kMostLetBe) let_be_[let_be_count_++] = surface;
  }
  void show_all() noexcept { let_be_count_ = 0; }

  // From now on leaves out the surfaces of one side that a body with its feet there would stand on:
  // what faces up within `reach` beyond `rest` of it, and what else of the same surface does not
  // lie much lower.
  struct Drop {
    Vec feet{0, 0};
    Shape body;
    double rest = 0;
    double reach = 0;
  };
  void let_through(const Drop& drop) noexcept {
    drops_ = false;
    drop_ = drop;
    let_through_count_ = 0;
    const Box here{add(drop.feet, drop.body.box.lo), add(drop.feet, drop.body.box.hi)};
    visit(grown(here, drop.rest + drop.reach), [this](const Part& part) {
      if (let_through_count_ == kMostLetThrough || !is_underfoot(part.shape)) return;
      let_through_[let_through_count_++] = part.surface;
    });
    drops_ = true;
    region_ = kNowhere;
  }

  // How often somebody has looked at what is near.
  [[nodiscard]] std::int64_t looks() const noexcept { return looks_; }

  // Of the parts that are known: whoever visits them may ask.
  bool see_at(Vec corner, double reach, double radius, Vec& normal) const noexcept override;

  // Visits every part that reaches into `region`, and perhaps others.
  template <class Visit>
  void visit(const Box& region, const Visit& visit) noexcept {
    ++looks_;
    if (!covers(region)) gather(region);
    visit_known(region, visit);
  }

 private:
  // The same of a region all parts of which are known.
  template <class Visit>
  BUSHBABY_WITHIN void visit_known(const Box& region, const Visit& visit) const noexcept {
    if (rarely(overflowed_ || has_moving_platforms_)) {
      const Visit copy = visit;  // so that what is visited here need not lie in memory
      visit_all(region, copy);
      return;
    }
    for (std::size_t i = 0; i < count_; ++i) visit(parts_[i]);
  }

  // The same where there is no room for all, or moving platforms are among them.
  template <class Visit>
  BUSHBABY_APART void visit_all(const Box& region, const Visit& visit) const noexcept {
    if (overflowed_) {
      Passing<Visit> passing(visit, *this);
      ask(region, passing);
      if (!has_moving_platforms_) return;
      passing.moving_platforms = true;
      ask_for_moving_platforms(region, passing);
      return;
    }
    for (std::size_t i = 0; i < count_; ++i) {
      if (parts_[i].travels()) {
        show(parts_[i], visit);
      } else {
        visit(parts_[i]);
      }
    }
  }

  static constexpr std::size_t kMostParts = 24;
  static constexpr std::size_t kMostCornersKept = 64;

  template <class Visit>
  class Passing final : public Solids {
   public:
    Passing(const Visit& visit, const Nearby& nearby) noexcept : visit_(visit), nearby_(nearby) {}
    void take(const Convex& part, SurfaceId surface) noexcept override {
      Vec speed{0, 0};
      if (!nearby_.is_relevant(surface, moving_platforms, speed)) return;
      nearby_.see(part, [&](const Convex& seen) {
        if (!nearby_.is_there(seen, surface) || nearby_.lets_through(seen, surface)) return;
        if (moving_platforms) {
          nearby_.show({seen, surface, speed}, visit_);
        } else {
          visit_(Part{seen, surface});
        }
      });
    }

    bool moving_platforms = false;  // whether it takes what travels

   private:
    const Visit& visit_;
    const Nearby& nearby_;
  };

  // Whether a part is taken where moving platforms are asked for, or where all solids are; and how
  // fast it travels.
  [[nodiscard]] bool is_relevant(SurfaceId surface, bool moving_platforms,
                                 Vec& speed) const noexcept {
    if (!has_moving_platforms_) return true;
    speed = speed_of(surface);
    return (speed != Vec{0, 0}) == moving_platforms;
  }

  // Shows a part of a moving platform where it has come to.
  template <class Visit>
  void show(const Part& part, const Visit& visit) const noexcept {
    for (std::size_t i = 0; i < let_be_count_; ++i) {
      if (let_be_[i] == part.surface) return;
    }
    const Vec way = scale(part.speed, passed_);
    Part moved = part;
    moved.shape.bounds = {add(part.shape.bounds.lo, way), add(part.shape.bounds.hi, way)};
    Vec corners[kMostCorners];
    for (std::uint32_t i = 0; i < part.shape.count; ++i) {
      corners[i] = add(part.shape.corners[i], way);
    }
    if (part.shape.count > 0) moved.shape.corners = corners;
    visit(moved);
  }

  void ask_for_moving_platforms(const Box& region, Solids& solids) const noexcept {
    world_.find_moving_platforms(frame_.turned ? frame_.bounds_out_of(region) : region, tick_,
                                 solids);
  }

  void ask(const Box& region, Solids& solids) const noexcept {
    world_.find_solids(frame_.turned ? frame_.bounds_out_of(region) : region, tick_, solids);
  }

  // Looks at a part of a solid as it is seen in the frame.
  template <class Look>
  void see(const Convex& part, const Look& look) const noexcept {
    if (!frame_.turned) {
      look(part);
    } else if (part.count <= kMostCorners) {
      look(PartInFrame(part, frame_).shape());
    }
  }

  // Whether a surface that is solid at times is so now.
  [[nodiscard]] bool is_there(const Convex& part, SurfaceId surface) const noexcept {
    return !part.conditional || asker_.state == nullptr || is_solid_now(part, surface);
  }
  [[nodiscard]] bool is_solid_now(const Convex& part, SurfaceId surface) const noexcept;

  // Whether a body that drops stood on it.
  [[nodiscard]] bool is_underfoot(const Convex& part) const noexcept {
    if (!part.is_one_sided()) return false;
    const Lie lie = lie_of(drop_.feet, part, drop_.body, drop_.rest);
    return lie.normal.y > 0 && lie.gap <= drop_.reach;
  }

  [[nodiscard]] bool lets_through(const Convex& part, SurfaceId surface) const noexcept {
    if (!drops_ || !part.is_one_sided()) return false;
    const double half = (drop_.body.box.hi.y - drop_.body.box.lo.y) / 2;
    for (std::size_t i = 0; i < let_through_count_; ++i) {
      if (let_through_[i] == surface) return part.bounds.hi.y > drop_.feet.y - half;
    }
    return is_underfoot(part);
  }

  [[nodiscard]] bool covers(const Box& region) const noexcept {
    return region.lo.x >= region_.lo.x && region.hi.x <= region_.hi.x &&
           region.lo.y >= region_.lo.y && region.hi.y <= region_.hi.y;
  }

  // A little more than is asked for: the rest of the tick rarely needs more.
  BUSHBABY_WITHIN void gather(const Box& region) noexcept {
    const Vec extent = subtract(region.hi, region.lo);
    constexpr double kMore = 0.125;
    region_ = grown(region, kMore * smaller(extent.x, extent.y));
    count_ = corner_count_ = 0;
    overflowed_ = has_moving_platforms_ = false;
    if (rarely(is_in_time())) {
      takes_moving_platforms_ = true;
      ask_for_moving_platforms(region_, *this);
      takes_moving_platforms_ = false;
    }
    ask(region_, *this);
  }

  void take(const Convex& part, SurfaceId surface) noexcept override {
    if (!is_told_apart()) {
      keep(part, surface, {0, 0});
      return;
    }
    has_moving_platforms_ = has_moving_platforms_ || takes_moving_platforms_;
    Vec speed{0, 0};
    if (!is_relevant(surface, takes_moving_platforms_, speed)) return;
    see(part, [&](const Convex& seen) { keep(seen, surface, speed); });
  }
  void take_box(const Box& box, SurfaceId surface) noexcept override {
    if (rarely(is_told_apart())) {
      Solids::take_box(box, surface);
    } else if (touch(box, region_)) {
      keep_box(box, surface);
    }
  }

  // Whether what is taken is seen otherwise than it is reported, or is not all of one kind.
  [[nodiscard]] bool is_told_apart() const noexcept {
    return frame_.turned || takes_moving_platforms_ || has_moving_platforms_;
  }

  BUSHBABY_WITHIN void keep(const Convex& part, SurfaceId surface, Vec speed) noexcept {
    if (!takes_moving_platforms_ && !touch(part.bounds, region_)) return;
    if (rarely(!is_there(part, surface) || lets_through(part, surface))) return;
    if (corner_count_ + part.count > kMostCornersKept) overflowed_ = true;
    Part* kept = keep_box(part.bounds, surface);
    if (kept == nullptr) return;
    // One by one: what has just been written by parts is read by parts.
    kept->shape.count = part.count;
    kept->shape.conditional = part.conditional;
    kept->shape.side = part.side;
    kept->shape.inner = part.inner;
    kept->speed = speed;
    if (part.is_box()) return;
    kept->shape.corners = &corners_[corner_count_];
    for (std::uint32_t i = 0; i < part.count; ++i) corners_[corner_count_++] = part.corners[i];
  }

  // Keeps an ordinary box, if there is room.
  BUSHBABY_WITHIN Part* keep_box(const Box& box, SurfaceId surface) noexcept {
    overflowed_ = overflowed_ || count_ == kMostParts;
    if (rarely(overflowed_)) return nullptr;
    Part& kept = parts_[count_++];
    kept.shape.bounds = box;
    kept.shape.corners = nullptr;
    kept.shape.count = 0;
    kept.shape.conditional = false;
    kept.shape.side = {0, 0};
    kept.shape.inner = 0;
    kept.surface = surface;
    kept.speed = {0, 0};
    return &kept;
  }

  static constexpr Box kNowhere{{1, 1}, {-1, -1}};  // covers nothing
  static constexpr std::size_t kMostLetThrough = 8;
  static constexpr std::size_t kMostLetBe = 8;

  const World& world_;
  std::int64_t tick_;
  const Frame& frame_;
  Asker asker_;
  double tick_rate_;
  double passed_ = 0;  // s since the start of the tick
  std::int64_t looks_ = 0;
  Box region_ = kNowhere;
  std::uint8_t count_ = 0;
  std::uint8_t corner_count_ = 0;
  std::uint8_t let_through_count_ = 0;
  std::uint8_t let_be_count_ = 0;
  bool in_time_;
  bool overflowed_ = false;
  bool has_moving_platforms_ = false;
  bool takes_moving_platforms_ = false;  // while it asks for them
  bool drops_ = false;
  // Places that hold nothing are never written.
  union {
    Drop drop_;
  };
  union {
    std::array<SurfaceId, kMostLetThrough> let_through_;
  };
  union {
    std::array<SurfaceId, kMostLetBe> let_be_;
  };
  union {
    std::array<Part, kMostParts> parts_;
  };
  union {
    std::array<Vec, kMostCornersKept> corners_;
  };
};

}  // namespace bushbaby::detail
