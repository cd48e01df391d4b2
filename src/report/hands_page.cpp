#include "report/hands_page.hpp"

#include <kainjow/mustache.hpp>

#include "io/json_writer.hpp"
#include "report/script_text.hpp"

namespace stasis::report {
namespace {

std::string data_json(const HandsContent& content) {
  io::JsonWriter json;
  json.begin_object()
      .key("name")
      .text(content.name)
      .key("text")
      .text(content.text)
      .key("saved_in")
      .text(content.saved_in)
      .key("files")
      .begin_object();
  for (const auto& [name, text] : content.files) json.key(name).text(text);
  // The parts that this page shares with the report's read its takes.
  json.end_object().key("runs").begin_array().end_array().end_object();
  return safe_in_script(json.take());
}

/// A module as a part of a script: it has no one to export to.
std::string without_exports(std::string_view module) {
  constexpr std::string_view word = "export ";
  std::string script;
  for (std::size_t at = 0; at < module.size();) {
    if (module.substr(at).starts_with(word)) at += word.size();
    const std::size_t end = std::min(module.find('\n', at), module.size() - 1);
    script += module.substr(at, end + 1 - at);
    at = end + 1;
  }
  return script;
}

} // namespace

std::string saved_script(const HandsContent& content) {
  io::JsonWriter json;
  json.text(content.text);
  return "// Drawn by Stasis\nwindow.stasisSaved?.(" + safe_in_script(json.take()) + ");\n";
}

std::string hands_page_html(const HandsContent& content, PagePart part) {
  kainjow::mustache::mustache page{std::string(part("hands.mustache"))};
  kainjow::mustache::data values;
  values.set("title", content.title.empty() ? "Untitled feel" : content.title);
  values.set("page_style", std::string(part("page.css")));
  values.set("hands_style", std::string(part("hands.css")));
  values.set("regular", std::string(part("regular.base64")));
  values.set("bold", std::string(part("bold.base64")));
  values.set("licences", std::string(part("licences.txt")));
  for (const char* const name : {"read", "scene", "plan", "live", "live_plan", "bindings", "numbers", "curves",
                                 "writing", "blind", "listening", "hands"})
    values.set(name, std::string(part(std::string(name) + ".js")));
  values.set("stasis", without_exports(part("stasis.mjs")));
  values.set("heart", std::string(part("heart.base64")));
  values.set("data", data_json(content));
  values.set("watched", !content.saved_in.empty());
  return page.render(values);
}

} // namespace stasis::report
