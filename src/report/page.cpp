#include "report/page.hpp"

#include <algorithm>
#include <cstdint>
#include <kainjow/mustache.hpp>

#include <fmt/format.h>

#include "core/text.hpp"
#include "io/json_writer.hpp"
#include "report/script_text.hpp"

namespace stasis::report {
namespace {

namespace mustache = kainjow::mustache;

/// `text` with `more` put after each `before`.
std::string with_after(std::string_view text, std::string_view before, std::string_view more) {
  std::string out;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t found = text.find(before, at);
    const std::size_t end = found == std::string_view::npos ? text.size() : found + before.size();
    out += text.substr(at, end - at);
    if (found != std::string_view::npos) out += more;
    at = end;
  }
  return out;
}

/// An SVG document as an element of a page: ids become the figure's own, so that two figures never share one.
std::string inlined(const std::string& svg, std::size_t number) {
  const std::string prefix = fmt::format("figure{}_", number);
  std::string element = svg.substr(std::min(svg.find("<svg"), svg.size()));
  for (const std::string_view before : {"id=\"", "id='", "href='#", "url(#"})
    element = with_after(element, before, prefix);
  return element;
}

std::string figure_caption(const PageFigure& figure) {
  return figure.version.empty() ? figure.take + ", versions compared" : figure.take + ", " + figure.version;
}

mustache::data page_values(const PageContent& content, PagePart part, const std::string& data) {
  mustache::data values;
  values.set("title", content.title.empty() ? "Untitled feel" : content.title);
  values.set("program", content.program);
  values.set("call", content.call);
  for (const char* const name : {"page.css", "uPlot.min.css", "uPlot.iife.min.js", "read.js", "scene.js", "plan.js",
                                 "strip.js", "charts.js", "tables.js", "player.js", "licences.txt"}) {
    std::string key(name);
    key.resize(key.find('.') == std::string::npos ? key.size() : key.find('.'));
    if (std::string_view(name).ends_with("css")) key += "_style";
    values.set(key, std::string(part(name)));
  }
  values.set("regular", std::string(part("regular.base64")));
  values.set("bold", std::string(part("bold.base64")));
  values.set("data", data);
  mustache::data figures(mustache::data::type::list), sources(mustache::data::type::list);
  for (std::size_t i = 0; i < content.figures.size(); ++i) {
    mustache::data figure;
    figure.set("caption", figure_caption(content.figures[i]));
    figure.set("svg", inlined(content.figures[i].svg, i));
    figures << figure;
  }
  for (const PageSource& source : content.sources) {
    mustache::data one;
    one.set("name", source.name);
    one.set("text", source.text);
    sources << one;
  }
  values.set("figures", figures);
  values.set("has_figures", !content.figures.empty());
  values.set("figures_left_out", content.figures_left_out);
  values.set("has_left_out", !content.figures_left_out.empty());
  values.set("sources", sources);
  values.set("has_hands", !content.hands.empty());
  if (!content.hands.empty()) {
    io::JsonWriter json;
    json.text(content.hands);
    values.set("hands", safe_in_script(json.take()));
  }
  values.set("looks_again", !content.looks_again_at.empty());
  values.set("state_image", content.looks_again_at);
  const PageState state = state_of(content, data);
  values.set("state", fmt::format("{}x{}", state.width, state.height));
  return values;
}

} // namespace

PageState state_of(const PageContent& content, std::string_view data) {
  // FNV-1a: no defence against anyone, only a number that changes with the page.
  std::uint64_t hash = 14695981039346656037u;
  const auto add = [&](std::string_view text) {
    for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211u;
  };
  add(data);
  for (const PageSource& source : content.sources) add(source.text);
  constexpr std::uint64_t sides = 8000;
  return {static_cast<int>(1 + hash % sides), static_cast<int>(1 + hash / sides % sides)};
}

std::string state_image(PageState state) {
  return fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{}\" height=\"{}\"><desc>Drawn by "
                     "Stasis</desc></svg>\n",
                     state.width, state.height);
}

std::string page_html(const PageContent& content, const std::string& data, PagePart part) {
  mustache::mustache page{std::string(part("page.mustache"))};
  return page.render(page_values(content, part, data));
}

} // namespace stasis::report
