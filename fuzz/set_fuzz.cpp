// Any bytes as PATH=VALUE, written into a feel: refused with problems and the text as it was, or a text that is TOML
// still and in which no other line has changed.
#include <algorithm>
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>

#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"

namespace {

constexpr std::string_view feel = R"(feel = 1                # a comment
title = "Otter"
[channel.fov]
rest = 62               # deg
range = [30, 95]
motion = { kind = "glide", half_life = 0.2 }
[pose."listen"]
fov = 38
[take.approach]
length = 4
cues = [
  { at = 0.5, press = "listen" },
  { at = 2.0, release = "listen" },
]
)";

std::size_t comments_in(std::string_view text) {
  return static_cast<std::size_t>(std::count(text.begin(), text.end(), '#'));
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  const std::size_t equals = text.find('=');
  if (equals == std::string_view::npos) return 0;
  const std::string_view value = text.substr(equals + 1);
  const auto edit = stasis::io::edit_value(feel, text.substr(0, equals), value);
  if (!edit) return edit.error().empty() ? (std::abort(), 0) : 0;
  if (!stasis::io::read_toml(edit->text, 0)) std::abort();
  if (comments_in(edit->text) < comments_in(feel)) std::abort();
  return 0;
}
