// An easing curve as a value: progress over the share of the time, from the text by which a feel names it.
#pragma once

#include <string>
#include <string_view>
#include <variant>

#include <tl/expected.hpp>

#include "core/curve/cubic_bezier.hpp"

namespace stasis {

struct StraightLine {};

using Curve = std::variant<StraightLine, CubicBezier>;

/// The curve at `time` (clamped to 0..1).
CurvePoint evaluate(const Curve& curve, double time) noexcept;

/// Reads `linear`, `ease`, `ease-in`, `ease-out`, `ease-in-out` or `cubic-bezier(x1, y1, x2, y2)`; letter case and
/// blanks as the CSS standard allows. The error says what is wrong, in words, for the end of a sentence.
tl::expected<Curve, std::string> parse_curve(std::string_view text);

} // namespace stasis
