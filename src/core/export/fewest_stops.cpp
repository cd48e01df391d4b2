#include "core/export/fewest_stops.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {
namespace {

/// What rounding may make of a bound that is just met; a share of the largest value.
constexpr double slack_share = 1e-11;

/// A line by its value at the sample where it begins, and its slope.
struct Line {
  double value, slope;
};
/// Corners of a convex set of lines, in order; one or two where it has no area.
using LineSet = std::vector<Line>;

struct Interval {
  double low, high;
};

/// What of a set is on the side of sign * (value + slope * h) <= sign * bound.
// many: a set, where, which bound, on which side, how sharply, and room to work in
void clip(LineSet& set, double h, double bound, double sign, double slack, LineSet& scratch) {
  scratch.clear();
  const auto over = [&](const Line& line) { return sign * (line.value + line.slope * h - bound); };
  for (std::size_t k = 0; k < set.size(); ++k) {
    const Line &here = set[k], &next = set[(k + 1) % set.size()];
    const double a = over(here), b = over(next);
    if (a <= slack) scratch.push_back(here);
    if ((a > slack && b < -slack) || (a < -slack && b > slack)) {
      const double share = a / (a - b);
      scratch.push_back(
          {here.value + share * (next.value - here.value), here.slope + share * (next.slope - here.slope)});
    }
  }
  set.swap(scratch);
}

Interval values_at(const LineSet& set, double h) {
  Interval out{set.front().value + set.front().slope * h, 0.0};
  out.high = out.low;
  for (const Line& line : set) {
    out.low = std::min(out.low, line.value + line.slope * h);
    out.high = std::max(out.high, line.value + line.slope * h);
  }
  return out;
}

/// The values that a number of pieces can reach at one sample, and from where.
struct Reached {
  Interval values;
  std::size_t from_sample, from_interval; ///< among the merged intervals of the round before
};

class Search {
public:
  Search(const std::vector<TubeSample>& tube) : tube_(tube) {
    double largest = 1.0;
    for (const TubeSample& sample : tube) largest = std::max({largest, std::fabs(sample.low), std::fabs(sample.high)});
    slack_ = slack_share * largest;
  }

  std::optional<std::vector<TubeStop>> run(std::size_t most) {
    const std::size_t count = tube_.size(), end = count - 1;
    merged_.assign(1, std::vector<std::vector<Interval>>(count));
    merged_[0][0] = {{tube_[0].low, tube_[0].high}};
    reached_.emplace_back(count);
    expanded_.assign(count, {});
    for (std::size_t round = 1; round <= most; ++round) {
      reached_.emplace_back(count);
      for (std::size_t from = 0; from < end; ++from)
        for (std::size_t k = 0; k < merged_[round - 1][from].size(); ++k) expand(round, from, k);
      merged_.push_back(std::vector<std::vector<Interval>>(count));
      for (std::size_t sample = 1; sample < count; ++sample) merge(round, sample);
      if (!merged_[round][end].empty()) return way_back(round);
    }
    return std::nullopt;
  }

private:
  /// The lines from an interval at a sample, before any other sample has cut them.
  LineSet lines_from(std::size_t from, const Interval& values) const {
    const TubeSample& next = tube_[from + 1];
    const double h = next.time - tube_[from].time;
    return {{values.low, (next.low - values.low) / h},
            {values.low, (next.high - values.low) / h},
            {values.high, (next.high - values.high) / h},
            {values.high, (next.low - values.high) / h}};
  }

  void expand(std::size_t round, std::size_t from, std::size_t interval) {
    const Interval values = merged_[round - 1][from][interval];
    for (const Interval& done : expanded_[from])
      if (done.low <= values.low && values.high <= done.high) return; // fewer pieces have come here
    expanded_[from].push_back(values);
    LineSet set = lines_from(from, values);
    for (std::size_t to = from + 1; to < tube_.size(); ++to) {
      const double h = tube_[to].time - tube_[from].time;
      clip(set, h, tube_[to].high, 1.0, slack_, scratch_);
      if (!set.empty()) clip(set, h, tube_[to].low, -1.0, slack_, scratch_);
      if (set.empty()) return;
      const Interval at = values_at(set, h);
      // Clamped one by one: where the set has no area, rounding must not turn the ends round.
      reached_[round][to].push_back(
          {{std::clamp(at.low, tube_[to].low, tube_[to].high), std::clamp(at.high, tube_[to].low, tube_[to].high)},
           from,
           interval});
    }
  }

  void merge(std::size_t round, std::size_t sample) {
    std::vector<Interval> all;
    for (const Reached& one : reached_[round][sample]) all.push_back(one.values);
    std::sort(all.begin(), all.end(), [](const Interval& a, const Interval& b) { return a.low < b.low; });
    auto& out = merged_[round][sample];
    for (const Interval& one : all)
      if (out.empty() || one.low > out.back().high + slack_)
        out.push_back(one);
      else
        out.back().high = std::max(out.back().high, one.high);
  }

  /// The value at `from` of lines that pass `value` at `to`: the middle of those that can.
  double value_before(const Reached& piece, std::size_t round, std::size_t to, double value) {
    const std::size_t from = piece.from_sample;
    LineSet set = lines_from(from, merged_[round - 1][from][piece.from_interval]);
    for (std::size_t k = from + 1; k <= to; ++k) {
      const double h = tube_[k].time - tube_[from].time;
      const bool is_end = k == to;
      clip(set, h, is_end ? value : tube_[k].high, 1.0, slack_, scratch_);
      if (!set.empty()) clip(set, h, is_end ? value : tube_[k].low, -1.0, slack_, scratch_);
    }
    const Interval range = set.empty() ? merged_[round - 1][from][piece.from_interval] : values_at(set, 0.0);
    return std::clamp(0.5 * (range.low + range.high), tube_[from].low, tube_[from].high);
  }

  std::vector<TubeStop> way_back(std::size_t rounds) {
    const std::size_t end = tube_.size() - 1;
    const Interval last = merged_[rounds][end].front();
    std::vector<TubeStop> stops{{end, 0.5 * (last.low + last.high)}};
    for (std::size_t round = rounds; round > 0; --round) {
      const auto [sample, value] = stops.back();
      const auto& pieces = reached_[round][sample];
      // The piece that holds the value best, which is that with the most room around it.
      const auto room = [value = value](const Reached& r) {
        return std::min(value - r.values.low, r.values.high - value);
      };
      const auto best = std::max_element(pieces.begin(), pieces.end(),
                                         [&](const Reached& a, const Reached& b) { return room(a) < room(b); });
      stops.push_back({best->from_sample, value_before(*best, round, sample, value)});
    }
    std::reverse(stops.begin(), stops.end());
    return stops;
  }

  const std::vector<TubeSample>& tube_;
  double slack_ = 0.0;
  std::vector<std::vector<std::vector<Interval>>> merged_; ///< by round, by sample
  std::vector<std::vector<std::vector<Reached>>> reached_;
  std::vector<std::vector<Interval>> expanded_; ///< by sample: what has been gone on from
  LineSet scratch_;
};

} // namespace

std::optional<std::vector<TubeStop>> fewest_stops(const std::vector<TubeSample>& tube, std::size_t most) {
  return Search(tube).run(most);
}

} // namespace stasis
