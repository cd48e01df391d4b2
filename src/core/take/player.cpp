#include "core/take/player.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "core/take/controls.hpp"

namespace stasis {
namespace {

/// One component on its way, between blocks.
struct Mover {
  const Motion* motion = nullptr;
  MoverState state;
  StepMemory memory;
  double goal = 0.0;        // in the unit, after the range
  double goal_state = 0.0;  // in the space
  double smooth = 0.0;      // the next row's output: converted with the goal that led to it
  double rate_before = 0.0; // just before the next row's goal acts
};

/// Output of a state in the channel's unit. A state that is its goal is reported as the goal was written, without the
/// rounding of the way there and back.
double output_of(const Channel& channel, std::size_t component, double state, double goal, double goal_state) noexcept {
  const double value = state == goal_state ? goal : from_space(channel.space, state);
  return std::clamp(value, channel.range[component].low, channel.range[component].high);
}

/// Rate of the output; 0 while the range holds the output, NaN where the rule's own rate has no bound.
double output_rate(const Channel& channel, std::size_t component, double state, double rate, double smooth) noexcept {
  if (!std::isfinite(rate)) return std::numeric_limits<double>::quiet_NaN();
  const auto [low, high] = channel.range[component];
  if (smooth == low || smooth == high) {
    const double free = from_space(channel.space, state);
    const bool pinned = (smooth == low && (free < low || (free == low && rate < 0.0)))
                        || (smooth == high && (free > high || (free == high && rate > 0.0)));
    if (pinned) return 0.0;
  }
  return stretch(channel.space, smooth) * rate;
}

class Player {
public:
  explicit Player(const Scene& scene) : scene_(scene), feel_(*scene.feel), controls_(feel_) {
    block_.channels.resize(feel_.channels.size());
    movers_.resize(feel_.channels.size());
    for (std::size_t c = 0; c < feel_.channels.size(); ++c) place_at_rest(c);
  }

  std::vector<std::string> play(std::span<BlockSink* const> sinks) {
    for (BlockSink* sink : sinks) sink->begin(scene_);
    for (std::int64_t frame = 0; frame < scene_.clock.frames;) {
      begin_block(frame);
      for (std::size_t c = 0; c < feel_.channels.size(); ++c) fill_channel(c);
      for (BlockSink* sink : sinks) sink->consume(block_);
      frame += block_.count;
    }
    for (BlockSink* sink : sinks) sink->end();
    return std::move(notes_);
  }

private:
  void place_at_rest(std::size_t c) {
    const Channel& channel = feel_.channels[c];
    for (std::size_t i = 0; i < channel.components; ++i) {
      Mover& mover = movers_[c][i];
      mover.motion = &feel_.motions[channel.motion[i]].motion;
      mover.goal = mover.smooth = channel.rest[i];
      mover.goal_state = mover.state.value = to_space(channel.space, channel.rest[i]);
    }
  }

  /// Applies the cues due at `frame`, reads the goals once, and sets the block's extent.
  void begin_block(std::int64_t frame) {
    const auto& cues = scene_.take->cues;
    block_.first = frame;
    block_.cause.clear();
    for (; next_cue_ < cues.size() && due_frame(scene_.clock, cues[next_cue_].at) <= frame; ++next_cue_) {
      const Cue& cue = cues[next_cue_];
      if (!controls_.apply(cue, frame, scene_.clock.fps, notes_)) continue;
      if (!block_.cause.empty()) block_.cause += ", ";
      block_.cause += fmt::format("{} {}", name_of(cue.action), feel_.controls[cue.control].name);
    }
    const std::int64_t next =
        next_cue_ < cues.size() ? due_frame(scene_.clock, cues[next_cue_].at) : scene_.clock.frames;
    block_.count = std::min({longest_block, next - frame, scene_.clock.frames - frame});
    block_.control_down = controls_.down();
    for (std::size_t c = 0; c < feel_.channels.size(); ++c) read_goal(c);
  }

  void read_goal(std::size_t c) {
    const Channel& channel = feel_.channels[c];
    const Components wish = controls_.wish(c);
    block_.channels[c].moved = false;
    for (std::size_t i = 0; i < channel.components; ++i) {
      Mover& mover = movers_[c][i];
      const double goal = std::clamp(wish[i], channel.range[i].low, channel.range[i].high);
      if (goal != mover.goal) {
        mover.goal = goal;
        mover.goal_state = to_space(channel.space, goal);
        begin_move(*mover.motion, mover.state, block_.first);
        block_.channels[c].moved = true;
      }
      block_.channels[c].component[i].wish = wish[i];
    }
  }

  void fill_channel(std::size_t c) {
    const Channel& channel = feel_.channels[c];
    for (std::size_t i = 0; i < channel.components; ++i)
      fill_component(channel, i, movers_[c][i], block_.channels[c].component[i]);
  }

  void fill_component(const Channel& channel, std::size_t i, Mover& mover, ComponentBlock& out) {
    const auto count = static_cast<std::size_t>(block_.count);
    out.goal = mover.goal;
    out.goal_state = mover.goal_state;
    out.rate_before = mover.rate_before;
    out.run_from = mover.state.run_from;
    out.run_start = mover.state.run_start;
    out.running = mover.state.running;
    out.state.resize(count + 1);
    out.rate.resize(count + 1);
    advance_rows(*mover.motion, mover.state, mover.memory, scene_.clock, block_.first, mover.goal_state,
                 {out.state, out.rate});
    mover.rate_before = out.rate[count];
    convert_rows(channel, i, mover, out);
  }

  static void convert_rows(const Channel& channel, std::size_t i, Mover& mover, ComponentBlock& out) {
    const std::size_t count = out.state.size() - 1;
    out.smooth.resize(count);
    out.velocity.resize(count);
    for (std::size_t k = 0; k < count; ++k) {
      out.smooth[k] = k == 0 ? mover.smooth : output_of(channel, i, out.state[k], mover.goal, mover.goal_state);
      out.velocity[k] = output_rate(channel, i, out.state[k], out.rate[k], out.smooth[k]);
    }
    mover.smooth = output_of(channel, i, out.state[count], mover.goal, mover.goal_state);
    out.value = out.smooth;
  }

  Scene scene_;
  const Feel& feel_;
  Controls controls_;
  Block block_;
  std::vector<std::array<Mover, most_components>> movers_;
  std::vector<std::string> notes_;
  std::size_t next_cue_ = 0;
};

} // namespace

std::vector<std::string> play(const Scene& scene, std::span<BlockSink* const> sinks) {
  return Player(scene).play(sinks);
}

bool has_wish_column(const Feel& feel, std::size_t channel) {
  const Channel& declared = feel.channels[channel];
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      for (std::size_t i = 0; goal.channel == channel && i < declared.components; ++i)
        if (goal.value[i] < declared.range[i].low || goal.value[i] > declared.range[i].high) return true;
  return false;
}

} // namespace stasis
