// Where the subject stands in the picture, and how near the eye comes, at instants of an even grid that has nothing to
// do with frames. What each number means: docs/measures.md.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "core/measure/peak_meter.hpp"
#include "core/measure/shake_path.hpp"

namespace stasis {

struct FramingSummary {
  std::optional<double> framing_error, framing_error_mean; ///< %
  std::optional<double> time_outside_zone, time_outside_picture;
  std::optional<double> nearest, inside_time, inside_frames;

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

  void consume(const Block& block);
  FramingSummary finish() const;

private:
  /// What is seen at one instant; nothing where it is not there to be seen.
  struct Look {
    std::optional<double> off, beyond_zone, clearance;
    std::size_t track = 0;  ///< that clearance is of
    bool is_framed = false; ///< the picture tells where its subject stands
  };
  Look look(const Block& block, std::size_t row, double u);
  void look_at_subject(const Block& block, double time, const CameraView& view, Look& out) const;
  std::optional<double> beyond_zone(const Block& block, std::size_t row, double u, const CameraView& view);
  /// \param seconds that it stands for; 0: it counts among the extremes only.
  void take(const Look& seen, double time, double seconds);
  void note_extremes(const Look& seen, double time, bool on_grid);
  void count_frames(const Block& block);

  Scene scene_;
  const Feel& feel_;
  const Channel& channel_;
  std::size_t index_;
  bool goes_by_frames_; // subjects advance on ticks: only what is drawn on frames is there to be seen
  bool places_camera_;  // the picture's focus or position
  DrawnValues values_;
  std::vector<TrackReader> readers_; // by track, as they are drawn
  std::int64_t next_ = 0;            // number of the grid's instant that comes next

  PeakMeter off_;
  std::vector<PeakMeter> nearness_; // by track
  TimeAbove outside_zone_, outside_picture_, inside_;
  bool has_zone_ = false, is_framed_ = false, has_clearance_ = false;
  double off_sum_ = 0.0, off_time_ = 0.0, inside_frames_ = 0.0;
};

} // namespace stasis
