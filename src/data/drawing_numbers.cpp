#include "drawing_numbers.h"

#include <array>
#include <cctype>
#include <cmath>

#include <fmt/format.h>

#include "core/shape/angles.h"
#include "core/shape/arithmetic.h"
#include "number_text.h"
#include "toml_text.h"

namespace bushbaby::detail {
namespace {

bool is_blank(char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == ','; }

bool is_letter(char c) { return std::isalpha(static_cast<unsigned char>(c)) != 0; }

// The direction at an angle from x to y; the same bits everywhere.
Vec direction_at(double degrees) {
  double turned = std::fmod(degrees, 360);
  if (turned < 0) turned += 360;
  const int quarters = static_cast<int>(turned / 90) % 4;
  const double rest = turned - 90 * quarters;
  Vec way{cosine_of_degrees(rest), cosine_of_degrees(90 - rest)};
  if (rest == 0) way = {1, 0};
  for (int i = 0; i < quarters; ++i) way = {-way.y, way.x};
  return way;
}

// What comes next, for messages.
std::string next_of(DrawingScanner& scanner) {
  return scanner.is_done() ? "the end" : shown(scanner.rest());
}

double tangent_of(double degrees) {
  const Vec way = direction_at(degrees);
  return way.y / way.x;
}

}  // namespace

// ---- scanning -----------------------------------------------------------------------------------

void DrawingScanner::pass_blanks() {
  while (!rest_.empty() && is_blank(rest_.front())) rest_.remove_prefix(1);
}

bool DrawingScanner::is_done() {
  pass_blanks();
  return rest_.empty();
}

std::optional<double> DrawingScanner::number() {
  pass_blanks();
  std::string_view text = rest_;
  if (!text.empty() && text.front() == '+') text.remove_prefix(1);
  double value = 0;
  if (!take_number(text, value) || !std::isfinite(value)) return std::nullopt;
  rest_ = text;
  return value;
}

char DrawingScanner::next() {
  pass_blanks();
  if (rest_.empty()) return 0;
  const char c = rest_.front();
  rest_.remove_prefix(1);
  return c;
}

std::optional<std::string_view> DrawingScanner::until(char stop) {
  pass_blanks();
  const std::size_t end = rest_.find(stop);
  if (end == std::string_view::npos) return std::nullopt;
  const std::string_view text = rest_.substr(0, end);
  rest_.remove_prefix(end + 1);
  return text;
}

std::optional<double> scan_length(std::string_view text) {
  DrawingScanner scanner(text);
  const auto value = scanner.number();
  if (!value || (!scanner.is_done() && scanner.rest() != "px")) return std::nullopt;
  return value;
}

Scanned<std::vector<Vec>> scan_points(std::string_view text) {
  DrawingScanner scanner(text);
  std::vector<Vec> points;
  while (!scanner.is_done()) {
    const auto x = scanner.number();
    const auto y = scanner.number();
    if (!x || !y) return {{}, next_of(scanner) + " where a point should be"};
    points.emplace_back(*x, *y);
  }
  return {std::move(points), ""};
}

// ---- transforms ---------------------------------------------------------------------------------

Vec Affine::operator()(Vec place) const noexcept {
  return add(add(scale(x, place.x), scale(y, place.y)), shift);
}

Affine Affine::after(const Affine& inner) const noexcept {
  const auto turned = [this](Vec way) { return add(scale(x, way.x), scale(y, way.y)); };
  return {turned(inner.x), turned(inner.y), (*this)(inner.shift)};
}

bool Affine::keeps_boxes() const noexcept {
  return (x.y == 0 && y.x == 0) || (x.x == 0 && y.y == 0);
}

namespace {

// The map of one function of a transform; nothing if it has the wrong numbers.
std::optional<Affine> map_of(std::string_view name, const std::vector<double>& n) {
  const std::size_t count = n.size();
  if (name == "matrix" && count == 6) return Affine{{n[0], n[1]}, {n[2], n[3]}, {n[4], n[5]}};
  if (name == "translate" && (count == 1 || count == 2)) {
    return Affine{{1, 0}, {0, 1}, {n[0], count == 2 ? n[1] : 0}};
  }
  if (name == "scale" && (count == 1 || count == 2)) {
    return Affine{{n[0], 0}, {0, count == 2 ? n[1] : n[0]}};
  }
  if (name == "rotate" && (count == 1 || count == 3)) {
    const Vec way = direction_at(n[0]);
    const Affine turn{way, {-way.y, way.x}};
    if (count == 1) return turn;
    const Affine there{{1, 0}, {0, 1}, {n[1], n[2]}};
    const Affine back{{1, 0}, {0, 1}, {-n[1], -n[2]}};
    return there.after(turn).after(back);
  }
  if (name == "skewX" && count == 1) return Affine{{1, 0}, {tangent_of(n[0]), 1}};
  if (name == "skewY" && count == 1) return Affine{{1, tangent_of(n[0])}, {0, 1}};
  return std::nullopt;
}

}  // namespace

Scanned<Affine> scan_transform(std::string_view text) {
  DrawingScanner scanner(text);
  Affine all;
  while (!scanner.is_done()) {
    const std::string whole = shown(scanner.rest());
    auto name = scanner.until('(');
    const auto inside = name ? scanner.until(')') : std::nullopt;
    if (!inside) return {{}, whole};
    while (!name->empty() && is_blank(name->back())) name->remove_suffix(1);
    std::vector<double> numbers;
    DrawingScanner list(*inside);
    while (!list.is_done()) {
      const auto number = list.number();
      if (!number || numbers.size() == 6) return {{}, whole};
      numbers.push_back(*number);
    }
    const auto map = map_of(*name, numbers);
    if (!map) return {{}, whole};
    all = all.after(*map);
  }
  return {all, ""};
}

// ---- paths --------------------------------------------------------------------------------------

namespace {

// Follows the commands of a path.
class PathFollower {
 public:
  explicit PathFollower(std::string_view text) : scanner_(text) {}

  Scanned<DrawnWay> follow() {
    while (fault_.empty() && !scanner_.is_done()) step();
    if (way_.is_closed) drop_last_if_first();
    return {std::move(way_), std::move(fault_)};
  }

 private:
  void step() {
    const char first = scanner_.rest().front();
    if (is_letter(first)) {
      command_ = scanner_.next();
      if (command_ == 'Z' || command_ == 'z') {
        way_.is_closed = true;
        return;
      }
    }
    if (way_.is_closed) {
      fault_ = "more than one outline";
      return;
    }
    move();
  }

  void move() {
    const bool relative = std::islower(static_cast<unsigned char>(command_)) != 0;
    const Vec origin = relative ? at_ : Vec{0, 0};
    switch (std::toupper(static_cast<unsigned char>(command_))) {
      case 'M':
        if (!way_.points.empty()) {
          fault_ = "more than one outline";
          return;
        }
        go_to(pair(origin));
        command_ = relative ? 'l' : 'L';
        return;
      case 'L': go_to(pair(origin)); return;
      case 'H': go_to(Vec{coordinate(origin.x), at_.y}); return;
      case 'V': go_to(Vec{at_.x, coordinate(origin.y)}); return;
      case 'C':
      case 'S':
      case 'Q':
      case 'T':
      case 'A': fault_ = fmt::format("a curve ({})", command_); return;
      default: fault_ = next_of(scanner_) + " where a command should be"; return;
    }
  }

  double coordinate(double origin) {
    const auto number = scanner_.number();
    if (!number && fault_.empty()) {
      fault_ = next_of(scanner_) + " where a number should be";
    }
    return origin + number.value_or(0);
  }

  Vec pair(Vec origin) {
    const double x = coordinate(origin.x);
    return {x, coordinate(origin.y)};
  }

  void go_to(Vec place) {
    if (!fault_.empty()) return;
    at_ = place;
    way_.points.push_back(place);
  }

  void drop_last_if_first() {
    if (way_.points.size() > 1 && way_.points.back() == way_.points.front()) {
      way_.points.pop_back();
    }
  }

  DrawingScanner scanner_;
  char command_ = ' ';
  Vec at_{0, 0};
  DrawnWay way_;
  std::string fault_;
};

}  // namespace

Scanned<DrawnWay> scan_path(std::string_view text) { return PathFollower(text).follow(); }

}  // namespace bushbaby::detail
