// Small text helpers without streams or locale: numbers in and out, trimming, the nearest of some names.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace stasis {

std::string_view trimmed(std::string_view text) noexcept;

/// Whatever the locale says.
inline bool is_digit(char c) noexcept { return c >= '0' && c <= '9'; }

/// What std::from_chars does with a double, of a library that has it only for whole numbers too.
/// \returns one past the number's end, `begin` where there is none; `value` is then as it was.
const char* read_decimal(const char* begin, const char* end, double& value) noexcept;

struct LeadingNumber {
  double value;
  std::string_view rest;
};
/// The finite decimal number that `text` begins with, and what follows it; nothing if there is none.
std::optional<LeadingNumber> read_leading_number(std::string_view text) noexcept;
/// The finite decimal number that is all of `text` (blanks around it allowed).
std::optional<double> read_number(std::string_view text) noexcept;

/// The shortest decimal text that reads back as exactly `value`.
std::string shortest(double value);
/// `value` rounded for people: about `digits` significant digits, no exponent for everyday sizes, "-" as U+2212.
std::string readable(double value, int digits = 3);

/// `value`, positive, rounded down: for what must not be exceeded.
std::string readable_at_most(double value, int digits = 3);

/// As readable(), without zeros at the end of a decimal fraction: "62", "0.55".
std::string concise(double value, int digits = 4);

/// "0.412 ± 0.006": two digits of the half width, and the value to the same place; the value alone where it is 0.
std::string with_half_width(double value, double half_width);

/// "0.55 m", "3" without a unit.
std::string amount_in(double value, std::string_view unit);

/// Splits at `separator`, without trimming; an empty text gives no parts.
std::vector<std::string_view> split(std::string_view text, char separator);

/// A paragraph broken at blanks into lines of at most `width` characters, each after `indent`.
std::string wrapped(const std::string& text, const std::string& indent, std::size_t width = 110);

/// Edits (insert, delete, replace, swap of neighbours) that turn `a` into `b`, in bytes.
int edit_distance(std::string_view a, std::string_view b);
/// The candidate closest to `name`, if it is near enough to be what was meant.
std::optional<std::string_view> nearest(std::string_view name, std::span<const std::string_view> candidates);

/// " Did you mean NEAREST?", or nothing.
std::string did_you_mean(std::string_view name, std::span<const std::string_view> candidates);

/// "Did you mean NEAREST? Known: a, b and c.", or what of that there is to say.
std::string known_names(std::string_view name, std::span<const std::string_view> known);

/// "a, b and c".
std::string listed(std::span<const std::string_view> names, std::string_view last_joint = "and");

/// A text fit for one line of a terminal or figure: blanks of all kinds become spaces, other control characters and
/// marks that turn the direction of writing are shown escaped (\\u202E), broken UTF-8 becomes U+FFFD, and more than
/// `longest` code points are cut with an ellipsis.
std::string printable(std::string_view text, std::size_t longest = 200);
/// The name of a file or of something else that somebody has given, as printable(), but cut in the middle: both its
/// ends tell it apart.
std::string shown_name(std::string_view name, std::size_t longest = 120);
/// Whole lines for a terminal: as printable(), except for line ends and tabs, and nothing is cut. JSON stays the same
/// JSON.
std::string safe_lines(std::string_view text);
/// True if the text is well-formed UTF-8.
bool is_utf8(std::string_view text) noexcept;
/// Code points in a well-formed UTF-8 text.
std::size_t code_points(std::string_view text) noexcept;

} // namespace stasis
