#include "bushbaby/core/tuning/violation.h"

#include "text.h"

namespace bushbaby {

std::string_view unit_of(Dimension dimension) noexcept {
  switch (dimension) {
    case Dimension::length: return "u";
    case Dimension::time: return "s";
    case Dimension::speed: return "u/s";
    case Dimension::acceleration: return "u/s²";
    case Dimension::angle: return "°";
    case Dimension::frequency: return "Hz";
    case Dimension::ratio: return "×";
    case Dimension::ticks: return "ticks";
    case Dimension::milliseconds: return "ms";
    case Dimension::number: break;
  }
  return "";
}

std::string describe(const Phrase& phrase) {
  std::string text;
  for (const Phrase::Part& part : phrase.parts()) {
    if (const auto* words = std::get_if<std::string>(&part)) {
      text += *words;
    } else if (const auto* unit = std::get_if<Dimension>(&part)) {
      text += unit_of(*unit);
    } else {
      const auto& quantity = std::get<Quantity>(part);
      text += quantity.rounded ? detail::short_text_of(quantity.value)
                               : detail::plain_text_of(quantity.value);
      const std::string_view name = unit_of(quantity.dimension);
      if (!quantity.bare && !name.empty()) text.append(" ").append(name);
    }
  }
  return text;
}

std::string describe(const Violation& violation) {
  return (violation.key.empty() ? "" : violation.key + ": ") + "found " +
         describe(violation.found) + ", expected " + describe(violation.expected);
}

}  // namespace bushbaby
