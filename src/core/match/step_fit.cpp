#include "core/match/step_fit.hpp"

#include <algorithm>
#include <cmath>

#include "core/match/row_cleaning.hpp"
#include "core/match/step_starts.hpp"

namespace stasis {
namespace {

/// Covariance of all free numbers for distances of size 1, from the slopes of the model.
void add_covariance(const StepRule& kind, const FitRows& rows, StepFit& fit) {
  const std::size_t count = kind.unknowns() + 3; // start, unknowns, from, goal
  std::vector<double> at{fit.start};
  at.insert(at.end(), fit.unknowns.begin(), fit.unknowns.end());
  at.push_back(fit.from);
  at.push_back(fit.from + fit.way);
  for (std::size_t j = 0; j < count; ++j) {
    const bool is_given = (j == 0 && rows.start) || (j == count - 2 && rows.from) || (j == count - 1 && rows.goal);
    if (!is_given) fit.free_places.push_back(j);
  }
  const auto model = [&](const std::vector<double>& p, double time) {
    const double f = kind.value(std::span<const double>(p.data() + 1, kind.unknowns()), time - p[0]);
    return p[count - 2] + (p[count - 1] - p[count - 2]) * f;
  };
  const auto columns = static_cast<Eigen::Index>(fit.free_places.size());
  Eigen::MatrixXd slopes(static_cast<Eigen::Index>(rows.times.size()), columns);
  for (Eigen::Index c = 0; c < columns; ++c) {
    const std::size_t j = fit.free_places[static_cast<std::size_t>(c)];
    const double step = 6e-6 * std::max(0.1, std::fabs(at[j]));
    std::vector<double> high = at, low = at;
    high[j] += step;
    low[j] -= step;
    for (std::size_t k = 0; k < rows.times.size(); ++k)
      slopes(static_cast<Eigen::Index>(k), c) =
          rows.weights[k] * (model(high, rows.times[k]) - model(low, rows.times[k])) / (2.0 * step);
  }
  const Eigen::MatrixXd inverse = covariance_of(slopes);
  for (Eigen::Index a = 0; a < columns; ++a) {
    fit.covariance.emplace_back();
    for (Eigen::Index b = 0; b < columns; ++b) fit.covariance.back().push_back(inverse(a, b));
  }
}

} // namespace

std::optional<StepFit> fit_step(const StepRule& kind, const FitRows& rows, double hopeless) {
  StepDistances distances(kind, rows);
  const bool is_bezier = kind.rule() == StepRule::Rule::bezier;
  std::optional<Start> best;
  const auto polish = [&](Eigen::VectorXd at, double tolerance, int tries = enough_tries) {
    const double squares = descended(distances, at, tolerance, tries);
    if (!std::isfinite(squares) || (best && squares >= best->squares)) return false;
    best = Start{std::move(at), squares};
    return true;
  };
  for (const Start& start : chosen_starts(kind, rows)) polish(start.at, near_enough);
  if (!best) return std::nullopt;
  // Where a curve sets off or ends with a corner, each row that the corner passes bends the way to the best: it is gone
  // on from beside where it stopped.
  constexpr int most_rounds = 4;
  if (is_bezier)
    for (int round = 0; round < most_rounds; ++round) {
      bool is_better = false;
      for (Eigen::Index j = 0; j < best->at.size(); ++j)
        for (const double by : {-0.03, 0.03, -0.003, 0.003}) {
          Eigen::VectorXd beside = best->at;
          beside[j] += by;
          const double before = best->squares;
          is_better = (polish(beside, near_enough) && best->squares < 0.999 * before) || is_better;
        }
      if (!is_better) break;
    }
  if (best->squares <= hopeless) polish(best->at, 1e-13, most_tries);
  const Level level = distances.level(best->at);
  StepFit fit;
  const Eigen::Index first = rows.start ? 0 : 1;
  fit.start = rows.start ? *rows.start : best->at[0];
  fit.unknowns.assign(best->at.data() + first, best->at.data() + best->at.size());
  fit.from = level.from;
  fit.way = level.way;
  fit.squares = level.squares;
  add_covariance(kind, rows, fit);
  fit.free = fit.free_places.size();
  return fit;
}

namespace {

/// Each value the middle one of those about it, so that a few wrong ones leave no trace: where a search begins.
FitRows smoothed(const FitRows& rows) {
  constexpr std::size_t to_each_side = 2;
  FitRows out = rows;
  const std::size_t count = rows.values.size();
  for (std::size_t k = 0; k < count; ++k) {
    const std::size_t side = std::min({to_each_side, k, count - 1 - k});
    if (side == 0) continue; // below: an end
    const auto first = rows.values.begin() + static_cast<std::ptrdiff_t>(k - side);
    out.values[k] = median({first, first + static_cast<std::ptrdiff_t>(2 * side + 1)});
  }
  out.values.front() = out.values[1];
  out.values.back() = out.values[count - 2];
  return out;
}

/// The deviation of normal noise of which most rows leave so much; no less than `least`.
double size_of(const std::vector<double>& off, double least) {
  constexpr double of_normal = 0.6744897501960817; // median of |x|
  std::vector<double> sizes;
  for (const double one : off) sizes.push_back(std::fabs(one));
  return std::max(median(std::move(sizes)) / of_normal, least);
}

/// By how much the weight of a row is lessened that is so many deviations off.
double huber_weight(double off) noexcept {
  constexpr double bend = 1.345;
  return std::sqrt(std::min(1.0, bend / std::max(std::fabs(off), bend)));
}
double tukey_weight(double off) noexcept {
  constexpr double end = 4.685;
  const double share = off / end;
  return std::max(0.0, 1.0 - share * share);
}

/// Where a robust search ended.
struct RobustEnd {
  RobustFit fit;
  Eigen::VectorXd at;
};

/// Rounds by each weight at most; those by Tukey's end where the size hardly changes.
struct RobustRounds {
  int by_huber, in_all;
};

/// Nothing where a start leads nowhere.
std::optional<RobustEnd> gone_on_robustly(const StepRule& kind, const FitRows& rows, Eigen::VectorXd at, double noise,
                                          RobustRounds rounds) {
  constexpr int tries_a_round = 15;
  constexpr double loose = 1e-5;
  FitRows weighed = rows;
  StepDistances distances(kind, weighed); // reads the weights as they are changed here
  RobustFit fit;
  const auto look = [&] {
    fit.off = distances.left_of(at, rows);
    fit.size = size_of(fit.off, noise);
  };
  if (!std::isfinite(distances.level(at).way)) return std::nullopt;
  look();
  for (int round = 0; round < rounds.in_all; ++round) {
    for (std::size_t k = 0; k < rows.weights.size(); ++k) {
      const double off = fit.off[k] / fit.size;
      weighed.weights[k] = rows.weights[k] * (round < rounds.by_huber ? huber_weight(off) : tukey_weight(off));
    }
    descended(distances, at, loose, tries_a_round);
    const double before = fit.size;
    look();
    constexpr double hardly = 1e-3;
    if (round > rounds.by_huber && std::fabs(fit.size - before) < hardly * before) break;
  }
  constexpr double just_far = 3.0; // deviations
  for (const double off : fit.off) fit.squares += std::min(off * off, std::pow(just_far * noise, 2));
  return RobustEnd{std::move(fit), std::move(at)};
}

/// The best of several starts.
std::optional<RobustEnd> best_of_robust(const StepRule& kind, const FitRows& rows, const std::vector<Start>& starts,
                                        double noise) {
  std::optional<RobustEnd> best;
  for (const Start& start : starts) {
    auto end = gone_on_robustly(kind, rows, start.at, noise, {4, 10});
    if (end && (!best || end->fit.squares < best->fit.squares)) best = std::move(end);
  }
  return best;
}

} // namespace

std::optional<RobustFit> fit_step_robustly(const StepRule& kind, const FitRows& rows, double noise) {
  constexpr std::size_t some_rows = 250;
  std::vector<Start> starts = chosen_starts(kind, smoothed(rows));
  // Smoothing takes a short move for a few wrong rows.
  for (Start& start : chosen_starts(kind, rows)) starts.push_back(std::move(start));
  drop_doubles(starts, rows);
  const bool is_long = rows.times.size() > 2 * some_rows;
  auto best = best_of_robust(kind, is_long ? thinned(rows, some_rows) : rows, starts, noise);
  if (best && is_long) best = gone_on_robustly(kind, rows, best->at, noise, {1, 4}); // to its end by all of them
  return best ? std::optional(std::move(best->fit)) : std::nullopt;
}

ProfileBounds profile_of(const StepRule& kind, const FitRows& rows, const StepFit& fit, std::size_t unknown,
                         double limit) {
  const Eigen::Index place = static_cast<Eigen::Index>(unknown) + (rows.start ? 0 : 1);
  Eigen::VectorXd best(static_cast<Eigen::Index>(fit.unknowns.size()) + (rows.start ? 0 : 1));
  if (!rows.start) best[0] = fit.start;
  for (std::size_t k = 0; k < fit.unknowns.size(); ++k)
    best[static_cast<Eigen::Index>(k) + (rows.start ? 0 : 1)] = fit.unknowns[k];
  const double at_best = best[place];
  Eigen::VectorXd others(best.size() - 1);
  others << best.head(place), best.tail(best.size() - 1 - place);
  // How far to one side until the rest, fitted again, cannot make up for it.
  const auto bound = [&](double direction) {
    StepDistances distances(kind, rows);
    Eigen::VectorXd from = others;
    const auto squares_at = [&](double value, Eigen::VectorXd& at) {
      distances.hold(place, value);
      return descended(distances, at, 1e-8);
    };
    constexpr int most_doublings = 14, halvings = 12;
    double inside = 0.0, outside = 0.01;
    for (int k = 0; k < most_doublings; ++k, outside *= 2.0) {
      Eigen::VectorXd at = from;
      if (squares_at(at_best + direction * outside, at) > limit) break;
      inside = outside;
      from = at;
      if (k + 1 == most_doublings) return direction * std::numeric_limits<double>::infinity();
    }
    for (int k = 0; k < halvings; ++k) {
      const double middle = 0.5 * (inside + outside);
      Eigen::VectorXd at = from;
      if (squares_at(at_best + direction * middle, at) > limit) {
        outside = middle;
      } else {
        inside = middle;
        from = at;
      }
    }
    return at_best + direction * 0.5 * (inside + outside);
  };
  return {bound(-1.0), bound(1.0)};
}

} // namespace stasis
