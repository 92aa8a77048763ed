// When a surface is solid: statements about the body that comes to it.
//
//     // A leaf that holds whoever lands on it slowly, and lets through who holds down.
//     Condition leaf;
//     leaf.nodes = {{Condition::Kind::all, 3},
//                   {Condition::Kind::statement, 1, {Stated::speed_vertical, -6}},
//                   {Condition::Kind::statement, 1, {Stated::held_vertical, 0}}};
#pragma once

#include <cstddef>
#include <cstdint>
#include <limits>
#include <vector>

#include <bushbaby/core/shape/shapes.h>
#include <bushbaby/core/world/zone.h>

namespace bushbaby {

/// What a statement can be about, as the body is at the start of a tick.
enum class Stated : std::uint8_t {
  height,            ///< u, of its feet over the highest place of the solid, along its up
  held_horizontal,   ///< -1 left, 0 neither, 1 right, as the body stands
  held_vertical,     ///< -1 down, 0 neither, 1 up
  speed_horizontal,  ///< u/s to the right
  speed_vertical,    ///< u/s vertically
  stance,            ///< the number of its Stance
  zone,              ///< the id of a zone that it is in
};

/// A quantity within bounds, both ends included.
struct Statement {
  Stated of = Stated::height;
  double at_least = -std::numeric_limits<double>::infinity();
  double at_most = std::numeric_limits<double>::infinity();
};

/// A tree of statements, in the order in which it is written: each node comes before those in it.
/// Without any it always holds.
struct Condition {
  enum class Kind : std::uint8_t {
    statement,
    all,  ///< every one in it holds
    any,  ///< one in it does
    no,   ///< the one in it does not
  };
  struct Node {
    Kind kind = Kind::statement;
    std::uint32_t size = 1;  ///< of nodes: itself and all in it
    Statement statement{};
  };
  std::vector<Node> nodes{};
};

/// A body as statements see it.
struct BodyState {
  Vec feet{0, 0};              ///< u, as all of it in the frame of the body: y along its up
  Vec velocity{0, 0};          ///< u/s
  int held_horizontal = 0;     ///< -1, 0, 1
  int held_vertical = 0;       ///< -1, 0, 1
  int stance = 0;              ///< the number of its Stance
  ZoneSet zones = no_zones();  ///< it is in
};

/// What a condition comes to, and the statement that decided: the first that made it so.
struct Decision {
  bool holds = true;
  std::size_t node = 0;  ///< the index of that statement; 0 if the condition has none
  double value = 0;      ///< of its quantity; of a zone, 1 if the body is in it and else 0
};

/// What a surface that is solid at times is to a body.
struct Solidity {
  bool solid = true;
  bool inside = false;  ///< the body is in it: then it is not solid to it, whatever is stated
  Decision decision{};
};

/// Decides a condition for a body whose feet are `height` over the highest place of the solid.
[[nodiscard]] Decision decide(const Condition& condition, const BodyState& body,
                              double height) noexcept;

/// Whether nodes make a tree: sizes that fit, `no` with one in it, no empty `all` and `any`.
[[nodiscard]] bool is_well_formed(const Condition& condition) noexcept;

}  // namespace bushbaby
