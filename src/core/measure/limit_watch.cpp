#include "core/measure/limit_watch.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

ComponentRange limits_in_space(const Channel& channel, std::size_t component) noexcept {
  const auto [low, high] = output_range(channel, component);
  const OpenInterval allowed = domain(channel.space);
  return {low > allowed.low ? to_space(channel.space, low) : -unbounded,
          high < allowed.high ? to_space(channel.space, high) : unbounded};
}

std::optional<std::size_t> row_at_end_of_space(const Channel& channel, const ChannelBlock& columns, std::size_t rows) {
  std::optional<std::size_t> first;
  if (!is_logarithmic(channel.space.space)) return first;
  for (std::size_t i = 0; i < channel.components; ++i) {
    const ComponentRange own = channel.range[i], held = goal_range(channel, i);
    const ComponentBlock& column = columns.component[i];
    const std::size_t looked_at = column.goals.empty() ? std::min<std::size_t>(rows, 1) : rows;
    for (std::size_t row = 0; row < std::min(looked_at, first.value_or(rows)); ++row) {
      const double goal = column.goal_at(row);
      if ((goal <= held.low && own.low < held.low) || (goal >= held.high && own.high > held.high)) first = row;
    }
  }
  return first;
}

LimitWatch::LimitWatch(const Channel& channel) : components_(channel.components) {
  // What comes to rest on an end comes from beyond it without end; so little of its way is not held back.
  constexpr double least = 1e-8;
  for (std::size_t i = 0; i < components_; ++i) {
    const auto [low, high] = limits_in_space(channel, i);
    has_limits_ = has_limits_ || std::isfinite(low) || std::isfinite(high);
    const double width = high - low, size = std::isfinite(low) ? std::fabs(low) : std::fabs(high);
    const double slack = least * (std::isfinite(width) ? width : std::isfinite(size) ? std::max(1.0, size) : 0.0);
    limits_[i] = {low - slack, high + slack};
  }
}

bool LimitWatch::is_held(const ChannelInstant& now) const noexcept {
  for (std::size_t i = 0; i < components_; ++i)
    if (is_beyond(i, now[i].value)) return true;
  return false;
}

void LimitWatch::follow_standing(const Components& states, double dt) {
  for (std::size_t i = 0; i < components_; ++i)
    if (is_beyond(i, states[i])) {
      time_ += dt;
      return;
    }
}

void LimitWatch::follow(const ChannelFrame& frame) {
  ChannelInstant a = frame.at(0.0);
  for_each_stretch(frame, 0.0, frame.dt, [&](double from, double to, bool breaks) {
    const ChannelInstant b = frame.at(to, Side::before);
    cuts_.clear();
    for (std::size_t i = 0; i < components_; ++i)
      for (const double limit : {limits_[i].low, limits_[i].high})
        if (std::isfinite(limit)) add_crossings(frame, i, from, a[i], to, b[i], limit, cuts_);
    if (cuts_.empty()) {
      if (is_held(a) && is_held(b)) time_ += to - from;
    } else {
      std::sort(cuts_.begin(), cuts_.end());
      cuts_.push_back(to);
      double last = from;
      for (const double cut : cuts_) {
        if (is_held(frame.at(0.5 * (last + cut)))) time_ += cut - last;
        last = cut;
      }
    }
    a = breaks ? frame.at(to) : b;
  });
}

} // namespace stasis
