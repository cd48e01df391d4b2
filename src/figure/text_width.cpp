#include "figure/text_width.hpp"

#include <algorithm>
#include <array>
#include <cstdint>

namespace stasis::figure {
namespace {

// Advance widths of U+0020 to U+007E, thousandths of the size, read from the font files of fonts-inter 4.0.
constexpr std::array<std::uint16_t, 95> regular{
    281, 278, 403, 631, 638, 812, 639, 222, 362, 362, 500, 659, 280, 460, 276, 357, 625, 464, 605,
    636, 642, 608, 624, 571, 616, 624, 276, 280, 659, 659, 659, 507, 936, 676, 651, 727, 719, 598,
    587, 743, 740, 264, 543, 652, 562, 889, 753, 761, 635, 761, 639, 638, 642, 741, 676, 949, 642,
    665, 625, 362, 357, 362, 469, 452, 497, 564, 621, 558, 621, 582, 361, 609, 591, 237, 237, 544,
    237, 869, 585, 597, 609, 609, 372, 523, 364, 581, 557, 812, 540, 557, 541, 362, 327, 362, 659};
constexpr std::array<std::uint16_t, 95> heavy{
    232, 325, 392, 650, 655, 859, 674, 209, 409, 409, 565, 680, 303, 469,  298, 390, 688, 489,  630,
    659, 678, 645, 660, 595, 661, 660, 298, 303, 680, 680, 680, 562, 1031, 748, 661, 752, 727,  613,
    585, 761, 746, 281, 570, 690, 567, 915, 735, 782, 648, 783, 656, 655,  668, 729, 748, 1036, 714,
    724, 667, 409, 390, 409, 488, 477, 497, 580, 635, 587, 635, 598, 386,  633, 624, 272, 272,  582,
    272, 912, 622, 614, 632, 632, 409, 562, 388, 622, 586, 850, 574, 586,  572, 409, 374, 409,  680};
constexpr double other_width = 1000; // thousandths; wide enough for any script

std::size_t sequence_size(char lead) noexcept {
  const auto byte = static_cast<unsigned char>(lead);
  return byte >= 0xF0 ? 4 : byte >= 0xE0 ? 3 : byte >= 0xC0 ? 2 : 1;
}

double advance_width(std::string_view sequence, bool bold) noexcept {
  const auto code = static_cast<unsigned char>(sequence[0]);
  if (sequence.size() == 1) return code >= 0x20 && code < 0x7F ? (bold ? heavy : regular)[code - 0x20] : 0.0;
  if (sequence == "\u2212") return bold ? 680 : 659;
  if (sequence == "\u2026") return 821;
  return other_width;
}

} // namespace

double text_width(std::string_view text, double size, bool bold) noexcept {
  double thousandths = 0.0;
  for (std::size_t i = 0; i < text.size();) {
    const std::size_t length = std::min(sequence_size(text[i]), text.size() - i);
    thousandths += advance_width(text.substr(i, length), bold);
    i += length;
  }
  return thousandths * size / 1000.0;
}

std::string fitted(std::string_view text, double width, double size, bool bold) {
  if (text_width(text, size, bold) <= width) return std::string(text);
  std::string kept;
  for (std::size_t i = 0; i < text.size();) {
    const std::size_t length = std::min(sequence_size(text[i]), text.size() - i);
    const std::string longer = kept + std::string(text.substr(i, length));
    if (text_width(longer + "\u2026", size, bold) > width) break;
    kept = longer;
    i += length;
  }
  return kept + "\u2026";
}

void measure_box(Text& text) {
  const double width = text_width(text.text, text.size, text.bold);
  const double left = text.align == Align::left    ? text.at.x
                      : text.align == Align::right ? text.at.x - width
                                                   : text.at.x - width / 2;
  // Ascenders and descenders of Inter lie within 0.62 of the size above and below the middle.
  text.box = {left, text.at.y - 0.62 * text.size, left + width, text.at.y + 0.62 * text.size};
}

} // namespace stasis::figure
