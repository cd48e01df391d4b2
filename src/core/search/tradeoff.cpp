#include "core/search/tradeoff.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {
namespace {

/// The worst of both measures over all rows; nothing where one does not happen that happens now.
std::optional<TradePoint> pair_of(const Solver& solver, const SolvePoint& point, const std::array<bool, 2>& larger) {
  const auto& now = solver.pool().front().outcome.rows;
  std::array<std::optional<double>, 2> worst;
  for (std::size_t r = 0; r < point.outcome.rows.size(); ++r)
    for (std::size_t m = 0; m < 2; ++m) {
      const auto& value = point.outcome.rows[r].measures[m];
      const bool happens_now = r < now.size() && now[r].measures[m].has_value();
      if (!value && happens_now) return std::nullopt;
      if (!value) continue;
      if (!worst[m] || (larger[m] ? *value < *worst[m] : *value > *worst[m])) worst[m] = *value;
    }
  if (!worst[0] || !worst[1]) return std::nullopt;
  return TradePoint{solver.numbers_at(point.shares), *worst[0], *worst[1]};
}

} // namespace

std::vector<TradePoint> best_pairs(std::vector<TradePoint> points, const std::array<bool, 2>& larger) {
  const auto cost = [&](const TradePoint& one) {
    return std::pair(larger[0] ? -one.first : one.first, larger[1] ? -one.second : one.second);
  };
  std::stable_sort(points.begin(), points.end(),
                   [&](const TradePoint& a, const TradePoint& b) { return cost(a) < cost(b); });
  std::vector<TradePoint> front;
  for (TradePoint& one : points)
    if (front.empty() || cost(one).second < cost(front.back()).second) front.push_back(std::move(one));
  return front;
}

namespace {

std::vector<TradePoint> front_of(const Solver& solver, const std::array<bool, 2>& larger) {
  std::vector<TradePoint> points;
  for (const SolvePoint& point : solver.pool())
    if (point.holds())
      if (auto one = pair_of(solver, point, larger)) points.push_back(std::move(*one));
  return best_pairs(std::move(points), larger);
}

} // namespace

Tradeoff trade_off(Solver& solver, const std::array<bool, 2>& larger, int most_tries, std::uint64_t seed) {
  Tradeoff out;
  if (!solver.meet_wants(most_tries / 2, seed)) {
    out.tries = static_cast<int>(solver.pool().size());
    return out;
  }
  constexpr int steps = 12; // between both ends, the one measure held while the other is searched
  const int each = most_tries / 2 / steps;
  const auto weight = [&](std::size_t m) { return larger[m] ? -1.0 : 1.0; };
  const auto search = [&](double first, double second, std::optional<double> limit) {
    solver.look_for({Preference::Kind::measures, false, {weight(0) * first, weight(1) * second}, limit, larger[0]},
                    each);
  };
  constexpr double hardly = 1e-3; // of equals the other measure decides
  search(1.0, hardly, {});
  search(hardly, 1.0, {});
  const auto ends = front_of(solver, larger);
  if (!ends.empty()) {
    const double from = ends.front().first, to = ends.back().first;
    for (int k = 1; k < steps; ++k) {
      const double share = static_cast<double>(k) / steps;
      search(hardly, 1.0, from > 0.0 && to > 0.0 ? from * std::pow(to / from, share) : from + (to - from) * share);
    }
  }
  out.front = front_of(solver, larger);
  out.present = pair_of(solver, solver.pool().front(), larger);
  out.tries = static_cast<int>(solver.pool().size());
  return out;
}

} // namespace stasis
