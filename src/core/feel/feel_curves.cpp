#include "core/feel/feel_curves.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/curve/curve.hpp"
#include "core/feel/feel_numbers.hpp"
#include "core/feel/section_reader.hpp"
#include "core/overloaded.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

using Handle = std::array<double, 2>;

/// The inner points of the Bezier curve that leaves and arrives with the slopes of a curve and is nearest to it at some
/// places, of all that reach so many thirtieths of the time; a slope beyond the steepest is taken for that.
std::vector<Handle> near_bezier(const Curve& curve) {
  constexpr double steepest = 6.0, highest = 3.0;
  constexpr int reaches = 30, places = 10;
  const auto slope_at = [&](double time, Side side) {
    const double slope = evaluate(curve, time, side).slope;
    return std::isnan(slope) ? 1.0 : std::clamp(slope, -steepest, steepest);
  };
  const double leaves = slope_at(0.0, Side::at), arrives = slope_at(1.0, Side::before);
  std::array<double, places> there{};
  for (int k = 1; k < places; ++k) there[static_cast<std::size_t>(k)] = evaluate(curve, k / double{places}).value;
  double least = std::numeric_limits<double>::infinity();
  CubicBezier nearest{};
  for (int first = 1; first < reaches; ++first)
    for (int second = 1; second < reaches; ++second) {
      const double x1 = first / double{reaches}, x2 = second / double{reaches};
      const CubicBezier one{x1, leaves * x1, x2, 1.0 - arrives * (1.0 - x2)};
      // Where a hand can take hold of them.
      if (!(std::fabs(one.y1) < highest && std::fabs(one.y2) < highest)) continue;
      double squares = 0.0;
      for (int k = 1; k < places && squares < least; ++k) {
        const double off = evaluate(one, k / double{places}).value - there[static_cast<std::size_t>(k)];
        squares += off * off;
      }
      if (squares >= least) continue;
      least = squares;
      nearest = one;
    }
  return {{nearest.x1, nearest.y1}, {nearest.x2, nearest.y2}};
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
