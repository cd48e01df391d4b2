#include "core/match/step_fit.hpp"

#include <algorithm>
#include <cmath>

#include "core/match/least_squares.hpp"
#include "core/match/row_cleaning.hpp"

namespace stasis {
namespace {

/// Rest and way of the least distance for a given step, where they are free.
struct Level {
  double from, way, squares;
};

Level level_of(const FitRows& rows, const std::vector<double>& f) {
  double sw = 0, sf = 0, sy = 0, sff = 0, sfy = 0;
  for (std::size_t k = 0; k < f.size(); ++k) {
    const double w = rows.weights[k] * rows.weights[k];
    sw += w;
    sf += w * f[k];
    sy += w * rows.values[k];
  }
  const double mean_f = sf / sw, mean_y = sy / sw;
  Level level{};
  if (rows.from && rows.goal) {
    level = {*rows.from, *rows.goal - *rows.from, 0.0};
  } else if (rows.from) {
    for (std::size_t k = 0; k < f.size(); ++k) {
      const double w = rows.weights[k] * rows.weights[k];
      sff += w * f[k] * f[k];
      sfy += w * f[k] * (rows.values[k] - *rows.from);
    }
    level = {*rows.from, sff > 0.0 ? sfy / sff : 0.0, 0.0};
  } else if (rows.goal) { // y - g f = x0 (1 - f)
    for (std::size_t k = 0; k < f.size(); ++k) {
      const double w = rows.weights[k] * rows.weights[k], left = 1.0 - f[k];
      sff += w * left * left;
      sfy += w * left * (rows.values[k] - *rows.goal * f[k]);
    }
    const double from = sff > 0.0 ? sfy / sff : *rows.goal;
    level = {from, *rows.goal - from, 0.0};
  } else {
    for (std::size_t k = 0; k < f.size(); ++k) { // about the means: large values keep their digits
      const double w = rows.weights[k] * rows.weights[k], df = f[k] - mean_f;
      sff += w * df * df;
      sfy += w * df * (rows.values[k] - mean_y);
    }
    const double way = sff > 0.0 ? sfy / sff : 0.0;
    level = {mean_y - way * mean_f, way, 0.0};
  }
  for (std::size_t k = 0; k < f.size(); ++k) {
    const double off = rows.weights[k] * (rows.values[k] - level.from - level.way * f[k]);
    level.squares += off * off;
  }
  return level;
}

/// The distances as a function of start (where it is free) and unknowns.
class StepDistances final : public Distances {
public:
  /// Slopes by central differences: the projection inside is differentiated along.
  StepDistances(const StepRule& kind, const FitRows& rows)
      : Distances({6e-6, 0.1}), kind_(kind), rows_(rows), f_(rows.times.size()) {}

  int values() const override { return static_cast<int>(rows_.times.size()); }
  int inputs() const override { return static_cast<int>(kind_.unknowns()) + (rows_.start ? 0 : 1) - (held_ ? 1 : 0); }

  /// From now on one of the inputs stands, and is none any more.
  void hold(Eigen::Index place, double value) { held_ = Held{place, value}; }

  Level level(const Eigen::VectorXd& free) {
    Eigen::VectorXd at = free;
    if (held_) {
      at.resize(free.size() + 1);
      at << free.head(held_->place), held_->value, free.tail(free.size() - held_->place);
    }
    const int first = rows_.start ? 0 : 1;
    const double start = rows_.start ? *rows_.start : at[0];
    const std::span<const double> unknowns(at.data() + first, kind_.unknowns());
    for (std::size_t k = 0; k < f_.size(); ++k) f_[k] = kind_.value(unknowns, rows_.times[k] - start);
    return level_of(rows_, f_);
  }

  void find(const Eigen::VectorXd& at, Eigen::VectorXd& out) override {
    const Level found = level(at);
    for (std::size_t k = 0; k < f_.size(); ++k)
      out[static_cast<Eigen::Index>(k)] = finite(rows_.weights[k] * beside(found, k));
  }

  /// What is left of each row, weighted as in `rows`.
  std::vector<double> left_of(const Eigen::VectorXd& at, const FitRows& rows) {
    const Level found = level(at);
    std::vector<double> out;
    for (std::size_t k = 0; k < f_.size(); ++k) out.push_back(finite(rows.weights[k] * beside(found, k)));
    return out;
  }

private:
  double beside(const Level& found, std::size_t row) const noexcept {
    return rows_.values[row] - found.from - found.way * f_[row];
  }
  static double finite(double off) noexcept { return std::isfinite(off) ? off : 1e150; }

  struct Held {
    Eigen::Index place;
    double value;
  };
  const StepRule& kind_;
  const FitRows& rows_;
  std::vector<double> f_;
  std::optional<Held> held_;
};

/// Of a search to its end, and of one that is gone on with where it leads to the best: four in five need fewer than
/// ten, and one that needs hundreds creeps along towards a move without end.
constexpr int most_tries = 400, enough_tries = 60;

/// Goes downhill from `at`. \returns the squares where it ends.
double descended(StepDistances& distances, Eigen::VectorXd& at, double tolerance, int tries = most_tries) {
  descend(distances, at, {tolerance, tries});
  const double squares = distances.level(at).squares;
  return at.allFinite() && std::isfinite(squares) ? squares : std::numeric_limits<double>::infinity();
}

struct Start {
  Eigen::VectorXd at;
  double squares;
};

/// Fewer rows, evenly chosen: where a search begins need not be exact.
FitRows thinned(const FitRows& rows, std::size_t most) {
  const std::size_t each = (rows.times.size() + most - 1) / most;
  FitRows out{{}, {}, {}, rows.start, rows.from, rows.goal};
  for (std::size_t k = 0; k < rows.times.size(); k += each) {
    out.times.push_back(rows.times[k]);
    out.values.push_back(rows.values[k]);
    out.weights.push_back(rows.weights[k]);
  }
  return out;
}

/// The squares of the least distance for a given step, rest and way being free, about the means: those of level_of().
class FreeLevel {
public:
  explicit FreeLevel(const FitRows& rows) : values_(rows.values) {
    for (const double weight : rows.weights) weights_.push_back(weight * weight);
    double mean = 0.0;
    for (std::size_t k = 0; k < values_.size(); ++k) {
      all_ += weights_[k];
      mean += weights_[k] * values_[k];
    }
    mean /= all_;
    for (std::size_t k = 0; k < values_.size(); ++k) {
      const double off = values_[k] - mean;
      squares_ += weights_[k] * off * off;
      values_[k] = weights_[k] * off;
    }
  }
  double squares(const std::vector<double>& f) const noexcept {
    double sf = 0.0, sff = 0.0, sfy = 0.0;
    for (std::size_t k = 0; k < f.size(); ++k) {
      sf += weights_[k] * f[k];
      sff += weights_[k] * f[k] * f[k];
      sfy += values_[k] * f[k];
    }
    const double spread = sff - sf * sf / all_;
    return spread > 1e-12 * sff ? squares_ - sfy * sfy / spread : squares_;
  }

private:
  std::vector<double> weights_, values_; ///< squared; times the distance from the mean
  double all_ = 0.0, squares_ = 0.0;
};

/// The best starts that lie apart, of all combinations of a start time, a size and a shape, by what the shapes' tables
/// say of them.
std::vector<Start> best_starts(const StepRule& kind, const FitRows& all_rows, std::size_t count) {
  constexpr std::size_t enough_rows = 60;
  const FitRows rows = thinned(all_rows, enough_rows);
  const double first = rows.times.front(), last = rows.times.back(), span = last - first;
  const double spacing = span / static_cast<double>(all_rows.times.size() - 1);
  std::vector<double> times;
  constexpr int most_times = 48;
  const double step = std::max(2.0 * spacing, span / most_times);
  const double begin = first - spacing, end = last - 3.0 * spacing;
  if (rows.start) times.push_back(*rows.start);
  for (int k = 0; !rows.start && begin + k * step < end; ++k) times.push_back(begin + k * step);
  struct Look {
    double squares;
    const StartShape* shape;
    double size, time;
  };
  std::vector<Look> looks;
  std::vector<double> f(rows.times.size());
  const bool is_free = !rows.from && !rows.goal;
  const FreeLevel level(rows);
  for (const double size : kind.start_sizes(3.0 * spacing, 1.5 * span)) {
    const double quickness = kind.quickness(size);
    for (const StartShape& shape : kind.start_shapes())
      for (const double time : times) {
        for (std::size_t k = 0; k < f.size(); ++k) f[k] = shape.about(quickness, rows.times[k] - time);
        looks.push_back({is_free ? level.squares(f) : level_of(rows, f).squares, &shape, size, time});
      }
  }
  std::stable_sort(looks.begin(), looks.end(), [](const Look& a, const Look& b) { return a.squares < b.squares; });
  const auto apart_from = [&](const Look& one, const Look& other) {
    constexpr double apart_by = 0.3;
    double largest = std::max(std::fabs(one.size - other.size) / apart_by,
                              rows.start ? 0.0 : std::fabs(one.time - other.time) / (2.0 * step));
    for (std::size_t j = 0; j < one.shape->rest().size(); ++j)
      largest = std::max(largest, std::fabs(one.shape->rest()[j] - other.shape->rest()[j]) / apart_by);
    return largest >= 1.0;
  };
  std::vector<Look> chosen;
  for (const Look& one : looks) {
    if (std::all_of(chosen.begin(), chosen.end(), [&](const Look& other) { return apart_from(one, other); }))
      chosen.push_back(one);
    if (chosen.size() == count) break;
  }
  std::vector<Start> starts;
  for (const Look& one : chosen) {
    std::vector<double> at;
    if (!rows.start) at.push_back(one.time);
    at.push_back(one.size);
    at.insert(at.end(), one.shape->rest().begin(), one.shape->rest().end());
    starts.push_back({Eigen::Map<Eigen::VectorXd>(at.data(), static_cast<Eigen::Index>(at.size())), one.squares});
  }
  return starts;
}

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

constexpr int most_rounds = 4;
/// How well a search ends that only has to tell whether it is the one to be gone on with.
constexpr double near_enough = 1e-7;

/// How many starts are looked at, and of how many of them the search is gone on with.
struct Breadth {
  std::size_t looked_at, kept;
};

Breadth breadth_of(const StepRule& kind) {
  switch (kind.unknowns()) {
  case 1: return {2, 2};
  case 2: return {6, 2}; // noise may put both of the best two starts beside one hollow that is the wrong one
  default: return {12, 4};
  }
}

/// Of starts that have come to the same place, ascending by their squares, one: the others would end there too.
/// A corner may rest between any two rows.
void drop_doubles(std::vector<Start>& starts, const FitRows& rows) {
  constexpr double hardly_apart = 0.01;
  const double spacing = (rows.times.back() - rows.times.front()) / static_cast<double>(rows.times.size() - 1);
  const Eigen::Index first = rows.start ? 0 : 1;
  const auto is_double = [&](const Start& a, const Start& b) {
    if (first == 1 && !(std::fabs(a.at[0] - b.at[0]) < 0.25 * spacing)) return false;
    return ((a.at - b.at).tail(a.at.size() - first).array().abs() < hardly_apart).all();
  };
  std::vector<Start> apart;
  for (Start& start : starts)
    if (std::none_of(apart.begin(), apart.end(), [&](const Start& other) { return is_double(start, other); }))
      apart.push_back(std::move(start));
  starts = std::move(apart);
}

/// Of the best starts, each gone on with by few rows and not to its end, the best.
std::vector<Start> chosen_starts(const StepRule& kind, const FitRows& rows) {
  constexpr std::size_t enough_rows = 60;
  const Breadth breadth = breadth_of(kind);
  std::vector<Start> starts = best_starts(kind, rows, breadth.looked_at);
  if (breadth.looked_at == breadth.kept) return starts;
  const FitRows few = thinned(rows, enough_rows);
  StepDistances distances(kind, few);
  for (Start& start : starts) start.squares = descended(distances, start.at, 1e-4);
  std::stable_sort(starts.begin(), starts.end(), [](const Start& a, const Start& b) { return a.squares < b.squares; });
  drop_doubles(starts, rows);
  const auto is_far_off = [&](const Start& start) { return start.squares > 2.0 * starts.front().squares; };
  while (starts.size() > breadth.kept || (starts.size() > 1 && is_far_off(starts.back()))) starts.pop_back();
  return starts;
}

} // namespace

std::optional<StepFit> fit_step(const StepRule& kind, const FitRows& rows) {
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
  polish(best->at, 1e-13, most_tries);
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

/// Nothing where a start leads nowhere.
std::optional<RobustFit> gone_on_robustly(const StepRule& kind, const FitRows& rows, Eigen::VectorXd at, double noise) {
  constexpr int rounds_by_huber = 4, rounds = 10, tries_a_round = 15;
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
  for (int round = 0; round < rounds; ++round) {
    for (std::size_t k = 0; k < rows.weights.size(); ++k) {
      const double off = fit.off[k] / fit.size;
      weighed.weights[k] = rows.weights[k] * (round < rounds_by_huber ? huber_weight(off) : tukey_weight(off));
    }
    descended(distances, at, loose, tries_a_round);
    const double before = fit.size;
    look();
    constexpr double hardly = 1e-3;
    if (round > rounds_by_huber && std::fabs(fit.size - before) < hardly * before) break;
  }
  return fit;
}

} // namespace

std::optional<RobustFit> fit_step_robustly(const StepRule& kind, const FitRows& rows, double noise) {
  constexpr double just_far = 3.0; // deviations
  std::optional<RobustFit> best;
  std::vector<Start> starts = chosen_starts(kind, smoothed(rows));
  // Smoothing takes a short move for a few wrong rows.
  for (Start& start : chosen_starts(kind, rows)) starts.push_back(std::move(start));
  drop_doubles(starts, rows);
  for (const Start& start : starts) {
    auto fit = gone_on_robustly(kind, rows, start.at, noise);
    if (!fit) continue;
    for (const double off : fit->off) fit->squares += std::min(off * off, std::pow(just_far * noise, 2));
    if (!best || fit->squares < best->squares) best = std::move(fit);
  }
  return best;
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
