#include "metadata.h"

#include <cctype>
#include <sstream>
#include <string_view>
#include <vector>

#include <pugixml.hpp>
#include <zlib.h>

namespace bushbaby::detail {
namespace {

// A text that any reader of XML and of PNG takes: UTF-8 without control characters.
std::string plain(std::string_view text) {
  std::string result;
  for (const char c : text) result += std::iscntrl(static_cast<unsigned char>(c)) != 0 ? ' ' : c;
  return result;
}

// ---- PNG: chunks of length, type, data and checksum ---------------------------------------------

std::string big_endian(std::size_t number) {
  std::string bytes;
  for (int shift = 24; shift >= 0; shift -= 8) {
    bytes += static_cast<char>((number >> static_cast<unsigned>(shift)) & 0xFFU);
  }
  return bytes;
}

// An international text chunk: keyword, not compressed, no language, no translated keyword.
std::string text_chunk(std::string_view keyword, std::string_view text) {
  std::string body = "iTXt";
  body += keyword;
  body += std::string("\0\0\0\0\0", 5);
  body += text;
  const auto sum = ::crc32(0, reinterpret_cast<const Bytef*>(body.data()),  // NOLINT: zlib's type
                           static_cast<uInt>(body.size()));
  return big_endian(body.size() - 4) + body + big_endian(sum);
}

// ---- SVG ----------------------------------------------------------------------------------------

std::string renamed(std::string_view id) {
  constexpr std::string_view kTheirs = "gnuplot_";
  if (id.substr(0, kTheirs.size()) != kTheirs) return std::string(id);
  return "bushbaby_" + std::string(id.substr(kTheirs.size()));
}

// Takes out what the plotting program puts into every file for marks that are never used here, and
// the names that it gives to layers.
void tidy(pugi::xml_node node) {
  std::vector<pugi::xml_node> superfluous;
  for (pugi::xml_node child : node.children()) {
    const std::string_view name = child.name();
    const std::string_view id = child.attribute("id").value();
    if (name == "title" || name == "desc" || id.substr(0, 2) == "gp" || name == "filter") {
      superfluous.push_back(child);
      continue;
    }
    if (!id.empty()) child.attribute("id").set_value(renamed(id).c_str());
    tidy(child);
  }
  for (const pugi::xml_node& child : superfluous) node.remove_child(child);
}

}  // namespace

std::optional<std::string> described_png(const std::string& png, const Picture& picture) {
  constexpr std::string_view kSignature("\x89PNG\r\n\x1a\n", 8);
  constexpr std::size_t kHeader = 8 + 25;  // the signature and the first chunk
  constexpr std::string_view kEnd("IEND\xae\x42\x60\x82", 8);
  const bool whole = png.size() > kHeader + kEnd.size() &&
                     png.compare(0, kSignature.size(), kSignature) == 0 &&
                     png.compare(png.size() - kEnd.size(), kEnd.size(), kEnd) == 0;
  if (!whole) return std::nullopt;
  return png.substr(0, kHeader) + text_chunk("Title", plain(picture.finding)) +
         text_chunk("Description", plain(picture.about)) + text_chunk("Software", "Bushbaby") +
         png.substr(kHeader);
}

std::optional<std::string> described_svg(const std::string& svg, const Picture& picture) {
  pugi::xml_document document;
  const auto parsed = document.load_buffer(svg.data(), svg.size(),
                                           pugi::parse_default | pugi::parse_ws_pcdata_single);
  pugi::xml_node root = document.child("svg");
  if (!parsed || !root) return std::nullopt;
  tidy(root);
  pugi::xml_node about = root.prepend_child("desc");
  about.text().set((plain(picture.about) + " Drawn by Bushbaby.").c_str());
  root.prepend_child("title").text().set(plain(picture.finding).c_str());
  std::ostringstream out;
  document.save(out, "", pugi::format_raw);
  return out.str();
}

}  // namespace bushbaby::detail
