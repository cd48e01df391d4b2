#include "core/take/player.hpp"

#include <algorithm>

#include "core/feel/goal_source.hpp"
#include "core/take/drawn_frames.hpp"
#include "core/take/frame_player.hpp"

namespace stasis {

TakePlay::TakePlay(const Scene& scene, std::span<BlockSink* const> sinks)
    : sinks_(sinks.begin(), sinks.end()), played_into_(sinks_) {
  Scene played = scene;
  if (scene.take->tick.order == Tick::Order::on_tick) {
    drawn_ = std::make_unique<DrawnFrames>(scene, sinks_);
    played = drawn_->tick_scene();
    played_into_ = {drawn_.get()};
  }
  player_ = std::make_unique<FramePlayer>(played);
  for (BlockSink* sink : played_into_) sink->begin(player_->scene());
}

TakePlay::~TakePlay() = default;

void TakePlay::play_block() {
  const std::span<const Cue> cues = player_->scene().take->cues;
  const Clock& clock = player_->scene().clock;
  const std::size_t first = next_cue_;
  while (next_cue_ < cues.size() && due_frame(clock, cues[next_cue_].at) <= frame_) ++next_cue_;
  player_->begin(frame_, cues.subspan(first, next_cue_ - first));
  const std::int64_t next = next_cue_ < cues.size() ? due_frame(clock, cues[next_cue_].at) : clock.frames;
  player_->go_on(player_->stretch(std::min(next, clock.frames) - frame_));
  for (BlockSink* sink : played_into_) sink->consume(player_->block());
  frame_ += player_->block().count;
  is_over_ = frame_ >= clock.frames;
  if (is_over_)
    for (BlockSink* sink : played_into_) sink->end();
}

std::vector<std::string> TakePlay::take_notes() { return player_->take_notes(); }

std::vector<std::string> play(const Scene& scene, std::span<BlockSink* const> sinks) {
  TakePlay play(scene, sinks);
  while (!play.is_over()) play.play_block();
  return play.take_notes();
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
  return feel.channels[channel].snap && feel.picture.is_flat();
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
