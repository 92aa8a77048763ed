// Numbers at the start of a text, in no locale.
#pragma once

#include <string_view>

namespace bushbaby::detail {

// Reads a number and takes it from the front of the text; false, and the text as it was, if there
// is none there, or none that a double holds.
bool take_number(std::string_view& text, double& number);

}  // namespace bushbaby::detail
