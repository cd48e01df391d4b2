#include "figure/svg_text.hpp"

#include <array>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::figure {
namespace {

/// From the middle of a line of Inter down to its baseline, a share of its size.
constexpr double baseline_drop = 0.355;
constexpr std::string_view family = "Inter,'Segoe UI','Helvetica Neue',Arial,sans-serif";
constexpr std::size_t longest = 4096; // code points

std::string escaped(std::string_view text) {
  std::string out;
  for (const char c : text) switch (c) {
    case '&': out += "&amp;"; break;
    case '<': out += "&lt;"; break;
    case '>': out += "&gt;"; break;
    default: out += c;
    }
  return out;
}

} // namespace

std::string svg_text(const Text& text) {
  constexpr std::array<std::string_view, 3> anchors{"start", "middle", "end"};
  return fmt::format("<text x=\"{:.2f}\" y=\"{:.2f}\" font-family=\"{}\" font-size=\"{:.2f}\"{} text-anchor=\"{}\" "
                     "fill=\"{}\" xml:space=\"preserve\">{}</text>\n",
                     text.at.x, text.at.y + baseline_drop * text.size, family, text.size,
                     text.bold ? " font-weight=\"700\"" : "", anchors[static_cast<std::size_t>(text.align)],
                     text.colour, escaped(printable(text.text, longest)));
}

} // namespace stasis::figure
