// A feel that is changed while it is played: everything goes on as what has the same name was.
#include "core/take/frame_player.hpp"
#include "core/take/same_names.hpp"

namespace stasis {

void FramePlayer::go_on_from(const FramePlayer& old, std::int64_t frame) {
  const SameNames same(old.feel_, feel_);
  controls_.go_on_from(old.controls_, same, frame);
  sources_.go_on_from(old.sources_, same);
  keep_homes_of(old, same);
  eye_.go_on_from(old.eye_);
  for (std::size_t c = 0; c < movers_.size(); ++c) {
    if (!same.channels[c]) continue;
    movers_[c].go_on_from(old.movers_[*same.channels[c]], same, frame);
    if (rooms_[c] && old.rooms_[*same.channels[c]]) rooms_[c]->go_on_from(*old.rooms_[*same.channels[c]]);
  }
  for (std::size_t s = 0; s < shakers_.size(); ++s)
    if (same.shakes[s]) shakers_[s].go_on_from(old.shakers_[*same.shakes[s]], frame, old.scene_.clock, scene_.clock);
  sequencer_.go_on_from(old.sequencer_, same);
  give_back_unled(frame);
  notes_ = old.notes_;
  begin(frame, {});
}

/// What is no longer given a home stays where the last one was.
void FramePlayer::keep_homes_of(const FramePlayer& old, const SameNames& same) {
  for (std::size_t c = 0; c < feel_.channels.size(); ++c) {
    if (!same.channels[c]) continue;
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i) {
      const auto& given = old.sources_.given({*same.channels[c], i});
      const bool moved = given && *given != starting_base(old.feel_.channels[*same.channels[c]], i);
      if (moved && !sources_.may_give({c, i})) controls_.put_own_base({c, i}, *given);
    }
  }
}

} // namespace stasis
