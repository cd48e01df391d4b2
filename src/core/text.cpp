#include "core/text.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <version>

#include <fmt/format.h>

namespace stasis {

std::string_view trimmed(std::string_view text) noexcept {
  constexpr std::string_view blanks = " \t\r\n";
  const auto first = text.find_first_not_of(blanks);
  if (first == std::string_view::npos) return {};
  return text.substr(first, text.find_last_not_of(blanks) - first + 1);
}

#ifdef __cpp_lib_to_chars
const char* read_decimal(const char* begin, const char* end, double& value) noexcept {
  const auto [rest, error] = std::from_chars(begin, end, value);
  return error == std::errc{} ? rest : begin;
}
#else
namespace {

/// One past the decimal number that stands at `begin`, if one does: digits with or without a point, then an exponent
/// if it is whole.
const char* end_of_decimal(const char* begin, const char* end) noexcept {
  const auto past_digits = [end](const char* at) {
    while (at != end && is_digit(*at)) ++at;
    return at;
  };
  const char* const first = begin != end && *begin == '-' ? begin + 1 : begin;
  const char* at = past_digits(first);
  std::ptrdiff_t digits = at - first;
  if (at != end && *at == '.') {
    const char* const after = past_digits(at + 1);
    digits += after - at - 1;
    at = after;
  }
  if (digits == 0) return begin;
  if (at == end || (*at != 'e' && *at != 'E')) return at;
  const char* exponent = at + 1;
  if (exponent != end && (*exponent == '+' || *exponent == '-')) ++exponent;
  const char* const after = past_digits(exponent);
  return after == exponent ? at : after;
}

} // namespace

/// strtod rounds as exactly where its locale is the plain one, and is given a text that ends with the number.
const char* read_decimal(const char* begin, const char* end, double& value) noexcept {
  const char* const rest = end_of_decimal(begin, end);
  if (rest == begin) return begin;
  const double read = std::strtod(std::string(begin, rest).c_str(), nullptr);
  if (!std::isfinite(read)) return begin;
  value = read;
  return rest;
}
#endif

std::optional<LeadingNumber> read_leading_number(std::string_view text) noexcept {
  const std::string_view unsigned_part = !text.empty() && text.front() == '+' ? text.substr(1) : text;
  if (unsigned_part.size() != text.size() && !unsigned_part.empty() && unsigned_part.front() == '-')
    return std::nullopt;
  double value = 0;
  const char* end = unsigned_part.data() + unsigned_part.size();
  const char* const rest = read_decimal(unsigned_part.data(), end, value);
  if (rest == unsigned_part.data() || !std::isfinite(value)) return std::nullopt;
  return LeadingNumber{value, {rest, static_cast<std::size_t>(end - rest)}};
}

std::optional<double> read_number(std::string_view text) noexcept {
  const auto read = read_leading_number(trimmed(text));
  if (!read || !read->rest.empty()) return std::nullopt;
  return read->value;
}

std::string shortest(double value) { return fmt::format("{}", value); }

std::string readable(double value, int digits) {
  if (!std::isfinite(value)) return "none";
  if (value == 0) return "0";
  const double size = std::fabs(value);
  std::string text;
  if (size >= 1e7 || size < 1e-4) {
    text = fmt::format("{:.{}g}", value, digits);
  } else {
    const int whole = static_cast<int>(std::floor(std::log10(size))) + 1;
    text = fmt::format("{:.{}f}", value, std::max(0, digits - whole));
  }
  if (text.front() == '-') text.replace(0, 1, "\u2212");
  return text;
}

std::string readable_at_most(double value, int digits) {
  const double unit = std::pow(10.0, std::floor(std::log10(value)) - digits + 1);
  return readable(unit * std::floor(value / unit * (1.0 + 1e-15)), digits);
}

std::string concise(double value, int digits) {
  std::string text = readable(value, digits);
  if (text.find('.') == std::string::npos || text.find('e') != std::string::npos) return text;
  text.erase(text.find_last_not_of('0') + 1);
  if (text.ends_with('.')) text.pop_back();
  return text;
}

std::string with_half_width(double value, double half_width) {
  constexpr double unseen = 5e-10; // nine places show none of it
  if (!(half_width > unseen) || !std::isfinite(half_width)) return readable(value);
  const int places = std::clamp(1 - static_cast<int>(std::floor(std::log10(half_width))), 0, 9);
  std::string text = fmt::format("{:.{}f} \u00b1 {:.{}f}", value, places, half_width, places);
  if (text.front() == '-') text.replace(0, 1, "\u2212");
  return text;
}

std::string amount_in(double value, std::string_view unit) {
  return concise(value) + (unit.empty() ? "" : " " + printable(unit, 16));
}

std::vector<std::string_view> split(std::string_view text, char separator) {
  std::vector<std::string_view> parts;
  while (!text.empty()) {
    const auto at = text.find(separator);
    parts.push_back(text.substr(0, at));
    if (at == std::string_view::npos) break;
    text.remove_prefix(at + 1);
  }
  return parts;
}

std::string wrapped(const std::string& text, const std::string& indent, std::size_t width) {
  std::string out, line = indent;
  for (const std::string_view word : split(text, ' ')) {
    if (line.size() > indent.size() && code_points(line) + 1 + code_points(word) > width) {
      out += line + "\n";
      line = indent;
    }
    line += (line.size() > indent.size() ? " " : "") + std::string(word);
  }
  return out + line + "\n";
}

int edit_distance(std::string_view a, std::string_view b) {
  // Three rows of the usual table: the row before last is needed for swaps.
  std::vector<int> before_last(b.size() + 1), last(b.size() + 1), row(b.size() + 1);
  for (std::size_t j = 0; j <= b.size(); ++j) last[j] = static_cast<int>(j);
  for (std::size_t i = 1; i <= a.size(); ++i) {
    row[0] = static_cast<int>(i);
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const int replace = last[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1);
      row[j] = std::min({last[j] + 1, row[j - 1] + 1, replace});
      if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
        row[j] = std::min(row[j], before_last[j - 2] + 1);
    }
    before_last.swap(last);
    last.swap(row);
  }
  return last[b.size()];
}

namespace {

/// Of the letters a to z only.
std::string in_small_letters(std::string_view text) {
  std::string small(text);
  for (char& c : small)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return small;
}

} // namespace

std::optional<std::string_view> nearest(std::string_view name, std::span<const std::string_view> candidates) {
  constexpr std::size_t longest_compared = 64;
  if (name.size() > longest_compared) return std::nullopt;
  std::optional<std::string_view> best;
  int best_distance = std::max(2, static_cast<int>(name.size()) / 3) + 1;
  for (std::string_view candidate : candidates) {
    int distance = edit_distance(in_small_letters(name), in_small_letters(candidate));
    const bool part_of_it = name.size() >= 3 && candidate.find(name) != std::string_view::npos;
    if (part_of_it) distance = std::min(distance, 2);
    if (distance < best_distance && distance < static_cast<int>(std::max(name.size(), candidate.size()))) {
      best = candidate;
      best_distance = distance;
    }
  }
  return best;
}

std::string did_you_mean(std::string_view name, std::span<const std::string_view> candidates) {
  const auto close = nearest(name, candidates);
  return close ? fmt::format(" Did you mean {}?", *close) : std::string();
}

std::string known_names(std::string_view name, std::span<const std::string_view> known) {
  if (known.empty()) return {};
  const auto close = nearest(name, known);
  return fmt::format("{}Known: {}.", close ? fmt::format("Did you mean {}? ", *close) : std::string(), listed(known));
}

std::string listed(std::span<const std::string_view> names, std::string_view last_joint) {
  std::string text;
  for (std::size_t i = 0; i < names.size(); ++i) {
    if (i > 0) text += i + 1 == names.size() ? fmt::format(" {} ", last_joint) : ", ";
    text += names[i];
  }
  return text;
}

namespace {

/// Length of the well-formed UTF-8 sequence at the start of `text`, or 0.
std::size_t sequence_length(std::string_view text) noexcept {
  const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
  const unsigned char lead = byte(0);
  if (lead < 0x80) return 1;
  const std::size_t length = lead >= 0xF0 && lead <= 0xF4 ? 4 : lead >= 0xE0 ? 3 : lead >= 0xC2 ? 2 : 0;
  if (length == 0 || lead > 0xF4 || text.size() < length) return 0;
  for (std::size_t i = 1; i < length; ++i)
    if ((byte(i) & 0xC0) != 0x80) return 0;
  const unsigned char second = byte(1);
  const bool overlong = (lead == 0xE0 && second < 0xA0) || (lead == 0xF0 && second < 0x90);
  const bool out_of_range = (lead == 0xED && second > 0x9F) || (lead == 0xF4 && second > 0x8F);
  return overlong || out_of_range ? 0 : length;
}

/// The code point of a well-formed sequence.
char32_t code_point(std::string_view sequence) noexcept {
  const auto lead = static_cast<unsigned char>(sequence[0]);
  if (sequence.size() == 1) return lead;
  char32_t point = lead & (0xFFu >> (sequence.size() + 1));
  for (const char c : sequence.substr(1)) point = (point << 6) | (static_cast<unsigned char>(c) & 0x3Fu);
  return point;
}

/// True of what would steer a terminal, turn the direction of writing, hide, or be no character at all.
bool is_hidden(char32_t point) noexcept {
  const bool is_control = point < 0x20 || (point >= 0x7F && point < 0xA0);
  const bool turns = point == 0x61C || point == 0x200E || point == 0x200F || (point >= 0x202A && point <= 0x202E)
                     || (point >= 0x2066 && point <= 0x2069);
  const bool breaks_or_hides =
      point == 0x2028 || point == 0x2029 || point == 0x200B || point == 0x2060 || point == 0xFEFF;
  return is_control || turns || breaks_or_hides || point == 0xFFFE || point == 0xFFFF;
}

bool is_blank(char32_t point) noexcept { return point == '\t' || point == '\n' || point == '\r'; }

/// Adds the sequence that `text` begins with, made safe, and takes it off.
void add_safe(std::string& out, std::string_view& text, bool keeps_lines) {
  const std::size_t length = sequence_length(text);
  if (length == 0) {
    out += "\uFFFD";
    text.remove_prefix(1);
    return;
  }
  const char32_t point = code_point(text.substr(0, length));
  if (is_blank(point) && !(keeps_lines && point != '\r'))
    out += ' ';
  else if (!is_blank(point) && is_hidden(point))
    out += fmt::format("\\u{:04X}", static_cast<std::uint32_t>(point));
  else
    out += text.substr(0, length);
  text.remove_prefix(length);
}

} // namespace

std::string printable(std::string_view text, std::size_t longest) {
  std::string out;
  for (std::size_t points = 0; !text.empty(); ++points) {
    if (points == longest) return out + "\u2026";
    add_safe(out, text, false);
  }
  return out;
}

std::string shown_name(std::string_view name, std::size_t longest) {
  const std::string whole = printable(name, name.size());
  const std::size_t points = code_points(whole);
  if (points <= longest) return whole;
  const std::size_t head = longest / 2, tail = longest - head - 1;
  const auto place_of = [&](std::size_t nth) { // in bytes
    std::size_t at = 0;
    for (; nth > 0; --nth) at += sequence_length(std::string_view(whole).substr(at));
    return at;
  };
  return whole.substr(0, place_of(head)) + "\u2026" + whole.substr(place_of(points - tail));
}

std::string safe_lines(std::string_view text) {
  std::string out;
  out.reserve(text.size());
  while (!text.empty()) {
    const auto plain = std::find_if(text.begin(), text.end(), [](char c) {
      return (static_cast<unsigned char>(c) < 0x20 && c != '\n') || static_cast<unsigned char>(c) >= 0x7F;
    });
    const auto count = static_cast<std::size_t>(plain - text.begin());
    out += text.substr(0, count);
    text.remove_prefix(count);
    if (!text.empty()) add_safe(out, text, true);
  }
  return out;
}

bool is_utf8(std::string_view text) noexcept {
  while (!text.empty()) {
    const std::size_t length = sequence_length(text);
    if (length == 0) return false;
    text.remove_prefix(length);
  }
  return true;
}

std::size_t code_points(std::string_view text) noexcept {
  return static_cast<std::size_t>(
      std::count_if(text.begin(), text.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }));
}

} // namespace stasis
