#include "bushbaby/core/world/condition.h"

namespace bushbaby {
namespace {

double value_of(const Statement& statement, const BodyState& body, double height) noexcept {
  switch (statement.of) {
    case Stated::height: return height;
    case Stated::held_horizontal: return body.held_horizontal;
    case Stated::held_vertical: return body.held_vertical;
    case Stated::speed_horizontal: return body.velocity.x;
    case Stated::speed_vertical: return body.velocity.y;
    case Stated::stance: return body.stance;
    case Stated::zone: break;
  }
  for (const ZoneId zone : body.zones) {
    if (zone != kNoZone && static_cast<double>(zone) == statement.at_least) return 1;
  }
  return 0;
}

Decision decide_statement(const Condition& condition, std::size_t index, const BodyState& body,
                          double height) noexcept {
  const Statement& statement = condition.nodes[index].statement;
  const double value = value_of(statement, body, height);
  const bool holds = statement.of == Stated::zone
                         ? value == 1
                         : value >= statement.at_least && value <= statement.at_most;
  return {holds, index, value};
}

// NOLINTNEXTLINE(misc-no-recursion): conditions are as deep as somebody wrote them
Decision decide_node(const Condition& condition, std::size_t index, const BodyState& body,
                     double height) noexcept {
  const Condition::Node& node = condition.nodes[index];
  if (node.kind == Condition::Kind::statement) {
    return decide_statement(condition, index, body, height);
  }
  if (node.kind == Condition::Kind::no) {
    Decision inner = decide_node(condition, index + 1, body, height);
    inner.holds = !inner.holds;
    return inner;
  }
  // The first that does not fit the others decides; else the last.
  const bool goes_on_while = node.kind == Condition::Kind::all;
  Decision decision;
  for (std::size_t at = index + 1; at < index + node.size; at += condition.nodes[at].size) {
    decision = decide_node(condition, at, body, height);
    if (decision.holds != goes_on_while) break;
  }
  return decision;
}

// Where the nodes of a tree that begins there end; 0 if they make none.
// NOLINTNEXTLINE(misc-no-recursion)
std::size_t end_of(const Condition& condition, std::size_t index) noexcept {
  if (index >= condition.nodes.size()) return 0;
  const Condition::Node& node = condition.nodes[index];
  const std::size_t end = index + node.size;
  if (node.size == 0 || end > condition.nodes.size()) return 0;
  if (node.kind == Condition::Kind::statement) return node.size == 1 ? end : 0;
  std::size_t inner = 0;
  std::size_t at = index + 1;
  while (at < end) {
    at = end_of(condition, at);
    if (at == 0) return 0;
    ++inner;
  }
  const bool fits = node.kind == Condition::Kind::no ? inner == 1 : inner > 0;
  return at == end && fits ? end : 0;
}

}  // namespace

Decision decide(const Condition& condition, const BodyState& body, double height) noexcept {
  return condition.nodes.empty() ? Decision{} : decide_node(condition, 0, body, height);
}

bool is_well_formed(const Condition& condition) noexcept {
  return condition.nodes.empty() || end_of(condition, 0) == condition.nodes.size();
}

}  // namespace bushbaby
