#include "core/search/named_values.hpp"

#include <algorithm>
#include <cmath>

#include "core/feel/goal_source.hpp"
#include "core/overloaded.hpp"
#include "core/take/ladder.hpp"

namespace stasis {
namespace {

/// More bases than these are no longer a list that somebody named.
constexpr std::size_t most_values = 20'000;

void tidy(std::vector<double>& values, ComponentRange range) {
  for (double& value : values) value = std::clamp(value, range.low, range.high);
  std::sort(values.begin(), values.end());
  values.erase(std::unique(values.begin(), values.end()), values.end());
}

const ComponentGoal* goal_of(const Pose& pose, ComponentRef target) noexcept {
  for (const PoseGoal& goal : pose.goals)
    if (goal.channel == target.channel && goal.value[target.component].rule != GoalRule::none)
      return &goal.value[target.component];
  return nullptr;
}

bool stays(const Control& control) noexcept {
  const auto* hold = std::get_if<Hold>(&control.rule);
  return hold != nullptr && hold->stays;
}

/// True if the control may leave its pose in force once the hand is gone.
bool latches(const Control& control) noexcept { return facts_of(control).keeps_its_pose(); }

class Collector {
public:
  Collector(const Feel& feel, ComponentRef target)
      : feel_(feel), target_(target), channel_(feel.channels[target.channel]),
        range_(goal_range(channel_, target.component)) {}

  NamedValues collect() {
    for (const GoalSource& source : goal_sources(feel_, target_.channel))
      if (source.is_worked_out && gives(source)) return {true, {}};
    bases_ = {channel_.rest[target_.component], starting_base(channel_, target_.component)};
    for (const Control& control : feel_.controls) add_rungs(control);
    while (!any_ && add_kept_poses()) any_ = bases_.size() > most_values;
    std::vector<double> goals = bases_;
    for (const Control& control : feel_.controls)
      if (latches(control)) add_poses(control, goals);
    for (const Switch& one : feel_.switches) {
      if (const ComponentGoal* goal = one.pose ? goal_of(feel_.poses[*one.pose], target_) : nullptr)
        for (const double base : bases_) goals.push_back(goal->of(base));
      any_ = any_ || std::find(one.keep.begin(), one.keep.end(), target_.channel) != one.keep.end();
    }
    add_other_sides(goals);
    tidy(goals, range_);
    return {any_, std::move(goals)};
  }

private:
  /// True if the source is one of the component.
  bool gives(const GoalSource& source) const noexcept {
    switch (source.kind) {
    case GoalSource::Kind::formula:
    case GoalSource::Kind::tie: return channel_.formula[target_.component].has_value();
    case GoalSource::Kind::follow: return channel_.follow->follows(target_.component);
    case GoalSource::Kind::seat:
    case GoalSource::Kind::heading:
    case GoalSource::Kind::cap: return true;
    case GoalSource::Kind::hand:
    case GoalSource::Kind::led: return false; // its own component's, see add_rungs()
    }
    return false;
  }

  void add_rungs(const Control& control) {
    const ComponentRef* target = target_of(control);
    if (target == nullptr || !(*target == target_)) return;
    std::visit(Overloaded{
                   [](const PutsPoses&) {}, // moves no base of itself; see add_kept_poses()
                   [](const Mirror&) {},    // see add_other_sides()
                   [&](const Clicks& clicks) { add_ladder(Ladder(channel_, clicks)); },
                   [&](const Pointer&) { any_ = true; },
                   [&](const Stick&) { any_ = true; },
               },
               control.rule);
  }

  void add_ladder(const Ladder& ladder) {
    any_ = any_ || static_cast<double>(ladder.highest()) - ladder.lowest() > static_cast<double>(most_values);
    for (int rung = ladder.lowest(); !any_ && rung <= ladder.highest(); ++rung) bases_.push_back(ladder.value(rung));
  }

  /// Holds that stay make their goals bases. \returns true if there are new ones.
  bool add_kept_poses() {
    tidy(bases_, range_);
    std::vector<double> more = bases_;
    for (const Control& control : feel_.controls)
      if (stays(control)) add_poses(control, more);
    tidy(more, range_);
    const bool grown = more.size() > bases_.size();
    bases_ = std::move(more);
    return grown;
  }

  void add_poses(const Control& control, std::vector<double>& values) {
    for (std::size_t p = 0; p < feel_.poses.size(); ++p) {
      const ComponentGoal* goal = leads_to(control, p) ? goal_of(feel_.poses[p], target_) : nullptr;
      if (goal == nullptr) continue;
      any_ = any_ || (latches(control) && is_summed(control));
      for (const double base : bases_) values.push_back(goal->of(base));
    }
  }

  bool is_summed(const Control& control) const {
    const auto index = static_cast<std::size_t>(&control - feel_.controls.data());
    return std::any_of(feel_.groups.begin(), feel_.groups.end(), [&](const Group& group) {
      return group.policy == Policy::sum
             && std::find(group.controls.begin(), group.controls.end(), index) != group.controls.end();
    });
  }

  void add_other_sides(std::vector<double>& goals) const {
    for (const Control& control : feel_.controls) {
      const auto* mirror = std::get_if<Mirror>(&control.rule);
      if (mirror == nullptr || !(mirror->target == target_)) continue;
      const std::size_t count = goals.size();
      for (std::size_t i = 0; i < count; ++i) goals.push_back(2.0 * mirror->centre - goals[i]);
    }
  }

  const Feel& feel_;
  ComponentRef target_;
  const Channel& channel_;
  ComponentRange range_;
  std::vector<double> bases_;
  bool any_ = false;
};

} // namespace

bool NamedValues::hold(double value) const noexcept {
  if (any) return true;
  const auto next = std::lower_bound(values.begin(), values.end(), value);
  const auto near = [&](double named) { return std::fabs(named - value) <= 1e-9 * std::max(1.0, std::fabs(named)); };
  return (next != values.end() && near(*next)) || (next != values.begin() && near(*std::prev(next)));
}

NamedValues named_values(const Feel& feel, ComponentRef target) { return Collector(feel, target).collect(); }

} // namespace stasis
