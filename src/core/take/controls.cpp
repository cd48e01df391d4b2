#include "core/take/controls.hpp"

#include <algorithm>

#include <fmt/format.h>

namespace stasis {

bool Controls::apply(const Cue& cue, std::int64_t frame, double fps, std::vector<std::string>& notes) {
  const std::string& name = feel_.controls[cue.control].name;
  const bool is_down = down_[cue.control] != 0;
  const bool presses = cue.action == CueAction::press;
  if (presses == is_down) {
    notes.push_back(fmt::format("{} {} at {} s ignored: it is already {}", name_of(cue.action), name, cue.at,
                                is_down ? "down" : "up"));
    return false;
  }
  down_[cue.control] = presses ? 1 : 0;
  if (presses) {
    pressed_.push_back({cue.control, frame, cue.at});
    return true;
  }
  const auto press =
      std::find_if(pressed_.begin(), pressed_.end(), [&](const Press& p) { return p.control == cue.control; });
  if (press->frame == frame)
    notes.push_back(fmt::format("{} was pressed at {} s and let go at {} s, within one frame: lost at {} fps", name,
                                press->at, cue.at, fps));
  pressed_.erase(press);
  return true;
}

Controls::Wish Controls::wish(std::size_t channel, std::size_t component) const {
  const double base = feel_.channels[channel].rest[component];
  for (auto press = pressed_.rbegin(); press != pressed_.rend(); ++press)
    for (const PoseGoal& goal : feel_.poses[feel_.controls[press->control].pose].goals)
      if (goal.channel == channel && goal.value[component].rule != GoalRule::none)
        return {goal.value[component].of(base), &goal};
  return {base, nullptr};
}

} // namespace stasis
