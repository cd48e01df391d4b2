// Where the subject stands in the picture, and how near the eye comes, at instants of an even grid that has nothing to
// do with frames. What each number means: docs/measures.md.
#pragma once

#include <array>
#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "core/measure/peak_meter.hpp"
#include "core/measure/shake_path.hpp"

namespace stasis {

struct FramingSummary {
  std::optional<double> framing_error, framing_error_mean; ///< %
  std::optional<double> time_outside_zone, time_outside_picture;
  std::optional<double> nearest, inside_time, inside_frames;

  /// Across the picture from frame to frame, px/s; least distance from its edges, and largest one from its middle, of
  /// the subject's outline, and of its place.
  std::optional<double> screen_speed, edge_distance_pixels, edge_distance, middle_distance;

  double worst_framing_at = 0.0; ///< s
};

/// Values of channels as they are drawn, inside frames too.
class DrawnValues {
public:
  explicit DrawnValues(const Scene& scene);

  void enter(const Block& block);
  /// Goes to an instant of the block: `u` seconds after the frame at a row, which leads to another one. In order.
  void look_at(std::size_t row, double u);
  SceneFrames& frames() noexcept { return frames_; }
  double smooth(ComponentRef component) { return frames_.smooth(component, u_); }
  /// With what shakes add, and with what a grid has left over on that frame.
  double value(ComponentRef component);

private:
  const Scene& scene_;
  SceneFrames frames_;
  std::vector<ShakePath> shakes_;
  const Block* block_ = nullptr;
  double u_ = 0.0;
};

/// Seconds for which a margin is above 0, told at even steps; between two it goes straight.
class TimeAbove {
public:
  void add(double margin, double step) noexcept;
  /// A margin that stays for so long.
  void add_standing(double margin, double seconds) noexcept { seconds_ += margin > 0.0 ? seconds : 0.0; }
  double seconds() const noexcept { return seconds_; }

private:
  std::optional<double> before_;
  double seconds_ = 0.0;
};

/// Watches a channel that follows, over a take.
class FramingMeter {
public:
  FramingMeter(const Scene& scene, std::size_t channel);

  /// \param jumps by row: not 0 where what places the camera jumps between that frame and the next.
  void consume(const Block& block, std::span<const std::uint8_t> jumps);
  FramingSummary finish() const;
  /// True if the eye has been where its subject is.
  bool was_at_subject() const noexcept { return at_subject_; }

private:
  /// What is seen at one instant; nothing where it is not there to be seen.
  struct Look {
    std::optional<double> off, beyond_zone, clearance, edge_pixels, edge, middle;
    std::size_t track = 0;  ///< that clearance is of
    bool at_eye = false;    ///< the eye is where its subject is
    bool is_framed = false; ///< the picture tells where its subject stands
  };
  Look look(const Block& block, std::size_t row, double u);
  void look_at_subject(const Block& block, double time, const CameraView& view, Look& out) const;
  double beyond_zone(const Block& block, std::size_t row, double u, const CameraView& view);
  /// \param seconds that it stands for; 0: it counts among the extremes only.
  void take(const Look& seen, double time, double seconds);
  void note_extremes(const Look& seen, double time, bool on_grid);
  void look_at_edges(const TrackPoint& subject, const Track& followed, const CameraView& view, Look& out) const;
  void count_frames(const Block& block);
  void note_screen_speed(const Block& block, std::span<const std::uint8_t> jumps);

  Scene scene_;
  const Feel& feel_;
  const Channel& channel_;
  std::size_t index_;
  bool goes_by_frames_; // subjects advance on ticks: only what is drawn on frames is there to be seen
  bool places_camera_;  // the picture's focus or position
  DrawnValues values_;
  std::vector<TrackReader> readers_; // by track, as they are drawn
  std::int64_t next_ = 0;            // number of the grid's instant that comes next

  struct OnScreen {
    double time;
    std::array<double, 2> place; ///< px
    std::size_t track;
  };
  std::optional<OnScreen> last_on_screen_; ///< on the frame before, unless something has jumped since
  std::optional<double> screen_speed_;

  PeakMeter off_, edge_pixels_, edge_, middle_; // of what is smallest, its negative
  std::vector<PeakMeter> nearness_;             // by track
  TimeAbove outside_zone_, outside_picture_, inside_;
  bool has_zone_ = false, is_framed_ = false, has_clearance_ = false, at_subject_ = false;
  double off_sum_ = 0.0, off_time_ = 0.0, inside_frames_ = 0.0;
};

} // namespace stasis
