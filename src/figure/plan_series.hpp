// What a plan view needs of a take: paths seen from above, where the subject stands in the picture, the lag.
#pragma once

#include <array>
#include <cmath>
#include <cstdint>
#include <optional>
#include <vector>

#include "core/measure/follow_measures.hpp"
#include "core/take/block.hpp"
#include "core/view/camera.hpp"
#include "figure/series.hpp"

namespace stasis::figure {

/// One kept frame. Places are on the plan: right and, in space, back (z); in a flat view right and up.
struct PlanFrame {
  double time = 0.0; ///< s
  Point value{};     ///< the channel that follows
  Point goal{}, wish{};
  Point eye{}, subject{};
  Point seen{};                 ///< the subject in the picture, in half sizes
  std::array<Point, 2> edges{}; ///< from the eye: along the left and the right edge of the picture, on the plan
  double lag = 0.0;
  double half_width = 0.0, half_height = 0.0; ///< of a flat view, in units
  Point zone{};                               ///< half sizes of the dead zone on the plan
  bool has_eye = false, has_subject = false, is_seen = false;
  double level = 0.0;      ///< height of the channel, in space
  bool is_through = false; ///< the view is beyond an obstacle
  bool jumped = false;     ///< the goal has jumped here
  bool is_cut = false;     ///< a sequence has cut the view since the frame before
  bool catches_up = false; ///< a jump is still being caught up with, so that the lag is that of a move
};

inline double distance(Point a, Point b) noexcept { return std::hypot(a.x - b.x, a.y - b.y); }
/// A line without the points nearer than half a pixel to the last one, which say nothing.
std::vector<Point> thinned(const std::vector<Point>& points);
/// The kept frame nearest to a time. \param frames one at least.
const PlanFrame& frame_nearest(const std::vector<PlanFrame>& frames, double time);

/// The channel that a plan is drawn of: the picture's focus or position if it follows a place, else the first that
/// does.
std::optional<std::size_t> plan_channel(const Feel& feel);

/// Keeps the frames of a take for a plan; of a long take every second, fourth, ...
class PlanSink final : public BlockSink {
public:
  explicit PlanSink(std::size_t kept_at_most = 8000) : most_frames_(kept_at_most) {}

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override {}

  const std::vector<PlanFrame>& frames() const noexcept { return frames_; }
  std::optional<std::size_t> channel() const noexcept { return channel_; }
  bool is_flat() const noexcept { return is_flat_; }

private:
  PlanFrame frame_at(const Block& block, std::size_t row) const;
  double lag_at(const Block& block, std::size_t row) const;
  void add_view(const CameraView& view, PlanFrame& frame) const;
  Point on_plan(const Components& place) const noexcept { return {place[0], is_flat_ ? place[1] : place[2]}; }

  std::size_t most_frames_;
  Scene scene_;
  std::optional<std::size_t> channel_;
  bool is_flat_ = false;
  std::int64_t stride_ = 1;
  bool jumped_ = false, is_cut_ = false; ///< since the frame kept last
  std::vector<std::uint8_t> cuts_;       ///< by row of the block: a cut comes after it
  CatchUp catch_up_;
  std::vector<PlanFrame> frames_;
};

} // namespace stasis::figure
