#include "core/recorded/rests.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <deque>

#include "core/match/match_step.hpp"
#include "core/root.hpp"

namespace stasis {
namespace {

constexpr double rest_window = 0.2; // s
constexpr std::size_t fewest_in_window = 5;

/// How a window of rows looks beside noise that stands.
struct Look {
  std::size_t first = 0, last = 0;
  double slope = 0.0; ///< in deviations of what noise alone would show
  bool is_flat = false;
};

class RestFinder {
public:
  RestFinder(const RecordedRows& rows, const std::vector<double>& noise) : rows_(rows), noise_(noise) {}

  std::vector<Rest> run() {
    for (std::size_t c = 0; c < rows_.components(); ++c) still_.push_back(still_of(c));
    for (std::size_t row = 0; row < rows_.size(); ++row) looks_.push_back(look_at(row));
    std::vector<Rest> rests;
    for (std::size_t row = 0; row < rows_.size(); ++row) {
      if (!looks_[row].is_flat) continue;
      const std::size_t begin = row;
      while (row + 1 < rows_.size() && looks_[row + 1].is_flat) ++row;
      Rest rest{looks_[begin].first, looks_[row].last, looks_[begin].first};
      if (!rests.empty() && !moves_between(last_flat_, begin)) {
        rests.back().last = rest.last;
        rests.back().settled = rest.settled;
      } else {
        rests.push_back(rest);
      }
      last_flat_ = row;
    }
    leave_out_turns(rests);
    for (std::size_t k = 1; k < rests.size(); ++k) part(rests[k - 1], rests[k]);
    return rests;
  }

private:
  /// What still counts as standing about each row of a component: the noise, or a little of how far it goes within a
  /// second and a half.
  std::vector<double> still_of(std::size_t component) const {
    constexpr double reach = 1.5, share = 5e-3; // s; of the way
    const std::vector<double>& values = rows_.values[component];
    std::deque<std::size_t> low, high; // rows whose values are the least, and the most, of those that follow
    std::vector<double> out;
    std::size_t next = 0;
    for (std::size_t row = 0; row < rows_.size(); ++row) {
      for (; next < rows_.size() && rows_.times[next] - rows_.times[row] <= reach; ++next) {
        while (!low.empty() && values[low.back()] >= values[next]) low.pop_back();
        while (!high.empty() && values[high.back()] <= values[next]) high.pop_back();
        low.push_back(next);
        high.push_back(next);
      }
      while (rows_.times[row] - rows_.times[low.front()] > reach) low.pop_front();
      while (rows_.times[row] - rows_.times[high.front()] > reach) high.pop_front();
      out.push_back(std::max(noise_[component], share * (values[high.front()] - values[low.front()])));
    }
    return out;
  }

  Look look_at(std::size_t row) const {
    Look look{row, row, 0.0, false};
    const double half = 0.5 * rest_window;
    while (look.first > 0 && rows_.times[row] - rows_.times[look.first - 1] <= half) --look.first;
    while (look.last + 1 < rows_.size() && rows_.times[look.last + 1] - rows_.times[row] <= half) ++look.last;
    // At the ends, and where rows are few, as many as elsewhere.
    const auto count = [&] { return look.last - look.first + 1; };
    while (look.last + 1 < rows_.size()
           && (count() < fewest_in_window || rows_.times[look.last] - rows_.times[look.first] < 0.8 * rest_window))
      ++look.last;
    while (look.first > 0
           && (count() < fewest_in_window || rows_.times[look.last] - rows_.times[look.first] < 0.8 * rest_window))
      --look.first;
    look.is_flat = true;
    for (std::size_t c = 0; c < rows_.components(); ++c) judge(look, c, still_[c][row]);
    return look;
  }

  void judge(Look& look, std::size_t component, double noise) const {
    const std::vector<double>& values = rows_.values[component];
    const double n = static_cast<double>(look.last - look.first + 1);
    double mean_t = 0.0, mean_v = 0.0, tt = 0.0, tv = 0.0, squares = 0.0;
    for (std::size_t k = look.first; k <= look.last; ++k) {
      mean_t += rows_.times[k] / n;
      mean_v += values[k] / n;
    }
    for (std::size_t k = look.first; k <= look.last; ++k) {
      tt += (rows_.times[k] - mean_t) * (rows_.times[k] - mean_t);
      tv += (rows_.times[k] - mean_t) * (values[k] - mean_v);
      squares += (values[k] - mean_v) * (values[k] - mean_v);
    }
    const double slope = std::fabs(tv) / (noise * std::sqrt(tt));
    look.slope = std::max(look.slope, slope);
    constexpr double flat = 2.8, deviations = 4.0;
    const double left = (squares - tv * tv / tt) / (noise * noise), freedom = std::max(1.0, n - 2.0);
    look.is_flat = look.is_flat && slope < flat && left < freedom + deviations * std::sqrt(2.0 * freedom);
  }

  /// True if something goes on between two flat looks that noise, or a slow tail, is not.
  bool moves_between(std::size_t before, std::size_t after) const {
    constexpr double plainly = 7.0; // deviations
    double steepest = 0.0;
    for (std::size_t row = before + 1; row < after; ++row) steepest = std::max(steepest, looks_[row].slope);
    return steepest > plainly;
  }

  /// What only looks as if it stood, as it turns slowly: short beside what goes on before and after, and all of it
  /// together is bent.
  void leave_out_turns(std::vector<Rest>& rests) const {
    constexpr double short_rest = 0.25;
    const std::vector<Rest> all = rests;
    std::size_t index = 0;
    std::erase_if(rests, [&](const Rest& rest) {
      const std::size_t k = index++;
      if (k == 0 || k + 1 == all.size()) return false;
      const double rested = rows_.times[rest.last] - rows_.times[rest.first],
                   before = rows_.times[rest.first] - rows_.times[all[k - 1].last],
                   after = rows_.times[all[k + 1].first] - rows_.times[rest.last];
      return rested < short_rest * std::min(before, after) && is_bent(rest);
    });
  }

  bool is_bent(const Rest& rest) const {
    constexpr double plainly = 5.0; // deviations
    for (std::size_t c = 0; c < rows_.components(); ++c)
      if (std::fabs(bend_of(rest.first, rest.last, c)) > plainly * noise_[c]) return true;
    return false;
  }

  /// Of a parabola through some rows, so that noise of size 1 leaves 1 in it.
  double bend_of(std::size_t first, std::size_t last, std::size_t component) const {
    const double middle = 0.5 * (rows_.times[first] + rows_.times[last]),
                 half = std::max(0.5 * (rows_.times[last] - rows_.times[first]), 1e-12);
    double mean = 0.0, square = 0.0, sum = 0.0;
    const double n = static_cast<double>(last - first + 1);
    const auto u = [&](std::size_t k) { return (rows_.times[k] - middle) / half; };
    for (std::size_t k = first; k <= last; ++k) mean += u(k) * u(k) / n;
    for (std::size_t k = first; k <= last; ++k) {
      const double weight = u(k) * u(k) - mean;
      square += weight * weight;
      sum += weight * (rows_.values[component][k] - rows_.values[component][first]);
    }
    return square > 0.0 ? sum / std::sqrt(square) : 0.0;
  }

  /// Neighbours do not share rows: a short rest ends where the next move begins.
  void part(Rest& a, Rest& b) const {
    if (b.first > a.last) return;
    const std::size_t middle = (a.last + b.first) / 2;
    a.last = middle;
    b.first = middle + 1;
    b.settled = std::max(b.settled, b.first);
  }

  const RecordedRows& rows_;
  const std::vector<double>& noise_;
  std::vector<std::vector<double>> still_; ///< by component and row
  std::vector<Look> looks_;
  std::size_t last_flat_ = 0;
};

Components row_values(const RecordedRows& rows, std::size_t row) {
  Components out{};
  for (std::size_t c = 0; c < rows.components(); ++c) out[c] = rows.values[c][row];
  return out;
}

/// The rows as one value: how far along the way from a place to another.
std::vector<double> along(const RecordedRows& rows, std::size_t first, std::size_t last, const Components& from,
                          const Components& to) {
  const Components way = plus(to, from, -1.0);
  const double length = length_of(way);
  std::vector<double> out;
  for (std::size_t row = first; row <= last; ++row) {
    const Components value = row_values(rows, row);
    out.push_back(rows.components() == 1 ? value[0] : dot(plus(value, from, -1.0), way) / length);
  }
  return out;
}

/// All rules but those that cost most; of a recording of many moves only the commonest.
const std::vector<StepRule>& quick_rules(Thoroughness how) {
  static const std::vector<StepRule> all = [] {
    std::vector<StepRule> rules;
    for (const StepRule& rule : step_rules())
      if (rule.rule() != StepRule::Rule::bezier) rules.push_back(rule);
    return rules;
  }();
  static const std::vector<StepRule> few = [] {
    constexpr std::array<std::string_view, 4> eases{"ease linear", "ease in-out sine", "ease in-out power 3",
                                                    "ease out power 3"};
    std::vector<StepRule> rules;
    for (const StepRule& rule : step_rules())
      if (rule.rule() == StepRule::Rule::glide || rule.rule() == StepRule::Rule::spring
          || std::find(eases.begin(), eases.end(), rule.name()) != eases.end())
        rules.push_back(rule);
    return rules;
  }();
  switch (how) {
  case Thoroughness::all_rules: return all;
  case Thoroughness::few_rules: return few;
  }
  return all;
}

/// As many rows of a rest as say where it stands.
std::size_t some_rest(const RecordedRows& rows, const Rest& rest) {
  constexpr double enough = 0.5; // s
  std::size_t first = rest.last;
  while (first > rest.settled && rows.times[rest.last] - rows.times[first] < enough) --first;
  return first;
}

/// The last row that says something of a move: of a long rest after it not all of it.
std::size_t told_until(const RecordedRows& rows, const MoveRows& one) {
  constexpr double enough = 1.5, times_the_move = 1.0; // s; of what lies before
  if (one.settled == 0) return one.until;
  const double moved = rows.times[one.settled] - rows.times[one.before.last];
  std::size_t row = one.settled;
  while (row < one.until && rows.times[row] - rows.times[one.settled] < std::max(enough, times_the_move * moved)) ++row;
  return row;
}

/// \param hardly what may be left without being seen, in the unit of the rows.
std::optional<MoveMatch> matched(const RecordedRows& rows, const MoveRows& given, Thoroughness how, double hardly) {
  MoveRows one = given;
  one.until = told_until(rows, given);
  const std::size_t first = some_rest(rows, one.before);
  RecordedMove move;
  move.start = one.start;
  move.times.assign(rows.times.begin() + static_cast<std::ptrdiff_t>(first),
                    rows.times.begin() + static_cast<std::ptrdiff_t>(one.until) + 1);
  move.values = along(rows, first, one.until, level_of(rows, one.before), one.to);
  if (!may_be_explained(move, quick_rules(how), hardly)) return std::nullopt;
  return match_step({move}, quick_rules(how));
}

} // namespace

std::vector<Rest> rests_of(const RecordedRows& rows, const std::vector<double>& noise) {
  return RestFinder(rows, noise).run();
}

std::size_t level_from(const RecordedRows& rows, const Rest& rest) {
  // The later half, as far as that is long enough: a slow tail is over.
  constexpr double enough = 0.3; // s
  std::size_t first = rest.settled + (rest.last - rest.settled) / 2;
  while (first > rest.settled && rows.times[rest.last] - rows.times[first] < enough) --first;
  return first;
}

Components level_of(const RecordedRows& rows, const Rest& rest) {
  const std::size_t first = level_from(rows, rest);
  Components out{};
  const double n = static_cast<double>(rest.last - first + 1);
  for (std::size_t c = 0; c < rows.components(); ++c)
    for (std::size_t row = first; row <= rest.last; ++row) out[c] += rows.values[c][row] / n;
  return out;
}

SetOff exact_set_off(const RecordedRows& rows, const std::vector<PathBreak>& breaks, const Rest& before,
                     std::size_t until) {
  const std::size_t standing = level_from(rows, before);
  const Components level = row_values(rows, standing);
  double farthest = 0.0;
  for (std::size_t row = standing; row <= until; ++row)
    farthest = std::max(farthest, length_of(plus(row_values(rows, row), level, -1.0)));
  const auto leaves = [&](double share) {
    std::size_t row = standing;
    while (row < until && !(length_of(plus(row_values(rows, row), level, -1.0)) > share * farthest)) ++row;
    return row;
  };
  constexpr double at_once = 1e-13, plainly = 0.02;
  const std::size_t first = leaves(at_once), seen = leaves(plainly);
  if (first == 0) return {rows.times[0], rows.times[0], rows.times[0]};
  // A rest that is one to the last bit ends with the first row that differs; in a slow tail the last break before it
  // plainly moves is what began it.
  const bool stands = first > standing + 1;
  const double low = stands ? rows.times[first - 1] : rows.times[before.settled], high = rows.times[seen];
  std::optional<double> at;
  for (const PathBreak& one : breaks)
    if (one.time >= low - 1e-9 && one.time <= (stands ? rows.times[first] : high) && !(stands && at)) at = one.time;
  if (at) return {*at, *at, *at};
  if (!stands) return {rows.times[before.last], rows.times[before.settled], high};
  // y = A (t - t0)^p by the first three rows: t0 is looked for where both ratios give one p.
  const auto size = [&](std::size_t row) { return length_of(plus(row_values(rows, row), level, -1.0)); };
  if (first + 2 > until) return {low, low, rows.times[first]};
  const auto powers = [&](double t0) {
    const double a = std::log((rows.times[first] - t0)), b = std::log(rows.times[first + 1] - t0),
                 c = std::log(rows.times[first + 2] - t0);
    return std::log(size(first + 1) / size(first)) / (b - a) - std::log(size(first + 2) / size(first + 1)) / (c - b);
  };
  const double inside = 1e-6 * (rows.times[first] - low);
  const auto [left, right] =
      change_between([&](double t0) { return opposite(powers(t0), powers(rows.times[first] - inside)); }, low,
                     rows.times[first] - inside);
  const double found = powers(low) * powers(rows.times[first] - inside) < 0.0 ? 0.5 * (left + right) : low;
  return {found, low, rows.times[first]};
}

Components ExplainedMove::place(double along) const noexcept {
  if (!is_along) return {along, 0.0, 0.0};
  const Components way = plus(to, from, -1.0);
  return plus(from, way, along / length_of(way));
}

std::optional<ExplainedMove> explained_move(const RecordedRows& rows, const MoveRows& move, Thoroughness how) {
  constexpr double hardly = 5e-3; // of the way
  const Components from = level_of(rows, move.before);
  const auto match = matched(rows, move, how, hardly * length_of(plus(move.to, from, -1.0)));
  if (!match || match->ranking.empty()) return std::nullopt;
  const MatchedRule& best = match->ranking.front();
  const double way = std::fabs(best.goal - best.from);
  if (!match->is_explained && (match->trouble != MatchTrouble::none || !(best.rms <= hardly * way)))
    return std::nullopt;
  ExplainedMove out;
  out.rule = best;
  out.from = from;
  out.to = move.to;
  out.set_off = {best.start, best.start_at.low, best.start_at.high};
  out.is_explained = match->is_explained;
  out.is_along = rows.components() > 1;
  for (const MatchedRule& rule : match->ranking) {
    if (!rule.is_indistinct) continue;
    out.set_off.low = std::min(out.set_off.low, rule.start_at.low);
    out.set_off.high = std::max(out.set_off.high, rule.start_at.high);
  }
  if (!out.is_explained) {
    // What no noise explains may have moved the start by as much as the move covers in that time, three times over.
    const double slack = 3.0 * best.rms / way * (rows.times[told_until(rows, move)] - best.start);
    out.set_off.low -= slack;
    out.set_off.high += slack;
  }
  return out;
}

SetOff rough_set_off(const RecordedRows& rows, const Rest& before) {
  const double edge = rows.times[before.last];
  return {edge, std::max(rows.times.front(), edge - rest_window), edge + 0.5 * rest_window};
}

bool is_one_move(const RecordedRows& rows, const Rest& before, const Rest& after, Thoroughness how, double hardly) {
  const auto match =
      matched(rows, {before, after.last, level_of(rows, after), std::nullopt, after.settled}, how, hardly);
  if (!match) return false;
  // At the second turn of one that swings the move is far from its end.
  const bool is_explained =
      match->is_as_noise && (match->trouble == MatchTrouble::none || match->trouble == MatchTrouble::unfinished);
  return is_explained || match->ranking.front().rms <= hardly;
}

} // namespace stasis
