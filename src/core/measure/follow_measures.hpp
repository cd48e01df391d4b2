// What is measured on a channel whose goal moves by itself, or that lies on a grid, over a whole take. What each number
// means: docs/measures.md.
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <vector>

#include "core/feel/goal_source.hpp"
#include "core/measure/framing_meter.hpp"
#include "core/measure/judder.hpp"
#include "core/measure/lag_meter.hpp"
#include "core/measure/move.hpp"
#include "core/measure/room_measures.hpp"
#include "core/take/block.hpp"
#include "core/view/camera.hpp"

namespace stasis {

struct FollowSummary : RoomSummary, LagSummary, FramingSummary {
  std::optional<double> judder_subject, judder_subject_pixels, judder_picture, judder_picture_pixels;
  std::optional<double> judder_track, judder_track_pixels;
  std::optional<double> size_error; ///< %
  std::optional<double> corner_cut;
  std::optional<double> remainder, remainder_pixels, judder_snapped_pixels, judder_smooth_pixels;

  double worst_size_at = 0.0; ///< s
};

/// True if there is anything to be measured on the channel over a whole take.
inline bool is_tracked(const Channel& channel) noexcept {
  return trails_goal(channel) || channel.follow || channel.snap || channel.keeps_width || channel.obstacles
         || channel.is_placed;
}

/// Tells a jump of a goal, which is a move, from a lag: until its gap has been closed to 2 %, or stops shrinking.
class CatchUp {
public:
  /// One frame on. \returns true while a jump is being caught up with.
  bool next(bool jumped, double gap) noexcept;

private:
  double jump_gap_ = 0.0; ///< the gap that the jump has left; 0 afterwards
  double last_gap_ = 0.0;
};

/// Watches one channel over a take.
class FollowTracker {
public:
  FollowTracker(const Scene& scene, std::size_t channel);

  /// \param jumps by row: not 0 where what places the camera jumps between that frame and the next.
  void consume(const Block& block, std::span<const std::uint8_t> jumps);
  FollowSummary finish();
  /// Why measures are missing, in words.
  std::vector<std::string> notes() const;

private:
  /// A frame as it is drawn; components that do not follow are 0.
  struct Frame {
    Components value{};
    double scale = 0.0; ///< pixels per unit
    bool jumped = false;
  };
  Frame frame_at(const Block& block, std::size_t row);
  void follow_inside(const Block& block);
  void add_judder(const Block& block, std::size_t row, const Frame& frame, double time);
  void add_snap(const Block& block, std::size_t row, const Frame& frame, double time);
  void add_size(const Block& block, std::size_t row, double time);
  void add_seat(const Block& block, std::size_t row, double time);
  void add_eye_through(const Components& pivot, const Components& eye, double time, double dt);
  void add_order_note(std::vector<std::string>& out) const;

  Scene scene_;
  const Feel& feel_;
  const Channel& channel_;
  std::size_t index_;
  bool places_camera_; ///< the picture's focus or position
  ChannelFrames frames_;
  std::optional<LagMeter> lag_;
  std::optional<FramingMeter> framing_;
  std::optional<RoomTracker> room_;   ///< where obstacles may hold it in
  std::vector<std::size_t> standing_; ///< of an eye that is placed: the obstacles that hold its distance in
  std::optional<TrackReader> exact_;  ///< the track that it follows first, without ticks
  JudderMeter subject_, picture_, track_, snapped_, smooth_;
  FollowSummary sums_;
  double subject_speed_ = 0.0;  ///< at its fastest, unit/s
  double latest_tick_ = 0.0;    ///< s: the oldest that a held tick is drawn
  double under_way_from_ = 0.0; ///< s: judder is counted from here on
  bool has_scale_ = false;
  bool jumped_before_ = false; ///< in the frame before: a cut shows one frame later
};

} // namespace stasis
