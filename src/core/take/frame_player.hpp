// Plays frames: what is asked for acts at the beginning of one, and then everything goes on to the next. Rules:
// docs/design.md, section 3.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

#include "core/take/block.hpp"
#include "core/take/channel_mover.hpp"
#include "core/take/controls.hpp"
#include "core/take/eye_columns.hpp"
#include "core/take/goal_sources.hpp"
#include "core/take/room_keeper.hpp"
#include "core/take/sequencer.hpp"
#include "core/take/shaker.hpp"

namespace stasis {

class SameNames;

/// The channels, controls and shakes of a feel on their way through frames. A frame is begun, then gone on from; the
/// clock need not know the next frame's time before that.
class FramePlayer {
public:
  explicit FramePlayer(const Scene& scene);
  FramePlayer(const FramePlayer&) = delete;
  FramePlayer& operator=(const FramePlayer&) = delete;

  /// Begins a frame: cues act, controls and switches are looked at, goals are read. \param cues due by this frame.
  void begin(std::int64_t frame, std::span<const Cue> cues);
  /// How many frames from the one begun on may be played in one go before something happens by itself.
  /// \param most to look at; the clock knows their times.
  std::int64_t stretch(std::int64_t most) const;
  /// Works out what is drawn on the frame begun, before anything goes on: block() then holds it, as its first row.
  void show();
  /// Goes on from the frame begun over so many; the clock knows the times up to the last one's end.
  void go_on(std::int64_t count);

  /// Goes on from where another feel was at a frame that it had begun; what has the same name is the same. The frame is
  /// begun again.
  void go_on_from(const FramePlayer& old, std::int64_t frame);

  /// The frames gone over last; while a frame is only begun, what holds at its first instant.
  const Block& block() const noexcept { return block_; }
  /// Values after motion at the frame that comes next, or has just begun.
  const ReadComponent& present() const noexcept { return at_present_; }
  /// The goal as last read.
  double goal(ComponentRef component) const;
  /// unit/s: the rate with which it has come to the frame, before anything acts there.
  double arriving_rate(ComponentRef component) const;
  const Scene& scene() const noexcept { return scene_; }
  /// Notes on inputs that had no effect, in order of time, since this was last asked.
  std::vector<std::string> take_notes() { return std::exchange(notes_, {}); }

  /// All that changes while frames are played.
  class Saved;
  std::shared_ptr<const Saved> save() const;
  /// \param saved by this very player.
  void restore(const Saved& saved);

private:
  using Movers = std::array<std::optional<std::size_t>, most_components>; // sticks and pointers, by component

  void start_channels();
  void enter_tracks(std::int64_t frame);
  bool sees_frame_before() const noexcept { return scene_.take->tick.order == Tick::Order::camera_first; }
  double seen_at(std::int64_t frame) const noexcept;
  SourceInstant at_present(std::int64_t frame) const;
  double column_at(ComponentRef read, std::size_t row) const;
  bool is_cut(ComponentRef read, std::size_t row) const;
  const ReadComponent& read_row(std::size_t row, double share = 0.0);
  void act(std::int64_t frame, std::span<const Cue> cues);
  void look_at_touches(std::size_t channel, std::int64_t frame, std::span<const Cue> cues);
  void hit(const Cue& cue, std::int64_t frame);
  void begin_channel(std::size_t channel, std::int64_t frame);
  void draw();
  void read_wishes(std::size_t channel);
  void put_knots_on_the_clock(std::size_t channel);
  void read_wish_row(std::size_t channel, std::size_t row, const Movers& by_hand);
  void put_corners(std::size_t channel, std::size_t row);
  void put_free_wishes(std::size_t channel);
  void shake();
  Controls::Wish wish(ComponentRef component) const;
  double base(ComponentRef component) const;
  void turn_home(std::size_t channel, double seen);
  void add_cause(const std::string& what);
  void run_sequences(std::int64_t frame);
  void start_sequence(const Sequencer::Request& request, std::int64_t frame);
  void end_sequence(std::size_t sequence, std::int64_t frame);
  void give_up_others(std::size_t sequence, std::int64_t frame);
  void give_back_unled(std::int64_t frame);
  void keep_homes_of(const FramePlayer& old, const SameNames& same);

  Scene scene_;
  const Feel& feel_;
  std::vector<std::size_t> order_;           // of the channels: a formula after what it reads
  std::vector<TrackReader> readers_, drawn_; // by track: as the camera sees them, as they are drawn
  EyeColumns eye_;
  Controls controls_;
  GoalSources sources_{feel_, *scene_.take, readers_, controls_};
  Sequencer sequencer_;
  std::vector<Shaker> shakers_;                  // by shake
  std::vector<std::optional<RoomKeeper>> rooms_; // by channel
  std::vector<bool> is_led_;                     // by channel: something beside hands and poses gives it its goal
  std::vector<ChannelMover> movers_;
  std::vector<double> instants_;
  std::size_t row_ = 0; // read by at_row_
  double share_ = 0.0;
  const ReadComponent at_present_, at_goal_, at_row_;
  Block block_;
  std::vector<std::string> notes_;
};

} // namespace stasis
