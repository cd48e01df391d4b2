#include "core/curve/curve.hpp"

#include <algorithm>
#include <array>
#include <cctype>
#include <optional>
#include <vector>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

struct Keyword {
  std::string_view name;
  Curve curve;
};

// CSS Easing Functions Level 1, section 2.2.1.
const std::array<Keyword, 5>& keywords() {
  static const std::array<Keyword, 5> all{{{"linear", StraightLine{}},
                                           {"ease", CubicBezier{0.25, 0.1, 0.25, 1.0}},
                                           {"ease-in", CubicBezier{0.42, 0.0, 1.0, 1.0}},
                                           {"ease-out", CubicBezier{0.0, 0.0, 0.58, 1.0}},
                                           {"ease-in-out", CubicBezier{0.42, 0.0, 0.58, 1.0}}}};
  return all;
}

constexpr std::string_view bezier_opening = "cubic-bezier(";

std::string lower_case(std::string_view text) {
  std::string out(text);
  std::transform(out.begin(), out.end(), out.begin(),
                 [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
  return out;
}

tl::expected<Curve, std::string> parse_bezier(std::string_view arguments) {
  std::vector<double> numbers;
  const auto parts = split(arguments, ',');
  for (std::string_view part : parts) {
    const auto number = read_number(part);
    if (!number) return tl::unexpected(fmt::format("\"{}\" is not a number", printable(trimmed(part), 40)));
    numbers.push_back(*number);
  }
  if (numbers.size() != 4 || arguments.ends_with(','))
    return tl::unexpected(fmt::format("cubic-bezier() takes 4 numbers, found {}", numbers.size()));
  if (numbers[0] < 0 || numbers[0] > 1 || numbers[2] < 0 || numbers[2] > 1)
    return tl::unexpected(
        std::string("the first and third number of cubic-bezier() are shares of the time and must lie in 0..1"));
  return CubicBezier{numbers[0], numbers[1], numbers[2], numbers[3]};
}

std::string unknown_curve(const std::string& name) {
  std::vector<std::string_view> names{"cubic-bezier(x1, y1, x2, y2)"};
  for (const Keyword& keyword : keywords()) names.push_back(keyword.name);
  const auto close = nearest(name, names);
  return fmt::format("there is no curve of that name{}; known are {}",
                     close ? fmt::format(" (nearest: {})", *close) : "", listed(names));
}

} // namespace

CurvePoint evaluate(const Curve& curve, double time) noexcept {
  if (const auto* bezier = std::get_if<CubicBezier>(&curve)) return evaluate(*bezier, time);
  return {std::clamp(time, 0.0, 1.0), 1.0, 0.0, 0.0};
}

tl::expected<Curve, std::string> parse_curve(std::string_view text) {
  const std::string name = lower_case(trimmed(text));
  for (const Keyword& keyword : keywords())
    if (name == keyword.name) return keyword.curve;
  if (!name.starts_with(bezier_opening)) return tl::unexpected(unknown_curve(name));
  if (!name.ends_with(')')) {
    const bool closed = name.find(')') != std::string::npos;
    return tl::unexpected(
        std::string(closed ? "something follows the closing bracket" : "the closing bracket is missing"));
  }
  const std::string_view inner(name);
  return parse_bezier(inner.substr(bezier_opening.size(), inner.size() - bezier_opening.size() - 1));
}

} // namespace stasis
