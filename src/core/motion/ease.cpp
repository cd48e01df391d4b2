#include "core/motion/ease.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {
namespace {

constexpr double never = std::numeric_limits<double>::infinity();

int legs_of(const Ease& ease, const EaseRun& run) noexcept {
  return run.once ? 1 : ease.repeat * (ease.there_and_back ? 2 : 1);
}

bool goes_back(const Ease& ease, const EaseRun& run, int leg) noexcept {
  return !run.once && ease.there_and_back && leg % 2 == 1;
}

/// A share of the time that misses a corner of the curve by a rounding is that corner: its two sides differ.
double at_corner(const Curve& curve, double share) noexcept {
  constexpr double rounding = 1e-12;
  const double corner = next_corner(curve, share - rounding);
  return std::fabs(corner - share) < rounding ? corner : share;
}

/// An elapsed time as a leg and the time within it; a sum may miss a boundary by a rounding, which must not mix its
/// two sides up.
struct Place {
  int leg;
  double within;
};

Place place_of(const Ease& ease, int legs, double elapsed, Side side) noexcept {
  const double D = ease.duration, since = elapsed - ease.delay;
  const double nearest = std::round(since / D);
  const bool on_boundary = std::fabs(since - nearest * D) < 1e-12 * std::max(D, elapsed);
  int leg = on_boundary ? static_cast<int>(std::min(nearest, static_cast<double>(legs)))
                        : static_cast<int>(std::min(std::floor(since / D), static_cast<double>(legs)));
  double within = on_boundary ? 0.0 : since - leg * D;
  if (on_boundary && side == Side::before) {
    --leg;
    within = D;
  }
  if (leg >= legs) return {legs, 0.0};
  return {leg, within};
}

} // namespace

double total_time(const Ease& ease, const EaseRun& run) noexcept {
  return ease.delay + ease.duration * legs_of(ease, run);
}

Instant evaluate(const Ease& ease, const EaseRun& run, double elapsed, double goal, double goal_velocity,
                 Side side) noexcept {
  const int legs = legs_of(ease, run);
  const auto [leg, within] = place_of(ease, legs, elapsed, side);
  if (leg < 0) return {run.from, 0.0, 0.0, 0.0};
  const bool over = leg >= legs;
  const bool back = goes_back(ease, run, over ? legs - 1 : leg);
  const double origin = back ? goal : run.from, end = back ? run.from : goal;
  const double end_velocity = back ? 0.0 : goal_velocity, origin_velocity = back ? goal_velocity : 0.0;
  if (over) {
    const double share = evaluate(ease.curve, 1.0).value;
    if (share == 1.0) return {end, end_velocity, 0.0, 0.0};
    return {origin + (end - origin) * share, origin_velocity + (end_velocity - origin_velocity) * share, 0.0, 0.0};
  }
  const CurvePoint p = evaluate(ease.curve, at_corner(ease.curve, within / ease.duration), side);
  const double gap = end - origin, rate = end_velocity - origin_velocity, D = ease.duration;
  if (gap == 0.0 && rate == 0.0) return {end, end_velocity, 0.0, 0.0};
  Instant now{origin + gap * p.value, origin_velocity + gap * p.slope / D, gap * p.bend / (D * D),
              gap * p.twist / (D * D * D)};
  if (rate == 0.0) return now; // a slope may be infinite, and nothing times infinity is no number
  now.velocity += rate * p.value;
  now.acceleration += 2.0 * rate * p.slope / D;
  now.jerk += 3.0 * rate * p.bend / (D * D);
  return now;
}

double next_break(const Ease& ease, const EaseRun& run, double elapsed) {
  const int legs = legs_of(ease, run);
  if (elapsed < ease.delay) return ease.delay;
  // What is missed by a rounding is the place itself, not the next one.
  const double after = elapsed + 1e-13 * std::max(elapsed, ease.duration);
  const int leg = static_cast<int>(std::min((after - ease.delay) / ease.duration, static_cast<double>(legs)));
  if (leg >= legs) return never;
  const double start = ease.delay + ease.duration * leg;
  const double corner = next_corner(ease.curve, (after - start) / ease.duration);
  return corner < 1.0 ? start + corner * ease.duration : start + ease.duration;
}

double next_turn(const Ease& ease, const EaseRun& run, double elapsed) noexcept {
  if (run.once || !ease.there_and_back) return never;
  const int legs = legs_of(ease, run);
  for (int leg = 1; leg < legs; ++leg)
    if (const double at = ease.delay + ease.duration * leg; at > elapsed) return at;
  return never;
}

double heading(const Ease& ease, const EaseRun& run, double elapsed) noexcept {
  const int legs = legs_of(ease, run);
  const int leg = std::clamp(place_of(ease, legs, elapsed, Side::at).leg, 0, legs - 1);
  return goes_back(ease, run, leg) ? run.from : run.to;
}

} // namespace stasis
