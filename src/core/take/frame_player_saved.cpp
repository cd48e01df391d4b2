// What a player keeps to go back to.
#include <memory>
#include <utility>

#include "core/take/frame_player.hpp"

namespace stasis {

class FramePlayer::Saved {
public:
  std::vector<TrackReader> readers, drawn;
  EyeColumns eye;
  Controls controls;
  GoalSources sources;
  Sequencer sequencer;
  std::vector<Shaker> shakers;
  std::vector<std::optional<RoomKeeper>> rooms;
  std::vector<ChannelMover> movers;
  Block block;
  std::vector<std::string> notes;
};

namespace {

/// Makes an object again where it is, so that whoever refers to it still does: most of them refer to a feel, and cannot
/// be assigned to.
template<class T> void put_back(T& there, const T& saved) {
  T copy(saved);
  std::destroy_at(&there);
  std::construct_at(&there, std::move(copy));
}
template<class T> void put_back(std::vector<T>& there, const std::vector<T>& saved) {
  for (std::size_t i = 0; i < there.size(); ++i) put_back(there[i], saved[i]);
}

} // namespace

std::shared_ptr<const FramePlayer::Saved> FramePlayer::save() const {
  return std::shared_ptr<const Saved>(
      new Saved{readers_, drawn_, eye_, controls_, sources_, sequencer_, shakers_, rooms_, movers_, block_, notes_});
}

void FramePlayer::restore(const Saved& saved) {
  put_back(readers_, saved.readers);
  put_back(drawn_, saved.drawn);
  put_back(eye_, saved.eye);
  put_back(controls_, saved.controls);
  put_back(sources_, saved.sources);
  sequencer_ = saved.sequencer;
  put_back(shakers_, saved.shakers);
  put_back(rooms_, saved.rooms);
  put_back(movers_, saved.movers);
  block_ = saved.block;
  notes_ = saved.notes;
}

} // namespace stasis
