#include "core/take/led_component.hpp"

#include <algorithm>

#include "core/scene/track_rates.hpp"

namespace stasis {
namespace {

Tick tick_of(const CourseScene& scene) noexcept { return scene.take != nullptr ? scene.take->tick : Tick{.rate = 0.0}; }

} // namespace

const Track& track_of(const CourseScene& scene, std::size_t track) noexcept {
  return scene.feel->tracks[scene.take != nullptr ? played_track(*scene.take, track) : track];
}

LedComponent::LedComponent(ComponentRef component, const CourseScene& scene, LedWay::What first, double base)
    : component_(component), scene_(scene), base_(base) {
  way_->add(0.0, std::move(first));
}

const SpaceMap& LedComponent::space() const noexcept { return scene_.feel->channels[component_.channel].space; }

double LedComponent::goal_at(const PoseGoal& goal, double time, double from) const {
  if (const auto subject = subject_of(goal, time, from)) return subject->at(time, Side::at).value;
  const std::size_t i = component_.component;
  double wanted = goal.value[i].of(base_);
  if (goal.track) { // it is led by hand, and stands where it is
    const auto [low, high] = output_range(scene_.feel->channels[component_.channel], i);
    const Track& track = track_of(scene_, *goal.track);
    wanted = std::clamp(place_rates(track, tick_of(scene_), scene_.clock.of(time)).place[i], low, high);
  }
  return to_space(space(), space().space == Space::turn ? short_way(space(), from, wanted) : wanted);
}

std::shared_ptr<RiddenTrack> LedComponent::subject_of(const PoseGoal& goal, double time, double from,
                                                      double late) const {
  if (!goal.track) return nullptr;
  const Track& track = track_of(scene_, *goal.track);
  if (std::holds_alternative<LedPath>(track.path)) return nullptr;
  CourseClock clock = scene_.clock;
  clock.begins -= late * clock.per_second;
  auto subject = std::make_shared<RiddenTrack>(track, tick_of(scene_), clock, scene_.feel->channels[component_.channel],
                                               component_.component, base_);
  subject->lift(time, from);
  return subject;
}

LedWay::What LedComponent::arrival(const PoseGoal& goal, double time, double from) const {
  if (auto subject = subject_of(goal, time, from)) return LedWay::Riding{std::move(subject)};
  return LedWay::Standing{goal_at(goal, time, from)};
}

double LedComponent::speed_of(const PoseGoal& goal, double time, double from) const {
  const auto subject = subject_of(goal, time, from);
  return subject != nullptr ? subject->at(time, Side::at).velocity : 0.0;
}

const PoseGoal* goal_of(const SequenceStop& stop, ComponentRef component) noexcept {
  for (const PoseGoal& goal : stop.goals)
    if (goal.channel == component.channel && goal.value[component.component].rule != GoalRule::none) return &goal;
  return nullptr;
}

} // namespace stasis
