#include "core/recorded/stretch_legs.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <optional>
#include <utility>

#include "core/match/step_rules.hpp"
#include "core/recorded/curve_families.hpp"

namespace stasis {
namespace {

class LegFinder {
public:
  explicit LegFinder(const LedRows& rows) : rows_(rows) {}

  Legs legs_of(const MovingStretch& stretch, StopEffort effort) const {
    Legs found = fewest_legs(stretch);
    if (effort == StopEffort::few || is_within(found)) return found;
    // As many stops as it takes.
    Legs dense{{dense_flight(rows_, stretch), ""}};
    return is_within(dense) ? dense : found;
  }

private:
  Legs fewest_legs(const MovingStretch& stretch) const {
    if (auto one = one_leg(stretch)) return {std::move(*one)};
    if (stretch.begins_moving || stretch.ends_moving) return {{fitted_flight(rows_, stretch), ""}};
    Legs split = by_halts(stretch);
    if (!split.empty() && is_within(split) && stops_of(split) <= 2) return split;
    NamedLegs flight{fitted_flight(rows_, stretch), ""};
    if (split.empty() || (flight.legs.off <= 1.0 && !is_within(split))) return {std::move(flight)};
    const bool fewer = is_within(split) && (flight.legs.off > 1.0 || stops_of(split) < flight.legs.stops());
    return fewer ? std::move(split) : Legs{std::move(flight)};
  }

  /// A hop or a stock curve that passes.
  std::optional<NamedLegs> one_leg(const MovingStretch& stretch) const {
    const std::vector<std::pair<double, double>> ends = rough_ends(rows_, stretch);
    for (const auto& from : ends)
      if (NamedLegs hop{fitted_leg(rows_, stretch, std::nullopt, from), ""}; hop.legs.off <= 1.0) return hop;
    if (stretch.begins_moving || stretch.ends_moving) return std::nullopt;
    struct Start {
      double misfit;
      const StepRule* rule;
      std::pair<double, double> ends;
    };
    std::vector<Start> nearest;
    for (const StepRule& rule : step_rules()) {
      if (rule.rule() != StepRule::Rule::ease) continue;
      Start best{std::numeric_limits<double>::infinity(), &rule, ends.front()};
      for (const auto& from : ends)
        if (const double misfit = leg_misfit(rows_, stretch, rule.curve(), from); misfit < best.misfit)
          best = {misfit, &rule, from};
      nearest.push_back(best);
    }
    std::stable_sort(nearest.begin(), nearest.end(),
                     [](const Start& a, const Start& b) { return a.misfit < b.misfit; });
    constexpr std::size_t tried = 12;
    nearest.resize(std::min(tried, nearest.size()));
    std::optional<NamedLegs> best;
    for (const Start& start : nearest) {
      NamedLegs eased{fitted_leg(rows_, stretch, start.rule->curve(), start.ends), start.rule->curve_text()};
      if (!best || eased.legs.off < best->legs.off) best = std::move(eased);
    }
    if (best && best->legs.off <= 1.0) return best;
    constexpr double near = 0.1; // of the way
    if (!best || best->legs.off > near * distance(rows_, stretch.first, stretch.last)) return std::nullopt;
    std::vector<const StepRule*> rules;
    for (const Start& start : nearest) rules.push_back(start.rule);
    return along_a_family(stretch, rules, best->legs);
  }

  static std::vector<double> with_decimals(std::vector<double> numbers, int decimals) {
    const double scale = std::pow(10.0, decimals);
    for (double& one : numbers) one = std::round(one * scale) / scale + 0.0; // no -0
    return numbers;
  }

  /// A leg along a curve whose numbers are looked for. \param about the nearest leg along one of the `rules`.
  std::optional<NamedLegs> along_a_family(const MovingStretch& stretch, const std::vector<const StepRule*>& rules,
                                          const FittedLegs& about) const {
    constexpr std::size_t few_rows = 12; // tell too little
    if (rows_of(stretch) < few_rows + stretch.rest_before + stretch.rest_after) return std::nullopt;
    for (const CurveFamily& family : families_near(rules)) {
      std::vector<double> numbers;
      FittedLegs found = fitted_leg(rows_, stretch, family, {about.times.front(), about.times.back()}, numbers);
      if (found.off > 1.0) continue;
      // Designers type few digits.
      constexpr int most_decimals = 6;
      for (int decimals = 0; decimals <= most_decimals; ++decimals) {
        const std::vector<double> round = with_decimals(numbers, decimals);
        const std::optional<Curve> curve = family.curve(round);
        if (!curve) continue;
        FittedLegs again = fitted_leg(rows_, stretch, *curve, {found.times.front(), found.times.back()});
        if (again.off <= 1.0) return NamedLegs{std::move(again), family.text(round)};
      }
      return NamedLegs{std::move(found), family.text(numbers)};
    }
    return std::nullopt;
  }

  /// How plainly a halt shows.
  struct Plainness {
    double slow;         ///< its speed at most, of the top one
    double stands_apart; ///< its change of speed at least, of those beside it
  };
  static constexpr Plainness plain{0.06, 3.0}, faint{0.12, 1.7};

  /// The rows inside at which everything stands still for an instant, or a speed jumps: where legs may end.
  std::vector<std::size_t> halts_in(const MovingStretch& stretch, Plainness sought) const {
    constexpr std::size_t reach = 2, apart = 5, most = 8;
    std::vector<double> speed(stretch.last + 1, std::numeric_limits<double>::infinity());
    double top = 0.0;
    for (std::size_t k = stretch.first + reach; k + reach <= stretch.last; ++k) {
      speed[k] = distance(rows_, k - reach, k + reach) / (rows_.times[k + reach] - rows_.times[k - reach]);
      top = std::max(top, speed[k]);
    }
    std::vector<std::size_t> halts;
    for (std::size_t k = stretch.first + stretch.rest_before + 2 * apart;
         k + 2 * apart + stretch.rest_after <= stretch.last; ++k) {
      const auto from = speed.begin() + static_cast<std::ptrdiff_t>(k - apart);
      const bool stands = speed[k] < sought.slow * top && speed[k] <= *std::min_element(from, from + 2 * apart + 1);
      if (!stands && !is_corner(k, top, sought)) continue;
      if (halts.empty() || k - halts.back() > apart) halts.push_back(k);
    }
    return halts.size() <= most ? halts : std::vector<std::size_t>{};
  }

  /// How much the velocity changes from one side of a row to the other, in what is allowed, 1/s.
  double speed_change(std::size_t row) const {
    double square = 0.0;
    for (std::size_t c = 0; c < rows_.columns(); ++c) {
      const auto& places = rows_.places[c];
      const double before = (places[row] - places[row - 1]) / (rows_.times[row] - rows_.times[row - 1]);
      const double after = (places[row + 1] - places[row]) / (rows_.times[row + 1] - rows_.times[row]);
      square += (after - before) * (after - before) * rows_.weights[c][row] * rows_.weights[c][row];
    }
    return std::sqrt(square);
  }

  bool is_corner(std::size_t row, double top, Plainness sought) const {
    constexpr double of_the_top = 0.08;
    const double here = speed_change(row);
    double noise = 0.0;
    for (const double one : rows_.noise) noise = std::max(noise, one);
    constexpr double stands_out = 20.0; // times the noise of one row
    if (here * 2.0 * rows_.half_row() < stands_out * noise) return false;
    return here > of_the_top * top && here >= std::max(speed_change(row - 1), speed_change(row + 1))
           && here > sought.stands_apart * std::max(speed_change(row - 3), speed_change(row + 3));
  }

  /// The fewest stops if some of the halts are the ends of legs; empty where there is none.
  Legs by_halts(const MovingStretch& stretch) const {
    const std::vector<std::size_t> halts = halts_in(stretch, plain);
    Legs found = by_halts(stretch, halts);
    if (!found.empty() && is_within(found)) return found;
    const std::vector<std::size_t> more = halts_in(stretch, faint);
    if (more == halts) return found;
    Legs other = by_halts(stretch, more);
    return !other.empty() && (found.empty() || is_better(other, found)) ? other : found;
  }
  Legs by_halts(const MovingStretch& stretch, std::vector<std::size_t> ends) const {
    if (ends.empty()) return {};
    ends.insert(ends.begin(), stretch.first);
    ends.push_back(stretch.last);
    // A leg that ends abruptly is told by where the next one begins, one that begins abruptly by the one before.
    Legs back = joined(stretch, ends, Joining::from_the_end);
    Legs ahead = joined(stretch, ends, Joining::from_the_beginning);
    return is_better(ahead, back) ? ahead : back;
  }

  bool is_within(const Legs& legs) const { return pass(rows_, legs); }

  enum class Joining : std::uint8_t { from_the_beginning, from_the_end };

  bool is_better(const Legs& one, const Legs& other) const {
    if (is_within(one) != is_within(other)) return is_within(one);
    return stops_of(one) < stops_of(other);
  }

  static std::vector<double> places_at_end(const FittedLegs& legs, Joining joining) {
    std::vector<double> places;
    for (const FittedLegs::Axis& axis : legs.axes)
      places.push_back(joining == Joining::from_the_end ? axis.values.front() : axis.values.back());
    return places;
  }

  Legs joined(const MovingStretch& stretch, const std::vector<std::size_t>& ends, Joining joining) const {
    const std::size_t count = ends.size();
    const bool is_back = joining == Joining::from_the_end;
    const auto end = [&](std::size_t i) { return is_back ? count - 1 - i : i; }; // counted from where it is joined
    std::vector<std::optional<Legs>> best(count);
    best[0] = Legs{};
    for (std::size_t i = 1; i < count; ++i)
      for (std::size_t j = 0; j < i; ++j) {
        if (!best[j] || (j == 0 && i + 1 == count)) continue;
        const std::size_t low = std::min(end(i), end(j)), high = std::max(end(i), end(j));
        MovingStretch part;
        // Which row a halt is at is not known exactly: the rows about it belong to either side.
        constexpr std::size_t about = 3;
        part.first = ends[low] + (low > 0 ? about : 0);
        part.last = ends[high] - (high + 1 < count ? about : 0);
        if (low == 0) part.from = stretch.from;
        if (low == 0) part.curve_begins = stretch.curve_begins;
        if (high + 1 == count) part.to = stretch.to;
        part.rest_before = low == 0 ? stretch.rest_before : 0;
        part.rest_after = high + 1 == count ? stretch.rest_after : 0;
        const MovingStretch alone = part;
        if (j > 0 && is_within(*best[j]))
          (is_back ? part.to : part.from) =
              places_at_end(is_back ? best[j]->front().legs : best[j]->back().legs, joining);
        auto leg = one_leg(part);
        if (!leg && j > 0) leg = one_leg(alone);
        if (!leg && j + 1 == i) leg = NamedLegs{fitted_flight(rows_, part), ""};
        if (!leg) continue;
        Legs all = *best[j];
        all.insert(is_back ? all.begin() : all.end(), std::move(*leg));
        if (!best[i] || is_better(all, *best[i])) best[i] = std::move(all);
      }
    return best.back() ? *best.back() : Legs{};
  }

  const LedRows& rows_;
};

} // namespace

std::size_t stops_of(const Legs& legs) noexcept {
  return std::accumulate(legs.begin(), legs.end(), std::size_t{0},
                         [](std::size_t sum, const NamedLegs& one) { return sum + one.legs.stops(); });
}

bool pass(const LedRows& rows, const Legs& legs) {
  if (!std::all_of(legs.begin(), legs.end(), [](const NamedLegs& one) { return one.legs.off <= 1.0; })) return false;
  constexpr double allowed = 1.5;
  for (std::size_t k = 1; k < legs.size(); ++k) {
    const FittedLegs &before = legs[k - 1].legs, &after = legs[k].legs;
    if (after.times.front() < before.times.back() - 0.05 * rows.half_row()) return false;
    for (std::size_t c = 0; c < rows.columns(); ++c)
      if (std::fabs(after.axes[c].values.front() - before.axes[c].values.back()) * rows.weights[c].front() > allowed)
        return false;
  }
  return true;
}

Legs legs_of(const LedRows& rows, const MovingStretch& stretch, StopEffort effort) {
  return LegFinder(rows).legs_of(stretch, effort);
}

} // namespace stasis
