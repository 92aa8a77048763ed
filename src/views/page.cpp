#include "bushbaby/views/page.h"

#include <sstream>

#include <fmt/format.h>
#include <pugixml.hpp>

#include "bushbaby/data/direction_controls.h"
#include "bushbaby/version.h"
#include "bushbaby/views/render.h"

namespace bushbaby {
namespace {

// No sign in it that HTML would have to escape. On dark screens pictures keep their light ground.
constexpr const char* kStyle = R"(
:root {{ color-scheme: light dark; }}
body {{ margin: 0 auto; max-width: 76rem; padding: 1.5rem; background: {paper}; color: {text};
  font: 16px/1.5 'Open Sans', sans-serif; }}
h1 {{ font-size: 1.9rem; margin: 0; }}
h2 {{ font-size: 1.3rem; margin: 2.2rem 0 0.6rem; border-bottom: 2px solid {measured}; }}
p {{ margin: 0.4rem 0; max-width: 60rem; overflow-wrap: anywhere; }}
figure {{ margin: 1rem 0; }}
svg {{ width: 100%; height: auto; display: block; border-radius: 6px; }}
.wide {{ overflow-x: auto; }}
table {{ border-collapse: collapse; font-size: 0.9rem; font-variant-numeric: tabular-nums; }}
th {{ text-align: left; }}
th, td {{ padding: 0.15rem 0.9rem 0.15rem 0; border-bottom: 1px solid {faint};
  vertical-align: top; }}
td.number {{ text-align: right; white-space: nowrap; }}
.missed {{ color: {missed}; font-weight: 600; }}
footer {{ margin-top: 2.5rem; font-size: 0.85rem; }}
@media (max-width: 44rem) {{
  body {{ padding: 1rem; }}
  figure {{ overflow-x: auto; }}
  svg {{ width: 48rem; }}
}}
@media (prefers-color-scheme: dark) {{
  body {{ background: #16281f; color: #dfe9dc; }}
  h2 {{ border-color: #f0a35c; }}
  th, td {{ border-color: #3a5245; }}
  .missed {{ color: #ff8f7d; }}
}}
@media print {{
  body {{ background: none; color: #000; padding: 0; font-size: 11pt; }}
  figure, tr {{ break-inside: avoid; }}
  h2 {{ break-after: avoid; }}
}}
)";

std::string style() {
  const auto colour = [](Ink ink) { return std::string(colour_of(ink)); };
  return fmt::format(kStyle, fmt::arg("paper", colour(Ink::paper)),
                     fmt::arg("text", colour(Ink::text)), fmt::arg("faint", colour(Ink::faint)),
                     fmt::arg("measured", colour(Ink::measured)),
                     fmt::arg("missed", colour(Ink::missed)));
}

void add_text(pugi::xml_node parent, const char* name, const std::string& text) {
  parent.append_child(name).text().set(text.c_str());
}

bool is_number(const std::string& text) {
  return !text.empty() && text.find_first_of("0123456789") != std::string::npos &&
         text.find_first_not_of("0123456789+-.e()≥≤…± =") == std::string::npos;
}

void add_table(pugi::xml_node parent, const PageTable& table) {
  pugi::xml_node wide = parent.append_child("div");
  wide.append_attribute("class") = "wide";
  pugi::xml_node node = wide.append_child("table");
  pugi::xml_node heads = node.append_child("thead").append_child("tr");
  for (const std::string& head : table.heads) {
    add_text(heads, "th", head);
    heads.last_child().append_attribute("scope") = "col";
  }
  pugi::xml_node body = node.append_child("tbody");
  for (const auto& row : table.rows) {
    pugi::xml_node cells = body.append_child("tr");
    for (const std::string& cell : row) {
      add_text(cells, "td", cell);
      if (is_number(cell)) cells.last_child().append_attribute("class") = "number";
      if (cell.rfind("MISSED", 0) == 0) cells.last_child().append_attribute("class") = "missed";
    }
  }
}

// Names that one picture has for its own parts must not meet those of another.
void take_ids_out(pugi::xml_node node) {
  node.remove_attribute("id");
  node.remove_attribute("class");
  for (pugi::xml_node child : node.children()) take_ids_out(child);
}

std::optional<Problem> add_picture(pugi::xml_node parent, const Picture& picture) {
  const auto svg = svg_of(picture);
  if (!svg) return svg.error().front();
  pugi::xml_document document;
  if (!document.load_buffer(svg->data(), svg->size(),
                            pugi::parse_default | pugi::parse_ws_pcdata)) {
    return Problem{ProblemCode::cannot_write, "", 0, 0, "", "a picture that cannot be read",
                   "gnuplot that works",      ""};
  }
  pugi::xml_node root = document.document_element();
  take_ids_out(root);
  root.remove_attribute("width");
  root.remove_attribute("height");
  root.append_attribute("role") = "img";
  root.append_attribute("aria-label") = picture.finding.c_str();
  parent.append_child("figure").append_copy(root);
  return std::nullopt;
}

}  // namespace

Result<std::string> html_of(const Page& page) {
  pugi::xml_document document;
  document.append_child(pugi::node_doctype).set_value("html");
  pugi::xml_node html = document.append_child("html");
  html.append_attribute("lang") = "en";
  pugi::xml_node head = html.append_child("head");
  head.append_child("meta").append_attribute("charset") = "utf-8";
  pugi::xml_node view = head.append_child("meta");
  view.append_attribute("name") = "viewport";
  view.append_attribute("content") = "width=device-width, initial-scale=1";
  add_text(head, "title", page.title);
  add_text(head, "style", style());
  pugi::xml_node body = html.append_child("body");
  pugi::xml_node header = body.append_child("header");
  add_text(header, "h1", page.title);
  add_text(header, "p", page.subtitle);
  pugi::xml_node main = body.append_child("main");
  for (const PageSection& section : page.sections) {
    pugi::xml_node part = main.append_child("section");
    add_text(part, "h2", section.heading);
    for (const std::string& words : section.words) add_text(part, "p", words);
    for (const Picture& picture : section.pictures) {
      if (auto problem = add_picture(part, picture)) {
        return tl::unexpected(std::vector<Problem>{std::move(*problem)});
      }
    }
    for (const PageTable& table : section.tables) add_table(part, table);
  }
  add_text(body, "footer", std::string("Made by Bushbaby ") + kVersion + ".");
  std::ostringstream text;
  document.save(
      text, "",
      pugi::format_raw | pugi::format_no_declaration | pugi::format_no_empty_element_tags);
  // What HTML knows no end of must have none.
  std::string written = text.str();
  constexpr std::string_view kEnd = "</meta>";
  for (std::size_t at = 0; (at = written.find(kEnd, at)) != std::string::npos;) {
    written.erase(at, kEnd.size());
  }
  return with_directions_shown(written);
}

}  // namespace bushbaby
