// Runs the plotting program.
#pragma once

#include <string>
#include <string_view>

#include <tl/expected.hpp>

namespace bushbaby::detail {

// What the program prints for a script, or what went wrong, in words. Nobody's settings files are
// read; the script and its result pass through files without a name, so that nothing is left behind
// whatever happens.
tl::expected<std::string, std::string> run_gnuplot(std::string_view script);

}  // namespace bushbaby::detail
