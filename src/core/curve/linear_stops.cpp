#include "core/curve/linear_stops.hpp"

#include <algorithm>
#include <limits>

namespace stasis {
namespace {

/// Spreads the stops between two known inputs evenly.
void spread(std::vector<LinearStop>& stops, std::size_t first, std::size_t last) {
  const double from = stops[first].input, to = stops[last].input;
  for (std::size_t i = first + 1; i < last; ++i)
    stops[i].input = from + (to - from) * static_cast<double>(i - first) / static_cast<double>(last - first);
}

} // namespace

LinearStops resolve_stops(const std::vector<WrittenStop>& written) {
  LinearStops curve;
  std::vector<bool> known;
  double largest = -std::numeric_limits<double>::infinity();
  const auto add = [&](std::optional<double> input, double output) {
    if (input) largest = std::max(largest, *input);
    curve.stops.push_back({input ? largest : 0.0, output});
    known.push_back(input.has_value());
  };
  for (std::size_t i = 0; i < written.size(); ++i) {
    const WrittenStop& stop = written[i];
    if (stop.input)
      add(stop.input, stop.output);
    else if (i == 0)
      add(0.0, stop.output);
    else if (i + 1 == written.size())
      add(1.0, stop.output);
    else
      add(std::nullopt, stop.output);
    if (stop.second_input) add(stop.second_input, stop.output);
  }
  std::size_t last_known = 0;
  for (std::size_t i = 1; i < known.size(); ++i) {
    if (!known[i]) continue;
    spread(curve.stops, last_known, i);
    last_known = i;
  }
  return curve;
}

CurvePoint evaluate(const LinearStops& curve, double time, Side side) noexcept {
  const auto& stops = curve.stops;
  // The piece that holds `time`: after the last stop at or before it, or, seen from before, after the last stop
  // before it; at both ends the outermost piece goes on.
  const auto beyond = side == Side::at
                          ? std::upper_bound(stops.begin(), stops.end(), time,
                                             [](double t, const LinearStop& stop) { return t < stop.input; })
                          : std::lower_bound(stops.begin(), stops.end(), time,
                                             [](const LinearStop& stop, double t) { return stop.input < t; });
  auto piece = static_cast<std::size_t>(beyond - stops.begin());
  const bool after_all = piece == stops.size();
  piece = std::clamp<std::size_t>(piece, 1, stops.size() - 1);
  const LinearStop &a = stops[piece - 1], &b = stops[piece];
  const double run = b.input - a.input;
  if (run == 0.0) return {b.output, 0.0, 0.0, 0.0};
  const double slope = (b.output - a.output) / run;
  // Exact at the stops themselves.
  if (time == b.input && (after_all || side == Side::before)) return {b.output, slope, 0.0, 0.0};
  return {a.output + (b.output - a.output) * ((time - a.input) / run), slope, 0.0, 0.0};
}

} // namespace stasis
