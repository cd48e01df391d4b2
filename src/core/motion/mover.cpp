#include "core/motion/mover.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace stasis {
namespace {

/// Steps within one eased move, so that the cubic between them follows any curve to below 1e-9 of the way.
constexpr double cubics_per_ease = 256.0;
constexpr int most_cubics_per_step = 1024;

void fill_cut(MoverState& state, double goal, const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  for (std::size_t i = 0; i <= count; ++i) {
    rows.value[i] = i == 0 ? state.value : goal;
    rows.velocity[i] = 0.0;
  }
  state.value = rows.value[count];
  state.velocity = 0.0;
}

void fill_glide(const Glide& glide, MoverState& state, const GlideStep& step, double goal,
                const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  double value = state.value;
  for (std::size_t i = 0; i <= count; ++i) {
    rows.value[i] = value;
    rows.velocity[i] = velocity(glide, value, goal);
    if (i < count) value = advance(step, value, {goal, goal});
  }
  state.value = value;
  state.velocity = rows.velocity[count];
}

void fill_spring(MoverState& state, const SpringStep& step, double goal, const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  SpringState now{state.value, state.velocity};
  for (std::size_t i = 0; i <= count; ++i) {
    rows.value[i] = now.value;
    rows.velocity[i] = now.velocity;
    if (i < count) now = advance(step, now, {goal, goal});
  }
  state.value = now.value;
  state.velocity = now.velocity;
}

void fill_run(const Ease* ease, MoverState& state, const Clock& clock, std::int64_t first, double goal,
              const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  for (std::size_t i = 0; i <= count; ++i) {
    Instant now{state.value, 0.0, 0.0, 0.0};
    if (state.run != nullptr) {
      const double elapsed = state.run->elapsed(clock, first + static_cast<std::int64_t>(i));
      // The last entry still belongs to the frame before it: the speed of arrival is on. Its value is that from there
      // on, since the row which it leads to shows it.
      now = instant_of(ease, *state.run, elapsed, {goal, 0.0});
      if (i == count && i > 0) now.velocity = instant_of(ease, *state.run, elapsed, {goal, 0.0}, Side::before).velocity;
    }
    rows.value[i] = i == 0 ? state.value : now.value;
    rows.velocity[i] = now.velocity;
    state.value = rows.value[i];
  }
  state.velocity = rows.velocity[count];
}

template<class Rule>
void fill_rule(const Rule& rule, MoverState& state, const Clock& clock, std::int64_t first, double goal,
               const MoverRows& rows) noexcept {
  const std::size_t count = rows.value.size() - 1;
  SpringState now{state.value, std::isfinite(state.velocity) ? state.velocity : 0.0};
  rows.value[0] = now.value;
  rows.velocity[0] = 0.0;
  for (std::size_t i = 0; i < count; ++i) {
    const double dt = clock.dt(first + static_cast<std::int64_t>(i)), before = now.value;
    now = updated(rule, now, goal, dt);
    rows.value[i + 1] = now.value;
    rows.velocity[i] = dt > 0.0 ? (now.value - before) / dt : 0.0;
  }
  // The last one's is that just before the end.
  rows.velocity[count] = count > 0 ? rows.velocity[count - 1] : 0.0;
  state.value = now.value;
  state.velocity = std::is_same_v<Rule, SpringStepRule> ? now.velocity : rows.velocity[count];
}

void fill_per_frame(const PerFrame& frames, MoverState& state, const Clock& clock, std::int64_t first, double goal,
                    const MoverRows& rows) noexcept {
  std::visit([&](const auto& rule) { fill_rule(rule, state, clock, first, goal, rows); }, frames.rule);
}

// --- Stages ---

/// What the first link of a chain follows, `elapsed` seconds into the run.
Instant input_of(const Chain& chain, const MoverState& state, double elapsed, double goal, Side side) noexcept {
  if (!chain.head) return {goal, 0.0, 0.0, 0.0};
  if (state.run == nullptr) return {state.input.value, 0.0, 0.0, 0.0};
  return instant_of(ease_of(chain), *state.run, elapsed, {goal, 0.0}, side);
}

/// One stretch without a break of the input, `elapsed` seconds into the run.
template<class StepOf>
void advance_unbroken(const Chain& chain, MoverState& state, double elapsed, double goal, double h, StepOf step_of) {
  const bool standing = !chain.head || state.run == nullptr || elapsed >= total_time(ease_of(chain), *state.run);
  const Ease* ease = ease_of(chain);
  const int parts =
      standing || ease == nullptr
          ? 1
          : std::clamp(static_cast<int>(std::ceil(h * cubics_per_ease / ease->duration)), 1, most_cubics_per_step);
  const double width = h / parts;
  const LinkStep& step = step_of(width);
  for (int p = 0; p < parts; ++p) {
    const Instant a = input_of(chain, state, elapsed + width * p, goal, Side::at);
    const Instant b = input_of(chain, state, elapsed + width * (p + 1), goal, Side::before);
    step.advance(state.links, goal, cubic_input(a.value - goal, a.velocity, b.value - goal, b.velocity, width));
  }
}

template<class StepOf>
void advance_chain(const Chain& chain, MoverState& state, double elapsed, double goal, double h, StepOf step_of) {
  if (h == 0.0) return;
  if (!chain.links.empty()) {
    double done = 0.0;
    while (done < h) {
      double to = h;
      if (chain.head && state.run != nullptr) {
        const double next = next_break(ease_of(chain), *state.run, elapsed + done) - elapsed;
        if (next > done && next < h) to = next;
      }
      advance_unbroken(chain, state, elapsed + done, goal, to - done, step_of);
      done = to;
    }
  }
  const Instant input = input_of(chain, state, elapsed + h, goal, Side::at);
  state.input = {input.value, input.velocity};
}

Instant output_at(const Chain& chain, const MoverState& state, double elapsed, double goal, Side side) noexcept {
  const Instant input = input_of(chain, state, elapsed, goal, side);
  return chain.links.empty() ? input : output_of(chain, state.links, input);
}

void fill_chain(const Chain& chain, MoverState& state, StepMemory& memory, const Clock& clock, std::int64_t first,
                double goal, const MoverRows& rows) {
  const std::size_t count = rows.value.size() - 1;
  const auto step_of = [&](double h) -> const LinkStep& {
    return *remembered<std::shared_ptr<const LinkStep>>(memory, h,
                                                        [&] { return std::make_shared<const LinkStep>(chain, h); });
  };
  const auto elapsed_at = [&](std::size_t i) {
    return state.run != nullptr ? state.run->elapsed(clock, first + static_cast<std::int64_t>(i)) : 0.0;
  };
  for (std::size_t i = 0; i <= count; ++i) {
    const double elapsed = elapsed_at(i);
    if (i > 0) state.value = output_at(chain, state, elapsed, goal, Side::at).value;
    state.velocity = output_at(chain, state, elapsed, goal, i == count && i > 0 ? Side::before : Side::at).velocity;
    rows.value[i] = state.value;
    rows.velocity[i] = state.velocity;
    if (!rows.stages.empty()) rows.stages[i] = {state.input, state.links};
    if (i < count) advance_chain(chain, state, elapsed, goal, clock.dt(first + static_cast<std::int64_t>(i)), step_of);
  }
}

} // namespace

MoverState state_at_rest(double value) noexcept {
  MoverState state;
  state.value = value;
  state.input = {value, 0.0};
  state.links.fill({value, 0.0});
  return state;
}

void adopt(const Motion& motion, MoverState& state) noexcept {
  const double velocity = std::isfinite(state.velocity) ? state.velocity : 0.0;
  MoverState fresh = state_at_rest(state.value);
  fresh.velocity = velocity;
  const auto* chain = std::get_if<Chain>(&motion);
  if (chain != nullptr && !chain->links.empty())
    fresh.links[chain->links.size() - 1].velocity = velocity;
  else
    fresh.input.velocity = velocity;
  state = std::move(fresh);
}

SpringState pace_start(const Motion& motion, const MoverState& state) noexcept {
  return std::holds_alternative<Chain>(motion) ? state.input : SpringState{state.value, state.velocity};
}

void begin_move(const Motion& motion, MoverState& state, const MoveStart& start) {
  const Pace* pace = pace_of(motion);
  if (pace == nullptr && ease_of(motion) == nullptr) return;
  const SpringState from = pace_start(motion, state);
  auto run = std::make_shared<Run>();
  run->start_frame = start.frame;
  run->offset = start.offset;
  run->way.from = from.value;
  run->way.to = start.goal;
  run->way.once = start.once;
  if (const Ease* ease = ease_of(motion); ease != nullptr)
    run->way =
        begin_ease(*ease, {from.value, start.goal, start.old_goal, from.velocity, start.low, start.high, start.once});
  if (pace != nullptr) {
    run->axis = start.plan != nullptr ? start.axis : 0;
    run->pace = start.plan != nullptr
                    ? *start.plan
                    : plan_pace(*pace, {start.goal - from.value, 0.0, 0.0}, {from.velocity, 0.0, 0.0});
  }
  state.run = std::move(run);
}

namespace {

/// Calls `fill` for each stretch of frames that are equally long: all of them on a steady clock, else one by one.
template<class Fill> void fill_steady(const Clock& clock, std::int64_t first, const MoverRows& rows, const Fill& fill) {
  if (clock.is_steady()) return fill(clock.usual_dt(), rows);
  for (std::size_t i = 0; i + 1 < rows.value.size(); ++i)
    fill(clock.dt(first + static_cast<std::int64_t>(i)),
         MoverRows{rows.value.subspan(i, 2), rows.velocity.subspan(i, 2), {}});
}

} // namespace

double update_once(const PerFrame& rule, MoverState& state, double goal, double dt) noexcept {
  const double before = state.value;
  const SpringState now = update(rule.rule, {before, std::isfinite(state.velocity) ? state.velocity : 0.0}, goal, dt);
  state.value = now.value;
  state.velocity = now.velocity;
  return dt > 0.0 ? (now.value - before) / dt : 0.0;
}

void advance_rows(const Motion& motion, MoverState& state, StepMemory& memory, const Clock& clock, std::int64_t first,
                  double goal, const MoverRows& rows) {
  if (const auto* glide = std::get_if<Glide>(&motion)) {
    fill_steady(clock, first, rows, [&](double dt, const MoverRows& stretch) {
      fill_glide(*glide, state, remembered<GlideStep>(memory, dt, [&] { return glide_step(*glide, dt); }), goal,
                 stretch);
    });
  } else if (const auto* spring = std::get_if<Spring>(&motion)) {
    fill_steady(clock, first, rows, [&](double dt, const MoverRows& stretch) {
      fill_spring(state, remembered<SpringStep>(memory, dt, [&] { return spring_step(*spring, dt); }), goal, stretch);
    });
  } else if (const auto* chain = std::get_if<Chain>(&motion)) {
    fill_chain(*chain, state, memory, clock, first, goal, rows);
  } else if (const auto* rule = std::get_if<PerFrame>(&motion)) {
    fill_per_frame(*rule, state, clock, first, goal, rows);
  } else if (std::holds_alternative<Cut>(motion)) {
    fill_cut(state, goal, rows);
  } else {
    fill_run(std::get_if<Ease>(&motion), state, clock, first, goal, rows);
  }
}

void advance_by(const Motion& motion, MoverState& state, double run_elapsed, double goal, double h) {
  const auto* chain = std::get_if<Chain>(&motion);
  if (chain == nullptr || h == 0.0) return; // only stages have delays, and so steps that are not whole frames
  std::optional<LinkStep> step;
  const auto step_of = [&](double width) -> const LinkStep& { return step.emplace(*chain, width); };
  advance_chain(*chain, state, run_elapsed, goal, h, step_of);
  const Instant now = output_at(*chain, state, run_elapsed + h, goal, Side::at);
  state.value = now.value;
  state.velocity = now.velocity;
}

Instant instant_in_chain(const Chain& chain, MoverState state, double elapsed, double goal, double u, Side side) {
  std::optional<LinkStep> step;
  advance_chain(chain, state, elapsed, goal, u, [&](double h) -> const LinkStep& { return step.emplace(chain, h); });
  return output_at(chain, state, elapsed + u, goal, side);
}

} // namespace stasis
