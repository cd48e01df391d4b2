#include "core/take/delay_line.hpp"

#include <algorithm>

namespace stasis {
namespace {

/// Instants nearer than this are one.
constexpr double one_instant = 1e-12;

} // namespace

void DelayLine::add(double time, double goal) {
  // A point between two others on one straight line says nothing; most goals stand most of the time.
  if (points_.size() > 1) {
    const Point &a = points_[points_.size() - 2], &b = points_.back();
    if (a.goal == b.goal && b.goal == goal && b.time - a.time > one_instant) {
      points_.back().time = time;
      return;
    }
    if (time - b.time <= one_instant && b.goal == goal) return;
  }
  if (!points_.empty() && points_.back().goal != goal) changed_ = time;
  points_.push_back({time, goal});
}

void DelayLine::forget(double time) {
  while (points_.size() > 2 && points_[1].time <= time - one_instant) points_.pop_front();
}

void DelayLine::begin_anew(double time, double goal) {
  points_.clear();
  points_.push_back({time, goal});
  changed_ = never_changed;
}

std::size_t DelayLine::point_before(double time) const noexcept {
  std::size_t k = 0;
  while (k + 1 < points_.size() && points_[k + 1].time <= time + one_instant) ++k;
  return k;
}

double DelayLine::goal_after(std::size_t point, double time) const noexcept {
  const Point& a = points_[point];
  if (point + 1 >= points_.size() || time <= a.time) return a.goal;
  const Point& b = points_[point + 1];
  return b.time > a.time ? a.goal + (b.goal - a.goal) * ((time - a.time) / (b.time - a.time)) : a.goal;
}

double DelayLine::at(double time) const { return goal_after(point_before(time), time); }

void DelayLine::pieces(double from, double to, std::vector<Piece>& out) const {
  out.clear();
  if (points_.empty()) return;
  std::size_t k = point_before(from);
  double at = from, goal = goal_after(k, from);
  const double first = points_.front().time;
  if (first - from > one_instant) { // it stood
    const double stood = std::min(first, to);
    out.push_back({{goal, goal}, stood - from});
    if (to - first <= one_instant) return;
    at = first;
  }
  for (; k + 1 < points_.size() && points_[k + 1].time < to - one_instant; ++k) {
    const Point& next = points_[k + 1];
    // What is left of the piece before; of a jump nothing is.
    if (next.time - at > one_instant) {
      out.push_back({{goal, next.goal}, next.time - at});
      at = next.time;
    }
    goal = next.goal;
  }
  out.push_back({{goal, to > points_.back().time ? points_.back().goal : goal_after(k, to)}, to - at});
}

} // namespace stasis
