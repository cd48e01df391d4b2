// How far one rule lies from the rows of a move, as a function of its numbers.
#pragma once

#include <optional>
#include <vector>

#include "core/match/least_squares.hpp"
#include "core/match/step_fit.hpp"

namespace stasis {

/// Rest and way of the least distance for a given step, where they are free.
struct Level {
  double from, way, squares;
};
/// \param f how far the step is at each row, as a share of its way
Level level_of(const FitRows& rows, const std::vector<double>& f);

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
inline constexpr int most_tries = 400, enough_tries = 60;

/// How well a search ends that only has to tell whether it is the one to be gone on with.
inline constexpr double near_enough = 1e-7;

/// Goes downhill from `at`. \returns the squares where it ends; infinite where that is nowhere.
double descended(StepDistances& distances, Eigen::VectorXd& at, double tolerance, int tries = most_tries);

} // namespace stasis
