// What is largest while a move goes on: its speed, its acceleration, how far beyond the goal and beside the way.
#include <algorithm>
#include <cmath>

#include "core/measure/move_tracker.hpp"
#include "core/root.hpp"

namespace stasis {
namespace {

/// True if a derivative falls through zero: what it belongs to is largest there.
bool is_maximum_between(double at_low, double at_high) noexcept { return at_low > 0.0 && at_high < 0.0; }

} // namespace

// many: both ends of a stretch of a frame, each with what is there
void MoveTracker::note_extremes(const ChannelFrame& frame, double since_start, double from, const Sample& at_from,
                                double to, const Sample& at_to) {
  if (unbounded_ || instant_) return;
  if (!std::isfinite(at_to.speed) || !std::isfinite(at_from.speed)) {
    unbounded_ = true;
    return;
  }
  note_speed(at_from, since_start + from);
  note_speed(at_to, since_start + to);
  if (goes_by_frames_) return; // straight from frame to frame: no acceleration that means anything
  note_speed_peak(frame, since_start, from, at_from, to, at_to);
  note_acceleration(frame, from, at_from, to, at_to);
}

void MoveTracker::note_acceleration(const ChannelFrame& frame, double from, const Sample& at_from, double to,
                                    const Sample& at_to) {
  if (!std::isfinite(at_from.acceleration) || !std::isfinite(at_to.acceleration)) unbounded_push_ = true;
  if (unbounded_push_) return;
  double& largest = move_.peak_acceleration ? *move_.peak_acceleration : move_.peak_acceleration.emplace(0.0);
  const double here = std::max(at_from.acceleration, at_to.acceleration);
  largest = std::max(largest, here);
  // What is much less at both ends cannot be more in between.
  constexpr double near_it = 0.5;
  if (here < near_it * largest) return;
  const auto pushing = [&](double u) { return sample_within(frame, u).push_up; };
  const auto look_between = [&](double low, double at_low, double high, double at_high) {
    // Beside a place where the curve stands upright this derivative has no bound.
    constexpr double beside = 1e-6;
    if (!std::isfinite(at_low)) at_low = pushing(low += beside * (high - low));
    if (!std::isfinite(at_high)) at_high = pushing(high -= beside * (high - low));
    if (!is_maximum_between(at_low, at_high)) return;
    const double at = bracketed_root(pushing, low, high, at_low, at_high);
    largest = std::max(largest, sample_within(frame, at).acceleration);
  };
  const double middle = 0.5 * (from + to), at_middle = pushing(middle);
  look_between(from, at_from.push_up, middle, at_middle);
  look_between(middle, at_middle, to, at_to.push_up);
}

// many: both ends of a stretch of a frame, each with what is there
void MoveTracker::note_speed_peak(const ChannelFrame& frame, double since_start, double from, const Sample& at_from,
                                  double to, const Sample& at_to) {
  constexpr double at_rest = 1e-9;
  const bool from_rest = at_from.speed <= at_rest * std::max(at_to.speed, move_.peak_speed.value_or(0.0));
  for_each_maximum([&](double u) { return sample_within(frame, u).speed_up; }, from, at_from.speed_up, to,
                   at_to.speed_up, from_rest,
                   [&](double at) { note_speed(sample_within(frame, at), since_start + at); });
}

void MoveTracker::note_speed(const Sample& at, double time) {
  // Strictly faster, by more than rounding: of equal peaks the first is reported.
  if (at.speed <= move_.peak_speed.value_or(-1.0) * (1.0 + 1e-12)) return;
  move_.peak_speed = at.speed;
  move_.peak_speed_time = time;
  move_.peak_velocity = at.velocity[0];
}

void MoveTracker::note_progress(const Sample& at, double time) {
  // Beyond the goal by enough to say when, and from then on farther than before.
  constexpr double same = 1e-15;
  if (at.progress > 1.0 + std::max(least_overshoot, noise_) && at.progress > largest_progress_ + same) {
    largest_progress_ = at.progress;
    move_.peak_time = time;
    move_.peak_value = at.value;
  }
}

void MoveTracker::note_sideways(const ChannelFrame& frame, double from, const Sample& at_from, double to,
                                const Sample& at_to) {
  double farthest = std::max({move_.sideways.value_or(0.0), at_from.sideways, at_to.sideways});
  constexpr double on_the_line = 1e-9;
  for_each_maximum([&](double u) { return sample_within(frame, u).sideways_up; }, from, at_from.sideways_up, to,
                   at_to.sideways_up, at_from.sideways <= on_the_line * length_,
                   [&](double at) { farthest = std::max(farthest, sample_within(frame, at).sideways); });
  move_.sideways = farthest;
}

} // namespace stasis
