// The fewest stops of a flight that passes recorded rows.
#include <algorithm>
#include <cmath>
#include <utility>

#include "core/recorded/flight_fit.hpp"

namespace stasis {
namespace {

StopSets sets_of(const FittedLegs& legs) {
  StopSets sets;
  for (const FittedLegs::Axis& axis : legs.axes) sets.push_back(axis.stops);
  return sets;
}

/// The fewest stops: put in where most is left, moved by least squares, taken out where they are not needed.
class FlightSearch {
public:
  FlightSearch(const LedRows& rows, const MovingStretch& stretch) : rows_(rows), stretch_(stretch) {
    constexpr std::size_t rows_for_a_stop = 6;
    most_stops_ = std::max<std::size_t>(1, rows_of(stretch) / rows_for_a_stop);
  }

  FittedLegs run() {
    if (rows_.columns() > 1)
      begin_by_columns();
    else
      begin();
    constexpr std::size_t few = 24; // more are not moved about: that takes long and saves little
    if (times_.size() > few) return legs_at(rows_, stretch_, sets_, times_, most_fitted_rows);
    legs_ = rough(sets_, times_);
    merge_near(1.0);
    FittedLegs best = legs_;
    constexpr int patience = 4; // tries that help nothing
    for (int idle = 0; legs_.off > 1.0 && idle < patience && !is_tired();) {
      const double before = legs_.off;
      if (!improve()) break;
      // What was put in is not taken out again at once.
      constexpr double plainly_less = 0.7;
      merge_near(plainly_less * before / legs_.off);
      if (legs_.off < 0.9 * best.off)
        idle = 0;
      else
        ++idle;
      if (legs_.off < best.off) best = legs_;
    }
    if (best.off <= 1.0) {
      legs_ = std::move(best);
      prune();
      take(polished(legs_));
      return std::move(legs_);
    }
    return best;
  }

private:
  FittedLegs rough(const StopSets& sets, const std::vector<double>& times) {
    const auto stops = static_cast<double>(times.size());
    work_ += stops * stops * stops * static_cast<double>(std::min<std::size_t>(rows_of(stretch_), most_fitted_rows))
             * static_cast<double>(rows_.columns());
    constexpr std::size_t few = 8;
    const Descent how = rows_.columns() > 1 || times.size() > few ? Descent::rough : Descent::full;
    return fitted_legs(rows_, stretch_, {sets, std::nullopt}, times, how);
  }
  FittedLegs polished(const FittedLegs& legs) const {
    return fitted_legs(rows_, stretch_, {sets_of(legs), std::nullopt}, legs.times, Descent::full);
  }

  /// Paths that no few stops pass would be searched for minutes: by then what was found is good enough.
  bool is_tired() const noexcept {
    constexpr double most_work = 4e6;
    return work_ > most_work;
  }

  /// One column alone. \param begin s: when it sets off, where that is known.
  FittedLegs alone(std::size_t column, std::optional<double> begin) const {
    const LedRows rows{
        rows_.times, {rows_.places[column]}, {rows_.weights[column]}, {rows_.noise[column]}, rows_.is_rounded};
    MovingStretch stretch = stretch_;
    if (begin) stretch.flight_begins = begin;
    if (stretch.from) stretch.from = std::vector{(*stretch_.from)[column]};
    if (stretch.to) stretch.to = std::vector{(*stretch_.to)[column]};
    return FlightSearch(rows, stretch).run();
  }

  /// From the stops that each column needs by itself. All set off together: when, the column tells that goes furthest.
  void begin_by_columns() {
    std::vector<std::size_t> moving;
    std::size_t furthest = 0;
    for (std::size_t c = 0; c < rows_.columns(); ++c) {
      if (!stands(c)) moving.push_back(c);
      if (way(c) > way(furthest)) furthest = c;
    }
    sets_.assign(rows_.columns(), {0});
    const double spacing =
        (rows_.times[stretch_.last] - rows_.times[stretch_.first]) / static_cast<double>(rows_of(stretch_) - 1);
    constexpr double near = 0.5; // rows
    struct Own {
      double time;
      std::size_t column;
    };
    std::vector<Own> all;
    std::optional<double> begin;
    if (!moving.empty()) begin = alone(furthest, std::nullopt).times.front();
    for (const std::size_t c : moving) {
      FittedLegs own = alone(c, std::nullopt);
      if (std::fabs(own.times.front() - *begin) > near * spacing) own = alone(c, begin);
      for (std::size_t s = 1; s < own.times.size(); ++s) all.push_back({own.times[s], c});
    }
    std::sort(all.begin(), all.end(), [](const Own& a, const Own& b) { return a.time < b.time; });
    times_.push_back(begin.value_or(rows_.times[stretch_.first]));
    for (const Own& own : all) {
      if (own.time - times_.back() > near * spacing) times_.push_back(own.time);
      if (sets_[own.column].back() + 1 < times_.size()) sets_[own.column].push_back(times_.size() - 1);
    }
    if (times_.size() < 2) {
      times_ = {rows_.times[stretch_.first], rows_.times[stretch_.last]};
      sets_.assign(rows_.columns(), {0, 1});
    }
  }

  /// From where single cubics end.
  void begin() {
    const double first = rows_.times[stretch_.first], last = rows_.times[stretch_.last];
    const double spacing = (last - first) / static_cast<double>(rows_of(stretch_) - 1);
    std::vector<std::vector<double>> joints;
    std::vector<double> all;
    for (std::size_t c = 0; c < rows_.columns(); ++c) {
      joints.push_back(cubic_joints(rows_, c, stretch_));
      all.insert(all.end(), joints.back().begin(), joints.back().end());
    }
    std::sort(all.begin(), all.end());
    constexpr double near = 3.5; // rows
    if (stretch_.flight_begins)
      times_.push_back(*stretch_.flight_begins);
    else if (stretch_.rest_before == 0)
      times_.push_back(first);
    for (const double joint : all)
      if (times_.empty() || joint - times_.back() > near * spacing) times_.push_back(joint);
    if (stretch_.rest_after == 0 || times_.size() < 2) {
      while (times_.size() > 1 && last - times_.back() < near * spacing) times_.pop_back();
      times_.push_back(last);
    }
    if (times_.size() > most_stops_ + 1) { // evenly fewer
      std::vector<double> fewer;
      for (std::size_t s = 0; s <= most_stops_; ++s) fewer.push_back(times_[s * (times_.size() - 1) / most_stops_]);
      times_ = std::move(fewer);
    }
    for (std::size_t c = 0; c < rows_.columns(); ++c) sets_.push_back(set_of(joints[c], stands(c)));
  }

  /// How far a column goes, in what it may be off by.
  double way(std::size_t column) const {
    const auto first = rows_.places[column].begin() + static_cast<std::ptrdiff_t>(stretch_.first);
    const auto [low, high] = std::minmax_element(first, first + static_cast<std::ptrdiff_t>(rows_of(stretch_)));
    return (*high - *low) * rows_.weights[column][stretch_.first];
  }

  bool stands(std::size_t column) const { return way(column) <= 1.0; }

  /// The stops nearest to a column's own joints.
  std::vector<std::size_t> set_of(const std::vector<double>& joints, bool stands) const {
    std::vector<std::size_t> set{0};
    if (stands) return set;
    for (const double joint : joints) {
      std::size_t nearest = 0;
      for (std::size_t s = 1; s < times_.size(); ++s)
        if (std::fabs(times_[s] - joint) < std::fabs(times_[nearest] - joint)) nearest = s;
      if (nearest > set.back()) set.push_back(nearest);
    }
    if (set.size() == 1 || stretch_.rest_after == 0) {
      if (set.back() != times_.size() - 1) set.push_back(times_.size() - 1);
    }
    return set;
  }

  /// One stop more, or a column given at a stop that is there.
  bool improve() {
    const Worst worst = worst_of(rows_, stretch_, legs_);
    const std::vector<double>& times = legs_.times;
    const double time = rows_.times[worst.row];
    std::size_t leg = 0;
    while (leg + 2 < times.size() && times[leg + 1] <= time) ++leg;
    std::optional<FittedLegs> shared;
    if (const auto sets = with_nearest(worst, time)) shared = rough(*sets, times);
    if (shared && (shared->off <= 1.0 || shared->off < 0.5 * legs_.off)) {
      legs_ = std::move(*shared);
      return true;
    }
    if (legs_.stops() >= most_stops_) {
      if (!shared || shared->off >= legs_.off) return false;
      legs_ = std::move(*shared);
      return true;
    }
    // Of a single stop, whatever is left of the stretch.
    const double low = times[leg], high = leg + 1 < times.size() ? times[leg + 1] : rows_.times[stretch_.last];
    if (!(high > low)) return false;
    std::vector<double> more = times;
    more.insert(more.begin() + static_cast<std::ptrdiff_t>(leg) + 1,
                std::clamp(time, low + 0.2 * (high - low), high - 0.2 * (high - low)));
    StopSets sets = sets_of(legs_);
    for (std::size_t c = 0; c < sets.size(); ++c) {
      for (std::size_t& stop : sets[c])
        if (stop > leg) ++stop;
      if (worst.by_column[c] <= 1.0) continue;
      sets[c].insert(std::upper_bound(sets[c].begin(), sets[c].end(), leg), leg + 1);
    }
    legs_ = rough(sets, more);
    return true;
  }

  /// The columns that are off are given at the stop nearest to where most is left too.
  std::optional<StopSets> with_nearest(const Worst& worst, double time) const {
    StopSets sets = sets_of(legs_);
    bool changed = false;
    for (std::size_t c = 0; c < sets.size(); ++c) {
      if (worst.by_column[c] <= 1.0) continue;
      std::optional<std::size_t> nearest;
      for (std::size_t s = 1; s < legs_.times.size(); ++s)
        if (!std::binary_search(sets[c].begin(), sets[c].end(), s)
            && (!nearest || std::fabs(legs_.times[s] - time) < std::fabs(legs_.times[*nearest] - time)))
          nearest = s;
      if (!nearest) continue;
      sets[c].insert(std::upper_bound(sets[c].begin(), sets[c].end(), *nearest), *nearest);
      changed = true;
    }
    return changed ? std::optional(sets) : std::nullopt;
  }

  void prune() {
    for (bool again = true; again && legs_.stops() > 1 && !is_tired();) {
      again = false;
      std::vector<std::pair<double, std::size_t>> shortest_first;
      for (std::size_t s = 0; s < legs_.stops(); ++s)
        shortest_first.emplace_back(legs_.times[s + 1] - legs_.times[s], s);
      std::sort(shortest_first.begin(), shortest_first.end());
      for (std::size_t k = 0; k < shortest_first.size() && !again && !is_tired(); ++k)
        again = try_merged(shortest_first[k].second);
    }
    // Whole stops, those between the shortest legs before the others.
    for (bool again = true; again && legs_.stops() > 1 && !is_tired();) {
      again = false;
      std::vector<std::pair<double, std::size_t>> shortest_first;
      for (std::size_t s = 1; s < legs_.stops(); ++s)
        shortest_first.emplace_back(legs_.times[s + 1] - legs_.times[s - 1], s);
      std::sort(shortest_first.begin(), shortest_first.end());
      for (const auto& [length, stop] : shortest_first)
        if (!is_tired() && try_without(stop)) {
          again = true;
          break;
        }
    }
    for (std::size_t c = 0; c < rows_.columns(); ++c)
      for (std::size_t s = 1; s <= legs_.stops(); ++s) try_without(c, s);
  }

  /// Two stops at nearly the same time are tried as one, if that leaves less than a share of what is left.
  void merge_near(double share) {
    const double row =
        (rows_.times[stretch_.last] - rows_.times[stretch_.first]) / static_cast<double>(rows_of(stretch_));
    constexpr double near = 6.0; // rows
    for (std::size_t s = 0; s < legs_.stops() && legs_.stops() > 1 && legs_.off > 1.0;) {
      if (legs_.times[s + 1] - legs_.times[s] > near * row) {
        ++s;
        continue;
      }
      FittedLegs one = merged(s);
      if (one.off <= 1.0 || one.off < share * legs_.off)
        legs_ = std::move(one);
      else
        ++s;
    }
  }

  /// Two stops near each other become one.
  bool try_merged(std::size_t stop) {
    FittedLegs one = merged(stop);
    constexpr double nearly = 30.0; // a search to the last digits may bring it in
    if (one.off > 1.0 && one.off < nearly) one = polished(one);
    return take(std::move(one));
  }

  FittedLegs merged(std::size_t stop) {
    std::vector<double> times = legs_.times;
    times[stop] = 0.5 * (times[stop] + times[stop + 1]);
    times.erase(times.begin() + static_cast<std::ptrdiff_t>(stop) + 1);
    StopSets sets = sets_of(legs_);
    for (auto& set : sets) {
      for (std::size_t& other : set)
        if (other > stop) --other;
      set.erase(std::unique(set.begin(), set.end()), set.end());
    }
    return rough(sets, times);
  }

  bool try_without(std::size_t stop) {
    std::vector<double> times = legs_.times;
    times.erase(times.begin() + static_cast<std::ptrdiff_t>(stop));
    StopSets sets = sets_of(legs_);
    for (auto& set : sets) {
      std::erase(set, stop);
      for (std::size_t& other : set)
        if (other > stop) --other;
    }
    return take(rough(sets, times));
  }

  void try_without(std::size_t column, std::size_t stop) {
    StopSets sets = sets_of(legs_);
    if (std::erase(sets[column], stop) == 0) return;
    const bool still_reached = std::any_of(
        sets.begin(), sets.end(), [&](const auto& set) { return std::binary_search(set.begin(), set.end(), stop); });
    if (still_reached) take(rough(sets, legs_.times));
  }

  bool take(FittedLegs fewer) {
    if (fewer.off > 1.0) return false;
    legs_ = std::move(fewer);
    return true;
  }

  const LedRows& rows_;
  const MovingStretch& stretch_;
  std::size_t most_stops_;
  std::vector<double> times_;
  StopSets sets_;
  FittedLegs legs_;
  double work_ = 0.0;
};

} // namespace

FittedLegs fitted_flight(const LedRows& rows, const MovingStretch& stretch) {
  return FlightSearch(rows, stretch).run();
}

} // namespace stasis
