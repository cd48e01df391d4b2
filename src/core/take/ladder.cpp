#include "core/take/ladder.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {
namespace {

/// A share of a step that is a whole number except for rounding. Source: docs/maths.md, section 4.
constexpr double slack = 1e-9;
constexpr double most_rungs = 1e6;

int whole_up(double position) noexcept {
  return static_cast<int>(std::ceil(std::min(most_rungs, position) - slack * std::max(1.0, std::fabs(position))));
}

} // namespace

Ladder::Ladder(const Channel& channel, const Clicks& clicks) noexcept
    : clicks_(clicks), rest_(channel.rest[clicks.target.component]), low_(channel.range[clicks.target.component].low),
      high_(channel.range[clicks.target.component].high), radians_per_unit_(channel.space.radians_per_unit) {
  highest_ = std::isfinite(high_) ? whole_up(position(high_)) : static_cast<int>(most_rungs);
  lowest_ = std::isfinite(low_) && !(clicks.by == StepKind::factor && low_ <= 0.0) ? -whole_up(-position(low_))
                                                                                   : -static_cast<int>(most_rungs);
}

double Ladder::position(double value) const noexcept {
  const double step = std::fabs(std::log(clicks_.step));
  switch (clicks_.by) {
  case StepKind::factor: return std::log(value / rest_) / step;
  case StepKind::picture_scale: {
    const auto size = [&](double angle) { return std::log(std::tan(0.5 * angle * radians_per_unit_)); };
    return (size(value) - size(rest_)) / step;
  }
  case StepKind::amount: break;
  }
  return (value - rest_) / clicks_.step;
}

double Ladder::value(int rung) const noexcept {
  if (rung >= highest_) return high_;
  if (rung <= lowest_) return low_;
  if (rung == 0) return rest_;
  const double times = std::pow(std::max(clicks_.step, 1.0 / clicks_.step), rung);
  double value = rest_ + rung * clicks_.step;
  if (clicks_.by == StepKind::factor) value = rest_ * times;
  if (clicks_.by == StepKind::picture_scale)
    value = 2.0 * std::atan(std::tan(0.5 * rest_ * radians_per_unit_) * times) / radians_per_unit_;
  return std::clamp(value, low_, high_);
}

int Ladder::at(double value) const noexcept {
  if (value >= high_) return highest_;
  if (value <= low_) return lowest_;
  const double p = std::clamp(position(value), -most_rungs, most_rungs);
  return static_cast<int>(std::floor(p + slack * std::max(1.0, std::fabs(p))));
}

int Ladder::after(double value, int clicks) const noexcept {
  int from = at(value);
  const bool between =
      value < high_ && value > low_
      && std::fabs(this->value(from) - value) > 1e-9 * std::fabs(this->value(from + 1) - this->value(from));
  if (between && clicks < 0) ++from;
  const double sum = static_cast<double>(from) + clicks;
  return static_cast<int>(std::clamp(sum, static_cast<double>(lowest_), static_cast<double>(highest_)));
}

} // namespace stasis
