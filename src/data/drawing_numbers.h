// Numbers, transforms and paths as SVG writes them.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/core/shape/shapes.h"

namespace bushbaby::detail {

// Takes a list of numbers, commands and names apart: "M10-5.5.5" is a letter and three numbers.
class DrawingScanner {
 public:
  explicit DrawingScanner(std::string_view text) : rest_(text) {}

  // Whether nothing is left but blanks and commas.
  [[nodiscard]] bool is_done();
  // The next number, if there is one.
  [[nodiscard]] std::optional<double> number();
  // The next character, blanks and commas passed over; 0 at the end.
  [[nodiscard]] char next();
  // What comes before `stop`, which is passed over; nothing if it does not come.
  [[nodiscard]] std::optional<std::string_view> until(char stop);
  [[nodiscard]] std::string_view rest() const { return rest_; }

 private:
  void pass_blanks();

  std::string_view rest_;
};

// An affine map of the plane: x·place.x + y·place.y + shift.
struct Affine {
  Vec x{1, 0};
  Vec y{0, 1};
  Vec shift{0, 0};

  [[nodiscard]] Vec operator()(Vec place) const noexcept;
  // This one after another.
  [[nodiscard]] Affine after(const Affine& inner) const noexcept;
  // Whether boxes stay boxes.
  [[nodiscard]] bool keeps_boxes() const noexcept;
};

// What was read, or what is wrong with the text, in words.
template <class T>
struct Scanned {
  T value{};
  std::string fault;
};

// The value of a `transform` attribute.
Scanned<Affine> scan_transform(std::string_view text);

// Points one after another: "0,0 10,5".
Scanned<std::vector<Vec>> scan_points(std::string_view text);

// One way of a path, of straight lines; closed ones end without their first point again.
struct DrawnWay {
  std::vector<Vec> points;
  bool is_closed = false;
};
Scanned<DrawnWay> scan_path(std::string_view text);

// A length in the drawing's own units: "12", "12px".
std::optional<double> scan_length(std::string_view text);

}  // namespace bushbaby::detail
