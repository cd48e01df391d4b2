#include "core/recorded/curve_families.hpp"

#include <array>
#include <cmath>
#include <set>
#include <utility>
#include <variant>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

using Numbers = std::span<const double>;

CurveFamily shapes_like(const EaseShape& shape) {
  const ShapeWord& word = word_of(shape.kind);
  return {{shape.amount},
          [](Numbers unknowns) { return std::vector<double>(unknowns.begin(), unknowns.end()); },
          [shape, &word](Numbers numbers) -> std::optional<Curve> {
            if (!(numbers[0] >= word.low && numbers[0] <= word.high)) return std::nullopt;
            return EaseShape{shape.kind, shape.direction, numbers[0]};
          },
          [shape, &word](Numbers numbers) {
            return fmt::format("{} {} {}", word_of(shape.direction), word.word, shortest(numbers[0]));
          }};
}

/// Shares of the time lie in 0..1, whatever is unknown of them: half a wave leads from one end to the other.
double share_of(double unknown) { return 0.5 - 0.5 * std::cos(unknown); }
double unknown_of(double share) { return std::acos(1.0 - 2.0 * share); }

CurveFamily beziers_from(const CubicBezier& start) {
  return {{unknown_of(start.x1), start.y1, unknown_of(start.x2), start.y2},
          [](Numbers unknowns) {
            return std::vector<double>{share_of(unknowns[0]), unknowns[1], share_of(unknowns[2]), unknowns[3]};
          },
          [](Numbers numbers) -> std::optional<Curve> {
            constexpr double far = 10.0;
            if (!(std::fabs(numbers[1]) < far && std::fabs(numbers[3]) < far)) return std::nullopt;
            return CubicBezier{numbers[0], numbers[1], numbers[2], numbers[3]};
          },
          [](Numbers numbers) {
            return fmt::format("cubic-bezier({}, {}, {}, {})", shortest(numbers[0]), shortest(numbers[1]),
                               shortest(numbers[2]), shortest(numbers[3]));
          }};
}

} // namespace

std::vector<CurveFamily> families_near(const std::vector<const StepRule*>& rules) {
  std::vector<CurveFamily> families;
  std::set<std::pair<ShapeKind, Direction>> known;
  for (const StepRule* rule : rules) {
    const auto* shape = std::get_if<EaseShape>(&rule->curve());
    if (shape == nullptr || word_of(shape->kind).amount_meaning.empty()) continue;
    if (known.insert({shape->kind, shape->direction}).second) families.push_back(shapes_like(*shape));
  }
  constexpr std::array<CubicBezier, 4> starts{CubicBezier{0.3, 0.0, 0.7, 1.0}, CubicBezier{0.2, 0.5, 0.3, 1.0},
                                              CubicBezier{0.7, 0.0, 0.8, 0.5}, CubicBezier{0.3, 1.2, 0.6, 1.0}};
  for (const CubicBezier& start : starts) families.push_back(beziers_from(start));
  return families;
}

} // namespace stasis
