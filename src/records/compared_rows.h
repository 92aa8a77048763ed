// Rows of what is compared between variants, as text and as JSON.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "bushbaby/data/units.h"
#include "bushbaby/lab/overlay.h"

#include "json_text.h"

namespace bushbaby::detail {

// A table under a heading, a column for each variant: no more rows than `most`. Of the others than
// the first, only what differs from it, with the difference; empty if there are no rows.
std::string compared_text(const std::vector<Compared>& rows, std::size_t variants,
                          const Units& units, std::string_view heading, std::size_t most);

// What the signs of such a table mean.
inline constexpr std::string_view kComparedLegend = "=: as in A; in brackets: how far from A\n";

Json compared_json(const std::vector<Compared>& rows, const Units& units);

}  // namespace bushbaby::detail
