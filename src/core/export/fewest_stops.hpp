// The fewest straight pieces that stay within a tube: for linear() and the like, whose stops need not lie on the curve.
#pragma once

#include <optional>
#include <vector>

namespace stasis {

/// Where a stop may stand: the value at a sample time lies from `low` to `high`. `low` == `high` pins it.
struct TubeSample {
  double time, low, high;
};

struct TubeStop {
  std::size_t sample; ///< index of the sample at whose time it stands
  double value;
};

/// The fewest stops, the first and the last sample among them, such that the straight lines between them are within the
/// tube at every sample. Exact among all choices of stops at sample times: the values that so many pieces can reach at
/// a sample are a list of intervals, and a piece from one of them is a convex set of values and slopes, cut down by
/// each sample that it passes (minimum-link path in a tube, for stops on given times). \param tube ascending in time,
/// two or more, each low <= high. \returns nothing if `most` pieces do not reach the end.
std::optional<std::vector<TubeStop>> fewest_stops(const std::vector<TubeSample>& tube, std::size_t most);

} // namespace stasis
