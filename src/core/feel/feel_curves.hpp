// Every curve that stands in a feel, with the points by which a hand may bend it.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/feel/document.hpp"
#include "core/feel/feel.hpp"

namespace stasis {

/// What a curve's handles are, and so how it is written when one of them is moved.
enum class CurveHandles : std::uint8_t {
  none,   ///< it has none: steps
  bezier, ///< the two inner points of a cubic Bezier curve; of another shape those of one that is near it
  stops,  ///< those of linear()
  points, ///< those that a smooth curve goes through
};

std::string_view name_of(CurveHandles handles) noexcept;

struct FeelCurve {
  std::string path; ///< where it is written: "motion.swing.curve", "curve.lean.points"
  std::string text; ///< as it is written; empty of points
  Curve curve;
  CurveHandles handles = CurveHandles::none;
  bool is_exact = false;                       ///< the handles are the curve's own
  std::vector<std::array<double, 2>> handle{}; ///< share of the time, share of the way
};

/// In the order of the text; a name that stands for a curve is not one. \param feel what the document says.
std::vector<FeelCurve> feel_curves(const Node& document, const Feel& feel);

} // namespace stasis
