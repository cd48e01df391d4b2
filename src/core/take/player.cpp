#include "core/take/player.hpp"

#include <algorithm>

#include "core/feel/goal_source.hpp"
#include "core/take/drawn_frames.hpp"
#include "core/take/frame_player.hpp"

namespace stasis {
namespace {

std::vector<std::string> play_frames(const Scene& scene, std::span<BlockSink* const> sinks) {
  FramePlayer player(scene);
  const std::span<const Cue> cues = scene.take->cues;
  const Clock& clock = scene.clock;
  for (BlockSink* sink : sinks) sink->begin(scene);
  std::size_t next_cue = 0;
  for (std::int64_t frame = 0; frame < clock.frames;) {
    const std::size_t first = next_cue;
    while (next_cue < cues.size() && due_frame(clock, cues[next_cue].at) <= frame) ++next_cue;
    player.begin(frame, cues.subspan(first, next_cue - first));
    const std::int64_t next = next_cue < cues.size() ? due_frame(clock, cues[next_cue].at) : clock.frames;
    player.go_on(player.stretch(std::min(next, clock.frames) - frame));
    for (BlockSink* sink : sinks) sink->consume(player.block());
    frame += player.block().count;
  }
  for (BlockSink* sink : sinks) sink->end();
  return player.take_notes();
}

} // namespace

std::vector<std::string> play(const Scene& scene, std::span<BlockSink* const> sinks) {
  if (scene.take->tick.order != Tick::Order::on_tick) return play_frames(scene, sinks);
  DrawnFrames frames(scene, sinks);
  BlockSink* const ticks[] = {&frames};
  return play_frames(frames.tick_scene(), ticks);
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
    return facts_of(control).asks == Asks::beyond_range && target_of(control)->channel == channel;
  });
  const bool summed = std::any_of(feel.groups.begin(), feel.groups.end(),
                                  [](const Group& group) { return group.policy == Policy::sum; });
  return mirrored || summed;
}

} // namespace

bool has_shift_column(const Feel& feel, std::size_t channel) {
  return feel.channels[channel].snap && (feel.picture.height_channel || feel.picture.width_channel);
}

bool has_wish_column(const Feel& feel, std::size_t channel) {
  const Channel& declared = feel.channels[channel];
  if (may_be_asked_too_much(feel, channel) || is_led(feel, channel)) return true;
  if (declared.space.space == Space::turn || turns_back(feel, declared.motion)) return true;
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      if (goal.channel == channel
          && (leaves_range(declared, goal) || (goal.entering && turns_back(feel, *goal.entering))))
        return true;
  return false;
}

} // namespace stasis
