// What of two measures can be had together: the pairs of which neither can be better without the other being worse.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <vector>

#include "core/search/solve.hpp"

namespace stasis {

/// One of the best pairs.
struct TradePoint {
  std::vector<double> numbers;      ///< by free value
  double first = 0.0, second = 0.0; ///< the worst of each measure over takes, clocks and variants
};

struct Tradeoff {
  std::vector<TradePoint> front;     ///< from the best first measure to the best second one
  std::optional<TradePoint> present; ///< what the feel has now; nothing where a measure does not happen
  int tries = 0;
};

/// \param solver whose trials measure two things. \param larger by measure: more of it is better. Nothing is in the
/// front where no point meets every want.
Tradeoff trade_off(Solver& solver, const std::array<bool, 2>& larger, int most_tries, std::uint64_t seed);

/// The points of which none is as good in both and better in one, in the order of the first measure from its best on.
std::vector<TradePoint> best_pairs(std::vector<TradePoint> points, const std::array<bool, 2>& larger);

} // namespace stasis
