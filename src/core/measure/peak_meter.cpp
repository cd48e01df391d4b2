#include "core/measure/peak_meter.hpp"

#include <algorithm>

namespace stasis {

void PeakMeter::note(double value, double time) noexcept {
  if (value <= largest_) return;
  largest_ = value;
  at_ = time;
}

std::optional<Top> PeakMeter::add(double value, double time, double step) noexcept {
  note(value, time);
  std::optional<Top> top;
  if (known_ == 2 && middle_ >= before_ && middle_ >= value) {
    const double bend = before_ - 2.0 * middle_ + value, rise = value - before_;
    if (bend < 0.0) top = Top{middle_ - 0.125 * rise * rise / bend, time - step * (1.0 + 0.5 * rise / bend)};
  }
  before_ = middle_;
  middle_ = value;
  known_ = std::min(known_ + 1, 2);
  return top && top->value > largest_ ? top : std::nullopt;
}

void PeakMeter::add_alone(double value, double time) noexcept {
  note(value, time);
  known_ = 0;
}

} // namespace stasis
