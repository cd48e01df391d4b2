// How far back a view may be at an instant. Rules: docs/design.md, section 3, 13.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "core/motion/goal_segment.hpp"
#include "core/unbounded.hpp"
#include "core/view/camera.hpp"

namespace stasis {

/// The room behind what is looked at.
struct Room {
  static constexpr std::size_t nothing = static_cast<std::size_t>(-1);
  double hit = unbounded;         ///< where the ray's ball first touches
  double limit = unbounded;       ///< as far as the goal may go: short of that by the stand-off
  std::size_t obstacle = nothing; ///< which sets the limit
};

/// Takes one more obstacle into account: what is nearest sets the limit.
void narrow(Room& room, const RayHit& hit, double stand_off, std::size_t obstacle) noexcept;

/// The obstacles of a rule that stand in a take.
std::vector<std::size_t> standing_obstacles(const ObstacleRule& rule, const Take& take);

/// The ray of one channel that obstacles hold in.
class ObstacleRay {
public:
  /// \param readers by track of the feel; outlive the ray.
  ObstacleRay(const Feel& feel, std::size_t channel, const Take& take, const std::vector<TrackReader>& readers);

  /// \param read smoothed values at the instant; \param seen the time of recorded clear distances, in the stretch
  /// that their readers have entered.
  Room at(const ReadComponent& read, double seen) const;

private:
  const Feel& feel_;
  const Take& take_;
  const std::vector<TrackReader>& readers_;
  const ObstacleRule& rule_;
  std::vector<std::size_t> standing_; // obstacles of the rule that stand in the take
  bool has_ray_;
};

/// Shares of the way between two instants at which a goal that a limit caps turns a corner: where the limit passes the
/// wish or an end of the range. All run straight. Ascending.
std::vector<double> corners_of_cap(GoalSegment wish, GoalSegment limit, ComponentRange range);

/// True if a value leaps between two instants, a share of the way from one to the other, and does not just go there
/// quickly. \param at the value at a share from 0 to 1; \param from, to its ends.
bool leaps_between(const std::function<double(double)>& at, double from, double to);

} // namespace stasis
