#include "core/match/step_starts.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

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

namespace {

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

} // namespace

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

namespace {

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

/// A search that only has to tell which starts are the ones to be gone on with.
struct Trial {
  std::size_t most_rows;
  double tolerance;
  std::size_t kept;
};

/// Goes on with each start by some of the rows, and keeps the best that came to places of their own.
void try_out(const StepRule& kind, const FitRows& rows, std::vector<Start>& starts, const Trial& trial) {
  const FitRows some = thinned(rows, trial.most_rows);
  StepDistances distances(kind, some);
  for (Start& start : starts) start.squares = descended(distances, start.at, trial.tolerance);
  std::stable_sort(starts.begin(), starts.end(), [](const Start& a, const Start& b) { return a.squares < b.squares; });
  drop_doubles(starts, rows);
  const auto is_far_off = [&](const Start& start) { return start.squares > 2.0 * starts.front().squares; };
  while (starts.size() > trial.kept || (starts.size() > 1 && is_far_off(starts.back()))) starts.pop_back();
}

} // namespace

std::vector<Start> chosen_starts(const StepRule& kind, const FitRows& rows) {
  constexpr std::size_t few_rows = 60, some_rows = 250;
  const Breadth breadth = breadth_of(kind);
  std::vector<Start> starts = best_starts(kind, rows, breadth.looked_at);
  if (breadth.looked_at > breadth.kept) try_out(kind, rows, starts, {few_rows, 1e-4, breadth.kept});
  if (rows.times.size() > 2 * some_rows) try_out(kind, rows, starts, {some_rows, near_enough, 2});
  return starts;
}

} // namespace stasis
