#include "core/match/match_step.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>

#include <fmt/format.h>

#include "core/match/quantiles.hpp"
#include "core/match/step_fit.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

constexpr std::size_t fewest_rows = 8;

FitRows rows_of(const RecordedMove& move, const std::vector<std::size_t>& kept) {
  FitRows rows;
  for (const std::size_t k : kept) {
    rows.times.push_back(move.times[k]);
    rows.values.push_back(to_space(move.space, move.values[k]));
    rows.weights.push_back(stretch(move.space, move.values[k])); // so that distances are in the recording's unit
  }
  rows.start = move.start;
  if (move.from) rows.from = to_space(move.space, *move.from);
  if (move.goal) rows.goal = to_space(move.space, *move.goal);
  return rows;
}

/// The 95 % half width of a normal estimate whose size was estimated too.
double half_width(double deviation, double freedom) {
  if (!(freedom > 0.0) || !std::isfinite(deviation)) return std::numeric_limits<double>::infinity();
  return deviation * students_t_quantile(freedom, 0.975);
}

/// Deviation of a quantity that is a function of all numbers, by its slopes.
template<class Quantity>
double deviation_of(const StepFit& fit, const std::vector<double>& at, double size, Quantity quantity) {
  std::vector<double> slopes;
  for (const std::size_t place : fit.free_places) {
    const double step = 1e-6 * std::max(0.1, std::fabs(at[place]));
    std::vector<double> high = at, low = at;
    high[place] += step;
    low[place] -= step;
    slopes.push_back((quantity(high) - quantity(low)) / (2.0 * step));
  }
  double variance = 0.0;
  for (std::size_t a = 0; a < slopes.size(); ++a)
    for (std::size_t b = 0; b < slopes.size(); ++b) variance += slopes[a] * fit.covariance[a][b] * slopes[b];
  return size * std::sqrt(std::max(0.0, variance));
}

/// A glide at an even frame rate is a fixed fraction of the gap on each frame; empty where the rows are uneven.
std::string fraction_for(double half_life, const std::vector<double>& times) {
  std::vector<double> gaps;
  for (std::size_t k = 1; k < times.size(); ++k) gaps.push_back(times[k] - times[k - 1]);
  const double gap = median(gaps);
  constexpr double even = 0.02, most_odd = 0.2;
  const auto odd = std::count_if(gaps.begin(), gaps.end(), [&](double g) { return std::fabs(g - gap) > even * gap; });
  if (!(gap > 0.0) || static_cast<double>(odd) > most_odd * static_cast<double>(gaps.size())) return {};
  return fmt::format("a fraction of {} of the gap on each frame, at {} frames a second",
                     readable(-std::expm1(-std::numbers::ln2 * gap / half_life)), concise(1.0 / gap));
}

/// A rule's numbers with their intervals. \param size of the distances.
MatchedRule rule_of(const StepRule& kind, const StepFit& fit, const RecordedMove& move, std::size_t rows, double size) {
  MatchedRule rule;
  rule.kind = &kind;
  rule.space = move.space.space;
  rule.map = move.space;
  rule.unknowns = fit.unknowns;
  rule.start = fit.start;
  rule.from = from_space(move.space, fit.from);
  rule.goal = from_space(move.space, fit.from + fit.way);
  rule.rms = std::sqrt(fit.squares / static_cast<double>(rows));
  std::vector<double> at{fit.start};
  at.insert(at.end(), fit.unknowns.begin(), fit.unknowns.end());
  at.push_back(fit.from);
  at.push_back(fit.from + fit.way);
  const std::size_t unknowns = kind.unknowns();
  const double freedom = static_cast<double>(rows) - static_cast<double>(fit.free);
  const auto numbers_at = [&](const std::vector<double>& p) {
    return kind.numbers(std::span<const double>(p.data() + 1, unknowns), p[unknowns + 2] - p[unknowns + 1]);
  };
  const auto all = numbers_at(at);
  for (std::size_t k = 0; k < all.size(); ++k) {
    const bool in_logs = all[k].value > 0.0 && !all[k].name.starts_with("x") && !all[k].name.starts_with("y");
    const double half = half_width(deviation_of(fit, at, size,
                                                [&](const std::vector<double>& p) {
                                                  const double value = numbers_at(p)[k].value;
                                                  return in_logs ? std::log(value) : value;
                                                }),
                                   freedom);
    const double value = all[k].value;
    rule.numbers.push_back({std::string(all[k].name), std::string(all[k].unit), value,
                            in_logs ? value * std::exp(-half) : value - half,
                            in_logs ? value * std::exp(half) : value + half});
  }
  const auto plain = [&](const char* name, double value, auto quantity) {
    const double half = half_width(deviation_of(fit, at, size, quantity), freedom);
    return Estimate{name, "", value, value - half, value + half};
  };
  rule.start_at = plain("start", rule.start, [](const std::vector<double>& p) { return p[0]; });
  rule.from_at =
      plain("from", rule.from, [&](const std::vector<double>& p) { return from_space(move.space, p[unknowns + 1]); });
  rule.goal_at =
      plain("goal", rule.goal, [&](const std::vector<double>& p) { return from_space(move.space, p[unknowns + 2]); });
  if (move.start && fit.start > *move.start) {
    rule.delay = fit.start - *move.start;
    rule.numbers.push_back(
        {"delay", "s", *rule.delay, std::max(0.0, rule.start_at.low - *move.start), rule.start_at.high - *move.start});
  }
  rule.same_path = kind.same_path_as(fit.unknowns);
  if (kind.rule() == StepRule::Rule::glide) rule.same_path = fraction_for(rule.numbers.front().value, move.times);
  return rule;
}

/// What is left of a fit that can only be rounding.
double least_squares_left(const RecordedMove& move, std::size_t rows) {
  const auto [low, high] = std::minmax_element(move.values.begin(), move.values.end());
  const double hair = 1e-9 * (*high - *low);
  return static_cast<double>(rows) * hair * hair;
}

/// True if every number of a rule is one, with an interval.
bool is_told_in_numbers(const MatchedRule& rule) {
  const auto is_number = [](const Estimate& one) {
    return std::isfinite(one.value) && !std::isnan(one.low) && !std::isnan(one.high);
  };
  return std::isfinite(rule.rms) && std::all_of(rule.numbers.begin(), rule.numbers.end(), is_number)
         && is_number(rule.start_at) && is_number(rule.from_at) && is_number(rule.goal_at);
}

class Matching {
public:
  Matching(const std::vector<RecordedMove>& moves, const std::vector<StepRule>& kinds, const HowFar& how_far)
      : moves_(moves), kinds_(kinds), how_far_(how_far) {}

  std::optional<MoveMatch> run() {
    const RecordedMove& move = moves_.front();
    out_.kept = clean_rows(move.values, out_.cleaning);
    const auto [low, high] = std::minmax_element(move.values.begin(), move.values.end());
    if (out_.kept.size() < fewest_rows || !(*high > *low)) return std::nullopt;
    constexpr std::size_t enough = 2000; // what a rule is follows from them
    thin(enough);
    fit_all();
    if (out_.ranking.empty()) return std::nullopt;
    if (!is_clean() && reject_far_rows()) fit_all();
    weigh();
    sharpen();
    return std::move(out_);
  }

  /// Whether a rule comes near the move at all, by few of its rows: false only where half of those lie far off each.
  bool may_be_explained(double hardly) {
    constexpr std::size_t few = 120;
    constexpr double far_off = 4.0;
    const RecordedMove& move = moves_.front();
    out_.kept = clean_rows(move.values, out_.cleaning);
    if (out_.kept.size() <= 2 * few) return true; // as quickly tried
    const double near = far_off * std::max(least_size(), hardly);
    thin(few);
    const FitRows rows = rows_of(move, out_.kept);
    return std::any_of(kinds_.begin(), kinds_.end(), [&](const StepRule& kind) {
      const auto fit = goes_in(kind, move) ? fit_step(kind, rows) : std::nullopt;
      return fit && left_by(rule_of(kind, *fit, move, rows.times.size(), 0.0)) <= near;
    });
  }

private:
  /// The median of what a rule leaves of the rows.
  double left_by(const MatchedRule& rule) const {
    const RecordedMove& move = moves_.front();
    std::vector<double> left;
    for (const std::size_t k : out_.kept) left.push_back(std::fabs(move.values[k] - rule.at(move.times[k])));
    return median(std::move(left));
  }

  /// Deviations beyond which a row is wrong.
  static constexpr double far = 4.5;

  /// A pace goes by the channel's own unit, evenly in that.
  static bool goes_in(const StepRule& kind, const RecordedMove& move) noexcept {
    return kind.rule() != StepRule::Rule::pace || move.space.space == Space::linear;
  }

  /// Of a long recording, rows evenly apart.
  void thin(std::size_t enough) {
    out_.stride = (out_.kept.size() + enough - 1) / enough;
    std::vector<std::size_t> rows;
    for (std::size_t k = 0; k < out_.kept.size(); k += out_.stride) rows.push_back(out_.kept[k]);
    out_.kept = std::move(rows);
  }

  void fit_all() {
    out_.ranking.clear();
    constexpr double out_of_reach = 20.0; // in BIC
    double hopeless = std::numeric_limits<double>::infinity();
    const std::size_t rows = out_.kept.size();
    for (const RecordedMove& move : moves_) {
      const FitRows fitted = rows_of(move, out_.kept);
      for (const StepRule& kind : kinds_) {
        // Once more where rows are left out: most recordings need it.
        if (how_far_) how_far_(std::min(fits_++, 2 * moves_.size() * kinds_.size()), 2 * moves_.size() * kinds_.size());
        if (!goes_in(kind, move)) continue;
        const auto fit = fit_with_delay(kind, fitted, hopeless);
        if (!fit || rows <= fit->free + 1) continue;
        const double n = static_cast<double>(rows), p = static_cast<double>(fit->free);
        MatchedRule rule = rule_of(kind, *fit, move, rows, std::sqrt(fit->squares / (n - p)));
        if (!is_told_in_numbers(rule)) continue; // a move that is none: all of it lies beyond the recording
        const double left = std::log((fit->squares + least_squares_left(move, rows)) / n);
        rule.free = fit->free;
        rule.bic = bic_of(*fit);
        hopeless = std::min(hopeless, n * std::exp((rule.bic + out_of_reach) / n));
        const double free = p + 1.0; // the size of the noise is found too
        information_ = n * left + 2.0 * free + 2.0 * free * (free + 1.0) / std::max(1.0, n - free - 1.0);
        rule.probability = information_; // a weight once all are known
        out_.ranking.push_back(std::move(rule));
      }
    }
    std::sort(out_.ranking.begin(), out_.ranking.end(),
              [](const MatchedRule& a, const MatchedRule& b) { return a.bic < b.bic; });
  }

  double bic_of(const StepFit& fit) const {
    const std::size_t rows = out_.kept.size();
    const double n = static_cast<double>(rows);
    return n * std::log((fit.squares + least_squares_left(moves_.front(), rows)) / n)
           + static_cast<double>(fit.free) * std::log(n);
  }

  /// From when the goal jumped; where that is known, and waiting first explains plainly more, with a delay before it.
  std::optional<StepFit> fit_with_delay(const StepRule& kind, const FitRows& rows, double hopeless) const {
    const auto at_once = fit_step(kind, rows, hopeless);
    if (!rows.start || (at_once && at_once->squares <= least_squares_left(moves_.front(), rows.times.size())))
      return at_once;
    FitRows late = rows;
    late.start.reset();
    const auto delayed = fit_step(kind, late, hopeless);
    constexpr double plainly = 6.0, hair = 1e-9;
    if (!delayed || delayed->start <= *rows.start + hair) return at_once;
    return !at_once || bic_of(*delayed) < bic_of(*at_once) - plainly ? delayed : at_once;
  }

  /// What noise leaves of a row at least.
  double least_size() const {
    const auto [low, high] = std::minmax_element(moves_.front().values.begin(), moves_.front().values.end());
    const double rounding = out_.cleaning.digit / std::sqrt(12.0), hair = 1e-6 * (*high - *low);
    return std::max({out_.cleaning.noise, rounding, hair});
  }

  /// How much more than that may be left of all rows on average. The noise of few rows is itself known roughly: its
  /// estimate scatters by 14 % of 130 rows.
  double more_than_noise() const {
    const double scatter = 0.14 * std::sqrt(130.0 / static_cast<double>(out_.kept.size()));
    return std::clamp(1.0 / std::max(0.5, 1.0 - 2.5 * scatter), 1.35, 2.0);
  }

  /// True if the best rule leaves noise, and of no row plainly more.
  bool is_clean() const {
    const MatchedRule& best = out_.ranking.front();
    const RecordedMove& move = moves_.front();
    const double size = least_size();
    return best.rms <= more_than_noise() * size && std::none_of(out_.kept.begin(), out_.kept.end(), [&](std::size_t k) {
             return std::fabs(move.values[k] - best.at(move.times[k])) > far * size;
           });
  }

  /// Leaves rows out that are far off the rule which explains most of the others. \returns whether there are any.
  bool reject_far_rows() {
    const double size = least_size(), n = static_cast<double>(out_.kept.size());
    std::optional<RobustFit> best;
    double least = std::numeric_limits<double>::infinity();
    for (const RecordedMove& move : moves_)
      for (const StepRule& kind : kinds_) {
        // A curve that may have any shape bends to what is wrong.
        if (kind.rule() == StepRule::Rule::bezier || !goes_in(kind, move)) continue;
        FitRows rows = rows_of(move, out_.kept);
        rows.start.reset(); // it may have waited
        auto fit = fit_step_robustly(kind, rows, size);
        if (!fit) continue;
        const double left = fit->squares / (size * size) + static_cast<double>(kind.unknowns()) * std::log(n);
        if (!(left < least)) continue;
        least = left;
        best = std::move(fit);
      }
    if (!best) return false;
    // Many are no outliers: the rule is the wrong one, unless it leaves nothing but noise of all others.
    const double most = n * (best->size <= more_than_noise() * size ? 0.15 : 0.05);
    std::vector<std::size_t> near;
    for (std::size_t k = 0; k < out_.kept.size(); ++k)
      if (!(std::fabs(best->off[k]) > far * best->size)) near.push_back(out_.kept[k]);
    const std::size_t gone = out_.kept.size() - near.size();
    if (gone == 0 || static_cast<double>(gone) > most || near.size() < fewest_rows) return false;
    out_.kept = std::move(near);
    out_.cleaning.outliers += gone;
    return true;
  }

  /// Intervals of the Bezier, where it may be the rule: its numbers trade against each other.
  void sharpen() {
    for (MatchedRule& rule : out_.ranking) {
      if (rule.kind->rule() != StepRule::Rule::bezier || !rule.is_indistinct) continue;
      const auto move = std::find_if(moves_.begin(), moves_.end(),
                                     [&](const RecordedMove& m) { return m.space.space == rule.space; });
      const FitRows rows = rows_of(*move, out_.kept);
      StepFit fit;
      fit.start = rule.start;
      fit.unknowns = rule.unknowns;
      const double n = static_cast<double>(rows.times.size());
      const double freedom = n - static_cast<double>(rule.free);
      if (!(freedom > 0.0)) continue;
      const double squares = rule.rms * rule.rms * n, t = half_width(1.0, freedom);
      const double limit = squares * (1.0 + t * t / freedom);
      for (std::size_t k = 0; k < rule.unknowns.size(); ++k) {
        const ProfileBounds interval = profile_of(*rule.kind, rows, fit, k, limit);
        const auto number_at = [&](double unknown) {
          std::vector<double> unknowns = rule.unknowns;
          unknowns[k] = unknown;
          return rule.kind->numbers(unknowns, 1.0)[k].value;
        };
        rule.numbers[k].low = number_at(interval.low);
        rule.numbers[k].high = number_at(interval.high);
      }
    }
  }

  void weigh() {
    const double least =
        std::min_element(out_.ranking.begin(), out_.ranking.end(), [](const MatchedRule& a, const MatchedRule& b) {
          return a.probability < b.probability;
        })->probability;
    double sum = 0.0;
    for (MatchedRule& rule : out_.ranking) sum += rule.probability = std::exp(-0.5 * (rule.probability - least));
    for (MatchedRule& rule : out_.ranking) rule.probability /= sum;
    for (MatchedRule& rule : out_.ranking) rule.is_indistinct = is_indistinct_from_best(rule);
    out_.trouble = trouble();
    out_.is_as_noise = out_.ranking.front().rms <= more_than_noise() * least_size();
    out_.is_explained = out_.is_as_noise && out_.trouble == MatchTrouble::none;
  }

  /// By BIC, where at 2 some of twenty are decided wrongly. A rule with one number more than the best is not held to
  /// that number's whole price: it would be set aside where it fits as well, and is the true one as often.
  bool is_indistinct_from_best(const MatchedRule& rule) const {
    constexpr double indistinct = 6.0, price = 2.0; // of a number, as information counts it
    const MatchedRule& best = out_.ranking.front();
    const double spared = rule.free == best.free + 1 ? std::log(static_cast<double>(out_.kept.size())) - price : 0.0;
    return rule.bic - best.bic - spared < indistinct;
  }

  MatchTrouble trouble() const {
    const RecordedMove& move = moves_.front();
    const MatchedRule& best = out_.ranking.front();
    const double n = static_cast<double>(out_.kept.size());
    double sum = 0.0, squares = 0.0, largest = 0.0;
    for (const std::size_t k : out_.kept) sum += move.values[k];
    for (const std::size_t k : out_.kept) squares += std::pow(move.values[k] - sum / n, 2);
    constexpr double plainly = 10.0; // in BIC, against a value that stands
    if (n * std::log(squares / n) + std::log(n) - best.bic < plainly) return MatchTrouble::no_move;
    for (std::size_t i = 1; i < out_.kept.size(); ++i)
      largest = std::max(largest, std::fabs(move.values[out_.kept[i]] - move.values[out_.kept[i - 1]]));
    constexpr double nearly_all = 0.9;
    const double way = std::fabs(best.goal - best.from);
    const auto [low, high] = std::minmax_element(move.values.begin(), move.values.end());
    if (largest > nearly_all * (*high - *low)) return MatchTrouble::jump;
    const double spacing = (move.times.back() - move.times.front()) / static_cast<double>(move.times.size() - 1);
    const double left = std::fabs(best.at(move.times.back()) - best.goal);
    if (best.start < move.times.front() - spacing || left > (1.0 - nearly_all) * way) return MatchTrouble::unfinished;
    return MatchTrouble::none;
  }

  const std::vector<RecordedMove>& moves_;
  const std::vector<StepRule>& kinds_;
  const HowFar& how_far_;
  std::size_t fits_ = 0;
  MoveMatch out_;
  double information_ = 0.0;
};

} // namespace

double MatchedRule::at(double time) const noexcept {
  const double a = to_space(map, from), b = to_space(map, goal);
  return from_space(map, a + (b - a) * kind->value(unknowns, time - start));
}

std::string MatchedRule::motion(int digits) const {
  const std::string moves = kind->in_toml(unknowns, to_space(map, goal) - to_space(map, from), digits);
  if (!delay) return moves;
  return fmt::format(R"({{ kind = "stages", stages = [{{ kind = "delay", delay = {:.{}g} }}, {}] }})", *delay, digits,
                     moves);
}

std::optional<MoveMatch> match_step(const std::vector<RecordedMove>& moves, const std::vector<StepRule>& kinds,
                                    const HowFar& how_far) {
  return Matching(moves, kinds, how_far).run();
}

bool may_be_explained(const RecordedMove& move, const std::vector<StepRule>& kinds, double hardly) {
  return Matching({move}, kinds, {}).may_be_explained(hardly);
}

} // namespace stasis
