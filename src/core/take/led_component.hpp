// One component on the way of a sequence, while that is worked out.
#pragma once

#include <memory>
#include <utility>

#include "core/take/ridden_track.hpp"

namespace stasis {

/// What a sequence finds beside itself: whose tracks there are, and when in the take it is where.
struct CourseScene {
  const Feel* feel;
  const Take* take; ///< null: none, so that tracks are as the feel names them
  CourseClock clock;
};

class LedComponent {
public:
  /// \param first the part with which it begins; \param base in the unit: what `times` and `add` are of.
  LedComponent(ComponentRef component, const CourseScene& scene, LedWay::What first, double base);

  ComponentRef component() const noexcept { return component_; }
  const SpaceMap& space() const noexcept;
  /// Where it is at a time up to which its way is known.
  Instant at(double time, Side side = Side::at) const { return way_->at(time, side); }
  void add(double begin, LedWay::What what) { way_->add(begin, std::move(what)); }
  std::shared_ptr<const LedWay> way() const noexcept { return way_; }

  /// What a stop asks of it at a time, in its space: the short way round from where it then is.
  double goal_at(const PoseGoal& goal, double time, double from) const;
  /// The subject with which a stop's goal goes on, told as many whole turns round as is near `from` at that time; null
  /// if it stands. \param late s by which it is seen later.
  std::shared_ptr<RiddenTrack> subject_of(const PoseGoal& goal, double time, double from, double late = 0.0) const;
  /// That from when a stop is come to: it stands, or goes on with its subject.
  LedWay::What arrival(const PoseGoal& goal, double time, double from) const;
  /// The speed with which that goes on, in the space.
  double speed_of(const PoseGoal& goal, double time, double from) const;

private:
  ComponentRef component_;
  CourseScene scene_;
  double base_;
  std::shared_ptr<LedWay> way_ = std::make_shared<LedWay>();
};

/// The track that plays where the feel names one.
const Track& track_of(const CourseScene& scene, std::size_t track) noexcept;
/// What a stop asks of a component; null if nothing.
const PoseGoal* goal_of(const SequenceStop& stop, ComponentRef component) noexcept;

} // namespace stasis
