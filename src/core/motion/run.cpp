// Eased, paced and led moves under way.
#include "core/motion/run.hpp"

#include <algorithm>
#include <limits>

#include "core/motion/led.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

Instant pace_instant(const Run& run, double elapsed, double goal, Side side) noexcept {
  const PacePlan& plan = run.pace;
  if (is_over(plan.along, elapsed, side) && is_over(plan.across, elapsed, side)) return {goal, 0.0, 0.0, 0.0};
  const Instant along = evaluate(plan.along, elapsed, side);
  const double a = plan.along_axis[run.axis];
  // Straight there, as most moves are; a zero that is added leaves no zero below it.
  if (plan.across.total == 0.0 && plan.across.gap == 0.0)
    return {run.way.from + a * along.value, a * along.velocity + 0.0, a * along.acceleration + 0.0, 0.0};
  const Instant across = evaluate(plan.across, elapsed, side);
  const double b = plan.across_axis[run.axis];
  return {run.way.from + a * along.value + b * across.value, a * along.velocity + b * across.velocity,
          a * along.acceleration + b * across.acceleration, 0.0};
}

} // namespace

Instant instant_of(const Ease* ease, const Run& run, double elapsed, const RunGoal& goal, Side side) noexcept {
  if (ease != nullptr) return evaluate(*ease, run.way, elapsed, goal.value, goal.velocity, side);
  if (run.led != nullptr) return evaluate(*run.led, elapsed, side);
  return pace_instant(run, elapsed, goal.value, side);
}

double next_break(const Ease* ease, const Run& run, double elapsed) {
  if (ease != nullptr) return next_break(*ease, run.way, elapsed);
  if (run.led != nullptr) return next_break(*run.led, elapsed);
  return std::min(next_phase(run.pace.along, elapsed), next_phase(run.pace.across, elapsed));
}

double rounding_at(const Ease* ease, const Run& run, double elapsed) noexcept {
  if (ease != nullptr) return rounding_at(*ease, run.way, elapsed);
  if (run.led != nullptr) return rounding_at(*run.led, elapsed);
  return 2.0 * std::max(rounding_at(run.pace.along, elapsed), rounding_at(run.pace.across, elapsed));
}

double total_time(const Ease* ease, const Run& run) noexcept {
  if (ease != nullptr) return total_time(*ease, run.way);
  return run.led != nullptr ? run.led->time.total() : std::max(run.pace.along.total, run.pace.across.total);
}

} // namespace stasis
