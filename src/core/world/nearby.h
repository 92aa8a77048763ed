// The solids near a body, asked for once and looked at several times within a tick.
#pragma once

#include <array>

#include "bushbaby/core/world/world.h"

#include "core/shape/arithmetic.h"
#include "core/shape/frame.h"
#include "core/shape/meeting.h"

namespace bushbaby::detail {

// Keeps what a world hands over for a region, as long as there is room; what is asked within that
// region is then answered from here. Where there is no room, every question goes to the world. All
// of it is told in the frame of a body.
class Nearby final : private Solids {
 public:
  struct Part {
    Convex shape;
    SurfaceId surface;
  };

  // Whose body it is, for surfaces that are solid at times: its shape, and how it is at the start
  // of the tick, made up only if it is asked for. Without it they are solid.
  struct Asker {
    const Shape* shape = nullptr;
    BodyState (*state)(const void* from) = nullptr;
    const void* from = nullptr;
  };

  Nearby(const World& world, std::int64_t tick, const Frame& frame,
         const Asker& asker = {nullptr, nullptr, nullptr}) noexcept
      : world_(world), tick_(tick), frame_(frame), asker_(asker) {}
  // The parts look at the corners that stand here.
  Nearby(const Nearby&) = delete;
  Nearby& operator=(const Nearby&) = delete;
  ~Nearby() = default;

  [[nodiscard]] const World& world() const noexcept { return world_; }

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

  // Visits every part that reaches into `region`, and perhaps others.
  template <class Visit>
  void visit(const Box& region, const Visit& visit) noexcept {
    if (!covers(region)) gather(region);
    if (overflowed_) {
      Passing<Visit> passing(visit, *this);
      ask(region, passing);
      return;
    }
    for (std::size_t i = 0; i < count_; ++i) visit(parts_[i]);
  }

 private:
  static constexpr std::size_t kMostParts = 24;
  static constexpr std::size_t kMostCornersKept = 64;

  template <class Visit>
  class Passing final : public Solids {
   public:
    Passing(const Visit& visit, const Nearby& nearby) noexcept : visit_(visit), nearby_(nearby) {}
    void take(const Convex& part, SurfaceId surface) noexcept override {
      nearby_.see(part, [&](const Convex& seen) {
        if (nearby_.is_there(seen, surface) && !nearby_.lets_through(seen, surface)) {
          visit_(Part{seen, surface});
        }
      });
    }

   private:
    const Visit& visit_;
    const Nearby& nearby_;
  };

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
  void gather(const Box& region) noexcept {
    const Vec extent = subtract(region.hi, region.lo);
    constexpr double kMore = 0.125;
    region_ = grown(region, kMore * smaller(extent.x, extent.y));
    count_ = corner_count_ = 0;
    overflowed_ = false;
    ask(region_, *this);
  }

  void take(const Convex& part, SurfaceId surface) noexcept override {
    see(part, [&](const Convex& seen) { keep(seen, surface); });
  }

  void keep(const Convex& part, SurfaceId surface) noexcept {
    if (!touch(part.bounds, region_) || !is_there(part, surface)) return;
    if (lets_through(part, surface)) return;
    overflowed_ =
        overflowed_ || count_ == kMostParts || corner_count_ + part.count > kMostCornersKept;
    if (overflowed_) return;
    Part& kept = parts_[count_++];
    kept = {part, surface};
    if (part.is_box()) return;
    kept.shape.corners = &corners_[corner_count_];
    for (std::uint32_t i = 0; i < part.count; ++i) corners_[corner_count_++] = part.corners[i];
  }

  const World& world_;
  std::int64_t tick_;
  const Frame& frame_;
  Asker asker_;
  static constexpr Box kNowhere{{1, 1}, {-1, -1}};  // covers nothing
  Box region_ = kNowhere;
  bool drops_ = false;
  std::size_t count_ = 0;
  std::size_t corner_count_ = 0;
  bool overflowed_ = false;
  // Places that hold nothing are never written.
  union {
    Drop drop_;
  };
  static constexpr std::size_t kMostLetThrough = 8;
  std::size_t let_through_count_ = 0;
  union {
    std::array<SurfaceId, kMostLetThrough> let_through_;
  };
  union {
    std::array<Part, kMostParts> parts_;
  };
  union {
    std::array<Vec, kMostCornersKept> corners_;
  };
};

}  // namespace bushbaby::detail
