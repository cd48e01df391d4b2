#include "report/script_text.hpp"

#include <fmt/format.h>

namespace stasis::report {

std::string safe_in_script(std::string_view json) {
  std::string safe;
  safe.reserve(json.size());
  for (std::size_t i = 0; i < json.size(); ++i) {
    const char c = json[i];
    if (c == '<' || c == '>' || c == '&')
      safe += fmt::format("\\u{:04x}", static_cast<unsigned>(c));
    else if (json.substr(i, 3) == "\u2028" || json.substr(i, 3) == "\u2029")
      safe += json[i + 2] == '\xa8' ? "\\u2028" : "\\u2029", i += 2;
    else
      safe += c;
  }
  return safe;
}

} // namespace stasis::report
