#include "core/motion/mover.hpp"

#include <utility>
#include <vector>

namespace stasis {

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
} // NOLINT(clang-analyzer-cplusplus.NewDeleteLeaks): the state keeps the run, and its memory with it

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
  std::visit([&](const auto& kind) { kind.fill(state, memory, stretch); }, motion);
}

LinkSteps& link_steps(StepMemory& memory) {
  if (!std::holds_alternative<LinkSteps>(memory.step)) memory.step.emplace<LinkSteps>();
  return *std::get_if<LinkSteps>(&memory.step);
}

// many: a rule, its state and memory, the time into it; the piece of a goal
double advance(const Motion& motion, MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) {
  return std::visit([&](const auto& kind) { return kind.go_on(state, memory, time, goal, h); }, motion);
}

double rate_at_start(const Motion& motion, const MoverState& state, double run_elapsed, double goal, double slope) {
  return std::visit([&](const auto& kind) { return kind.starting_rate(state, run_elapsed, goal, slope); }, motion);
}

bool follows_moving_goals(const Motion& motion) noexcept {
  const auto* chain = std::get_if<Chain>(&motion);
  return chain == nullptr || chain->delay == 0.0 || !chain->head;
}

} // namespace stasis
