// A picture in the words of the plotting program.
#pragma once

#include <string>
#include <string_view>

#include "bushbaby/views/picture.h"

namespace bushbaby::detail {

// A text in quotes in which the plotting program executes and expands nothing.
std::string in_quotes(std::string_view text);

// Everything but the terminal and the output.
std::string script_of(const Picture& picture);

}  // namespace bushbaby::detail
