// A page to read: headings, tables and pictures in one file that needs no other.
#pragma once

#include <string>
#include <vector>

#include <bushbaby/data/problem.h>
#include <bushbaby/views/picture.h>

namespace bushbaby {

struct PageTable {
  std::vector<std::string> heads;
  std::vector<std::vector<std::string>> rows;  ///< as many cells as there are heads
};

/// What stands under one heading, in this order.
struct PageSection {
  std::string heading;
  std::vector<std::string> words{};  ///< a paragraph each
  std::vector<Picture> pictures{};
  std::vector<PageTable> tables{};
};

struct Page {
  std::string title;
  std::string subtitle;
  std::vector<PageSection> sections;
};

/// The page as HTML, pictures inline as SVG whose text can be selected, light or dark as the
/// reader's screen is. Fails if a picture cannot be drawn.
[[nodiscard]] Result<std::string> html_of(const Page& page);

}  // namespace bushbaby
