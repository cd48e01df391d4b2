#include "core/motion/mover.hpp"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

#include "core/motion/chain_input.hpp"
#include "core/overloaded.hpp"

namespace stasis {
namespace {

/// A stretch of frames behind a goal that stands.
struct Stretch {
  const Clock& clock;
  std::int64_t first; // frame
  double goal;
  const MoverRows& rows;

  std::size_t count() const noexcept { return rows.value.size() - 1; }
  std::int64_t frame(std::size_t i) const noexcept { return first + static_cast<std::int64_t>(i); }
};

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

void fill_run(const Ease* ease, MoverState& state, const Stretch& stretch) noexcept {
  const auto& [clock, first, goal, rows] = stretch;
  const std::size_t count = stretch.count();
  for (std::size_t i = 0; i <= count; ++i) {
    Instant now{state.value, 0.0, 0.0, 0.0};
    double rate = 0.0;
    if (state.run != nullptr) {
      const double elapsed = state.run->elapsed(clock, stretch.frame(i));
      // The last entry still belongs to the frame before it: the speed of arrival is on. Its value is that from there
      // on, since the row which it leads to shows it.
      now = instant_of(ease, *state.run, elapsed, {goal, 0.0});
      rate = i == count && i > 0 ? instant_of(ease, *state.run, elapsed, {goal, 0.0}, Side::before).velocity
                                 : now.velocity;
    }
    if (i > 0) state.value = now.value;
    state.velocity = now.velocity;
    rows.value[i] = state.value;
    rows.velocity[i] = rate;
  }
}

template<class Rule> void fill_rule(const Rule& rule, MoverState& state, const Stretch& stretch) noexcept {
  const auto& [clock, first, goal, rows] = stretch;
  const std::size_t count = stretch.count();
  SpringState now{state.value, std::isfinite(state.velocity) ? state.velocity : 0.0};
  rows.value[0] = now.value;
  rows.velocity[0] = 0.0;
  for (std::size_t i = 0; i < count; ++i) {
    const double dt = clock.dt(stretch.frame(i)), before = now.value;
    now = updated(rule, now, goal, dt);
    rows.value[i + 1] = now.value;
    rows.velocity[i] = dt > 0.0 ? (now.value - before) / dt : 0.0;
  }
  // The last one's is that just before the end.
  rows.velocity[count] = count > 0 ? rows.velocity[count - 1] : 0.0;
  state.value = now.value;
  state.velocity = std::is_same_v<Rule, SpringStepRule> ? now.velocity : rows.velocity[count];
}

void fill_per_frame(const PerFrame& frames, MoverState& state, const Stretch& stretch) noexcept {
  std::visit([&](const auto& rule) { fill_rule(rule, state, stretch); }, frames.rule);
}

/// What comes out of stages, the input of their links being `input`.
Instant output_of(const Chain& chain, const LinkStates& links, const Instant& input) noexcept {
  return chain.links.empty() ? input : output_of(chain.links, links, input);
}

/// Stages after a step: their state just after its end. \returns the rate just before it.
double take_step(const Chain& chain, MoverState& state, const InputEnd& end) noexcept {
  const Instant out = output_of(chain, state.links, end.at);
  state.input = {end.at.value, end.at.velocity};
  state.value = out.value;
  state.velocity = out.velocity;
  return output_of(chain, state.links, end.before).velocity;
}

/// Stages without a head, whose goal stands: nothing but their links moves.
void fill_links(const Chain& chain, MoverState& state, StepMemory& memory, const Stretch& stretch) {
  const auto& [clock, first, goal, rows] = stretch;
  const std::size_t count = stretch.count(), last = chain.links.size() - 1;
  LinkSteps& steps = link_steps(memory);
  const double first_value = state.value;
  if (count > 0 && clock.is_steady() && rows.stages.empty()) {
    steps.of(chain.links, clock.dt(first), InputParts::none)
        .advance_rows(chain.links, state.links, goal, rows.value, rows.velocity);
    state.input = {goal, 0.0};
  } else {
    const auto* const glide = std::get_if<Glide>(&chain.links[last]);
    const double& driver = last > 0 ? state.links[last - 1].value : goal;
    SpringState& out = state.links[last];
    for (std::size_t i = 0;; ++i) {
      rows.value[i] = out.value;
      rows.velocity[i] = glide != nullptr ? glide->rate * (driver - out.value) : out.velocity;
      if (!rows.stages.empty()) rows.stages[i] = {state.input, state.links};
      if (i == count) break;
      steps.of(chain.links, clock.dt(stretch.frame(i)), InputParts::none).advance_standing(state.links, goal);
      state.input = {goal, 0.0};
    }
  }
  rows.value[0] = first_value; // as it was shown: the last link may be a rounding off it
  state.value = rows.value[count];
  state.velocity = rows.velocity[count];
}

void fill_chain(const Chain& chain, MoverState& state, StepMemory& memory, const Stretch& stretch) {
  if (!chain.head && !chain.links.empty()) return fill_links(chain, state, memory, stretch);
  const auto& [clock, first, goal, rows] = stretch;
  const std::size_t count = stretch.count();
  LinkSteps& steps = link_steps(memory);
  const GoalSegment standing{goal, goal};
  InputEnd now{};
  double rate = 0.0;
  for (std::size_t i = 0;; ++i) {
    const std::int64_t frame = stretch.frame(i);
    const double elapsed = state.run != nullptr ? state.run->elapsed(clock, frame) : 0.0;
    const double dt = i < count ? clock.dt(frame) : 0.0;
    ChainInput input(chain, state, elapsed, standing, dt);
    if (state.run != nullptr && i < count) input.end_at(state.run->elapsed(clock, frame + 1));
    if (i == 0) {
      now.at = input.at(0.0);
      state.velocity = output_of(chain, state.links, now.at).velocity;
    }
    rows.value[i] = state.value;
    // The last entry still belongs to the frame before it: the speed of arrival is on.
    rows.velocity[i] = i == count && i > 0 ? rate : state.velocity;
    if (!rows.stages.empty()) rows.stages[i] = {state.input, state.links};
    if (i == count) return;
    now = advance_links(chain, state.links, input, now.at, dt, steps);
    rate = take_step(chain, state, now);
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
  const double velocity = finite_or_zero(state.velocity);
  MoverState fresh = state_at_rest(state.value);
  fresh.velocity = velocity;
  const auto* chain = std::get_if<Chain>(&motion);
  if (chain != nullptr && !chain->links.empty())
    fresh.links[chain->links.size() - 1].velocity = velocity;
  else
    fresh.input.velocity = velocity;
  state = std::move(fresh);
}

bool carry_alike(const Motion& a, const Motion& b) noexcept {
  if (a.index() != b.index()) return false;
  const Chain* one = std::get_if<Chain>(&a);
  const Chain* other = std::get_if<Chain>(&b);
  return one == nullptr || other == nullptr || one->links.size() == other->links.size();
}

SpringState pace_start(const Motion& motion, const MoverState& state) noexcept {
  return std::holds_alternative<Chain>(motion) ? state.input : SpringState{state.value, state.velocity};
}

/// Places of one size, that of a run with its count of owners; those given back are given out again.
class RunPool::Memory {
public:
  Memory() = default;
  Memory(const Memory&) = delete;
  Memory& operator=(const Memory&) = delete;
  ~Memory() {
    for (void* place : free_) ::operator delete(place);
  }

  void* take(std::size_t size) {
    if (free_.empty()) {
      free_.reserve(++made_); // so that giving one back needs no memory
      return ::operator new(size);
    }
    void* const place = free_.back();
    free_.pop_back();
    return place;
  }
  void give_back(void* place) noexcept { free_.push_back(place); }

  /// An allocator that keeps its pool there for as long as what it has made.
  template<class T> class Allocator {
  public:
    using value_type = T;
    explicit Allocator(std::shared_ptr<Memory> memory) : memory_(std::move(memory)) {}
    template<class Other> Allocator(const Allocator<Other>& other) : memory_(other.memory()) {}

    T* allocate(std::size_t) { return static_cast<T*>(memory_->take(sizeof(T))); }
    void deallocate(T* place, std::size_t) noexcept { memory_->give_back(place); }
    const std::shared_ptr<Memory>& memory() const noexcept { return memory_; }
    template<class Other> bool operator==(const Allocator<Other>& other) const noexcept {
      return memory_ == other.memory();
    }

  private:
    std::shared_ptr<Memory> memory_;
  };

private:
  std::vector<void*> free_;
  std::size_t made_ = 0;
};

std::shared_ptr<Run> RunPool::make() {
  if (memory_ == nullptr) memory_ = std::make_shared<Memory>();
  return std::allocate_shared<Run>(Memory::Allocator<Run>(memory_));
}

void begin_move(const Motion& motion, MoverState& state, const MoveStart& start) {
  const Pace* pace = pace_of(motion);
  if (pace == nullptr && ease_of(motion) == nullptr) return;
  const SpringState from = pace_start(motion, state);
  auto run = start.runs != nullptr ? start.runs->make() : std::make_shared<Run>();
  run->start_frame = start.frame;
  run->offset = start.offset;
  run->way.from = from.value;
  run->way.to = start.goal;
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

/// Calls `fill` for each run of frames that are equally long: all of them on a steady clock, else one by one.
template<class Fill> void fill_steady(const Stretch& stretch, const Fill& fill) {
  const auto& [clock, first, goal, rows] = stretch;
  if (clock.is_steady()) return fill(clock.usual_dt(), rows);
  for (std::size_t i = 0; i < stretch.count(); ++i)
    fill(clock.dt(stretch.frame(i)), MoverRows{rows.value.subspan(i, 2), rows.velocity.subspan(i, 2), {}});
}

} // namespace

double update_once(const PerFrame& rule, MoverState& state, double goal, double dt) noexcept {
  const double before = state.value;
  const SpringState now = update(rule.rule, {before, std::isfinite(state.velocity) ? state.velocity : 0.0}, goal, dt);
  state.value = now.value;
  state.velocity = now.velocity;
  return dt > 0.0 ? (now.value - before) / dt : 0.0;
}

// many: what moves, its state and memory; and which frames, behind which goal, into which rows
void advance_rows(const Motion& motion, MoverState& state, StepMemory& memory, const Clock& clock, std::int64_t first,
                  double goal, const MoverRows& rows) {
  const Stretch stretch{clock, first, goal, rows};
  const auto go_on = Overloaded{
      [&](const Cut&) { fill_cut(state, goal, rows); },
      [&](const Glide& glide) {
        fill_steady(stretch, [&](double dt, const MoverRows& even) {
          fill_glide(glide, state, remembered<GlideStep>(memory, dt, [&] { return glide_step(glide, dt); }), goal,
                     even);
        });
      },
      [&](const Spring& spring) {
        fill_steady(stretch, [&](double dt, const MoverRows& even) {
          fill_spring(state, remembered<SpringStep>(memory, dt, [&] { return spring_step(spring, dt); }), goal, even);
        });
      },
      [&](const Ease& ease) { fill_run(&ease, state, stretch); },
      [&](const Pace&) { fill_run(nullptr, state, stretch); },
      [&](const Chain& chain) { fill_chain(chain, state, memory, stretch); },
      [&](const PerFrame& rule) { fill_per_frame(rule, state, stretch); },
      [&](const Led&) { fill_run(nullptr, state, stretch); },
  };
  std::visit(go_on, motion);
}

LinkSteps& link_steps(StepMemory& memory) {
  if (!std::holds_alternative<LinkSteps>(memory.step)) memory.step.emplace<LinkSteps>();
  return *std::get_if<LinkSteps>(&memory.step);
}

// many: a rule, its state and the time into it; the piece of a goal; where in it, on which side
Instant instant_in_chain(const Chain& chain, const MoverState& state, double elapsed, GoalSegment goal, double h,
                         double u, Side side) {
  const ChainInput input(chain, state, elapsed, goal, h);
  const Instant start = input.at(0.0);
  if (chain.links.empty()) return input.at(u, side);
  if (u == 0.0) return output_of(chain.links, state.links, start);
  LinkStates links = state.links;
  LinkSteps steps;
  const InputEnd end = advance_links(chain, links, input, start, u, steps);
  return output_of(chain.links, links, side == Side::at ? end.at : end.before);
}

namespace {

/// An eased move re-aims without a new start; over, or never begun, it is its goal.
// many: a rule, its state and the time into it; the goal and how it goes; which side of an instant
Instant eased(const Ease& ease, const MoverState& state, double elapsed, double goal, double slope,
              Side side) noexcept {
  if (state.run == nullptr) return {slope == 0.0 ? state.value : goal, slope, 0.0, 0.0};
  return evaluate(ease, state.run->way, elapsed, goal, slope, side);
}

/// A pace whose goal moves, or has just moved, is planned from where it is.
/// \param s into the piece of `h` s, \param elapsed s since the run began, then.
// many: a rule, its state and the time into it; the piece of a goal; where in it, on which side
Instant paced(const Pace& pace, const MoverState& state, double elapsed, GoalSegment goal, double h, double s,
              Side side) noexcept {
  if (goal.end != goal.start || state.run == nullptr)
    return PaceChase(pace, state.value, finite_or_zero(state.velocity), goal, h).at(s, side);
  return instant_of(nullptr, *state.run, elapsed, {goal.end, 0.0}, side);
}

} // namespace

// many: a rule, its state and memory, the time into it; the piece of a goal
double advance(const Motion& motion, MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) {
  const double slope = h > 0.0 ? (goal.end - goal.start) / h : 0.0;
  const auto go_to = [&](const Instant& before, const Instant& at) {
    state.value = at.value;
    state.velocity = at.velocity;
    return before.velocity;
  };
  const auto go_on = Overloaded{
      [&](const Cut&) {
        state.value = goal.end;
        return state.velocity = slope;
      },
      [&](const Glide& glide) {
        const auto& step = remembered<GlideStep>(memory, h, [&] { return glide_step(glide, h); });
        state.value = advance(step, state.value, goal);
        return state.velocity = velocity(glide, state.value, goal.end);
      },
      [&](const Spring& spring) {
        const auto& step = remembered<SpringStep>(memory, h, [&] { return spring_step(spring, h); });
        const SpringState now = advance(step, {state.value, state.velocity}, goal);
        state.value = now.value;
        return state.velocity = now.velocity;
      },
      [&](const Ease& ease) {
        return go_to(eased(ease, state, time.end, goal.end, slope, Side::before),
                     eased(ease, state, time.end, goal.end, slope, Side::at));
      },
      [&](const Pace& pace) {
        const Instant before = paced(pace, state, time.end, goal, h, h, Side::before);
        const double rate = go_to(before, paced(pace, state, time.end, goal, h, h, Side::at));
        if (goal.end != goal.start) state.run.reset(); // what was planned for a goal that stood is no longer so
        return rate;
      },
      [&](const Chain& chain) {
        if (h == 0.0) return state.velocity;
        ChainInput input(chain, state, time.begin, goal, h);
        input.end_at(time.end);
        const double rate =
            take_step(chain, state, advance_links(chain, state.links, input, input.at(0.0), h, link_steps(memory)));
        if (goal.end != goal.start && chain.head && ease_of(chain) == nullptr) state.run.reset();
        return rate;
      },
      [&](const PerFrame& rule) { return update_once(rule, state, goal.end, h); },
      [&](const Led&) {
        return go_to(instant_of(nullptr, *state.run, time.end, {goal.end, 0.0}, Side::before),
                     instant_of(nullptr, *state.run, time.end, {goal.end, 0.0}));
      },
  };
  return std::visit(go_on, motion);
}

double rate_at_start(const Motion& motion, const MoverState& state, double run_elapsed, double goal, double slope) {
  const GoalSegment run{goal, goal + slope};
  const auto rate = Overloaded{
      [&](const Cut&) { return slope; },
      [&](const Glide& glide) { return velocity(glide, state.value, goal); },
      [&](const Spring&) { return state.velocity; },
      [&](const Ease& ease) { return eased(ease, state, run_elapsed, goal, slope, Side::at).velocity; },
      [&](const Pace& pace) { return paced(pace, state, run_elapsed, run, 1.0, 0.0, Side::at).velocity; },
      [&](const Chain& chain) { return instant_in_chain(chain, state, run_elapsed, run, 1.0, 0.0, Side::at).velocity; },
      [&](const PerFrame&) { return state.velocity; },
      [&](const Led&) {
        return instant_of(nullptr, *state.run, run_elapsed, {goal, 0.0}).velocity;
      },
  };
  return std::visit(rate, motion);
}

bool follows_moving_goals(const Motion& motion) noexcept {
  const auto* chain = std::get_if<Chain>(&motion);
  return chain == nullptr || chain->delay == 0.0 || !chain->head;
}

} // namespace stasis
