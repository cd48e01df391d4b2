#include "core/curve/profile_curve.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

ProfileCurve::ProfileCurve(std::vector<ProfileKnot> knots, double roundness)
    : knots_(std::move(knots)), tangents_(knots_.size(), 0.0), roundness_(roundness) {
  const std::size_t count = knots_.size();
  if (count < 2) return;
  const auto width = [&](std::size_t i) { return knots_[i + 1].at - knots_[i].at; };
  const auto secant = [&](std::size_t i) { return (knots_[i + 1].value - knots_[i].value) / width(i); };
  tangents_.front() = secant(0);
  tangents_.back() = secant(count - 2);
  for (std::size_t i = 1; i + 1 < count; ++i) {
    const double before = secant(i - 1), after = secant(i);
    if (before * after <= 0.0) continue; // a turn, or a level run: level there
    const double parabola = (width(i) * before + width(i - 1) * after) / (width(i) + width(i - 1));
    const double most = 3.0 * std::min(std::fabs(before), std::fabs(after));
    tangents_[i] = std::copysign(std::min(std::fabs(parabola), most), before);
  }
}

double ProfileCurve::value_at(double driver) const noexcept {
  const auto after = std::upper_bound(knots_.begin(), knots_.end(), driver,
                                      [](double at, const ProfileKnot& knot) { return at < knot.at; });
  if (after == knots_.begin()) return knots_.front().value;
  if (after == knots_.end()) return knots_.back().value;
  const auto i = static_cast<std::size_t>(after - knots_.begin()) - 1;
  const ProfileKnot &a = knots_[i], &b = knots_[i + 1];
  const double width = b.at - a.at, t = (driver - a.at) / width, rise = b.value - a.value;
  const auto [start, end] = bend_of(i);
  const double bend = t * (1.0 - t) * ((1.0 - t) * start - t * end);
  // Never beyond its neighbours by a rounding.
  const auto [low, high] = std::minmax(a.value, b.value);
  return std::clamp(a.value + (rise * t + bend), low, high);
}

} // namespace stasis
