// A flight with as many stops as it takes: at rows, since a path that no few stops pass is passed by more of them.
#include <algorithm>
#include <cmath>
#include <utility>

#include "core/recorded/flight_fit.hpp"

namespace stasis {
namespace {

class DenseFlight {
public:
  DenseFlight(const LedRows& rows, const MovingStretch& stretch) : rows_(rows), stretch_(stretch) {}

  FittedLegs run() {
    find_ends();
    legs_ = told(everywhere(times_.size()), times_);
    while (legs_.off > 1.0 && split()) legs_ = told(everywhere(times_.size()), times_);
    if (legs_.off <= 1.0) prune();
    return std::move(legs_);
  }

private:
  static constexpr std::size_t most_rows_told = 1200;

  FittedLegs told(const StopSets& sets, const std::vector<double>& times) {
    const auto stops = static_cast<double>(times.size());
    work_ += stops * stops * static_cast<double>(std::min(rows_of(stretch_), most_rows_told))
             * static_cast<double>(rows_.columns());
    return legs_at(rows_, stretch_, sets, times, most_rows_told);
  }

  StopSets everywhere(std::size_t count) const {
    std::vector<std::size_t> all(count);
    for (std::size_t s = 0; s < count; ++s) all[s] = s;
    return StopSets(rows_.columns(), all);
  }

  /// True if a row is off the place where the stretch rests.
  bool is_off(std::size_t row, const std::vector<double>& level) const {
    constexpr double hardly = 0.5;
    for (std::size_t c = 0; c < rows_.columns(); ++c)
      if (std::fabs(rows_.places[c][row] - level[c]) * rows_.weights[c][row] > hardly) return true;
    return false;
  }

  void find_ends() {
    std::size_t first = stretch_.first, last = stretch_.last;
    if (stretch_.rest_before > 0 && stretch_.from)
      while (first + 2 < last && !is_off(first + 1, *stretch_.from)) ++first;
    if (stretch_.rest_after > 0 && stretch_.to)
      while (first + 2 < last && !is_off(last - 1, *stretch_.to)) --last;
    times_ = {stretch_.flight_begins.value_or(rows_.times[first]), rows_.times[last]};
  }

  /// One stop more in each leg that is off, at its worst row, or beside it where a stop is there already.
  /// \returns false where none can be put in.
  bool split() {
    std::vector<std::pair<double, std::size_t>> worst(times_.size() - 1, {1.0, 0});
    const std::vector<double> off = off_by_row();
    std::size_t leg = 0;
    for (std::size_t k = stretch_.first; k <= stretch_.last; ++k) {
      while (leg + 2 < times_.size() && rows_.times[k] >= times_[leg + 1]) ++leg;
      if (off[k - stretch_.first] > worst[leg].first) worst[leg] = {off[k - stretch_.first], k};
    }
    std::vector<double> more = times_;
    const auto put_in = [&](std::size_t row) {
      const double time = rows_.times[std::clamp(row, stretch_.first, stretch_.last)];
      const bool is_inside = time > times_.front() && time < times_.back();
      if (is_inside && std::find(more.begin(), more.end(), time) == more.end()) more.push_back(time);
    };
    for (const auto& [how_far, row] : worst) {
      if (how_far <= 1.0) continue;
      const std::size_t before = more.size();
      put_in(row);
      if (more.size() > before) continue;
      // Beside it, as near as there is room.
      constexpr std::size_t farthest = 12; // rows
      for (std::size_t d = 1; d <= farthest && more.size() == before; ++d) {
        put_in(row + d);
        put_in(row - std::min(row, d));
      }
    }
    std::sort(more.begin(), more.end());
    const bool any = more.size() > times_.size();
    times_ = std::move(more);
    return any;
  }

  std::vector<double> off_by_row() const {
    std::vector<double> off(rows_of(stretch_), 0.0);
    for (std::size_t c = 0; c < rows_.columns(); ++c) {
      const std::vector<double> path = places_of(legs_, c, rows_.times, stretch_);
      for (std::size_t k = 0; k < off.size(); ++k) {
        const std::size_t row = stretch_.first + k;
        off[k] = std::max(off[k], std::fabs(rows_.weights[c][row] * (rows_.places[c][row] - path[k])));
      }
    }
    return off;
  }

  bool is_tired() const noexcept {
    constexpr double most_work = 1.5e9;
    return work_ > most_work;
  }

  bool take(FittedLegs fewer) {
    if (fewer.off > 1.0) return false;
    legs_ = std::move(fewer);
    return true;
  }

  /// Without the stops that are not needed, then each column without those that it does not need.
  void prune() {
    for (std::size_t s = 1; s < legs_.stops() && !is_tired();) {
      std::vector<double> times = legs_.times;
      times.erase(times.begin() + static_cast<std::ptrdiff_t>(s));
      if (!take(told(everywhere(times.size()), times))) ++s;
    }
    for (std::size_t c = 0; c < rows_.columns(); ++c)
      for (std::size_t s = 1; s < legs_.stops() && !is_tired(); ++s) {
        StopSets sets;
        for (const FittedLegs::Axis& axis : legs_.axes) sets.push_back(axis.stops);
        const bool others = std::any_of(sets.begin(), sets.end(), [&](const auto& set) {
          return &set != &sets[c] && std::binary_search(set.begin(), set.end(), s);
        });
        if (others && std::erase(sets[c], s) > 0) take(told(sets, legs_.times));
      }
  }

  const LedRows& rows_;
  const MovingStretch& stretch_;
  std::vector<double> times_;
  FittedLegs legs_;
  double work_ = 0.0;
};

} // namespace

FittedLegs dense_flight(const LedRows& rows, const MovingStretch& stretch) { return DenseFlight(rows, stretch).run(); }

} // namespace stasis
