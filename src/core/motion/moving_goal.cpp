#include "core/motion/moving_goal.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {
namespace {

/// An eased move re-aims without a new start; over, or never begun, it is its goal.
Instant eased(const Ease& ease, const MoverState& state, double elapsed, double goal, double slope,
              Side side) noexcept {
  if (state.run == nullptr) return {goal, slope, 0.0, 0.0};
  return evaluate(ease, state.run->way, elapsed, goal, slope, side);
}

/// The least time to a goal that moves on steadily, planned anew: seen from the goal the limits differ by its speed.
SpringState paced(const Pace& pace, SpringState from, GoalSegment goal, double h) noexcept {
  const double slope = h > 0.0 ? (goal.end - goal.start) / h : 0.0, V = pace.speed;
  const double velocity = std::isfinite(from.velocity) ? from.velocity : 0.0;
  if (std::fabs(slope) >= V) { // it cannot be caught: after it at full speed
    const double fastest = std::copysign(V, slope);
    const double turning = std::min(h, std::fabs(fastest - velocity) / pace.acceleration);
    const double met = velocity + std::copysign(pace.acceleration * turning, fastest - velocity);
    const double reached = turning < h ? fastest : met;
    return {from.value + 0.5 * (velocity + reached) * turning + fastest * (h - turning), reached};
  }
  const PaceLeg leg =
      PaceLeg::plan(goal.start - from.value, velocity - slope, {V - slope, V + slope, pace.acceleration});
  if (leg.total <= h) return {goal.end, slope};
  const Instant now = evaluate(leg, h, Side::before);
  return {from.value + slope * h + now.value, slope + now.velocity};
}

void advance_chain_after(const Chain& chain, MoverState& state, StepMemory& memory, double elapsed, GoalSegment goal,
                         double h) {
  const double slope = h > 0.0 ? (goal.end - goal.start) / h : 0.0;
  Instant start{goal.start, slope, 0.0, 0.0}, end{goal.end, slope, 0.0, 0.0};
  if (const Ease* ease = ease_of(chain)) {
    start = eased(*ease, state, elapsed, goal.start, slope, Side::at);
    end = eased(*ease, state, elapsed + h, goal.end, slope, Side::before);
  } else if (chain.head) {
    const SpringState met = paced(std::get<Pace>(*chain.head), state.input, goal, h);
    start = {state.input.value, state.input.velocity, 0.0, 0.0};
    end = {met.value, met.velocity, 0.0, 0.0};
  }
  if (!chain.links.empty()) {
    // A step remembered from a standing goal takes no input.
    if (const auto* kept = std::get_if<std::shared_ptr<const LinkStep>>(&memory.step);
        kept != nullptr && !(*kept)->takes_input())
      memory = {};
    const auto& step = remembered<std::shared_ptr<const LinkStep>>(
        memory, h, [&] { return std::make_shared<const LinkStep>(chain, h, true); });
    step->advance(state.links, goal.end,
                  cubic_input(start.value - goal.end, start.velocity, end.value - goal.end, end.velocity, h));
  }
  state.input = {end.value, end.velocity};
  const Instant out = chain.links.empty() ? end : output_of(chain, state.links, end);
  state.value = out.value;
  state.velocity = out.velocity;
}

} // namespace

bool follows_moving_goals(const Motion& motion) noexcept {
  const auto* chain = std::get_if<Chain>(&motion);
  return chain == nullptr || chain->delay == 0.0 || !chain->head;
}

void advance_after(const Motion& motion, MoverState& state, StepMemory& memory, double run_elapsed, GoalSegment goal,
                   double h) {
  const double slope = h > 0.0 ? (goal.end - goal.start) / h : 0.0;
  if (const auto* glide = std::get_if<Glide>(&motion)) {
    const auto& step = remembered<GlideStep>(memory, h, [&] { return glide_step(*glide, h); });
    state.value = advance(step, state.value, goal);
    state.velocity = velocity(*glide, state.value, goal.end);
  } else if (const auto* spring = std::get_if<Spring>(&motion)) {
    const auto& step = remembered<SpringStep>(memory, h, [&] { return spring_step(*spring, h); });
    const SpringState now = advance(step, {state.value, state.velocity}, goal);
    state.value = now.value;
    state.velocity = now.velocity;
  } else if (const auto* ease = std::get_if<Ease>(&motion)) {
    const Instant now = eased(*ease, state, run_elapsed + h, goal.end, slope, Side::at);
    state.value = now.value;
    state.velocity = eased(*ease, state, run_elapsed + h, goal.end, slope, Side::before).velocity;
  } else if (const auto* pace = std::get_if<Pace>(&motion)) {
    const SpringState now = paced(*pace, {state.value, state.velocity}, goal, h);
    state.value = now.value;
    state.velocity = now.velocity;
  } else if (const auto* chain = std::get_if<Chain>(&motion)) {
    advance_chain_after(*chain, state, memory, run_elapsed, goal, h);
  } else if (const auto* rule = std::get_if<PerFrame>(&motion)) {
    update_once(*rule, state, goal.end, h);
  } else {
    state.value = goal.end;
    state.velocity = slope;
  }
}

double rate_at_start(const Motion& motion, const MoverState& state, double run_elapsed, double goal, double slope) {
  if (const auto* glide = std::get_if<Glide>(&motion)) return velocity(*glide, state.value, goal);
  if (const auto* ease = std::get_if<Ease>(&motion))
    return eased(*ease, state, run_elapsed, goal, slope, Side::at).velocity;
  if (std::holds_alternative<Cut>(motion)) return slope;
  const auto* chain = std::get_if<Chain>(&motion);
  if (chain == nullptr) return state.velocity;
  Instant input{goal, slope, 0.0, 0.0};
  if (const Ease* head = ease_of(*chain))
    input = eased(*head, state, run_elapsed, goal, slope, Side::at);
  else if (chain->head)
    input = {state.input.value, state.input.velocity, 0.0, 0.0};
  return chain->links.empty() ? input.velocity : output_of(*chain, state.links, input).velocity;
}

} // namespace stasis
