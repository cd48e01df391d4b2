#include "core/search/stress_watch.hpp"

#include <algorithm>
#include <cmath>

#include "core/curve/curve.hpp"
#include "core/feel/goal_source.hpp"
#include "core/overloaded.hpp"

namespace stasis {
namespace {

/// A motion that lets no speed jump when its goal does; `taken_over`: nor when it takes over from another.
bool keeps_speed(const Motion& motion, bool taken_over) {
  const MotionTraits traits = traits_of(motion);
  return taken_over ? traits.takes_speed_over : traits.keeps_speed;
}

/// Of what a component can do at most, so small a share is rest.
constexpr double still_share = 1e-3;

double span_of(const Channel& channel, std::size_t component, const NamedValues& named) {
  const ComponentRange range = channel.range[component];
  if (std::isfinite(range.high - range.low)) return range.high - range.low;
  const double widest = named.values.empty() ? 0.0 : named.values.back() - named.values.front();
  return widest > 0.0 ? widest : std::max(1.0, std::fabs(channel.rest[component]));
}

} // namespace

void StressWatch::begin(const Scene& scene) {
  scene_ = scene;
  is_led_ = channels_that_never_rest(*scene.feel);
  for (const Channel& channel : scene.feel->channels) {
    last_.emplace_back(channel.components);
    gaps_.emplace_back(channel.components, 0.0);
  }
  const std::size_t things = std::max(scene.feel->channels.size(), scene.feel->controls.size());
  seen_.assign(trouble_count * things, 0);
}

void StressWatch::note(Trouble trouble, std::size_t about, double value, double time) {
  const std::size_t things = seen_.size() / trouble_count;
  std::uint8_t& seen = seen_[static_cast<std::size_t>(trouble) * things + about];
  if (std::exchange(seen, std::uint8_t{1}) == 0) found_.push_back({trouble, about, value, time});
}

void StressWatch::consume(const Block& block) {
  for (const std::size_t control : block.lost_presses)
    note(Trouble::lost_press, control, 0.0, scene_.clock.time(block.first));
  for (const std::size_t control : block.runs_to_end)
    note(Trouble::double_press, control, 0.0, scene_.clock.time(block.first));
  for (std::size_t c = 0; c < last_.size(); ++c)
    for (std::size_t i = 0; i < last_[c].size(); ++i) {
      look_at(c, i, block);
      look_for_overshoot(c, i, block);
    }
}

std::vector<std::vector<double>> StressWatch::last_wishes() const {
  std::vector<std::vector<double>> wishes;
  for (const auto& channel : last_) {
    auto& components = wishes.emplace_back();
    for (const Last& last : channel) components.push_back(last.wish);
  }
  return wishes;
}

/// A per-frame rule goes beyond a goal that stands, or a stepped spring swings out farther than an exact one can.
void StressWatch::look_for_overshoot(std::size_t c, std::size_t i, const Block& block) {
  const ComponentBlock& column = block.channels[c].component[i];
  const auto* frames = std::get_if<PerFrame>(&scene_.feel->motions[column.motion].motion);
  if (frames == nullptr || column.moves()) return;
  const SpaceMap& space = scene_.feel->channels[c].space;
  const double goal = column.acting_state;
  const auto off_goal = [&](std::size_t row) {
    return std::fabs(from_space(space, column.state[row]) - from_space(space, goal));
  };
  if (block.channels[c].moved || column.arrived) gaps_[c][i] = off_goal(0);
  constexpr double seen_of_move = 0.01;
  const double least = seen_of_move * gaps_[c][i];
  const auto goes_beyond = [&](std::size_t row) {
    return (goal - column.state[row]) * (goal - column.state[row + 1]) < 0.0;
  };
  // A damped spring's energy never grows; rules that step it let it vary by less than this as long as they are sound.
  constexpr double grows = 4.0;
  const auto energy_of = [&](const SpringStepRule& spring, std::size_t row) {
    const double gap = goal - column.state[row];
    return spring.stiffness * gap * gap + column.rate[row] * column.rate[row];
  };
  const auto overshoots = [&](std::size_t row) {
    return std::visit(
        Overloaded{
            [&](const FractionRule&) { return goes_beyond(row); },
            [&](const ProductRule&) { return goes_beyond(row); },
            [](const AmountRule&) { return false; }, // it stops at its goal
            [&](const SpringStepRule& spring) { return energy_of(spring, row + 1) > grows * energy_of(spring, 0); },
        },
        frames->rule);
  };
  for (std::size_t row = 0; row + 1 < column.state.size(); ++row)
    if (off_goal(row + 1) > least && overshoots(row))
      return note(Trouble::overshoot, c, from_space(space, column.state[row + 1]),
                  scene_.clock.time(block.first + static_cast<std::int64_t>(row)));
}

void StressWatch::look_at(std::size_t c, std::size_t i, const Block& block) {
  const Channel& channel = scene_.feel->channels[c];
  const ComponentBlock& column = block.channels[c].component[i];
  const ComponentRange range = output_range(channel, i);
  const auto count = static_cast<std::size_t>(block.count);
  for (std::size_t row = 0; row < count; ++row) {
    const double value = column.smooth[row]; // a shake may leave the range
    if (value >= range.low && value <= range.high) continue;
    note(std::isfinite(value) ? Trouble::out_of_range : Trouble::no_number, c, value,
         scene_.clock.time(block.first + static_cast<std::int64_t>(row)));
  }
  const bool taken_over = column.motion != last_[c][i].motion;
  if (block.channels[c].moved && block.first > 0
      && keeps_speed(scene_.feel->motions[column.motion].motion, taken_over)) {
    const double jump = std::fabs(column.rate[0] - column.rate_before);
    if (jump > 1e-6 * std::max(1.0, std::fabs(column.rate_before)))
      note(Trouble::jolt, c, jump, scene_.clock.time(block.first));
  }
  const ComponentRange held = goal_range(channel, i);
  last_[c][i] = {column.smooth[count - 1],
                 std::clamp(column.moves() ? column.wishes[count - 1] : column.wish, held.low, held.high),
                 column.goal_at(count - 1), column.velocity[count - 1], column.motion};
}

void StressWatch::end() {
  const double time = scene_.clock.time(scene_.clock.frames - 1);
  for (std::size_t c = 0; c < last_.size(); ++c)
    for (std::size_t i = 0; i < last_[c].size() && !is_led_[c]; ++i) {
      const Last& last = last_[c][i];
      const double span = span_of(scene_.feel->channels[c], i, named_[c][i]);
      if (!named_[c][i].hold(last.wish)) note(Trouble::in_between, c, last.value, time);
      const bool is_still = std::fabs(last.velocity) <= still_share * span;
      if (!is_still)
        note(Trouble::still_moving, c, last.value, time);
      else if (std::fabs(last.value - last.goal) > 5.0 * still_share * span)
        note(Trouble::in_between, c, last.value, time);
    }
}

} // namespace stasis
