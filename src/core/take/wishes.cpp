// What the controls that are on want of a component: the part of Controls that decides.
#include <algorithm>

#include "core/take/controls.hpp"

namespace stasis {

double Controls::on_its_side(ComponentRef target, double base) const noexcept {
  const Mirror* flipped = flipped_[index_of(target)];
  return flipped != nullptr ? 2.0 * flipped->centre - base : base;
}

const PoseGoal* Controls::goal_in(const Contender& contender, ComponentRef target) const noexcept {
  if (is_suppressed(contender.control)) return nullptr;
  for (const PoseGoal& goal : feel_.poses[contender.pose].goals)
    if (goal.channel == target.channel && goal.value[target.component].rule != GoalRule::none) return &goal;
  return nullptr;
}

double Controls::value_in(const Contender& contender, const PoseGoal& goal, ComponentRef target,
                          double base) const noexcept {
  const Mirror* flipped = flipped_[index_of(target)];
  if (flipped == nullptr) return goal.value[target.component].of(base);
  if (!feel_.poses[contender.pose].mirrors) return goal.value[target.component].of(on_its_side(target, base));
  return 2.0 * flipped->centre - goal.value[target.component].of(base);
}

const Group* Controls::group_of(std::size_t control) const noexcept {
  for (const Group& group : feel_.groups)
    if (std::find(group.controls.begin(), group.controls.end(), control) != group.controls.end()) return &group;
  return nullptr;
}

Controls::Wish Controls::summed(const std::vector<const Contender*>& contenders, ComponentRef target,
                                double base) const {
  const SpaceMap& space = feel_.channels[target.channel].space;
  const double home = to_space(space, on_its_side(target, base));
  double sum = home;
  for (const Contender* one : contenders)
    sum += to_space(space, value_in(*one, *goal_in(*one, target), target, base)) - home;
  return {from_space(space, sum), goal_in(*contenders.back(), target)};
}

/// What a group wants of a component of which at least one of its controls wants something.
Controls::Wish Controls::decided(const Group& group, ComponentRef target, double base) const {
  std::vector<const Contender*> wanting; // in the order in which they came
  for (const Contender& one : contenders_)
    if (goal_in(one, target) != nullptr
        && std::find(group.controls.begin(), group.controls.end(), one.control) != group.controls.end())
      wanting.push_back(&one);
  const Contender* chosen = wanting.back();
  switch (group.policy) {
  case Policy::latest: break;
  case Policy::first: chosen = wanting.front(); break;
  case Policy::neither:
    if (wanting.size() > 1) return {on_its_side(target, base), nullptr};
    break;
  case Policy::sum:
    if (wanting.size() > 1) return summed(wanting, target, base);
    break;
  case Policy::ranked:
    for (auto rank = group.controls.rbegin(); rank != group.controls.rend(); ++rank)
      for (const Contender* one : wanting)
        if (one->control == *rank) chosen = one;
    break;
  }
  const PoseGoal* goal = goal_in(*chosen, target);
  return {value_in(*chosen, *goal, target, base), goal};
}

Controls::Wish Controls::wish(ComponentRef target, double base) const {
  for (auto one = contenders_.rbegin(); one != contenders_.rend(); ++one) {
    const PoseGoal* goal = goal_in(*one, target);
    if (goal == nullptr) continue;
    if (const Group* group = group_of(one->control)) return decided(*group, target, base);
    return {value_in(*one, *goal, target, base), goal};
  }
  return {on_its_side(target, base), nullptr};
}

std::optional<std::size_t> Controls::track_for(std::size_t channel) const {
  for (std::size_t i = 0; i < feel_.channels[channel].components; ++i)
    if (const PoseGoal* owner = wish({channel, i}, own_base({channel, i})).owner; owner != nullptr && owner->track)
      return owner->track;
  return tracks_[channel];
}

} // namespace stasis
