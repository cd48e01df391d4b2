#include "core/recorded/flight_fit.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include "core/match/least_squares.hpp"

namespace stasis {
namespace {

/// What a row is off by where there is no path at all.
constexpr double no_path = 1e9;

/// The rows of a stretch that are fitted: a search needs no more of them.
std::vector<std::size_t> fitted_rows(const MovingStretch& stretch, std::size_t most) {
  const std::size_t count = rows_of(stretch), stride = (count + most - 1) / most;
  std::vector<std::size_t> out;
  for (std::size_t k = stretch.first; k <= stretch.last; k += stride) out.push_back(k);
  if (out.back() != stretch.last) out.push_back(stretch.last);
  return out;
}

/// The path of one column, ready to be asked.
class ColumnPath {
public:
  ColumnPath(const FittedLegs& legs, const FittedLegs::Axis& axis) : legs_(legs), axis_(axis) {
    if (legs.curve || axis.stops.size() < 2) return;
    std::vector<double> knots;
    for (const std::size_t stop : axis.stops) knots.push_back(legs.times[stop]);
    const bool whole = axis.stops.back() == legs.stops();
    flown_.emplace(KnotPath::smooth(std::move(knots), axis.values, legs.start, whole ? legs.end : PathEnd{}));
  }
  double at(double time) const {
    if (axis_.stops.size() < 2) return axis_.values.front();
    if (flown_) return flown_->at(time).value;
    const double share = (time - legs_.times[0]) / (legs_.times[1] - legs_.times[0]);
    const double gone = share <= 0.0 ? 0.0 : share >= 1.0 ? 1.0 : evaluate(*legs_.curve, share).value;
    return axis_.values[0] + (axis_.values[1] - axis_.values[0]) * gone;
  }

private:
  const FittedLegs& legs_;
  const FittedLegs::Axis& axis_;
  std::optional<KnotPath> flown_;
};

/// Legs of known shape at unknown times: the values at the stops follow from the rows by least squares.
class LegDistances final : public Distances {
public:
  LegDistances(const LedRows& rows, const MovingStretch& stretch, LegShape shape, std::size_t most = most_fitted_rows)
      : Distances({1e-6, 0.1}), rows_(rows), stretch_(stretch), sets_(std::move(shape.sets)), family_(shape.family),
        curve_(family_ == nullptr ? std::move(shape.curve) : family_->curve(family_->numbers(family_->start))) {
    fitted_ = fitted_rows(stretch, most);
    shortest_leg_ =
        0.5 * (rows.times[stretch.last] - rows.times[stretch.first]) / static_cast<double>(rows_of(stretch));
    for (const auto& set : sets_) stops_ = std::max(stops_, set.back());
    begin_ = curve_ ? stretch.curve_begins : stretch.flight_begins;
    if (stretch.begins_moving) begin_ = rows.times[stretch.first];
    for (std::size_t c = 0; c < rows.columns(); ++c) {
      const double first = rows.weights[c][fitted_.front()];
      is_even_.push_back(
          std::all_of(fitted_.begin(), fitted_.end(), [&](std::size_t k) { return rows.weights[c][k] == first; }));
    }
  }

  int values() const override { return static_cast<int>(fitted_.size() * rows_.columns()); }
  int inputs() const override {
    return static_cast<int>(stops_ + 1 + unknowns()) - (begin_ ? 1 : 0) - (stretch_.ends_moving ? 1 : 0);
  }

  /// When it begins, and the logarithms of how long each leg takes; what a moving end fixes is not one of them. Then
  /// the numbers of the curve that are looked for.
  Eigen::VectorXd inputs_of(const std::vector<double>& times) const {
    std::vector<double> at;
    if (!begin_) at.push_back(times[0]);
    const std::size_t legs = stops_ - (stretch_.ends_moving ? 1 : 0);
    for (std::size_t leg = 0; leg < legs; ++leg)
      at.push_back(std::log(std::max(times[leg + 1] - times[leg], 1.01 * shortest_leg_)));
    if (family_ != nullptr) at.insert(at.end(), family_->start.begin(), family_->start.end());
    return Eigen::Map<Eigen::VectorXd>(at.data(), static_cast<Eigen::Index>(at.size()));
  }

  std::vector<double> times_of(const Eigen::VectorXd& at) const {
    Eigen::Index place = 0;
    std::vector<double> times{begin_ ? *begin_ : at[place++]};
    while (times.size() < stops_ + (stretch_.ends_moving ? 0 : 1))
      times.push_back(times.back() + std::exp(at[place++]));
    if (stretch_.ends_moving) times.push_back(rows_.times[stretch_.last]);
    return times;
  }

  FittedLegs legs(const std::vector<double>& times) const {
    Eigen::VectorXd ignored(values());
    return legs(times, ignored);
  }

  /// The curve's numbers; none where it is known.
  std::vector<double> numbers_of(const Eigen::VectorXd& at) const {
    if (family_ == nullptr) return {};
    const std::size_t count = unknowns();
    return family_->numbers({at.data() + at.size() - static_cast<Eigen::Index>(count), count});
  }

  /// From now on its curve is the one of these inputs. \returns false if they make none.
  bool take_curve(const Eigen::VectorXd& at) {
    if (family_ == nullptr) return true;
    std::optional<Curve> made = family_->curve(numbers_of(at));
    if (!made) return false;
    curve_ = std::move(made);
    return true;
  }

  void find(const Eigen::VectorXd& at, Eigen::VectorXd& out) override {
    const std::vector<double> times = times_of(at);
    const bool ascends =
        std::adjacent_find(times.begin(), times.end(), [&](double a, double b) { return !(b - a >= shortest_leg_); })
        == times.end();
    if (!ascends || !are_among_rows(times) || !take_curve(at))
      out.setConstant(no_path);
    else
      legs(times, out);
  }

  /// Nothing tells of what goes on before the first row or after the last.
  bool are_among_rows(const std::vector<double>& times) const {
    constexpr double beyond = 14.0; // half rows
    return times.front() >= rows_.times[stretch_.first] - beyond * shortest_leg_
           && times.back() <= rows_.times[stretch_.last] + beyond * shortest_leg_;
  }

private:
  std::size_t unknowns() const noexcept { return family_ == nullptr ? 0 : family_->start.size(); }

  /// How each value of a column counts for each row: columns that are given at the same stops share it.
  struct Shapes {
    const std::vector<std::size_t>* set;
    Eigen::MatrixXd by_stop;         ///< rows x stops
    std::optional<LinearFit> solver; ///< of the free ones, with even weights
  };

  bool is_given(std::size_t place, std::size_t count) const {
    return (place == 0 && stretch_.from) || (place + 1 == count && count > 1 && stretch_.to);
  }

  /// The shapes of those stops that the rows must tell.
  Eigen::MatrixXd free_of(const Eigen::MatrixXd& by_stop) const {
    const auto count = static_cast<std::size_t>(by_stop.cols());
    const Eigen::Index first = is_given(0, count) ? 1 : 0, last = count > 1 && is_given(count - 1, count) ? 1 : 0;
    return by_stop.middleCols(first, std::max<Eigen::Index>(0, by_stop.cols() - first - last));
  }

  Shapes shapes_of(const std::vector<std::size_t>& set, const FittedLegs& legs) const {
    Shapes out{&set, Eigen::MatrixXd(static_cast<Eigen::Index>(fitted_.size()), static_cast<Eigen::Index>(set.size())),
               std::nullopt};
    FittedLegs::Axis axis{set, std::vector<double>(set.size(), 0.0)};
    for (std::size_t s = 0; s < set.size(); ++s) {
      axis.values.assign(set.size(), 0.0);
      axis.values[s] = 1.0;
      const ColumnPath path(legs, axis);
      for (std::size_t k = 0; k < fitted_.size(); ++k)
        out.by_stop(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(s)) = path.at(rows_.times[fitted_[k]]);
    }
    return out;
  }

  /// \param off by column and row: how far the path is off, in what is allowed.
  FittedLegs legs(const std::vector<double>& times, Eigen::VectorXd& off) const {
    FittedLegs out;
    out.times = times;
    out.curve = curve_;
    const PathEnd level{}, free{PathEnd::Kind::free, 0.0};
    out.start = stretch_.begins_moving ? free : level;
    out.end = stretch_.ends_moving ? free : level;
    std::vector<Shapes> known;
    const auto count = static_cast<Eigen::Index>(fitted_.size());
    for (std::size_t c = 0; c < rows_.columns(); ++c) {
      auto shapes = std::find_if(known.begin(), known.end(), [&](const Shapes& one) { return *one.set == sets_[c]; });
      if (shapes == known.end()) shapes = known.insert(known.end(), shapes_of(sets_[c], out));
      out.axes.push_back(axis_of(c, *shapes, off.segment(static_cast<Eigen::Index>(c) * count, count)));
    }
    return out;
  }

  /// The values of a column at its stops.
  FittedLegs::Axis axis_of(std::size_t column, Shapes& shapes, Eigen::Ref<Eigen::VectorXd> off) const {
    const std::vector<std::size_t>& set = sets_[column];
    const double about = rows_.places[column][stretch_.first]; // large values keep their digits
    Eigen::VectorXd values = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(set.size()));
    if (is_given(0, set.size())) values[0] = (*stretch_.from)[column] - about;
    if (set.size() > 1 && is_given(set.size() - 1, set.size()))
      values[values.size() - 1] = (*stretch_.to)[column] - about;
    const auto count = static_cast<Eigen::Index>(fitted_.size());
    Eigen::VectorXd weights(count), places(count);
    for (Eigen::Index k = 0; k < count; ++k) {
      weights[k] = rows_.weights[column][fitted_[static_cast<std::size_t>(k)]];
      places[k] = rows_.places[column][fitted_[static_cast<std::size_t>(k)]] - about;
    }
    const Eigen::VectorXd rest = places - shapes.by_stop * values;
    if (const Eigen::MatrixXd free = free_of(shapes.by_stop); free.cols() > 0) {
      Eigen::VectorXd found;
      if (is_even_[column]) {
        if (!shapes.solver) shapes.solver.emplace(free);
        found = shapes.solver->solve(rest);
      } else {
        found = LinearFit(weights.asDiagonal() * free).solve(weights.cwiseProduct(rest));
      }
      const Eigen::Index first = is_given(0, set.size()) ? 1 : 0;
      for (Eigen::Index f = 0; f < found.size(); ++f) values[first + f] = std::isfinite(found[f]) ? found[f] : 0.0;
    }
    off = weights.cwiseProduct(places - shapes.by_stop * values);
    for (double& one : off) one = std::isfinite(one) ? std::clamp(one, -no_path, no_path) : no_path;
    FittedLegs::Axis axis{set, {}};
    for (const double value : values) axis.values.push_back(about + value);
    return axis;
  }

  const LedRows& rows_;
  const MovingStretch& stretch_;
  StopSets sets_;
  const CurveFamily* family_;
  std::optional<Curve> curve_;
  std::vector<std::size_t> fitted_;
  std::vector<bool> is_even_;   // by column: each row may be off by the same in its space
  std::optional<double> begin_; // s: where it is known
  double shortest_leg_ = 0.0;   // s
  std::size_t stops_ = 0;
};

/// False where a stop lies far outside what was recorded: the rows do not tell it.
bool has_sense(const LedRows& rows, const MovingStretch& stretch, const FittedLegs& legs) {
  constexpr double beyond = 2.0; // of the way
  for (std::size_t c = 0; c < rows.columns(); ++c) {
    const auto first = rows.places[c].begin() + static_cast<std::ptrdiff_t>(stretch.first);
    const auto [low, high] = std::minmax_element(first, first + static_cast<std::ptrdiff_t>(rows_of(stretch)));
    const double room = beyond * (*high - *low) + 1.0 / rows.weights[c][stretch.first];
    for (const double value : legs.axes[c].values)
      if (!(value > *low - room && value < *high + room)) return false;
  }
  return true;
}

/// How far the worst row is off the cubic of the least squares, by Legendre's polynomials.
double cubic_off(const LedRows& rows, std::size_t column, std::size_t first, std::size_t last) {
  const double middle = 0.5 * (rows.times[first] + rows.times[last]);
  const double half = std::max(1e-300, 0.5 * (rows.times[last] - rows.times[first]));
  const auto shape = [&](std::size_t row) -> Eigen::Vector4d {
    const double x = (rows.times[row] - middle) / half;
    return {1.0, x, 1.5 * x * x - 0.5, (2.5 * x * x - 1.5) * x};
  };
  const auto place = [&](std::size_t row) { return rows.places[column][row] - rows.places[column][first]; };
  Eigen::Matrix4d normal = Eigen::Matrix4d::Zero();
  Eigen::Vector4d sums = Eigen::Vector4d::Zero();
  for (std::size_t row = first; row <= last; ++row) {
    const double square = rows.weights[column][row] * rows.weights[column][row];
    const Eigen::Vector4d here = shape(row);
    normal += square * here * here.transpose();
    sums += square * place(row) * here;
  }
  const Eigen::Vector4d found = solved(normal, sums);
  double most = 0.0;
  for (std::size_t row = first; row <= last; ++row)
    most = std::max(most, rows.weights[column][row] * std::fabs(place(row) - found.dot(shape(row))));
  return most;
}

} // namespace

Worst worst_of(const LedRows& rows, const MovingStretch& stretch, const FittedLegs& legs) {
  Worst out;
  for (std::size_t c = 0; c < rows.columns(); ++c) {
    const ColumnPath path(legs, legs.axes[c]);
    double most = 0.0;
    for (std::size_t k = stretch.first; k <= stretch.last; ++k) {
      const double off = std::fabs(rows.weights[c][k] * (rows.places[c][k] - path.at(rows.times[k])));
      most = std::max(most, off);
      if (off > out.off) {
        out.off = off;
        out.row = k;
      }
    }
    out.by_column.push_back(most);
  }
  return out;
}

FittedLegs legs_at(const LedRows& rows, const MovingStretch& stretch, const StopSets& sets,
                   const std::vector<double>& times, std::size_t most) {
  FittedLegs legs = LegDistances(rows, stretch, {sets, std::nullopt}, most).legs(times);
  legs.off = has_sense(rows, stretch, legs) ? worst_of(rows, stretch, legs).off : no_path;
  return legs;
}

namespace {

struct Found {
  FittedLegs legs;
  std::vector<double> numbers; ///< of the curve's family
};

Found fitted(const LedRows& rows, const MovingStretch& stretch, const LegShape& shape, const std::vector<double>& times,
             DescentLimits limits) {
  LegDistances distances(rows, stretch, shape);
  Eigen::VectorXd at = distances.inputs_of(times);
  if (at.size() > 0 && distances.values() >= distances.inputs()) {
    const Eigen::VectorXd before = at;
    descend(distances, at, limits);
    if (!at.allFinite()) at = before;
  }
  const bool is_curve = distances.take_curve(at);
  FittedLegs legs = distances.legs(distances.times_of(at));
  const bool has_path = is_curve && distances.are_among_rows(legs.times) && has_sense(rows, stretch, legs);
  legs.off = has_path ? worst_of(rows, stretch, legs).off : no_path;
  return {std::move(legs), distances.numbers_of(at)};
}

} // namespace

FittedLegs fitted_legs(const LedRows& rows, const MovingStretch& stretch, const LegShape& shape,
                       const std::vector<double>& times, Descent how) {
  const bool is_rough = how == Descent::rough;
  return fitted(rows, stretch, shape, times, {is_rough ? 1e-3 : 1e-13, is_rough ? 20 : 60}).legs;
}

std::vector<double> places_of(const FittedLegs& legs, std::size_t column, const std::vector<double>& times,
                              const MovingStretch& stretch) {
  const ColumnPath path(legs, legs.axes[column]);
  std::vector<double> out;
  for (std::size_t k = stretch.first; k <= stretch.last; ++k) out.push_back(path.at(times[k]));
  return out;
}

std::vector<std::pair<double, double>> rough_ends(const LedRows& rows, const MovingStretch& stretch) {
  const double first = rows.times[stretch.first], last = rows.times[stretch.last];
  double begin = last, end = first;
  for (std::size_t c = 0; c < rows.columns(); ++c)
    for (const double joint : cubic_joints(rows, c, stretch)) {
      begin = std::min(begin, joint);
      end = std::max(end, joint);
    }
  if (stretch.rest_before == 0 || !(begin < end)) begin = first;
  if (stretch.rest_after == 0 || !(begin < end)) end = last;
  std::vector<std::pair<double, double>> ends{{begin, end}};
  // Of few rows a cubic passes several beyond its end.
  const double rests_until = rows.times[std::min(stretch.first + stretch.rest_before, stretch.last)];
  const double rests_from = rows.times[stretch.last - std::min(stretch.rest_after, stretch.last - stretch.first)];
  if (rests_until < rests_from) ends.emplace_back(rests_until, rests_from);
  return ends;
}

FittedLegs fitted_leg(const LedRows& rows, const MovingStretch& stretch, const std::optional<Curve>& curve,
                      std::pair<double, double> ends) {
  return fitted_legs(rows, stretch, {StopSets(rows.columns(), {0, 1}), curve}, {ends.first, ends.second},
                     Descent::full);
}

FittedLegs fitted_leg(const LedRows& rows, const MovingStretch& stretch, const CurveFamily& family,
                      std::pair<double, double> ends, std::vector<double>& numbers) {
  constexpr int tries = 150; // numbers that go together take longer
  Found found = fitted(rows, stretch, {StopSets(rows.columns(), {0, 1}), std::nullopt, &family},
                       {ends.first, ends.second}, {1e-13, tries});
  numbers = std::move(found.numbers);
  return std::move(found.legs);
}

double leg_misfit(const LedRows& rows, const MovingStretch& stretch, const Curve& curve,
                  std::pair<double, double> ends) {
  LegDistances distances(rows, stretch, {StopSets(rows.columns(), {0, 1}), curve});
  Eigen::VectorXd off(distances.values());
  distances.find(distances.inputs_of({ends.first, ends.second}), off);
  return off.squaredNorm();
}

std::vector<double> cubic_joints(const LedRows& rows, std::size_t column, const MovingStretch& stretch) {
  std::vector<double> joints;
  constexpr std::size_t least = 4;
  std::size_t first = stretch.first;
  while (first + least <= stretch.last) {
    // As far as one cubic passes: doubled, then halved.
    std::size_t good = std::min(first + least - 1, stretch.last), step = least;
    while (good < stretch.last) {
      const std::size_t next = std::min(good + step, stretch.last);
      if (cubic_off(rows, column, first, next) > 1.0) break;
      good = next;
      step *= 2;
    }
    std::size_t bad = std::min(good + step, stretch.last + 1);
    while (bad - good > 1) {
      const std::size_t middle = good + (bad - good) / 2;
      (cubic_off(rows, column, first, middle) <= 1.0 ? good : bad) = middle;
    }
    if (good >= stretch.last) break;
    joints.push_back(0.5 * (rows.times[good] + rows.times[good + 1]));
    first = good;
  }
  return joints;
}

} // namespace stasis
