// The common stock of easing shapes, each in three directions. Formulas: docs/maths.md, "Curves".
#pragma once

#include <optional>
#include <span>
#include <string_view>

#include "core/curve/curve_point.hpp"

namespace stasis {

enum class ShapeKind : std::uint8_t { sine, power, exp, circle, back, elastic, bounce };
/// `in` starts softly, `out` ends softly (the same curve turned round), `in_out` is `in` at half size, then `out`.
enum class Direction : std::uint8_t { in, out, in_out };

struct EaseShape {
  ShapeKind kind = ShapeKind::sine;
  Direction direction = Direction::in;
  double amount = 0.0; ///< what shapes_with_amounts() says; unused by the others
};

/// A kind by its word, and what its number means.
struct ShapeWord {
  std::string_view word;
  ShapeKind kind;
  std::string_view amount_meaning; ///< empty: it takes no number
  double fallback = 0.0, low = 0.0, high = 0.0;
};
std::span<const ShapeWord> shape_words() noexcept;
const ShapeWord& word_of(ShapeKind kind) noexcept;
std::string_view word_of(Direction direction) noexcept;

/// The curve at `time` (clamped to 0..1): exactly 0 at 0 and 1 at 1, with exact derivatives.
CurvePoint evaluate(const EaseShape& shape, double time, Side side = Side::at) noexcept;

} // namespace stasis
