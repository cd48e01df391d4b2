#include "core/measure/coast_meter.hpp"

#include <cmath>

#include "core/measure/peak_meter.hpp"

namespace stasis {

CoastMeter::CoastMeter(const Scene& scene, std::size_t channel) : scene_(scene), channel_(channel) {
  const auto& controls = scene_.feel->controls;
  for (std::size_t c = 0; c < controls.size(); ++c) {
    const ComponentRef* target = target_of(controls[c]);
    const ControlFacts facts = facts_of(controls[c]);
    if (target == nullptr || target->channel != channel || !facts.base_runs()) continue;
    pushed_.push_back({c, target->component, facts.held_by == HeldBy::state});
  }
}

void CoastMeter::consume(const Block& block) {
  const ChannelBlock& columns = block.channels[channel_];
  for (Pushed& pushed : pushed_) {
    const bool is_pushed = block.pushed[pushed.control] != 0, lets_go = !pushed.is_held && is_pushed;
    if (is_pushed || columns.moved) end(pushed);
    const ComponentBlock& column = columns.component[pushed.component];
    const double start = scene_.clock.time(block.first);
    if (lets_go || (pushed.was_pushed && !is_pushed))
      pushed.coast = Coast{start, column.smooth[0], column.goal_at(0), start, true, start, 0.0};
    pushed.was_pushed = is_pushed && pushed.is_held;
    if (!pushed.coast) continue;
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row)
      go_on(pushed, scene_.clock.time(block.first + static_cast<std::int64_t>(row)), column.smooth[row],
            column.goal_at(row));
  }
}

void CoastMeter::go_on(Pushed& pushed, double time, double value, double goal) {
  Coast& coast = *pushed.coast;
  constexpr double band = 0.02; // of the way
  const double gap = std::fabs(value - goal), within = band * std::fabs(goal - coast.from);
  const bool is_outside = goal != coast.goal || gap > within;
  if (is_outside)
    coast.left_at = time;
  else if (coast.is_outside && coast.last_gap > gap) // straight between two frames
    coast.left_at =
        coast.last_time + (time - coast.last_time) * std::fmax(0.0, coast.last_gap - within) / (coast.last_gap - gap);
  coast.is_outside = is_outside;
  coast.goal = goal;
  coast.last_time = time;
  coast.last_gap = gap;
}

void CoastMeter::end(Pushed& pushed) {
  if (pushed.coast && !pushed.coast->is_outside) {
    keep_largest(sums_.time, pushed.coast->left_at - pushed.coast->let_go);
    keep_largest(sums_.distance, std::fabs(pushed.coast->goal - pushed.coast->from));
  }
  pushed.coast.reset();
}

CoastSummary CoastMeter::finish() {
  for (Pushed& pushed : pushed_) end(pushed);
  return sums_;
}

} // namespace stasis
