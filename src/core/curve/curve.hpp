// An easing curve as a value: progress over the share of the time.
#pragma once

#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include <tl/expected.hpp>

#include "core/curve/cubic_bezier.hpp"
#include "core/curve/ease_shape.hpp"
#include "core/curve/linear_stops.hpp"
#include "core/curve/points_curve.hpp"
#include "core/curve/steps.hpp"

namespace stasis {

struct StraightLine {};

using Curve = std::variant<StraightLine, CubicBezier, LinearStops, Steps, EaseShape, PointsCurve>;

/// The curve at `time` (clamped to 0..1).
CurvePoint evaluate(const Curve& curve, double time, Side side = Side::at) noexcept;

/// The first time after `time` and before 1 at which the value, slope or bend may jump; infinite if there is none.
double next_corner(const Curve& curve, double time) noexcept;
/// The end of a stretch of the curve that begins at `time` (0..1) and in which value, slope and bend each turn at most
/// once; 1 at the latest. Nothing is said of what lies beyond a corner.
double smooth_until(const Curve& curve, double time) noexcept;
/// Times strictly between 0 and 1, ascending, at which the value, slope or bend may jump.
std::vector<double> corners(const Curve& curve);

/// Reads a curve from its text: a CSS easing function (keywords, cubic-bezier(), linear(), steps(); letter case, blanks
/// and comments as that standard allows), or a shape, direction first: `in sine`, `out power 3`, `in-out back 1.7`.
/// The error says what is wrong, in words, for the end of a sentence.
tl::expected<Curve, std::string> parse_curve(std::string_view text);

} // namespace stasis
