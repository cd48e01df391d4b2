#include "core/feel/feel_curves.hpp"

#include <algorithm>
#include <cmath>

#include "core/curve/curve.hpp"
#include "core/feel/feel_numbers.hpp"
#include "core/feel/section_reader.hpp"
#include "core/overloaded.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

using Handle = std::array<double, 2>;

/// The inner points of the Bezier curve that leaves and arrives with the slopes of a curve; a slope beyond the steepest
/// is taken for that.
std::vector<Handle> near_bezier(const Curve& curve) {
  constexpr double third = 1.0 / 3.0, steepest = 6.0;
  const auto slope_at = [&](double time, Side side) {
    const double slope = evaluate(curve, time, side).slope;
    return std::isnan(slope) ? 1.0 : std::clamp(slope, -steepest, steepest);
  };
  return {{third, third * slope_at(0.0, Side::at)}, {1.0 - third, 1.0 - third * slope_at(1.0, Side::before)}};
}

void put_handles(FeelCurve& one) {
  const auto put = [&](CurveHandles kind, bool is_exact, std::vector<Handle> handle) {
    one.handles = kind;
    one.is_exact = is_exact;
    one.handle = std::move(handle);
  };
  std::visit(Overloaded{
                 [&](const StraightLine&) {
                   put(CurveHandles::bezier, true, {{0.25, 0.25}, {0.75, 0.75}});
                 },
                 [&](const CubicBezier& curve) {
                   put(CurveHandles::bezier, true, {{curve.x1, curve.y1}, {curve.x2, curve.y2}});
                 },
                 [&](const LinearStops& curve) {
                   std::vector<Handle> stops;
                   for (const LinearStop& stop : curve.stops) stops.push_back({stop.input, stop.output});
                   put(CurveHandles::stops, true, std::move(stops));
                 },
                 [&](const Steps&) { put(CurveHandles::none, false, {}); },
                 [&](const EaseShape&) { put(CurveHandles::bezier, false, near_bezier(one.curve)); },
                 [&](const PointsCurve& curve) {
                   std::vector<Handle> points;
                   for (const CurveKnot& knot : curve.knots) points.push_back({knot.time, knot.value});
                   put(CurveHandles::points, true, std::move(points));
                 },
             },
             one.curve);
}

} // namespace

std::string_view name_of(CurveHandles handles) noexcept {
  switch (handles) {
  case CurveHandles::none: return "none";
  case CurveHandles::bezier: return "bezier";
  case CurveHandles::stops: return "stops";
  case CurveHandles::points: return "points";
  }
  return "";
}

std::vector<FeelCurve> feel_curves(const Node& document, const Feel& feel) {
  std::vector<FeelCurve> all;
  const auto is_name = [&](const std::string& text) {
    return std::any_of(feel.curves.begin(), feel.curves.end(),
                       [&](const NamedCurve& named) { return named.name == trimmed(text); });
  };
  for (const CurveText& written : curve_texts(document)) {
    auto curve = is_name(written.text) ? tl::unexpected(std::string()) : parse_curve(written.text);
    if (curve) all.push_back({written.path, written.text, std::move(*curve)});
  }
  for (const NamedCurve& named : feel.curves)
    if (std::holds_alternative<PointsCurve>(named.curve)) {
      const std::string path = joined_path("curve." + named.name, "points");
      if (node_at(document, path) != nullptr) all.push_back({path, "", named.curve});
    }
  for (FeelCurve& one : all) put_handles(one);
  return all;
}

} // namespace stasis
