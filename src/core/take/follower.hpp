// One channel after its tracks: blend, lead, dead zone, offset. What is done when: docs/design.md, section 3, 14.
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "core/motion/mover.hpp"
#include "core/scene/track.hpp"
#include "core/take/controls.hpp"
#include "core/view/camera.hpp"

namespace stasis {

/// What one instant asks of a channel that follows.
struct FollowAim {
  Components wish{}; ///< before the dead zone
  Components goal{};
  bool lost = false; ///< nothing is there to be followed: the channel goes home
};

class Follower {
public:
  /// \param readers of all tracks of the feel, entered by the caller; \param controls whose sticks may lead it.
  Follower(const Feel& feel, std::size_t channel, const Take& take, std::vector<TrackReader>& readers,
           const Controls& controls);

  /// Goes on as the one of the channel of the same name was when the feel was changed. \param track which it follows.
  void go_on_from(const Follower& old, std::optional<std::size_t> track);

  /// At the first instant of a stretch of frames: `track` (if given) is followed instead of the channel's own, and what
  /// jumps there has jumped.
  FollowAim begin(double time, const ReadComponent& read, std::optional<std::size_t> track);
  /// At a later instant of that stretch, not before the last one.
  FollowAim go_on(double time, const ReadComponent& read);
  /// Adds the instants strictly between two times at which the goal turns a corner.
  void add_corners(double from, double to, std::vector<double>& instants) const;

  /// The axes in which the channel's motions work at an instant.
  Axes damping_axes(double time, const ReadComponent& read) const;

  /// The track that is followed now, as the take plays it.
  std::size_t track() const noexcept { return active_; }
  /// True if the goal is made from what the channel itself does, so that each frame is read by itself.
  bool feeds_back() const noexcept;

private:
  struct Subject {
    TrackPoint point;
    Components place{}; ///< of the blend
  };
  Subject subject_at(double time, const ReadComponent& read, const CameraView& view) const;
  Components in_picture(const TrackPoint& point, const Components& about, const CameraView& view) const;
  Components raw_lead(const TrackPoint& point) const;
  void move_lead(const Components& raw, double dt);
  Components through_zone(const Components& wish, const CameraView& view, const ReadComponent& read);
  Axes axes_in(AxisFrame frame, const TrackPoint& point, const CameraView& view) const;
  FollowAim aim_at(double time, const ReadComponent& read, double dt);
  bool reads_view() const noexcept;
  CameraView view_now(const ReadComponent& read) const;

  const Feel& feel_;
  const Channel& channel_;
  const Follow& follow_;
  std::size_t index_;
  const Take& take_;
  std::vector<TrackReader>& readers_;
  const Controls& controls_;
  bool is_view_late_; ///< it hangs on what the channel itself does: it is that of one frame ago
  std::size_t active_ = 0;
  std::optional<double> last_time_;
  double stretch_end_ = 0.0;
  bool was_lost_ = false;
  Components centre_{}; ///< of the dead zone
  bool centred_ = false;
  Components raw_lead_{}; ///< at the last instant, before the lead's own motion
  std::array<MoverState, most_components> lead_{};
  std::array<StepMemory, most_components> memory_{};
  Components about_{}; ///< the channel one frame ago, for a track in the picture about the camera
  bool has_about_ = false;
  CameraView view_; ///< one frame ago, where the view is late
};

/// Half the widths of a dead zone in the channel's unit, right and up (and back) in its axes; 0 where there is none.
Components zone_half_size(const DeadZone& zone, const CameraView& view, const ReadComponent& read);
/// By how much a place, seen from the zone's middle along its axes, lies outside it; 0 inside.
double outside_zone(const DeadZone& zone, const Components& half, const Components& place) noexcept;

/// The axes of a frame about a subject.
Axes axes_of(AxisFrame frame, const TrackPoint& point, const CameraView& view, std::size_t components);

} // namespace stasis
