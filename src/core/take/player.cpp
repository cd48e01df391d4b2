#include "core/take/player.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "core/take/channel_mover.hpp"
#include "core/take/controls.hpp"

namespace stasis {
namespace {

class Player {
public:
  explicit Player(const Scene& scene)
      : scene_(scene), feel_(*scene.feel),
        controls_(feel_, scene.clock, [this](ComponentRef c) { return movers_[c.channel].present(c.component); }) {
    block_.channels.resize(feel_.channels.size());
    for (std::size_t c = 0; c < feel_.channels.size(); ++c) movers_.emplace_back(feel_, c, scene_.clock);
  }

  std::vector<std::string> play(std::span<BlockSink* const> sinks) {
    for (BlockSink* sink : sinks) sink->begin(scene_);
    for (std::int64_t frame = 0; frame < scene_.clock.frames;) {
      begin_block(frame);
      for (std::size_t c = 0; c < movers_.size(); ++c) movers_[c].fill(frame, block_.count, block_.channels[c]);
      for (BlockSink* sink : sinks) sink->consume(block_);
      frame += block_.count;
    }
    for (BlockSink* sink : sinks) sink->end();
    return std::move(notes_);
  }

private:
  void add_cause(const std::string& what) {
    if (!what.empty()) block_.cause += (block_.cause.empty() ? "" : ", ") + what;
  }

  /// Applies the cues due at `frame`, reads the goals once, and sets the block's extent.
  void begin_block(std::int64_t frame) {
    const auto& cues = scene_.take->cues;
    block_.first = frame;
    block_.cause.clear();
    for (; next_cue_ < cues.size() && due_frame(scene_.clock, cues[next_cue_].at) <= frame; ++next_cue_) {
      // What repeated before this cue came first; the frame itself is asked only after its cues.
      add_cause(controls_.repeat_until(cues[next_cue_].at, frame - 1));
      add_cause(controls_.apply(cues[next_cue_], frame, notes_));
    }
    add_cause(controls_.repeat_until(scene_.clock.time(frame), frame));
    std::int64_t next = next_cue_ < cues.size() ? due_frame(scene_.clock, cues[next_cue_].at) : scene_.clock.frames;
    next = std::min(next, controls_.next_event(frame));
    block_.count = std::min({longest_block, next - frame, scene_.clock.frames - frame});
    block_.control_down = controls_.down();
    block_.lost_presses = controls_.take_lost_presses();
    block_.control_state.resize(feel_.controls.size());
    for (std::size_t c = 0; c < feel_.controls.size(); ++c) {
      block_.control_state[c] = controls_.state(c);
    }
    for (std::size_t c = 0; c < movers_.size(); ++c) movers_[c].read_goals(controls_, frame, block_.channels[c]);
    for (const ChannelMover& mover : movers_) block_.count = mover.unbroken_frames(frame, block_.count);
  }

  Scene scene_;
  const Feel& feel_;
  Controls controls_;
  Block block_;
  std::vector<ChannelMover> movers_;
  std::vector<std::string> notes_;
  std::size_t next_cue_ = 0;
};

} // namespace

std::vector<std::string> play(const Scene& scene, std::span<BlockSink* const> sinks) {
  return Player(scene).play(sinks);
}

namespace {

bool turns_back(const Feel& feel, const MotionChoices& choices) {
  return std::any_of(choices.begin(), choices.end(), [&](const MotionChoice& choice) {
    for (const std::size_t index : {choice.rising, choice.falling})
      if (const Ease* ease = ease_of(feel.motions[index].motion); ease != nullptr && ease->there_and_back) return true;
    return false;
  });
}

bool leaves_range(const Channel& channel, const PoseGoal& goal) {
  for (std::size_t i = 0; i < channel.components; ++i) {
    const double value = goal.value[i].of(channel.rest[i]);
    if (goal.value[i].rule != GoalRule::none && (value < channel.range[i].low || value > channel.range[i].high))
      return true;
  }
  return false;
}

} // namespace

namespace {

/// True if controls may ask for what the range does not allow: a mirrored side, a sum.
bool may_be_asked_too_much(const Feel& feel, std::size_t channel) {
  const bool mirrored = std::any_of(feel.controls.begin(), feel.controls.end(), [&](const Control& control) {
    const auto* mirror = std::get_if<Mirror>(&control.rule);
    return mirror != nullptr && mirror->target.channel == channel;
  });
  const bool summed = std::any_of(feel.groups.begin(), feel.groups.end(),
                                  [](const Group& group) { return group.policy == Policy::sum; });
  return mirrored || summed;
}

} // namespace

bool has_wish_column(const Feel& feel, std::size_t channel) {
  const Channel& declared = feel.channels[channel];
  if (may_be_asked_too_much(feel, channel)) return true;
  if (declared.space.space == Space::turn || turns_back(feel, declared.motion)) return true;
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      if (goal.channel == channel
          && (leaves_range(declared, goal) || (goal.entering && turns_back(feel, *goal.entering))))
        return true;
  return false;
}

} // namespace stasis
