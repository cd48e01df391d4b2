#include "core/curve/flight.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <limits>

#include <boost/math/quadrature/gauss.hpp>

namespace stasis {
namespace {

/// Panels of a piece over each of which ten places tell the way to a rounding. Source: docs/maths.md, section 13.
constexpr std::size_t panels_of_a_piece = 64;

/// Knots at equal times, times, or for a flight at one speed the square roots of the straight ways, after which a curve
/// through uneven places neither loops nor swings out.
std::vector<double> knots_of(const FlightPlan& plan) {
  if (!plan.steady) return plan.times;
  std::vector<double> knots{0.0};
  for (std::size_t k = 1; k < plan.times.size(); ++k) {
    double square = 0.0;
    for (const std::size_t axis : plan.along) {
      const double step = plan.axes[axis].values[k] - plan.axes[axis].values[k - 1];
      square += step * step;
    }
    knots.push_back(knots.back() + std::sqrt(std::sqrt(square)));
  }
  return knots;
}

bool ascends(const std::vector<double>& knots) noexcept {
  return std::adjacent_find(knots.begin(), knots.end(), [](double a, double b) { return !(a < b); }) == knots.end();
}

/// How a speed is gathered from 0 to 1 within one unit of time: the way made, and its three rates. Speed, acceleration
/// and its rate begin and end level.
CurvePoint gathering(double t) noexcept {
  return {t * t * t * t * (2.5 + t * (-3.0 + t)), t * t * t * (10.0 + t * (-15.0 + 6.0 * t)),
          t * t * (30.0 + t * (-60.0 + 30.0 * t)), t * (60.0 + t * (-180.0 + 120.0 * t))};
}

} // namespace

Flight::Flight(const FlightPlan& plan) : along_(plan.along), speed_up_(plan.speed_up), slow_down_(plan.slow_down) {
  knots_ = knots_of(plan);
  steady_ = plan.steady && !plan.along.empty() && ascends(knots_);
  if (!steady_) knots_ = plan.times;
  total_ = plan.times.back();
  const auto make_paths = [&] {
    paths_.clear();
    for (const FlightPlan::Axis& axis : plan.axes) {
      std::vector<double> knots;
      for (const std::size_t stop : axis.stops) knots.push_back(knots_[stop]);
      const PathEnd level{}, free{PathEnd::Kind::free, 0.0}, closed{PathEnd::Kind::closed, 0.0};
      // Where a flight at one speed has no speed yet, the shape of its way need not stand still.
      const bool whole = axis.stops.back() + 1 == plan.times.size();
      const PathEnd start = plan.closed && whole ? closed : steady_ ? free : axis.start;
      const PathEnd end = plan.closed && whole ? closed : !steady_ ? axis.end : whole ? free : level;
      paths_.push_back(plan.between_neighbours ? KnotPath::between_neighbours(std::move(knots), axis.values, start, end)
                                               : KnotPath::smooth(std::move(knots), axis.values, start, end));
    }
  };
  make_paths();
  measure_way();
  // Where the way turns round on itself there is no one speed along it.
  constexpr double standstill = 1e-6;
  if (steady_ && least_speed_along() < standstill * table_.way.back() / knots_.back()) {
    steady_ = false;
    knots_ = plan.times;
    make_paths();
    measure_way();
  }
  if (steady_) {
    const double most = speed_up_ + slow_down_;
    if (most > total_) {
      speed_up_ *= total_ / most;
      slow_down_ *= total_ / most;
    }
    top_speed_ = table_.way.back() / (total_ - 0.5 * (speed_up_ + slow_down_));
  }
  for (std::size_t k = 0; k < knots_.size(); ++k) {
    if (!steady_ || k == 0 || k + 1 == knots_.size()) {
      breaks_at_stop_.push_back(plan.times[k]);
      continue;
    }
    const double way = way_between(0, k);
    // The time at which so much of the way is made: it grows all the time.
    double low = 0.0, high = total_;
    for (int halving = 0; halving < 200 && low < high; ++halving) {
      const double middle = 0.5 * (low + high);
      if (middle <= low || middle >= high) break;
      (way_at(middle).value < way ? low : high) = middle;
    }
    breaks_at_stop_.push_back(high);
  }
  breaks_ = breaks_at_stop_;
  if (steady_) {
    breaks_.push_back(speed_up_);
    breaks_.push_back(total_ - slow_down_);
    std::sort(breaks_.begin(), breaks_.end());
  }
}

double Flight::speed_along(double u) const noexcept {
  double square = 0.0;
  for (const std::size_t axis : along_) {
    const double slope = paths_[axis].at(u, u == knots_.back() ? Side::before : Side::at).slope;
    square += slope * slope;
  }
  return std::sqrt(square);
}

double Flight::way_in_panel(double from, double to) const noexcept {
  return boost::math::quadrature::gauss<double, 10>::integrate([this](double u) { return speed_along(u); }, from, to);
}

void Flight::measure_way() {
  table_ = {};
  if (along_.empty()) return;
  table_.at.push_back(knots_.front());
  table_.way.push_back(0.0);
  for (std::size_t k = 0; k + 1 < knots_.size(); ++k)
    for (std::size_t p = 1; p <= panels_of_a_piece; ++p) {
      const double share = static_cast<double>(p) / static_cast<double>(panels_of_a_piece);
      const double end = p == panels_of_a_piece ? knots_[k + 1] : knots_[k] + share * (knots_[k + 1] - knots_[k]);
      table_.way.push_back(table_.way.back() + way_in_panel(table_.at.back(), end));
      table_.at.push_back(end);
    }
}

double Flight::least_speed_along() const noexcept {
  double least = std::numeric_limits<double>::infinity();
  for (const double u : table_.at) least = std::min(least, speed_along(u));
  return least;
}

double Flight::way_between(std::size_t from, std::size_t to) const noexcept {
  if (along_.empty()) return 0.0;
  return table_.way[to * panels_of_a_piece] - table_.way[from * panels_of_a_piece];
}

/// Where so much of the way has been made: by Newton's steps within one panel, held between its ends.
double Flight::argument_at(double way) const noexcept {
  const auto next = std::upper_bound(table_.way.begin(), table_.way.end(), way);
  if (next == table_.way.begin()) return table_.at.front();
  if (next == table_.way.end()) return table_.at.back();
  const auto panel = static_cast<std::size_t>(next - table_.way.begin()) - 1;
  const double begin = table_.at[panel], rest = way - table_.way[panel];
  double low = begin, high = table_.at[panel + 1];
  double u = low + (high - low) * rest / (table_.way[panel + 1] - table_.way[panel]);
  for (int step = 0; step < 60; ++step) {
    const double missing = way_in_panel(begin, u) - rest;
    (missing < 0.0 ? low : high) = u;
    const double speed = speed_along(u);
    double better = speed > 0.0 ? u - missing / speed : 0.5 * (low + high);
    if (!(better >= low && better <= high)) better = 0.5 * (low + high);
    if (std::fabs(better - u) <= 4e-16 * std::max(1.0, std::fabs(u))) return better;
    u = better;
  }
  return u;
}

CurvePoint Flight::way_at(double t) const noexcept {
  const double v = top_speed_;
  if (speed_up_ > 0.0 && t < speed_up_) {
    const CurvePoint part = gathering(t / speed_up_);
    return {v * speed_up_ * part.value, v * part.slope, v / speed_up_ * part.bend,
            v / (speed_up_ * speed_up_) * part.twist};
  }
  const double left = total_ - t;
  if (slow_down_ > 0.0 && left < slow_down_) {
    const CurvePoint part = gathering(left / slow_down_);
    return {table_.way.back() - v * slow_down_ * part.value, v * part.slope, -v / slow_down_ * part.bend,
            v / (slow_down_ * slow_down_) * part.twist};
  }
  return {v * (t - 0.5 * speed_up_), v, 0.0, 0.0};
}

CurvePoint Flight::argument(double t) const noexcept {
  const CurvePoint way = way_at(t);
  const double u = argument_at(way.value);
  // With g the speed along by u: way' = g u', and so on.
  double square = 0.0, first = 0.0, second = 0.0; // g^2, and its derivatives halved
  for (const std::size_t axis : along_) {
    const CurvePoint p = paths_[axis].at(u, u == knots_.back() ? Side::before : Side::at);
    square += p.slope * p.slope;
    first += p.slope * p.bend;
    second += p.bend * p.bend + p.slope * p.twist;
  }
  const double g = std::sqrt(square), g1 = first / g, g2 = (second - g1 * g1) / g;
  const double rate = way.slope / g, bend = (way.bend - g1 * rate * rate) / g;
  return {u, rate, bend, (way.twist - g2 * rate * rate * rate - 3.0 * g1 * rate * bend) / g};
}

CurvePoint Flight::at(std::size_t axis, double t, Side side) const noexcept {
  t = meant_instant(t, breaks_);
  const bool is_over = t > total_ || (t == total_ && side == Side::at);
  const bool is_before = t < 0.0 || (t == 0.0 && side == Side::before);
  if (is_over) return paths_[axis].at(knots_.back(), Side::at);
  if (is_before || !steady_) return paths_[axis].at(t, side);
  const CurvePoint u = argument(t);
  const CurvePoint p = paths_[axis].at(u.value, u.value == knots_.back() ? Side::before : side);
  return {p.value, p.slope * u.slope, p.bend * u.slope * u.slope + p.slope * u.bend,
          p.twist * u.slope * u.slope * u.slope + 3.0 * p.bend * u.slope * u.bend + p.slope * u.twist};
}

double Flight::next_break(double t) const noexcept {
  const auto next = std::upper_bound(breaks_.begin(), breaks_.end(), t);
  return next != breaks_.end() ? *next : std::numeric_limits<double>::infinity();
}

double Flight::smooth_stretch(double t) const noexcept {
  const auto next = std::upper_bound(breaks_at_stop_.begin(), breaks_at_stop_.end(), t);
  if (next == breaks_at_stop_.end()) return std::numeric_limits<double>::infinity();
  const double from = next == breaks_at_stop_.begin() ? 0.0 : *(next - 1);
  constexpr double parts = 32.0; // of a leg
  return (*next - from) / parts;
}

} // namespace stasis
